//! One edit of every kind: as recipes and databases have them, and with numbers that no maker means.

use crate::jobs_of::{Shelf, job_of};
use crate::judge::cases;
use proptest::prelude::*;
use rstest::rstest;
use serde_json::{Value, json};
use std::collections::BTreeSet;
use varichrom_core::job::{Edit, History, Job, SlotEdit};
use varichrom_core::layers::LayerShare;
use varichrom_core::machine::Printer;
use varichrom_core::plan::Planner;
use varichrom_demo::{box_mesh, stl};

/// A block of 40 by 30 by 20 mm and a smaller one beside it, a red region with a face of the block, and a blue one.
fn job() -> (Shelf, History) {
    let block = stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "block");
    let small = stl(&box_mesh([50.0, 0.0, 0.0], [60.0, 10.0, 10.0]), "small");
    let (shelf, mut history) = job_of(&[("block", &block), ("small", &small)]);
    for first in [
        json!({ "edit": "add-region", "region": "red", "name": "Red", "colour": "#c03020" }),
        json!({ "edit": "add-region", "region": "blue", "name": "Blue", "colour": "#2030c0" }),
        json!({ "edit": "give-patch", "region": "red", "at": top(), "crease_deg": 30.0 }),
    ] {
        let edit: Edit = serde_json::from_value(first).expect("an edit");
        history.apply(edit, &shelf).expect("applied");
    }
    (shelf, history)
}

fn top() -> Value {
    json!({ "model": "block", "point": [12.0, 9.0, 20.0], "normal": [0.0, 0.0, 1.0] })
}

fn small() -> Value {
    json!({ "model": "small", "point": [53.0, 4.0, 10.0], "normal": [0.0, 0.0, 1.0] })
}

