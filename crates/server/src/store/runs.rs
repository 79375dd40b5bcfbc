//! What is known of prints afterwards.

use super::schema::{ledger, runs};
use crate::wire::{AboutRun, RunView};
use diesel::dsl::sql;
use diesel::prelude::*;
use diesel::sql_types::{BigInt, Bool};
use diesel::sqlite::SqliteConnection;
use std::collections::BTreeMap;

/// Notes a run.
pub(crate) fn note(
    c: &mut SqliteConnection,
    (job, run): (i32, u32),
    revision: u32,
    planned_s: Option<f64>,
    about: &AboutRun,
) -> QueryResult<()> {
    diesel::replace_into(runs::table)
        .values((
            runs::job_id.eq(job),
            runs::run.eq(number(run)),
            runs::revision.eq(number(revision)),
            runs::planned_s.eq(planned_s),
            runs::took_s.eq(about.took_s),
            runs::note.eq(&about.note),
        ))
        .execute(c)?;
    Ok(())
}

/// Strikes a run out.
pub(crate) fn strike(c: &mut SqliteConnection, job: i32, run: u32) -> QueryResult<()> {
    diesel::delete(runs::table.find((job, number(run)))).execute(c)?;
    Ok(())
}

type Row = (i32, i64, i32, Option<f64>, Option<f64>, String, bool);

/// The runs of a job, the latest first.
pub(crate) fn of_job(c: &mut SqliteConnection, job: i32) -> QueryResult<Vec<RunView>> {
    let grams: Vec<(Option<i32>, f64)> = ledger::table
        .filter(ledger::job_id.eq(job))
        .select((ledger::run, ledger::grams))
        .load(c)?;
    let mut used: BTreeMap<i32, f64> = BTreeMap::new();
    for (run, grams) in grams {
        *used.entry(run.unwrap_or(0)).or_default() += grams;
    }
    let rows: Vec<Row> = runs::table
        .filter(runs::job_id.eq(job))
        .order(runs::run.desc())
        .select((
            runs::run,
            sql::<BigInt>("CAST(strftime('%s', printed_at) AS INTEGER)"),
            runs::revision,
            runs::planned_s,
            runs::took_s,
            runs::note,
            sql::<Bool>("photo IS NOT NULL"),
        ))
        .load(c)?;
    let view = |(run, printed_at_s, revision, planned_s, took_s, note, has_photo): Row| RunView {
        run: u32::try_from(run).unwrap_or(0),
        printed_at_s,
        revision: u32::try_from(revision).unwrap_or(0),
        planned_s,
        about: AboutRun { took_s, note },
        grams: used.get(&run).copied().unwrap_or(0.0),
        has_photo,
    };
    Ok(rows.into_iter().map(view).collect())
}

/// Keeps how a run went; whether there is one.
pub(crate) fn say(
    c: &mut SqliteConnection,
    (job, run): (i32, u32),
    about: &AboutRun,
) -> QueryResult<bool> {
    let changed = diesel::update(runs::table.find((job, number(run))))
        .set((runs::took_s.eq(about.took_s), runs::note.eq(&about.note)))
        .execute(c)?;
    Ok(changed == 1)
}

/// Keeps a photo of a run, or none; whether there is such a run.
pub(crate) fn set_photo(
    c: &mut SqliteConnection,
    (job, run): (i32, u32),
    photo: Option<&[u8]>,
) -> QueryResult<bool> {
    let changed = diesel::update(runs::table.find((job, number(run))))
        .set(runs::photo.eq(photo))
        .execute(c)?;
    Ok(changed == 1)
}

/// The photo of a run.
pub(crate) fn photo(c: &mut SqliteConnection, job: i32, run: u32) -> QueryResult<Option<Vec<u8>>> {
    let found: Option<Option<Vec<u8>>> = runs::table
        .find((job, number(run)))
        .select(runs::photo)
        .first(c)
        .optional()?;
    Ok(found.flatten())
}

fn number(n: u32) -> i32 {
    i32::try_from(n).unwrap_or(i32::MAX)
}
