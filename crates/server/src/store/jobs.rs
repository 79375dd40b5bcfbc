//! Jobs, their edits and the files they opened.

use super::schema::{contents, edits, job_contents, job_states, jobs};
use diesel::dsl::now;
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use varichrom_core::job::Edit;

/// A job as it is kept.
pub(crate) struct StoredJob {
    pub(crate) edits: Vec<Edit>,
    pub(crate) head: usize,
    pub(crate) floor: usize,
    pub(crate) revision: u32,
}

/// A line of the shelf.
pub(crate) struct StoredLine {
    pub(crate) id: i32,
    pub(crate) name: String,
    pub(crate) summary: String,
    /// JSON.
    pub(crate) tags: String,
    pub(crate) is_archived: bool,
    /// How often it was printed.
    pub(crate) runs: i32,
    /// Seconds since 1970.
    pub(crate) changed_s: i64,
}

/// Where a job's history stands after a change.
pub(crate) struct Standing<'a> {
    pub(crate) name: &'a str,
    pub(crate) head: usize,
    /// What the change is counted as.
    pub(crate) revision: u32,
    pub(crate) summary: &'a str,
}

fn count(n: i32) -> usize {
    usize::try_from(n).unwrap_or(0)
}

fn number(n: usize) -> i32 {
    i32::try_from(n).unwrap_or(i32::MAX)
}

/// An edit as it is stored.
pub(crate) fn to_json(edit: &Edit) -> QueryResult<String> {
    serde_json::to_string(edit).map_err(|e| diesel::result::Error::SerializationError(Box::new(e)))
}

/// All jobs, or those in the bin; the latest changed first.
pub(crate) fn list(c: &mut SqliteConnection, is_binned: bool) -> QueryResult<Vec<StoredLine>> {
    type Row = (i32, String, String, String, bool, i32, i64);
    let changed_s = diesel::dsl::sql::<diesel::sql_types::BigInt>(
        "CAST(strftime('%s', changed_at) AS INTEGER)",
    );
    let rows: Vec<Row> = jobs::table
        .filter(jobs::deleted_at.is_not_null().eq(is_binned))
        .select((
            jobs::id,
            jobs::name,
            jobs::summary,
            jobs::tags,
            jobs::is_archived,
            jobs::runs,
            changed_s,
        ))
        .order((jobs::changed_at.desc(), jobs::id.desc()))
        .load(c)?;
    let line = |(id, name, summary, tags, is_archived, runs, changed_s)| StoredLine {
        id,
        name,
        summary,
        tags,
        is_archived,
        runs,
        changed_s,
    };
    Ok(rows.into_iter().map(line).collect())
}

/// How many jobs there are, those in the bin left out.
pub(crate) fn count_all(c: &mut SqliteConnection) -> QueryResult<i64> {
    jobs::table
        .filter(jobs::deleted_at.is_null())
        .count()
        .get_result(c)
}

/// A job with all its edits.
pub(crate) fn load(c: &mut SqliteConnection, id: i32) -> QueryResult<Option<StoredJob>> {
    let row: Option<(i32, i32, i32)> = jobs::table
        .find(id)
        .filter(jobs::deleted_at.is_null())
        .select((jobs::head, jobs::floor, jobs::revision))
        .first(c)
        .optional()?;
    let Some((head, floor, revision)) = row else {
        return Ok(None);
    };
    let bodies: Vec<String> = edits::table
        .filter(edits::job_id.eq(id))
        .order(edits::seq.asc())
        .select(edits::body)
        .load(c)?;
    let edits = bodies
        .iter()
        .map(|b| serde_json::from_str(b))
        .collect::<Result<Vec<Edit>, _>>()
        .map_err(|e| diesel::result::Error::DeserializationError(Box::new(e)))?;
    Ok(Some(StoredJob {
        edits,
        head: count(head),
        floor: count(floor),
        revision: u32::try_from(revision).unwrap_or(0),
    }))
}

/// Makes a job from the edits that open it, with its files, all or nothing.
pub(crate) fn create(
    c: &mut SqliteConnection,
    standing: &Standing<'_>,
    first: &[Edit],
    floor: usize,
    files: &[(String, &[u8])],
) -> QueryResult<i32> {
    c.immediate_transaction(|c| {
        keep_files(c, files)?;
        let id: i32 = diesel::insert_into(jobs::table)
            .values((
                jobs::name.eq(standing.name),
                jobs::head.eq(number(standing.head)),
                jobs::floor.eq(number(floor)),
                jobs::summary.eq(standing.summary),
            ))
            .returning(jobs::id)
            .get_result(c)?;
        for (seq, edit) in first.iter().enumerate() {
            insert_edit(c, id, seq, edit)?;
        }
        Ok(id)
    })
}

fn keep_files(c: &mut SqliteConnection, files: &[(String, &[u8])]) -> QueryResult<()> {
    for (hash, bytes) in files {
        diesel::insert_or_ignore_into(contents::table)
            .values((contents::hash.eq(hash), contents::bytes.eq(*bytes)))
            .execute(c)?;
    }
    Ok(())
}

