//! Facets of a tree that a ray crosses, and by them whether a point lies inside.

use super::bvh::{Boxes, FacetTree};
use crate::geometry::{cross, dot, sub};

/// Three directions without a simple ratio, so that no ray runs along an edge of a machine-made part.
pub(super) const RAYS: [[f64; 3]; 3] = [
    [0.577_013, 0.211_327, 0.788_911],
    [-0.360_127, 0.871_303, 0.333_517],
    [0.219_701, -0.493_217, -0.841_741],
];

/// A point of a triangle on none of its symmetry lines, from which rays start.
pub fn inner_point([a, b, c]: &[[f64; 3]; 3]) -> [f64; 3] {
    [0, 1, 2].map(|i| 0.31 * a[i] + 0.27 * b[i] + 0.42 * c[i])
}

impl FacetTree {
    /// Every facet crossed by a ray, with how many times the direction away, nearest first.
    pub fn hits(&self, from: [f64; 3], direction: [f64; 3]) -> Vec<(f64, u32)> {
        let mut hits = Vec::new();
        self.each_hit(from, direction, |t, facet| hits.push((t, facet)));
        hits.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
        hits
    }

    /// Looks at every facet crossed by a ray, with how many times the direction away, in no order.
    pub(crate) fn each_hit(
        &self,
        from: [f64; 3],
        direction: [f64; 3],
        mut look: impl FnMut(f64, u32),
    ) {
        let inverse = direction.map(|d| 1.0 / d);
        self.visit(
            |boxes| boxes_met(boxes, from, inverse, f64::INFINITY),
            |slot| {
                if let Some(t) = ray_crossing(from, direction, &self.corners[slot]) {
                    look(t, self.order[slot]);
                }
            },
        );
    }

    /// Whether a point off the surface lies inside the body of the facets that count, by three rays of which two must
    /// agree.
    pub fn is_inside(&self, p: [f64; 3], counts: impl Fn(u32) -> bool) -> bool {
        self.rays_inside(p, counts) >= 2
    }

    /// How many of three rays from a point say that it is inside.
    pub(crate) fn rays_inside(&self, p: [f64; 3], counts: impl Fn(u32) -> bool) -> usize {
        let odd = |d: &&[f64; 3]| {
            let mut crossed = 0;
            self.each_hit(p, **d, |_, f| crossed += usize::from(counts(f)));
            crossed % 2 == 1
        };
        RAYS.iter().filter(odd).count()
    }

    /// Whether some facet other than `skip` stands between two points.
    pub fn stands_between(&self, from: [f64; 3], to: [f64; 3], skip: u32) -> bool {
        let direction = sub(to, from);
        // A hair short of both ends, so that what touches them does not count.
        const NEAR: f64 = 1e-6;
        let inverse = direction.map(|d| 1.0 / d);
        let mut stack = vec![0usize];
        while let Some(node) = stack.pop() {
            let Some(boxes) = self.nodes.get(node) else {
                let is_hit = |slot: usize| {
                    self.order[slot] != skip
                        && ray_crossing(from, direction, &self.corners[slot])
                            .is_some_and(|t| t > NEAR && t < 1.0 - NEAR)
                };
                if self.slots(node).any(is_hit) {
                    return true;
                }
                continue;
            };
            let met = boxes_met(boxes, from, inverse, 1.0);
            stack.extend((0..4).filter(|c| met[*c]).map(|c| 4 * node + 1 + c));
        }
        false
    }
}

/// Which of four boxes a ray meets before `end` times its direction, given the inverse of that.
fn boxes_met(boxes: &Boxes, from: [f64; 3], inverse: [f64; 3], end: f64) -> [bool; 4] {
    [0, 1, 2, 3].map(|i| {
        let (mut near, mut far) = (0.0f64, end);
        for axis in 0..3 {
            let t = [boxes[axis][i], boxes[3 + axis][i]]
                .map(|c| (f64::from(c) - from[axis]) * inverse[axis]);
            near = near.max(t[0].min(t[1]));
            far = far.min(t[0].max(t[1]));
        }
        near <= far
    })
}

/// How many times its direction a ray goes to the plane of a triangle it crosses.
///
/// # Source
/// Möller and Trumbore, "Fast, Minimum Storage Ray/Triangle Intersection", 1997.
fn ray_crossing(from: [f64; 3], direction: [f64; 3], corners: &[[f64; 3]; 3]) -> Option<f64> {
    let (e1, e2) = (sub(corners[1], corners[0]), sub(corners[2], corners[0]));
    let h = cross(direction, e2);
    let det = dot(e1, h);
    if det == 0.0 {
        return None;
    }
    let s = sub(from, corners[0]);
    let u = dot(s, h) / det;
    let q = cross(s, e1);
    let v = dot(direction, q) / det;
    let t = dot(e2, q) / det;
    (u >= 0.0 && v >= 0.0 && u + v <= 1.0 && t > 0.0).then_some(t)
}
