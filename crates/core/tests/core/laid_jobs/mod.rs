//! Jobs with drawings laid on their models.

use crate::jobs_of::{Shelf, job_of};
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::carve::refined;
use varichrom_core::colour::Colour;
use varichrom_core::drawing::{DrawingOptions, DrawingSource, LaidOn, Laying};
use varichrom_core::job::{Edit, GiveEdit, History, Models, RegionEdit};
use varichrom_core::mesh::facet_area;
use varichrom_core::model::OpenMesh;
use varichrom_demo::{box_mesh, stl};

/// Models by name, and drawings written out as their own content name.
pub(crate) struct Table(pub(crate) Shelf);

impl Models for Table {
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem> {
        self.0.open(content)
    }

    fn bytes(&self, content: &str) -> Result<Arc<Vec<u8>>, Problem> {
        Ok(Arc::new(content.as_bytes().to_vec()))
    }
}

/// An SVG page in mm with some shapes.
pub(crate) fn svg(size: [f64; 2], shapes: &str) -> DrawingSource {
    let [w, h] = size;
    DrawingSource::File {
        file: "it.svg".into(),
        content: format!(
            "<svg xmlns='http://www.w3.org/2000/svg' width='{w}mm' height='{h}mm' viewBox='0 0 {w} {h}'>{shapes}</svg>"
        ),
        options: DrawingOptions::default(),
    }
}

pub(crate) fn flat(at: [f64; 3], facing: [f64; 3]) -> Laying {
    Laying {
        at,
        on: LaidOn::Flat {
            facing,
            up: None,
            through: false,
        },
        turn_deg: 0.0,
        mirrored: false,
    }
}

pub(crate) fn around_z(at: [f64; 3]) -> Laying {
    Laying {
        at,
        on: LaidOn::Around {
            centre: [0.0; 3],
            axis: [0.0, 0.0, 1.0],
        },
        turn_deg: 0.0,
        mirrored: false,
    }
}

pub(crate) fn lay(drawing: DrawingSource, laying: Laying, regions: usize) -> Edit {
    Edit::Give(GiveEdit::GiveDrawing {
        drawing,
        laying,
        regions: (1..=regions).map(|n| Some(format!("r{n}"))).collect(),
        model: None,
    })
}

/// A job of one model with regions r1 to r4.
pub(crate) fn job(mesh: &[u8]) -> (Table, History) {
    let (shelf, mut history) = job_of(&[("it", mesh)]);
    for n in 1..=4 {
        let region = RegionEdit::AddRegion {
            region: format!("r{n}"),
            name: format!("R{n}"),
            colour: Colour([40 * n, 30, 30]),
            slot: None,
        };
        history.apply(Edit::Region(region), &shelf).expect("added");
    }
    (Table(shelf), history)
}

pub(crate) fn laid(mesh: &[u8], edits: &[Edit]) -> History {
    let (table, mut history) = job(mesh);
    for edit in edits {
        let applied = history.apply(edit.clone(), &table);
        applied.unwrap_or_else(|p| panic!("{p}"));
    }
    history
}

/// Area of a region, added up over the refined mesh.
pub(crate) fn area(history: &History, region: &str) -> f64 {
    let model = &history.job().models[0];
    let fine = refined(&model.open, &model.labels);
    let number = history.job().region(region);
    (0..fine.labels.len())
        .filter(|f| fine.labels[*f] == number)
        .map(|f| facet_area(&fine.mesh.corners(f as u32)))
        .sum()
}

pub(crate) fn near(found: f64, wanted: f64, relative: f64) {
    let off = (found - wanted).abs();
    assert!(off <= relative * wanted, "{found} instead of {wanted}");
}

pub(crate) const BLOCK: [f64; 3] = [40.0, 30.0, 20.0];

pub(crate) fn block() -> Vec<u8> {
    stl(&box_mesh([0.0; 3], BLOCK), "block")
}

/// A square with a round spot in it: two colours that share a border.
pub(crate) const SPOT: &str = "<rect x='2' y='2' width='16' height='16' fill='#c03020'/><circle cx='10' cy='10' r='5' fill='#2030c0'/>";
