//! What is loaded against what is wanted: contacts, grams, and what is told before printing.

use crate::jobs_of::{at, job_of};
use crate::part_jobs::{TOP, do_all, near, near_share, part, patch, refused, region};
use rstest::rstest;
use std::f64::consts::PI;
use varichrom_core::advice::load::{
    Level, LoadCheck, LoadMend, PrinterReport, checks, spool_needs, use_loaded,
};
use varichrom_core::advice::{CheckedPlan, checked_plan};
use varichrom_core::colour::Colour;
use varichrom_core::job::{Edit, History, JobEdit, LoadEdit, PartEdit, RegionEdit, SlotEdit};
use varichrom_core::layers::{Settings, label, survey};
use varichrom_core::machine::{MachineKind, Printer, Spool};
use varichrom_demo::{
    COASTER_RADIUS_MM, box_mesh, compass_coaster, printer_report, rack, revolve, stl, together,
};

fn planned(h: &History) -> CheckedPlan {
    let job = h.job();
    let found = survey(
        job.bodies(),
        Settings::from(&job.printer),
        job.deepest_soak_mm(),
        &|_| true,
    )
    .unwrap();
    checked_plan(job, &rack(), &label(&found, &job.claims())).unwrap()
}

fn load(edit: LoadEdit) -> Edit {
    Edit::Load(edit)
}

fn spool_in(slot: u8, id: &str) -> Edit {
    Edit::Slot(SlotEdit::LoadSlot {
        slot,
        spool: Some(id.into()),
    })
}

fn codes(found: &[LoadCheck]) -> Vec<&str> {
    found.iter().map(|c| c.code).collect()
}

/// A slab of two colours, loaded with two spools.
fn two_coloured(first: &str, second: &str) -> (crate::jobs_of::Shelf, History) {
    let slab = stl(&box_mesh([0.0; 3], [40.0, 30.0, 6.0]), "slab");
    let (shelf, mut h) = job_of(&[("slab", &slab)]);
    do_all(
        &mut h,
        &shelf,
        vec![
            region("lid"),
            patch("lid", at("slab", [5.0, 5.0, 6.0], TOP)),
            spool_in(1, first),
            spool_in(2, second),
        ],
    );
    (shelf, h)
}

/// Area by which the only two regions touch.
fn contact(h: &History) -> f64 {
    let pairs = h.job().part_meetings(&|_, _| true).unwrap().pairs;
    let found = h.job().contacts(&pairs);
    assert_eq!(found.len(), 1, "{found:?}");
    found[0].area_mm2
}

fn give_part(key: &str, place: varichrom_core::model::Place) -> Edit {
    Edit::Region(RegionEdit::GivePart {
        region: key.into(),
        at: place,
    })
}

#[test]
fn contact_areas_are_those_of_the_formulas() {
    // One cylinder on another: the end of the smaller, as the polygon that it is.
    let sides = 96;
    let disc = |r: f64, low: f64, high: f64| {
        revolve(&[(0.0, low), (r, low), (r, high), (0.0, high)], sides)
    };
    let pile = together(&[disc(10.0, 0.0, 5.0), disc(6.0, 5.0, 12.0)]);
    let (shelf, mut h) = job_of(&[("pile", &stl(&pile, "pile"))]);
    let top = at("pile", [1.0, 0.5, 12.0], TOP);
    do_all(&mut h, &shelf, vec![region("top"), give_part("top", top)]);
    let n = sides as f64;
    let polygon = 0.5 * n * (2.0 * PI / n).sin() * 36.0;
    near_share(contact(&h), polygon, 1e-4);

    // A box in a box: all six sides of the inner one.
    let files = [
        ("outer", stl(&box_mesh([-10.0; 3], [10.0; 3]), "outer")),
        ("inner", stl(&box_mesh([-4.0; 3], [4.0; 3]), "inner")),
    ];
    let (shelf, mut h) = job_of(&[("outer", &files[0].1), ("inner", &files[1].1)]);
    let inner = at("inner", [0.0, 0.0, 4.0], TOP);
    do_all(
        &mut h,
        &shelf,
        vec![region("core"), give_part("core", inner)],
    );
    near(contact(&h), 6.0 * 64.0);

    // A painted top lies on the rest over its area, and stands beside it along its border as deep as it soaks in.
    let (_, h) = two_coloured("chalk", "amber");
    near(contact(&h), 40.0 * 30.0 + 2.0 * (40.0 + 30.0) * 0.8);
}

