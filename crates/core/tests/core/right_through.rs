//! Colours right through, changes at a layer, and their bodies: against formulas, and against pieces that were cut.

use crate::jobs_of::job_of;
use crate::part_jobs::region;
use crate::shapes::mesh;
use approx::assert_relative_eq;
use rstest::rstest;
use std::f64::consts::PI;
use varichrom_core::handover::{BodyDepth, ClosedBodies, closed_bodies};
use varichrom_core::job::{
    BandDepth, Edit, GiveEdit, History, Job, JobEdit, RegionEdit, SoakDepth,
};
use varichrom_core::layers::{LayerShare, Settings, label, survey};
use varichrom_core::machine::Printer;
use varichrom_core::mesh::Mesh;
use varichrom_core::model::Place;
use varichrom_demo::{box_mesh, revolve, stl, subdivided_sphere};

pub(crate) fn settings() -> Settings {
    Settings::from(&Printer::default())
}

pub(crate) fn layers(job: &Job) -> Vec<LayerShare> {
    let found = survey(job.bodies(), settings(), job.shape().reach_mm, &|_| true).expect("done");
    label(&found, &job.claims())
}

/// Volume of each region, mm³.
pub(crate) fn volumes(layers: &[LayerShare]) -> Vec<f64> {
    let mut sums = vec![0.0; layers[0].regions.len()];
    for layer in layers {
        for (sum, share) in sums.iter_mut().zip(&layer.regions) {
            *sum += share.area_mm2 * (layer.z1_mm - layer.z0_mm);
        }
    }
    sums
}

/// Regions with more than a trace of each layer.
pub(crate) fn of_layers(layers: &[LayerShare]) -> Vec<Vec<usize>> {
    let of = |layer: &LayerShare| {
        let all = layer.regions.iter().enumerate();
        all.filter(|(_, r)| r.area_mm2 > 0.5)
            .map(|(n, _)| n)
            .collect()
    };
    layers.iter().map(of).collect()
}

pub(crate) fn through_relief(region: &str, point: [f64; 3], normal: [f64; 3], all: bool) -> Edit {
    Edit::Give(GiveEdit::GiveRelief {
        region: region.into(),
        at: Place {
            model: "it".into(),
            point,
            normal,
        },
        crease_deg: 30.0,
        all,
        through: true,
    })
}

pub(crate) const UP: [f64; 3] = [0.0, 0.0, 1.0];

fn band(region: &str, low_mm: f64, high_mm: f64, depth: BandDepth) -> Edit {
    Edit::Give(GiveEdit::GiveBand {
        region: region.into(),
        low_mm,
        high_mm,
        at: None,
        snap: false,
        count: 1,
        pitch_mm: 0.0,
        only: None,
        depth,
    })
}

fn change(region: &str, from_mm: f64) -> Edit {
    Edit::Give(GiveEdit::GiveChange {
        region: region.into(),
        from_mm,
        model: None,
        at: None,
    })
}

/// A job of one mesh with the regions red (1) and blue (2) after some edits.
pub(crate) fn job(mesh: &Mesh, edits: &[Edit]) -> History {
    let bytes = stl(mesh, "it");
    let (shelf, mut history) = job_of(&[("it", &bytes[..])]);
    for key in ["red", "blue"] {
        history.apply(region(key), &shelf).expect("a region");
    }
    for edit in edits {
        history.apply(edit.clone(), &shelf).expect("an edit");
    }
    history
}

/// A plate of 40 × 30 × 4 mm with a block of 10 × 8 × 3 mm on it, one closed surface.
pub(crate) fn plate_with_block() -> Mesh {
    let rect = |[x0, y0]: [f64; 2], [x1, y1]: [f64; 2], z: f64| {
        [[x0, y0, z], [x1, y0, z], [x1, y1, z], [x0, y1, z]]
    };
    let mut points = Vec::new();
    points.extend(rect([0.0, 0.0], [40.0, 30.0], 0.0));
    points.extend(rect([0.0, 0.0], [40.0, 30.0], 4.0));
    points.extend(rect([15.0, 11.0], [25.0, 19.0], 4.0));
    points.extend(rect([15.0, 11.0], [25.0, 19.0], 7.0));
    let mut facets = vec![[0, 2, 1], [0, 3, 2], [12, 13, 14], [12, 14, 15]];
    for i in 0..4u32 {
        let j = (i + 1) % 4;
        // Outer walls, the plate's top as a ring, the block's walls.
        for (low, high) in [(0, 4), (4, 8), (8, 12)] {
            facets.push([low + i, low + j, high + j]);
            facets.push([low + i, high + j, high + i]);
        }
    }
    mesh(&points, &facets)
}