/// Edits as today's version writes them: every kind, every kind within it, every field that may be left out.
fn all() -> Vec<Value> {
    let block = json!({ "of": "model", "model": "block" });
    let part = |fields: Value| with("part", fields);
    let load = |fields: Value| with("load", fields);
    let plan = |fields: Value| with("plan", fields);
    let place = |placing: Value| json!({ "edit": "place", "target": block, "placing": placing });
    vec![
        json!({ "edit": "open-model", "model": "third", "file": "third.stl", "content": "small" }),
        json!({ "edit": "keep-colours", "model": "small", "most": 4 }),
        json!({ "edit": "copy-model", "model": "small", "count": 2, "spacing_mm": 4.0 }),
        json!({ "edit": "remove-model", "model": "small" }),
        json!({ "edit": "rename-model", "model": "small", "name": "cube" }),
        json!({ "edit": "revise-model", "model": "small", "file": "new.stl", "content": "block" }),
        json!({ "edit": "set-units", "model": "small", "unit": "inch" }),
        place(json!({ "how": "move", "by_mm": [1.5, 0.0, 0.0] })),
        place(json!({ "how": "turn", "axis": "z", "degrees": 90.0 })),
        place(json!({ "how": "stretch", "factors": [1.0, 2.0, 1.0] })),
        place(json!({ "how": "size", "axis": "x", "mm": 55.0, "alone": true })),
        place(json!({ "how": "mirror", "axis": "x" })),
        place(json!({ "how": "face-down", "at": top() })),
        place(json!({ "how": "face-up", "at": top() })),
        json!({ "edit": "set-apart", "spacing_mm": 5.0 }),
        json!({ "edit": "mend", "model": "small", "mending": { "degenerate": true, "duplicates": false, "turn": true } }),
        json!({ "edit": "set-copies", "across": 2, "along": 1, "spacing_mm": 5.0 }),
        json!({ "edit": "fill-bed", "spacing_mm": 5.0 }),
        json!({ "edit": "rename-job", "name": "Quay" }),
        json!({ "edit": "rename-part", "at": top(), "name": "Lid" }),
        json!({ "edit": "add-region", "region": "green", "name": "Green", "colour": "#20a040", "slot": 2 }),
        json!({ "edit": "rename-region", "region": "red", "name": "Rust" }),
        json!({ "edit": "recolour-region", "region": "red", "colour": "#803020" }),
        json!({ "edit": "delete-region", "region": "red" }),
        json!({ "edit": "set-soak", "region": "red", "soak_mm": 0.6 }),
        json!({ "edit": "set-soak", "region": "red", "layers": 1 }),
        json!({ "edit": "set-soak", "region": "red", "through": true }),
        json!({ "edit": "assign-slot", "region": "red", "slot": 3 }),
        json!({ "edit": "load-slot", "slot": 1, "spool": "chalk" }),
        json!({ "edit": "give-patch", "region": "red", "at": top(), "crease_deg": 25.0, "within": "region", "turn_deg": 12.0 }),
        json!({ "edit": "give-relief", "region": "red", "at": top(), "crease_deg": 25.0, "all": true }),
        json!({ "edit": "give-stroke", "region": "red", "reach": "dab",
            "stroke": { "model": "block", "path": [[20.0, 15.0, 20.0], [25.0, 15.0, 20.0]], "radius_mm": 2.0, "eye": [20.0, 15.0, 90.0] } }),
        json!({ "edit": "give-facets", "region": "red", "at": [top()], "flat": true }),
        json!({ "edit": "give-band", "region": "red", "low_mm": 3.0, "high_mm": 5.0, "at": top(), "snap": true, "count": 2,
            "pitch_mm": 6.0, "only": "base" }),
        json!({ "edit": "give-band", "region": "red", "low_mm": 3.0, "high_mm": 5.0, "depth": "through" }),
        json!({ "edit": "give-band", "region": "red", "low_mm": 4.0, "high_mm": 9.0, "at": top(), "depth": "inside" }),
        json!({ "edit": "give-change", "region": "red", "from_mm": 7.0, "model": "block" }),
        json!({ "edit": "give-change", "region": "red", "from_mm": 6.0, "at": top() }),
        json!({ "edit": "give-relief", "region": "red", "at": top(), "crease_deg": 25.0, "through": true }),
        json!({ "edit": "give-lasso", "region": "red", "outline": [[-0.1, -0.1], [0.1, -0.1], [0.1, 0.1], [-0.1, 0.1]],
            "sight": { "eye": [20.0, 15.0, 90.0], "right": [1.0, 0.0, 0.0], "up": [0.0, 1.0, 0.0] }, "through": true }),
        json!({ "edit": "give-drawing", "drawing": { "is": "eye", "eye": { "width_mm": 8.0, "height_mm": 5.0, "iris": 0.7, "pupil": 0.3, "look": [0.2, 0.0] } },
            "laying": { "at": [20.0, 15.0, 20.0], "on": { "how": "flat", "facing": [0.0, 0.0, 1.0], "up": [0.0, 1.0, 0.0], "through": true } },
            "regions": ["red", "blue", null] }),
        json!({ "edit": "give-tone", "region": "red", "tone": "light", "strength": 0.4, "reach_mm": 3.0, "only": "base", "model": "block" }),
        json!({ "edit": "give-speckles", "region": "red", "width_mm": 2.0, "share": 0.1, "seed": 7, "only": "base", "model": "block" }),
        json!({ "edit": "give-drawing", "drawing": { "is": "words", "words": { "text": "Quay", "height_mm": 6.0, "spacing_mm": 0.5 } },
            "laying": { "at": [20.0, 15.0, 20.0], "on": { "how": "flat", "facing": [0.0, 0.0, 1.0] }, "turn_deg": 15.0 },
            "regions": ["red"], "model": "block" }),
        json!({ "edit": "give-drawing", "drawing": { "is": "words", "words": { "text": "Quay", "height_mm": 6.0, "font": "slab", "arc_mm": 30.0,
            "by_letter": true, "thicken_mm": 0.45 } }, "laying": { "at": [20.0, 0.0, 10.0],
            "on": { "how": "around", "centre": [20.0, 15.0, 0.0], "axis": [0.0, 0.0, 1.0] }, "mirrored": true },
            "regions": ["red", null, "blue"] }),
        json!({ "edit": "give-alike", "region": "red", "at": top(), "to": "patches", "crease_deg": 25.0 }),
        json!({ "edit": "grow-region", "region": "red", "by_mm": 1.5 }),
        json!({ "edit": "smooth-region", "region": "red", "by_mm": 0.5 }),
        json!({ "edit": "invert-region", "region": "red" }),
        json!({ "edit": "give-rest", "region": "red" }),
        json!({ "edit": "clear-colours" }),
        json!({ "edit": "protect-region", "region": "red", "is_protected": true }),
        json!({ "edit": "give-stray", "at": top() }),
        json!({ "edit": "give-strays", "smaller_mm2": 2.0, "narrower_mm": 0.3 }),
        json!({ "edit": "change-edit", "number": 3,
            "to": { "edit": "add-region", "region": "red", "name": "Rust", "colour": "#803020" } }),
        json!({ "edit": "leave-out", "number": 4 }),
        json!({ "edit": "give-part", "region": "red", "at": top() }),
        json!({ "edit": "several", "what": "Two at once", "edits": [{ "edit": "rename-job", "name": "Quay" }] }),
        json!({ "edit": "set-printer", "printer": Printer::default() }),
        load(json!({ "do": "exchange", "a": 1, "b": 2 })),
        load(json!({ "do": "all", "slot": 1 })),
        load(json!({ "do": "confirm", "region": "red" })),
        load(json!({ "do": "bay", "spools": { "1": "chalk" }, "regions": { "red": 2 } })),
        load(json!({ "do": "places", "places": [2, 1, 3, 4] })),
        load(json!({ "do": "mixture", "slot": 1, "shares": [0.5, 0.25, 0.25] })),
        plan(
            json!({ "do": "aim", "aim": { "is": "weighed", "purge_cm3": 1.0, "minute": 0.5, "swap": 0.25 } }),
        ),
        plan(
            json!({ "do": "order", "rules": [{ "rule": "pale-first" }, { "rule": "before", "region": "red", "then": "blue" }] }),
        ),
        plan(
            json!({ "do": "places", "places": { "into_infill": true, "tower_share": 0.5, "by_hand_mm": 150.0 } }),
        ),
        plan(json!({ "do": "takes-purge", "region": "red", "takes": "infill" })),
        plan(json!({ "do": "cut-off", "from": 1, "to": 2, "purge_mm3": 80.0 })),
        plan(json!({ "do": "tolerance", "region": "red", "tolerance": 3.0 })),
        plan(json!({ "do": "quick", "is_quick": true })),
        plan(
            json!({ "do": "accept", "snag": "A top of Red over walls of Plain", "note": "meant so" }),
        ),
        plan(json!({ "do": "depth", "soak_mm": 0.4 })),
        plan(json!({ "do": "depth", "through": true })),
        part(
            json!({ "do": "split", "at": top(), "fragments": "drop", "smaller_mm3": 2.0, "alike": true }),
        ),
        part(json!({ "do": "join", "at": [top(), top()] })),
        part(json!({ "do": "drop", "at": small() })),
        part(json!({ "do": "tidy", "smaller_mm3": 2.0, "fragments": "join" })),
        part(
            json!({ "do": "from-region", "region": "red", "at": top(), "depth": { "depth": "mm", "mm": 0.6 }, "alike": true }),
        ),
        part(
            json!({ "do": "cut", "at": top(), "plane": { "by": "height", "mm": 8.0 }, "alike": true }),
        ),
        part(
            json!({ "do": "inlay", "region": "red", "at": top(), "crease_deg": 25.0, "all": true, "layers": 2, "clearance_mm": 0.1,
            "alike": true }),
        ),
        part(
            json!({ "do": "sink", "at": small(), "depth_mm": 1.0, "clearance_mm": 0.1, "alike": true }),
        ),
        part(
            json!({ "do": "stamp", "at": top(), "drawing": { "is": "words", "words": { "text": "Quay", "height_mm": 6.0 } },
            "laying": { "at": [20.0, 15.0, 20.0], "on": { "how": "flat", "facing": [0.0, 0.0, 1.0] } }, "regions": ["red"],
            "relief": { "is": "raised", "mm": 0.8 } }),
        ),
        part(
            json!({ "do": "stamp", "at": top(), "drawing": { "is": "eye", "eye": { "width_mm": 8.0, "height_mm": 5.0, "iris": 0.7, "pupil": 0.3 } },
            "laying": { "at": [20.0, 15.0, 20.0], "on": { "how": "flat", "facing": [0.0, 0.0, 1.0] }, "turn_deg": 20.0 },
            "regions": ["red", null, "blue"], "relief": { "is": "sunken", "mm": 0.8 } }),
        ),
        part(json!({ "do": "cut-overlap", "keep": top(), "from": small() })),
        part(
            json!({ "do": "interlock", "at": top(), "into": small(), "size_mm": 2.0, "dovetail": true }),
        ),
        part(json!({ "do": "order", "at": top(), "beside": small(), "above": false })),
        part(json!({ "do": "group", "at": [top(), small()], "group": "g", "name": "Both" })),
        part(json!({ "do": "rename-group", "group": "g", "name": "Two" })),
        part(json!({ "do": "ungroup", "group": "g" })),
        part(json!({ "do": "lock", "at": top(), "is_locked": true })),
        part(json!({ "do": "print", "at": small(), "is_printed": false })),
        part(json!({ "do": "skip-passes", "at": small(), "slots": [1, 2] })),
        part(json!({ "do": "made-of", "at": small(), "material": "Clear", "opacity": 0.4 })),
    ]
}