#[test]
fn the_coaster_s_ring_touches_its_disc_the_same_before_and_after_it_is_cut_out() {
    let (shelf, mut h) = job_of(&[("coaster", &stl(&compass_coaster(), "coaster"))]);
    let disc = at("coaster", [0.0, 0.0, 0.0], [0.0, 0.0, -1.0]);
    let ring = at("coaster", [COASTER_RADIUS_MM - 5.5, 0.0, 4.6], TOP);
    let above = part(PartEdit::Order {
        at: ring.clone(),
        beside: disc.clone(),
        above: true,
    });
    do_all(
        &mut h,
        &shelf,
        vec![region("ring"), give_part("ring", ring.clone()), above],
    );
    let before = contact(&h);
    // The ring of 144 sides from 38 to 41 mm lies 1 mm deep in the disc: its underside and both its walls.
    let sides = 144.0f64;
    let half = PI / sides;
    let area = sides * half.sin() * half.cos() * (41.0f64.powi(2) - 38.0f64.powi(2));
    let walls = 2.0 * sides * half.sin() * (41.0 + 38.0);
    near_share(before, area + walls, 1e-3);
    do_all(
        &mut h,
        &shelf,
        vec![part(PartEdit::CutOverlap {
            keep: ring,
            from: disc,
        })],
    );
    near_share(contact(&h), before, 1e-3);
}

#[test]
fn what_spools_give_sums_to_the_bill_and_slots_that_change_places_change_nothing() {
    let (shelf, mut h) = two_coloured("chalk", "soot");
    let before = planned(&h);
    let needs = spool_needs(h.job(), &rack(), &before);
    let sum: f64 = needs.iter().map(|n| n.grams()).sum();
    let bill = before.bill;
    near_share(sum, bill.model_g + bill.purge_g + bill.tower_g, 1e-12);
    assert!(needs[0].model_g > 0.0 && needs[1].model_g > 0.0 && needs[2].grams() == 0.0);
    do_all(
        &mut h,
        &shelf,
        vec![load(LoadEdit::Exchange { a: 1, b: 2 })],
    );
    assert_eq!(h.job().slots[0].as_deref(), Some("soot"));
    assert_eq!(
        (h.job().regions[0].slot, h.job().regions[1].slot),
        (Some(2), Some(1))
    );
    let after = planned(&h);
    near_share(after.bill.purge_g, bill.purge_g, 1e-9);
    near_share(after.bill.cost, bill.cost, 1e-9);
    assert_eq!(after.bill.swaps, bill.swaps);
}

