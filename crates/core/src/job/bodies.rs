//! From a job to what the layers are made of.

use super::state::Job;
use crate::geometry::{Bounds, facet_normal};
use crate::layers::{Body, Claims, Settings, Shape};
use crate::machine::Printer;
use crate::mesh::inner_point;
use crate::rules::Takes;
use std::collections::HashMap;

impl Job {
    /// All printed parts, highest rank first, as numbers of model and part: the order of the list counts, but a part
    /// that lies within another, or fills a place of it level with its surface, comes before it.
    pub fn ranked_parts(&self) -> Vec<(usize, usize)> {
        let mut listed = self.listed_parts();
        listed.retain(|(m, p)| self.models[*m].parts[*p].is_printed);
        let within = self.enclosed_in(&listed);
        let mut ranked = Vec::with_capacity(listed.len());
        let mut is_placed = vec![false; listed.len()];
        fn place(
            at: usize,
            within: &[Vec<usize>],
            is_placed: &mut [bool],
            ranked: &mut Vec<usize>,
        ) {
            if std::mem::replace(&mut is_placed[at], true) {
                return;
            }
            for inner in &within[at] {
                place(*inner, within, is_placed, ranked);
            }
            ranked.push(at);
        }
        for at in 0..listed.len() {
            place(at, &within, &mut is_placed, &mut ranked);
        }
        ranked.into_iter().map(|at| listed[at]).collect()
    }

    /// For each of some parts, those of them that it holds, as places in the list, ascending: what lies within it, and what fills
    /// a place of it level with its surface. Either would vanish below it. Boxes are compared, and rays are cast where one
    /// holds the other.
    fn enclosed_in(&self, listed: &[(usize, usize)]) -> Vec<Vec<usize>> {
        let part = |at: usize| &self.models[listed[at].0].open.parts[listed[at].1];
        let place: HashMap<(usize, usize), usize> =
            listed.iter().enumerate().map(|(at, p)| (*p, at)).collect();
        let mut within: Vec<Vec<usize>> = (0..listed.len())
            .map(|at| {
                let same_model = part(at).encloses.iter();
                let inner = same_model.map(|p| (listed[at].0, *p as usize));
                let mut told: Vec<usize> = inner.filter_map(|p| place.get(&p).copied()).collect();
                told.sort_unstable();
                told
            })
            .collect();
        let told_count: Vec<usize> = within.iter().map(Vec::len).collect();
        let boxes: Vec<Bounds> = (0..listed.len())
            .map(|at| part(at).measures.bounds)
            .collect();
        let mut samples = HashMap::new();
        for [a, b] in Bounds::meeting(&boxes, 0.0) {
            for (outer, inner) in [(a, b), (b, a)] {
                let known = &within[outer][..told_count[outer]];
                if known.binary_search(&inner).is_ok()
                    || !self.may_hold(listed[outer], listed[inner])
                {
                    continue;
                }
                let points = samples
                    .entry(inner)
                    .or_insert_with(|| self.points_within(listed[inner]));
                if self.holds_all(listed[outer], points) {
                    within[outer].push(inner);
                }
            }
        }
        within.iter_mut().for_each(|w| w.sort_unstable());
        within
    }

    /// Whether a part may hold another, by box and volume: the larger of two that fill the same space does not count as held.
    fn may_hold(&self, outer: (usize, usize), inner: (usize, usize)) -> bool {
        // Wider than the rounding of 32-bit floats.
        const HAIR_MM: f64 = 1e-4;
        let measures = |(m, p): (usize, usize)| self.models[m].open.parts[p].measures;
        let (large, small) = (measures(outer), measures(inner));
        large.bounds.grown(HAIR_MM).holds(&small.bounds)
            && small.volume_mm3.abs() < large.volume_mm3.abs() * (1.0 - 1e-6)
    }

    /// Some points just below a part's surface, spread over its facets.
    fn points_within(&self, (model, part): (usize, usize)) -> Vec<[f64; 3]> {
        const POINTS: usize = 24;
        const BELOW_MM: f64 = 1e-3;
        let open = &self.models[model].open;
        let facets: Vec<u32> = (open.parts[part].first_facet..open.part_of.len() as u32)
            .filter(|f| open.part_of[*f as usize] as usize == part)
            .take(open.parts[part].facets as usize)
            .collect();
        let out = if open.parts[part].is_inside_out {
            -1.0
        } else {
            1.0
        };
        let below = |facet: &u32| {
            let corners = open.mesh.corners(*facet);
            let normal = facet_normal(&corners)?;
            let p = inner_point(&corners);
            Some([0, 1, 2].map(|i| p[i] - out * BELOW_MM * normal[i]))
        };
        let step = facets.len().div_ceil(POINTS).max(1);
        facets.iter().step_by(step).filter_map(below).collect()
    }

