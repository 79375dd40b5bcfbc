//! Facets that pass through one another.

use crate::geometry::{Bounds, dot, facet_area, facet_normal, length, sub};
use crate::mesh::{FacetTree, Mesh};
use rayon::prelude::*;
use robust::{Coord3D, orient3d};

fn side(of: &[[f64; 3]; 3], p: [f64; 3]) -> f64 {
    let at = |[x, y, z]: [f64; 3]| Coord3D { x, y, z };
    orient3d(at(of[0]), at(of[1]), at(of[2]), at(p))
}

/// A facet with its vertices.
type Facet = ([u32; 3], [[f64; 3]; 3]);

/// On which sides of a facet's plane the corners of another lie; those they share count as in the plane.
fn sides_of((ids, corners): &Facet, other: &Facet) -> [f64; 3] {
    [0, 1, 2].map(|i| {
        if ids.contains(&other.0[i]) {
            0.0
        } else {
            side(corners, other.1[i])
        }
    })
}

/// Whether an edge of one facet, given the sides of its ends, passes through another; with `touches`, also whether it
/// comes to lie on it with an end or on its border. An edge in the other's plane does neither, and one that starts at
/// a shared vertex is left out.
fn pierces(edges: &Facet, sides: [f64; 3], other: &Facet, touches: bool) -> bool {
    (0..3).any(|i| {
        let k = (i + 1) % 3;
        let (from, to) = (sides[i], sides[k]);
        let is_through = from * to < 0.0 || (touches && from * to == 0.0 && from != to);
        if !is_through {
            return false;
        }
        let (p, q) = (edges.1[i], edges.1[k]);
        let t = &other.1;
        let around = [0, 1, 2].map(|i| side(&[p, q, t[i]], t[(i + 1) % 3]));
        if touches {
            return around.iter().all(|s| *s >= 0.0) || around.iter().all(|s| *s <= 0.0);
        }
        around.iter().all(|s| *s > 0.0) || around.iter().all(|s| *s < 0.0)
    })
}

/// Whether two facets with no vertex or one in common pass through one another, decided exactly; with `touches`, also
/// whether they meet at a point or an edge without lying in one plane.
fn cross_each_other(a: &Facet, b: &Facet, touches: bool) -> bool {
    let is_beside = |s: &[f64; 3]| {
        let (low, high) = (s[0].min(s[1]).min(s[2]), s[0].max(s[1]).max(s[2]));
        if touches {
            low > 0.0 || high < 0.0
        } else {
            low >= 0.0 || high <= 0.0
        }
    };
    let of_b = sides_of(a, b);
    if is_beside(&of_b) {
        return false;
    }
    let of_a = sides_of(b, a);
    if is_beside(&of_a) {
        return false;
    }
    pierces(b, of_b, a, touches) || pierces(a, of_a, b, touches)
}

/// Whether two triangles cross or come so near to it that only cutting them can tell: neither lies clearly on one side
/// of the other's plane.
pub(super) fn may_cross(a: &[[f64; 3]; 3], b: &[[f64; 3]; 3]) -> bool {
    const CLEAR_MM: f64 = 1e-6;
    let beside = |a: &[[f64; 3]; 3], b: &[[f64; 3]; 3]| {
        facet_normal(a).is_some_and(|n| {
            let heights = b.map(|p| dot(n, sub(p, a[0])));
            heights.iter().all(|h| *h > CLEAR_MM) || heights.iter().all(|h| *h < -CLEAR_MM)
        })
    };
    !beside(a, b) && !beside(b, a)
}

/// Facets of those asked about that pass through another facet of the mesh with no vertex or only one in common, each
/// with the lowest it passes through; in order.
///
/// `trees`: what facets are searched in; left empty, all of the mesh. `touches`: whether facets without a common vertex
/// may not even touch, which what is alike on both sides of a plane does where it crosses.
///
/// # Cost
/// n log n for surfaces that keep to themselves.
pub(super) fn crossings(
    mesh: &Mesh,
    asked: &[u32],
    trees: &[&FacetTree],
    touches: bool,
) -> Vec<(u32, u32)> {
    let whole = trees
        .is_empty()
        .then(|| FacetTree::build(mesh, 0..mesh.facets.len() as u32));
    let trees: Vec<&FacetTree> = whole.iter().chain(trees.iter().copied()).collect();
    asked
        .par_iter()
        .filter_map(|facet| {
            let ids = mesh.facets[*facet as usize];
            let corners = mesh.corners(*facet);
            let bounds = Bounds::of(corners.into_iter());
            let mut first: Option<u32> = None;
            for tree in &trees {
                tree.each_overlapping(&bounds, |other, across| {
                    let of = mesh.facets[other as usize];
                    let shared = of.iter().filter(|v| ids.contains(v)).count();
                    if shared < 2
                        && first.is_none_or(|f| other < f)
                        && cross_each_other(&(ids, corners), &(of, *across), touches && shared == 0)
                    {
                        first = Some(other);
                    }
                });
            }
            first.map(|other| (*facet, other))
        })
        .collect()
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
