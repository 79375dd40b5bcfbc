//! Ways to put purge into the model where its colour does not matter.

use super::trial::Trial;
use super::ways::{Way, WayGroup};
use crate::job::{Edit, PlanEdit};
use crate::rules::Takes;

/// Regions that are proposed: those that have most.
const PROPOSED: usize = 2;

impl Trial<'_> {
    /// Ways to let a region take purge: its infill, or all of it; none where purge does not leave the nozzle in a layer.
    pub(super) fn taker_ways(&self) -> Vec<Way> {
        let job = self.job;
        let profile = job.printer.profile();
        let is_pressed_out = profile.prints_in_passes || job.rules.places.by_hand_mm.is_some();
        if !profile.rinses || is_pressed_out || self.plan.swaps.is_empty() {
            return Vec::new();
        }
        let mut largest: Vec<_> = self.plan.regions.iter().collect();
        largest.retain(|r| r.extruded_mm3 > 0.0);
        largest.sort_by(|a, b| b.extruded_mm3.total_cmp(&a.extruded_mm3));
        let mut all = Vec::new();
        for total in largest.iter().take(PROPOSED) {
            let key = &total.region;
            let Some((_, region)) = job.live_regions().find(|(_, r)| r.key == *key) else {
                continue;
            };
            for (takes, word, what) in [
                (Takes::Infill, "infill", "Infill of"),
                (Takes::All, "all", "All of"),
            ] {
                if job.rules.takers.get(key) == Some(&takes) {
                    continue;
                }
                all.push(Way {
                    key: format!("takes-{word}-{key}"),
                    group: WayGroup::Purge,
                    // Purge may shine through walls, and walls of purge are seen.
                    keeps_look: false,
                    name: format!("{what} {} takes purge", region.name),
                    edit: Some(Edit::Plan(PlanEdit::TakesPurge {
                        region: key.clone(),
                        takes: Some(takes),
                    })),
                    cannot: None,
                    depth: None,
                });
            }
        }
        all
    }
}
