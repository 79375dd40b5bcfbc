//! Advice on plain shapes: what no combination of depths goes below, and what no layer shows.

use crate::jobs_of::job_of;
use crate::standing::Standing;
use serde_json::{Value, json};
use varichrom_core::advice::planned;
use varichrom_core::job::{Edit, SoakDepth};
use varichrom_core::layers::Touched;
use varichrom_core::mesh::Mesh;
use varichrom_demo::{box_mesh, rack, stl};

fn standing(mesh: &Mesh, edits: impl IntoIterator<Item = Value>) -> Standing {
    let bytes = stl(mesh, "it");
    let (shelf, mut history) = job_of(&[("it", &bytes[..])]);
    for edit in edits {
        let edit: Edit = serde_json::from_value(edit).expect("an edit");
        history.apply(edit, &shelf).expect("sound");
    }
    Standing::of(history, shelf)
}

fn region(key: &str, slot: usize) -> Value {
    json!({ "edit": "add-region", "region": key, "name": key, "colour": "#c02020", "slot": slot })
}

fn band(key: &str, low_mm: f64, high_mm: f64) -> Value {
    json!({ "edit": "give-band", "region": key, "low_mm": low_mm, "high_mm": high_mm })
}

/// Of more than twelve regions not all combinations are planned; but none of them may go below the floor that is told.
#[test]
fn of_many_regions_no_combination_of_depths_goes_below_the_floor() {
    let tower = box_mesh([0.0; 3], [8.0, 8.0, 28.0]);
    let edits = (1..14usize).flat_map(|n| {
        let key = format!("r{n}");
        // One above the other by a step and a half, so that layers hold two.
        let low = 2.0 * n as f64 - 0.9;
        [region(&key, 1 + n % 4), band(&key, low, low + 1.7)]
    });
    let standing = standing(&tower, edits);
    let found = standing.trial(|t| t.best_depths());
    let found = found.expect("not stopped").expect("a choice");
    let floor = found.floor_mm3.expect("more than can be combined");
    assert!(floor <= found.purge_mm3 + 1e-6 && floor > 0.0, "{found:?}");
    let job = standing.history.job();
    for bits in [0u32, 0x1fff, 0x0aaa, 0x00ff, 0x1248] {
        let mut job = job.clone();
        for n in 1..14 {
            job.regions[n].depth = match bits >> (n - 1) & 1 {
                1 => SoakDepth::Through,
                _ => SoakDepth::default(),
            };
        }
        let mut planner = standing.planner.clone();
        planner.touch(Touched::Depths);
        let plan = planned(&mut planner, &job, &rack(), &|_| true).expect("a plan");
        let purge: f64 = plan.swaps.iter().map(|s| s.purge_mm3).sum();
        assert!(purge >= floor - 1e-6, "{bits:b}: {purge} below {floor}");
        assert!(
            purge >= found.purge_mm3 - 1e-6,
            "{bits:b}: {purge} below {found:?}"
        );
    }
}

/// Layers of 0.2 mm are cut at 0.1, 0.3, …: a stripe from 5.12 to 5.28 mm lies between, one from 3.02 to 3.18 mm does not.
#[test]
fn a_stripe_between_the_middles_of_two_layers_is_told_with_what_prints_it() {
    let stripes = |edits: &[(f64, f64)]| {
        let bands = edits.iter().map(|(low, high)| band("stripe", *low, *high));
        let edits: Vec<Value> = [region("stripe", 2)].into_iter().chain(bands).collect();
        standing(&box_mesh([0.0; 3], [12.0, 12.0, 6.4]), edits)
    };
    let missing = |standing: &Standing| {
        let mut cautions = standing.plan.cautions.iter();
        cautions
            .find(|c| c.code == "region-between-layers")
            .cloned()
    };
    assert!(missing(&stripes(&[(3.02, 3.18)])).is_none());
    // Of several stripes one is missing, so that the region prints, but less of it than is seen.
    let seen = stripes(&[(3.02, 3.18), (5.12, 5.28)]);
    let caution = missing(&seen).expect("told");
    let area = 4.0 * 12.0 * 0.16;
    assert!(
        caution.message.contains(&format!("{area:.1} mm²")) && caution.is_of_model,
        "{caution:?}"
    );
    let layers = |s: &Standing| {
        let of = s.plan.regions.iter().find(|r| r.region == "stripe");
        of.expect("a region").layers
    };
    let before = layers(&seen);
    let after = seen.after(caution.edit.as_ref().expect("a mend"));
    assert!(missing(&after).is_none());
    assert!(layers(&after) > before, "{before}");
}

/// What soaks in less deep than half a line goes to what is beside it, on every wall; its mend is the depth that prints it.
#[test]
fn a_colour_thinner_than_a_line_is_told_with_the_depth_that_prints_it() {
    let edits = [
        region("side", 2),
        band("side", 0.0, 6.4),
        json!({ "edit": "set-soak", "region": "side", "soak_mm": 0.2 }),
    ];
    let seen = standing(&box_mesh([0.0; 3], [12.0, 12.0, 6.4]), edits);
    let told = |s: &Standing| {
        let mut of = s.plan.cautions.iter().filter(|c| c.is_of_model);
        of.find(|c| c.code.contains("thin") || c.code.contains("unprinted"))
            .cloned()
    };
    let caution = told(&seen).expect("told");
    let printed = |s: &Standing| {
        let of = s.plan.regions.iter().find(|r| r.region == "side");
        of.expect("a region").volume_mm3
    };
    let before = printed(&seen);
    let after = seen.after(caution.edit.as_ref().expect("a mend"));
    assert_eq!(told(&after), None);
    assert!(printed(&after) > 2.0 * before, "{caution:?}");
}
