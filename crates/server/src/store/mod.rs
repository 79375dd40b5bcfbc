//! SQLite through Diesel. Functions take a connection and return domain types; no other module writes SQL.

pub(crate) mod copies;
pub(crate) mod desk;
pub(crate) mod doctor;
pub(crate) mod habits;
pub(crate) mod jobs;
pub(crate) mod keys;
pub(crate) mod looks;
pub(crate) mod pictures;
pub(crate) mod printers;
pub(crate) mod rack;
pub(crate) mod revisions;
pub(crate) mod runs;
mod schema;
pub(crate) mod shelving;
pub(crate) mod sliced;
pub(crate) mod states;

use diesel::connection::SimpleConnection;
use diesel::migration::MigrationSource;
use diesel::r2d2::{ConnectionManager, CustomizeConnection, Pool};
use diesel::sqlite::SqliteConnection;
use diesel::{Connection, RunQueryDsl};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use std::path::Path;

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();

/// A pool of connections to one database file.
pub(crate) type Db = Pool<ConnectionManager<SqliteConnection>>;

/// Settings every connection starts with: foreign keys, waiting for a busy file, and an edit on the disk before it is
/// acknowledged.
#[derive(Debug)]
struct Setup;

impl CustomizeConnection<SqliteConnection, diesel::r2d2::Error> for Setup {
    fn on_acquire(&self, c: &mut SqliteConnection) -> Result<(), diesel::r2d2::Error> {
        c.batch_execute(
            "PRAGMA busy_timeout = 5000; PRAGMA synchronous = FULL; PRAGMA foreign_keys = ON;",
        )
        .map_err(diesel::r2d2::Error::QueryError)
    }
}

/// Opens or makes the database file and brings it up to date.
///
/// # Errors
/// A sentence, if the file cannot be opened or a migration fails.
pub(crate) fn open(file: &Path) -> Result<Db, String> {
    let trouble = |e: String| format!("the database {} cannot be opened: {e}", file.display());
    // The write-ahead log is a property of the file; connections that switch to it at the same time lock each other.
    let mut first =
        SqliteConnection::establish(&file.to_string_lossy()).map_err(|e| trouble(e.to_string()))?;
    first
        .batch_execute("PRAGMA busy_timeout = 5000; PRAGMA journal_mode = WAL;")
        .map_err(|e| trouble(e.to_string()))?;
    if is_newer(&mut first).map_err(|e| trouble(e.to_string()))? {
        return Err(trouble(
            "a newer version of Varichrom made it; use that version, or another folder".into(),
        ));
    }
    let faults = copies::faults(&mut first).map_err(|e| trouble(e.to_string()))?;
    if let Some(fault) = faults.first() {
        return Err(trouble(format!(
            "it is damaged ({fault}); run `varichrom doctor`, or bring a copy back by `varichrom restore`"
        )));
    }
    before_migrations(&mut first, file)?;
    shrinkable(&mut first).map_err(|e| trouble(e.to_string()))?;
    first
        .run_pending_migrations(MIGRATIONS)
        .map_err(|e| trouble(e.to_string()))?;
    drop(first);
    Pool::builder()
        .max_size(4)
        .connection_customizer(Box::new(Setup))
        .build(ConnectionManager::new(file.to_string_lossy()))
        .map_err(|e| trouble(e.to_string()))
}

/// Keeps a copy of a file that is about to be brought up to date.
fn before_migrations(c: &mut SqliteConnection, file: &Path) -> Result<(), String> {
    let trouble = |e: Box<dyn std::error::Error + Send + Sync>| e.to_string();
    let applied = c.applied_migrations().map_err(trouble)?;
    let pending = c.pending_migrations(MIGRATIONS).map_err(trouble)?;
    let (Some(newest), false) = (applied.first(), pending.is_empty()) else {
        return Ok(());
    };
    let folder = copies::folder(file.parent().unwrap_or(Path::new(".")));
    std::fs::create_dir_all(&folder)
        .map_err(|e| format!("the folder {} cannot be used: {e}", folder.display()))?;
    let to = folder.join(format!("before-{newest}.sqlite"));
    match to.exists() {
        // One that was made before the same step and did not get through it.
        true => Ok(()),
        false => copies::write(c, &to),
    }
}

/// Whether the file was brought up to date by a version that knows more migrations than this one.
fn is_newer(c: &mut SqliteConnection) -> Result<bool, Box<dyn std::error::Error + Send + Sync>> {
    let known: Vec<String> = MigrationSource::<diesel::sqlite::Sqlite>::migrations(&MIGRATIONS)?
        .iter()
        .map(|m| m.name().version().to_string())
        .collect();
    let applied = c.applied_migrations()?;
    Ok(applied.iter().any(|v| !known.contains(&v.to_string())))
}

#[derive(diesel::QueryableByName)]
struct AutoVacuum {
    #[diesel(sql_type = diesel::sql_types::Integer)]
    auto_vacuum: i32,
}

/// Lets the file give back room bit by bit. A file from before is written anew once.
fn shrinkable(c: &mut SqliteConnection) -> diesel::QueryResult<()> {
    const INCREMENTAL: i32 = 2;
    let now: AutoVacuum = diesel::sql_query("PRAGMA auto_vacuum").get_result(c)?;
    if now.auto_vacuum != INCREMENTAL {
        c.batch_execute("PRAGMA auto_vacuum = INCREMENTAL; VACUUM;")?;
    }
    Ok(())
}

/// Gives room of deleted files back to the disk, some of it at a time.
pub(crate) fn shrink(c: &mut SqliteConnection) -> diesel::QueryResult<()> {
    c.batch_execute("PRAGMA incremental_vacuum(20000);")
}
