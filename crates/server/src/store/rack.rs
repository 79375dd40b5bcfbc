//! The rack of spools, and what printed jobs took from it. Whoever changes the rack does so within a transaction.

use super::revisions::{Counted, count};
use super::schema::{jobs, ledger, spools};
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use varichrom_core::machine::Spool;

/// All spools in the maker's order. One that this version cannot read is left out, and stays where it is.
pub(crate) fn list(c: &mut SqliteConnection) -> QueryResult<Vec<Spool>> {
    let bodies: Vec<String> = spools::table
        .order(spools::position.asc())
        .select(spools::body)
        .load(c)?;
    let read = |body: &String| match serde_json::from_str(body) {
        Ok(spool) => Some(spool),
        Err(e) => {
            tracing::warn!("a spool cannot be read and is left out: {e}");
            None
        }
    };
    Ok(bodies.iter().filter_map(read).collect())
}

/// Puts spools in the place of some, in this order; those that are no longer among them go. Counts as a change.
pub(crate) fn write(c: &mut SqliteConnection, before: &[Spool], rack: &[Spool]) -> QueryResult<()> {
    for gone in before.iter().filter(|s| rack.iter().all(|r| r.id != s.id)) {
        diesel::delete(spools::table.find(&gone.id)).execute(c)?;
    }
    for (position, spool) in rack.iter().enumerate() {
        let is_kept = before.get(position) == Some(spool);
        if is_kept {
            continue;
        }
        let body = serde_json::to_string(spool)
            .map_err(|e| diesel::result::Error::SerializationError(Box::new(e)))?;
        diesel::replace_into(spools::table)
            .values((
                spools::id.eq(&spool.id),
                spools::position.eq(i32::try_from(position).unwrap_or(i32::MAX)),
                spools::body.eq(body),
            ))
            .execute(c)?;
    }
    count(c, Counted::Rack)
}

/// One line of the ledger.
#[derive(Debug, Clone, PartialEq, Queryable)]
pub(crate) struct LedgerLine {
    pub(crate) spool: String,
    pub(crate) job: String,
    pub(crate) grams: f64,
    /// Seconds since 1970.
    pub(crate) printed_at_s: i64,
    pub(crate) job_id: Option<i32>,
    pub(crate) run: Option<i32>,
}

/// How often a job was noted as printed.
pub(crate) fn runs(c: &mut SqliteConnection, job: i32) -> QueryResult<u32> {
    let runs: i32 = jobs::table.find(job).select(jobs::runs).first(c)?;
    Ok(u32::try_from(runs).unwrap_or(0))
}

/// Takes what a run of a job used off its spools, and notes it; no spool falls below nothing.
pub(crate) fn take_off(
    c: &mut SqliteConnection,
    (id, name): (i32, &str),
    run: u32,
    used: &[(String, f64)],
) -> QueryResult<()> {
    let before = list(c)?;
    let mut rack = before.clone();
    for (spool_id, grams) in used {
        let mut taken = 0.0;
        if let Some(spool) = rack.iter_mut().find(|s| s.id == *spool_id) {
            taken = grams.min(spool.left_g);
            spool.left_g -= taken;
        }
        diesel::insert_into(ledger::table)
            .values((
                ledger::spool.eq(spool_id),
                ledger::job.eq(name),
                ledger::grams.eq(grams),
                ledger::job_id.eq(id),
                ledger::run.eq(i32::try_from(run).unwrap_or(i32::MAX)),
                ledger::taken.eq(taken),
            ))
            .execute(c)?;
    }
    diesel::update(jobs::table.find(id))
        .set(jobs::runs.eq(jobs::runs + 1))
        .execute(c)?;
    write(c, &before, &rack)
}

/// Gives back what a run took, and strikes it out. Returns whether there was such a run.
pub(crate) fn give_back(c: &mut SqliteConnection, job: i32, run: u32) -> QueryResult<bool> {
    let run = i32::try_from(run).unwrap_or(i32::MAX);
    let of_run = ledger::job_id.eq(job).and(ledger::run.eq(run));
    let lines: Vec<(String, f64)> = ledger::table
        .filter(of_run)
        .select((ledger::spool, ledger::taken))
        .load(c)?;
    if lines.is_empty() {
        return Ok(false);
    }
    let before = list(c)?;
    let mut rack = before.clone();
    for (id, taken) in &lines {
        if let Some(spool) = rack.iter_mut().find(|s| s.id == *id) {
            spool.left_g += taken;
        }
    }
    diesel::delete(ledger::table.filter(of_run)).execute(c)?;
    write(c, &before, &rack)?;
    Ok(true)
}

/// The ledger, the newest line first.
pub(crate) fn ledger(c: &mut SqliteConnection) -> QueryResult<Vec<LedgerLine>> {
    use diesel::dsl::sql;
    use diesel::sql_types::BigInt;
    ledger::table
        .order(ledger::id.desc())
        .select((
            ledger::spool,
            ledger::job,
            ledger::grams,
            sql::<BigInt>("CAST(strftime('%s', printed_at) AS INTEGER)"),
            ledger::job_id,
            ledger::run,
        ))
        .load(c)
}
