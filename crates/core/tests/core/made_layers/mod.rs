//! Layers made up for the tests of plans: no mesh needed.

use proptest::prelude::*;
use varichrom_core::advice::{CheckedPlan, checked_plan};
use varichrom_core::job::{Job, Region, SoakDepth};
use varichrom_core::layers::{LayerShare, RegionShare};
use varichrom_demo::rack;

/// A job of four regions on the four slots, loaded with the first four spools of the rack.
pub(crate) fn job() -> Job {
    let mut job = Job::default();
    for (i, spool) in rack().iter().take(4).enumerate() {
        job.slots[i] = Some(spool.id.clone());
        if i > 0 {
            job.regions.push(Region {
                key: format!("r{i}"),
                name: format!("Region {i}"),
                colour: spool.colour,
                slot: Some(i as u8 + 1),
                depth: SoakDepth::default(),
                is_proposed: false,
                is_protected: false,
                opacity: 1.0,
                is_deleted: false,
            });
        }
    }
    job
}

/// Layers of 0.2 mm with the given areas per region; half of each is solid.
pub(crate) fn layers(areas: &[[f64; 4]]) -> Vec<LayerShare> {
    areas
        .iter()
        .enumerate()
        .map(|(i, areas)| LayerShare {
            z0_mm: 0.2 * i as f64,
            z1_mm: 0.2 * (i + 1) as f64,
            regions: areas
                .iter()
                .map(|a| RegionShare {
                    area_mm2: *a,
                    solid_mm2: 0.5 * a,
                })
                .collect(),
            too_thin: Vec::new(),
            bodies: Vec::new(),
            thin_bodies: Vec::new(),
        })
        .collect()
}

pub(crate) fn planned(job: &Job, areas: &[[f64; 4]]) -> CheckedPlan {
    checked_plan(job, &rack(), &layers(areas)).expect("four slots")
}

pub(crate) fn any_areas() -> impl Strategy<Value = Vec<[f64; 4]>> {
    let area = prop_oneof![2 => Just(0.0), 3 => 1.0..400.0f64];
    prop::collection::vec(prop::array::uniform4(area), 1..40)
}
