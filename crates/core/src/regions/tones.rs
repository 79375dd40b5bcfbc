//! Shade and light as a painter sets them: what lies deep, what looks up, what stands out, each a value at every vertex; and the lines
//! along which such values pass a level.

use crate::carve::{Node, shares_at};
use crate::geometry::{cross, dot, length, normalised, sub};
use crate::mesh::FacetTree;
use crate::model::OpenMesh;
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// What surface a tone takes first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Tone {
    /// Recesses: what sees little of the sky around it.
    Shade,
    /// What looks up.
    Light,
    /// Edges that stand out.
    Edges,
}

/// Directions in which the sky is looked for.
const SIGHTS: usize = 48;

/// Rounds in which values are evened out over neighbours.
const ROUNDS: usize = 2;

/// How much a tone takes to each vertex: 0 nothing, 1 all.
///
/// `reach_mm`: how far off what hides the sky may be, and how wide an edge is.
///
/// # Cost
/// For shade, 48 searches a vertex; else linear. On all threads. Asked for the same again, nothing.
pub fn tone_values(
    open: &OpenMesh,
    tone: Tone,
    reach_mm: f64,
    go_on: &dyn Fn() -> bool,
) -> Option<Arc<Vec<f64>>> {
    let make = || {
        let normals = vertex_normals(open);
        Some(match tone {
            Tone::Shade => {
                let sky = sky(open, &normals, reach_mm, go_on)?;
                sky.into_iter().map(|s| 1.0 - s).collect()
            }
            Tone::Light => normals.iter().map(|n| 0.5 * (1.0 + n[2])).collect(),
            Tone::Edges => standing_out(open, &normals, reach_mm),
        })
    };
    open.values((tone as u8, reach_mm.to_bits()), make)
}

/// Of each vertex the mean direction of its facets, by area.
fn vertex_normals(open: &OpenMesh) -> Vec<[f64; 3]> {
    let mut sums = vec![[0.0; 3]; open.mesh.vertices.len()];
    for (facet, ids) in open.mesh.facets.iter().enumerate() {
        let [a, b, c] = open.mesh.corners(facet as u32);
        let n = cross(sub(b, a), sub(c, a));
        for v in ids {
            let sum = &mut sums[*v as usize];
            (0..3).for_each(|i| sum[i] += n[i]);
        }
    }
    let unit = |s: [f64; 3]| normalised(s).unwrap_or([0.0, 0.0, 1.0]);
    sums.into_par_iter().map(unit).collect()
}

/// The share of the sky that each vertex sees, weighed by the cosine to its normal: 1 where nothing within reach is in the way.
///
/// # Source
/// Directions by Malley's method (points spread evenly over a disc, lifted onto the hemisphere), from memory.
pub fn sky(
    open: &OpenMesh,
    normals: &[[f64; 3]],
    reach_mm: f64,
    go_on: &dyn Fn() -> bool,
) -> Option<Vec<f64>> {
    // A sunflower of points on the disc: even, and the same for all, so that the values change as smoothly as the surface.
    let golden = std::f64::consts::PI * (3.0 - 5f64.sqrt());
    let sights: Vec<[f64; 3]> = (0..SIGHTS)
        .map(|k| {
            let r2 = (k as f64 + 0.5) / SIGHTS as f64;
            let (sin, cos) = (golden * k as f64).sin_cos();
            [r2.sqrt() * cos, r2.sqrt() * sin, (1.0 - r2).sqrt()]
        })
        .collect();
    let size = length(open.bounds().size());
    let far = if reach_mm > 0.0 { reach_mm } else { 2.0 * size };
    let off = 1e-5 * size.max(1.0);
    let tree: &FacetTree = open.tree();
    let seen = |at: usize| {
        let (p, n) = (open.mesh.vertices[at], normals[at]);
        let [x, y] = frame(n);
        let from = [0, 1, 2].map(|i| p[i] + off * n[i]);
        let is_open = |s: &&[f64; 3]| {
            let to = [0, 1, 2].map(|i| from[i] + far * (s[0] * x[i] + s[1] * y[i] + s[2] * n[i]));
            !tree.stands_between(from, to, u32::MAX)
        };
        sights.iter().filter(is_open).count() as f64 / SIGHTS as f64
    };
    const CHUNK: usize = 1 << 13;
    let count = open.mesh.vertices.len();
    let mut all = Vec::with_capacity(count);
    while all.len() < count {
        if !go_on() {
            return None;
        }
        let chunk = all.len()..count.min(all.len() + CHUNK);
        let found: Vec<f64> = chunk.into_par_iter().map(seen).collect();
        all.extend(found);
    }
    Some(evened(open, all))
}

