//! The maker's printers.

use super::schema::printers;
use diesel::prelude::*;
use diesel::result::Error;
use diesel::sqlite::SqliteConnection;
use varichrom_core::machine::Printer;

/// All printers with their ids, in the maker's order.
pub(crate) fn list(c: &mut SqliteConnection) -> QueryResult<Vec<(String, Printer)>> {
    let rows: Vec<(String, String)> = printers::table
        .order(printers::position.asc())
        .select((printers::id, printers::body))
        .load(c)?;
    rows.into_iter()
        .map(|(id, body)| Ok((id, serde_json::from_str(&body)?)))
        .collect::<Result<_, serde_json::Error>>()
        .map_err(|e| Error::DeserializationError(Box::new(e)))
}

/// Replaces all of them.
pub(crate) fn replace(c: &mut SqliteConnection, all: &[(String, Printer)]) -> QueryResult<()> {
    c.immediate_transaction(|c| {
        diesel::delete(printers::table).execute(c)?;
        for (position, (id, printer)) in all.iter().enumerate() {
            let body = serde_json::to_string(printer)
                .map_err(|e| Error::SerializationError(Box::new(e)))?;
            diesel::insert_into(printers::table)
                .values((
                    printers::id.eq(id),
                    printers::position.eq(i32::try_from(position).unwrap_or(i32::MAX)),
                    printers::body.eq(body),
                ))
                .execute(c)?;
        }
        Ok(())
    })
}
