//! Which facet lies across each edge, and which edges are open or shared by more than two facets.
//!
//! Edges are gathered by their lower vertex (a counting sort) and matched within that vertex's short list, so the
//! cost is linear. Where more than two facets meet at an edge they are paired around it so that each pair bounds
//! one wedge of solid: two shells that touch along an edge, or share a face, stay apart.

use super::Mesh;
use crate::geometry::{cross, dot, normalised, sub};
use rayon::prelude::*;
use std::collections::{HashMap, HashSet};
use std::sync::atomic::{AtomicU32, Ordering};

/// Stands for "no facet here" in [`Topology::across`].
pub const NO_FACET: u32 = u32::MAX;

/// Adjacency of a mesh.
#[derive(Debug, Clone, PartialEq)]
pub struct Topology {
    /// For each facet, the facet across its edges 0→1, 1→2, 2→0, or [`NO_FACET`].
    pub across: Vec<[u32; 3]>,
    /// Edges (facet, side) with no facet across: holes and borders.
    pub open: Vec<(u32, u8)>,
    /// Edges with more than two facets, one entry each: the lowest (facet, side) on it.
    pub crowded: Vec<(u32, u8)>,
    /// Edges whose two facets run the same way: one of them is turned over.
    pub flipped: Vec<(u32, u8)>,
    /// Facets that repeat the three vertices of an earlier facet, each with an earlier one, ascending.
    pub duplicates: Vec<(u32, u32)>,
    /// Facets with two equal vertices; they have no neighbours.
    pub collapsed: Vec<u32>,
}

/// One side of a facet: `half = 3 * facet + side`.
#[derive(Clone, Copy, Default)]
struct Side {
    high: u32,
    half: u32,
}

/// Facets over vertices, borrowed.
struct Surface<'a> {
    vertices: &'a [[f64; 3]],
    facets: &'a [[u32; 3]],
}

#[derive(Default)]
struct Found {
    open: Vec<(u32, u8)>,
    crowded: Vec<(u32, u8)>,
    flipped: Vec<(u32, u8)>,
    duplicates: Vec<(u32, u32)>,
}

impl Topology {
    /// The adjacency of a mesh. Linear in facets; the lists are sorted.
    pub fn build(mesh: &Mesh) -> Topology {
        Self::of(&mesh.vertices, &mesh.facets)
    }

    /// The adjacency of facets over some vertices; see [`Topology::build`].
    pub(crate) fn of(vertices: &[[f64; 3]], facets: &[[u32; 3]]) -> Topology {
        let mesh = Surface { vertices, facets };
        let mesh = &mesh;
        let is_collapsed = |f: &[u32; 3]| f[0] == f[1] || f[1] == f[2] || f[2] == f[0];
        let mut starts = vec![0u32; mesh.vertices.len() + 1];
        let mut collapsed = Vec::new();
        for (index, f) in facets.iter().enumerate() {
            if is_collapsed(f) {
                collapsed.push(index as u32);
                continue;
            }
            for side in 0..3 {
                starts[f[side].min(f[(side + 1) % 3]) as usize + 1] += 1;
            }
        }
        for v in 1..starts.len() {
            starts[v] += starts[v - 1];
        }
        let mut fill = starts.clone();
        let mut sides = vec![Side::default(); *starts.last().unwrap_or(&0) as usize];
        for (index, f) in facets.iter().enumerate() {
            if is_collapsed(f) {
                continue;
            }
            for side in 0..3 {
                let (a, b) = (f[side], f[(side + 1) % 3]);
                let at = &mut fill[a.min(b) as usize];
                sides[*at as usize] = Side {
                    high: a.max(b),
                    half: (3 * index + side) as u32,
                };
                *at += 1;
            }
        }
        drop(fill);
        let across: Vec<AtomicU32> = (0..3 * facets.len())
            .map(|_| AtomicU32::new(NO_FACET))
            .collect();
        const CHUNK: usize = 1 << 14;
        let vertex_count = mesh.vertices.len();
        let chunks: Vec<Found> = (0..vertex_count.div_ceil(CHUNK))
            .into_par_iter()
            .map(|chunk| {
                let mut found = Found::default();
                let mut bucket: Vec<Side> = Vec::new();
                for low in chunk * CHUNK..((chunk + 1) * CHUNK).min(vertex_count) {
                    let range = starts[low] as usize..starts[low + 1] as usize;
                    bucket.clear();
                    bucket.extend_from_slice(&sides[range]);
                    bucket.sort_unstable_by_key(|s| (s.high, s.half));
                    for group in bucket.chunk_by(|a, b| a.high == b.high) {
                        match_edge(mesh, low as u32, group, &across, &mut found);
                    }
                }
                found
            })
            .collect();
        let mut all = Found::default();
        for found in chunks {
            all.open.extend(found.open);
            all.crowded.extend(found.crowded);
            all.flipped.extend(found.flipped);
            all.duplicates.extend(found.duplicates);
        }
        all.open.sort_unstable();
        all.crowded.sort_unstable();
        all.flipped.sort_unstable();
        all.duplicates.sort_unstable();
        all.duplicates.dedup_by_key(|d| d.0);
        let across = across
            .chunks_exact(3)
            .map(|c| [0, 1, 2].map(|i: usize| c[i].load(Ordering::Relaxed)))
            .collect();
        Topology {
            across,
            open: all.open,
            crowded: all.crowded,
            flipped: all.flipped,
            duplicates: all.duplicates,
            collapsed,
        }
    }
}

