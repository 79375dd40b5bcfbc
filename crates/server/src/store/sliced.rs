//! Print files from elsewhere, kept with jobs.

use super::schema::sliced;
use crate::wire::{AboutFile, KeptFile};
use diesel::dsl::sql;
use diesel::prelude::*;
use diesel::result::Error;
use diesel::sql_types::BigInt;
use diesel::sqlite::SqliteConnection;

/// Length of a text without fetching it.
const BYTES: &str = "OCTET_LENGTH(text)";

fn to_json(about: &AboutFile) -> QueryResult<String> {
    serde_json::to_string(about).map_err(|e| Error::SerializationError(Box::new(e)))
}

/// Keeps a file; its number. It is on the disk when this returns.
pub(crate) fn keep(
    c: &mut SqliteConnection,
    job: i32,
    name: &str,
    about: &AboutFile,
    text: &str,
    differences: Option<&str>,
) -> QueryResult<i32> {
    diesel::insert_into(sliced::table)
        .values((
            sliced::job_id.eq(job),
            sliced::name.eq(name),
            sliced::body.eq(to_json(about)?),
            sliced::text.eq(text),
            sliced::differences.eq(differences),
        ))
        .returning(sliced::id)
        .get_result(c)
}

/// The files of a job, the oldest first; one only, if it is named.
pub(crate) fn of_job(
    c: &mut SqliteConnection,
    job: i32,
    file: Option<i32>,
) -> QueryResult<Vec<KeptFile>> {
    let mut of = sliced::table.filter(sliced::job_id.eq(job)).into_boxed();
    if let Some(file) = file {
        of = of.filter(sliced::id.eq(file));
    }
    let rows: Vec<(i32, String, String, i64)> = of
        .order(sliced::id.asc())
        .select((sliced::id, sliced::name, sliced::body, sql::<BigInt>(BYTES)))
        .load(c)?;
    Ok(rows
        .into_iter()
        .map(|(id, name, body, bytes)| KeptFile {
            id,
            name,
            bytes: usize::try_from(bytes).unwrap_or(0),
            // What a later version said and this one cannot read counts as unsaid.
            about: serde_json::from_str(&body).unwrap_or_default(),
        })
        .collect())
}

/// Keeps what is said of a file; whether there is one.
pub(crate) fn say(
    c: &mut SqliteConnection,
    job: i32,
    file: i32,
    about: &AboutFile,
) -> QueryResult<bool> {
    let of = sliced::table.filter(sliced::job_id.eq(job).and(sliced::id.eq(file)));
    let changed = diesel::update(of)
        .set(sliced::body.eq(to_json(about)?))
        .execute(c)?;
    Ok(changed == 1)
}

/// The text of a file.
pub(crate) fn text(c: &mut SqliteConnection, job: i32, file: i32) -> QueryResult<Option<String>> {
    sliced::table
        .filter(sliced::job_id.eq(job).and(sliced::id.eq(file)))
        .select(sliced::text)
        .first(c)
        .optional()
}

/// What a file differs by from those that it was made of; none if it was not.
pub(crate) fn differences(
    c: &mut SqliteConnection,
    job: i32,
    file: i32,
) -> QueryResult<Option<String>> {
    let found: Option<Option<String>> = sliced::table
        .filter(sliced::job_id.eq(job).and(sliced::id.eq(file)))
        .select(sliced::differences)
        .first(c)
        .optional()?;
    Ok(found.flatten())
}

/// Forgets a file; whether there was one.
pub(crate) fn forget(c: &mut SqliteConnection, job: i32, file: i32) -> QueryResult<bool> {
    let of = sliced::table.filter(sliced::job_id.eq(job).and(sliced::id.eq(file)));
    Ok(diesel::delete(of).execute(c)? == 1)
}
