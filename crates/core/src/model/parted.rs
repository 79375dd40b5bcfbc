//! A mesh whose parts are told, not found: after parts were cut, a part may be of several shells.

use super::OpenMesh;
use crate::formats::Origin;
use crate::mesh::{Mesh, Topology, find_parts, named_parts};
use std::sync::Arc;

impl OpenMesh {
    /// Looks over a mesh whose facets lie part by part: the first `facets_of[0]` are of part 0, and so on. No vertex is
    /// shared between two parts.
    pub fn of_parts(mesh: Mesh, facets_of: &[u32], origin: Arc<Origin>) -> OpenMesh {
        let topology = Topology::build(&mesh);
        let part_of: Vec<u32> = facets_of
            .iter()
            .enumerate()
            .flat_map(|(part, count)| std::iter::repeat_n(part as u32, *count as usize))
            .collect();
        let parts = named_parts(&mesh, &topology, facets_of, &part_of);
        let names = vec![None; parts.len()];
        OpenMesh::assembled(
            mesh,
            Arc::new(topology),
            parts,
            Arc::new(part_of),
            origin,
            names,
        )
    }
}

/// The body of each facet (an outer shell with its cavities), numbered by lowest facet, and how many there are.
pub fn bodies_of(mesh: &Mesh) -> (Vec<u32>, usize) {
    let (parts, part_of) = find_parts(mesh, &Topology::build(mesh));
    (part_of, parts.len())
}
