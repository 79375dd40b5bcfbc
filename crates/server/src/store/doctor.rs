//! What only a look over the whole database asks.

use super::copies;
use super::schema::{contents, job_contents, job_states};
use diesel::connection::SimpleConnection;
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use sha2::{Digest, Sha256};
use std::path::Path;

/// A connection to a file that nobody else uses.
///
/// # Errors
/// A sentence, if it cannot be opened.
pub(crate) fn connect(file: &Path) -> Result<SqliteConnection, String> {
    SqliteConnection::establish(&file.to_string_lossy())
        .map_err(|e| format!("{} cannot be opened: {e}", file.display()))
}

/// # Errors
/// A sentence, unless the file is a sound database of a version this program knows.
pub(crate) fn check_sound(file: &Path) -> Result<(), String> {
    if !file.is_file() {
        return Err(format!("there is no file {}", file.display()));
    }
    let mut c = connect(file)?;
    let no = |why: &dyn std::fmt::Display| {
        format!(
            "{} is no copy that can be brought back: {why}",
            file.display()
        )
    };
    let faults = copies::faults(&mut c).map_err(|e| no(&e))?;
    if let Some(fault) = faults.first() {
        return Err(no(fault));
    }
    match super::is_newer(&mut c) {
        Ok(false) => {}
        Ok(true) => return Err(no(&"a newer version of Varichrom made it")),
        Err(e) => return Err(no(&e)),
    }
    contents::table
        .count()
        .get_result::<i64>(&mut c)
        .map(drop)
        .map_err(|e| no(&e))
}

/// Makes all indexes anew.
pub(crate) fn reindex(c: &mut SqliteConnection) -> QueryResult<()> {
    c.batch_execute("REINDEX;")
}

/// Names of kept files whose bytes are not those they are named after.
pub(crate) fn wrong_contents(c: &mut SqliteConnection) -> QueryResult<Vec<String>> {
    let names: Vec<String> = contents::table
        .select(contents::hash)
        .order(contents::hash)
        .load(c)?;
    let mut wrong = Vec::new();
    // One at a time: they are large.
    for name in names {
        let bytes: Vec<u8> = contents::table
            .find(&name)
            .select(contents::bytes)
            .first(c)?;
        let is: String = Sha256::digest(&bytes)
            .iter()
            .map(|b| format!("{b:02x}"))
            .collect();
        if is != name {
            wrong.push(name);
        }
    }
    Ok(wrong)
}

/// Removes kept files that no job names, and returns how many there were.
pub(crate) fn drop_unnamed(c: &mut SqliteConnection) -> QueryResult<usize> {
    let named = job_contents::table.select(job_contents::hash);
    diesel::delete(contents::table.filter(contents::hash.ne_all(named))).execute(c)
}

#[derive(QueryableByName)]
struct Orphan {
    #[diesel(sql_type = diesel::sql_types::Text)]
    table: String,
    #[diesel(sql_type = diesel::sql_types::Nullable<diesel::sql_types::BigInt>)]
    rowid: Option<i64>,
}

/// Removes lines whose job is gone, and returns how many there were.
pub(crate) fn drop_orphans(c: &mut SqliteConnection) -> QueryResult<usize> {
    let orphans: Vec<Orphan> = diesel::sql_query("PRAGMA foreign_key_check").load(c)?;
    for orphan in &orphans {
        // Names of tables come from the database's own schema.
        if let Some(row) = orphan.rowid {
            c.batch_execute(&format!(
                "DELETE FROM \"{}\" WHERE rowid = {row}",
                orphan.table
            ))?;
        }
    }
    Ok(orphans.len())
}

/// Forgets how a job stood.
pub(crate) fn drop_states(c: &mut SqliteConnection, id: i32) -> QueryResult<()> {
    diesel::delete(job_states::table.filter(job_states::job_id.eq(id)))
        .execute(c)
        .map(drop)
}
