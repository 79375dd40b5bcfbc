//! Facets that say nothing: those without area and those that repeat another.

use super::Work;
use super::weld::is_collapsed;
use crate::geometry::{facet_area, length, sub};
use crate::mesh::NO_FACET;
use crate::mesh::find_parts;
use crate::mesh::{NO_AREA_MM2, repeated};
use std::collections::HashMap;

/// Rounds of flipping; a stack of needles on one edge takes one round each.
const MOST_ROUNDS: usize = 12;

impl Work {
    fn corners(&self, facet: usize) -> [[f64; 3]; 3] {
        self.facets[facet].map(|v| self.vertices[v as usize])
    }

    fn has_no_area(&self, facet: usize) -> bool {
        is_collapsed(&self.facets[facet]) || facet_area(&self.corners(facet)) <= NO_AREA_MM2
    }

    /// Takes out facets without area so that no gap opens: one with two corners in one place just goes; a needle,
    /// whose third corner lies on its long side, swaps that side with the facet across it.
    pub(super) fn without_degenerate(&mut self) {
        let count = |work: &Work| {
            (0..work.facets.len())
                .filter(|f| work.has_no_area(*f))
                .count()
        };
        self.report.degenerate += count(self) as u32;
        for round in 0..MOST_ROUNDS {
            let facets = self.facets.clone();
            self.retain(|f| !is_collapsed(&facets[f]));
            let flat: Vec<usize> = (0..self.facets.len())
                .filter(|f| self.has_no_area(*f))
                .collect();
            if flat.is_empty() {
                return;
            }
            let topology = self.topology();
            let is_last = round + 1 == MOST_ROUNDS;
            let mut is_touched = vec![false; self.facets.len()];
            let mut goes = vec![false; self.facets.len()];
            for f in flat {
                let c = self.corners(f);
                let long = (0..3)
                    .max_by(|a, b| {
                        let side = |i: usize| length(sub(c[(i + 1) % 3], c[i]));
                        side(*a).total_cmp(&side(*b))
                    })
                    .unwrap_or(0);
                let other = topology.across[f][long];
                if other == NO_FACET || is_last {
                    goes[f] = true;
                    continue;
                }
                let g = other as usize;
                if is_touched[f] || is_touched[g] || self.has_no_area(g) {
                    continue;
                }
                let own = self.facets[f];
                let (a, b, tip) = (own[long], own[(long + 1) % 3], own[(long + 2) % 3]);
                let across = self.facets[g];
                // The facet across must run the other way along the side, or one of the two is turned over.
                let Some(side) = (0..3).find(|s| across[*s] == b && across[(s + 1) % 3] == a)
                else {
                    goes[f] = true;
                    continue;
                };
                let far = across[(side + 2) % 3];
                self.facets[f] = [a, far, tip];
                self.facets[g] = [far, b, tip];
                is_touched[f] = true;
                is_touched[g] = true;
            }
            self.retain(|f| !goes[f]);
        }
    }

    /// Takes out facets that repeat another of their part: of copies that face the same way one stays; two that face
    /// each other enclose nothing and both go.
    pub(super) fn without_duplicates(&mut self) {
        let topology = self.topology();
        if topology.duplicates.is_empty() {
            return;
        }
        let (parts, part_of) = find_parts(&self.mesh(), &topology);
        let doubled: Vec<[u32; 3]> = repeated(&topology, &parts, &part_of)
            .iter()
            .map(|f| sorted(self.facets[*f as usize]).0)
            .collect();
        // Part, three corners → facets that face one way, facets that face the other.
        let mut groups: HashMap<[u32; 3], [Vec<usize>; 2]> = doubled
            .into_iter()
            .map(|key| (key, Default::default()))
            .collect();
        for (f, facet) in self.facets.iter().enumerate() {
            let (key, is_odd) = sorted(*facet);
            if let Some(group) = groups.get_mut(&key) {
                group[usize::from(is_odd)].push(f);
            }
        }
        let mut goes = vec![false; self.facets.len()];
        for [even, odd] in groups.values() {
            let stays = usize::from(even.len() != odd.len());
            let (more, fewer) = if even.len() > odd.len() {
                (even, odd)
            } else {
                (odd, even)
            };
            for f in more.iter().skip(stays).chain(fewer) {
                goes[*f] = true;
            }
        }
        self.report.duplicates += goes.iter().filter(|g| **g).count() as u32;
        self.retain(|f| !goes[f]);
    }
}

/// The corners in order, and whether that took an odd number of exchanges.
fn sorted(f: [u32; 3]) -> ([u32; 3], bool) {
    let mut key = f;
    key.sort_unstable();
    let least = (0..3).min_by_key(|i| f[*i]).unwrap_or(0);
    (key, f[(least + 1) % 3] != key[1])
}
