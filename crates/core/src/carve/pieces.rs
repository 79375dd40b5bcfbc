//! The surface in pieces of one label each: whole facets, and the triangles of divided ones.

use super::divided::Spot;
use super::labels::{Label, Labels};
use crate::mesh::{NO_FACET, Topology, dot, sub};
use crate::model::OpenMesh;
use std::collections::HashMap;

/// Stands for "no piece here".
pub const NO_PIECE: u32 = u32::MAX;

/// A view of a model's surface in pieces. Numbers below the count of facets are whole facets; those from there on are
/// triangles of divided facets, in ascending order of the facets. The number of a divided facet itself is no piece.
pub struct Pieces<'a> {
    open: &'a OpenMesh,
    labels: &'a Labels,
    /// Facet and triangle of each piece beyond the whole facets.
    triangles: Vec<(u32, u32)>,
    /// What lies across the edges of those.
    across: Vec<[u32; 3]>,
    /// The piece on the other side of an edge of a whole facet, where that side is divided: by facet and side.
    beside: HashMap<(u32, u8), u32>,
}

impl<'a> Pieces<'a> {
    /// Looks over a model. Costs what is divided, not what the mesh has.
    pub fn of(open: &'a OpenMesh, labels: &'a Labels) -> Pieces<'a> {
        let first = open.mesh.facets.len() as u32;
        let mut triangles = Vec::new();
        let mut across: Vec<[u32; 3]> = Vec::new();
        let mut beside = HashMap::new();
        // Ends of an edge on a side of the mesh: the share as bits, or a corner.
        let mut open_ends: HashMap<(u32, u32, [u64; 2]), (u32, usize)> = HashMap::new();
        for (facet, divided) in labels.divisions() {
            let ids = open.mesh.facets[facet as usize];
            let base = triangles.len() as u32;
            let mut inner: HashMap<(u32, u32), (u32, usize)> = HashMap::new();
            for (t, spots) in divided.triangles.iter().enumerate() {
                let piece = first + base + t as u32;
                triangles.push((facet, t as u32));
                across.push([NO_PIECE; 3]);
                for k in 0..3 {
                    let (a, b) = (spots[k], spots[(k + 1) % 3]);
                    let key = (a.min(b), a.max(b));
                    let Some((other, side)) = inner.remove(&key) else {
                        inner.insert(key, (piece, k));
                        continue;
                    };
                    across[(piece - first) as usize][k] = other;
                    across[(other - first) as usize][side] = piece;
                }
            }
            // What is left lies on the facet's own edges.
            let mut rim: Vec<_> = inner.into_iter().collect();
            rim.sort_unstable();
            for ((a, b), (piece, k)) in rim {
                let ends = [a, b].map(|s| divided.spots[s as usize]);
                let Some(side) = side_of(ends) else { continue };
                let other = open.topology.across[facet as usize][side];
                if other == NO_FACET {
                    continue;
                }
                if labels.whole(other).is_some() {
                    across[(piece - first) as usize][k] = other;
                    if let Some(back) = Self::side_towards(&open.topology, other, facet) {
                        beside.insert((other, back), piece);
                    }
                    continue;
                }
                let low = ids[side].min(ids[(side + 1) % 3]);
                let mut bits = ends.map(|s| share_from(s, &ids, low).to_bits());
                bits.sort_unstable();
                let key = (facet.min(other), facet.max(other), bits);
                if let Some((twin, twin_k)) = open_ends.remove(&key) {
                    across[(piece - first) as usize][k] = twin;
                    across[(twin - first) as usize][twin_k] = piece;
                } else {
                    open_ends.insert(key, (piece, k));
                }
            }
        }
        Pieces {
            open,
            labels,
            triangles,
            across,
            beside,
        }
    }

    fn side_towards(topology: &Topology, facet: u32, other: u32) -> Option<u8> {
        let across = topology.across[facet as usize];
        across.iter().position(|f| *f == other).map(|k| k as u8)
    }

    /// All numbers below this are pieces or divided facets.
    pub fn end(&self) -> u32 {
        (self.open.mesh.facets.len() + self.triangles.len()) as u32
    }

    /// Whether a number is a piece.
    pub fn is_piece(&self, piece: u32) -> bool {
        piece as usize >= self.open.mesh.facets.len() || self.labels.whole(piece).is_some()
    }

    /// The facet a piece is of.
    pub fn facet(&self, piece: u32) -> u32 {
        match piece.checked_sub(self.open.mesh.facets.len() as u32) {
            Some(index) => self.triangles[index as usize].0,
            None => piece,
        }
    }

    /// The triangle of its facet a piece is, if the facet is divided.
    pub fn triangle(&self, piece: u32) -> Option<u32> {
        let index = piece.checked_sub(self.open.mesh.facets.len() as u32)?;
        Some(self.triangles[index as usize].1)
    }

    /// The label of a piece.
    pub fn label(&self, piece: u32) -> Label {
        match piece.checked_sub(self.open.mesh.facets.len() as u32) {
            Some(index) => {
                let (facet, t) = self.triangles[index as usize];
                let divided = self.labels.division(facet);
                divided.and_then(|d| d.labels[t as usize])
            }
            None => self.labels.whole(piece).flatten(),
        }
    }

    /// The corners of a piece, mm.
    pub fn corners(&self, piece: u32) -> [[f64; 3]; 3] {
        match piece.checked_sub(self.open.mesh.facets.len() as u32) {
            Some(index) => {
                let (facet, t) = self.triangles[index as usize];
                let corners = self.open.mesh.corners(facet);
                let divided = self.labels.division(facet);
                divided.map_or(corners, |d| d.corners(t as usize, &corners))
            }
            None => self.open.mesh.corners(piece),
        }
    }

    /// The pieces across the edges 0→1, 1→2, 2→0, or [`NO_PIECE`].
    pub fn across(&self, piece: u32) -> [u32; 3] {
        if let Some(index) = piece.checked_sub(self.open.mesh.facets.len() as u32) {
            return self.across[index as usize];
        }
        let across = self.open.topology.across[piece as usize];
        [0u8, 1, 2].map(|k| {
            let other = across[usize::from(k)];
            if other == NO_FACET {
                NO_PIECE
            } else if self.labels.whole(other).is_some() {
                other
            } else {
                self.beside.get(&(piece, k)).copied().unwrap_or(NO_PIECE)
            }
        })
    }

    /// The first piece of a divided facet; the others follow.
    pub fn first_of(&self, facet: u32) -> u32 {
        let first = self.triangles.partition_point(|(f, _)| *f < facet);
        (self.open.mesh.facets.len() + first) as u32
    }

    /// The piece at a place on a facet.
    pub fn at(&self, facet: u32, point: [f64; 3]) -> u32 {
        let Some(divided) = self.labels.division(facet) else {
            return facet;
        };
        let shares = shares_at(point, &self.open.mesh.corners(facet));
        self.first_of(facet) + divided.triangle_at(shares) as u32
    }
}

