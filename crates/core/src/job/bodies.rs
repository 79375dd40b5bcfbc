//! From a job to what the layers are made of.

use super::state::Job;
use crate::geometry::Bounds;
use crate::layers::{Body, Claims};
use crate::mesh::inner_point;
use std::collections::HashMap;

impl Job {
    /// All printed parts, highest rank first, as numbers of model and part: the order of the list counts, but a part
    /// that lies within another comes before it.
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

    /// For each of some parts, those of them that lie within it, as places in the list, ascending. Within a model that
    /// is known; between models boxes are compared and rays are cast where one holds the other.
    fn enclosed_in(&self, listed: &[(usize, usize)]) -> Vec<Vec<usize>> {
        let part = |at: usize| &self.models[listed[at].0].open.parts[listed[at].1];
        let place: HashMap<(usize, usize), usize> =
            listed.iter().enumerate().map(|(at, p)| (*p, at)).collect();
        let mut within: Vec<Vec<usize>> = (0..listed.len())
            .map(|at| {
                let same_model = part(at).encloses.iter();
                let inner = same_model.map(|p| (listed[at].0, *p as usize));
                inner.filter_map(|p| place.get(&p).copied()).collect()
            })
            .collect();
        if self.models.len() > 1 {
            let boxes: Vec<Bounds> = (0..listed.len())
                .map(|at| part(at).measures.bounds)
                .collect();
            for [a, b] in Bounds::meeting(&boxes, 0.0) {
                for (outer, inner) in [(a, b), (b, a)] {
                    if self.encloses(listed[outer], listed[inner]) {
                        within[outer].push(inner);
                    }
                }
            }
        }
        within.iter_mut().for_each(|w| w.sort_unstable());
        within
    }

    /// Whether a part of one model lies within a part of another: its box does, and a point of its surface.
    fn encloses(&self, outer: (usize, usize), inner: (usize, usize)) -> bool {
        let part = |(m, p): (usize, usize)| &self.models[m].open.parts[p];
        if outer.0 == inner.0
            || !part(outer).is_closed
            || !part(outer)
                .measures
                .bounds
                .holds(&part(inner).measures.bounds)
        {
            return false;
        }
        let corners = &self.models[inner.0]
            .open
            .mesh
            .corners(part(inner).first_facet);
        let container = &self.models[outer.0].open;
        container.tree().is_inside(inner_point(corners), |f| {
            container.part_of[f as usize] as usize == outer.1
        })
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
            soak_mm: self.regions.iter().map(|r| r.soak_mm).collect(),
        }
    }

    /// The deepest soak of any region, mm.
    pub fn deepest_soak_mm(&self) -> f64 {
        self.live_regions()
            .map(|(_, r)| r.soak_mm)
            .fold(0.0, f64::max)
    }
}
