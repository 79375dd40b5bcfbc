//! Regions as a whole, strays, and what divided facets go through.

use crate::jobs_of::at;
use approx::assert_relative_eq;
use std::f64::consts::{PI, TAU};
use varichrom_core::carve::Pieces;
use varichrom_core::job::{
    Axis, BandDepth, Edit, GiveEdit, History, JobEdit, ModelEdit, PlaceEdit, Placing, PlanEdit,
    RegionEdit, Target,
};
use varichrom_core::regions::Reach;
use varichrom_demo::{box_mesh, stl};

use crate::painting::*;

/// Pieces that a model's facets come to.
fn pieces(history: &History) -> usize {
    let model = &history.job().models[0];
    let pieces = Pieces::of(&model.open, &model.labels);
    (0..pieces.end()).filter(|p| pieces.is_piece(*p)).count()
}

/// A cut divides until it knows where its border runs; of that no more stays than the border needs.
#[test]
fn on_a_box_of_twelve_facets_a_border_leaves_no_more_pieces_than_it_needs() {
    let bytes = stl(&box_mesh([0.0; 3], [20.0, 20.0, 12.0]), "box");
    let stripe = band(5.0, 8.0);
    let by = |by_mm: f64| {
        Edit::Give(GiveEdit::GrowRegion {
            region: "red".into(),
            by_mm,
        })
    };
    for by_mm in [0.05, 1.0, -1.0] {
        let grown = after(&bytes, &[stripe.clone(), by(by_mm)]);
        let (found, asked) = (area(&grown, "red"), 80.0 * (3.0 + 2.0 * by_mm));
        assert!(
            (found - asked).abs() < 0.01 * asked,
            "{by_mm}: {found} of {asked}"
        );
        assert!(pieces(&grown) < 1000, "{by_mm}: {} pieces", pieces(&grown));
    }
    let dab = stroke(Reach::Dab, &[[9.0, 8.0, 12.0]], 5.0, [0.0, 0.0, 300.0]);
    let disc = after(&bytes, &[dab]);
    assert!((area(&disc, "red") - 25.0 * PI).abs() < 0.05 * TAU * 5.0);
    assert!(pieces(&disc) < 400, "{} pieces", pieces(&disc));
}

// Growing, shrinking, smoothing; rest, invert, protect, erase, strays.

#[test]
fn a_disc_grows_and_shrinks_by_the_distance() {
    let plate = stl(&box_mesh([-50.0, -50.0, 0.0], [50.0, 50.0, 3.0]), "plate");
    let dab = stroke(Reach::Dab, &[[3.0, 4.0, 3.0]], 5.0, [0.0, 0.0, 300.0]);
    let step = |by_mm: f64| {
        Edit::Give(GiveEdit::GrowRegion {
            region: "red".into(),
            by_mm,
        })
    };
    let grown = area(&after(&plate, &[dab.clone(), step(2.0)]), "red");
    assert!((grown - 49.0 * PI).abs() < 0.1 * TAU * 7.0, "{grown}");
    let shrunk = area(&after(&plate, &[dab.clone(), step(-2.0)]), "red");
    assert!((shrunk - 9.0 * PI).abs() < 0.1 * TAU * 3.0, "{shrunk}");
    // Smoothing leaves a disc as it is, within the tolerance of each cut, and takes a thin tail off it.
    let tail = stroke(
        Reach::Dab,
        &[[3.0, 4.0, 3.0], [15.0, 4.0, 3.0]],
        0.5,
        [0.0, 0.0, 300.0],
    );
    let smooth = Edit::Give(GiveEdit::SmoothRegion {
        region: "red".into(),
        by_mm: 1.0,
    });
    let smoothed = area(&after(&plate, &[dab, tail, smooth]), "red");
    assert!(
        (smoothed - 25.0 * PI).abs() < 3.0,
        "{smoothed} {}",
        25.0 * PI
    );
}

#[test]
fn rest_invert_erase_and_clear_do_what_they_say() {
    let bytes = cube(10.0);
    let top = patch("red", [5.0, 5.0, 10.0], UP, 30.0);
    let front = patch("blue", [5.0, 0.0, 5.0], [0.0, -1.0, 0.0], 30.0);
    let on = |edits: &[Edit]| {
        let mut all = vec![top.clone(), front.clone()];
        all.extend(edits.iter().cloned());
        let history = after(&bytes, &all);
        [
            area(&history, "red"),
            area(&history, "blue"),
            area(&history, "base"),
        ]
    };
    assert_eq!(on(&[]), [100.0, 100.0, 400.0]);
    assert_eq!(
        on(&[Edit::Give(GiveEdit::GiveRest {
            region: "red".into()
        })]),
        [500.0, 100.0, 0.0]
    );
    assert_eq!(
        on(&[Edit::Give(GiveEdit::InvertRegion {
            region: "red".into()
        })]),
        [400.0, 100.0, 100.0]
    );
    assert_eq!(
        on(&[Edit::Region(RegionEdit::ClearColours {})]),
        [0.0, 0.0, 600.0]
    );
    let erase = patch("own", [5.0, 5.0, 10.0], UP, 30.0);
    assert_eq!(on(&[erase]), [0.0, 100.0, 500.0]);
    // A protected region loses nothing to any tool.
    let protect = Edit::Region(RegionEdit::ProtectRegion {
        region: "red".into(),
        is_protected: true,
    });
    let over = band(0.0, 20.0);
    let Edit::Give(GiveEdit::GiveBand {
        low_mm,
        high_mm,
        at,
        snap,
        count,
        pitch_mm,
        ..
    }) = over
    else {
        unreachable!()
    };
    let over = Edit::Give(GiveEdit::GiveBand {
        region: "blue".into(),
        low_mm,
        high_mm,
        at,
        snap,
        count,
        pitch_mm,
        only: None,
        depth: BandDepth::Skin,
    });
    assert_eq!(on(&[protect, over]), [100.0, 500.0, 0.0]);
}

