//! The shelf kept in order: tags, what is put away, copies, and a bin that keeps what was deleted for a while.

use super::releasing::released_jobs;
use super::workshop::{Workshop, shelf_of};
use crate::error::ApiError;
use crate::store;
use crate::wire::{JobSummary, Shelving, Standing};
use std::collections::BTreeSet;
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::job::{Edit, JobEdit};

/// Days that a deleted job can be brought back.
const KEPT_DAYS: u32 = 30;
/// Most tags of a job, and longest one in characters.
const MOST_TAGS: [usize; 2] = [12, 40];

impl Workshop {
    /// The shelf with what is put away, or the bin; the latest changed job first.
    pub fn shelf(&self) -> Result<Vec<JobSummary>, ApiError> {
        self.lines(false)
    }

    /// What was deleted and can be brought back.
    pub(crate) fn bin(&self) -> Result<Vec<JobSummary>, ApiError> {
        self.lines(true)
    }

    fn lines(&self, is_binned: bool) -> Result<Vec<JobSummary>, ApiError> {
        let mut c = self.db.get()?;
        let released = released_jobs(&store::looks::by_job(&mut c)?);
        let mut all = shelf_of(store::jobs::list(&mut c, is_binned)?);
        for job in &mut all {
            job.stands = match () {
                () if job.runs > 0 => Standing::Printed,
                () if released.contains(&job.id) => Standing::Released,
                () if job.swaps.is_some() => Standing::Planned,
                // The first spool comes by itself.
                () if job.colours.len() > 1 && !job.spools.is_empty() => Standing::Loaded,
                () if job.colours.len() > 1 => Standing::Coloured,
                () => Standing::Open,
            };
        }
        Ok(all)
    }

    /// Tags a job, and puts it away or back.
    ///
    /// # Errors
    /// If there is no such job, or a tag is too long or there are too many.
    pub(crate) fn shelve(&self, id: i32, mut to: Shelving) -> Result<(), ApiError> {
        let mut seen = BTreeSet::new();
        for tag in &mut to.tags {
            *tag = tag.split_whitespace().collect::<Vec<_>>().join(" ");
        }
        to.tags
            .retain(|tag| !tag.is_empty() && seen.insert(tag.to_lowercase()));
        let [most, longest] = MOST_TAGS;
        if to.tags.len() > most || to.tags.iter().any(|t| t.chars().count() > longest) {
            let message = format!("A job has {most} tags at most, of {longest} letters each");
            return Err(
                Problem::new("tags", message, "tags", "Use fewer, or shorter ones.").into(),
            );
        }
        let tags =
            serde_json::to_string(&to.tags).map_err(|e| ApiError::Internal(e.to_string()))?;
        match store::shelving::set(&mut *self.db.get()?, id, &tags, to.is_archived)? {
            true => Ok(()),
            false => Err(ApiError::NotFound("job")),
        }
    }

    /// A second job like one, under a name of its own.
    ///
    /// # Errors
    /// If there is no such job, or it cannot be opened.
    pub(crate) fn duplicate(self: &Arc<Self>, id: i32) -> Result<JobSummary, ApiError> {
        let copy = store::shelving::duplicate(&mut *self.db.get()?, id)?;
        let copy = copy.ok_or(ApiError::NotFound("job"))?;
        let renamed = self.session(copy).and_then(|session| {
            let name = session.with_job(|job| job.name.clone());
            let taken: BTreeSet<String> = self.shelf()?.into_iter().map(|j| j.name).collect();
            let mut names = (2..).map(|n| format!("{name} {n}"));
            let name = names.find(|n| !taken.contains(n)).unwrap_or(name);
            session.apply(self, Edit::Job(JobEdit::RenameJob { name }))
        });
        if let Err(e) = renamed {
            self.delete_for_good(copy)?;
            return Err(e);
        }
        let line = self.shelf()?.into_iter().find(|j| j.id == copy);
        line.ok_or(ApiError::NotFound("job"))
    }

    /// Puts a job into the bin, from where it can be brought back for some days.
    ///
    /// # Errors
    /// If there is no such job on the shelf.
    pub(crate) fn delete(&self, id: i32) -> Result<(), ApiError> {
        if !store::shelving::bin(&mut *self.db.get()?, id)? {
            return Err(ApiError::NotFound("job"));
        }
        self.close(id);
        Ok(())
    }

    /// Brings a deleted job back.
    ///
    /// # Errors
    /// If it is not in the bin.
    pub(crate) fn bring_back(&self, id: i32) -> Result<(), ApiError> {
        match store::shelving::unbin(&mut *self.db.get()?, id)? {
            true => Ok(()),
            false => Err(ApiError::NotFound("deleted job")),
        }
    }

    /// Takes a job away for good, wherever it lies.
    ///
    /// # Errors
    /// If there is no such job.
    pub(crate) fn delete_for_good(&self, id: i32) -> Result<(), ApiError> {
        let mut c = self.db.get()?;
        if !store::jobs::delete(&mut c, id)? {
            return Err(ApiError::NotFound("job"));
        }
        self.close(id);
        if let Err(e) = store::shrink(&mut c) {
            tracing::warn!("the room of job {id} is not given back yet: {e}");
        }
        Ok(())
    }

    /// Empties the bin of what has lain there long enough.
    pub(super) fn empty_bin(&self) -> Result<(), ApiError> {
        let old = store::shelving::binned_for(&mut *self.db.get()?, KEPT_DAYS)?;
        old.into_iter().try_for_each(|id| self.delete_for_good(id))
    }
}
