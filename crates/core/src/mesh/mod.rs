//! Welded facet meshes: adjacency, shells, parts, measures, defects, and search by position.

mod bvh;
mod defects;
mod discs;
mod parts;
mod rays;
mod shading;
mod tags;
mod topology;
mod weld;

pub use crate::geometry::{
    Affine, Bounds, closest_point, cross, dot, facet_area, facet_normal, length, normalised, sub,
};
pub use bvh::{FacetTree, Nearest};
pub(crate) use bvh::{SAME, comes_first};
pub use defects::{Defect, DefectKind};
pub(crate) use defects::{NO_AREA_MM2, degenerate, find_defects, repeated};
pub use parts::{Measures, Part, shells};
pub(crate) use parts::{find_parts, named_parts, remeasured};
pub use rays::inner_point;
pub use shading::corner_normals;
pub(crate) use tags::{MIXED, NOT_COUNTED, Tags};
pub use topology::{NO_FACET, Topology};
pub use weld::weld;
pub(crate) use weld::weld_indexed;

/// Facets over shared vertices, in mm, z up.
///
/// Every index in `facets` is below `vertices.len()` and every coordinate is finite: [`weld`] makes it so, and
/// nothing changes a mesh afterwards.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Mesh {
    /// Vertex positions in mm.
    pub vertices: Vec<[f64; 3]>,
    /// Three vertices per facet, counter-clockwise seen from outside.
    pub facets: Vec<[u32; 3]>,
}

impl Mesh {
    /// The three corner positions of a facet, in mm.
    #[inline]
    pub fn corners(&self, facet: u32) -> [[f64; 3]; 3] {
        self.facets[facet as usize].map(|v| self.vertices[v as usize])
    }

    /// The smallest box around all vertices; empty bounds for an empty mesh.
    pub fn bounds(&self) -> Bounds {
        Bounds::of(self.vertices.iter().copied())
    }
}