#[test]
fn a_raised_block_right_through_is_its_box_and_nothing_below() {
    let relief = through_relief("red", [20.0, 15.0, 7.0], UP, false);
    let history = job(&plate_with_block(), &[relief]);
    let job = history.job();
    assert!(job.regions[1].depth.is_through());
    let found = layers(job);
    for (layer, regions) in found.iter().zip(of_layers(&found)) {
        let is_block = layer.z0_mm > 3.99;
        assert!(
            regions == [usize::from(is_block)],
            "{} mm: {:?}",
            layer.z0_mm,
            layer.regions
        );
    }
    assert_relative_eq!(volumes(&found)[1], 10.0 * 8.0 * 3.0, max_relative = 2e-3);
}

#[rstest]
#[case::sphere(subdivided_sphere(10.0, 5), |low: f64, high: f64| {
    // Archimedes: a zone of a ball, by the heights of its planes above the foot.
    let cap = |h: f64| PI * h * h * (10.0 - h / 3.0);
    cap(high) - cap(low)
})]
#[case::cone(revolve(&[(0.0, 0.0), (10.0, 0.0), (0.0, 20.0)], 256), |low: f64, high: f64| {
    let (a, b) = (10.0 - low / 2.0, 10.0 - high / 2.0);
    PI * (high - low) / 3.0 * (a * a + a * b + b * b)
})]
#[case::cylinder(revolve(&[(0.0, 0.0), (8.0, 0.0), (8.0, 20.0), (0.0, 20.0)], 256), |low: f64, high: f64| {
    PI * 64.0 * (high - low)
})]
fn a_band_right_through_has_the_volume_of_the_formula(
    #[case] mesh: Mesh,
    #[case] formula: fn(f64, f64) -> f64,
    #[values((4.0, 9.0), (6.1, 6.9), (11.0, 16.4))] (low, high): (f64, f64),
) {
    let history = job(&mesh, &[band("red", low, high, BandDepth::Through)]);
    let found = layers(history.job());
    // One layer's step at either end.
    let step = formula(low.max(0.2) - 0.1, low + 0.1) + formula(high - 0.1, high + 0.1);
    let miss = (volumes(&found)[1] - formula(low, high)).abs();
    assert!(miss <= step, "{miss} mm³ of {} off", formula(low, high));
    // Whole cross-sections: no layer has both.
    for (layer, regions) in found.iter().zip(of_layers(&found)) {
        assert!(
            regions.len() <= 1,
            "{:.2} mm: {:?}",
            layer.z0_mm,
            layer.regions
        );
    }
}

#[test]
fn of_a_band_inside_only_the_surface_keeps_its_colour() {
    let mesh = revolve(&[(0.0, 0.0), (8.0, 0.0), (8.0, 20.0), (0.0, 20.0)], 64);
    let history = job(
        &mesh,
        &[
            band("blue", 4.0, 16.0, BandDepth::Skin),
            band("red", 6.0, 14.0, BandDepth::Inside),
        ],
    );
    let found = layers(history.job());
    let at = |z: f64| {
        let layer = found.iter().position(|l| l.z0_mm <= z && z < l.z1_mm);
        of_layers(&found)[layer.expect("a layer")].clone()
    };
    assert_eq!(at(2.0), [0]);
    assert_eq!(at(5.0), [0, 2]);
    assert_eq!(at(10.1), [1, 2]);
    assert_eq!(at(15.1), [0, 2]);
}

