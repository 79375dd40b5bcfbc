//! Lasso: what lies inside an outline drawn on the screen.

use crate::carve::{Field, TOLERANCE_MM};
use crate::mesh::{FacetTree, Mesh, cross, dot, facet_normal, normalised, sub};
use crate::model::{OpenMesh, spots};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};

/// From where and how the bench is looked at.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Sight {
    /// Where the eye is, mm.
    pub eye: [f64; 3],
    /// Which way is right on the screen.
    pub right: [f64; 3],
    /// Which way is up on the screen.
    pub up: [f64; 3],
}

/// An outline as seen: a cone of space from the eye.
pub struct LassoField {
    eye: [f64; 3],
    /// Right, up and forward.
    axes: [[f64; 3]; 3],
    outline: Vec<[f64; 2]>,
    tree: FacetTree,
    /// Edges of the outline by strips of the height, for telling inside from outside.
    strips: Vec<Vec<u32>>,
    low: [f64; 2],
    high: [f64; 2],
}

/// Why an outline cannot be used.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
pub enum LassoError {
    /// Fewer than three points, or all on one line.
    #[error("the outline encloses nothing")]
    Empty,
    /// Two edges cross.
    #[error("the outline crosses itself")]
    CrossesItself,
    /// The directions do not make a view.
    #[error("the view cannot be used")]
    View,
}

const STRIPS: usize = 64;

impl LassoField {
    /// The inside of an outline.
    ///
    /// `outline`: its corners as seen from the eye: how far to the right and up for each mm forward; not repeated at
    /// the end, either way round.
    ///
    /// # Errors
    /// [`LassoError`], if the outline encloses nothing or crosses itself, or the view is none.
    pub fn new(sight: &Sight, outline: &[[f64; 2]]) -> Result<LassoField, LassoError> {
        let right = normalised(sight.right).ok_or(LassoError::View)?;
        let forward = normalised(cross(sight.up, right)).ok_or(LassoError::View)?;
        let up = cross(right, forward);
        let mut outline = outline.to_vec();
        outline.dedup();
        if outline.len() > 1 && outline.first() == outline.last() {
            outline.pop();
        }
        let n = outline.len();
        let area: f64 = (0..n)
            .map(|i| {
                let (a, b) = (outline[i], outline[(i + 1) % n]);
                0.5 * (a[0] * b[1] - a[1] * b[0])
            })
            .sum();
        if n < 3 {
            return Err(LassoError::Empty);
        }
        if crosses_itself(&outline) {
            return Err(LassoError::CrossesItself);
        }
        if area.abs() < 1e-9 {
            return Err(LassoError::Empty);
        }
        let mut low = [f64::INFINITY; 2];
        let mut high = [f64::NEG_INFINITY; 2];
        for p in &outline {
            for i in 0..2 {
                low[i] = low[i].min(p[i]);
                high[i] = high[i].max(p[i]);
            }
        }
        let strip = |y: f64| strip_of(y, low[1], high[1]);
        let mut strips = vec![Vec::new(); STRIPS];
        for i in 0..n {
            let (a, b) = (outline[i][1], outline[(i + 1) % n][1]);
            for s in strip(a.min(b))..=strip(a.max(b)) {
                strips[s].push(i as u32);
            }
        }
        let flat = Mesh {
            vertices: outline.iter().map(|p| [p[0], p[1], 0.0]).collect(),
            facets: (0..n as u32)
                .map(|i| {
                    let next = (i + 1) % n as u32;
                    [i, next, next]
                })
                .collect(),
        };
        let tree = FacetTree::build(&flat, 0..n as u32);
        Ok(LassoField {
            eye: sight.eye,
            axes: [right, up, forward],
            outline,
            tree,
            strips,
            low,
            high,
        })
    }

    /// Where a point is seen, and how far forward.
    fn seen(&self, p: [f64; 3]) -> ([f64; 2], f64) {
        let d = sub(p, self.eye);
        let [x, y, depth] = self.axes.map(|a| dot(a, d));
        const NEAR: f64 = 1e-6;
        let depth = depth.max(NEAR);
        ([x / depth, y / depth], depth)
    }

    fn holds(&self, [x, y]: [f64; 2]) -> bool {
        if x < self.low[0] || x > self.high[0] || y < self.low[1] || y > self.high[1] {
            return false;
        }
        let n = self.outline.len();
        let strip = &self.strips[strip_of(y, self.low[1], self.high[1])];
        let crossed = strip.iter().filter(|i| {
            let (a, b) = (
                self.outline[**i as usize],
                self.outline[(**i as usize + 1) % n],
            );
            (a[1] > y) != (b[1] > y) && x < a[0] + (y - a[1]) / (b[1] - a[1]) * (b[0] - a[0])
        });
        crossed.count() % 2 == 1
    }

