//! Edits and plans that would go on for ever: refused before they begin, or stopped when asked.

use crate::jobs_of::{Shelf, job_of};
use crate::part_jobs::region;
use rstest::rstest;
use serde_json::json;
use std::f64::consts::PI;
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};
use varichrom_core::Problem;
use varichrom_core::advice::check_extent;
use varichrom_core::job::{Edit, History, Models};
use varichrom_core::model::OpenMesh;
use varichrom_demo::{box_mesh, stl, subdivided_sphere};

fn edit(value: serde_json::Value) -> Edit {
    serde_json::from_value(value).expect("an edit")
}

/// A stroke that winds round the ball of 40 mm from pole to pole.
fn around_the_ball() -> Vec<[f64; 3]> {
    let at = |n: u32| {
        let (down, around) = (f64::from(n) / 400.0 * PI, f64::from(n) / 25.0 * 2.0 * PI);
        [
            down.sin() * around.cos(),
            down.sin() * around.sin(),
            down.cos(),
        ]
        .map(|v| 40.0 * v)
    };
    (0..400).map(at).collect()
}

/// Says stop after being asked so many times.
struct Impatient<'a> {
    shelf: &'a Shelf,
    asked: AtomicUsize,
    patience: usize,
}

impl Models for Impatient<'_> {
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem> {
        self.shelf.open(content)
    }

    fn go_on(&self, _: f64) -> bool {
        self.asked.fetch_add(1, Ordering::SeqCst) < self.patience
    }
}

fn ball() -> (Shelf, History) {
    let bytes = stl(&subdivided_sphere(40.0, 5), "ball");
    let (shelf, mut history) = job_of(&[("ball", &bytes)]);
    history.apply(region("red"), &shelf).expect("new");
    (shelf, history)
}

#[rstest]
#[case(json!({ "edit": "set-soak", "region": "red", "soak_mm": 1e300 }))]
#[case(json!({ "edit": "set-soak", "region": "red", "soak_mm": -0.1 - 0.2 }))]
#[case(json!({ "edit": "grow-region", "region": "red", "by_mm": -1e-300 }))]
#[case(json!({ "edit": "give-band", "region": "red", "low_mm": 1e299, "high_mm": 1e300 }))]
#[case(json!({ "edit": "give-band", "region": "red", "low_mm": 1, "high_mm": 1.3, "count": 2, "pitch_mm": 0.1 + 0.2 - 0.2 }))]
#[case(json!({ "edit": "give-patch", "region": "red", "at": { "model": "ball", "point": [0, 0, 40], "normal": [0, 0, 1] }, "crease_deg": 1e200 }))]
fn numbers_that_cannot_be_are_named_in_few_digits(#[case] wrong: serde_json::Value) {
    let (shelf, mut history) = ball();
    let problem = history.apply(edit(wrong), &shelf).expect_err("refused");
    assert!(problem.message.len() < 90, "{problem}");
    assert!(!problem.message.contains("0000"), "{problem}");
    assert!(
        problem.message.chars().any(|c| c.is_ascii_digit()),
        "{problem}"
    );
}

#[rstest]
#[case::a_dab(json!({ "edit": "give-stroke", "region": "red", "reach": "dab",
    "stroke": { "model": "ball", "path": [[0.0, 0.0, 40.0], [1e7, 0.0, 0.0]], "radius_mm": 0.05, "eye": [0, 0, 100] } }))]
#[case::a_place(json!({ "edit": "give-patch", "region": "red", "crease_deg": 30,
    "at": { "model": "ball", "point": [0.0, 2e4, 0.0], "normal": [0, 0, 1] } }))]
#[case::among_others(json!({ "edit": "several", "what": "far", "edits": [
    { "edit": "give-band", "region": "red", "low_mm": -1e9, "high_mm": 5.0 }] }))]
fn places_out_of_reach_are_refused(#[case] far: serde_json::Value) {
    let (shelf, mut history) = ball();
    let before = history.job().models[0].labels.clone();
    let refused = history.apply(edit(far), &shelf).expect_err("refused");
    assert_eq!(refused.code, "too-far", "{refused}");
    assert!(history.job().models[0].labels == before);
}

#[rstest]
#[case::many_bands(json!({ "edit": "give-band", "region": "red", "low_mm": 0.1, "high_mm": 0.13, "count": 500,
    "pitch_mm": 0.15, "snap": false }))]
#[case::several(json!({ "edit": "several", "what": "bands", "edits": (0..400).map(|n| json!({
    "edit": "give-band", "region": "red", "low_mm": 0.2 * f64::from(n), "high_mm": 0.2 * f64::from(n) + 0.1,
    "snap": false })).collect::<Vec<_>>() }))]
#[case::a_stroke(json!({ "edit": "give-stroke", "region": "red", "reach": "dip",
    "stroke": { "model": "ball", "path": around_the_ball(), "radius_mm": 0.4, "eye": [0, 0, 100] } }))]
fn long_edits_ask_often_and_stop_when_told(#[case] long: serde_json::Value) {
    let (shelf, mut history) = ball();
    let before = history.job().models[0].labels.clone();
    let mut patience = 0;
    // Wherever it is stopped, nothing has changed.
    for more in [1, 2, 5, 20] {
        patience += more;
        let models = Impatient {
            shelf: &shelf,
            asked: AtomicUsize::new(0),
            patience,
        };
        if let Err(stopped) = history.apply(edit(long.clone()), &models) {
            assert_eq!(stopped.code, "stopped");
            assert!(history.job().models[0].labels == before);
            assert!(models.asked.load(Ordering::SeqCst) <= patience + 2);
        } else {
            assert!(patience > 1, "it was never asked");
            return;
        }
    }
}

#[test]
fn a_box_of_metres_is_refused_with_its_figure_before_it_is_planned() {
    let (_, history) = job_of(&[("box", &stl(&box_mesh([0.0; 3], [20_000.0; 3]), "box"))]);
    let refused = check_extent(history.job()).expect_err("too large");
    assert_eq!(refused.code, "plan-too-large");
    assert!(refused.message.contains("100000 layers"), "{refused}");
    let (_, history) = job_of(&[(
        "box",
        &stl(&box_mesh([0.0; 3], [220.0, 220.0, 250.0]), "box"),
    )]);
    assert!(check_extent(history.job()).is_ok());
}

#[test]
fn going_far_back_and_forth_ends_where_single_steps_do() {
    let (shelf, mut history) = ball();
    let mut labels = vec![history.job().models[0].labels.clone()];
    let start = history.head();
    for n in 0..150 {
        let low = 0.4 * f64::from(n % 100);
        let to = if n % 3 == 0 { "own" } else { "red" };
        let band = edit(
            json!({ "edit": "give-band", "region": to, "low_mm": low, "high_mm": low + 7.0, "snap": false }),
        );
        history.apply(band, &shelf).expect("a band");
        labels.push(history.job().models[0].labels.clone());
    }
    for to in [3, 149, 70, 71, 0, 150, 33, 32, 31, 96] {
        history.go_to(start + to, &shelf).expect("there");
        assert_eq!(history.head(), start + to);
        assert!(history.job().models[0].labels == labels[to], "{to}");
    }
    assert_eq!(history.edits().len(), start + 150);
}
