//! Regions that take purge: no swap for them, no more waste, nothing lost, and laid as it is planned.

use crate::jobs_of::job_of;
use crate::judge::cases;
use crate::made_layers::{any_areas, job, planned};
use crate::print_paths::{Made, demo};
use proptest::prelude::*;
use rstest::rstest;
use serde_json::json;
use varichrom_core::advice::{CheckedPlan, Trial};
use varichrom_core::handover::{job_beads, print_files};
use varichrom_core::machine::MachineKind;
use varichrom_core::paths::{BeadKind, Step};
use varichrom_core::rules::{PurgePlaces, Takes};
use varichrom_demo::{box_mesh, rack, stl, together};

/// What all slots print of the model, mm³.
fn model_mm3(plan: &CheckedPlan) -> f64 {
    let needs = plan.needs.iter().zip(rack());
    needs
        .map(|(n, s)| 1000.0 * n.model_g / s.density_g_cm3)
        .sum()
}

fn swaps(areas: &[[f64; 4]], takers: &[(&str, Takes)]) -> CheckedPlan {
    let mut job = job();
    for (key, takes) in takers {
        job.rules.takers.insert((*key).into(), *takes);
    }
    planned(&job, areas)
}

proptest! {
    #![proptest_config(cases(120))]

    #[test]
    fn a_region_that_takes_purge_never_makes_more_swaps_or_waste_and_the_model_stays(
        areas in any_areas(),
        takes in prop_oneof![Just(Takes::Infill), Just(Takes::All)],
        into_infill: bool,
    ) {
        let places = PurgePlaces { into_infill, ..PurgePlaces::default() };
        let mut without = job();
        without.rules.places = places;
        let mut with = without.clone();
        with.rules.takers.insert("r2".into(), takes);
        let (a, b) = (planned(&with, &areas), planned(&without, &areas));
        prop_assert!(a.swaps.len() <= b.swaps.len());
        if takes == Takes::Infill {
            prop_assert!(a.bill.purge_g <= b.bill.purge_g + 1e-9);
        }
        prop_assert!((model_mm3(&a) - model_mm3(&b)).abs() < 1e-6 * model_mm3(&b).max(1.0));
        for swap in &a.swaps {
            let split = swap.split;
            prop_assert!(split.marked_mm3 >= 0.0 && split.marked_mm3 <= split.infill_mm3 + 1e-9);
            prop_assert!((split.infill_mm3 + split.waste_mm3() - swap.purge_mm3).abs() < 1e-9);
        }
        for (index, layer) in areas.iter().enumerate() {
            let taken: f64 = a.swaps.iter().filter(|s| s.layer == index).map(|s| s.split.marked_mm3).sum();
            // Half is solid, of which nine tenths are counted on, the rest is printed at 15 %, in layers of 0.2 mm.
            let share = if takes == Takes::All { 0.45 + 0.5 * 0.15 } else { 0.5 * 0.15 };
            prop_assert!(taken <= share * layer[2] * 0.2 + 1e-9);
        }
    }
}

/// Layers that have the region beside others need no swap to it; those that have nothing else are printed as what is below, and
/// several of them as one.
#[rstest]
#[case::beside_one([[100.0, 0.0, 0.0, 0.0], [50.0, 50.0, 0.0, 0.0]], 0)]
#[case::alone_above([[100.0, 0.0, 0.0, 0.0], [0.0, 50.0, 0.0, 0.0]], 0)]
#[case::alone_below([[0.0, 50.0, 0.0, 0.0], [100.0, 0.0, 0.0, 0.0]], 1)]
#[case::two_alone([[0.0, 50.0, 0.0, 20.0], [0.0, 50.0, 0.0, 90.0]], 0)]
#[case::two_alone_above([[9.0, 0.0, 0.0, 20.0], [0.0, 50.0, 0.0, 90.0]], 0)]
#[case::alone_above_what_it_stood_beside([[100.0, 9.0, 0.0, 0.0], [0.0, 50.0, 0.0, 0.0]], 0)]
#[case::beside_two([[100.0, 50.0, 60.0, 0.0], [100.0, 50.0, 60.0, 0.0]], 2)]
fn no_swap_is_made_for_a_region_whose_colour_does_not_matter(
    #[case] areas: [[f64; 4]; 2],
    #[case] wanted: usize,
) {
    let plan = swaps(&areas, &[("r1", Takes::All), ("r3", Takes::All)]);
    assert_eq!(plan.swaps.len(), wanted);
}