fn with(family: &str, fields: Value) -> Value {
    let mut edit = fields;
    edit["edit"] = family.into();
    edit
}

/// The kinds that a family knows, told by its refusal of one that it does not.
fn kinds(unknown: Value) -> BTreeSet<String> {
    let refused = serde_json::from_value::<Edit>(unknown).expect_err("no such kind");
    let said = refused.to_string();
    let list = said.split_once("expected one of ").expect("a list").1;
    list.split('`')
        .skip(1)
        .step_by(2)
        .map(String::from)
        .collect()
}

#[rstest]
#[case::edits("edit", json!({ "edit": "?" }))]
#[case::load("load", json!({ "edit": "load", "do": "?" }))]
#[case::plan("plan", json!({ "edit": "plan", "do": "?" }))]
#[case::part("part", json!({ "edit": "part", "do": "?" }))]
fn every_kind_is_here_and_comes_back_as_it_was_written(
    #[case] family: &str,
    #[case] unknown: Value,
) {
    let mut here = BTreeSet::new();
    for written in all() {
        let edit: Edit =
            serde_json::from_value(written.clone()).unwrap_or_else(|e| panic!("{written}: {e}"));
        assert_eq!(serde_json::to_value(&edit).expect("JSON"), written);
        let kind = if family == "edit" {
            &written["edit"]
        } else {
            &written["do"]
        };
        if family == "edit" || written["edit"] == family {
            here.insert(kind.as_str().expect("a kind").to_string());
        }
    }
    assert_eq!(here, kinds(unknown));
}

