//! SQLite through Diesel. Functions take a connection and return domain types; no other module writes SQL.

pub(crate) mod desk;
pub(crate) mod jobs;
pub(crate) mod printers;
pub(crate) mod rack;
mod schema;

use diesel::Connection;
use diesel::connection::SimpleConnection;
use diesel::r2d2::{ConnectionManager, CustomizeConnection, Pool};
use diesel::sqlite::SqliteConnection;
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
