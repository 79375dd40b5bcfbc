//! Copies of the database: one a day, one before it is brought up to date, and on request.

use diesel::connection::SimpleConnection;
use diesel::sqlite::SqliteConnection;
use diesel::{Connection, RunQueryDsl};
use std::path::{Path, PathBuf};

/// Daily copies kept.
const KEPT: usize = 7;

#[derive(diesel::QueryableByName)]
struct Said {
    #[diesel(sql_type = diesel::sql_types::Text)]
    quick_check: String,
}

/// What is wrong with the file, in SQLite's words; empty if it is sound.
pub(crate) fn faults(c: &mut SqliteConnection) -> diesel::QueryResult<Vec<String>> {
    let said: Vec<Said> = diesel::sql_query("PRAGMA quick_check(20)").load(c)?;
    Ok(said
        .into_iter()
        .map(|s| s.quick_check)
        .filter(|s| s != "ok")
        .collect())
}

/// Writes a whole and sound copy of an open database, while others go on with it. The file stands at once or not at all.
///
/// # Errors
/// A sentence, if the copy cannot be written.
pub(crate) fn write(c: &mut SqliteConnection, to: &Path) -> Result<(), String> {
    let trouble =
        |e: &dyn std::fmt::Display| format!("the copy {} cannot be written: {e}", to.display());
    if to.exists() {
        return Err(trouble(&"there is such a file already"));
    }
    let half = to.with_extension("half");
    // What a copy that was broken off left.
    let _ = std::fs::remove_file(&half);
    let quoted = half.to_string_lossy().replace('\'', "''");
    let written = c
        .batch_execute(&format!("VACUUM INTO '{quoted}'"))
        .map_err(|e| trouble(&e))
        .and_then(|()| {
            let synced = std::fs::File::open(&half).and_then(|f| f.sync_all());
            synced
                .and_then(|()| std::fs::rename(&half, to))
                .map_err(|e| trouble(&e))
        });
    if written.is_err() {
        // Of a disk that is full, the room comes first; why it failed is what is told.
        let _ = std::fs::remove_file(&half);
    }
    written
}

/// The copies of a data folder.
pub(crate) fn folder(data: &Path) -> PathBuf {
    data.join("copies")
}

/// Makes the copy of a day, such as `2026-12-01`, unless it is there, and lets the oldest go.
///
/// # Errors
/// A sentence, if it cannot be written.
pub(crate) fn daily(c: &mut SqliteConnection, data: &Path, day: &str) -> Result<(), String> {
    let folder = folder(data);
    let to = folder.join(format!("day-{day}.sqlite"));
    if to.exists() {
        return Ok(());
    }
    std::fs::create_dir_all(&folder)
        .map_err(|e| format!("the folder {} cannot be used: {e}", folder.display()))?;
    write(c, &to)?;
    let mut days: Vec<PathBuf> = std::fs::read_dir(&folder)
        .map_err(|e| e.to_string())?
        .filter_map(|f| Some(f.ok()?.path()))
        .filter(|p| {
            p.file_name()
                .is_some_and(|n| n.to_string_lossy().starts_with("day-"))
        })
        .filter(|p| p.extension().is_some_and(|e| e == "sqlite"))
        .collect();
    days.sort();
    for old in &days[..days.len().saturating_sub(KEPT)] {
        std::fs::remove_file(old)
            .map_err(|e| format!("{} cannot be removed: {e}", old.display()))?;
    }
    Ok(())
}

/// Copies a database file that nobody has open to another place.
///
/// # Errors
/// A sentence, if it is no database or cannot be copied.
pub(crate) fn of_file(from: &Path, to: &Path) -> Result<(), String> {
    let mut c = SqliteConnection::establish(&from.to_string_lossy())
        .map_err(|e| format!("{} cannot be opened: {e}", from.display()))?;
    c.batch_execute("PRAGMA busy_timeout = 5000;")
        .map_err(|e| format!("{} cannot be read: {e}", from.display()))?;
    write(&mut c, to)
}