    /// Facets of a mesh that may reach into the outline, ascending; only those that can be seen from the eye, unless
    /// it goes right through. Linear, and a search for each facet in the outline.
    pub(crate) fn facets(&self, open: &OpenMesh, goes_through: bool) -> Vec<u32> {
        let seen: Vec<[f64; 2]> = open
            .mesh
            .vertices
            .par_iter()
            .map(|p| self.seen(*p).0)
            .collect();
        let reaches = |f: &u32| {
            let c = open.mesh.facets[*f as usize].map(|v| seen[v as usize]);
            (0..2).all(|i| {
                let low = c[0][i].min(c[1][i]).min(c[2][i]);
                let high = c[0][i].max(c[1][i]).max(c[2][i]);
                low <= self.high[i] && high >= self.low[i]
            })
        };
        let count = open.mesh.facets.len() as u32;
        let reaching: Vec<u32> = (0..count).into_par_iter().filter(reaches).collect();
        if goes_through {
            return reaching;
        }
        reaching
            .into_par_iter()
            .filter(|f| self.is_seen(open, *f))
            .collect()
    }

    /// Whether a facet faces the eye and some place on it is not hidden behind another.
    fn is_seen(&self, open: &OpenMesh, facet: u32) -> bool {
        let corners = open.mesh.corners(facet);
        if facet_normal(&corners).is_some_and(|n| dot(n, sub(self.eye, corners[0])) <= 0.0) {
            return false;
        }
        let is_seen = |p: [f64; 3]| !open.tree().stands_between(p, self.eye, facet);
        spots(&corners).into_iter().any(is_seen)
    }
}

fn strip_of(y: f64, low: f64, high: f64) -> usize {
    let share = (y - low) / (high - low).max(1e-300);
    ((share * STRIPS as f64).max(0.0) as usize).min(STRIPS - 1)
}

/// Whether two edges of a closed outline cross or touch, apart from neighbours at their common corner.
fn crosses_itself(outline: &[[f64; 2]]) -> bool {
    let n = outline.len();
    let turn = |a: [f64; 2], b: [f64; 2], c: [f64; 2]| {
        (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
    };
    (0..n).any(|i| {
        let (a, b) = (outline[i], outline[(i + 1) % n]);
        (i + 2..n).any(|j| {
            if i == 0 && j == n - 1 {
                return false;
            }
            let (c, d) = (outline[j], outline[(j + 1) % n]);
            (turn(a, b, c) > 0.0) != (turn(a, b, d) > 0.0)
                && (turn(c, d, a) > 0.0) != (turn(c, d, b) > 0.0)
        })
    })
}

impl Field for LassoField {
    fn at(&self, p: [f64; 3]) -> f64 {
        let (q, depth) = self.seen(p);
        let nearest = self.tree.nearest([q[0], q[1], 0.0], f64::INFINITY);
        let distance = nearest.map_or(f64::INFINITY, |n| n.distance2.sqrt()) * depth;
        // Moving forward changes what lies how far to the side as well: a little less is safe.
        const SAFE: f64 = 0.8;
        if self.holds(q) {
            -SAFE * distance
        } else {
            SAFE * distance
        }
    }

    /// Straight edges need no detail; around corners it is finer the more the outline turns there.
    fn detail_mm(&self, p: [f64; 3], reach: f64) -> f64 {
        let (q, depth) = self.seen(p);
        let radius = 2.0 * reach / depth;
        let n = self.outline.len();
        let mut bend = 0.0;
        for i in 0..n {
            let c = self.outline[i];
            if (c[0] - q[0]).abs() > radius || (c[1] - q[1]).abs() > radius {
                continue;
            }
            let (a, b) = (self.outline[(i + n - 1) % n], self.outline[(i + 1) % n]);
            let (u, v) = ([c[0] - a[0], c[1] - a[1]], [b[0] - c[0], b[1] - c[1]]);
            let across = (u[0] * v[1] - u[1] * v[0]).abs();
            let along = u[0] * v[0] + u[1] * v[1];
            bend += (0.5 * across.atan2(along)).tan().min(10.0);
        }
        let finest = TOLERANCE_MM;
        if bend < 1e-3 {
            f64::INFINITY
        } else {
            (2.0 * TOLERANCE_MM / bend).max(finest)
        }
    }
}
