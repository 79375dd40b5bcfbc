//! The rack of spools.

use super::schema::spools;
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use varichrom_core::machine::Spool;

/// All spools in the maker's order.
pub(crate) fn list(c: &mut SqliteConnection) -> QueryResult<Vec<Spool>> {
    let bodies: Vec<String> = spools::table
        .order(spools::position.asc())
        .select(spools::body)
        .load(c)?;
    bodies
        .iter()
        .map(|b| serde_json::from_str(b))
        .collect::<Result<_, _>>()
        .map_err(|e| diesel::result::Error::DeserializationError(Box::new(e)))
}

/// Replaces the whole rack.
pub(crate) fn replace(c: &mut SqliteConnection, rack: &[Spool]) -> QueryResult<()> {
    c.immediate_transaction(|c| {
        diesel::delete(spools::table).execute(c)?;
        for (position, spool) in rack.iter().enumerate() {
            let body = serde_json::to_string(spool)
                .map_err(|e| diesel::result::Error::SerializationError(Box::new(e)))?;
            diesel::insert_into(spools::table)
                .values((
                    spools::id.eq(&spool.id),
                    spools::position.eq(i32::try_from(position).unwrap_or(i32::MAX)),
                    spools::body.eq(body),
                ))
                .execute(c)?;
        }
        Ok(())
    })
}
