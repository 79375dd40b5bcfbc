//! Pieces of one model: copies of it that are models of their own, each at a free place beside what stands already.

use super::apply::refuse;
use super::models::check_spacing;
use super::state::Job;
use crate::Problem;
use crate::geometry::{Affine, Bounds};
use crate::limits::COPIES;
use std::collections::HashMap;

/// Facets that a job may come to by copies.
const MOST_FACETS: usize = 20_000_000;

/// Names of further pieces of a model: numbered, from the first number that is free.
pub(super) fn names_of_copies(
    model: &str,
    count: u32,
    is_taken: &dyn Fn(&str) -> bool,
) -> Vec<String> {
    // A copy of "Peg 2" is one of the pegs.
    let numbered = model.rsplit_once(' ').filter(|(stem, n)| {
        !stem.is_empty() && !n.is_empty() && n.bytes().all(|b| b.is_ascii_digit())
    });
    let stem = numbered.map_or(model, |(stem, _)| stem);
    let names = (2u64..).map(|n| format!("{stem} {n}"));
    names
        .filter(|name| !is_taken(name))
        .take(count as usize)
        .collect()
}

impl Job {
    /// Stands copies of a model on the bed, coloured like it.
    ///
    /// # Errors
    /// If there is no such model, or there would be too many.
    ///
    /// # Cost
    /// Linear in the facets that are copied; for each copy quadratic in the models.
    pub(super) fn copy_model(
        &mut self,
        model: &str,
        count: u32,
        spacing_mm: f64,
    ) -> Result<(), Problem> {
        check_spacing(spacing_mm)?;
        let number = self.model_number(model)?;
        COPIES.check(f64::from(count), "count", |n| {
            format!("{n} more of a model cannot be stood on the bed")
        })?;
        let facets = |m: usize| self.models[m].open.mesh.facets.len();
        let all: usize = (0..self.models.len()).map(facets).sum();
        if all + count as usize * facets(number) > MOST_FACETS {
            return Err(refuse(
                "copies-too-large",
                format!("{count} more of {model} would be too many facets to work with"),
                "count",
                "Choose fewer, or print several pieces of everything.",
            ));
        }
        let names = names_of_copies(&self.models[number].name, count, &|name| {
            self.model(name).is_some()
        });
        let mut standing: Vec<Bounds> = self.models.iter().map(|m| m.open.bounds()).collect();
        let own = standing[number];
        let mut copies = Vec::new();
        let mut last_part = self.last_part;
        let mut placed = Vec::new();
        for name in names {
            let [x, y] = free_place(&standing, own.size(), spacing_mm, self.printer.bed_mm);
            let shift = [x - own.min[0], y - own.min[1], 0.0];
            let to = Affine::shift(shift);
            let at = |p: [f64; 3]| [0, 1, 2].map(|i| p[i] + shift[i]);
            standing.push(Bounds {
                min: at(own.min),
                max: at(own.max),
            });
            let mut copy = self.models[number].clone();
            copy.name = name;
            let mut keys = HashMap::new();
            for part in &mut copy.parts {
                last_part += 1;
                keys.insert(part.key, last_part);
                part.key = last_part;
            }
            for part in &mut copy.parts {
                let held = part.held_to.iter().filter_map(|k| keys.get(k));
                part.held_to = held.copied().collect();
            }
            let maps = copy.maps().iter().map(|map| map.then(&to)).collect();
            placed.push((self.models.len() + copies.len(), maps));
            copies.push(copy);
        }
        let before = (self.models.len(), self.last_part);
        self.models.append(&mut copies);
        self.last_part = last_part;
        self.set_maps(placed).inspect_err(|_| {
            self.models.truncate(before.0);
            self.last_part = before.1;
        })
    }
}

/// Where a box of some size stands free of others, seen from above, with a gap around it: beside or behind one of them, so that all
/// together stay as small against the bed as can be. Returns its corner with the least x and y.
fn free_place(
    standing: &[Bounds],
    [width, depth, _]: [f64; 3],
    gap: f64,
    [bed_x, bed_y, _]: [f64; 3],
) -> [f64; 2] {
    const HAIR_MM: f64 = 1e-9;
    let is_free = |[x, y]: [f64; 2]| {
        standing.iter().all(|b| {
            x >= b.max[0] + gap - HAIR_MM
                || x + width <= b.min[0] - gap + HAIR_MM
                || y >= b.max[1] + gap - HAIR_MM
                || y + depth <= b.min[1] - gap + HAIR_MM
        })
    };
    let mut all = Bounds::EMPTY;
    standing.iter().for_each(|b| all.join(b));
    // How much of the bed all of it then takes along the tighter side; then along the other.
    let taken = |[x, y]: [f64; 2]| {
        let across = (x + width).max(all.max[0]) - x.min(all.min[0]);
        let along = (y + depth).max(all.max[1]) - y.min(all.min[1]);
        let (a, b) = (across / bed_x, along / bed_y);
        (a.max(b), a.min(b))
    };
    let beside = |b: &Bounds| [[b.max[0] + gap, b.min[1]], [b.min[0], b.max[1] + gap]];
    let places = standing.iter().flat_map(beside);
    let free = places.filter(|p| is_free(*p));
    // Right of everything there is always room.
    free.min_by(|a, b| {
        let (a, b) = (taken(*a), taken(*b));
        a.0.total_cmp(&b.0).then(a.1.total_cmp(&b.1))
    })
    .unwrap_or([all.max[0] + gap, all.min[1]])
}
