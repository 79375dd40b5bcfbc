//! A mesh opened once and then only read: everything later stages ask of it.

use super::patches::Creases;
use super::place::{Namer, namers};
use crate::Problem;
use crate::formats::{self, Origin, Read, Reading, StlKind, writable};
use crate::geometry::Bounds;
use crate::geometry::facet_area;
use crate::mesh::{
    Defect, FacetTree, Mesh, Part, Topology, find_defects, find_parts, weld, weld_indexed,
};
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

/// A mesh with its adjacency, parts and defects, and the search structures that are built when first needed.
pub struct OpenMesh {
    /// The welded facets.
    pub mesh: Mesh,
    /// Which facet lies across each edge.
    pub topology: Arc<Topology>,
    /// The bodies, numbered by lowest facet.
    pub parts: Vec<Part>,
    /// Part of each facet.
    pub part_of: Arc<Vec<u32>>,
    /// What is wrong with it.
    pub defects: Vec<Defect>,
    /// What the file said besides the shape.
    pub origin: Arc<Origin>,
    /// For each facet whether a cut inside a body made it; empty if none was.
    pub(super) inner: Arc<Vec<bool>>,
    /// Name the file gives each part, where it gives one.
    pub part_names: Vec<Option<String>>,
    creases: OnceLock<Creases>,
    tree: OnceLock<FacetTree>,
    areas: OnceLock<Vec<f64>>,
    namers: OnceLock<Vec<Namer>>,
    bounds: OnceLock<Bounds>,
    values: KeptValues,
}

/// Values at the vertices that were worked out last, and what for.
type KeptValues = Mutex<Option<((u8, u64), Arc<Vec<f64>>)>>;

impl OpenMesh {
    /// Reads a file that stands alone; see [`OpenMesh::read`].
    ///
    /// # Errors
    /// As for [`OpenMesh::read`].
    pub fn from_bytes(bytes: &[u8]) -> Result<OpenMesh, Problem> {
        Self::read(bytes, &Reading::ALONE)
    }

    /// Reads a file, tells its format by content, welds it and looks it over.
    ///
    /// # Errors
    /// A [`Problem`] that says what is wrong with the bytes and where, or that it was stopped. Defects of the shape are
    /// no error.
    ///
    /// # Cost
    /// Linear; see docs/performance.md.
    pub fn read(bytes: &[u8], reading: &Reading<'_>) -> Result<OpenMesh, Problem> {
        // Reading takes about half of the time, looking over the other half.
        let first_half = Reading {
            beside: reading.beside,
            progress: &|done| (reading.progress)(0.5 * done),
        };
        let (mesh, origin) = match formats::read(bytes, &first_half)? {
            Read::Stl(soup) => {
                let mut origin = Origin::plain(match soup.kind {
                    StlKind::Binary => "STL, binary",
                    StlKind::Ascii => "STL, text",
                });
                origin.pieces = soup.pieces;
                origin.left_out = soup.left_out;
                origin.colours = soup.colours;
                (weld(&soup.corners), origin)
            }
            Read::Model(model) => {
                let apart: Vec<u32> = if model.origin.keeps_pieces_apart {
                    model.origin.pieces.iter().map(|p| p.first_facet).collect()
                } else {
                    Vec::new()
                };
                let mesh = weld_indexed(&model.vertices, &model.facets, &apart);
                (mesh, model.origin)
            }
        };
        reading.step(0.6)?;
        let mut open = Self::of(mesh, Arc::new(origin));
        if let Some(note) = open.shared_surface() {
            Arc::make_mut(&mut open.origin).left_out.push(note);
        }
        reading.step(1.0)?;
        Ok(open)
    }

    /// Looks over a mesh whose facets are those of `origin`.
    pub fn of(mesh: Mesh, origin: Arc<Origin>) -> OpenMesh {
        let topology = Topology::build(&mesh);
        let (parts, part_of) = find_parts(&mesh, &topology);
        let part_names = parts
            .iter()
            .map(|p| {
                let at = origin
                    .pieces
                    .partition_point(|piece| piece.first_facet <= p.first_facet);
                let name = &origin.pieces.get(at.checked_sub(1)?)?.name;
                let name = writable(name);
                (!name.is_empty()).then_some(name)
            })
            .collect();
        Self::assembled(
            mesh,
            Arc::new(topology),
            parts,
            Arc::new(part_of),
            origin,
            part_names,
        )
    }

