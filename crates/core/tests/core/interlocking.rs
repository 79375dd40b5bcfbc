//! Teeth between parts: inside only, closed, apart, and with just the area and volume of their form.

use crate::jobs_of::{Shelf, at, job_of};
use crate::judge::solid;
use crate::part_jobs::{TOP, do_all, part, refused, region};
use approx::assert_relative_eq;
use rstest::rstest;
use varichrom_core::advice::load::{LoadMend, checks};
use varichrom_core::job::{CutPlane, Edit, History, PartEdit, PartMeeting};
use varichrom_core::solids::{
    Interlocked, Meeting, Plane, Solid, TeethError, TeethForm, Wanted, boolean, cut_by_plane,
    interlocked, meetings,
};
use varichrom_demo::{box_mesh, gull, rack, revolve, stl, subdivided_sphere};

fn form(size_mm: f64, is_dovetail: bool) -> TeethForm {
    TeethForm {
        size_mm,
        is_dovetail,
        wall_mm: 0.8,
    }
}

/// How two bodies meet, if they only touch; mm².
fn contact(a: &Solid, b: &Solid) -> f64 {
    let found = meetings(&[a.clone(), b.clone()], &|_, _| true).expect("not stopped");
    match &found[..] {
        [pair] => match pair.meeting {
            Meeting::Touch { area_mm2 } => area_mm2,
            ref other => panic!("{other:?}"),
        },
        other => panic!("{} pairs", other.len()),
    }
}

/// Inclusion–exclusion: what both hold together is what they held, and neither has grown outward.
fn assert_held(before: [&Solid; 2], made: &Interlocked) {
    let [a, b] = &made.bodies;
    assert!(a.check().is_ok() && b.check().is_ok());
    let sum = |a: &Solid, b: &Solid| a.volume_mm3() + b.volume_mm3();
    assert_relative_eq!(sum(a, b), sum(before[0], before[1]), max_relative = 1e-9);
    assert!(a.volume_mm3() > before[0].volume_mm3());
    let around = |a: &Solid, b: &Solid| {
        let mut bounds = a.bounds();
        bounds.join(&b.bounds());
        bounds
    };
    assert_eq!(around(a, b), around(before[0], before[1]));
}

#[rstest]
#[case::teeth(false, 27.0, 36.0)]
// A frustum of 2.1 and 3 mm, 3 mm high: h/3 (a² + ab + b²), and its slant sides.
#[case::dovetails(true, 2.1 * 2.1 + 2.1 * 3.0 + 9.0, 9.0 - 2.1 * 2.1 + 2.0 * 5.1 * 3.033562)]
fn two_blocks_are_held_by_teeth_of_the_volume_and_area_of_the_formula(
    #[case] is_dovetail: bool,
    #[case] volume: f64,
    #[case] area: f64,
) {
    let low = solid(&box_mesh([0.0; 3], [20.0, 20.0, 10.0]));
    let high = solid(&box_mesh([0.0, 0.0, 10.0], [20.0, 20.0, 20.0]));
    let form = form(3.0, is_dovetail);
    let made = interlocked(&low, &high, &form).expect("room");
    assert!(made.teeth >= 9, "{} teeth", made.teeth);
    assert_held([&low, &high], &made);
    let count = made.teeth as f64;
    let grown = made.bodies[0].volume_mm3() - low.volume_mm3();
    assert_relative_eq!(grown, count * volume, max_relative = 1e-6);
    let touching = contact(&made.bodies[0], &made.bodies[1]);
    assert_relative_eq!(touching, 400.0 + count * area, max_relative = 1e-6);
    assert_relative_eq!(form.added_mm2(), area, max_relative = 1e-6);
}

#[test]
fn a_core_in_a_tube_a_halved_ball_and_a_cut_bird_are_held() {
    let cylinder = |radius: f64, low: f64, high: f64| {
        let profile = [(0.0, low), (radius, low), (radius, high), (0.0, high)];
        solid(&revolve(&profile, 64))
    };
    let core = cylinder(8.0, 0.0, 20.0);
    let bore = cylinder(8.0, -1.0, 21.0);
    let tube = boolean(&cylinder(16.0, 0.0, 20.0), &bore, Wanted::Without).expect("a tube");
    let halves = |whole: &Solid, normal: [f64; 3], offset: f64| {
        let cut = cut_by_plane(whole, &Plane { normal, offset }).expect("a clean cut");
        (cut.below, cut.above)
    };
    let ball = halves(&solid(&subdivided_sphere(10.0, 4)), [0.0, 0.6, 0.8], 1.0);
    let bird = halves(&solid(&gull()), [0.0, 0.0, 1.0], 25.3);
    for (name, (a, b), size_mm) in [
        ("tube", (core, tube), 2.0),
        ("ball", ball, 2.0),
        ("bird", bird, 1.5),
    ] {
        for is_dovetail in [false, true] {
            let made = interlocked(&a, &b, &form(size_mm, is_dovetail));
            let made = made.unwrap_or_else(|e| panic!("{name}: {e}"));
            assert!(made.teeth >= 4, "{name}: {} teeth", made.teeth);
            assert_held([&a, &b], &made);
        }
    }
}

