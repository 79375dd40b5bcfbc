//! One body on its own: what the operations on parts take and return.

use crate::carve::{Label, Labels, Refined, refined};
use crate::formats::Origin;
use crate::geometry::{Bounds, cross, dot, facet_area, sub};
use crate::mesh::{Mesh, NO_FACET, Topology, shells};
use crate::model::{Mending, OpenMesh};
use std::sync::Arc;

/// What a facet of a body is.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Face {
    /// The region that covers it; none is the part's own.
    pub label: Label,
    /// Whether it was made by cutting inside a body: such a face is no surface, and carries no soak.
    pub is_inner: bool,
}

impl Face {
    /// A face made by a cut.
    pub const CUT: Face = Face {
        label: None,
        is_inner: true,
    };

    /// The same facet where a cut, or what fills a pocket, has come to lie upon it.
    pub fn covered(self) -> Face {
        Face {
            is_inner: true,
            ..self
        }
    }
}

/// A body's surface with what each facet is. Vertices are shared within the body and with no other body.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Solid {
    /// The surface.
    pub mesh: Mesh,
    /// What each facet is.
    pub faces: Vec<Face>,
}

/// Why a surface does not bound a solid.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum Flaw {
    /// An edge without as many facets on one side as on the other.
    #[error("its surface has a gap or a facet turned over at {0:?}")]
    Open([f64; 3]),
    /// It encloses nothing.
    #[error("it encloses no volume")]
    Empty,
}

impl Solid {
    /// A surface that no region covers.
    pub fn plain(mesh: Mesh) -> Solid {
        let faces = vec![Face::default(); mesh.facets.len()];
        Solid { mesh, faces }
    }

    /// One part of a model, with its divided facets carried out, and the model's facet that each of its own comes from.
    /// Linear in the model.
    pub fn of_part(open: &OpenMesh, labels: &Labels, part: u32) -> (Solid, Vec<u32>) {
        let fine = refined(open, labels);
        let is_chosen = |f: &usize| open.part_of[fine.facet[*f] as usize] == part;
        let chosen: Vec<usize> = (0..fine.mesh.facets.len()).filter(is_chosen).collect();
        let facets = chosen
            .iter()
            .map(|f| (fine.mesh.facets[*f], face(open, &fine, *f)));
        let solid = Solid::gathered(&fine.mesh.vertices, facets);
        (solid, chosen.iter().map(|f| fine.facet[*f]).collect())
    }

    /// Every part of a model on its own, in order. Linear in the model, however many they are.
    pub fn of_each(open: &OpenMesh, labels: &Labels) -> Vec<Solid> {
        let fine = refined(open, labels);
        let part_of: Vec<u32> = fine
            .facet
            .iter()
            .map(|f| open.part_of[*f as usize])
            .collect();
        let whole = Solid {
            faces: (0..fine.facet.len())
                .map(|f| face(open, &fine, f))
                .collect(),
            mesh: fine.mesh,
        };
        whole.parted(&part_of, open.parts.len())
    }

    /// The body divided by a number for each facet, from 0 up to `count`. Linear.
    pub(super) fn parted(&self, number_of: &[u32], count: usize) -> Vec<Solid> {
        let mut facets: Vec<Vec<u32>> = vec![Vec::new(); count];
        for (facet, number) in number_of.iter().enumerate() {
            facets[*number as usize].push(facet as u32);
        }
        // Which body a vertex was numbered for last, and its number there.
        let mut last = vec![(u32::MAX, 0u32); self.mesh.vertices.len()];
        let one = |(number, facets): (usize, &Vec<u32>)| {
            let mut used = Vec::new();
            for v in facets.iter().flat_map(|f| self.mesh.facets[*f as usize]) {
                if last[v as usize].0 != number as u32 {
                    last[v as usize].0 = number as u32;
                    used.push(v);
                }
            }
            used.sort_unstable();
            for (n, v) in used.iter().enumerate() {
                last[*v as usize].1 = n as u32;
            }
            let numbered = |f: &u32| self.mesh.facets[*f as usize].map(|v| last[v as usize].1);
            let place = |v: &u32| self.mesh.vertices[*v as usize];
            Solid {
                mesh: Mesh {
                    vertices: used.iter().map(place).collect(),
                    facets: facets.iter().map(numbered).collect(),
                },
                faces: facets.iter().map(|f| self.faces[*f as usize]).collect(),
            }
        };
        facets.iter().enumerate().map(one).collect()
    }

    /// Facets over some vertices, of which only those in use are kept, in their order.
    pub fn gathered(
        vertices: &[[f64; 3]],
        facets: impl Iterator<Item = ([u32; 3], Face)>,
    ) -> Solid {
        let (facets, faces): (Vec<[u32; 3]>, Vec<Face>) = facets.unzip();
        let mut number = vec![u32::MAX; vertices.len()];
        for v in facets.iter().flatten() {
            number[*v as usize] = 0;
        }
        let mut kept = Vec::new();
        for (v, n) in number.iter_mut().enumerate().filter(|(_, n)| **n == 0) {
            *n = kept.len() as u32;
            kept.push(vertices[v]);
        }
        let facets = facets.into_iter().map(|f| f.map(|v| number[v as usize]));
        Solid {
            mesh: Mesh {
                vertices: kept,
                facets: facets.collect(),
            },
            faces,
        }
    }

    /// Corners of a facet, mm.
    pub fn corners(&self, facet: usize) -> [[f64; 3]; 3] {
        self.mesh.corners(facet as u32)
    }

    /// The box around it.
    pub fn bounds(&self) -> Bounds {
        self.mesh.bounds()
    }

