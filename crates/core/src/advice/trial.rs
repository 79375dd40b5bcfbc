//! What an edit would do to the plan: tried on a copy, planned in full.

use super::{CheckedPlan, planned};
use crate::Problem;
use crate::job::{Edit, Job, Models};
use crate::layers::{LayerShare, Stopped};
use crate::machine::Spool;
use crate::plan::{Bill, Planner};
use serde::Serialize;

/// A job with its layers and its plan, on which edits are tried.
pub struct Trial<'a> {
    /// The job.
    pub job: &'a Job,
    /// The rack.
    pub spools: &'a [Spool],
    /// What its plan was made with; its layers are divided.
    pub planner: &'a Planner,
    /// Its plan as it is now.
    pub plan: &'a CheckedPlan,
    /// Models that edits may ask for.
    pub models: &'a (dyn Models + Sync),
    /// Asked from time to time; false stops the trial.
    pub go_on: &'a (dyn Fn() -> bool + Sync),
}

/// What an edit came to.
pub struct Tried {
    /// The job as it would be.
    pub job: Job,
    /// The plan as it would be.
    pub plan: CheckedPlan,
    /// For each model the facets whose region would change.
    pub facets: Vec<Vec<u32>>,
}

/// How much less one bill is than another; negative where it is more.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Saving {
    /// Swaps.
    pub swaps: i32,
    /// Purge and tower, g.
    pub waste_g: f64,
    /// Time, s.
    pub time_s: f64,
    /// Cost.
    pub cost: f64,
    /// Times a person has to come.
    pub hand_swaps: i32,
}

impl Saving {
    /// What one bill saves over another.
    pub fn between(before: &Bill, after: &Bill) -> Saving {
        let less = |a: usize, b: usize| a as i32 - b as i32;
        Saving {
            swaps: less(before.swaps, after.swaps),
            waste_g: before.purge_g + before.tower_g - after.purge_g - after.tower_g,
            time_s: before.time_s - after.time_s,
            cost: before.cost - after.cost,
            hand_swaps: less(before.hand_swaps, after.hand_swaps),
        }
    }
}

impl Trial<'_> {
    /// The layers as they are divided now.
    pub(super) fn shares(&self) -> &[LayerShare] {
        self.planner.shares().map_or(&[], |shares| shares)
    }

    /// Tries an edit.
    ///
    /// # Errors
    /// The refusal of the edit or of the plan; `stopped`.
    ///
    /// # Cost
    /// A copy of the labels, the layers that the edit touches, and a plan. A survey if it changes shapes or layer heights.
    pub fn with(&self, edit: &Edit) -> Result<Tried, Problem> {
        if !(self.go_on)() {
            return Err(Stopped.into());
        }
        let tried = self.job.tried(edit, self.models)?;
        let job = tried.job;
        let mut planner = self.planner.clone();
        planner.touch(tried.touched);
        Ok(Tried {
            plan: planned(&mut planner, &job, self.spools, &|_| (self.go_on)())?,
            facets: tried.facets,
            job,
        })
    }

    /// What an edit would save, with what it would leave.
    ///
    /// # Errors
    /// As for [`Trial::with`].
    pub fn saving(&self, edit: &Edit) -> Result<(Saving, Tried), Problem> {
        let tried = self.with(edit)?;
        let saving = Saving::between(&self.plan.bill, &tried.plan.bill);
        Ok((saving, tried))
    }
}