#[test]
fn strays_are_found_told_apart_and_given_to_their_neighbours() {
    let plate = stl(&box_mesh([-50.0, -50.0, 0.0], [50.0, 50.0, 3.0]), "plate");
    let eye = [0.0, 0.0, 300.0];
    let big = stroke(Reach::Dab, &[[0.0, 0.0, 3.0]], 20.0, eye);
    let spot = |region: &str, x: f64, radius: f64| {
        let mut edit = stroke(Reach::Dab, &[[x, 0.0, 3.0]], radius, eye);
        if let Edit::Give(GiveEdit::GiveStroke { region: r, .. }) = &mut edit {
            *r = region.into();
        }
        edit
    };
    // A hole of another colour in red, a missed spot in red, a red island outside.
    let edits = [
        big,
        spot("blue", 5.0, 0.8),
        spot("own", -5.0, 0.7),
        spot("red", 35.0, 0.9),
    ];
    let (shelf, mut history) = job(&plate);
    for edit in edits {
        history.apply(edit, &shelf).expect("on the plate");
    }
    let before = area(&history, "red");
    let strays = &history.job().strays(4.0, 0.3).expect("sizes")[0];
    let kinds: Vec<String> = strays.iter().map(|s| format!("{:?}", s.kind)).collect();
    assert_eq!(kinds, ["Uncoloured", "Hole", "Island"]);
    for (stray, radius) in strays.iter().zip([0.7f64, 0.8, 0.9]) {
        assert!((stray.area_mm2 - PI * radius * radius).abs() < 0.05 * TAU * radius);
    }
    history
        .apply(
            Edit::Give(GiveEdit::GiveStray {
                at: at("it", [-5.0, 0.0, 3.0], UP),
            }),
            &shelf,
        )
        .expect("one");
    assert_eq!(history.job().strays(4.0, 0.3).expect("sizes")[0].len(), 2);
    let all = || {
        Edit::Give(GiveEdit::GiveStrays {
            smaller_mm2: 4.0,
            narrower_mm: 0.3,
        })
    };
    // One that is left on purpose stays, is listed last, and comes back when what is so is so no more.
    let accept = |what: &str, note: Option<&str>| {
        Edit::Plan(PlanEdit::Accept {
            snag: what.into(),
            note: note.map(Into::into),
        })
    };
    let hole = history.job().strays(4.0, 0.3).expect("sizes")[0][0].clone();
    assert!(hole.what.contains("Hole of blue"), "{}", hole.what);
    history
        .apply(accept(&hole.what, Some("an eye")), &shelf)
        .expect("a note");
    let listed = &history.job().strays(4.0, 0.3).expect("sizes")[0];
    let notes: Vec<Option<&str>> = listed.iter().map(|s| s.accepted.as_deref()).collect();
    assert_eq!(notes, [None, Some("an eye")]);
    history.apply(all(), &shelf).expect("the island");
    assert!(area(&history, "blue") > 0.0);
    assert_eq!(
        history.apply(all(), &shelf).expect_err("none").code,
        "strays-none"
    );
    history
        .apply(spot("blue", 5.5, 0.8), &shelf)
        .expect("wider");
    let listed = &history.job().strays(4.0, 0.3).expect("sizes")[0];
    assert_eq!(listed[0].accepted, None);
    history.apply(all(), &shelf).expect("all");
    assert_eq!(history.job().strays(4.0, 0.3).expect("sizes")[0].len(), 0);
    assert_eq!(area(&history, "blue"), 0.0);
    let spots = PI * (0.49 + 0.64 - 0.81);
    assert!((area(&history, "red") - before - spots).abs() < 0.6);
}

#[test]
fn many_facets_of_a_flat_face_act_as_one() {
    let bytes = stl(&subdivided_plate(20.0, 0.0, 40), "plate");
    let facet = |flat| {
        Edit::Give(GiveEdit::GiveFacets {
            region: "red".into(),
            at: vec![at("it", [0.1, 0.2, 1.0], UP)],
            flat,
        })
    };
    assert_relative_eq!(
        area(&after(&bytes, &[facet(false)]), "red"),
        0.125,
        max_relative = 1e-5
    );
    assert_relative_eq!(
        area(&after(&bytes, &[facet(true)]), "red"),
        400.0,
        max_relative = 1e-5
    );
}

