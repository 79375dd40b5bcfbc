//! Who works here, and what was said of jobs before they were printed.

use super::schema::{jobs, looks, people};
use crate::wire::{Look, Said};
use diesel::dsl::sql;
use diesel::prelude::*;
use diesel::result::Error;
use diesel::sql_types::BigInt;
use diesel::sqlite::SqliteConnection;

/// Seconds since 1970 at which something was said.
const WHEN: &str = "CAST(strftime('%s', said_at) AS INTEGER)";

/// Names of people, in order.
pub(crate) fn people(c: &mut SqliteConnection) -> QueryResult<Vec<String>> {
    people::table
        .order(people::name.asc())
        .select(people::name)
        .load(c)
}

/// Exactly these people work here from now on.
pub(crate) fn set_people(c: &mut SqliteConnection, names: &[String]) -> QueryResult<()> {
    c.immediate_transaction(|c| {
        diesel::delete(people::table).execute(c)?;
        for name in names {
            diesel::replace_into(people::table)
                .values(people::name.eq(name))
                .execute(c)?;
        }
        Ok(())
    })
}

/// Keeps what was said of a revision of a job; it is on the disk when this returns.
pub(crate) fn say(
    c: &mut SqliteConnection,
    job: i32,
    revision: i32,
    said: &Said,
) -> QueryResult<()> {
    let body = serde_json::to_string(said).map_err(|e| Error::SerializationError(Box::new(e)))?;
    diesel::insert_into(looks::table)
        .values((
            looks::job_id.eq(job),
            looks::revision.eq(revision),
            looks::body.eq(body),
        ))
        .execute(c)?;
    Ok(())
}

/// What was said of a job, the oldest first; what this version cannot read is left out.
pub(crate) fn of_job(c: &mut SqliteConnection, job: i32) -> QueryResult<Vec<Look>> {
    let rows: Vec<(i32, String, i64)> = looks::table
        .filter(looks::job_id.eq(job))
        .order(looks::id.asc())
        .select((looks::revision, looks::body, sql::<BigInt>(WHEN)))
        .load(c)?;
    Ok(rows
        .into_iter()
        .filter_map(|(revision, body, at)| look(revision, &body, at))
        .collect())
}

/// A job: its number, name and revision, with all that was said of it.
pub(crate) type SaidOf = (i32, String, u32, Vec<Look>);

/// Jobs with all that was said of them.
pub(crate) fn by_job(c: &mut SqliteConnection) -> QueryResult<Vec<SaidOf>> {
    let rows: Vec<(i32, String, i32, i32, String, i64)> = looks::table
        .inner_join(jobs::table)
        .filter(jobs::deleted_at.is_null())
        .order((looks::job_id.asc(), looks::id.asc()))
        .select((
            jobs::id,
            jobs::name,
            jobs::revision,
            looks::revision,
            looks::body,
            sql::<BigInt>(WHEN),
        ))
        .load(c)?;
    let mut found: Vec<SaidOf> = Vec::new();
    for (id, name, now, revision, body, at) in rows {
        let Some(look) = look(revision, &body, at) else {
            continue;
        };
        match found.last_mut().filter(|f| f.0 == id) {
            Some(job) => job.3.push(look),
            None => found.push((id, name, u32::try_from(now).unwrap_or(0), vec![look])),
        }
    }
    Ok(found)
}

fn look(revision: i32, body: &str, at_s: i64) -> Option<Look> {
    let said: Said = serde_json::from_str(body).ok()?;
    Some(Look {
        revision: u32::try_from(revision).ok()?,
        at_s,
        said,
    })
}
