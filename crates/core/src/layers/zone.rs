//! The zone of space for which a facet, an edge or a corner can be the nearest: over a facet a prism, over an edge the wedge
//! between the prisms of its facets, over a corner the cone that is left between the wedges.
//!
//! # Source
//! Mauch, "Efficient Algorithms for Solving Static Hamilton-Jacobi Equations", 2003, chapter on the closest point transform
//! (from memory).

use super::body::Body;
use crate::geometry::{cross, dot, facet_normal, middle, normalised, sub};
use crate::mesh::NO_FACET;

/// By how much zones are larger than need be, as a share of the reach. So facets that are as near as the nearest but for
/// rounding are looked at as well, and edges and corners that are nearly flat need no zones of their own.
pub(super) const MARGIN: f64 = 0.04;

/// Where a feature can be nearest: a box cut by half-spaces, in the body's frame, and the facets it belongs to.
#[derive(Default)]
pub(super) struct Zone {
    /// Half-spaces `x ≤ d - a y - b z`, as `[a, b, d]`.
    pub(super) upper: Vec<[f64; 3]>,
    /// Half-spaces `x ≥ d - a y - b z`.
    pub(super) lower: Vec<[f64; 3]>,
    /// Half-spaces `0 ≤ d - a y - b z`.
    pub(super) along: Vec<[f64; 3]>,
    pub(super) low: [f64; 3],
    pub(super) high: [f64; 3],
    /// Of a prism: its direction, and the box around its facet.
    pub(super) prism: Option<Prism>,
    pub(super) facets: Vec<Offered>,
}

/// A facet that may be the nearest.
pub(super) struct Offered {
    pub(super) facet: u32,
    pub(super) corners: [[f64; 3]; 3],
    /// Unit normal, and how far along it the plane lies; all zero for a facet without area.
    pub(super) normal: [f64; 3],
    pub(super) offset: f64,
}

/// What a prism stands on, and where it goes.
#[derive(Clone, Copy)]
pub(super) struct Prism {
    normal: [f64; 3],
    low: [f64; 3],
    high: [f64; 3],
}

impl Prism {
    /// Lowest and highest y at a height, at most; none for a prism that goes nearly level.
    pub(super) fn span_at(&self, z: f64) -> Option<[f64; 2]> {
        const LEVEL: f64 = 0.05;
        let [_, ny, nz] = self.normal;
        if nz.abs() < LEVEL {
            return None;
        }
        // How far along the normal it is from any place of the facet to this height, times the way in y.
        let along = [self.low[2], self.high[2]].map(|from| (z - from) / nz * ny);
        let (least, most) = if along[0] < along[1] {
            (along[0], along[1])
        } else {
            (along[1], along[0])
        };
        Some([self.low[1] + least, self.high[1] + most])
    }
}

impl Zone {
    /// Empties it, to be used again.
    pub(super) fn clear(&mut self) {
        self.upper.clear();
        self.lower.clear();
        self.along.clear();
        self.facets.clear();
        self.prism = None;
        self.low = [f64::INFINITY; 3];
        self.high = [f64::NEG_INFINITY; 3];
    }

    /// The prism over a facet, to both sides; false if it has no area, and so is nearest along its edges only.
    pub(super) fn prism(&mut self, body: &Body, facet: u32, reach: f64) -> bool {
        let corners = body.open.mesh.corners(facet);
        let Some(normal) = facet_normal(&corners) else {
            return false;
        };
        let margin = MARGIN * reach;
        for side in 0..3 {
            let (from, to) = (corners[side], corners[(side + 1) % 3]);
            if let Some(out) = normalised(cross(sub(to, from), normal)) {
                self.below(out, from, margin);
            }
        }
        self.below(normal, corners[0], reach + margin);
        self.below(normal.map(|n| -n), corners[0], reach + margin);
        for c in corners {
            self.surrounds(c, margin);
        }
        self.prism = Some(Prism {
            normal,
            low: self.low,
            high: self.high,
        });
        for c in corners {
            for sign in [-1.0, 1.0] {
                self.reaches(c, normal, sign * reach, margin);
            }
        }
        self.offer(facet, corners, normal);
        true
    }

