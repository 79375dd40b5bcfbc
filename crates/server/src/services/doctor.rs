//! A data folder looked over while nobody uses it: what is wrong, what was mended, what cannot be.

use super::workshop::{Workshop, hold};
use crate::error::ApiError;
use crate::store::{self, copies, doctor as looks};
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// Something that was found.
#[derive(Debug, Clone, PartialEq, Eq, serde::Serialize)]
pub struct Finding {
    /// What is wrong, in one sentence.
    pub what: String,
    /// What was done about it; none if it cannot be mended here.
    pub mended: Option<String>,
    /// What the maker can do where it cannot be mended.
    pub mend: String,
}

impl Finding {
    fn mended(what: String, how: &str) -> Finding {
        Finding {
            what,
            mended: Some(how.into()),
            mend: String::new(),
        }
    }

    fn left(what: String, mend: &str) -> Finding {
        Finding {
            what,
            mended: None,
            mend: mend.into(),
        }
    }
}

/// The database of a data folder.
fn database(data: &Path) -> PathBuf {
    data.join("varichrom.sqlite")
}

/// Writes a copy of everything in a data folder to a file, also while a server uses it.
///
/// # Errors
/// A sentence, if there is nothing to copy, or the copy cannot be written.
pub fn backup(data: &Path, to: &Path) -> Result<(), String> {
    let from = database(data);
    match from.exists() {
        true => copies::of_file(&from, to),
        false => Err(format!("there is no database in {}", data.display())),
    }
}

/// Puts a copy in the place of what a data folder holds, which is kept as a copy beside it. Returns where.
///
/// # Errors
/// A sentence, if a server uses the folder, or the copy is no sound database of a version this program knows.
pub fn restore(data: &Path, from: &Path) -> Result<Option<PathBuf>, String> {
    std::fs::create_dir_all(data)
        .map_err(|e| format!("the folder {} cannot be used: {e}", data.display()))?;
    let _held = hold(data)?;
    let place = database(data);
    let new = place.with_extension("restored");
    // What a restore that was broken off left.
    let _ = std::fs::remove_file(&new);
    looks::check_sound(from)?;
    copies::of_file(from, &new)?;
    let mut kept = None;
    if place.exists() {
        let folder = copies::folder(data);
        std::fs::create_dir_all(&folder)
            .map_err(|e| format!("the folder {} cannot be used: {e}", folder.display()))?;
        let now = time::OffsetDateTime::now_utc().unix_timestamp();
        let aside = folder.join(format!("before-restore-{now}.sqlite"));
        // A damaged one cannot be copied by reading it, and is put aside as it is.
        if copies::of_file(&place, &aside).is_err() {
            std::fs::copy(&place, &aside)
                .map_err(|e| format!("{} cannot be written: {e}", aside.display()))?;
        }
        kept = Some(aside);
    }
    for log in ["varichrom.sqlite-wal", "varichrom.sqlite-shm"] {
        let log = data.join(log);
        if log.exists() {
            std::fs::remove_file(&log)
                .map_err(|e| format!("{} cannot be removed: {e}", log.display()))?;
        }
    }
    std::fs::rename(&new, &place)
        .map_err(|e| format!("{} cannot be written: {e}", place.display()))?;
    Ok(kept)
}

/// Looks everything over and mends what can be mended.
///
/// # Errors
/// A sentence, if a server uses the folder, or it cannot be read at all.
pub fn doctor(data: &Path) -> Result<Vec<Finding>, String> {
    let place = database(data);
    if !place.exists() {
        return Err(format!("there is no database in {}", data.display()));
    }
    let mut found = Vec::new();
    {
        let _held = hold(data)?;
        let mut c = looks::connect(&place)?;
        let trouble = |e: diesel::result::Error| format!("{} cannot be read: {e}", place.display());
        let faults = copies::faults(&mut c).map_err(trouble)?;
        if !faults.is_empty() {
            // Indexes can be made anew from the tables.
            let is_mended = looks::reindex(&mut c).is_ok()
                && copies::faults(&mut c).is_ok_and(|left| left.is_empty());
            let what = format!("the file is damaged: {}", faults.join("; "));
            if !is_mended {
                found.push(Finding::left(
                    what,
                    "Bring the newest sound copy back: `varichrom restore` with a file of the folder copies.",
                ));
                return Ok(found);
            }
            found.push(Finding::mended(what, "its indexes were made anew"));
        }
        for hash in looks::wrong_contents(&mut c).map_err(trouble)? {
            found.push(Finding::left(
                format!(
                    "the kept file {} is not what it was",
                    &hash[..hash.len().min(12)]
                ),
                "Open that model's file again, or bring a copy back.",
            ));
        }
        let lost = looks::drop_unnamed(&mut c).map_err(trouble)?;
        if lost > 0 {
            found.push(Finding::mended(
                format!("{lost} kept files belong to no job"),
                "they were removed",
            ));
        }
        let orphans = looks::drop_orphans(&mut c).map_err(trouble)?;
        if orphans > 0 {
            found.push(Finding::mended(
                format!("{orphans} lines belong to jobs that are gone"),
                "they were removed",
            ));
        }
    }
    jobs(data, &mut found)?;
    Ok(found)
}

/// Opens every job, from its kept state and, where that fails, from its edits alone.
fn jobs(data: &Path, found: &mut Vec<Finding>) -> Result<(), String> {
    let workshop = Workshop::open(data)?;
    let shelf = workshop.shelf().map_err(|e| e.to_string())?;
    for line in shelf {
        let Err(e) = workshop.session(line.id) else {
            workshop.put_aside(std::time::Duration::ZERO);
            continue;
        };
        let again = workshop
            .without_states(line.id)
            .and_then(|()| workshop.session(line.id));
        workshop.put_aside(std::time::Duration::ZERO);
        let what = format!("the job {} cannot be opened: {e}", line.name);
        found.push(match again {
            Ok(_) => Finding::mended(what, "what was kept of it is made anew from its edits"),
            Err(_) => Finding::left(what, "Bring a copy back, or delete the job."),
        });
    }
    Ok(())
}

impl Workshop {
    /// Forgets how a job stood; its edits are as they were.
    fn without_states(self: &Arc<Self>, id: i32) -> Result<(), ApiError> {
        Ok(store::doctor::drop_states(&mut *self.db.get()?, id)?)
    }
}
