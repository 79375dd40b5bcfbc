//! Everything within a distance of a path.

use crate::carve::{Field, TOLERANCE_MM, Values};
use crate::geometry::closest_point;
use crate::mesh::{FacetTree, Mesh, dot, length, sub};

/// Distance from a path or from loose pieces of line, less a radius.
pub struct PathField {
    tree: FacetTree,
    radius_mm: f64,
    detail_mm: f64,
}

impl PathField {
    /// Around a path through some points; one point alone makes a ball.
    pub fn along(path: &[[f64; 3]], radius_mm: f64) -> PathField {
        let last = path.len() as u32 - 1;
        let pieces = (0..last.max(1)).map(|i| [i, (i + 1).min(last), (i + 1).min(last)]);
        Self::around(path.to_vec(), pieces.collect(), radius_mm)
    }

    /// Around pieces of line, each from one point to another.
    pub fn beside(lines: &[[[f64; 3]; 2]], radius_mm: f64) -> PathField {
        let pieces = (0..lines.len() as u32).map(|i| [2 * i, 2 * i + 1, 2 * i + 1]);
        let points = lines.iter().flatten().copied().collect();
        Self::around(points, pieces.collect(), radius_mm)
    }

    /// A line is a facet without width, so that the search for the nearest facet serves.
    fn around(vertices: Vec<[f64; 3]>, facets: Vec<[u32; 3]>, radius_mm: f64) -> PathField {
        let count = facets.len() as u32;
        let tree = FacetTree::build(&Mesh { vertices, facets }, 0..count);
        // An arc of this radius stands off its chord by the tolerance at most: s = √(8 r · h).
        let detail_mm = (8.0 * radius_mm * TOLERANCE_MM).sqrt().min(radius_mm);
        PathField {
            tree,
            radius_mm,
            detail_mm,
        }
    }

    /// The piece of line nearest to a point, by number.
    pub fn nearest_line(&self, p: [f64; 3]) -> u32 {
        self.tree.nearest(p, f64::INFINITY).map_or(0, |n| n.facet)
    }

    /// Whether the straight way between two points passes through the inside.
    pub(super) fn meets(&self, a: [f64; 3], b: [f64; 3]) -> bool {
        let span = length(sub(b, a));
        let middle = [0, 1, 2].map(|i| 0.5 * (a[i] + b[i]));
        let value = self.at(middle);
        if value < 0.0 {
            return true;
        }
        if value > 0.5 * span || span < 0.25 * self.detail_mm {
            return false;
        }
        self.meets(a, middle) || self.meets(middle, b)
    }
}

impl Field for PathField {
    fn at(&self, p: [f64; 3]) -> f64 {
        let nearest = self.tree.nearest(p, f64::INFINITY);
        nearest.map_or(f64::INFINITY, |n| n.distance2.sqrt()) - self.radius_mm
    }

    fn detail_mm(&self, _p: [f64; 3], _reach: f64) -> f64 {
        self.detail_mm
    }

    fn around(&self, p: [f64; 3], reach: f64) -> Option<Values> {
        // Near a large facet there may be a whole border.
        const MOST_MM: f64 = 2.0;
        const MOST_LINES: usize = 48;
        const HAIR_MM: f64 = 1e-3;
        if reach > MOST_MM {
            return None;
        }
        let nearest = self.tree.nearest(p, f64::INFINITY)?;
        let far = nearest.distance2.sqrt() + 2.0 * reach + HAIR_MM;
        let lines = self.tree.corners_within(p, far);
        let radius_mm = self.radius_mm;
        (lines.len() <= MOST_LINES).then(|| -> Values {
            Box::new(move |p| {
                let distance2 = |line: &[[f64; 3]; 3]| {
                    let d = sub(p, closest_point(p, line));
                    dot(d, d)
                };
                let nearest = lines.iter().map(distance2).fold(f64::INFINITY, f64::min);
                nearest.sqrt() - radius_mm
            })
        })
    }

    /// The zero line is made of arcs of the radius, or flatter ones: between places d apart one of them bulges by d² ÷ 2 r at
    /// most, half the tolerance.
    fn smooth_mm(&self) -> f64 {
        const FURTHEST: f64 = 0.17;
        (TOLERANCE_MM * self.radius_mm).sqrt() / FURTHEST
    }
}

/// Facets that come within a distance of a path through some points, ascending.
pub(super) fn facets_along(tree: &FacetTree, path: &[[f64; 3]], radius_mm: f64) -> Vec<u32> {
    // Balls around places a radius apart, half a radius larger, hold everything between them.
    let mut found = Vec::new();
    let mut look = |p: [f64; 3]| found.extend(tree.within(p, 1.5 * radius_mm));
    let mut since = f64::INFINITY;
    for (i, p) in path.iter().enumerate() {
        if i > 0 {
            let from = path[i - 1];
            let span = length(sub(*p, from));
            let mut done = 0.0;
            while since + (span - done) >= radius_mm && since.is_finite() {
                done += radius_mm - since;
                since = 0.0;
                let t = if span > 0.0 {
                    (done / span).min(1.0)
                } else {
                    1.0
                };
                look([0, 1, 2].map(|k| from[k] + t * (p[k] - from[k])));
                if done >= span {
                    break;
                }
            }
            since += (span - done).max(0.0);
        }
        if i == 0 || i == path.len() - 1 {
            look(*p);
            since = 0.0;
        }
    }
    found.sort_unstable();
    found.dedup();
    found
}
