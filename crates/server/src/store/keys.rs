//! What printers want to hear before they answer.

use super::schema::printer_keys;
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;

/// An address with and without its last stroke is one.
fn plain(address: &str) -> &str {
    address.trim_end_matches('/')
}

/// The key of the printer at an address, if it has one.
pub(crate) fn of(c: &mut SqliteConnection, address: &str) -> QueryResult<Option<String>> {
    printer_keys::table
        .find(plain(address))
        .select(printer_keys::key)
        .first(c)
        .optional()
}

/// Keeps a printer's key, or forgets it.
pub(crate) fn keep(c: &mut SqliteConnection, address: &str, key: Option<&str>) -> QueryResult<()> {
    match key {
        Some(key) => diesel::replace_into(printer_keys::table)
            .values((
                printer_keys::address.eq(plain(address)),
                printer_keys::key.eq(key),
            ))
            .execute(c)?,
        None => diesel::delete(printer_keys::table.find(plain(address))).execute(c)?,
    };
    Ok(())
}
