//! Closing holes with facets over their borders.

use super::Work;
use crate::geometry::{Bounds, length, triangles};
use std::collections::HashMap;

impl Work {
    /// Closes every hole that measures at most `size_mm` across (the diagonal of the box around its border). A border
    /// that touches itself is closed loop by loop.
    pub(super) fn close_holes(&mut self, size_mm: f64) {
        let topology = self.topology();
        // The border of a hole runs against the facets along it.
        let mut from: HashMap<u32, Vec<(u32, u32)>> = HashMap::new();
        for (facet, side) in topology.open.iter().rev() {
            let f = self.facets[*facet as usize];
            let (a, b) = (f[*side as usize], f[(*side as usize + 1) % 3]);
            from.entry(b).or_default().push((a, *facet));
        }
        let mut starts: Vec<u32> = Vec::new();
        for (facet, side) in &topology.open {
            starts.push(self.facets[*facet as usize][(*side as usize + 1) % 3]);
        }
        let mut path: Vec<(u32, u32)> = Vec::new();
        let mut on_path: HashMap<u32, usize> = HashMap::new();
        let mut cut = Vec::new();
        for start in starts {
            path.clear();
            on_path.clear();
            let mut at = start;
            // Walks on until the border ends; every return to a vertex of the path closes a loop and takes it off.
            while let Some((next, facet)) = from.get_mut(&at).and_then(Vec::pop) {
                on_path.insert(at, path.len());
                path.push((at, facet));
                at = next;
                if let Some(first) = on_path.get(&at).copied() {
                    let ring: Vec<(u32, u32)> = path.drain(first..).collect();
                    for (v, _) in &ring {
                        on_path.remove(v);
                    }
                    self.fill(&ring, size_mm, &mut cut);
                }
            }
        }
    }

    fn fill(&mut self, ring: &[(u32, u32)], size_mm: f64, cut: &mut Vec<[usize; 3]>) {
        let points: Vec<[f64; 3]> = ring
            .iter()
            .map(|(v, _)| self.vertices[*v as usize])
            .collect();
        if ring.len() < 3 || length(Bounds::of(points.iter().copied()).size()) > size_mm {
            return;
        }
        triangles(&points, cut);
        for t in cut.iter() {
            self.facets.push(t.map(|i| ring[i].0));
            self.from.push(self.from[ring[t[0]].1 as usize]);
        }
        self.report.holes += 1;
        self.report.added += cut.len() as u32;
    }
}