/// Which side of its facet an edge lies on, by its two ends.
fn side_of(ends: [Spot; 2]) -> Option<usize> {
    let sides = ends.map(|s| match s {
        Spot::Corner(k) => 1u8 << k | 1 << ((k + 2) % 3),
        Spot::Edge { from, to, .. } => {
            let k = if (from + 1) % 3 == to { from } else { to };
            1 << k
        }
        Spot::Inside(_) => 0,
    });
    let shared = sides[0] & sides[1];
    (shared != 0).then(|| shared.trailing_zeros() as usize)
}

/// Share of the way along a mesh edge from its lower vertex.
fn share_from(spot: Spot, ids: &[u32; 3], low: u32) -> f64 {
    match spot {
        Spot::Corner(k) => f64::from(u8::from(ids[usize::from(k)] != low)),
        Spot::Edge { from, t, .. } => {
            if ids[usize::from(from)] == low {
                t
            } else {
                1.0 - t
            }
        }
        Spot::Inside(_) => 0.0,
    }
}

/// Shares of a triangle's edges from corner 0 to corners 1 and 2, for a point on it.
pub(crate) fn shares_at(p: [f64; 3], corners: &[[f64; 3]; 3]) -> [f64; 2] {
    let [a, b, c] = *corners;
    let (e1, e2, d) = (sub(b, a), sub(c, a), sub(p, a));
    let (d11, d12, d22) = (dot(e1, e1), dot(e1, e2), dot(e2, e2));
    let (d1, d2) = (dot(d, e1), dot(d, e2));
    let det = d11 * d22 - d12 * d12;
    if det <= 0.0 {
        return [0.0, 0.0];
    }
    [(d22 * d1 - d12 * d2) / det, (d11 * d2 - d12 * d1) / det]
}
