//! A square of cells seen from the flat facet that is nearest to its middle.

use crate::geometry::{across_normal, cross, dot, facet_normal, normalised, sub};

/// A hair, mm: what is nearer to an edge or a plane counts as on it.
const HAIR_MM: f64 = 1e-6;
const FLAT_MM: f64 = 1e-9;

/// A square of which every place has its foot on one facet. From there nothing else in the facet's plane is nearer than the foot.
///
/// Coarse boxes need it: in each layer along a border that runs level around them, all places are as good as equally far from
/// both colours, and would be asked one by one.
pub(super) struct OnFace {
    normal: [f64; 3],
    offset: f64,
    axes: [[f64; 3]; 2],
    /// Feet of the square's corners, in the plane.
    feet: [[f64; 2]; 4],
}

impl OnFace {
    /// None if the foot of a corner lies beside the facet.
    pub(super) fn of(square: [[f64; 3]; 4], facet: &[[f64; 3]; 3]) -> Option<OnFace> {
        let normal = facet_normal(facet)?;
        for (side, from) in facet.iter().enumerate() {
            let inward = normalised(cross(normal, sub(facet[(side + 1) % 3], *from)))?;
            if square.iter().any(|p| dot(inward, sub(*p, *from)) < HAIR_MM) {
                return None;
            }
        }
        let axes = across_normal(normal)?;
        Some(OnFace {
            normal,
            offset: dot(normal, facet[0]),
            axes,
            feet: square.map(|p| axes.map(|axis| dot(axis, p))),
        })
    }

    /// Whether a triangle lies in the plane, but where no foot of the square is.
    pub(super) fn misses(&self, triangle: &[[f64; 3]; 3]) -> bool {
        let is_flat = |p: &[f64; 3]| (dot(self.normal, *p) - self.offset).abs() < FLAT_MM;
        triangle.iter().all(is_flat)
            && apart(
                &self.feet,
                &triangle.map(|p| self.axes.map(|axis| dot(axis, p))),
            )
    }
}

/// Whether a line parts two convex shapes: one along a side of either does, if any.
fn apart(a: &[[f64; 2]], b: &[[f64; 2]]) -> bool {
    let sides = |shape: &[[f64; 2]]| -> Vec<[f64; 2]> {
        let next = shape.iter().cycle().skip(1);
        let ways = shape
            .iter()
            .zip(next)
            .map(|(p, q)| [q[0] - p[0], q[1] - p[1]]);
        ways.collect()
    };
    sides(a).into_iter().chain(sides(b)).any(|[x, y]| {
        let length = x.hypot(y);
        if length < HAIR_MM {
            return false;
        }
        let span = |shape: &[[f64; 2]]| {
            let along = shape.iter().map(|p| (x * p[1] - y * p[0]) / length);
            along.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), d| {
                (low.min(d), high.max(d))
            })
        };
        let ((a_low, a_high), (b_low, b_high)) = (span(a), span(b));
        a_high + HAIR_MM < b_low || b_high + HAIR_MM < a_low
    })
}
