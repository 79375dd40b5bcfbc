//! How far an edit of parts is, and whether to go on with it.

use crate::Problem;
use crate::job::Models;

/// A stretch of an edit's work, from one finished share to another.
#[derive(Clone, Copy)]
pub(super) struct Progress<'a> {
    models: &'a dyn Models,
    from: f64,
    share: f64,
}

/// The refusal of an edit that was stopped.
pub(in crate::job) fn stopped() -> Problem {
    let mend = "Start it again, or choose less at a time.";
    Problem::stopped("Stopped; the job is as it was", mend)
}

impl<'a> Progress<'a> {
    /// All of an edit.
    pub(super) fn whole(models: &'a dyn Models) -> Progress<'a> {
        Progress {
            models,
            from: 0.0,
            share: 1.0,
        }
    }

    /// One of several equal pieces of this stretch.
    pub(super) fn piece(self, index: usize, of: usize) -> Progress<'a> {
        let share = self.share / of.max(1) as f64;
        Progress {
            from: self.from + share * index as f64,
            share,
            ..self
        }
    }

    /// Tells the finished share of this stretch; false to stop.
    pub(super) fn goes_on(&self, done: f64) -> bool {
        self.models.go_on(self.from + self.share * done)
    }

    /// Tells that this stretch begins.
    ///
    /// # Errors
    /// The refusal, if the edit is to stop.
    pub(super) fn begin(&self) -> Result<(), Problem> {
        self.goes_on(0.0).then_some(()).ok_or_else(stopped)
    }
}
