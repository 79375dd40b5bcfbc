//! What is wrong with a mesh, counted by kind.

use super::{Mesh, Part, Topology};
use crate::geometry::facet_area;
use crate::geometry::middle;
use serde::{Deserialize, Serialize};

/// The kinds of defect that are looked for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum DefectKind {
    /// Edges with a facet on one side only.
    OpenEdge,
    /// Edges where more than two facets meet.
    CrowdedEdge,
    /// Edges whose two facets disagree about which side is outside.
    TurnedFacet,
    /// Facets without area.
    DegenerateFacet,
    /// Facets that repeat another's three corners.
    DuplicateFacet,
    /// Closed parts whose surface faces inward.
    InsideOutPart,
}

/// One kind of defect in a mesh.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Defect {
    /// What.
    pub kind: DefectKind,
    /// How many edges, facets or parts.
    pub count: u32,
    /// Position of the first, in mm of the mesh.
    pub first_at: [f64; 3],
}

/// A facet this small has no usable direction: the area of a square of side 10⁻⁶ mm.
pub(crate) const NO_AREA_MM2: f64 = 1e-12;

pub(crate) fn degenerate(mesh: &Mesh) -> Vec<u32> {
    (0..mesh.facets.len() as u32)
        .filter(|f| facet_area(&mesh.corners(*f)) <= NO_AREA_MM2)
        .collect()
}

/// Facets that repeat another. One that repeats a facet of another closed part is no defect: two bodies may share a
/// face.
pub(crate) fn repeated(topology: &Topology, parts: &[Part], part_of: &[u32]) -> Vec<u32> {
    let part = |f: u32| part_of[f as usize];
    let is_closed = |f: u32| parts[part(f) as usize].is_closed;
    topology
        .duplicates
        .iter()
        .filter(|(f, of)| part(*f) == part(*of) || !is_closed(*f) || !is_closed(*of))
        .map(|(f, _)| *f)
        .collect()
}

/// All defects of a mesh, one entry per kind that occurs, in the order of [`DefectKind`].
pub(crate) fn find_defects(
    mesh: &Mesh,
    topology: &Topology,
    parts: &[Part],
    part_of: &[u32],
) -> Vec<Defect> {
    let middle_of_edge = |(facet, side): (u32, u8)| {
        let c = mesh.corners(facet);
        let (a, b) = (c[side as usize], c[(side as usize + 1) % 3]);
        [0, 1, 2].map(|i| 0.5 * (a[i] + b[i]))
    };
    let middle_of_facet = |facet: u32| middle(&mesh.corners(facet));
    let inside_out: Vec<u32> = parts
        .iter()
        .filter(|p| p.is_inside_out)
        .map(|p| p.first_facet)
        .collect();
    let edges =
        |kind, list: &[(u32, u8)]| (kind, list.len(), list.first().map(|e| middle_of_edge(*e)));
    let facets = |kind, list: &[u32]| (kind, list.len(), list.first().map(|f| middle_of_facet(*f)));
    [
        edges(DefectKind::OpenEdge, &topology.open),
        edges(DefectKind::CrowdedEdge, &topology.crowded),
        edges(DefectKind::TurnedFacet, &topology.flipped),
        facets(DefectKind::DegenerateFacet, &degenerate(mesh)),
        facets(
            DefectKind::DuplicateFacet,
            &repeated(topology, parts, part_of),
        ),
        facets(DefectKind::InsideOutPart, &inside_out),
    ]
    .into_iter()
    .filter_map(|(kind, count, at)| {
        Some(Defect {
            kind,
            count: count as u32,
            first_at: at?,
        })
    })
    .collect()
}