#[test]
fn proposed_slots_stay_marked_until_confirmed_or_chosen() {
    let slab = stl(&box_mesh([0.0; 3], [40.0, 30.0, 6.0]), "slab");
    let (shelf, mut h) = job_of(&[("slab", &slab)]);
    do_all(&mut h, &shelf, ["a", "b", "c", "d"].map(region).to_vec());
    let slots = |h: &History| -> Vec<(Option<u8>, bool)> {
        h.job().regions[1..]
            .iter()
            .map(|r| (r.slot, r.is_proposed))
            .collect()
    };
    // Each free slot is proposed once; when none is left, none is dealt out again.
    let proposed = [2, 3, 4].map(|s| (Some(s), true));
    assert_eq!(slots(&h), [&proposed[..], &[(None, false)]].concat());
    do_all(
        &mut h,
        &shelf,
        vec![
            Edit::Slot(SlotEdit::AssignSlot {
                region: "a".into(),
                slot: Some(2),
            }),
            load(LoadEdit::Confirm {
                region: Some("b".into()),
            }),
        ],
    );
    assert_eq!(slots(&h)[..3].iter().filter(|s| s.1).count(), 1);
    do_all(
        &mut h,
        &shelf,
        vec![load(LoadEdit::Confirm { region: None })],
    );
    assert!(slots(&h).iter().all(|s| !s.1));
    do_all(&mut h, &shelf, vec![load(LoadEdit::All { slot: 3 })]);
    assert!(slots(&h).iter().all(|s| *s == (Some(3), false)));
}

#[test]
fn everything_that_would_go_wrong_is_told_with_its_mend() {
    // PLA under PETG: they do not bond, and one nozzle has to reach both temperatures.
    let (shelf, mut h) = two_coloured("chalk", "amber");
    let told = |h: &History, rack: &[Spool], report: Option<&PrinterReport>| {
        let job = h.job();
        let pairs = job.part_meetings(&|_, _| true).unwrap().pairs;
        checks(
            job,
            rack,
            Some(&planned(h)),
            Some(&job.contacts(&pairs)),
            report,
        )
    };
    let found = told(&h, &rack(), None);
    let bond = found
        .iter()
        .find(|c| c.code == "plastics-do-not-bond")
        .unwrap();
    assert!(
        bond.level == Level::Wrong && bond.message.contains("1312 mm²"),
        "{}",
        bond.message
    );
    assert!(codes(&found).contains(&"temperature-gap"));
    assert!(found.is_sorted_by_key(|c| c.level));

    // A spool that is nearly empty: another of its plastic, or none, is offered.
    do_all(&mut h, &shelf, vec![spool_in(2, "buoy")]);
    let mut small = rack();
    small.iter_mut().for_each(|s| {
        if s.id == "buoy" {
            s.left_g = 0.2;
        }
    });
    let short = told(&h, &small, None);
    let short = short.iter().find(|c| c.code == "spool-short").unwrap();
    let Some(LoadMend::Edit { edit, .. }) = &short.mend else {
        panic!("{short:?}")
    };
    do_all(&mut h, &shelf, vec![(**edit).clone()]);
    assert!(!codes(&told(&h, &small, None)).contains(&"spool-short"));

    // Alike, unused, gone, and clear as a skin.
    do_all(
        &mut h,
        &shelf,
        vec![
            spool_in(1, "soot"),
            spool_in(2, "sea-glass"),
            spool_in(3, "cork"),
            spool_in(4, "nothing"),
        ],
    );
    let found = told(&h, &rack(), None);
    for code in ["needs-own-part", "spool-unused", "spool-gone"] {
        assert!(codes(&found).contains(&code), "{code}: {:?}", codes(&found));
    }
    let mut twins = rack();
    twins.push(Spool {
        id: "soot-2".into(),
        ..twins.iter().find(|s| s.id == "soot").unwrap().clone()
    });
    do_all(&mut h, &shelf, vec![spool_in(2, "soot-2")]);
    let found = told(&h, &twins, None);
    let alike = found.iter().find(|c| c.code == "spools-alike").unwrap();
    let Some(LoadMend::Edit { edit, .. }) = &alike.mend else {
        panic!("{alike:?}")
    };
    do_all(&mut h, &shelf, vec![(**edit).clone()]);
    assert_eq!(planned(&h).bill.swaps, 0);
}

