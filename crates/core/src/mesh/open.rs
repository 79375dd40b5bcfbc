//! A mesh opened once and then only read: everything later stages ask of it.

use super::defects::find_defects;
use super::geometry::facet_area;
use super::parts::find_parts;
use super::{Defect, FacetTree, Mesh, Part, Topology, weld};
use crate::Problem;
use crate::formats::{StlKind, read_stl};
use crate::regions::Creases;
use std::sync::OnceLock;

/// A mesh with its adjacency, parts and defects, and the search structures that are built when first needed.
pub struct OpenMesh {
    /// The welded facets.
    pub mesh: Mesh,
    /// Which facet lies across each edge.
    pub topology: Topology,
    /// The bodies, numbered by lowest facet.
    pub parts: Vec<Part>,
    /// Part of each facet.
    pub part_of: Vec<u32>,
    /// What is wrong with it.
    pub defects: Vec<Defect>,
    /// Format by content: `STL, binary` or `STL, text`.
    pub format: &'static str,
    /// Name the file gives each part, where it gives one.
    pub part_names: Vec<Option<String>>,
    creases: OnceLock<Creases>,
    tree: OnceLock<FacetTree>,
    areas: OnceLock<Vec<f64>>,
}

impl OpenMesh {
    /// Reads a file, tells its format by content, welds it and looks it over.
    ///
    /// # Errors
    /// A [`Problem`] that says what is wrong with the bytes and where. Defects of the shape are no error.
    ///
    /// # Cost
    /// Linear; see docs/performance.md.
    pub fn from_bytes(bytes: &[u8]) -> Result<OpenMesh, Problem> {
        let soup = read_stl(bytes)?;
        let mesh = weld(&soup.corners);
        let format = match soup.kind {
            StlKind::Binary => "STL, binary",
            StlKind::Ascii => "STL, text",
        };
        Ok(Self::from_mesh(mesh, format, &soup.solids))
    }

    /// Looks over a mesh. `solids`: name and first facet of each solid of the file, ascending; may be empty.
    pub fn from_mesh(mesh: Mesh, format: &'static str, solids: &[(String, u32)]) -> OpenMesh {
        let topology = Topology::build(&mesh);
        let (parts, part_of) = find_parts(&mesh, &topology);
        let defects = find_defects(&mesh, &topology, &parts);
        let part_names = parts
            .iter()
            .map(|p| {
                let at = solids.partition_point(|(_, first)| *first <= p.first_facet);
                let (name, _) = solids.get(at.checked_sub(1)?)?;
                (!name.is_empty()).then(|| name.clone())
            })
            .collect();
        OpenMesh {
            mesh,
            topology,
            parts,
            part_of,
            defects,
            format,
            part_names,
            creases: OnceLock::new(),
            tree: OnceLock::new(),
            areas: OnceLock::new(),
        }
    }

    /// How far the surface turns at each edge; worked out at the first call.
    pub fn creases(&self) -> &Creases {
        self.creases
            .get_or_init(|| Creases::of(&self.mesh, &self.topology))
    }

    /// Search by position over all facets; built at the first call.
    pub fn tree(&self) -> &FacetTree {
        self.tree
            .get_or_init(|| FacetTree::build(&self.mesh, 0..self.mesh.facets.len() as u32))
    }

    /// Area of each facet in mm²; worked out at the first call.
    pub fn facet_areas(&self) -> &[f64] {
        self.areas.get_or_init(|| {
            (0..self.mesh.facets.len() as u32)
                .map(|f| facet_area(&self.mesh.corners(f)))
                .collect()
        })
    }

    /// Whether every part is closed.
    pub fn is_closed(&self) -> bool {
        self.parts.iter().all(|p| p.is_closed)
    }

    /// Sum of the parts' volumes in mm³.
    pub fn volume_mm3(&self) -> f64 {
        self.parts.iter().map(|p| p.measures.volume_mm3).sum()
    }

    /// Sum of the parts' areas in mm².
    pub fn area_mm2(&self) -> f64 {
        self.parts.iter().map(|p| p.measures.area_mm2).sum()
    }
}