/// Two directions across a normal that turn with it as smoothly as can be (Duff and others, "Building an orthonormal basis, revisited",
/// JCGT 6(1), 2017, from memory).
fn frame([x, y, z]: [f64; 3]) -> [[f64; 3]; 2] {
    let sign = if z < 0.0 { -1.0 } else { 1.0 };
    let a = -1.0 / (sign + z);
    let b = x * y * a;
    [
        [1.0 + sign * x * x * a, sign * b, -sign * x],
        [b, sign + y * y * a, -y],
    ]
}

/// How much the surface bends outward at each vertex within a width: 0.5 where it is flat, 1 at a sharp edge.
fn standing_out(open: &OpenMesh, normals: &[[f64; 3]], width_mm: f64) -> Vec<f64> {
    let mut sums = vec![(0.0, 0.0); normals.len()];
    for ids in &open.mesh.facets {
        for k in 0..3 {
            let (a, b) = (ids[k] as usize, ids[(k + 1) % 3] as usize);
            let way = sub(open.mesh.vertices[b], open.mesh.vertices[a]);
            let long = length(way);
            if long <= 0.0 {
                continue;
            }
            // Normals that part on the way are those of a bulge: a turn for each mm.
            let turn = dot(sub(normals[b], normals[a]), way) / (long * long);
            for v in [a, b] {
                sums[v].0 += long * turn;
                sums[v].1 += long;
            }
        }
    }
    let width = width_mm.max(1e-3);
    let value = |(sum, weight): (f64, f64)| {
        let bend = if weight > 0.0 { sum / weight } else { 0.0 };
        0.5 + 0.5 * (bend * width).clamp(-1.0, 1.0)
    };
    evened(open, sums.into_iter().map(value).collect())
}

/// Values drawn halfway to the mean of their neighbours, a few times.
fn evened(open: &OpenMesh, mut values: Vec<f64>) -> Vec<f64> {
    for _ in 0..ROUNDS {
        let mut sums = vec![(0.0, 0u32); values.len()];
        for ids in &open.mesh.facets {
            for k in 0..3 {
                let (a, b) = (ids[k] as usize, ids[(k + 1) % 3] as usize);
                sums[a].0 += values[b];
                sums[a].1 += 1;
                sums[b].0 += values[a];
                sums[b].1 += 1;
            }
        }
        for (value, (sum, count)) in values.iter_mut().zip(sums) {
            if count > 0 {
                *value = 0.5 * (*value + sum / f64::from(count));
            }
        }
    }
    values
}

/// The line on a facet along which values at the vertices pass a level, straight from edge to edge.
pub(crate) fn level_line(
    open: &OpenMesh,
    values: &[f64],
    level: f64,
    facet: u32,
) -> Vec<[Node; 2]> {
    let ids = open.mesh.facets[facet as usize];
    let mut ends = (0..3).filter_map(|k| {
        let (a, b) = (ids[k], ids[(k + 1) % 3]);
        let (low, high) = (a.min(b), a.max(b));
        let [from, to] = [low, high].map(|v| values[v as usize] - level);
        ((from > 0.0) != (to > 0.0)).then(|| Node::Edge {
            low,
            high,
            t: from / (from - to),
        })
    });
    match (ends.next(), ends.next()) {
        (Some(a), Some(b)) => vec![[a, b]],
        _ => Vec::new(),
    }
}

/// The value at a place on a facet, straight between its corners.
pub(crate) fn value_at(open: &OpenMesh, values: &[f64], facet: u32, p: [f64; 3]) -> f64 {
    let of = open.mesh.facets[facet as usize].map(|v| values[v as usize]);
    let [u, v] = shares_at(p, &open.mesh.corners(facet));
    of[0] + u * (of[1] - of[0]) + v * (of[2] - of[0])
}