fn split(half: u32) -> (u32, u8) {
    (half / 3, (half % 3) as u8)
}

/// Whether the side runs from the lower to the higher vertex.
fn runs_up(mesh: &Surface<'_>, side: Side) -> bool {
    mesh.facets[side.half as usize / 3][side.half as usize % 3] != side.high
}

fn apex(mesh: &Surface<'_>, side: Side) -> u32 {
    mesh.facets[side.half as usize / 3][(side.half as usize % 3 + 2) % 3]
}

fn match_edge(
    mesh: &Surface<'_>,
    low: u32,
    group: &[Side],
    across: &[AtomicU32],
    found: &mut Found,
) {
    let join = |a: Side, b: Side| {
        across[a.half as usize].store(b.half / 3, Ordering::Relaxed);
        across[b.half as usize].store(a.half / 3, Ordering::Relaxed);
    };
    // Sides come in the order of their facets; of those with one apex the first is repeated by the others.
    const FEW: usize = 16;
    if group.len() <= FEW {
        for (i, side) in group.iter().enumerate() {
            let mut before = group[..i].iter();
            if let Some(same) = before.find(|s| apex(mesh, **s) == apex(mesh, *side)) {
                found.duplicates.push((side.half / 3, same.half / 3));
            }
        }
    } else {
        let mut first: HashMap<u32, u32> = HashMap::with_capacity(group.len());
        for side in group {
            let same = *first.entry(apex(mesh, *side)).or_insert(side.half);
            if same != side.half {
                found.duplicates.push((side.half / 3, same / 3));
            }
        }
    }
    match *group {
        [one] => found.open.push(split(one.half)),
        [a, b] => {
            join(a, b);
            if runs_up(mesh, a) == runs_up(mesh, b) {
                found.flipped.push(split(a.half));
            }
        }
        _ => {
            found.crowded.push(split(group[0].half));
            pair_around(mesh, low, group, join, found);
        }
    }
}

/// Pairs the facets around a crowded edge. Seen along the edge from its lower vertex, a wedge of solid begins at a
/// facet that runs down and ends, turning with growing angle, at one that runs up. Smallest wedges are paired first;
/// two facets at the same angle enclose a full turn, not nothing.
fn pair_around(
    mesh: &Surface<'_>,
    low: u32,
    group: &[Side],
    join: impl Fn(Side, Side),
    found: &mut Found,
) {
    let at = |v: u32| mesh.vertices[v as usize];
    let axis = normalised(sub(at(group[0].high), at(low))).unwrap_or([0.0, 0.0, 1.0]);
    let spoke = |s: Side| {
        let v = sub(at(apex(mesh, s)), at(low));
        let along = dot(v, axis);
        [0, 1, 2].map(|i| v[i] - along * axis[i])
    };
    let x = normalised(spoke(group[0])).unwrap_or([1.0, 0.0, 0.0]);
    let y = cross(axis, x);
    let angle = |s: Side| {
        let v = spoke(s);
        dot(v, y).atan2(dot(v, x))
    };
    const SAME_ANGLE: f64 = 1e-7;
    let turn = |from: f64, to: f64| {
        let t = (to - from).rem_euclid(std::f64::consts::TAU);
        if !(SAME_ANGLE..=std::f64::consts::TAU - SAME_ANGLE).contains(&t) {
            std::f64::consts::TAU
        } else {
            t
        }
    };
    let ups: Vec<Side> = group
        .iter()
        .copied()
        .filter(|s| runs_up(mesh, *s))
        .collect();
    let downs: Vec<Side> = group
        .iter()
        .copied()
        .filter(|s| !runs_up(mesh, *s))
        .collect();
    // All pairs are compared, so an edge where hundreds of facets meet is paired in file order instead.
    const MOST_COMPARED: usize = 128;
    let comparable = group.len() <= MOST_COMPARED;
    let mut wedges: Vec<(f64, Side, Side)> = Vec::new();
    for (i, up) in ups.iter().enumerate() {
        let partners = if comparable {
            &downs[..]
        } else {
            downs.get(i..=i).unwrap_or(&[])
        };
        for down in partners {
            let wedge = if comparable {
                turn(angle(*down), angle(*up))
            } else {
                0.0
            };
            wedges.push((wedge, *up, *down));
        }
    }
    wedges.sort_by(|a, b| {
        a.0.total_cmp(&b.0)
            .then(a.1.half.cmp(&b.1.half))
            .then(a.2.half.cmp(&b.2.half))
    });
    let mut paired: HashSet<u32> = HashSet::with_capacity(group.len());
    for (_, up, down) in wedges {
        if !paired.contains(&up.half) && !paired.contains(&down.half) {
            join(up, down);
            paired.extend([up.half, down.half]);
        }
    }
    let left = ups
        .iter()
        .chain(&downs)
        .filter(|s| !paired.contains(&s.half));
    found.open.extend(left.map(|s| split(s.half)));
}
