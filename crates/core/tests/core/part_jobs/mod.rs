//! Jobs whose parts are edited, and what is asked of them.

use crate::jobs_of::Shelf;
use varichrom_core::job::{Edit, History, PartEdit};
use varichrom_core::model::Place;
use varichrom_demo::{box_mesh, stl};

/// STL rounds to 32-bit floats.
pub(crate) const FLOAT32: f64 = 2e-6;

pub(crate) fn part(edit: PartEdit) -> Edit {
    Edit::Part(edit)
}

pub(crate) fn region(key: &str) -> Edit {
    serde_json::from_value(serde_json::json!({
        "edit": "add-region", "region": key, "name": key, "colour": "#aa3322"
    }))
    .unwrap()
}

pub(crate) fn patch(region: &str, at: Place) -> Edit {
    serde_json::from_value(serde_json::json!({
        "edit": "give-patch", "region": region, "at": at, "crease_deg": 20.0
    }))
    .unwrap()
}

pub(crate) fn volume(history: &History, name: &str) -> f64 {
    let job = history.job();
    let parts = job
        .models
        .iter()
        .flat_map(|m| m.parts.iter().zip(&m.open.parts));
    let found: Vec<f64> = parts
        .filter(|(p, _)| p.name == name)
        .map(|(_, p)| {
            assert!(p.is_closed, "{name}");
            p.measures.volume_mm3
        })
        .collect();
    assert_eq!(found.len(), 1, "{name}");
    found[0]
}

pub(crate) fn names(history: &History) -> Vec<String> {
    let job = history.job();
    let listed = job.listed_parts();
    listed
        .iter()
        .map(|(m, p)| job.models[*m].parts[*p].name.clone())
        .collect()
}

pub(crate) fn near(found: f64, wanted: f64) {
    assert!(
        (found - wanted).abs() <= FLOAT32 * wanted.abs().max(1.0),
        "{found} instead of {wanted}"
    );
}

pub(crate) fn do_all(history: &mut History, shelf: &Shelf, edits: Vec<Edit>) {
    for edit in edits {
        history.apply(edit, shelf).unwrap_or_else(|p| panic!("{p}"));
    }
}

pub(crate) fn refused(history: &mut History, shelf: &Shelf, edit: Edit, code: &str) {
    let before = serde_json::to_string(&history.recipe(&[])).unwrap();
    let volume = history.job().models[0].open.volume_mm3();
    let problem = history.apply(edit, shelf).unwrap_err();
    assert_eq!(problem.code, code, "{problem}");
    assert_eq!(serde_json::to_string(&history.recipe(&[])).unwrap(), before);
    assert_eq!(history.job().models[0].open.volume_mm3(), volume);
}

pub(crate) const TOP: [f64; 3] = [0.0, 0.0, 1.0];

pub(crate) fn slab() -> Vec<u8> {
    stl(&box_mesh([0.0; 3], [40.0, 30.0, 6.0]), "slab")
}

/// Two figures that differ by no more than a share of the one wanted.
pub(crate) fn near_share(found: f64, wanted: f64, share: f64) {
    assert!(
        (found - wanted).abs() <= share * wanted,
        "{found} instead of {wanted}"
    );
}
