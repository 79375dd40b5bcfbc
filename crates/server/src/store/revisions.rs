//! Counters of what the maker owns: every change says which state was seen, so that none is lost to another.

use super::schema::revisions;
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;

/// What has a counter.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Counted {
    Rack,
    Printers,
}

impl Counted {
    fn name(self) -> &'static str {
        match self {
            Counted::Rack => "rack",
            Counted::Printers => "printers",
        }
    }
}

/// How often it was changed.
pub(crate) fn revision(c: &mut SqliteConnection, of: Counted) -> QueryResult<u32> {
    let found: i32 = revisions::table
        .find(of.name())
        .select(revisions::revision)
        .first(c)?;
    Ok(u32::try_from(found).unwrap_or(0))
}

/// Counts a change.
pub(crate) fn count(c: &mut SqliteConnection, of: Counted) -> QueryResult<()> {
    diesel::update(revisions::table.find(of.name()))
        .set(revisions::revision.eq(revisions::revision + 1))
        .execute(c)?;
    Ok(())
}
