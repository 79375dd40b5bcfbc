//! The maker's printers. Whoever changes them does so within a transaction.

use super::revisions::{Counted, count};
use super::schema::printers;
use diesel::prelude::*;
use diesel::result::Error;
use diesel::sqlite::SqliteConnection;
use varichrom_core::machine::Printer;

/// All printers with their ids, in the maker's order. One that this version cannot read is left out, and stays where it is.
pub(crate) fn list(c: &mut SqliteConnection) -> QueryResult<Vec<(String, Printer)>> {
    let rows: Vec<(String, String)> = printers::table
        .order(printers::position.asc())
        .select((printers::id, printers::body))
        .load(c)?;
    let read = |(id, body): (String, String)| match serde_json::from_str(&body) {
        Ok(printer) => Some((id, printer)),
        Err(e) => {
            tracing::warn!("a printer cannot be read and is left out: {e}");
            None
        }
    };
    Ok(rows.into_iter().filter_map(read).collect())
}

/// Puts printers in the place of some, in this order; those that are no longer among them go. Counts as a change.
pub(crate) fn write(
    c: &mut SqliteConnection,
    before: &[(String, Printer)],
    all: &[(String, Printer)],
) -> QueryResult<()> {
    for gone in before.iter().filter(|b| all.iter().all(|a| a.0 != b.0)) {
        diesel::delete(printers::table.find(&gone.0)).execute(c)?;
    }
    for (position, (id, printer)) in all.iter().enumerate() {
        let body =
            serde_json::to_string(printer).map_err(|e| Error::SerializationError(Box::new(e)))?;
        diesel::replace_into(printers::table)
            .values((
                printers::id.eq(id),
                printers::position.eq(i32::try_from(position).unwrap_or(i32::MAX)),
                printers::body.eq(body),
            ))
            .execute(c)?;
    }
    count(c, Counted::Printers)
}