    /// Corners of all facets one after another, nine numbers a facet, as a browser draws them.
    pub fn loose_corners(&self) -> impl Iterator<Item = f32> {
        let all = (0..self.mesh.facets.len()).flat_map(|f| self.corners(f).into_iter().flatten());
        all.map(|c| c as f32)
    }

    /// Enclosed volume, mm³. Summed to the middle of the box, so that digits survive far from the origin.
    pub fn volume_mm3(&self) -> f64 {
        let origin = self.bounds().centre();
        (0..self.mesh.facets.len())
            .map(|f| {
                let [a, b, c] = self.corners(f).map(|p| sub(p, origin));
                dot(a, cross(b, c)) / 6.0
            })
            .sum()
    }

    /// Surface area, mm².
    pub fn area_mm2(&self) -> f64 {
        (0..self.mesh.facets.len())
            .map(|f| facet_area(&self.corners(f)))
            .sum()
    }

    /// Which facet lies across each edge.
    pub(super) fn topology(&self) -> Topology {
        Topology::build(&self.mesh)
    }

    /// Edges between chosen facets and others, as the chosen one runs them, in the order of the facets.
    pub(super) fn border(&self, topology: &Topology, chosen: &[bool]) -> Vec<(u32, u32)> {
        let mut border = Vec::new();
        for (facet, ids) in self
            .mesh
            .facets
            .iter()
            .enumerate()
            .filter(|(f, _)| chosen[*f])
        {
            for (side, other) in topology.across[facet].into_iter().enumerate() {
                if other != NO_FACET && !chosen[other as usize] {
                    border.push((ids[side], ids[(side + 1) % 3]));
                }
            }
        }
        border
    }

    /// Whether it bounds a solid: every edge is run as often one way as the other, and there is volume inside.
    ///
    /// # Errors
    /// A [`Flaw`], with the place of its lowest facet.
    pub fn check(&self) -> Result<(), Flaw> {
        self.check_over(&self.topology())
    }

    /// As [`Solid::check`], over the adjacency at hand.
    pub(super) fn check_over(&self, topology: &Topology) -> Result<(), Flaw> {
        let open = topology.open.iter().chain(&topology.flipped);
        let first = open.map(|(f, _)| f).chain(&topology.collapsed).min();
        if let Some(facet) = first {
            return Err(Flaw::Open(self.corners(*facet as usize)[0]));
        }
        // Less than a grain of dust.
        const NOTHING_MM3: f64 = 1e-9;
        if self.volume_mm3().abs() < NOTHING_MM3 {
            return Err(Flaw::Empty);
        }
        Ok(())
    }

    /// Takes another body in; the two share no vertex.
    pub fn append(&mut self, other: &Solid) {
        let first = self.mesh.vertices.len() as u32;
        self.mesh.vertices.extend(&other.mesh.vertices);
        self.mesh
            .facets
            .extend(other.mesh.facets.iter().map(|f| f.map(|v| v + first)));
        self.faces.extend(&other.faces);
    }

    /// The same body with its facets turned over if it is inside out.
    pub fn facing_out(mut self) -> Solid {
        if self.volume_mm3() < 0.0 {
            self.mesh.facets.iter_mut().for_each(|f| f.swap(1, 2));
        }
        self
    }

    /// The same body elsewhere.
    pub fn shifted(&self, by: [f64; 3]) -> Solid {
        let moved = |p: &[f64; 3]| [p[0] + by[0], p[1] + by[1], p[2] + by[2]];
        self.with_vertices(self.mesh.vertices.iter().map(moved).collect())
    }

    /// The same facets over other places of their vertices.
    pub(super) fn with_vertices(&self, vertices: Vec<[f64; 3]>) -> Solid {
        Solid {
            mesh: Mesh {
                vertices,
                facets: self.mesh.facets.clone(),
            },
            faces: self.faces.clone(),
        }
    }

    /// Gives what its part's own region covers, `from`, a label, for use in a part whose own region is another.
    pub fn relabelled(&mut self, from: u16, into: u16) {
        for face in &mut self.faces {
            face.label = Some(face.label.unwrap_or(from)).filter(|l| *l != into);
        }
    }

    /// The body with cracks welded and small holes filled, for asking where it lies; none if that does not close it. Nothing of
    /// it goes into the job.
    pub fn closed_for_question(&self) -> Option<Solid> {
        const CRACK_MM: f64 = 0.05;
        const HOLE_MM: f64 = 5.0;
        let open = OpenMesh::of(self.mesh.clone(), Arc::new(Origin::plain("")));
        let mending = Mending {
            weld_mm: Some(CRACK_MM),
            degenerate: true,
            duplicates: true,
            turn: true,
            holes_mm: Some(HOLE_MM),
            specks_mm: None,
        };
        let mended = open.mended(&mending).ok()?;
        let solid = Solid::plain(mended.open.mesh);
        solid.check().is_ok().then_some(solid)
    }

    /// How many separate shells it has.
    pub fn pieces(&self) -> usize {
        shells(&self.topology()).1
    }

    /// Its separate shells, by lowest facet.
    pub(super) fn shells(&self) -> Vec<Solid> {
        let (shell_of, count) = shells(&self.topology());
        self.parted(&shell_of, count)
    }

    /// Without shells that enclose no more than dust, which cutting along coincident faces can leave.
    pub(super) fn without_dust(self) -> Solid {
        const DUST_MM3: f64 = 1e-7;
        let mut shells = self.shells();
        let all = shells.len();
        shells.retain(|s| s.volume_mm3().abs() > DUST_MM3);
        if shells.len() == all {
            return self;
        }
        let mut kept = Solid::default();
        shells.iter().for_each(|s| kept.append(s));
        kept
    }
}

fn face(open: &OpenMesh, fine: &Refined, at: usize) -> Face {
    Face {
        label: fine.labels[at],
        is_inner: open.is_inner(fine.facet[at]),
    }
}