// Placing, mending and history with divided facets.

#[test]
fn borders_go_with_the_model_when_it_is_placed() {
    let plate = stl(&box_mesh([-50.0, -30.0, 0.0], [50.0, 30.0, 3.0]), "plate");
    let dab = stroke(Reach::Dab, &[[30.0, 4.0, 3.0]], 5.0, [0.0, 0.0, 300.0]);
    let (shelf, mut history) = job(&plate);
    history.apply(dab, &shelf).expect("a dab");
    let before = area(&history, "red");
    let place = |placing| {
        Edit::Place(PlaceEdit::Place {
            target: Target::Everything,
            placing,
        })
    };
    let states: Vec<_> = [
        place(Placing::Mirror { axis: Axis::X }),
        place(Placing::Turn {
            axis: Axis::Z,
            degrees: 30.0,
        }),
        place(Placing::Size {
            axis: Axis::X,
            mm: 50.0,
            alone: false,
        }),
    ]
    .into_iter()
    .map(|edit| {
        let state = history.job().models[0].labels.clone();
        history.apply(edit, &shelf).expect("placed");
        state
    })
    .collect();
    let size = history.job().bounds().size();
    let factor = size[0] / (100.0 * 30f64.to_radians().cos() + 60.0 * 30f64.to_radians().sin());
    assert_relative_eq!(
        area(&history, "red"),
        before * factor * factor,
        max_relative = 1e-6
    );
    // The spot at x = 30 is at x = −30 after mirroring, then turned and scaled.
    let (s, c) = 30f64.to_radians().sin_cos();
    let foot = [
        factor * (-30.0 * c - 4.0 * s),
        factor * (-30.0 * s + 4.0 * c),
    ];
    let model = &history.job().models[0];
    let pieces = Pieces::of(&model.open, &model.labels);
    let top = model.open.mesh.bounds().max[2];
    let near = model
        .open
        .tree()
        .nearest([foot[0], foot[1], top], 1.0)
        .expect("on it");
    assert_eq!(
        pieces.label(pieces.at(near.facet, near.point)),
        history.job().region("red")
    );
    for state in states.iter().rev() {
        history.undo(&shelf).expect("back");
        assert_eq!(history.job().models[0].labels, *state);
    }
}

#[test]
fn an_edits_numbers_can_be_changed_and_everything_after_is_done_again() {
    let plate = stl(&box_mesh([-50.0, -50.0, 0.0], [50.0, 50.0, 20.0]), "block");
    let (shelf, mut history) = job(&plate);
    history.apply(band(5.0, 10.0), &shelf).expect("a band");
    let dab = stroke(Reach::Dab, &[[0.0, -50.0, 15.0]], 2.0, [0.0, -300.0, 15.0]);
    history.apply(dab.clone(), &shelf).expect("a dab");
    let before = area(&history, "red");
    let number = history.head() as u32 - 1;
    let change = |to: Edit| {
        Edit::Job(JobEdit::ChangeEdit {
            number,
            to: Box::new(to),
        })
    };
    history
        .apply(change(band(5.0, 8.0)), &shelf)
        .expect("changed");
    assert_relative_eq!(
        before - area(&history, "red"),
        2.0 * 400.0,
        max_relative = 1e-4
    );
    let steps = history.steps();
    assert_eq!(steps.len(), number as usize + 2);
    assert!(steps[number as usize - 1].is_changed);
    assert_eq!(
        steps[number as usize - 1].what,
        "Band from 5.00 to 8.00 mm to red"
    );
    // Another kind, a step that is none, and numbers that cannot be used are refused.
    for (edit, code) in [
        (change(dab), "step-of-another-kind"),
        (
            Edit::Job(JobEdit::ChangeEdit {
                number: 99,
                to: Box::new(band(1.0, 2.0)),
            }),
            "step-unknown",
        ),
        (change(band(90.0, 95.0)), "band-outside"),
    ] {
        assert_eq!(history.apply(edit, &shelf).expect_err("refused").code, code);
    }
    assert!(history.undo(&shelf).expect("back"));
    assert_relative_eq!(area(&history, "red"), before, max_relative = 1e-12);
    assert!(!history.steps()[number as usize - 1].is_changed);
    // The recipe of a changed job gives the same job.
    history.redo(&shelf).expect("again");
    let recipe = history.recipe(&[]);
    let mut edits: Vec<Edit> = vec![Edit::Model(ModelEdit::OpenModel {
        model: "it".into(),
        file: "it.stl".into(),
        content: "it".into(),
    })];
    edits.extend(recipe.edits);
    let count = edits.len();
    let again = History::replay(edits, count, &shelf).expect("replayed");
    assert_eq!(again.job().models[0].labels, history.job().models[0].labels);
}
