//! What is kept beside the jobs: palettes, and each job's desk.

use super::schema::{desks, palettes};
use crate::wire::{Desk, Palette};
use diesel::prelude::*;
use diesel::result::Error;
use diesel::sqlite::SqliteConnection;

/// All palettes in the maker's order.
pub(crate) fn palettes(c: &mut SqliteConnection) -> QueryResult<Vec<Palette>> {
    let bodies: Vec<String> = palettes::table
        .order(palettes::position.asc())
        .select(palettes::body)
        .load(c)?;
    bodies
        .iter()
        .map(|b| serde_json::from_str(b))
        .collect::<Result<_, _>>()
        .map_err(|e| Error::DeserializationError(Box::new(e)))
}

/// Replaces all palettes.
pub(crate) fn replace_palettes(c: &mut SqliteConnection, all: &[Palette]) -> QueryResult<()> {
    c.immediate_transaction(|c| {
        diesel::delete(palettes::table).execute(c)?;
        for (position, palette) in all.iter().enumerate() {
            let body = serde_json::to_string(palette)
                .map_err(|e| Error::SerializationError(Box::new(e)))?;
            diesel::insert_into(palettes::table)
                .values((
                    palettes::name.eq(&palette.name),
                    palettes::position.eq(i32::try_from(position).unwrap_or(i32::MAX)),
                    palettes::body.eq(body),
                ))
                .execute(c)?;
        }
        Ok(())
    })
}

/// A job's desk; an empty one if nothing was put on it.
pub(crate) fn desk(c: &mut SqliteConnection, job: i32) -> QueryResult<Desk> {
    let body: Option<String> = desks::table
        .find(job)
        .select(desks::body)
        .first(c)
        .optional()?;
    match body {
        Some(body) => {
            serde_json::from_str(&body).map_err(|e| Error::DeserializationError(Box::new(e)))
        }
        None => Ok(Desk::default()),
    }
}

/// Replaces a job's desk.
pub(crate) fn set_desk(c: &mut SqliteConnection, job: i32, desk: &Desk) -> QueryResult<()> {
    let body = serde_json::to_string(desk).map_err(|e| Error::SerializationError(Box::new(e)))?;
    diesel::replace_into(desks::table)
        .values((desks::job_id.eq(job), desks::body.eq(body)))
        .execute(c)?;
    Ok(())
}
