//! Ways to put purge into the model where its colour does not matter.

use super::task::task;
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
        let is_seen = self.seen();
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

    /// By region, whether any of its surface may be seen: on a part that no other one encloses, or through one that does.
    fn seen(&self) -> Vec<bool> {
        let job = self.job;
        let task = task(job, self.spools);
        let filament = |region: u16| &task.filaments[job.slot_of(region) as usize - 1];
        let colours = || (0..).zip(&job.regions).filter(|(_, r)| !r.is_deleted);
        // What encloses has walls on both of its sides. A region that lets another colour shine through them lets any purge be seen.
        const BOTH_SIDES: f64 = 2.0;
        let hides: Vec<bool> = (0..job.regions.len() as u16)
            .map(|region| {
                let own = filament(region);
                colours().all(|(other, _)| {
                    own.hides(filament(other).pigment.colour, &job.printer, BOTH_SIDES)
                })
            })
            .collect();
        let mut seen = vec![false; job.regions.len()];
        for (index, model) in job.models.iter().enumerate() {
            let mut is_opaque: Vec<bool> = model.parts.iter().map(|p| p.is_printed).collect();
            each_piece(job, index, |part, region| {
                is_opaque[part] &= hides[region as usize];
            });
            let mut is_enclosed = vec![false; model.parts.len()];
            for (outer, part) in model.open.parts.iter().enumerate() {
                for inner in part.encloses.iter().filter(|_| is_opaque[outer]) {
                    is_enclosed[*inner as usize] = true;
                }
            }
            each_piece(job, index, |part, region| {
                seen[region as usize] |= model.parts[part].is_printed && !is_enclosed[part];
            });
        }
        seen
    }
}

/// Pieces of a model's surface, each with its part and its region.
fn each_piece(job: &Job, model: usize, mut visit: impl FnMut(usize, u16)) {
    let of = &job.models[model];
    let pieces = Pieces::of(&of.open, &of.labels);
    for piece in (0..pieces.end()).filter(|p| pieces.is_piece(*p)) {
        let facet = pieces.facet(piece);
        let region = job.region_of_label(model, facet, pieces.label(piece));
        visit(of.open.part_of[facet as usize] as usize, region);
    }
}
