//! What is wrong with a mesh: counted by kind, and place by place.

use super::{Mesh, OpenMesh, Part, Topology};
use crate::geometry::middle;
use crate::geometry::{Bounds, facet_area, length};
use serde::{Deserialize, Serialize};

/// The kinds of defect that are looked for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
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
#[cfg_attr(feature = "wire", ts(export))]
pub struct Defect {
    /// What.
    pub kind: DefectKind,
    /// How many edges, facets or parts.
    pub count: u32,
    /// Position of the first, in mm of the mesh.
    pub first_at: [f64; 3],
}

/// Defects of one kind that hang together, such as the edges around one hole.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct DefectPlace {
    /// Middle of it, in mm of the mesh.
    pub at: [f64; 3],
    /// Reach from the middle, mm.
    pub radius_mm: f64,
    /// How many edges, facets or parts.
    pub count: u32,
    /// Its edges, each from one point to another, in mm; the first few thousand.
    pub edges: Vec<[[f64; 3]; 2]>,
}

/// A facet this small has no usable direction: the area of a square of side 10⁻⁶ mm.
pub(super) const NO_AREA_MM2: f64 = 1e-12;

fn degenerate(mesh: &Mesh) -> Vec<u32> {
    (0..mesh.facets.len() as u32)
        .filter(|f| facet_area(&mesh.corners(*f)) <= NO_AREA_MM2)
        .collect()
}

/// Facets that repeat another. One that repeats a facet of another closed part is no defect: two bodies may share a
/// face.
pub(super) fn repeated(topology: &Topology, parts: &[Part], part_of: &[u32]) -> Vec<u32> {
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
pub(super) fn find_defects(
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

/// Places shown of one kind; a mesh with more is beyond looking at one by one.
const MOST_PLACES: usize = 500;
/// Edges shown of one place.
const MOST_EDGES: usize = 4000;

impl OpenMesh {
    /// Where the defects of one kind are: those that share a corner make one place. In order of facets; at most 500.
    pub fn defect_places(&self, kind: DefectKind) -> Vec<DefectPlace> {
        let (mesh, topology) = (&self.mesh, &self.topology);
        if kind == DefectKind::InsideOutPart {
            let parts = self.parts.iter().filter(|p| p.is_inside_out);
            return parts.take(MOST_PLACES).map(part_place).collect();
        }
        let edge = |(facet, side): &(u32, u8)| {
            let f = mesh.facets[*facet as usize];
            vec![f[*side as usize], f[(*side as usize + 1) % 3]]
        };
        let facet = |f: &u32| mesh.facets[*f as usize].to_vec();
        let elements: Vec<Vec<u32>> = match kind {
            DefectKind::OpenEdge => topology.open.iter().map(edge).collect(),
            DefectKind::CrowdedEdge => topology.crowded.iter().map(edge).collect(),
            DefectKind::TurnedFacet => topology.flipped.iter().map(edge).collect(),
            DefectKind::DegenerateFacet => degenerate(mesh).iter().map(facet).collect(),
            DefectKind::DuplicateFacet => {
                let repeated = repeated(topology, &self.parts, &self.part_of);
                repeated.iter().map(facet).collect()
            }
            DefectKind::InsideOutPart => Vec::new(),
        };
        clusters(&elements)
            .into_iter()
            .take(MOST_PLACES)
            .map(|members| place(mesh, &elements, &members))
            .collect()
    }
}

/// Elements that share vertices, gathered; clusters in order of their first element.
fn clusters(elements: &[Vec<u32>]) -> Vec<Vec<usize>> {
    let mut number = std::collections::HashMap::new();
    let mut parent: Vec<usize> = Vec::new();
    let mut id = |v: u32, parent: &mut Vec<usize>| {
        *number.entry(v).or_insert_with(|| {
            parent.push(parent.len());
            parent.len() - 1
        })
    };
    fn root(parent: &mut [usize], mut at: usize) -> usize {
        while parent[at] != at {
            parent[at] = parent[parent[at]];
            at = parent[at];
        }
        at
    }
    let mut firsts = Vec::with_capacity(elements.len());
    for element in elements {
        let first = id(element[0], &mut parent);
        for v in &element[1..] {
            let other = id(*v, &mut parent);
            let (a, b) = (root(&mut parent, first), root(&mut parent, other));
            parent[a.max(b)] = a.min(b);
        }
        firsts.push(first);
    }
    let mut slot = vec![usize::MAX; parent.len()];
    let mut out: Vec<Vec<usize>> = Vec::new();
    for (element, first) in firsts.into_iter().enumerate() {
        let r = root(&mut parent, first);
        if slot[r] == usize::MAX {
            slot[r] = out.len();
            out.push(Vec::new());
        }
        out[slot[r]].push(element);
    }
    out
}

fn place(mesh: &Mesh, elements: &[Vec<u32>], members: &[usize]) -> DefectPlace {
    let at = |v: u32| mesh.vertices[v as usize];
    let all = members.iter().flat_map(|m| &elements[*m]);
    let bounds = Bounds::of(all.map(|v| at(*v)));
    let mut edges = Vec::new();
    for element in members.iter().map(|m| &elements[*m]) {
        let sides = if element.len() == 2 { 1 } else { element.len() };
        for i in 0..sides {
            if edges.len() < MOST_EDGES {
                edges.push([at(element[i]), at(element[(i + 1) % element.len()])]);
            }
        }
    }
    DefectPlace {
        at: bounds.centre(),
        radius_mm: 0.5 * length(bounds.size()),
        count: members.len() as u32,
        edges,
    }
}

/// A part is shown by the twelve edges of its box.
fn part_place(part: &Part) -> DefectPlace {
    let Bounds { min, max } = part.measures.bounds;
    let corner = |n: usize| [0, 1, 2].map(|i| if n >> i & 1 == 0 { min[i] } else { max[i] });
    let mut edges = Vec::new();
    for n in 0..8usize {
        for axis in 0..3 {
            if n >> axis & 1 == 0 {
                edges.push([corner(n), corner(n | 1 << axis)]);
            }
        }
    }
    DefectPlace {
        at: part.measures.bounds.centre(),
        radius_mm: 0.5 * length(part.measures.bounds.size()),
        count: 1,
        edges,
    }
}