/// Only what nobody sees is proposed to take purge as a whole, as that looks the same.
#[rstest]
#[case::hidden(0.999, true)]
#[case::seen_through_what_is_around_it(0.2, false)]
fn a_core_that_nobody_sees_is_proposed_to_take_purge(
    #[case] opacity: f64,
    #[case] is_proposed: bool,
) {
    let nested = together(&[box_mesh([0.0; 3], [20.0; 3]), box_mesh([5.0; 3], [15.0; 3])]);
    let (shelf, mut history) = job_of(&[("nest", &stl(&nested, "nest"))]);
    let red = |key: &str, slot| json!({ "edit": "add-region", "region": key, "name": key, "colour": "#c02020", "slot": slot });
    let give = |key: &str, point: [f64; 3], normal: [f64; 3]| {
        let at = json!({ "model": "nest", "point": point, "normal": normal });
        json!({ "edit": "give-part", "region": key, "at": at })
    };
    let top = [0.0, 0.0, 1.0];
    let lid = json!({ "edit": "give-band", "region": "lid", "low_mm": 17.0, "high_mm": 20.0 });
    let load =
        |slot: usize| json!({ "edit": "load-slot", "slot": slot, "spool": rack()[slot - 1].id });
    for edit in [
        load(1),
        load(2),
        load(3),
        red("core", 2),
        red("lid", 3),
        give("core", [10.0, 10.0, 15.0], top),
        lid,
    ] {
        let edit = serde_json::from_value(edit).expect("an edit");
        history.apply(edit, &shelf).expect("sound");
    }
    let mut spools = rack();
    spools.iter_mut().for_each(|s| s.opacity = opacity);
    let made = Made::of(history.job().clone());
    let trial = Trial {
        job: &made.job,
        spools: &spools,
        planner: &made.planner,
        plan: &made.plan,
        models: &shelf,
        go_on: &|| true,
    };
    let ways = trial.ways(&[]);
    let of = |key: &str| ways.iter().find(|w| w.key == key);
    let Some(core) = of("takes-all-core") else {
        assert!(!is_proposed);
        return;
    };
    assert!(is_proposed && core.keeps_look);
    let figures = trial.figures(core).expect("planned");
    assert!(figures.swaps < made.plan.bill.swaps, "{figures:?}");
    assert!(of("takes-all-base").is_none() && of("takes-infill-base").is_some());
}

#[rstest]
#[case(Takes::All)]
#[case(Takes::Infill)]
fn what_takes_purge_is_laid_as_it_is_planned(#[case] takes: Takes) {
    let plain = demo("Pier light", MachineKind::Feeder);
    // The region that has most of it.
    let made = Made::of(plain.clone());
    let most = made.plan.regions.iter();
    let most = most.max_by(|a, b| a.volume_mm3.total_cmp(&b.volume_mm3));
    let key = most.expect("regions").region.clone();
    let mut job = plain;
    job.rules.takers.insert(key, takes);
    let marked = Made::of(job);
    let all = |made: &Made| -> f64 {
        let beads = job_beads(&made.job, &made.planner, &|_| true).expect("beads");
        let of = |b: &varichrom_core::paths::LayerBeads| -> f64 {
            let height = b.span_mm[1] - b.span_mm[0];
            let beads = b
                .slots
                .iter()
                .flat_map(|s| s.islands.iter().flatten().chain(&s.sparse));
            beads.map(|b| b.ground_mm2() * height).sum()
        };
        beads.iter().map(of).sum()
    };
    let of_model = all(&marked);
    assert!((of_model - all(&made)).abs() < 0.005 * of_model);
    let taken: f64 = marked.plan.swaps.iter().map(|s| s.split.marked_mm3).sum();
    assert!(taken > 100.0, "{taken}");
    let least = match takes {
        Takes::All => 0.9,
        Takes::Infill => 1.0,
    };
    assert!(marked.plan.bill.purge_g < least * made.plan.bill.purge_g);

    let slots = marked.job.printer.slots as usize + 1;
    let (mut model, mut slot) = (vec![0.0; slots], 0);
    let mut wasted = 0.0;
    for step in marked.steps() {
        match step {
            Step::Slot { slot: next } => slot = next,
            Step::Lay {
                kind: BeadKind::Skirt | BeadKind::Prime,
                ..
            } => {}
            Step::Lay {
                mm3,
                kind: BeadKind::Tower,
                ..
            } => wasted += mm3,
            Step::Press { mm3, .. } => wasted += mm3,
            Step::Lay { mm3, .. } => model[slot as usize] += mm3,
            _ => {}
        }
    }
    // Every bead once, whoever it is laid by.
    let laid: f64 = model.iter().sum();
    assert!(
        (laid - of_model).abs() < 1e-6 * of_model,
        "{laid} of {of_model}"
    );
    for (need, spool) in marked.plan.needs.iter().zip(rack()) {
        let by_plan = 1000.0 * need.model_g / spool.density_g_cm3;
        let laid = model[need.slot as usize];
        assert!(
            (laid - by_plan).abs() < 0.035 * by_plan + 2.0,
            "{}: {laid} for {by_plan}",
            need.slot
        );
    }
    let planned: f64 = marked.plan.layers.iter().map(|l| l.tower_mm3).sum::<f64>()
        + marked
            .plan
            .swaps
            .iter()
            .map(|s| s.split.tower_mm3 + s.split.bin_mm3)
            .sum::<f64>();
    assert!(
        (wasted - planned).abs() < 0.01 * planned,
        "{wasted} for {planned}"
    );
    // And it is looked over as any file is.
    print_files(
        &marked.job,
        &rack(),
        (&marked.plan, &marked.planner),
        ("print", None),
        &|_| true,
    )
    .expect("fit to print");
}