#[test]
fn a_change_at_a_layer_is_one_swap_and_moves_with_its_number() {
    let bytes = stl(&box_mesh([0.0; 3], [20.0, 20.0, 10.0]), "it");
    let (shelf, mut history) = job_of(&[("it", &bytes[..])]);
    history.apply(region("red"), &shelf).expect("a region");
    history
        .apply(change("red", 5.03), &shelf)
        .expect("a change");
    let number = history.head() as u32;
    let swaps = |history: &History| {
        let regions = of_layers(&layers(history.job()));
        assert!(regions.iter().all(|r| r.len() == 1));
        regions.iter().position(|r| r == &[1])
    };
    assert_eq!(swaps(&history), Some(25));
    let to = Box::new(change("red", 7.0));
    history
        .apply(Edit::Job(JobEdit::ChangeEdit { number, to }), &shelf)
        .expect("moved");
    assert_eq!(swaps(&history), Some(35));
    history
        .apply(Edit::Job(JobEdit::LeaveOut { number }), &shelf)
        .expect("out");
    assert_eq!(swaps(&history), None);
    assert!(history.steps()[number as usize - 1].is_left_out);
    assert!(history.recipe(&[]).edits.len() == 1);
    let again = history.apply(Edit::Job(JobEdit::LeaveOut { number }), &shelf);
    assert_eq!(again.expect_err("is out already").code, "step-stays");
    history.undo(&shelf).expect("undone");
    assert_eq!(swaps(&history), Some(35));
}

#[rstest]
#[case::below(0.05)]
#[case::above(10.0)]
#[case::far(1e9)]
#[case::not_a_number(f64::NAN)]
fn a_change_off_the_model_is_refused(#[case] from_mm: f64) {
    let bytes = stl(&box_mesh([0.0; 3], [20.0, 20.0, 10.0]), "it");
    let (shelf, mut history) = job_of(&[("it", &bytes[..])]);
    history.apply(region("red"), &shelf).expect("a region");
    let refused = history
        .apply(change("red", from_mm), &shelf)
        .expect_err("refused");
    assert_eq!(refused.code, "change-outside");
}

