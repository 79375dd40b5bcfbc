//! Facets that pass through one another.

use crate::geometry::{Bounds, dot, facet_area, facet_normal, length, sub};
use crate::mesh::{FacetTree, Mesh};
use rayon::prelude::*;
use robust::{Coord3D, orient3d};

fn side(of: &[[f64; 3]; 3], p: [f64; 3]) -> f64 {
    let at = |[x, y, z]: [f64; 3]| Coord3D { x, y, z };
    orient3d(at(of[0]), at(of[1]), at(of[2]), at(p))
}

/// Whether a segment passes through the inside of a triangle. Touching does not count.
fn pierces(p: [f64; 3], q: [f64; 3], t: &[[f64; 3]; 3]) -> bool {
    if side(t, p) * side(t, q) >= 0.0 {
        return false;
    }
    let around = [0, 1, 2].map(|i| side(&[p, q, t[i]], t[(i + 1) % 3]));
    around.iter().all(|s| *s > 0.0) || around.iter().all(|s| *s < 0.0)
}

/// Whether two triangles pass through one another, decided exactly. Touching does not count.
pub(super) fn cross_each_other(a: &[[f64; 3]; 3], b: &[[f64; 3]; 3]) -> bool {
    let one =
        |a: &[[f64; 3]; 3], b: &[[f64; 3]; 3]| (0..3).any(|i| pierces(a[i], a[(i + 1) % 3], b));
    one(a, b) || one(b, a)
}

/// A facet of those asked about that passes through another facet of the mesh with no vertex or only one in common:
/// the lowest such pair; none if there is none.
///
/// # Cost
/// n log n for surfaces that keep to themselves.
pub(super) fn first_crossing(mesh: &Mesh, asked: &[u32]) -> Option<(u32, u32)> {
    let tree = FacetTree::build(mesh, 0..mesh.facets.len() as u32);
    asked
        .par_iter()
        .filter_map(|facet| {
            let ids = mesh.facets[*facet as usize];
            let corners = mesh.corners(*facet);
            let mut first: Option<u32> = None;
            tree.each_overlapping(&Bounds::of(corners.into_iter()), |other, across| {
                let shared = mesh.facets[other as usize]
                    .iter()
                    .filter(|v| ids.contains(v))
                    .count();
                if shared < 2
                    && first.is_none_or(|f| other < f)
                    && cross_each_other(&corners, across)
                {
                    first = Some(other);
                }
            });
            first.map(|other| (*facet, other))
        })
        .min()
}

/// Whether a facet has turned over on its way. Slivers do not count: rounding turns them, and what is left of them is
/// thinner than any line.
pub(super) fn is_turned(before: &[[f64; 3]; 3], after: &[[f64; 3]; 3]) -> bool {
    const SLIVER_MM: f64 = 0.02;
    let longest = (0..3)
        .map(|i| length(sub(before[(i + 1) % 3], before[i])))
        .fold(0.0, f64::max);
    if 2.0 * facet_area(before) < SLIVER_MM * longest {
        return false;
    }
    match (facet_normal(before), facet_normal(after)) {
        (Some(n), Some(m)) => dot(n, m) <= 0.0,
        _ => true,
    }
}
