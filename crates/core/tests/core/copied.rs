//! Copies of one model: where they stand, whose they are, and what becomes of them.

use crate::jobs_of::job_of;
use crate::standing::Standing;
use serde_json::{Value, json};
use varichrom_core::job::{Edit, History};
use varichrom_demo::{box_mesh, stl};

fn edit(json: Value) -> Edit {
    serde_json::from_value(json).expect("an edit")
}

fn copy(model: &str, count: u32) -> Edit {
    edit(json!({ "edit": "copy-model", "model": model, "count": count, "spacing_mm": 4.0 }))
}

fn names(history: &History) -> Vec<&str> {
    history
        .job()
        .models
        .iter()
        .map(|m| m.name.as_str())
        .collect()
}

#[test]
fn copies_stand_free_of_everything_and_keep_their_colours() {
    let block = stl(&box_mesh([0.0; 3], [40.0, 30.0, 6.0]), "block");
    let peg = stl(&box_mesh([50.0, 0.0, 0.0], [60.0, 10.0, 10.0]), "peg");
    let (shelf, mut history) = job_of(&[("block", &block), ("peg", &peg)]);
    for first in [
        json!({ "edit": "add-region", "region": "red", "name": "Red", "colour": "#c03020", "slot": 2 }),
        json!({ "edit": "set-soak", "region": "red", "through": true }),
        json!({ "edit": "give-part", "region": "red",
            "at": { "model": "peg", "point": [53.0, 4.0, 10.0], "normal": [0.0, 0.0, 1.0] } }),
    ] {
        history.apply(edit(first), &shelf).expect("applied");
    }
    let alone = history.job().clone();
    history.apply(copy("peg", 7), &shelf).expect("copied");
    assert_eq!(names(&history)[..4], ["block", "peg", "peg 2", "peg 3"]);
    let boxes: Vec<_> = history
        .job()
        .models
        .iter()
        .map(|m| m.open.bounds())
        .collect();
    assert_eq!(boxes.len(), 9);
    for (i, a) in boxes.iter().enumerate() {
        for b in &boxes[i + 1..] {
            let apart = |k: usize| a.max[k] + 3.99 < b.min[k] || b.max[k] + 3.99 < a.min[k];
            assert!(apart(0) || apart(1), "{a:?} {b:?}");
        }
    }
    // Seven of 10 mm beside 60 mm of width: they find room behind and beside, not in one long row.
    let size = history.job().bounds().size();
    assert!(size[0] <= 90.0 && size[1] <= 90.0, "{size:?}");
    // Every part is known by a key of its own.
    let mut keys: Vec<u32> = (history.job().models.iter())
        .flat_map(|m| &m.parts)
        .map(|p| p.key)
        .collect();
    keys.sort_unstable();
    keys.dedup();
    assert_eq!(keys.len(), 9);
    // What is planned of the colour is eight pegs.
    let after = history.job().clone();
    history.undo(&shelf).expect("undone");
    assert!(*history.job() == alone);
    history.redo(&shelf).expect("redone");
    assert!(*history.job() == after);
    let standing = Standing::of(history, shelf);
    let red = standing.plan.regions.iter().find(|r| r.region == "red");
    let volume = red.expect("it prints").volume_mm3;
    assert!((volume / (8.0 * 1000.0) - 1.0).abs() < 0.01, "{volume}");
}

#[test]
fn a_new_version_of_a_copied_model_replaces_its_copies() {
    let peg = stl(&box_mesh([0.0; 3], [10.0; 3]), "peg");
    let higher = stl(&box_mesh([0.0; 3], [10.0, 10.0, 14.0]), "higher");
    let (shelf, mut history) = job_of(&[("peg", &peg), ("higher", &higher)]);
    history
        .apply(
            edit(json!({ "edit": "remove-model", "model": "higher" })),
            &shelf,
        )
        .expect("taken out");
    history.apply(copy("peg", 2), &shelf).expect("copied");
    history.apply(copy("peg 3", 1), &shelf).expect("copied");
    assert_eq!(names(&history), ["peg", "peg 2", "peg 3", "peg 4"]);
    let new = json!({ "edit": "revise-model", "model": "peg 4", "file": "higher.stl", "content": "higher" });
    history.apply(edit(new), &shelf).expect("replaced");
    assert_eq!(names(&history), ["peg", "peg 2", "peg 3", "peg 4"]);
    let heights = history
        .job()
        .models
        .iter()
        .map(|m| m.open.bounds().size()[2]);
    assert!(heights.into_iter().all(|h| (h - 14.0).abs() < 1e-9));
}

#[test]
fn copies_that_cannot_be_made_change_nothing() {
    let peg = stl(&box_mesh([0.0; 3], [10.0; 3]), "peg");
    let (shelf, mut history) = job_of(&[("peg", &peg)]);
    let before = history.job().clone();
    for (edit, code) in [
        (copy("nobody", 1), "model-unknown"),
        (copy("peg", 0), "copies-out-of-range"),
        (copy("peg", 100), "copies-out-of-range"),
    ] {
        let refused = history.apply(edit, &shelf).expect_err("refused");
        assert_eq!(refused.code, code);
        assert!(*history.job() == before);
    }
}
