//! Where the vertices of the floors go: their places, level by level of depth, and how they keep even.

use super::solid::Solid;
use super::walls::NONE;
use crate::geometry::{dot, sub};

/// The vertices of the floors before they are put anywhere: choices of one depth have theirs in common.
pub(super) struct Laid {
    /// The different depths, mm, ascending.
    pub(super) depths_mm: Vec<f64>,
    /// For each choice, which of the depths is its own.
    pub(super) level_of: Vec<usize>,
    /// Vertices of the body that get a place below, level by level, ascending in each, with the level.
    pub(super) moving: Vec<(u32, usize)>,
    /// For each level and vertex of the body, its place; none for those of no facet that goes so deep.
    pub(super) place: Vec<Vec<u32>>,
    /// From each vertex to its place at full depth, mm.
    pub(super) ways: Vec<[f64; 3]>,
}

impl Laid {
    /// Pairs of places of one vertex, the less deep first.
    pub(super) fn upright(&self) -> Vec<(u32, u32)> {
        let mut pairs = Vec::new();
        for [low, high] in pairs_of(self.depths_mm.len()) {
            for (a, b) in self.place[low].iter().zip(&self.place[high]) {
                if *a != NONE && *b != NONE {
                    pairs.push((*a, *b));
                }
            }
        }
        pairs.sort_unstable();
        pairs.dedup();
        pairs
    }
}

/// All pairs of numbers below a count, the smaller first.
fn pairs_of(count: usize) -> impl Iterator<Item = [usize; 2]> {
    (0..count).flat_map(move |b| (0..b).map(move |a| [a, b]))
}

/// Lets no depth fall off more steeply than the way between two places allows, and no place come above one less deep below
/// the same vertex.
pub(super) fn even_out(
    shares: &mut [f64],
    edges: &[(u32, u32, f64)],
    upright: &[(u32, u32)],
    depth_of: &dyn Fn(u32) -> f64,
) {
    const STEEPEST: f64 = 0.8;
    const PASSES: usize = 6;
    for _ in 0..PASSES {
        for (a, b, apart) in edges {
            let most = STEEPEST * apart / depth_of(*a);
            let (a, b) = (*a as usize, *b as usize);
            shares[a] = shares[a].min(shares[b] + most);
            shares[b] = shares[b].min(shares[a] + most);
        }
        for (low, high) in upright {
            let most = shares[*high as usize] * depth_of(*high) / depth_of(*low);
            shares[*low as usize] = shares[*low as usize].min(most);
        }
    }
}

/// For each vertex of a chosen facet, the one that stands for it; every other has none.
pub(super) fn heads(solid: &Solid, is_chosen: &dyn Fn(usize) -> bool, close_mm: f64) -> Vec<u32> {
    let mut close: Vec<(u32, u32)> = Vec::new();
    let mut heads = vec![NONE; solid.mesh.vertices.len()];
    for (_, ids) in solid
        .mesh
        .facets
        .iter()
        .enumerate()
        .filter(|(f, _)| is_chosen(*f))
    {
        for side in 0..3 {
            let (a, b) = (ids[side], ids[(side + 1) % 3]);
            heads[a as usize] = a;
            let apart = sub(
                solid.mesh.vertices[a as usize],
                solid.mesh.vertices[b as usize],
            );
            if dot(apart, apart) < close_mm * close_mm {
                close.extend([(a, b), (b, a)]);
            }
        }
    }
    close.sort_unstable();
    close.dedup();
    let mut is_taken = vec![false; solid.mesh.vertices.len()];
    for group in close.chunk_by(|a, b| a.0 == b.0) {
        let head = group[0].0;
        if is_taken[head as usize] {
            continue;
        }
        is_taken[head as usize] = true;
        for (_, near) in group {
            // A vertex that others follow follows none itself, so nothing moves further than this.
            if !is_taken[*near as usize] {
                is_taken[*near as usize] = true;
                heads[*near as usize] = head;
            }
        }
    }
    heads
}
