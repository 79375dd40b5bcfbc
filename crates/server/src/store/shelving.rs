//! Where jobs lie: on the shelf, put away, or in the bin; what they are tagged with; and copies of them.

use super::schema::{desks, edits, job_contents, jobs};
use diesel::dsl::now;
use diesel::prelude::*;
use diesel::sql_types::{Integer, Nullable, Timestamp};
use diesel::sqlite::SqliteConnection;

/// Tags a job, and puts it away or back. Returns whether there is one.
pub(crate) fn set(
    c: &mut SqliteConnection,
    id: i32,
    tags: &str,
    is_archived: bool,
) -> QueryResult<bool> {
    let set = diesel::update(jobs::table.find(id).filter(jobs::deleted_at.is_null()))
        .set((jobs::tags.eq(tags), jobs::is_archived.eq(is_archived)))
        .execute(c)?;
    Ok(set > 0)
}

/// Puts a job into the bin. Returns whether there is one that is not there yet.
pub(crate) fn bin(c: &mut SqliteConnection, id: i32) -> QueryResult<bool> {
    let set = diesel::update(jobs::table.find(id).filter(jobs::deleted_at.is_null()))
        .set(jobs::deleted_at.eq(now.nullable()))
        .execute(c)?;
    Ok(set > 0)
}

/// Takes a job out of the bin. Returns whether there is one.
pub(crate) fn unbin(c: &mut SqliteConnection, id: i32) -> QueryResult<bool> {
    let none = diesel::dsl::sql::<Nullable<Timestamp>>("NULL");
    let set = diesel::update(jobs::table.find(id).filter(jobs::deleted_at.is_not_null()))
        .set(jobs::deleted_at.eq(none))
        .execute(c)?;
    Ok(set > 0)
}

/// Jobs that have been in the bin for longer than some days.
pub(crate) fn binned_for(c: &mut SqliteConnection, days: u32) -> QueryResult<Vec<i32>> {
    use diesel::dsl::sql;
    let long = format!("deleted_at < datetime('now', '-{days} days')");
    jobs::table
        .filter(sql::<diesel::sql_types::Bool>(&long))
        .select(jobs::id)
        .load(c)
}

/// Makes a second job of a job's edits, files and desk, all or nothing. Returns its number; none if there is no such job.
pub(crate) fn duplicate(c: &mut SqliteConnection, id: i32) -> QueryResult<Option<i32>> {
    c.immediate_transaction(|c| {
        let from = jobs::table.find(id).filter(jobs::deleted_at.is_null());
        let row: Option<(String, i32, i32, String, String)> = from
            .select((
                jobs::name,
                jobs::head,
                jobs::floor,
                jobs::summary,
                jobs::tags,
            ))
            .first(c)
            .optional()?;
        let Some((name, head, floor, summary, tags)) = row else {
            return Ok(None);
        };
        let copy: i32 = diesel::insert_into(jobs::table)
            .values((
                jobs::name.eq(name),
                jobs::head.eq(head),
                jobs::floor.eq(floor),
                jobs::summary.eq(summary),
                jobs::tags.eq(tags),
            ))
            .returning(jobs::id)
            .get_result(c)?;
        let of_copy = || copy.into_sql::<Integer>();
        edits::table
            .filter(edits::job_id.eq(id))
            .select((of_copy(), edits::seq, edits::body))
            .insert_into(edits::table)
            .into_columns((edits::job_id, edits::seq, edits::body))
            .execute(c)?;
        job_contents::table
            .filter(job_contents::job_id.eq(id))
            .select((of_copy(), job_contents::seq, job_contents::hash))
            .insert_into(job_contents::table)
            .into_columns((job_contents::job_id, job_contents::seq, job_contents::hash))
            .execute(c)?;
        desks::table
            .filter(desks::job_id.eq(id))
            .select((of_copy(), desks::body))
            .insert_into(desks::table)
            .into_columns((desks::job_id, desks::body))
            .execute(c)?;
        Ok(Some(copy))
    })
}
