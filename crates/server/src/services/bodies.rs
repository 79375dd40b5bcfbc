//! The print as closed bodies: what would go out, and the file.

use super::session::Session;
use super::workshop::lock;
use crate::error::ApiError;
use crate::wire::{BodiesView, BodySum, BodyView};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use varichrom_core::Problem;
use varichrom_core::handover::{BodyDepth, ClosedBodies, ClosedBody, closed_bodies, parts_zip};
use varichrom_core::job::{Job, Region};

/// The bodies that were made last, of which revision and how.
#[derive(Default)]
pub(super) struct KnownBodies(Mutex<Option<(u32, BodyDepth, Arc<ClosedBodies>)>>);

impl Session {
    /// What would go out as closed bodies.
    pub(crate) fn bodies(
        &self,
        depth: BodyDepth,
        is_wanted: &AtomicBool,
    ) -> Result<BodiesView, ApiError> {
        let (job, made) = self.made_bodies(depth, is_wanted)?;
        let body = |b: &ClosedBody| BodyView {
            part: b.part.clone(),
            region: job.regions[b.number as usize].key.clone(),
            facets: b.solid.mesh.facets.len(),
            volume_mm3: b.volume_mm3,
            is_closed: b.is_closed,
        };
        let plan = self.ready_plan().ok();
        let sum = |(number, region): (u16, &Region)| BodySum {
            region: region.key.clone(),
            bodies_mm3: {
                let of = made.bodies.iter().filter(|b| b.number == number);
                of.map(|b| b.volume_mm3).sum()
            },
            plan_mm3: plan.as_ref().and_then(|plan| {
                let total = plan.regions.iter().find(|t| t.region == region.key)?;
                Some(total.volume_mm3 / f64::from(job.copies.count()))
            }),
        };
        Ok(BodiesView {
            sums: job.live_regions().map(sum).collect(),
            bodies: made.bodies.iter().map(body).collect(),
            told: made.told.clone(),
        })
    }

    /// The bodies as a ZIP of STL files.
    pub(crate) fn parts_zip(
        &self,
        depth: BodyDepth,
        is_wanted: &AtomicBool,
    ) -> Result<Vec<u8>, ApiError> {
        let (job, made) = self.made_bodies(depth, is_wanted)?;
        let date = time::OffsetDateTime::now_utc().date().to_string();
        Ok(parts_zip(&job, &made, &date)?)
    }

    /// The bodies of the job as it stands; given up when nobody wants to know any more.
    fn made_bodies(
        &self,
        depth: BodyDepth,
        is_wanted: &AtomicBool,
    ) -> Result<(Job, Arc<ClosedBodies>), ApiError> {
        let (revision, job) = {
            let history = lock(&self.history);
            (self.revision(), history.job().clone())
        };
        if let Some((of, how, made)) = &*lock(&self.bodies.0)
            && (*of, *how) == (revision, depth)
        {
            return Ok((job, made.clone()));
        }
        let go_on = |_: f64| is_wanted.load(Ordering::Relaxed);
        let Some(made) = closed_bodies(&job, depth, &go_on)? else {
            let mend = "Ask again if it is still wanted.";
            return Err(Problem::stopped("The bodies are no longer wanted", mend).into());
        };
        let made = Arc::new(made);
        *lock(&self.bodies.0) = Some((revision, depth, made.clone()));
        Ok((job, made))
    }
}
