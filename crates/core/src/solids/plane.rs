//! Cutting a body in two by a plane.

use super::cap::lid;
use super::solid::{Face, Solid};
use crate::geometry::{dot, facet_normal};
use std::collections::HashMap;

/// A plane: the points p with `normal · p = offset`; above it is where the normal points.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Plane {
    /// Unit normal.
    pub normal: [f64; 3],
    /// Distance from the origin along the normal, mm.
    pub offset: f64,
}

impl Plane {
    /// Signed distance of a point, mm; above is positive.
    pub fn height(&self, p: [f64; 3]) -> f64 {
        dot(self.normal, p) - self.offset
    }
}

/// The two bodies of a cut, the one above first.
pub struct Halves {
    /// What lies above, the lid that closes it last.
    pub above: Solid,
    /// What lies below, likewise.
    pub below: Solid,
    /// Facets of each lid.
    pub lid: usize,
}

/// Why a body cannot be cut by a plane.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
pub enum CutError {
    /// It lies wholly on one side.
    #[error("the plane misses the part")]
    Misses,
    /// The outline at the plane crosses itself.
    #[error("the outline at the plane crosses itself")]
    Crossed,
}

/// Cuts a closed body. Both halves are closed, the lids are the same facets turned over, and pieces of facets are what
/// those were; lids are inner faces. A vertex exactly in the plane counts as above.
///
/// # Errors
/// [`CutError`] if the plane misses it or its outline there crosses itself.
///
/// # Cost
/// Linear, plus n log n in the edges cut.
pub fn cut_by_plane(solid: &Solid, plane: &Plane) -> Result<Halves, CutError> {
    // Vertices nearer than this are taken to lie in the plane, so that no sliver is cut off.
    const NEAR_MM: f64 = 1e-7;
    let heights: Vec<f64> = solid
        .mesh
        .vertices
        .iter()
        .map(|p| {
            Some(plane.height(*p))
                .filter(|h| h.abs() > NEAR_MM)
                .unwrap_or(0.0)
        })
        .collect();
    let is_above = |v: u32| heights[v as usize] >= 0.0;
    let top = heights.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    if top <= 0.0 || heights.iter().all(|h| *h >= 0.0) {
        return Err(CutError::Misses);
    }
    let mut vertices = solid.mesh.vertices.clone();
    let mut on_edges: HashMap<(u32, u32), u32> = HashMap::new();
    let mut between = |a: u32, b: u32| {
        // A vertex in the plane is the crossing itself.
        for v in [a, b] {
            if heights[v as usize] == 0.0 {
                return v;
            }
        }
        let (low, high) = (a.min(b), a.max(b));
        *on_edges.entry((low, high)).or_insert_with(|| {
            let (p, q) = (
                solid.mesh.vertices[low as usize],
                solid.mesh.vertices[high as usize],
            );
            let (h, k) = (heights[low as usize], heights[high as usize]);
            let t = h / (h - k);
            vertices.push([0, 1, 2].map(|i| p[i] + t * (q[i] - p[i])));
            vertices.len() as u32 - 1
        })
    };
    let (mut above, mut below) = (Vec::new(), Vec::new());
    for (facet, (ids, face)) in solid.mesh.facets.iter().zip(&solid.faces).enumerate() {
        let ups = ids.map(is_above);
        let count = ups.iter().filter(|u| **u).count();
        if count == 3 {
            // A facet in the plane closes the half that lies behind it.
            let is_flat = ids.iter().all(|v| heights[*v as usize] == 0.0);
            let faces_up =
                || facet_normal(&solid.corners(facet)).is_some_and(|n| dot(n, plane.normal) > 0.0);
            if is_flat && faces_up() {
                below.push((*ids, *face));
            } else {
                above.push((*ids, *face));
            }
            continue;
        }
        if count == 0 {
            below.push((*ids, *face));
            continue;
        }
        let alone = (0..3).find(|i| ups[*i] == (count == 1)).unwrap_or(0);
        let [a, b, c] = [0, 1, 2].map(|i| ids[(alone + i) % 3]);
        let (ab, ac) = (between(a, b), between(a, c));
        let is_whole = |f: &[u32; 3]| f[0] != f[1] && f[1] != f[2] && f[2] != f[0];
        let tip = [[a, ab, ac]].into_iter().filter(is_whole);
        let rest = [[ab, b, c], [ab, c, ac]].into_iter().filter(is_whole);
        let (tip, rest) = (tip.map(|f| (f, *face)), rest.map(|f| (f, *face)));
        if count == 1 {
            above.extend(tip);
            below.extend(rest);
        } else {
            below.extend(tip);
            above.extend(rest);
        }
    }
    // Edges in the plane that the pieces below leave open, as they run them.
    let is_cut = |v: u32| heights.get(v as usize).is_none_or(|h| *h == 0.0);
    let mut seam: HashMap<(u32, u32), i32> = HashMap::new();
    for (ids, _) in &below {
        for side in 0..3 {
            let (a, b) = (ids[side], ids[(side + 1) % 3]);
            if is_cut(a) && is_cut(b) {
                *seam.entry((a.min(b), a.max(b))).or_default() += if a < b { 1 } else { -1 };
            }
        }
    }
    let mut edges: Vec<(u32, u32)> = Vec::new();
    for ((a, b), times) in seam {
        // The lid below runs each edge the other way.
        let edge = if times > 0 { (b, a) } else { (a, b) };
        edges.extend(std::iter::repeat_n(edge, times.unsigned_abs() as usize));
    }
    edges.sort_unstable();
    let lid = lid(&vertices, &edges, plane.normal).ok_or(CutError::Crossed)?;
    below.extend(lid.iter().map(|f| (*f, Face::CUT)));
    above.extend(lid.iter().map(|[a, b, c]| ([*a, *c, *b], Face::CUT)));
    if above.is_empty() || below.is_empty() {
        return Err(CutError::Misses);
    }
    Ok(Halves {
        above: Solid::gathered(&vertices, above.into_iter()),
        below: Solid::gathered(&vertices, below.into_iter()),
        lid: lid.len(),
    })
}
