//! Plans on every kind of machine: by hand, quick, other plastics, passes, tools, and what will not print as planned.

use crate::jobs_of::job_of;
use crate::made_layers::{job, planned};
use approx::assert_relative_eq;
use varichrom_core::advice::{Caution, CheckedPlan, checked_plan};
use varichrom_core::job::{Edit, GiveEdit, History, Job, RegionEdit, SlotEdit};
use varichrom_core::layers::{Settings, label, survey};
use varichrom_core::machine::{HandSwap, MachineKind, Printer};
use varichrom_core::plan::timed_printer;
use varichrom_core::rules::PurgePlaces;
use varichrom_demo::{box_mesh, float_in_ring, gull, pier_light, rack, stl};

fn caution<'a>(plan: &'a CheckedPlan, code: &str) -> Option<&'a Caution> {
    plan.cautions.iter().find(|c| c.code == code)
}

/// Four slots in every layer.
const ALL: [[f64; 4]; 3] = [[50.0; 4]; 3];

#[test]
fn by_hand_and_quick_say_what_they_risk() {
    let areas = [[50.0, 50.0, 0.0, 0.0]; 4];
    let mut job = job();
    job.rules.places = PurgePlaces {
        by_hand_mm: Some(20.0),
        ..PurgePlaces::default()
    };
    let p = planned(&job, &areas);
    assert!(
        p.swaps
            .iter()
            .all(|s| (s.purge_mm - 20.0).abs() < 1e-9 && s.split.hand_mm3 > 0.0)
    );
    assert!(p.tower.is_none());
    assert!(caution(&p, "hand-too-short").is_some());
    job.rules.places.by_hand_mm = Some(400.0);
    assert!(caution(&planned(&job, &areas), "hand-too-short").is_none());
    job.rules.places.by_hand_mm = None;
    job.rules.is_quick = true;
    let p = planned(&job, &areas);
    assert_eq!(
        (p.bill.purge_g, p.bill.tower_g, p.swaps.len()),
        (0.0, 0.0, 4)
    );
    let risk = caution(&p, "quick").expect("it says so");
    assert!(
        risk.message.contains("4 swaps") && risk.edit.is_some(),
        "{risk:?}"
    );
}

#[test]
fn another_plastic_adds_a_melt_zone_and_waits_for_its_temperature() {
    // Slot 4 holds PETG at 225 to 250 °C, the others PLA at 190 to 220 °C: a gap of 5 °C, and 32.5 °C from the middle of the one to
    // that of the other, at 2 °C a second.
    let areas = [[50.0, 0.0, 0.0, 50.0]; 2];
    let p = planned(&job(), &areas);
    let zone = Printer::default().melt.volume_mm3;
    for swap in &p.swaps {
        assert_relative_eq!(
            swap.extra_mm3,
            zone * (1.0 + 5.0 / 50.0),
            max_relative = 1e-9
        );
        assert_relative_eq!(swap.heat_s, 16.25, max_relative = 1e-9);
    }
    assert_relative_eq!(p.bill.times.heating_s, 16.25 * p.swaps.len() as f64);
    let plain = planned(&job(), &[[50.0, 50.0, 0.0, 0.0]; 2]);
    assert!(
        plain
            .swaps
            .iter()
            .all(|s| s.extra_mm3 == 0.0 && s.heat_s == 0.0)
    );
}

fn by_hand(how: HandSwap) -> Job {
    let mut job = job();
    job.printer.kind = MachineKind::ByHand { how };
    job
}

#[test]
fn passes_print_one_colour_after_the_other_where_the_nozzle_clears() {
    // Slot 1 in the lower four layers, slot 2 from the third on: 0.4 mm to dip, less than a millimetre.
    let areas = [
        [50.0, 0.0, 0.0, 0.0],
        [50.0, 0.0, 0.0, 0.0],
        [50.0, 20.0, 0.0, 0.0],
        [50.0, 20.0, 0.0, 0.0],
        [0.0, 20.0, 0.0, 0.0],
    ];
    let p = planned(&by_hand(HandSwap::PassPerColour), &areas);
    assert_eq!(
        (p.swaps.len(), p.swaps[0].layer, p.bill.hand_swaps),
        (1, 2, 1)
    );
    // No layer stands open between passes: nothing goes into a tower, though places say so.
    let split = p.swaps[0].split;
    assert!(p.tower.is_none() && p.is_by_passes);
    assert!(split.hand_mm3 > 0.0 && split.hand_mm3 == p.swaps[0].purge_mm3);
    let pause = planned(&by_hand(HandSwap::AtPause), &areas);
    assert!(pause.swaps.len() > 1 && pause.bill.hand_swaps == pause.swaps.len());
    // Twenty layers of both: neither can go first.
    let p = planned(
        &by_hand(HandSwap::PassPerColour),
        &[[50.0, 20.0, 0.0, 0.0]; 20],
    );
    let collide = caution(&p, "passes-collide").expect("it says so");
    assert!(collide.is_wrong && collide.edit.is_some());
    assert_eq!(p.swaps.len(), 20);
}