/// Calls `found` with a way to every number within.
fn each_number(value: &Value, way: &mut Vec<String>, found: &mut impl FnMut(&[String])) {
    match value {
        Value::Number(_) => found(way),
        Value::Array(items) => {
            for (n, item) in items.iter().enumerate() {
                way.push(n.to_string());
                each_number(item, way, found);
                way.pop();
            }
        }
        Value::Object(fields) => {
            for (name, field) in fields {
                way.push(name.clone());
                each_number(field, way, found);
                way.pop();
            }
        }
        Value::Null | Value::Bool(_) | Value::String(_) => {}
    }
}

#[rstest]
fn numbers_that_nobody_means_are_refused_in_a_sentence_or_do_no_harm(
    #[values(1e300, -1e300, 1e-300, -0.1 - 0.2, 0.0, 123_456_789.123_456_78)] strange: f64,
) {
    const LONGEST: usize = 260;
    let (shelf, mut history) = job();
    // Mixtures are for a mixing nozzle alone.
    let mixes = Printer::examples()
        .into_iter()
        .find(|p| p.profile().mixes.is_some());
    let printer = mixes.expect("a mixing nozzle");
    history
        .apply(Edit::Slot(SlotEdit::SetPrinter { printer }), &shelf)
        .expect("a printer");
    let mut wrong: Vec<String> = Vec::new();
    for edit in all() {
        let mut ways = Vec::new();
        each_number(&edit, &mut Vec::new(), &mut |way| ways.push(way.join("/")));
        for way in ways {
            let mut strangely = edit.clone();
            *strangely.pointer_mut(&format!("/{way}")).expect("a number") = json!(strange);
            // Whole numbers stay whole by their type.
            let Ok(read) = serde_json::from_value::<Edit>(strangely) else {
                continue;
            };
            let Err(refused) = history.apply(read, &shelf) else {
                history.undo(&shelf).expect("undone");
                continue;
            };
            let whole = refused.to_string();
            if whole.len() >= LONGEST || whole.contains("00000000") {
                wrong.push(format!("{way} of {edit}: {whole}"));
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// After an edit of any kind, and after taking it back, a planner that was told what was touched divides the layers as one
/// from nothing does; and what is tried on a copy leaves the first as it was.
#[test]
fn what_an_edit_touched_is_all_that_is_divided_anew() {
    let (shelf, mut history) = job();
    // Coarse layers: what is told does not depend on how many there are.
    let printer = Printer {
        nozzle_mm: 0.8,
        line_width_mm: 1.2,
        layer_mm: 0.6,
        first_layer_mm: 0.6,
        ..Printer::default()
    };
    let coarse = SlotEdit::SetPrinter { printer };
    history
        .apply(Edit::Slot(coarse), &shelf)
        .expect("a printer");
    let divided = |planner: &mut Planner, job: &Job| {
        let shares = planner.advance(job.shape(), &job.claims(), &|_| true);
        shares.expect("not stopped")
    };
    // Whole plans would run across the screen.
    let same = |a: &[LayerShare], b: &[LayerShare], what: &str| {
        let differs = a.iter().zip(b).find(|(a, b)| a != b);
        assert!(
            a.len() == b.len() && differs.is_none(),
            "{what}: {differs:?}"
        );
    };
    let anew = |job: &Job| divided(&mut Planner::default(), job);
    let mut planner = Planner::default();
    let first = divided(&mut planner, history.job());
    let mut applied = 0;
    for edit in all() {
        let read: Edit = serde_json::from_value(edit.clone()).expect("an edit");
        if history.apply(read, &shelf).is_err() {
            continue;
        }
        applied += 1;
        let mut tried = planner.clone();
        tried.touch(history.touched());
        same(
            &divided(&mut tried, history.job()),
            &anew(history.job()),
            &edit.to_string(),
        );
        history.undo(&shelf).expect("undone");
        tried.touch(history.touched());
        same(
            &divided(&mut tried, history.job()),
            &anew(history.job()),
            &format!("undo of {edit}"),
        );
        assert!(planner.shares() == Some(&first), "{edit}");
    }
    assert!(applied > 50, "{applied}");
}

proptest! {
    #![proptest_config(cases(24))]

    /// Undo of anything restores everything, redo brings everything back, and the edits alone make the same job.
    #[test]
    fn undo_restores_everything_and_redo_brings_it_back(
        steps in prop::collection::vec((0..all().len(), 0..4usize, 0..4usize), 1..12)
    ) {
        let (shelf, mut history) = job();
        let first = history.head();
        let all: Vec<Edit> = all().into_iter().map(|e| serde_json::from_value(e).expect("an edit")).collect();
        let mut stood = vec![history.job().clone()];
        for (which, back, forth) in steps {
            if history.apply(all[which].clone(), &shelf).is_ok() {
                stood.truncate(history.head() - first);
                stood.push(history.job().clone());
            }
            prop_assert!(*history.job() == stood[history.head() - first]);
            for _ in 0..back.min(history.head() - first) {
                prop_assert!(history.undo(&shelf).expect("a step back"));
                prop_assert!(*history.job() == stood[history.head() - first], "undo of {:?}", all[which]);
            }
            for _ in 0..forth.min(stood.len() - 1 + first - history.head()) {
                prop_assert!(history.redo(&shelf).expect("a step forth"));
                prop_assert!(*history.job() == stood[history.head() - first], "redo of {:?}", all[which]);
            }
        }
        let edits = history.edits()[..history.head()].to_vec();
        let head = edits.len();
        let anew = History::replay(edits, head, &shelf).expect("the same edits");
        prop_assert!(anew.job() == history.job());
    }
}
