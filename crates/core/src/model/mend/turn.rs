//! Turning facets so that neighbours agree and closed parts face outward.

use super::Work;
use crate::geometry::{cross, dot, facet_area, sub};
use crate::mesh::NO_FACET;
use crate::mesh::find_parts;

impl Work {
    /// Makes neighbours agree, shell by shell, then turns closed parts that face inward. In a shell that is not
    /// closed the side most of the area shows stays outside.
    pub(super) fn turn_outward(&mut self) {
        let topology = self.topology();
        let mut turned = vec![false; self.facets.len()];
        if !topology.flipped.is_empty() {
            self.agree(&topology.across, &mut turned);
        }
        for (facet, turned) in self.facets.iter_mut().zip(&turned) {
            if *turned {
                facet.swap(1, 2);
            }
        }
        let (parts, part_of) = find_parts(&self.mesh(), &self.topology());
        for f in 0..self.facets.len() {
            if parts[part_of[f] as usize].is_inside_out {
                self.facets[f].swap(1, 2);
                turned[f] = !turned[f];
            }
        }
        self.report.turned += turned.iter().filter(|t| **t).count() as u32;
    }

    fn agree(&self, across: &[[u32; 3]], turned: &mut [bool]) {
        let mut is_seen = vec![false; self.facets.len()];
        let mut shell: Vec<usize> = Vec::new();
        for seed in 0..self.facets.len() {
            if is_seen[seed] {
                continue;
            }
            is_seen[seed] = true;
            shell.clear();
            shell.push(seed);
            let mut next = 0;
            while let Some(&f) = shell.get(next) {
                next += 1;
                let own = self.facets[f];
                for side in 0..3 {
                    let other = across[f][side];
                    if other == NO_FACET || is_seen[other as usize] {
                        continue;
                    }
                    let (a, b) = (own[side], own[(side + 1) % 3]);
                    let g = self.facets[other as usize];
                    let runs_alike = (0..3).any(|s| g[s] == a && g[(s + 1) % 3] == b);
                    turned[other as usize] = turned[f] != runs_alike;
                    is_seen[other as usize] = true;
                    shell.push(other as usize);
                }
            }
            if self.faces_wrong_way(&shell, across, turned) {
                for f in &shell {
                    turned[*f] = !turned[*f];
                }
            }
        }
    }

    /// Whether a shell whose facets agree shows its inside: by volume if it is closed, else by the area that had to be
    /// turned.
    fn faces_wrong_way(&self, shell: &[usize], across: &[[u32; 3]], turned: &[bool]) -> bool {
        if shell.iter().all(|f| !turned[*f]) {
            return false;
        }
        let corner = |f: usize, i: usize| self.vertices[self.facets[f][i] as usize];
        let is_closed = shell.iter().all(|f| !across[*f].contains(&NO_FACET));
        let origin = corner(shell[0], 0);
        let (mut volume, mut kept, mut over) = (0.0, 0.0, 0.0);
        for f in shell.iter().copied() {
            let corners = [0, 1, 2].map(|i| corner(f, i));
            let [a, b, c] = corners.map(|p| sub(p, origin));
            let six = dot(a, cross(b, c));
            volume += if turned[f] { -six } else { six };
            *(if turned[f] { &mut over } else { &mut kept }) += facet_area(&corners);
        }
        if is_closed { volume < 0.0 } else { over > kept }
    }
}
