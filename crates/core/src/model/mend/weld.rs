//! Joining corners along cracks.

use super::Work;
use crate::geometry::{dot, sub};
use std::collections::HashMap;

impl Work {
    /// Joins corners of open edges that lie within `reach_mm` of each other. Corners of closed surface stay, however
    /// near: they are detail, not cracks. Facets that collapse by it are taken out.
    pub(super) fn weld_cracks(&mut self, reach_mm: f64) {
        let topology = self.topology();
        let mut on_crack = vec![false; self.vertices.len()];
        for (facet, side) in &topology.open {
            let f = self.facets[*facet as usize];
            on_crack[f[*side as usize] as usize] = true;
            on_crack[f[(*side as usize + 1) % 3] as usize] = true;
        }
        let cell = |p: [f64; 3]| p.map(|c| (c / reach_mm).floor() as i64);
        let mut grid: HashMap<[i64; 3], Vec<u32>> = HashMap::new();
        let mut onto: Vec<u32> = (0..self.vertices.len() as u32).collect();
        for v in (0..self.vertices.len()).filter(|v| on_crack[*v]) {
            let p = self.vertices[v];
            let home = cell(p);
            let mut nearest: Option<(f64, u32)> = None;
            for n in 0..27i64 {
                let near = [
                    home[0] + n % 3 - 1,
                    home[1] + n / 3 % 3 - 1,
                    home[2] + n / 9 - 1,
                ];
                for other in grid.get(&near).into_iter().flatten() {
                    let between = sub(self.vertices[*other as usize], p);
                    let d2 = dot(between, between);
                    if d2 <= reach_mm * reach_mm && nearest.is_none_or(|(best, _)| d2 < best) {
                        nearest = Some((d2, *other));
                    }
                }
            }
            match nearest {
                Some((_, other)) => {
                    onto[v] = other;
                    self.report.welded += 1;
                }
                None => grid.entry(home).or_default().push(v as u32),
            }
        }
        if self.report.welded == 0 {
            return;
        }
        for facet in &mut self.facets {
            *facet = facet.map(|v| onto[v as usize]);
        }
        let facets = self.facets.clone();
        self.retain(|f| !is_collapsed(&facets[f]));
    }
}

/// Whether two corners are one.
pub(super) fn is_collapsed(f: &[u32; 3]) -> bool {
    f[0] == f[1] || f[1] == f[2] || f[2] == f[0]
}