    /// Whether points all lie in a part. Of a part that is not closed every ray has to say so: past a crack they do, past a hole
    /// they differ, and then it is not known.
    fn holds_all(&self, (model, part): (usize, usize), points: &[[f64; 3]]) -> bool {
        let open = &self.models[model].open;
        let counts = |f: u32| open.part_of[f as usize] as usize == part;
        let rays = if open.parts[part].is_closed { 2 } else { 3 };
        !points.is_empty()
            && points
                .iter()
                .all(|p| open.tree().rays_inside(*p, counts) >= rays)
    }

    /// The parts to be printed, highest rank first; see [`Job::ranked_parts`]. All models together stand on the bed; x
    /// and y stay as they are in the files.
    pub fn bodies(&self) -> Vec<Body> {
        let shift = self.bed_shift();
        let ranked = self.ranked_parts();
        let body = |(model, part): (usize, usize)| Body {
            model,
            open: self.models[model].open.clone(),
            part: part as u32,
            shift,
        };
        ranked.into_iter().map(body).collect()
    }

    /// What the layers are surveyed of. Soak depths go in steps, so that a little more depth does not survey again.
    pub fn shape(&self) -> Shape {
        const STEP_MM: f64 = 0.8;
        let steps = (self.deepest_soak_mm() / STEP_MM - 1e-9).ceil();
        Shape {
            bodies: self.bodies(),
            settings: Settings::from(&self.printer),
            reach_mm: steps.max(1.0) * STEP_MM,
        }
    }

    /// From the models' files to a print that stands on the bed, mm.
    pub(crate) fn bed_shift(&self) -> [f64; 3] {
        let all = self.bounds();
        [
            0.0,
            0.0,
            if all.min[2].is_finite() {
                -all.min[2]
            } else {
                0.0
            },
        ]
    }

    /// Which region claims what, in the order of [`Job::bodies`].
    pub fn claims(&self) -> Claims<'_> {
        let ranked = self.ranked_parts();
        let part = |(m, p): (usize, usize)| &self.models[m].parts[p];
        let skips = |at: (usize, usize)| -> Vec<bool> {
            let passes = &part(at).skipped_passes;
            let skipped = |slot: Option<u8>| slot.is_some_and(|s| passes.contains(&s));
            if passes.is_empty() {
                return Vec::new();
            }
            self.regions.iter().map(|r| skipped(r.slot)).collect()
        };
        Claims {
            labels: ranked
                .iter()
                .map(|(m, _)| &self.models[*m].labels)
                .collect(),
            own: ranked.iter().map(|r| part(*r).own).collect(),
            skipped: ranked.iter().map(|r| skips(*r)).collect(),
            spans: {
                let shift = self.bed_shift()[2];
                let spans = ranked.iter().map(|r| part(*r).spans_on_bed(shift));
                spans.collect()
            },
            soak_mm: (0..self.regions.len() as u16)
                .map(|r| self.soak_mm(r))
                .collect(),
            slot_of: (0..self.regions.len() as u16)
                .map(|r| u16::from(self.slot_of(r)))
                .collect(),
        }
    }

    /// As [`Job::claims`], with what takes purge told apart, as the paths want it: see [`Takes::ground`].
    pub fn print_claims(&self) -> Claims<'_> {
        let mut claims = self.claims();
        for (slot, region) in claims.slot_of.iter_mut().zip(&self.regions) {
            let takes = self.rules.takers.get(&region.key).copied();
            *slot = Takes::ground(*slot as u8, takes);
        }
        claims
    }

    /// How far a region's colour goes in, mm; infinite right through.
    pub fn soak_mm(&self, region: u16) -> f64 {
        let depth = self.regions[region as usize].depth;
        depth.mm(self.printer.layer_mm)
    }

    /// The deepest soak of any region that does not go right through, mm.
    pub fn deepest_soak_mm(&self) -> f64 {
        self.live_regions()
            .map(|(n, _)| self.soak_mm(n))
            .filter(|mm| mm.is_finite())
            .fold(0.0, f64::max)
    }
}

impl From<&Printer> for Settings {
    fn from(p: &Printer) -> Self {
        Settings {
            first_layer_mm: p.first_layer_mm,
            layer_mm: p.layer_mm,
            line_width_mm: p.line_width_mm,
            walls: p.walls,
            border_walls: p.border_walls,
            top_skins: p.top_skins,
            bottom_skins: p.bottom_skins,
        }
    }
}
