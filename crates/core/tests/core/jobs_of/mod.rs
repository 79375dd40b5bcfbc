//! Jobs made of a few files, for the tests of Intake.

use std::collections::HashMap;
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::job::{Edit, History, ModelEdit, Models, PlaceEdit, Placing, Target};
use varichrom_core::model::{OpenMesh, Place};
use varichrom_demo::{box_mesh, stl};

pub(crate) const EXACT: f64 = 1e-9;

#[derive(Default)]
pub(crate) struct Shelf(pub(crate) HashMap<String, Arc<OpenMesh>>);

impl Models for Shelf {
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem> {
        let missing = || Problem::new("content-unknown", content, "", "");
        self.0.get(content).cloned().ok_or_else(missing)
    }

    fn bytes(&self, content: &str) -> Result<Arc<Vec<u8>>, Problem> {
        let missing = || Problem::new("content-unknown", content, "", "");
        varichrom_demo::file_beside(content)
            .map(Arc::new)
            .ok_or_else(missing)
    }
}

/// A shelf of files by name, and a job that has opened them in order.
pub(crate) fn job_of(files: &[(&str, &[u8])]) -> (Shelf, History) {
    let mut shelf = Shelf::default();
    let mut edits = Vec::new();
    for (name, bytes) in files {
        let open = OpenMesh::from_bytes(bytes).unwrap_or_else(|p| panic!("{p}"));
        shelf.0.insert((*name).into(), Arc::new(open));
        edits.push(open_model(name));
    }
    let head = edits.len();
    let history = History::replay(edits, head, &shelf).expect("sound files");
    (shelf, history)
}

pub(crate) fn open_model(name: &str) -> Edit {
    Edit::Model(ModelEdit::OpenModel {
        model: name.into(),
        file: format!("{name}.stl"),
        content: name.into(),
    })
}

pub(crate) fn place(target: Target, placing: Placing) -> Edit {
    Edit::Place(PlaceEdit::Place { target, placing })
}

pub(crate) fn at(model: &str, point: [f64; 3], normal: [f64; 3]) -> Place {
    Place {
        model: model.into(),
        point,
        normal,
    }
}

pub(crate) fn brick() -> Vec<u8> {
    stl(&box_mesh([10.0, 20.0, 5.0], [12.0, 24.0, 11.0]), "brick")
}

pub(crate) const BOAT: &str = "mtllib paint.mtl\nv 0 0 0\nv 4 0 0\nv 4 4 0\nv 0 4 0\nv 0 0 4\nv 4 0 4\nv 4 4 4\nv 0 4 4\n\
    usemtl hull\nf 1 4 3 2\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nusemtl deck\nf 5 6 7 8\nf 4 1 5 8\n";
pub(crate) const PAINT: &str = "newmtl hull\nKd 0.8 0.1 0.1\nnewmtl deck\nKd 0.9 0.85 0.7\n";

pub(crate) fn keep(model: &str, most: u8) -> Edit {
    Edit::Model(ModelEdit::KeepColours {
        model: model.into(),
        most,
    })
}
