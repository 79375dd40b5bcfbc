//! What an edit would do, tried on a copy.

use super::edits::Edit;
use super::history::Models;
use super::state::Job;
use crate::Problem;
use crate::layers::Touched;

/// A job as an edit would leave it.
pub struct TriedJob {
    /// The job.
    pub job: Job,
    /// What the edit changed of it.
    pub touched: Touched,
    /// For each model the facets whose region it changed, ascending; nothing if facets themselves were changed.
    pub facets: Vec<Vec<u32>>,
}

impl Job {
    /// Tries an edit on a copy. Edits that take all the ones before them, such as a new version of a model, cannot be tried.
    ///
    /// # Errors
    /// The refusal of the edit.
    ///
    /// # Cost
    /// A copy of all labels, and the edit.
    pub fn tried(&self, edit: &Edit, models: &dyn Models) -> Result<TriedJob, Problem> {
        let mut job = self.clone();
        let before = job.apply(edit, models)?;
        Ok(TriedJob {
            touched: before.touched(edit, &job),
            facets: before.facets_changed(),
            job,
        })
    }
}