    /// What to say when the file divides one surface into several named groups: they stay one part.
    fn shared_surface(&self) -> Option<String> {
        let pieces = &self.origin.pieces;
        if pieces.len() < 2 {
            return None;
        }
        // The last piece that touched each part; a part touched by a second one is shared.
        let mut touched: Vec<Option<usize>> = vec![None; self.parts.len()];
        let mut sharing: Vec<&str> = Vec::new();
        // Of many names only the first few are told.
        const MOST_NAMED: usize = 4;
        for (index, piece) in pieces.iter().enumerate() {
            let end = pieces
                .get(index + 1)
                .map_or(self.part_of.len(), |p| p.first_facet as usize);
            for part in &self.part_of[piece.first_facet as usize..end] {
                let before = touched[*part as usize].replace(index);
                if let Some(other) = before.filter(|b| *b != index) {
                    for name in [&pieces[other].name, &piece.name] {
                        let is_told =
                            sharing.len() > MOST_NAMED || sharing.contains(&name.as_str());
                        if !name.is_empty() && !is_told {
                            sharing.push(name);
                        }
                    }
                }
            }
        }
        let more = if sharing.len() > MOST_NAMED {
            " and others"
        } else {
            ""
        };
        sharing.truncate(MOST_NAMED);
        let names = sharing.join(", ");
        (!names.is_empty()).then(|| {
            format!("the division into {names}{more}: they share one surface and stay one part")
        })
    }

    /// Puts together what is known of a mesh, and looks for its defects.
    pub(crate) fn assembled(
        mesh: Mesh,
        topology: Arc<Topology>,
        parts: Vec<Part>,
        part_of: Arc<Vec<u32>>,
        origin: Arc<Origin>,
        part_names: Vec<Option<String>>,
    ) -> OpenMesh {
        let defects = find_defects(&mesh, &topology, &parts, &part_of);
        OpenMesh {
            mesh,
            topology,
            parts,
            part_of,
            defects,
            origin,
            inner: Arc::default(),
            part_names,
            creases: OnceLock::new(),
            tree: OnceLock::new(),
            areas: OnceLock::new(),
            namers: OnceLock::new(),
            bounds: OnceLock::new(),
            values: Mutex::default(),
        }
    }

    /// Values at the vertices that take long to work out: those that were worked out last are kept, under a key.
    pub(crate) fn values(
        &self,
        key: (u8, u64),
        make: impl FnOnce() -> Option<Vec<f64>>,
    ) -> Option<Arc<Vec<f64>>> {
        let lock = || self.values.lock().unwrap_or_else(PoisonError::into_inner);
        let latest = lock().clone().filter(|(known, _)| *known == key);
        if let Some((_, values)) = latest {
            return Some(values);
        }
        let values = Arc::new(make()?);
        *lock() = Some((key, values.clone()));
        Some(values)
    }

    /// The same mesh with word of which facets cuts have made.
    #[must_use]
    pub fn with_inner(mut self, inner: Vec<bool>) -> OpenMesh {
        self.inner = Arc::new(if inner.contains(&true) {
            inner
        } else {
            Vec::new()
        });
        self
    }

    /// Whether a facet was made by a cut inside a body: such a face is no surface, and carries no soak.
    pub fn is_inner(&self, facet: u32) -> bool {
        self.inner.get(facet as usize).is_some_and(|is| *is)
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

    /// For each part, a place by which edits can name it; worked out at the first call.
    pub fn namers(&self) -> &[Namer] {
        self.namers.get_or_init(|| namers(self))
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

    /// The box around all of it. Linear the first time, then at hand.
    pub fn bounds(&self) -> Bounds {
        *self.bounds.get_or_init(|| self.mesh.bounds())
    }

    /// Sum of the parts' areas in mm².
    pub fn area_mm2(&self) -> f64 {
        self.parts.iter().map(|p| p.measures.area_mm2).sum()
    }
}