#[test]
fn tools_prime_and_ooze_but_do_not_rinse() {
    let mut job = job();
    job.printer.kind = MachineKind::Tools;
    job.printer.ooze_mm3_min = 0.0;
    let areas = [[500.0, 50.0, 0.0, 0.0]; 6];
    let dry = planned(&job, &areas);
    assert!(dry.pairs.is_empty());
    assert!(
        dry.swaps
            .iter()
            .all(|s| s.purge_mm3 == job.printer.prime_mm3)
    );
    job.printer.ooze_mm3_min = 1.0;
    let wet = planned(&job, &areas);
    assert!(wet.bill.purge_g > dry.bill.purge_g);
    // A nozzle holds no more than it holds.
    job.printer.ooze_mm3_min = 100.0;
    let soaked = planned(&job, &areas);
    assert!(soaked.swaps.iter().all(|s| s.extra_mm3 <= 20.0 + 1e-9));
}

#[test]
fn layers_too_high_and_empty_slots_are_told_with_a_mend() {
    let mut job = job();
    job.printer.layer_mm = 0.4;
    let p = planned(&job, &ALL);
    let high = caution(&p, "layer-too-high").expect("0.4 mm from a nozzle of 0.4 mm");
    assert!(high.is_wrong && high.message.contains("0.32"), "{high:?}");
    let Some(Edit::Slot(SlotEdit::SetPrinter { printer })) = &high.edit else {
        panic!("a printer that can")
    };
    assert_eq!(printer.layer_mm, 0.32);
    job.printer.layer_mm = 0.2;
    job.slots[2] = None;
    let p = planned(&job, &ALL);
    let empty = caution(&p, "slot-empty").expect("slot 3");
    assert!(empty.message.contains("Slot 3"), "{empty:?}");
}

#[test]
fn a_known_print_sets_the_pace() {
    let job = job();
    let p = planned(&job, &ALL);
    let slower = timed_printer(&job.printer, &p, p.bill.time_s + 60.0).expect("it fits");
    assert!(slower.time_factor > 1.0);
    let mut timed = job.clone();
    timed.printer = slower;
    assert_relative_eq!(
        planned(&timed, &ALL).bill.time_s,
        p.bill.time_s + 60.0,
        max_relative = 1e-9
    );
    assert_eq!(
        timed_printer(&job.printer, &p, 10.0)
            .expect_err("too short")
            .code,
        "time-no-fit"
    );
}

fn planned_of(history: &History) -> CheckedPlan {
    let job = history.job();
    let found = survey(job.bodies(), Settings::from(&job.printer), 0.8, &|_| true);
    let shares = label(&found.expect("not stopped"), &job.claims());
    checked_plan(job, &rack(), &shares).expect("few slots")
}

/// At 100 % infill what is extruded is the volume of the mesh: within 1 %, as layers cut a slope into steps.
#[test]
fn a_solid_print_extrudes_the_volume_of_its_mesh() {
    for mesh in [pier_light(), gull(), float_in_ring()] {
        let (shelf, mut history) = job_of(&[("it", &stl(&mesh, "it"))]);
        let printer = Printer {
            infill: 1.0,
            layer_mm: 0.1,
            first_layer_mm: 0.1,
            ..Printer::default()
        };
        history
            .apply(Edit::Slot(SlotEdit::SetPrinter { printer }), &shelf)
            .expect("a printer");
        let volume = history.job().models[0].open.volume_mm3();
        let plan = planned_of(&history);
        let extruded: f64 = plan
            .layers
            .iter()
            .flat_map(|l| l.extruded_mm3.values())
            .sum();
        assert_relative_eq!(extruded, volume, max_relative = 0.01);
    }
}

#[test]
fn a_tower_stands_clear_of_the_models_or_is_said_to_find_no_room() {
    let place = |size: f64| {
        let bytes = stl(&box_mesh([0.0; 3], [size, size, 4.0]), "plate");
        let (shelf, mut history) = job_of(&[("plate", &bytes)]);
        let top = crate::jobs_of::at("plate", [5.0, 5.0, 4.0], [0.0, 0.0, 1.0]);
        for edit in [
            Edit::Region(RegionEdit::AddRegion {
                region: "lid".into(),
                name: "Lid".into(),
                colour: "#171718".parse().expect("a colour"),
                slot: Some(2),
            }),
            Edit::Give(GiveEdit::GivePatch {
                region: "lid".into(),
                at: top,
                crease_deg: 30.0,
                within: Default::default(),
                turn_deg: None,
            }),
        ] {
            history.apply(edit, &shelf).expect("sound");
        }
        (planned_of(&history), shelf, history)
    };
    let (plan, ..) = place(100.0);
    let tower = plan.tower.expect("a swap");
    let [x, y] = tower.at.expect("room beside it");
    // Beside the plate, five millimetres clear, and on the bed of 220 mm around its middle.
    assert_relative_eq!(x - 0.5 * tower.side_mm, 105.0, max_relative = 1e-9);
    assert_relative_eq!(y, 50.0, max_relative = 1e-9);
    assert!(x + 0.5 * tower.side_mm <= 50.0 + 110.0);
    let (full, shelf, mut history) = place(205.0);
    let none = caution(&full, "tower-no-room").expect("it says so");
    assert!(none.is_wrong && full.tower.is_some_and(|t| t.at.is_none()));
    history
        .apply(none.edit.clone().expect("a mend"), &shelf)
        .expect("it can be done");
    let mended = planned_of(&history);
    assert!(mended.tower.is_none() && caution(&mended, "tower-no-room").is_none());
    assert_eq!(mended.bill.swaps, full.bill.swaps);
}
