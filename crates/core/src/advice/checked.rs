//! A plan with what should be known before it is printed.

use super::cautions::{Caution, cautions};
use super::task::task;
use super::unprinted::{UnprintedPart, unprinted_parts};
use crate::Problem;
use crate::job::Job;
use crate::layers::LayerShare;
use crate::machine::Spool;
use crate::plan::{self, Plan, Planner, Print, plan_of};
use serde::Serialize;

/// A plan of a job, and what should be known of it: what the browser calls the plan.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(rename = "Plan"))]
pub struct CheckedPlan {
    /// The plan.
    #[serde(flatten)]
    pub plan: Plan,
    /// Parts of which no layer prints anything, and why.
    pub unprinted_parts: Vec<UnprintedPart>,
    /// What should be known before it is printed, the worst first.
    pub cautions: Vec<Caution>,
}

impl std::ops::Deref for CheckedPlan {
    type Target = Plan;

    fn deref(&self) -> &Plan {
        &self.plan
    }
}

/// The plan of a job from its labelled layers, looked over.
///
/// # Errors
/// As for [`crate::plan::plan`].
///
/// # Cost
/// That of the plan; one look at every facet where a region prints nowhere.
pub fn checked_plan(
    job: &Job,
    spools: &[Spool],
    shares: &[LayerShare],
) -> Result<CheckedPlan, Problem> {
    let task = task(job, spools);
    let print = Print::of(&task, shares);
    let plan = plan_of(&print)?;
    let unprinted_parts = unprinted_parts(job, shares);
    let cautions = cautions(job, &print, &plan, &unprinted_parts);
    Ok(CheckedPlan {
        plan,
        unprinted_parts,
        cautions,
    })
}

/// The plan of a job as it stands, from what a planner has of it; only what was touched is worked on. `progress` is told the
/// finished share and says whether to go on.
///
/// # Errors
/// As for [`check_extent`] and [`checked_plan`]; `stopped`.
///
/// # Cost
/// That of [`Planner::advance`] and [`checked_plan`].
pub fn planned(
    planner: &mut Planner,
    job: &Job,
    spools: &[Spool],
    progress: &(dyn Fn(f64) -> bool + Sync),
) -> Result<CheckedPlan, Problem> {
    check_extent(job)?;
    let shares = planner.advance(job.shape(), &job.claims(), progress)?;
    checked_plan(job, spools, &shares)
}

/// Whether a job is of a size that can be planned.
///
/// # Errors
/// As for [`crate::plan::check_extent`].
pub fn check_extent(job: &Job) -> Result<(), Problem> {
    plan::check_extent(&job.bounds(), &job.printer)
}