#[test]
fn right_through_an_open_part_is_refused_and_changes_nothing() {
    let mut mesh = box_mesh([0.0; 3], [20.0, 20.0, 10.0]);
    mesh.facets.pop();
    let bytes = stl(&mesh, "it");
    let (shelf, mut history) = job_of(&[("it", &bytes[..])]);
    history.apply(region("red"), &shelf).expect("a region");
    let before = history.job().clone();
    for edit in [
        change("red", 5.0),
        band("red", 2.0, 4.0, BandDepth::Through),
        Edit::Plan(serde_json::from_str(r#"{"do":"depth","through":true}"#).expect("an edit")),
    ] {
        let refused = history.apply(edit, &shelf).expect_err("refused");
        assert_eq!(refused.code, "through-open");
        assert!(*history.job() == before);
    }
}

#[test]
fn spans_go_with_their_part_and_go_where_it_is_tilted() {
    let place = |placing: &str| -> Edit {
        let text =
            format!(r#"{{"edit":"place","target":{{"of":"everything"}},"placing":{placing}}}"#);
        serde_json::from_str(&text).expect(&text)
    };
    let bytes = stl(&box_mesh([0.0; 3], [20.0, 20.0, 10.0]), "it");
    let (shelf, mut history) = job_of(&[("it", &bytes[..])]);
    history.apply(region("red"), &shelf).expect("a region");
    history.apply(change("red", 6.0), &shelf).expect("a change");
    history
        .apply(place(r#"{"how":"stretch","factors":[1,1,2]}"#), &shelf)
        .expect("stretched");
    let first = |history: &History| {
        of_layers(&layers(history.job()))
            .iter()
            .position(|r| r == &[1])
    };
    assert_eq!(first(&history), Some(60));
    history
        .apply(place(r#"{"how":"turn","axis":"x","degrees":90}"#), &shelf)
        .expect("tilted");
    assert!(history.job().models[0].parts[0].spans.is_empty());
    history.undo(&shelf).expect("undone");
    assert_eq!(first(&history), Some(60));
}

#[test]
fn a_depth_in_layers_follows_the_layers() {
    let mut printer = Printer::default();
    let mesh = box_mesh([0.0; 3], [20.0, 20.0, 10.0]);
    let history = job(&mesh, &[Edit::soak("red", SoakDepth::Layers { layers: 4 })]);
    let mut job = history.job().clone();
    assert_relative_eq!(job.soak_mm(1), 4.0 * job.printer.layer_mm);
    printer.layer_mm = 0.3;
    job.printer = printer;
    assert_relative_eq!(job.soak_mm(1), 1.2);
}

pub(crate) fn bodies_of(job: &Job) -> ClosedBodies {
    let made = closed_bodies(job, BodyDepth::Soak, &|_| true);
    made.expect("a job with models").expect("not stopped")
}

#[test]
fn a_raised_block_right_through_goes_out_as_its_box() {
    let relief = through_relief("red", [20.0, 15.0, 7.0], UP, false);
    let made = bodies_of(job(&plate_with_block(), &[relief]).job());
    assert!(made.told.is_empty(), "{:?}", made.told);
    let of = |number: u16| {
        made.bodies
            .iter()
            .find(|b| b.number == number)
            .expect("a body")
    };
    assert_relative_eq!(of(1).volume_mm3, 240.0, max_relative = 1e-6);
    assert_relative_eq!(of(0).volume_mm3, 4800.0, max_relative = 1e-6);
    assert!(made.bodies.iter().all(|b| b.is_closed));
}

#[test]
fn bands_right_through_go_out_as_the_same_bodies_as_pieces_that_were_cut() {
    let cone = || revolve(&[(0.0, 0.0), (10.0, 0.0), (0.0, 20.0)], 96);
    let banded = job(
        &cone(),
        &[
            band("red", 4.0, 8.0, BandDepth::Through),
            change("blue", 12.0),
        ],
    );
    let made = bodies_of(banded.job());
    assert!(made.told.is_empty(), "{:?}", made.told);
    let bytes = stl(&cone(), "it");
    let (shelf, mut cut) = job_of(&[("it", &bytes[..])]);
    for key in ["red", "blue"] {
        cut.apply(region(key), &shelf).expect("a region");
    }
    let cuts = [4.0, 8.0, 12.0].map(|mm| {
        let top = mm + 0.5;
        let at = format!(
            r#"{{"model":"it","point":[{},0.0,{top}],"normal":[0.9,0.0,0.4]}}"#,
            10.0 - top / 2.0
        );
        format!(r#"{{"edit":"part","do":"cut","at":{at},"plane":{{"by":"height","mm":{mm}}}}}"#)
    });
    for edit in &cuts {
        let edit: Edit = serde_json::from_str(edit).expect(edit);
        cut.apply(edit, &shelf).expect("a cut");
    }
    for (mm, key) in [(6.0, "red"), (14.0, "blue")] {
        let at = Place {
            model: "it".into(),
            point: [10.0 - mm / 2.0, 0.0, mm],
            normal: [0.9, 0.0, 0.4],
        };
        let give = Edit::Region(RegionEdit::GivePart {
            region: key.into(),
            at,
        });
        cut.apply(give, &shelf).expect("given");
    }
    let by_cuts = bodies_of(cut.job());
    let volume = |made: &ClosedBodies, number: u16| -> f64 {
        let of = made.bodies.iter().filter(|b| b.number == number);
        of.map(|b| b.volume_mm3).sum()
    };
    for number in 0..3 {
        assert_relative_eq!(
            volume(&made, number),
            volume(&by_cuts, number),
            max_relative = 1e-6
        );
    }
    assert!(made.bodies.iter().all(|b| b.is_closed));
    // Layer by layer as well.
    let (a, b) = (layers(banded.job()), layers(cut.job()));
    assert!(of_layers(&a) == of_layers(&b));
    for (x, y) in volumes(&a).iter().zip(volumes(&b)) {
        assert_relative_eq!(*x, y, max_relative = 1e-6);
    }
}
