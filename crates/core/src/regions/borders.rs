//! The border of a region, for growing, shrinking and smoothing it.

use super::paths::PathField;
use crate::carve::{NO_PIECE, Pieces};
use crate::mesh::NO_FACET;
use crate::model::OpenMesh;
use std::collections::HashMap;

/// A piece of a region's border.
pub struct BorderLine {
    /// Its two ends, mm.
    pub ends: [[f64; 3]; 2],
    /// The piece of the region at it.
    pub piece: u32,
    /// What lies across.
    pub beyond: u32,
}

/// The border of the pieces that `belongs` names, against the rest. In order of the pieces; linear.
pub fn border_of(pieces: &Pieces<'_>, belongs: &dyn Fn(u32) -> bool) -> Vec<BorderLine> {
    let mut lines = Vec::new();
    for piece in (0..pieces.end()).filter(|p| pieces.is_piece(*p) && belongs(*p)) {
        for (k, other) in pieces.across(piece).into_iter().enumerate() {
            if other != NO_PIECE && !belongs(other) {
                let c = pieces.corners(piece);
                lines.push(BorderLine {
                    ends: [c[k], c[(k + 1) % 3]],
                    piece,
                    beyond: other,
                });
            }
        }
    }
    lines
}

/// Facets that a strip along a border may take something of: they hang together with the border inside the strip, so
/// that it does not reach through thin walls. Ascending; costs what lies along the border.
pub(crate) fn facets_beside(
    open: &OpenMesh,
    pieces: &Pieces<'_>,
    lines: &[BorderLine],
    field: &PathField,
) -> Vec<u32> {
    let mut seen: HashMap<u32, ()> = HashMap::new();
    let mut waiting: Vec<u32> = Vec::new();
    for line in lines {
        for facet in [pieces.facet(line.piece), pieces.facet(line.beyond)] {
            if seen.insert(facet, ()).is_none() {
                waiting.push(facet);
            }
        }
    }
    while let Some(facet) = waiting.pop() {
        let corners = open.mesh.corners(facet);
        for (k, other) in open.topology.across[facet as usize].into_iter().enumerate() {
            if other != NO_FACET
                && !seen.contains_key(&other)
                && field.meets(corners[k], corners[(k + 1) % 3])
            {
                seen.insert(other, ());
                waiting.push(other);
            }
        }
    }
    let mut facets: Vec<u32> = seen.into_keys().collect();
    facets.sort_unstable();
    facets
}