fn insert_edit(c: &mut SqliteConnection, id: i32, seq: usize, edit: &Edit) -> QueryResult<()> {
    diesel::insert_into(edits::table)
        .values((
            edits::job_id.eq(id),
            edits::seq.eq(number(seq)),
            edits::body.eq(to_json(edit)?),
        ))
        .execute(c)?;
    // Refused by the database if there is no such file.
    for hash in edit.contents() {
        diesel::insert_or_ignore_into(job_contents::table)
            .values((
                job_contents::job_id.eq(id),
                job_contents::seq.eq(number(seq)),
                job_contents::hash.eq(hash),
            ))
            .execute(c)?;
    }
    Ok(())
}

/// Drops files of a list that no edit names any more.
fn drop_orphans(c: &mut SqliteConnection, hashes: &[String]) -> QueryResult<()> {
    use diesel::dsl::{exists, not};
    let used = job_contents::table.filter(job_contents::hash.eq(contents::hash));
    diesel::delete(contents::table)
        .filter(contents::hash.eq_any(hashes).and(not(exists(used))))
        .execute(c)?;
    Ok(())
}

/// Appends an edit and the files it names after the first `standing.head - 1`, dropping what could be redone.
pub(crate) fn append(
    c: &mut SqliteConnection,
    id: i32,
    edit: &Edit,
    standing: &Standing<'_>,
    files: &[(String, &[u8])],
) -> QueryResult<()> {
    c.immediate_transaction(|c| {
        keep_files(c, files)?;
        let seq = standing.head - 1;
        diesel::delete(edits::table)
            .filter(edits::job_id.eq(id).and(edits::seq.ge(number(seq))))
            .execute(c)?;
        diesel::delete(job_states::table)
            .filter(
                job_states::job_id
                    .eq(id)
                    .and(job_states::after_edits.gt(number(seq))),
            )
            .execute(c)?;
        let undone = job_contents::job_id
            .eq(id)
            .and(job_contents::seq.ge(number(seq)));
        let hashes: Vec<String> = job_contents::table
            .filter(undone)
            .select(job_contents::hash)
            .load(c)?;
        diesel::delete(job_contents::table.filter(undone)).execute(c)?;
        insert_edit(c, id, seq, edit)?;
        drop_orphans(c, &hashes)?;
        stand(c, id, standing)
    })
}

/// Moves the head after an undo or a redo, or only renews name and summary.
pub(crate) fn stand(c: &mut SqliteConnection, id: i32, standing: &Standing<'_>) -> QueryResult<()> {
    diesel::update(jobs::table.find(id))
        .set((
            jobs::name.eq(standing.name),
            jobs::head.eq(number(standing.head)),
            jobs::revision.eq(greater(jobs::revision, stored(standing.revision))),
            jobs::summary.eq(standing.summary),
            jobs::changed_at.eq(now),
        ))
        .execute(c)?;
    Ok(())
}

/// Renews what the shelf shows, without counting as a change.
pub(crate) fn set_summary(c: &mut SqliteConnection, id: i32, summary: &str) -> QueryResult<()> {
    diesel::update(jobs::table.find(id))
        .set(jobs::summary.eq(summary))
        .execute(c)?;
    Ok(())
}

/// Deletes a job and its edits, and files no other job uses. Returns whether there was one.
pub(crate) fn delete(c: &mut SqliteConnection, id: i32) -> QueryResult<bool> {
    c.immediate_transaction(|c| {
        let hashes: Vec<String> = job_contents::table
            .filter(job_contents::job_id.eq(id))
            .select(job_contents::hash)
            .distinct()
            .load(c)?;
        let gone = diesel::delete(jobs::table.find(id)).execute(c)? > 0;
        drop_orphans(c, &hashes)?;
        Ok(gone)
    })
}

fn stored(revision: u32) -> i32 {
    i32::try_from(revision).unwrap_or(i32::MAX)
}

/// Counts a change that is no edit, such as another rack.
pub(crate) fn raise_revision(c: &mut SqliteConnection, id: i32, revision: u32) -> QueryResult<()> {
    diesel::update(jobs::table.find(id))
        .set(jobs::revision.eq(greater(jobs::revision, stored(revision))))
        .execute(c)?;
    Ok(())
}

diesel::define_sql_function! {
    /// The greater of two numbers: edits and changes of the rack are written each when its turn comes, and a revision never
    /// falls.
    #[sql_name = "max"]
    fn greater(a: diesel::sql_types::Integer, b: diesel::sql_types::Integer) -> diesel::sql_types::Integer;
}

/// Whether there is such a job.
pub(crate) fn exists(c: &mut SqliteConnection, id: i32) -> QueryResult<bool> {
    let there = jobs::table.find(id).filter(jobs::deleted_at.is_null());
    diesel::select(diesel::dsl::exists(there)).get_result(c)
}

/// Whether a file is in the store.
pub(crate) fn has_content(c: &mut SqliteConnection, hash: &str) -> QueryResult<bool> {
    diesel::select(diesel::dsl::exists(contents::table.find(hash))).get_result(c)
}

/// The bytes of a file by its hash.
pub(crate) fn content(c: &mut SqliteConnection, hash: &str) -> QueryResult<Option<Vec<u8>>> {
    contents::table
        .find(hash)
        .select(contents::bytes)
        .first(c)
        .optional()
}
