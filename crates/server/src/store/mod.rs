//! SQLite through Diesel. Functions take a connection and return domain types; no other module writes SQL.

pub(crate) mod jobs;
pub(crate) mod rack;
mod schema;

use diesel::connection::SimpleConnection;
use diesel::r2d2::{ConnectionManager, CustomizeConnection, Pool};
use diesel::sqlite::SqliteConnection;
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use std::path::Path;

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();

/// A pool of connections to one database file.
pub(crate) type Db = Pool<ConnectionManager<SqliteConnection>>;

/// Settings every connection starts with: write-ahead log, foreign keys, waiting for a busy file, and an edit on the
/// disk before it is acknowledged.
#[derive(Debug)]
struct Setup;

impl CustomizeConnection<SqliteConnection, diesel::r2d2::Error> for Setup {
    fn on_acquire(&self, c: &mut SqliteConnection) -> Result<(), diesel::r2d2::Error> {
        c.batch_execute(
            "PRAGMA busy_timeout = 5000; PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; \
             PRAGMA foreign_keys = ON;",
        )
        .map_err(diesel::r2d2::Error::QueryError)
    }
}

/// Opens or makes the database file and brings it up to date.
///
/// # Errors
/// A sentence, if the file cannot be opened or a migration fails.
pub(crate) fn open(file: &Path) -> Result<Db, String> {
    let pool = Pool::builder()
        .max_size(4)
        .connection_customizer(Box::new(Setup))
        .build(ConnectionManager::new(file.to_string_lossy()))
        .map_err(|e| format!("the database {} cannot be opened: {e}", file.display()))?;
    let mut connection = pool.get().map_err(|e| e.to_string())?;
    connection.run_pending_migrations(MIGRATIONS).map_err(|e| {
        format!(
            "the database {} cannot be brought up to date: {e}",
            file.display()
        )
    })?;
    Ok(pool)
}
