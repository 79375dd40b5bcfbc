//! Where the defects of a mesh are, place by place.

use super::OpenMesh;
use crate::geometry::{Bounds, length};
use crate::mesh::{DefectKind, Mesh, Part, degenerate, repeated};
use serde::Serialize;

/// Defects of one kind that hang together, such as the edges around one hole.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
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
