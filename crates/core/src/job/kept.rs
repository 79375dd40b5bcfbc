//! A job as it stands after some edits, in bytes: from there, opening and going back need not replay everything.
//!
//! The edits stay the source of truth: bytes that this version does not know are as good as none.

use super::history::Models;
use super::state::{Job, JobModel, JobPart};
use super::unit::LengthUnit;
use crate::carve::Labels;
use crate::formats::{FileColours, Piece};
use crate::mesh::{Mesh, Part, Topology};
use crate::model::OpenMesh;
use flate2::Compression;
use flate2::read::DeflateDecoder;
use flate2::write::DeflateEncoder;
use serde::{Deserialize, Serialize};
use std::io::{Read, Write};
use std::sync::Arc;

/// First in the bytes: raised whenever what follows is read otherwise, or the same edits make another job.
const MARK: &[u8] = concat!("varichrom job 4 ", env!("CARGO_PKG_VERSION"), "\n").as_bytes();

#[derive(Serialize, Deserialize)]
struct KeptModel {
    name: String,
    file: String,
    content: String,
    unit: LengthUnit,
    colours_kept: Option<u8>,
    parts: Vec<JobPart>,
    labels: Labels,
    /// None if the mesh is the one of the file.
    base: Option<KeptMesh>,
}

/// A mesh that edits have made of a file's.
#[derive(Serialize, Deserialize)]
struct KeptMesh {
    vertices: Vec<[f64; 3]>,
    facets: Vec<[u32; 3]>,
    parts: Vec<Part>,
    part_of: Vec<u32>,
    part_names: Vec<Option<String>>,
    inner: Vec<bool>,
    pieces: Vec<Piece>,
    colours: Option<FileColours>,
}

impl KeptMesh {
    fn of(open: &OpenMesh) -> KeptMesh {
        let facets = 0..open.mesh.facets.len() as u32;
        KeptMesh {
            vertices: open.mesh.vertices.clone(),
            facets: open.mesh.facets.clone(),
            parts: open.parts.clone(),
            part_of: open.part_of.to_vec(),
            part_names: open.part_names.clone(),
            inner: facets.map(|f| open.is_inner(f)).collect(),
            pieces: open.origin.pieces.clone(),
            colours: open.origin.colours.clone(),
        }
    }

    /// The mesh again; `file` is what the model's file holds.
    fn opened(self, file: &OpenMesh) -> OpenMesh {
        let mut origin = (*file.origin).clone();
        origin.pieces = self.pieces;
        origin.colours = self.colours;
        let mesh = Mesh {
            vertices: self.vertices,
            facets: self.facets,
        };
        let topology = Arc::new(Topology::build(&mesh));
        OpenMesh::assembled(
            mesh,
            topology,
            self.parts,
            Arc::new(self.part_of),
            Arc::new(origin),
            self.part_names,
        )
        .with_inner(self.inner)
    }
}

impl Job {
    /// The job in bytes, for [`Job::from_kept`]; none if a model's file cannot be opened any more.
    ///
    /// Linear in the facets of all models; what a file still holds is not in it.
    pub fn kept(&self, models: &dyn Models) -> Option<Vec<u8>> {
        let kept = |m: &JobModel| -> Option<KeptModel> {
            let file = models.open(&m.content).ok()?;
            let is_file = Arc::ptr_eq(&file, &m.base);
            Some(KeptModel {
                name: m.name.clone(),
                file: m.file.clone(),
                content: m.content.clone(),
                unit: m.unit,
                colours_kept: m.colours_kept,
                parts: m.parts.clone(),
                labels: m.labels.clone(),
                base: (!is_file).then(|| KeptMesh::of(&m.base)),
            })
        };
        let own: Vec<KeptModel> = self.models.iter().map(kept).collect::<Option<_>>()?;
        let bytes = rmp_serde::to_vec_named(&(self, own)).ok()?;
        let mut packed = DeflateEncoder::new(MARK.to_vec(), Compression::fast());
        packed.write_all(&bytes).ok()?;
        packed.finish().ok()
    }

    /// The job that [`Job::kept`] has put in bytes; none if this version did not write them, or a file is gone.
    ///
    /// # Cost
    /// Linear, besides opening the files; cut meshes get their adjacency again.
    pub fn from_kept(bytes: &[u8], models: &dyn Models) -> Option<Job> {
        let mut text = Vec::new();
        let packed = bytes.strip_prefix(MARK)?;
        DeflateDecoder::new(packed).read_to_end(&mut text).ok()?;
        let (mut job, own): (Job, Vec<KeptModel>) = rmp_serde::from_slice(&text).ok()?;
        let opened = |m: KeptModel| -> Option<JobModel> {
            let file = models.open(&m.content).ok()?;
            let base = match m.base {
                Some(base) => Arc::new(base.opened(&file)),
                None => file,
            };
            let is_whole =
                m.labels.len() == base.mesh.facets.len() && m.parts.len() == base.parts.len();
            let mut model = JobModel {
                name: m.name,
                file: m.file,
                content: m.content,
                open: base.clone(),
                base,
                unit: m.unit,
                colours_kept: m.colours_kept,
                parts: m.parts,
                labels: m.labels,
            };
            model.open = model.mesh_placed(&model.maps());
            is_whole.then_some(model)
        };
        job.models = own.into_iter().map(opened).collect::<Option<_>>()?;
        Some(job)
    }
}
