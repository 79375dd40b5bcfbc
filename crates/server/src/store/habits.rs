//! How the maker had printers print plastics last.

use super::schema::print_habits;
use diesel::prelude::*;
use diesel::result::Error;
use diesel::sqlite::SqliteConnection;
use varichrom_core::machine::Printer;

/// A printer as it printed a plastic last; none if it never did, or if this version cannot read it.
pub(crate) fn last(
    c: &mut SqliteConnection,
    printer: &str,
    plastic: &str,
) -> QueryResult<Option<Printer>> {
    let body: Option<String> = print_habits::table
        .find((printer, plastic))
        .select(print_habits::body)
        .first(c)
        .optional()?;
    Ok(body.and_then(|b| serde_json::from_str(&b).ok()))
}

/// Keeps how a printer prints a plastic.
pub(crate) fn keep(c: &mut SqliteConnection, printer: &Printer, plastic: &str) -> QueryResult<()> {
    let body =
        serde_json::to_string(printer).map_err(|e| Error::SerializationError(Box::new(e)))?;
    diesel::replace_into(print_habits::table)
        .values((
            print_habits::printer.eq(&printer.name),
            print_habits::plastic.eq(plastic),
            print_habits::body.eq(body),
        ))
        .execute(c)?;
    Ok(())
}
