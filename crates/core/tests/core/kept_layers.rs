//! A survey that keeps layers of an earlier one finds what a survey from nothing finds, bit by bit, and keeps most of them.

use crate::jobs_of::{Shelf, at, job_of, place};
use crate::judge::cases;
use crate::part_jobs::{TOP, do_all, part, region};
use proptest::prelude::*;
use varichrom_core::Problem;
use varichrom_core::job::{
    CutPlane, Depth, Edit, History, ModelEdit, PartEdit, Placing, SlotEdit, Target,
};
use varichrom_core::layers::{Settings, Survey, draw_layer, label, survey, survey_after};
use varichrom_demo::{box_mesh, stl, subdivided_sphere};

/// A ball 40 mm high and a low plate beside it, which reaches as far as anything does.
fn ball_and_plate() -> (Shelf, History) {
    let ball = stl(&subdivided_sphere(20.0, 4), "ball");
    let plate = stl(
        &box_mesh([-40.0, -30.0, -20.0], [-22.0, 30.0, -17.0]),
        "plate",
    );
    let (shelf, mut history) = job_of(&[("ball", &ball), ("plate", &plate)]);
    do_all(&mut history, &shelf, vec![region("belt"), region("lid")]);
    (shelf, history)
}

fn looked(history: &History, before: Option<&Survey>) -> Survey {
    let job = history.job();
    survey_after(before, job.shape(), &|_| true).expect("not stopped")
}

/// How many layers of how many were kept over an edit, after checking them against a survey from nothing.
fn kept_over(history: &mut History, shelf: &Shelf, edit: Edit) -> Result<(usize, usize), Problem> {
    let before = looked(history, None);
    history.apply(edit, shelf)?;
    let after = looked(history, Some(&before));
    let job = history.job();
    let fresh = survey(job.bodies(), Settings::from(&job.printer), 0.8, &|_| true).unwrap();
    let claims = job.claims();
    assert_eq!(label(&after, &claims), label(&fresh, &claims));
    let layers = fresh.heights.spans.len();
    for layer in (0..layers).step_by(45) {
        let drawn = |s: &Survey| draw_layer(s, &claims, layer);
        assert_eq!(drawn(&after), drawn(&fresh), "layer {layer}");
    }
    Ok((after.layers_kept(), layers))
}

fn band(region: &str, low_mm: f64, high_mm: f64) -> Edit {
    Edit::band(region, [low_mm, high_mm], None, None)
}

#[test]
fn an_edit_of_parts_looks_only_at_the_layers_it_touched() {
    let (shelf, mut h) = ball_and_plate();
    do_all(&mut h, &shelf, vec![band("belt", 28.0, 31.0)]);
    let made = part(PartEdit::FromRegion {
        region: "belt".into(),
        at: None,
        depth: Depth::Mm { mm: 1.0 },
        alike: false,
    });
    let (kept, layers) = kept_over(&mut h, &shelf, made).unwrap();
    // 3 mm of 40, with the reach, the skins and the facets that the belt's borders crossed.
    assert!(kept > 150 && kept < layers - 15, "{kept} of {layers}");
    let cut = part(PartEdit::Cut {
        at: at("ball", [0.0, 0.0, 20.0], TOP),
        plane: CutPlane::Height { mm: 20.1 },
        alike: false,
    });
    let (kept, layers) = kept_over(&mut h, &shelf, cut).unwrap();
    assert!(kept > 150 && kept < layers, "{kept} of {layers}");
    // The plate is thrown away: above it nothing changes, but the grid does.
    let gone = Edit::Model(ModelEdit::RemoveModel {
        model: "plate".into(),
    });
    let (kept, _) = kept_over(&mut h, &shelf, gone).unwrap();
    assert_eq!(kept, 0);
}

#[test]
fn nothing_is_kept_over_other_layer_heights() {
    let (shelf, mut h) = ball_and_plate();
    let mut printer = h.job().printer.clone();
    printer.layer_mm = 0.3;
    let (kept, _) =
        kept_over(&mut h, &shelf, Edit::Slot(SlotEdit::SetPrinter { printer })).unwrap();
    assert_eq!(kept, 0);
}

proptest! {
    #![proptest_config(cases(8))]

    #[test]
    fn what_is_kept_is_what_would_be_found(edits in prop::collection::vec((0usize..4, 2.0..38.0f64), 1..4)) {
        let (shelf, mut h) = ball_and_plate();
        for (sort, mm) in edits {
            let edit = match sort {
                0 => part(PartEdit::Cut {
                    at: at("ball", [0.0, 0.0, 20.0], TOP),
                    plane: CutPlane::Height { mm },
                    alike: false,
                }),
                1 => {
                    do_all(&mut h, &shelf, vec![band("lid", mm, mm + 1.5)]);
                    part(PartEdit::FromRegion {
                        region: "lid".into(),
                        at: None,
                        depth: Depth::Mm { mm: 0.6 },
                        alike: false,
                    })
                }
                2 => place(Target::Model { model: "plate".into() }, Placing::Move { by_mm: [0.0, 0.0, 0.1 * mm] }),
                _ => place(Target::Model { model: "ball".into() }, Placing::Move { by_mm: [0.02 * mm, 0.0, 0.0] }),
            };
            // Some are refused, like a cut beside the part.
            let _ = kept_over(&mut h, &shelf, edit);
        }
    }
}

/// Models that are the very same mesh at the very same place, in different colours: which of them was opened first, and which is
/// taken out, tells whose the layers are.
#[test]
fn the_very_same_mesh_three_times_keeps_what_it_would_find() {
    let block = stl(&box_mesh([0.0; 3], [20.0, 20.0, 8.0]), "block");
    let (shelf, mut history) = job_of(&[("a", &block)]);
    let again = |model: &str| {
        Edit::Model(ModelEdit::OpenModel {
            model: model.into(),
            file: "a.stl".into(),
            content: "a".into(),
        })
    };
    let gone = |model: &str| {
        Edit::Model(ModelEdit::RemoveModel {
            model: model.into(),
        })
    };
    do_all(&mut history, &shelf, vec![region("belt")]);
    let mut before = looked(&history, None);
    for edit in [again("b"), again("c"), gone("b"), gone("a"), again("d")] {
        history.apply(edit, &shelf).expect("applied");
        let kept = looked(&history, Some(&before));
        let claims = history.job().claims();
        assert!(label(&kept, &claims) == label(&looked(&history, None), &claims));
        before = kept;
    }
}