#[rstest]
#[case::apart([0.0, 0.0, 10.5], [20.0, 20.0, 20.0], 2.0, TeethError::Apart)]
#[case::a_coat([0.0, 0.0, 10.0], [20.0, 20.0, 10.6], 2.0, TeethError::NoRoom)]
#[case::a_border_too_short([19.0, 0.0, 10.0], [29.0, 20.0, 20.0], 2.0, TeethError::NoRoom)]
#[case::far_too_many([0.0, 0.0, 10.0], [20.0, 20.0, 20.0], 0.005, TeethError::TooMany)]
fn where_no_tooth_fits_it_is_said(
    #[case] low: [f64; 3],
    #[case] high: [f64; 3],
    #[case] size_mm: f64,
    #[case] why: TeethError,
) {
    let below = solid(&box_mesh([0.0; 3], [20.0, 20.0, 10.0]));
    let above = solid(&box_mesh(low, high));
    let refused = interlocked(&below, &above, &form(size_mm, false)).expect_err("no room");
    assert_eq!(refused, why);
}

/// A block of two plastics that do not bond, one above the other.
fn halved() -> (Shelf, History) {
    let block = stl(&box_mesh([0.0; 3], [30.0, 20.0, 20.0]), "block");
    let (shelf, mut h) = job_of(&[("block", &block)]);
    let above = at("block", [1.0, 1.0, 20.0], TOP);
    let edits = vec![
        region("lens"),
        part(PartEdit::Cut {
            at: above.clone(),
            plane: CutPlane::Height { mm: 10.0 },
            alike: false,
        }),
        serde_json::from_value(
            serde_json::json!({"edit": "give-part", "region": "lens", "at": above}),
        )
        .expect("an edit"),
    ];
    do_all(&mut h, &shelf, edits);
    for (slot, spool) in [(1, "chalk"), (2, "amber")] {
        let edit = serde_json::json!({"edit": "load-slot", "slot": slot, "spool": spool});
        do_all(
            &mut h,
            &shelf,
            vec![serde_json::from_value(edit).expect("an edit")],
        );
    }
    (shelf, h)
}

#[test]
fn plastics_that_do_not_bond_are_interlocked_by_the_check_that_finds_them() {
    let (shelf, mut h) = halved();
    let told = |h: &History| {
        let job = h.job();
        let pairs = job.part_meetings(&|_, _| true).expect("not stopped").pairs;
        let contacts = job.contacts(&pairs);
        let found = checks(job, &rack(), None, Some(&contacts), None);
        let bond = found.into_iter().find(|c| c.code == "plastics-do-not-bond");
        let PartMeeting::Touch { area_mm2 } = pairs[0].meeting else {
            panic!("{:?}", pairs[0].meeting)
        };
        (bond.expect("PLA on PETG"), area_mm2)
    };
    let (bond, area) = told(&h);
    assert_relative_eq!(area, 600.0, max_relative = 1e-6);
    let Some(LoadMend::Edit { label, edit }) = bond.mend else {
        panic!("{:?}", bond.mend)
    };
    h.apply(*edit, &shelf).expect("room for teeth");
    let (bond, area) = told(&h);
    assert!(
        label.ends_with(&format!("600 to {area:.0} mm²")),
        "{label}, {area}"
    );
    assert!(bond.message.ends_with("held by teeth."), "{}", bond.message);
    assert!(matches!(bond.mend, Some(LoadMend::Show { .. })));
    // Colours stay where they were.
    let job = h.job();
    let own: Vec<u16> = job.models[0].parts.iter().map(|p| p.own).collect();
    assert_eq!(own.len(), 2);
    assert!(own.contains(&0) && own.contains(&1));
}

#[test]
fn what_cannot_be_interlocked_changes_nothing() {
    let (shelf, mut h) = halved();
    let (above, below) = (
        at("block", [1.0, 1.0, 20.0], TOP),
        at("block", [1.0, 1.0, 0.0], [0.0, 0.0, -1.0]),
    );
    let teeth = |at: &_, into: &_, size_mm: f64| -> Edit {
        part(PartEdit::Interlock {
            at: Clone::clone(at),
            into: Clone::clone(into),
            size_mm,
            dovetail: false,
        })
    };
    refused(&mut h, &shelf, teeth(&above, &above, 2.0), "teeth-itself");
    refused(&mut h, &shelf, teeth(&above, &below, 40.0), "teeth-no-room");
    for size_mm in [0.0, -1.0, f64::NAN, 1e9] {
        refused(
            &mut h,
            &shelf,
            teeth(&above, &below, size_mm),
            "teeth-out-of-range",
        );
    }
    do_all(&mut h, &shelf, vec![teeth(&above, &below, 3.0)]);
    let words = h.steps().last().expect("a step").what.clone();
    assert_eq!(words, "Interlock two parts with teeth of 3 mm");
    refused(&mut h, &shelf, teeth(&above, &below, 2.0), "teeth-already");
    refused(&mut h, &shelf, teeth(&below, &above, 2.0), "teeth-already");
    // A part that is cut may have its teeth on either piece: nothing says that it is held.
    let cut = part(PartEdit::Cut {
        at: above.clone(),
        plane: CutPlane::Height { mm: 17.0 },
        alike: false,
    });
    do_all(&mut h, &shelf, vec![cut]);
    let held = |h: &History| -> usize {
        let parts = &h.job().models[0].parts;
        let holds = |p: &&varichrom_core::job::JobPart| {
            parts
                .iter()
                .any(|q| q.held_to.contains(&p.key) && p.held_to.contains(&q.key))
        };
        parts.iter().filter(holds).count()
    };
    assert_eq!(held(&h), 0);
    h.undo(&shelf).expect("undone");
    assert_eq!(held(&h), 2);
    let after = h.job().models[0].open.volume_mm3();
    assert_relative_eq!(after, 12_000.0, max_relative = 1e-5);
    h.undo(&shelf).expect("undone");
    assert!(h.job().models[0].parts.iter().all(|p| p.held_to.is_empty()));
}
