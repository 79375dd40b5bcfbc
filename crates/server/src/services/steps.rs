//! Steps whose place another edit takes.

use super::session::Session;
use super::workshop::Workshop;
use crate::error::ApiError;
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::job::{Edit, JobEdit};

/// That there is no such step.
pub(super) fn no_step(number: u32) -> ApiError {
    let message = format!("There is no step {number} whose place this can take");
    Problem::new(
        "step-unknown",
        message,
        "instead_of",
        "Do it as a new step.",
    )
    .into()
}

impl Session {
    /// The edit of a step that is in force.
    pub(super) fn step(&self, number: u32) -> Option<Edit> {
        self.with_history(|history| {
            let steps = history.steps();
            let found = steps.into_iter().find(|s| s.number == number);
            let found = found.filter(|s| s.is_applied && !s.is_left_out);
            found.map(|s| s.edit)
        })
    }

    /// Applies an edit in the place of a step. The newest step, or the newest change of one, is taken back for it: what is moved about by
    /// hand is one step.
    ///
    /// # Errors
    /// `step-unknown`, or why the edit is refused; then nothing is changed.
    pub(crate) fn put_in_place(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        number: u32,
        edit: Edit,
        files: &[(String, &[u8])],
    ) -> Result<(), ApiError> {
        if number as usize <= self.floor || self.step(number).is_none() {
            return Err(no_step(number));
        }
        let (is_newest, was_changed_last) = self.with_history(|history| {
            let newest = history.edits()[..history.head()].last();
            let changes = |e: &Edit| matches!(e, Edit::Job(JobEdit::ChangeEdit { number: n, .. }) if *n == number);
            (history.head() == number as usize, newest.is_some_and(changes))
        });
        if is_newest {
            return self.instead_of_newest(workshop, edit, files);
        }
        let to = Box::new(edit);
        let change = Edit::Job(JobEdit::ChangeEdit { number, to });
        match was_changed_last {
            true => self.instead_of_newest(workshop, change, files),
            false => self.apply_with(workshop, change, files),
        }
    }
}
