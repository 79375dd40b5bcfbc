//! From a job to what the layers are made of.

use super::state::{Job, JobModel};
use crate::layers::{Body, Claims};
use crate::solids::is_inside;

impl Job {
    /// All printed parts, highest rank first, as numbers of model and part: the order of the list counts, but a part
    /// that lies within another comes before it.
    pub fn ranked_parts(&self) -> Vec<(usize, usize)> {
        let mut listed = self.listed_parts();
        listed.retain(|(m, p)| self.models[*m].parts[*p].is_printed);
        let mut ranked = Vec::with_capacity(listed.len());
        let mut is_placed = vec![false; listed.len()];
        let holds = |outer: usize, inner: usize| self.encloses(listed[outer], listed[inner]);
        // Boxes are compared pair by pair; rays are cast only where one holds the other.
        let within: Vec<Vec<usize>> = (0..listed.len())
            .map(|o| {
                (0..listed.len())
                    .filter(|i| *i != o && holds(o, *i))
                    .collect()
            })
            .collect();
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

    /// Whether a part lies within another: its box does, and a point on each of its surfaces.
    fn encloses(&self, outer: (usize, usize), inner: (usize, usize)) -> bool {
        let part = |(m, p): (usize, usize)| &self.models[m].open.parts[p];
        if outer.0 == inner.0 {
            return part(outer).encloses.contains(&(inner.1 as u32));
        }
        if !part(outer).is_closed
            || !part(outer)
                .measures
                .bounds
                .holds(&part(inner).measures.bounds)
        {
            return false;
        }
        let open = &self.models[inner.0].open;
        let [a, b, c] = open.mesh.corners(part(inner).first_facet);
        let p = [0, 1, 2].map(|i| 0.31 * a[i] + 0.27 * b[i] + 0.42 * c[i]);
        let container = &self.models[outer.0].open;
        is_inside(container.tree(), p, &|f| {
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
        let labels = |(m, _): (usize, usize)| -> &JobModel { &self.models[m] };
        let skips = |at: (usize, usize)| -> Vec<bool> {
            let passes = &part(at).skipped_passes;
            let skipped = |slot: Option<u8>| slot.is_some_and(|s| passes.contains(&s));
            if passes.is_empty() {
                return Vec::new();
            }
            self.regions.iter().map(|r| skipped(r.slot)).collect()
        };
        Claims {
            labels: ranked.iter().map(|r| &labels(*r).labels).collect(),
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
