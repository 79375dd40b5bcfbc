//! What a plan takes from each spool.

use crate::job::Job;
use crate::machine::Spool;
use crate::plan::{Plan, SlotNeed};
use serde::Serialize;

/// What a plan takes from one of the machine's places.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct SpoolNeed {
    /// Slot, or feed of a mixing nozzle, from 1.
    pub place: u8,
    /// Id of the spool there, if it is on the rack.
    pub spool: Option<String>,
    /// For the model, g.
    pub model_g: f64,
    /// Purged, g.
    pub purge_g: f64,
    /// To keep the tower standing, g.
    pub tower_g: f64,
}

impl SpoolNeed {
    /// All of it, g.
    pub fn grams(&self) -> f64 {
        self.model_g + self.purge_g + self.tower_g
    }
}

/// What a plan takes from each place of the machine, from place 1 up. What a mixing nozzle prints is shared out among
/// its feeds by their mass.
pub fn spool_needs(job: &Job, rack: &[Spool], plan: &Plan) -> Vec<SpoolNeed> {
    let loaded = job.loaded();
    let spool = |n: usize| {
        let id = loaded[n].as_ref()?;
        rack.iter().find(|s| s.id == *id)
    };
    let mut needs: Vec<SpoolNeed> = (0..loaded.len())
        .map(|n| SpoolNeed {
            place: n as u8 + 1,
            spool: spool(n).map(|s| s.id.clone()),
            model_g: 0.0,
            purge_g: 0.0,
            tower_g: 0.0,
        })
        .collect();
    let mut add = |place: usize, of: &SlotNeed, share: f64| {
        if let Some(need) = needs.get_mut(place) {
            need.model_g += share * of.model_g;
            need.purge_g += share * of.purge_g;
            need.tower_g += share * of.tower_g;
        }
    };
    for slot in &plan.needs {
        let index = slot.slot as usize - 1;
        if job.printer.profile().mixes.is_none() {
            add(index, slot, 1.0);
            continue;
        }
        let shares = job.mixture(slot.slot - 1);
        let mass = |n: usize| shares[n] * spool(n).map_or(1.24, |s| s.density_g_cm3);
        let whole: f64 = (0..shares.len()).map(mass).sum();
        for n in 0..shares.len() {
            add(n, slot, mass(n) / whole);
        }
    }
    needs
}
