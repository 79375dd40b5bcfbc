//! Closing holes with facets over their borders.

use super::Work;
use crate::geometry::{Bounds, cross, dot, facet_normal, length, sub, triangles};
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
        // Corners where holes meet come last: there the way on depends on the way in.
        starts.sort_by_key(|v| from.get(v).map_or(0, Vec::len) > 1);
        let mut path: Vec<(u32, u32)> = Vec::new();
        let mut on_path: HashMap<u32, usize> = HashMap::new();
        let mut cut = Vec::new();
        for start in starts {
            path.clear();
            on_path.clear();
            let mut at = start;
            // Walks on until the border ends; every return to a vertex of the path closes a loop and takes it off.
            while let Some(ways) = from.get_mut(&at).filter(|ways| !ways.is_empty()) {
                let chosen = self.way_on(at, path.last().map(|(v, _)| *v), ways);
                let (next, facet) = ways.swap_remove(chosen);
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

    /// Which border to follow from a corner where several begin: the one that leaves the least of the hole between the
    /// way in and the way out, seen from outside.
    fn way_on(&self, at: u32, before: Option<u32>, ways: &[(u32, u32)]) -> usize {
        let Some(before) = before.filter(|_| ways.len() > 1) else {
            return ways.len() - 1;
        };
        let corner = |v: u32| self.vertices[v as usize];
        let mut up = [0.0; 3];
        for (_, facet) in ways {
            let corners = self.facets[*facet as usize].map(corner);
            if let Some(n) = facet_normal(&corners) {
                up = [0, 1, 2].map(|i| up[i] + n[i]);
            }
        }
        let back = sub(corner(before), corner(at));
        // Counter-clockwise from the way out to the way back lies the hole.
        let opening = |way: &(u32, u32)| {
            let out = sub(corner(way.0), corner(at));
            let angle = dot(cross(out, back), up).atan2(dot(out, back) * length(up));
            angle.rem_euclid(std::f64::consts::TAU)
        };
        (0..ways.len())
            .min_by(|a, b| opening(&ways[*a]).total_cmp(&opening(&ways[*b])))
            .unwrap_or(0)
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
