//! Small pictures of jobs.

use super::schema::{jobs, pictures};
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;

/// The picture of a job, if it shows the job as it stands.
pub(crate) fn of(c: &mut SqliteConnection, job: i32) -> QueryResult<Option<Vec<u8>>> {
    pictures::table
        .inner_join(jobs::table)
        .filter(pictures::job_id.eq(job))
        .filter(pictures::revision.eq(jobs::revision))
        .select(pictures::png)
        .first(c)
        .optional()
}

/// Keeps the picture of a revision of a job in the place of an older one.
pub(crate) fn keep(
    c: &mut SqliteConnection,
    job: i32,
    revision: i32,
    png: &[u8],
) -> QueryResult<()> {
    diesel::replace_into(pictures::table)
        .values((
            pictures::job_id.eq(job),
            pictures::revision.eq(revision),
            pictures::png.eq(png),
        ))
        .execute(c)?;
    Ok(())
}
