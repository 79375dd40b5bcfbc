//! Edges near a zero line halved until none is longer than the field's detail.
//!
//! Always the longest edge of a triangle, and of the triangle across it (Rivara, "Algorithms for refining triangular grids
//! suitable for adaptive and multigrid techniques", 1984, from memory: no angle falls below half the smallest angle at the
//! start).

use super::LEAST_ALTITUDE_MM;
use super::cut::FARTHEST;
use super::patchwork::{NONE, Patchwork, Triangle};
use rustc_hash::FxHashSet;

/// Refining ends here whatever the field says.
const MOST_TRIANGLES: usize = 2_000_000;

impl Patchwork<'_> {
    /// Whether the zero line may pass through a triangle that is too large to tell how.
    fn is_coarse(&self, triangle: u32) -> bool {
        let t = &self.triangles[triangle as usize];
        if !self.on_line.contains(&t.facet) {
            return false;
        }
        let longest = self.weight(t, self.longest(triangle)).0.sqrt();
        let values = t.v.map(|v| self.values[v as usize]);
        let same = values.iter().all(|v| *v < 0.0) || values.iter().all(|v| *v >= 0.0);
        let nearest = values.iter().fold(f64::INFINITY, |m, v| m.min(v.abs()));
        if same && nearest > FARTHEST * longest {
            return false;
        }
        let field = self.cutting.field;
        if longest > field.detail_mm(self.points[t.v[0] as usize], longest) {
            return longest > field.smooth_mm() || self.is_curved(t);
        }
        longest > self.cutting.tolerance_mm && self.is_bent(t)
    }

    /// Whether the field differs from a linear one at one of seven places: none of a triangle is further than 0.17 of its
    /// longest edge from one of them or a corner.
    fn is_curved(&self, t: &Triangle) -> bool {
        let corners = self.corners(t);
        let values = t.v.map(|v| self.values[v as usize]);
        let differs = |shares: [f64; 3]| {
            let of = |from: [f64; 3]| (0..3).map(|k| shares[k] * from[k]).sum::<f64>();
            let p = [0, 1, 2].map(|axis| of(corners.map(|c| c[axis])));
            (self.value(t.facet, p) - of(values)).abs() > TOLD * self.cutting.tolerance_mm
        };
        // Half of the tolerance may hide between the places, and a fifth goes where a root takes over a near corner.
        const TOLD: f64 = 0.3;
        const PLACES: [[f64; 3]; 7] = [
            [1.0 / 3.0; 3],
            [0.5, 0.5, 0.0],
            [0.0, 0.5, 0.5],
            [0.5, 0.0, 0.5],
            [2.0 / 3.0, 1.0 / 6.0, 1.0 / 6.0],
            [1.0 / 6.0, 2.0 / 3.0, 1.0 / 6.0],
            [1.0 / 6.0, 1.0 / 6.0, 2.0 / 3.0],
        ];
        PLACES.into_iter().any(differs)
    }

    /// Whether the zero line stands off the straight way through a triangle by more than half the tolerance.
    fn is_bent(&self, t: &Triangle) -> bool {
        let mut ends = [[0.0; 3]; 2];
        let mut found = 0;
        for k in 0..3 {
            let (a, b) = (t.v[k], t.v[(k + 1) % 3]);
            let (a, b) = (a.min(b), a.max(b));
            if found < 2 && self.values[a as usize] * self.values[b as usize] < 0.0 {
                let share = self.root(t.facet, a, b);
                let (p, q) = (self.points[a as usize], self.points[b as usize]);
                ends[found] = [0, 1, 2].map(|i| p[i] + share * (q[i] - p[i]));
                found += 1;
            }
        }
        // In the middle alone a corner of the line near one end would not show.
        let is_off = |share: f64| {
            let p = [0, 1, 2].map(|i| ends[0][i] + share * (ends[1][i] - ends[0][i]));
            self.value(t.facet, p).abs() > 0.5 * self.cutting.tolerance_mm
        };
        found == 2 && [0.5, 0.25, 0.75].into_iter().any(is_off)
    }

    /// Halves edges until no triangle on the line is coarser than the field's detail.
    pub(super) fn refine(&mut self) {
        let mut stuck: FxHashSet<u32> = FxHashSet::default();
        let mut waiting: Vec<u32> = (0..self.triangles.len() as u32).rev().collect();
        while let Some(triangle) = waiting.pop() {
            if self.triangles.len() > MOST_TRIANGLES || !self.goes_on() {
                return;
            }
            if stuck.contains(&triangle) || !self.is_coarse(triangle) {
                continue;
            }
            // Along the path of longest edges to one that is the longest on both sides.
            let mut at = triangle;
            let split = loop {
                let k = self.longest(at);
                self.load_across(at, k);
                let edge = self.edge(&self.triangles[at as usize], k);
                let sides = self.edges[&edge];
                let other = if sides[0] == at { sides[1] } else { sides[0] };
                if other == NONE {
                    break edge;
                }
                let k = self.longest(other);
                if self.edge(&self.triangles[other as usize], k) == edge {
                    break edge;
                }
                at = other;
            };
            let first = self.triangles.len() as u32;
            let sides = self.edges[&split];
            if self.split(split, 0.5, LEAST_ALTITUDE_MM) {
                waiting.push(triangle);
                waiting.extend(sides.into_iter().filter(|s| *s != NONE && *s != triangle));
                waiting.extend(first..self.triangles.len() as u32);
            } else {
                stuck.insert(triangle);
            }
        }
    }
}