#[test]
fn a_wrong_printer_is_caught_and_what_it_holds_can_be_used() {
    let (shelf, mut h) = two_coloured("chalk", "rust-red");
    let mut report = printer_report();
    report.places[2].spool = None;
    report.places[3].spool = None;
    let job_checks =
        |h: &History, report: &PrinterReport| checks(h.job(), &rack(), None, None, Some(report));
    assert!(codes(&job_checks(&h, &report)).contains(&"printer-fine"));
    // Its two spools are the other way round, and its nozzle is another.
    let (first, second) = report.places.split_at_mut(1);
    std::mem::swap(&mut first[0].spool, &mut second[0].spool);
    report.nozzle_mm = 0.6;
    let found = job_checks(&h, &report);
    assert_eq!(
        codes(&found)[..3],
        [
            "nozzle-differs",
            "printer-slot-differs",
            "printer-slot-differs"
        ]
    );
    let (new, edit) = use_loaded(h.job(), &rack(), &report);
    assert!(new.is_empty());
    do_all(&mut h, &shelf, vec![load(edit)]);
    // Every region keeps its colour by the other slot.
    assert_eq!(
        (h.job().regions[0].slot, h.job().regions[1].slot),
        (Some(2), Some(1))
    );
    assert_eq!(
        codes(&job_checks(&h, &report))
            .iter()
            .filter(|c| c.starts_with("printer-slot"))
            .count(),
        0
    );
    // A spool that is not on the rack is put there.
    report.places[0].spool.as_mut().unwrap().name = "Kelp PLA".into();
    report.places[0].spool.as_mut().unwrap().colour = Colour([0x20, 0x60, 0x40]);
    let (new, _) = use_loaded(h.job(), &rack(), &report);
    assert_eq!((new.len(), new[0].id.as_str()), (1, "kelp-pla"));
    new[0].check().unwrap();
}

#[test]
fn a_mixing_nozzle_prints_what_its_feeds_make_and_refuses_shares_that_cannot_be() {
    let (shelf, mut h) = two_coloured("chalk", "soot");
    let mixer = Printer::examples()
        .into_iter()
        .find(|p| matches!(p.kind, MachineKind::Mixing { .. }))
        .unwrap();
    do_all(
        &mut h,
        &shelf,
        vec![
            Edit::Slot(SlotEdit::SetPrinter { printer: mixer }),
            spool_in(3, "rust-red"),
        ],
    );
    assert_eq!(
        h.job().feeds.iter().flatten().collect::<Vec<_>>(),
        ["chalk", "soot", "rust-red"]
    );
    let mixture = |shares: &[f64]| {
        load(LoadEdit::Mixture {
            slot: 2,
            shares: shares.to_vec(),
        })
    };
    for (shares, code) in [
        (&[0.5, 0.5][..], "shares"),
        (&[0.5, 0.49, 0.0][..], "shares"),
        (&[0.5, 0.3, 0.3][..], "shares"),
        (&[0.5, f64::NAN, 0.5][..], "shares"),
    ] {
        refused(&mut h, &shelf, mixture(shares), code);
    }
    do_all(&mut h, &shelf, vec![mixture(&[0.9, 0.05, 0.05])]);
    let plan = planned(&h);
    let needs = spool_needs(h.job(), &rack(), &plan);
    assert_eq!(needs.len(), 3);
    let sum: f64 = needs.iter().map(|n| n.grams()).sum();
    near_share(
        sum,
        plan.bill.model_g + plan.bill.purge_g + plan.bill.tower_g,
        1e-9,
    );
    // All of the same plastic: slot 2's share of chalk is nine tenths of it, slot 1's a third.
    let of = |slot: usize| plan.needs[slot].model_g;
    near_share(needs[0].model_g, of(0) / 3.0 + 0.9 * of(1), 1e-9);
}

