//! Ways to put purge into the model where its colour does not matter.

use super::trial::Trial;
use super::ways::{Way, WayGroup};
use crate::carve::Pieces;
use crate::job::{Edit, Job, PlanEdit};
use crate::rules::Takes;

/// Regions that are proposed: those that have most.
const PROPOSED: usize = 2;

impl Trial<'_> {
    /// Ways to let a region take purge; none where purge does not leave the nozzle in a layer. All of a region is proposed only
    /// where it lies within others, so that nobody sees it: the maker may mark any.
    pub(super) fn taker_ways(&self) -> Vec<Way> {
        let job = self.job;
        let profile = job.printer.profile();
        let is_pressed_out = profile.prints_in_passes || job.rules.places.by_hand_mm.is_some();
        if !profile.rinses || is_pressed_out || self.plan.swaps.is_empty() {
            return Vec::new();
        }
        let is_seen = seen(job);
        let mut largest: Vec<_> = self.plan.regions.iter().collect();
        largest.retain(|r| r.extruded_mm3 > 0.0);
        largest.sort_by(|a, b| b.extruded_mm3.total_cmp(&a.extruded_mm3));
        let mut all = Vec::new();
        let mut open = 0;
        for total in largest {
            let key = &total.region;
            let Some((number, region)) = job.live_regions().find(|(_, r)| r.key == *key) else {
                continue;
            };
            let (takes, word, what) = match is_seen[number as usize] {
                true => (Takes::Infill, "infill", "Infill of"),
                false => (Takes::All, "all", "All of"),
            };
            if takes == Takes::Infill {
                open += 1;
                if open > PROPOSED {
                    continue;
                }
            }
            if job.rules.takers.get(key) == Some(&takes) {
                continue;
            }
            all.push(Way {
                key: format!("takes-{word}-{key}"),
                group: WayGroup::Purge,
                // Purge may shine through walls.
                keeps_look: takes == Takes::All,
                name: format!("{what} {} takes purge", region.name),
                edit: Some(Edit::Plan(PlanEdit::TakesPurge {
                    region: key.clone(),
                    takes: Some(takes),
                })),
                cannot: None,
                depth: None,
            });
        }
        all
    }
}

/// By region, whether any of its surface lies on a part that no other one encloses.
fn seen(job: &Job) -> Vec<bool> {
    let mut seen = vec![false; job.regions.len()];
    for (index, model) in job.models.iter().enumerate() {
        let mut is_enclosed = vec![false; model.parts.len()];
        for (outer, part) in model.open.parts.iter().enumerate() {
            if model.parts[outer].is_printed {
                for inner in &part.encloses {
                    is_enclosed[*inner as usize] = true;
                }
            }
        }
        let pieces = Pieces::of(&model.open, &model.labels);
        for piece in (0..pieces.end()).filter(|p| pieces.is_piece(*p)) {
            let facet = pieces.facet(piece);
            let part = model.open.part_of[facet as usize] as usize;
            if model.parts[part].is_printed && !is_enclosed[part] {
                let region = job.region_of_label(index, facet, pieces.label(piece));
                seen[region as usize] = true;
            }
        }
    }
    seen
}
