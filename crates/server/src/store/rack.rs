//! The rack of spools, and what printed jobs took from it.

use super::schema::{ledger, spools};
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
    c.immediate_transaction(|c| write(c, rack))
}

fn write(c: &mut SqliteConnection, rack: &[Spool]) -> QueryResult<()> {
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
}

/// One line of the ledger.
#[derive(Debug, Clone, PartialEq, Queryable)]
pub(crate) struct LedgerLine {
    pub(crate) spool: String,
    pub(crate) job: String,
    pub(crate) grams: f64,
    /// Seconds since 1970.
    pub(crate) printed_at_s: i64,
}

/// Takes what a printed job used off its spools, and notes it; no spool falls below nothing.
pub(crate) fn take_off(
    c: &mut SqliteConnection,
    job: &str,
    used: &[(String, f64)],
) -> QueryResult<()> {
    c.immediate_transaction(|c| {
        let mut rack = list(c)?;
        for (id, grams) in used {
            if let Some(spool) = rack.iter_mut().find(|s| s.id == *id) {
                spool.left_g = (spool.left_g - grams).max(0.0);
            }
            diesel::insert_into(ledger::table)
                .values((
                    ledger::spool.eq(id),
                    ledger::job.eq(job),
                    ledger::grams.eq(grams),
                ))
                .execute(c)?;
        }
        write(c, &rack)
    })
}

/// The ledger, the newest line first.
pub(crate) fn ledger(c: &mut SqliteConnection) -> QueryResult<Vec<LedgerLine>> {
    use diesel::dsl::sql;
    use diesel::sql_types::BigInt;
    ledger::table
        .order(ledger::id.desc())
        .select((
            ledger::spool,
            ledger::job,
            ledger::grams,
            sql::<BigInt>("CAST(strftime('%s', printed_at) AS INTEGER)"),
        ))
        .load(c)
}
