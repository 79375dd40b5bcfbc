//! Mesh and divisions as one mesh, for what is handed over.

use super::divided::Spot;
use super::labels::{Label, Labels};
use crate::mesh::Mesh;
use crate::model::OpenMesh;
use std::collections::HashMap;

/// A mesh with its divisions carried out.
pub struct Refined {
    /// Whole facets and triangles of divided ones, in the order of the facets.
    pub mesh: Mesh,
    /// Facet each is of.
    pub facet: Vec<u32>,
    /// Label of each.
    pub labels: Vec<Label>,
}

/// Carries the divisions of a model out. The first vertices are those of the mesh. Linear.
pub fn refined(open: &OpenMesh, labels: &Labels) -> Refined {
    let mut out = Refined {
        mesh: Mesh {
            vertices: open.mesh.vertices.clone(),
            facets: Vec::with_capacity(open.mesh.facets.len()),
        },
        facet: Vec::with_capacity(open.mesh.facets.len()),
        labels: Vec::with_capacity(open.mesh.facets.len()),
    };
    let mut on_edges: HashMap<(u32, u32, u64), u32> = HashMap::new();
    for (facet, ids) in open.mesh.facets.iter().enumerate() {
        let facet = facet as u32;
        let Some(divided) = labels.division(facet) else {
            out.mesh.facets.push(*ids);
            out.facet.push(facet);
            out.labels.push(labels.whole(facet).flatten());
            continue;
        };
        let corners = open.mesh.corners(facet);
        let numbers: Vec<u32> = divided
            .spots
            .iter()
            .map(|spot| {
                let vertices = &mut out.mesh.vertices;
                let mut add = || {
                    vertices.push(spot.point(&corners));
                    vertices.len() as u32 - 1
                };
                match *spot {
                    Spot::Corner(k) => ids[usize::from(k)],
                    Spot::Edge { from, to, t } => {
                        let key = (ids[usize::from(from)], ids[usize::from(to)], t.to_bits());
                        *on_edges.entry(key).or_insert_with(add)
                    }
                    Spot::Inside(_) => add(),
                }
            })
            .collect();
        for (triangle, label) in divided.triangles.iter().zip(&divided.labels) {
            out.mesh.facets.push(triangle.map(|s| numbers[s as usize]));
            out.facet.push(facet);
            out.labels.push(*label);
        }
    }
    out
}
