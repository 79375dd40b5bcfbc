//! A mesh whose parts stand elsewhere: moved, turned, scaled, mirrored.

use super::OpenMesh;
use crate::geometry::Affine;
use crate::mesh::{Mesh, Topology, remeasured};
use std::sync::Arc;

impl OpenMesh {
    /// The mesh with every part moved by its own map. Facets keep their numbers and parts stay the same; a corner that
    /// two parts share is doubled when they part. Parts that are mirrored have their facets turned, so that they still
    /// face outward.
    ///
    /// `maps`: one for each part.
    ///
    /// # Cost
    /// Linear; the adjacency is shared unless something is mirrored.
    pub fn placed(&self, maps: &[Affine]) -> OpenMesh {
        const FREE: u32 = u32::MAX;
        let is_one = maps.windows(2).all(|w| w[0] == w[1]);
        let mut facets = self.mesh.facets.clone();
        let mut vertices: Vec<[f64; 3]>;
        if is_one {
            let map = maps.first().unwrap_or(&Affine::IDENTITY);
            vertices = self.mesh.vertices.iter().map(|p| map.apply(*p)).collect();
        } else {
            vertices = vec![[0.0; 3]; self.mesh.vertices.len()];
            let mut part_at = vec![FREE; vertices.len()];
            let mut doubles: std::collections::HashMap<(u32, u32), u32> = Default::default();
            for (facet, part) in facets.iter_mut().zip(self.part_of.iter()) {
                let map = &maps[*part as usize];
                for v in facet {
                    let owner = &mut part_at[*v as usize];
                    if *owner == FREE {
                        *owner = *part;
                        vertices[*v as usize] = map.apply(self.mesh.vertices[*v as usize]);
                    } else if *owner != *part {
                        let place = map.apply(self.mesh.vertices[*v as usize]);
                        *v = *doubles.entry((*v, *part)).or_insert_with(|| {
                            vertices.push(place);
                            vertices.len() as u32 - 1
                        });
                    }
                }
            }
        }
        let mirrors: Vec<bool> = maps.iter().map(Affine::turns_over).collect();
        let is_mirrored = mirrors.contains(&true);
        if is_mirrored {
            for (facet, part) in facets.iter_mut().zip(self.part_of.iter()) {
                if mirrors[*part as usize] {
                    facet.swap(1, 2);
                }
            }
        }
        let mesh = Mesh { vertices, facets };
        let topology = if is_mirrored {
            Arc::new(Topology::build(&mesh))
        } else {
            self.topology.clone()
        };
        let parts = remeasured(&mesh, &self.parts, &self.part_of);
        let mut placed = OpenMesh::assembled(
            mesh,
            topology,
            parts,
            self.part_of.clone(),
            self.origin.clone(),
            self.part_names.clone(),
        );
        placed.inner = self.inner.clone();
        placed
    }
}