    /// The wedge of an edge; false if it has no length.
    pub(super) fn wedge(&mut self, body: &Body, facet: u32, side: u8, reach: f64) -> bool {
        let (from, to) = edge(body, facet, side);
        let Some(along) = normalised(sub(to, from)) else {
            return false;
        };
        let margin = MARGIN * reach;
        self.below(along, to, margin);
        self.below(along.map(|c| -c), from, margin);
        let beyond = beyond(body, facet, side);
        let inward: Vec<[f64; 3]> = [Some(facet), beyond]
            .into_iter()
            .flatten()
            .filter_map(|f| inward(body, f, from, along))
            .collect();
        for into in &inward {
            self.below(*into, from, margin);
        }
        // Between the directions straight off either facet, which point away from the other. Not of facets that are folded upon
        // one another: there the directions cannot be told.
        let spread = match inward[..] {
            [a, b] if dot(a, b) < 0.5 => {
                let off = |own: [f64; 3], other: [f64; 3]| {
                    let n = cross(along, own);
                    if dot(n, other) > 0.0 {
                        n.map(|c| -c)
                    } else {
                        n
                    }
                };
                let (a, b) = (off(a, b), off(b, a));
                // The arc between the two lies within the tips of vectors so much longer.
                let half = (0.5 * (1.0 + dot(a, b))).sqrt();
                Some((a, b, reach / half))
            }
            _ => None,
        };
        for end in [from, to] {
            match spread {
                Some((a, b, long)) => {
                    self.surrounds(end, margin);
                    self.reaches(end, a, long, margin);
                    self.reaches(end, b, long, margin);
                }
                None => self.surrounds(end, reach + margin),
            }
        }
        for facet in [Some(facet), beyond].into_iter().flatten() {
            self.offer_of(body, facet);
        }
        true
    }

    /// The cone of a vertex, given the facets around it.
    pub(super) fn cone(&mut self, body: &Body, vertex: u32, around: &[u32], reach: f64) {
        let mesh = &body.open.mesh;
        let tip = mesh.vertices[vertex as usize];
        let margin = MARGIN * reach;
        for facet in around {
            // A facet with two equal corners is around its vertex twice.
            if self.facets.last().is_some_and(|o| o.facet == *facet) {
                continue;
            }
            self.offer_of(body, *facet);
            // Each edge is met from two facets; once is enough, and one that is left out only widens the cone.
            let ids = mesh.facets[*facet as usize];
            let next = (0..3)
                .find(|i| ids[*i] == vertex)
                .map_or(0, |i| (i + 1) % 3);
            if let Some(out) = normalised(sub(mesh.vertices[ids[next] as usize], tip)) {
                self.below(out, tip, margin);
            }
        }
        self.surrounds(tip, reach + margin);
    }

    fn offer_of(&mut self, body: &Body, facet: u32) {
        let corners = body.open.mesh.corners(facet);
        self.offer(facet, corners, facet_normal(&corners).unwrap_or([0.0; 3]));
    }

    fn offer(&mut self, facet: u32, corners: [[f64; 3]; 3], normal: [f64; 3]) {
        self.facets.push(Offered {
            facet,
            corners,
            normal,
            offset: dot(normal, corners[0]),
        });
    }

    /// Cuts off what is further along a direction than a point and a distance more.
    fn below(&mut self, [x, y, z]: [f64; 3], point: [f64; 3], more: f64) {
        let d = dot([x, y, z], point) + more;
        if x == 0.0 {
            self.along.push([y, z, d]);
        } else {
            let sides = if x > 0.0 {
                &mut self.upper
            } else {
                &mut self.lower
            };
            sides.push([y / x, z / x, d / x]);
        }
    }

    /// Widens the box to a point some way off, and a margin around it.
    fn reaches(&mut self, from: [f64; 3], direction: [f64; 3], by: f64, margin: f64) {
        self.surrounds([0, 1, 2].map(|i| from[i] + by * direction[i]), margin);
    }

    fn surrounds(&mut self, point: [f64; 3], by: f64) {
        for (i, p) in point.into_iter().enumerate() {
            self.low[i] = self.low[i].min(p - by);
            self.high[i] = self.high[i].max(p + by);
        }
    }
}

/// The ends of a facet's edge.
pub(super) fn edge(body: &Body, facet: u32, side: u8) -> ([f64; 3], [f64; 3]) {
    let corners = body.open.mesh.corners(facet);
    (corners[side as usize], corners[(side as usize + 1) % 3])
}

/// The facet of the body's surface beyond an edge; none where the surface ends, at a hole or at a cut.
pub(super) fn beyond(body: &Body, facet: u32, side: u8) -> Option<u32> {
    let other = body.open.topology.across[facet as usize][side as usize];
    let is_surface = other != NO_FACET
        && body.open.part_of[other as usize] == body.part
        && !body.open.is_inner(other);
    is_surface.then_some(other)
}

/// The direction in a facet's plane straight in from one of its edges; none if it has no area.
fn inward(body: &Body, facet: u32, on_edge: [f64; 3], along: [f64; 3]) -> Option<[f64; 3]> {
    let corners = body.open.mesh.corners(facet);
    let into = normalised(cross(facet_normal(&corners)?, along))?;
    let is_out = dot(into, sub(middle(&corners), on_edge)) < 0.0;
    Some(if is_out { into.map(|c| -c) } else { into })
}
