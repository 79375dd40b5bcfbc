//! Jobs as they stood after some edits, beside the edits that make them.

use super::schema::{edits, job_states};
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use sha2::{Digest, Sha256};

/// Bytes that all states of one job may take together; beyond, every other one goes.
const MOST_BYTES: i64 = 64 << 20;

/// What some edits, as they are stored, are told by.
#[derive(Default)]
pub(crate) struct Mark(Sha256);

impl Mark {
    /// Takes in the next edit.
    pub(crate) fn add(&mut self, body: &str) {
        self.0.update(body.as_bytes());
        self.0.update(b"\n");
    }

    /// The mark of those taken in so far.
    pub(crate) fn text(&self) -> String {
        let digest = self.0.clone().finalize();
        digest.iter().map(|b| format!("{b:02x}")).collect()
    }
}

fn number(n: usize) -> i32 {
    i32::try_from(n).unwrap_or(i32::MAX)
}

/// After how many edits each state of a job is kept, ascending.
pub(crate) fn kept(c: &mut SqliteConnection, job: i32) -> QueryResult<Vec<usize>> {
    let all: Vec<i32> = job_states::table
        .filter(job_states::job_id.eq(job))
        .order(job_states::after_edits.asc())
        .select(job_states::after_edits)
        .load(c)?;
    Ok(all
        .into_iter()
        .filter_map(|n| usize::try_from(n).ok())
        .collect())
}

/// Keeps a job's state after so many edits, and drops every other one while they take too much room; the newest stays.
pub(crate) fn keep(
    c: &mut SqliteConnection,
    job: i32,
    after: usize,
    mark: &str,
    body: &[u8],
) -> QueryResult<()> {
    c.immediate_transaction(|c| {
        diesel::replace_into(job_states::table)
            .values((
                job_states::job_id.eq(job),
                job_states::after_edits.eq(number(after)),
                job_states::mark.eq(mark),
                job_states::body.eq(body),
            ))
            .execute(c)?;
        loop {
            let all: Vec<(i32, i64)> = job_states::table
                .filter(job_states::job_id.eq(job))
                .order(job_states::after_edits.desc())
                .select((job_states::after_edits, length(job_states::body)))
                .load(c)?;
            if all.len() < 3 || all.iter().map(|s| s.1).sum::<i64>() <= MOST_BYTES {
                return Ok(());
            }
            let gone: Vec<i32> = all.iter().skip(1).step_by(2).map(|s| s.0).collect();
            let of_job = job_states::table.filter(job_states::job_id.eq(job));
            diesel::delete(of_job.filter(job_states::after_edits.eq_any(gone))).execute(c)?;
        }
    })
}

diesel::define_sql_function! {
    /// How many bytes there are.
    fn length(bytes: diesel::sql_types::Binary) -> diesel::sql_types::BigInt;
}

/// The state after the most edits up to a number, and after how many; none if it is of other edits than those stored now.
pub(crate) fn newest(
    c: &mut SqliteConnection,
    job: i32,
    at: usize,
) -> QueryResult<Option<(usize, Vec<u8>)>> {
    let state: Option<(i32, String, Vec<u8>)> = job_states::table
        .filter(job_states::job_id.eq(job))
        .filter(job_states::after_edits.le(number(at)))
        .order(job_states::after_edits.desc())
        .select((job_states::after_edits, job_states::mark, job_states::body))
        .first(c)
        .optional()?;
    let Some((after, marked, body)) = state else {
        return Ok(None);
    };
    let bodies: Vec<String> = edits::table
        .filter(edits::job_id.eq(job).and(edits::seq.lt(after)))
        .order(edits::seq.asc())
        .select(edits::body)
        .load(c)?;
    let mut mark = Mark::default();
    bodies.iter().for_each(|b| mark.add(b));
    let after = usize::try_from(after).unwrap_or(0);
    let is_of_these = bodies.len() == after && mark.text() == marked;
    Ok(is_of_these.then_some((after, body)))
}