#[test]
fn tools_of_their_own_rinse_nothing_and_prime_instead() {
    let (shelf, mut h) = two_coloured("chalk", "soot");
    let rinsed = planned(&h).bill;
    let twin = Printer::examples()
        .into_iter()
        .find(|p| p.kind == MachineKind::Tools)
        .unwrap();
    let prime_mm3 = twin.prime_mm3;
    let twin = Printer {
        ooze_mm3_min: 0.0,
        ..twin
    };
    do_all(
        &mut h,
        &shelf,
        vec![Edit::Slot(SlotEdit::SetPrinter { printer: twin })],
    );
    let plan = planned(&h);
    assert!(plan.pairs.is_empty() && plan.bill.purge_g < rinsed.purge_g);
    for swap in &plan.swaps {
        near(swap.purge_mm3, prime_mm3);
    }
}

#[rstest]
#[case(LoadEdit::Exchange { a: 1, b: 9 }, "slot-unknown")]
#[case(LoadEdit::All { slot: 0 }, "slot-unknown")]
#[case(LoadEdit::Confirm { region: Some("none".into()) }, "region-unknown")]
#[case(LoadEdit::Places { places: vec![1, 2, 2, 4] }, "places-not-each-once")]
#[case(LoadEdit::Places { places: vec![1, 2, 3] }, "places-not-each-once")]
#[case(LoadEdit::Mixture { slot: 1, shares: vec![0.5, 0.5] }, "not-a-mixing-nozzle")]
#[case(LoadEdit::Bay { spools: [(7, None)].into(), regions: [("lid".to_string(), Some(3))].into() }, "slot-unknown")]
#[case(LoadEdit::Bay { spools: [(1, None)].into(), regions: [("none".to_string(), Some(3))].into() }, "region-unknown")]
fn a_load_edit_that_cannot_be_is_refused_and_changes_nothing(
    #[case] edit: LoadEdit,
    #[case] code: &str,
) {
    let (shelf, mut h) = two_coloured("chalk", "soot");
    let (slots, regions) = (h.job().slots.clone(), h.job().regions.clone());
    refused(&mut h, &shelf, load(edit), code);
    assert_eq!((&h.job().slots, &h.job().regions), (&slots, &regions));
}

#[test]
fn a_bay_comes_back_from_what_is_stored_alone_and_among_others() {
    let bay = load(LoadEdit::Bay {
        spools: [(1, Some("chalk".into())), (12, None)].into(),
        regions: [("lid".to_string(), Some(3))].into(),
    });
    let several = Edit::Job(JobEdit::Several {
        what: "Two".into(),
        edits: vec![bay.clone(), bay.clone()],
    });
    for edit in [bay, several] {
        let stored = serde_json::to_string(&edit).unwrap();
        assert_eq!(serde_json::from_str::<Edit>(&stored).unwrap(), edit);
    }
    let wrong = r#"{"edit":"load","do":"bay","spools":{"first":"chalk"}}"#;
    let refused = serde_json::from_str::<Edit>(wrong).unwrap_err();
    assert!(
        refused.to_string().contains("first is not the number"),
        "{refused}"
    );
}

#[rstest]
#[case("")]
#[case("<html>hello</html>")]
#[case("{\"name\": \"x\"}")]
#[case(r##"{"name":"x","kind":"feeder","nozzle_mm":0,"bed_mm":[200,200,200],"places":[]}"##)]
#[case(r##"{"name":"x","kind":"feeder","nozzle_mm":0.4,"bed_mm":[200,200,-1],"places":[]}"##)]
#[case(r##"{"name":"x","kind":"feeder","nozzle_mm":0.4,"bed_mm":[200,200,200],"places":[{"place":1,"spool":null},{"place":1,"spool":null}]}"##)]
#[case(r##"{"name":"x","kind":"feeder","nozzle_mm":0.4,"bed_mm":[200,200,200],"places":[{"place":1,"spool":{"name":"n","colour":"#ffffff","material":"PLA","left_g":-3}}]}"##)]
fn nonsense_is_told_as_such(#[case] answer: &str) {
    let refused = PrinterReport::from_json(answer.as_bytes()).unwrap_err();
    assert_eq!(refused.code, "printer-nonsense");
}
