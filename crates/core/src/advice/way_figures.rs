//! What a way to run a job comes to, and how deep its colours go.

use super::CheckedPlan;
use super::trial::Trial;
use super::ways::Way;
use crate::Problem;
use crate::job::Job;
use serde::Serialize;

/// What a way comes to.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct WayFigures {
    /// Swaps.
    pub swaps: usize,
    /// Purge, g.
    pub purge_g: f64,
    /// Purge and tower, g.
    pub waste_g: f64,
    /// Time, s.
    pub time_s: f64,
    /// Cost.
    pub cost: f64,
    /// A person's time, s.
    pub hand_s: f64,
    /// Times a person has to come.
    pub hand_swaps: usize,
    /// Pieces that come of it, to divide the others by.
    pub pieces: u32,
    /// Whether the plan has something that will not print as planned.
    pub is_wrong: bool,
}

impl WayFigures {
    /// What a plan of a job comes to.
    pub fn of(job: &Job, plan: &CheckedPlan) -> WayFigures {
        let bill = &plan.bill;
        WayFigures {
            swaps: bill.swaps,
            purge_g: bill.purge_g,
            waste_g: bill.purge_g + bill.tower_g,
            time_s: bill.time_s,
            cost: bill.cost,
            hand_s: bill.hand_s,
            hand_swaps: bill.hand_swaps,
            pieces: job.copies.count(),
            is_wrong: plan.cautions.iter().any(|c| c.is_wrong),
        }
    }
}

impl Trial<'_> {
    /// What a way comes to.
    ///
    /// # Errors
    /// As for [`Trial::with`].
    pub fn figures(&self, way: &Way) -> Result<WayFigures, Problem> {
        match &way.edit {
            None => Ok(WayFigures::of(self.job, self.plan)),
            Some(edit) => {
                let tried = self.with(edit)?;
                Ok(WayFigures::of(&tried.job, &tried.plan))
            }
        }
    }
}

/// How deep colours are seen to go where the print is cut; none for right through, mm.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct CutDepth {
    /// The shallowest.
    pub least_mm: Option<f64>,
    /// The deepest.
    pub most_mm: Option<f64>,
}

impl CutDepth {
    /// Everything right through.
    pub const THROUGH: CutDepth = CutDepth {
        least_mm: None,
        most_mm: None,
    };

    /// All alike.
    pub(super) fn all(mm: f64) -> CutDepth {
        CutDepth {
            least_mm: Some(mm),
            most_mm: Some(mm),
        }
    }

    /// Of a job as it stands: parts of their own colour are coloured right through. None if all of it is one region.
    pub(super) fn of(job: &Job) -> Option<CutDepth> {
        let parts = || job.models.iter().flat_map(|m| &m.parts);
        let has_inside = |n: u16| parts().any(|p| p.spans.iter().any(|s| s.own == n));
        let is_own = |n: u16| parts().any(|p| p.own == n);
        let on_surface = job.live_regions().filter(|(n, _)| !is_own(*n));
        let mut depths: Vec<f64> = on_surface
            .map(|(n, _)| match has_inside(n) {
                true => f64::INFINITY,
                false => job.soak_mm(n),
            })
            .collect();
        if job.live_regions().filter(|(n, _)| is_own(*n)).count() > 1 {
            depths.push(f64::INFINITY);
        }
        let mm = |depth: f64| depth.is_finite().then_some(depth);
        let least = depths.iter().copied().min_by(f64::total_cmp)?;
        let most = depths.iter().copied().max_by(f64::total_cmp)?;
        Some(CutDepth {
            least_mm: mm(least),
            most_mm: mm(most),
        })
    }
}
