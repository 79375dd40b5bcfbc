//! Patches with limits: by region, by the turn from where the click was, or across touching parts.

use crate::carve::{NO_PIECE, Pieces};
use crate::mesh::{dot, facet_normal};
use crate::model::{Creases, OpenMesh};
use serde::{Deserialize, Serialize};
use std::collections::HashMap;

/// How far a patch may go.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Within {
    /// Over the surface of one part.
    #[default]
    Part,
    /// Over surface that belongs to the same region now.
    Region,
    /// On over parts that touch along an edge.
    Everywhere,
}

/// What a patch is kept inside of, besides the crease angle.
pub struct Limits<'a> {
    /// The surface in pieces.
    pub pieces: &'a Pieces<'a>,
    /// Region number of a piece, if the patch stays in one.
    pub region_of: Option<&'a dyn Fn(u32) -> u16>,
    /// Furthest turn from the first facet, degrees, if there is a limit.
    pub turn_deg: Option<f64>,
    /// Whether the patch goes on over parts that touch along an edge.
    pub crosses_parts: bool,
}

impl Creases {
    /// The pieces of the patch around a piece, ascending.
    pub fn flood_within(
        &self,
        open: &OpenMesh,
        seed: u32,
        crease_deg: f64,
        limits: &Limits<'_>,
    ) -> Vec<u32> {
        let pieces = limits.pieces;
        let limit = Self::limit(crease_deg);
        let normal_of = |piece: u32| facet_normal(&open.mesh.corners(pieces.facet(piece)));
        let from = normal_of(seed);
        let least = limits.turn_deg.map(|deg| deg.to_radians().cos() - 1e-9);
        let region = limits.region_of.map(|of| of(seed));
        let may = |piece: u32| {
            let turns = match (least, from, normal_of(piece)) {
                (Some(least), Some(a), Some(b)) => dot(a, b) >= least,
                _ => true,
            };
            turns && limits.region_of.map(|of| of(piece)) == region
        };
        let touching = if limits.crosses_parts {
            touching_facets(open)
        } else {
            HashMap::new()
        };
        let mut seen = vec![false; pieces.end() as usize];
        seen[seed as usize] = true;
        let mut patch = vec![seed];
        let mut next = 0;
        while let Some(&piece) = patch.get(next) {
            next += 1;
            let facet = pieces.facet(piece);
            let mut go = |other: u32, patch: &mut Vec<u32>| {
                if !seen[other as usize] && may(other) {
                    seen[other as usize] = true;
                    patch.push(other);
                }
            };
            for other in pieces.across(piece) {
                if other == NO_PIECE {
                    continue;
                }
                let theirs = pieces.facet(other);
                let side = open.topology.across[facet as usize]
                    .iter()
                    .position(|f| *f == theirs);
                let joins =
                    theirs == facet || side.is_some_and(|side| self.cosine(facet, side) >= limit);
                if joins {
                    go(other, &mut patch);
                }
            }
            if let Some(others) = touching.get(&facet) {
                for other in others {
                    let turn = match (normal_of(piece), facet_normal(&open.mesh.corners(*other))) {
                        (Some(a), Some(b)) => dot(a, b),
                        _ => -1.0,
                    };
                    // A divided facet is entered through its first triangle; it goes on from there.
                    let entry = if pieces.is_piece(*other) {
                        *other
                    } else {
                        let c = open.mesh.corners(*other);
                        pieces.at(*other, c[0])
                    };
                    if turn as f32 >= limit {
                        go(entry, &mut patch);
                    }
                }
            }
        }
        patch.sort_unstable();
        patch
    }
}

/// For each facet at an edge that more than two facets share: the others there. Corners at the same place count as the
/// same, whatever part they are of. Linear.
fn touching_facets(open: &OpenMesh) -> HashMap<u32, Vec<u32>> {
    let place = |p: [f64; 3]| p.map(|c| (c + 0.0).to_bits());
    let mut at: HashMap<[u64; 3], u32> = HashMap::new();
    let mut shared = vec![0u32; open.mesh.vertices.len()];
    let mut is_shared = vec![false; open.mesh.vertices.len()];
    for (v, p) in open.mesh.vertices.iter().enumerate() {
        let first = *at.entry(place(*p)).or_insert(v as u32);
        shared[v] = first;
        if first != v as u32 {
            is_shared[first as usize] = true;
        }
    }
    for (facet, side) in &open.topology.crowded {
        let f = open.mesh.facets[*facet as usize];
        for v in [f[usize::from(*side)], f[(usize::from(*side) + 1) % 3]] {
            is_shared[shared[v as usize] as usize] = true;
        }
    }
    let mut edges: HashMap<(u32, u32), Vec<u32>> = HashMap::new();
    for (facet, f) in open.mesh.facets.iter().enumerate() {
        for k in 0..3 {
            let (a, b) = (shared[f[k] as usize], shared[f[(k + 1) % 3] as usize]);
            if is_shared[a as usize] && is_shared[b as usize] {
                edges
                    .entry((a.min(b), a.max(b)))
                    .or_default()
                    .push(facet as u32);
            }
        }
    }
    let mut touching: HashMap<u32, Vec<u32>> = HashMap::new();
    for facets in edges.into_values().filter(|f| f.len() > 2) {
        for f in &facets {
            let others = facets.iter().filter(|o| *o != f);
            touching.entry(*f).or_default().extend(others);
        }
    }
    for others in touching.values_mut() {
        others.sort_unstable();
        others.dedup();
    }
    touching
}
