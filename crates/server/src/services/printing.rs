//! Print files, and the beads of single layers.

use super::session::Session;
use super::workshop::Workshop;
use crate::error::ApiError;
use crate::wire::{BeadView, BeadsView, SlotBeadsView};
use std::sync::atomic::{AtomicBool, Ordering};
use varichrom_core::handover::{PrintFiles, job_layer_beads, print_files};
use varichrom_core::job::Job;
use varichrom_core::paths::Bead;

impl Session {
    /// All files that print the job as it stands; given up when nobody wants them any more.
    ///
    /// # Errors
    /// As for [`Session::ready_plan`] and [`print_files`].
    pub(crate) fn print_files(
        &self,
        workshop: &Workshop,
        stem: &str,
        is_wanted: &AtomicBool,
    ) -> Result<PrintFiles, ApiError> {
        let (job, plan, planner) = self.standing()?;
        let rack = workshop.rack()?;
        let go_on = |_: f64| is_wanted.load(Ordering::Relaxed);
        Ok(print_files(&job, &rack, (&plan, &planner), stem, &go_on)?)
    }

    /// The beads of a layer, for one piece.
    ///
    /// # Errors
    /// As for [`Session::ready_plan`]; not found beyond the last layer.
    pub(crate) fn beads(&self, layer: usize) -> Result<BeadsView, ApiError> {
        let (job, _, planner) = self.standing()?;
        let found = job_layer_beads(&job, &planner, layer);
        let found = found.ok_or(ApiError::NotFound("layer"))?;
        let slots = found.slots.iter().map(|slot| SlotBeadsView {
            slot: slot.slot,
            beads: slot
                .islands
                .iter()
                .flatten()
                .chain(&slot.sparse)
                .map(view)
                .collect(),
        });
        Ok(BeadsView {
            revision: self.revision(),
            slots: slots.collect(),
        })
    }

    /// The job with its plan and what that was made with.
    fn standing(&self) -> Result<Standing, ApiError> {
        let revision = self.revision();
        let not_ready = self.ready_plan().err();
        match self.planning.standing(revision) {
            Some((plan, planner)) => Ok((self.with_job(Job::clone), plan, planner)),
            None => Err(not_ready.unwrap_or(ApiError::NotFound("plan"))),
        }
    }
}

type Standing = (
    Job,
    std::sync::Arc<varichrom_core::advice::CheckedPlan>,
    varichrom_core::plan::Planner,
);

fn view(bead: &Bead) -> BeadView {
    // A thousandth of a mm is more than any screen shows.
    let round = |mm: f64| (1000.0 * mm).round() / 1000.0;
    BeadView {
        kind: bead.kind,
        is_closed: bead.is_closed,
        line: bead
            .line
            .iter()
            .map(|j| [round(j.at[0]), round(j.at[1]), round(j.width)])
            .collect(),
    }
}
