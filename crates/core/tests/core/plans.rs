//! Laws of plans, on layers made up for the purpose: no mesh needed.

use crate::judge::cases;
use crate::made_layers::{any_areas, job, layers, planned};
use approx::assert_relative_eq;
use proptest::prelude::*;
use rstest::rstest;
use varichrom_core::advice::checked_plan;
use varichrom_core::colour::Colour;
use varichrom_core::job::Job;
use varichrom_core::machine::{Printer, Spool};
use varichrom_demo::rack;

proptest! {
    #![proptest_config(cases(150))]

    #[test]
    fn a_plan_accounts_for_every_swap_and_every_gram(areas in any_areas()) {
        let job = job();
        let p = planned(&job, &areas);
        // Following the order from layer to layer gives exactly the swaps listed.
        let walk: Vec<(usize, u8)> = p
            .layers
            .iter()
            .flat_map(|l| l.order.iter().map(move |s| (l.index, *s)))
            .collect();
        let expected: Vec<(usize, u8, u8)> = walk
            .windows(2)
            .filter(|w| w[0].1 != w[1].1)
            .map(|w| (w[1].0, w[0].1, w[1].1))
            .collect();
        let listed: Vec<(usize, u8, u8)> = p.swaps.iter().map(|s| (s.layer, s.from, s.to)).collect();
        prop_assert_eq!(listed, expected);
        prop_assert_eq!(p.bill.swaps, p.swaps.len());
        // Causes and pairs are only other ways to count the same swaps.
        prop_assert_eq!(p.causes.iter().map(|c| c.swaps).sum::<usize>(), p.swaps.len());
        prop_assert_eq!(p.pairs.iter().map(|r| r.times).sum::<usize>(), p.swaps.len());
        prop_assert!(p.causes.windows(2).all(|c| c[0].last_layer < c[1].first_layer));
        let purged: f64 = p.swaps.iter().map(|s| s.purge_mm3).sum();
        let by_cause: f64 = p.causes.iter().map(|c| c.purge_mm3).sum();
        prop_assert!((purged - by_cause).abs() < 1e-6 * purged.max(1.0));
        // Model grams: half solid, half at 15 %, each slot by its own density.
        let grams: f64 = areas
            .iter()
            .flat_map(|l| l.iter().zip(rack()))
            .map(|(a, spool)| spool.grams(0.2 * a * (0.5 + 0.5 * 0.15)))
            .sum();
        prop_assert!((p.bill.model_g - grams).abs() < 1e-9 * grams.max(1.0));
        let by_region: f64 = p.regions.iter().map(|r| r.grams).sum();
        prop_assert!((by_region - grams).abs() < 1e-9 * grams.max(1.0));
        prop_assert!((0.0..1.0).contains(&p.bill.wasted_share));
    }

    #[test]
    fn a_layer_of_n_slots_needs_no_fewer_than_n_less_one_swaps(areas in any_areas()) {
        let p = planned(&job(), &areas);
        for layer in &p.layers {
            let here = p.swaps.iter().filter(|s| s.layer == layer.index).count();
            prop_assert!(here + 1 >= layer.order.len());
            prop_assert!(here <= layer.order.len());
        }
    }

    #[test]
    fn asking_for_less_clean_never_purges_more(areas in any_areas(), tolerance in 0.5..6.0f64) {
        let mut strict = job();
        strict.printer.tolerance = tolerance;
        let mut easy = job();
        easy.printer.tolerance = tolerance * 1.7;
        let purge = |job: &Job| planned(job, &areas).proof.least;
        prop_assert!(purge(&easy) <= purge(&strict) + 1e-6);
    }

    #[test]
    fn the_tower_holds_what_every_layer_purges(areas in any_areas()) {
        let p = planned(&job(), &areas);
        let Some(tower) = p.tower else {
            prop_assert!(p.swaps.is_empty());
            return Ok(());
        };
        let last = p.swaps.last().expect("a tower has a swap").layer;
        prop_assert!((tower.height_mm - p.layers[last].z1_mm).abs() < 1e-9);
        for layer in 0..=last {
            let purged: f64 =
                p.swaps.iter().filter(|s| s.layer == layer).map(|s| s.purge_mm3).sum();
            prop_assert!(purged <= tower.side_mm.powi(2) * 0.2 + 1e-6);
        }
    }
}

#[test]
fn a_region_without_a_slot_prints_from_the_first_regions() {
    let mut job = job();
    job.regions[2].slot = None;
    let p = planned(&job, &[[50.0, 0.0, 50.0, 0.0]]);
    assert_eq!(p.layers[0].order, [1]);
    assert_relative_eq!(p.layers[0].areas_mm2[&1], 100.0);
}

#[test]
fn an_empty_slot_prints_in_the_regions_colour_for_nothing() {
    let mut job = job();
    job.slots = vec![None; 4];
    let p = planned(&job, &[[50.0, 50.0, 0.0, 0.0]]);
    assert_eq!(p.bill.cost, 0.0);
    assert!(p.bill.purge_g > 0.0 && p.bill.model_g > 0.0);
    assert_eq!(
        p.pairs[0].rinse.curve.last().map(|c| c.delta_e < 2.0),
        Some(true)
    );
}

/// 100 mm² layers of 0.2 mm, half solid, half at 15 %, lines 0.4 mm wide: all at 20 mm/s on the first layer; at 60 and 90 mm/s the
/// second would be done in 2.3 s, and is slowed down to 6; of 900 mm² it takes longer than that by itself.
#[test]
fn time_follows_from_volumes_and_speeds() {
    let first = (50.0 + 50.0 * 0.15) * 0.2 / (0.4 * 0.2 * 20.0);
    let (solid, sparse) = (
        50.0 * 0.2 / (0.4 * 0.2 * 60.0),
        50.0 * 0.15 * 0.2 / (0.4 * 0.2 * 90.0),
    );
    assert!(first > 6.0 && solid + sparse < 6.0 && 9.0 * (solid + sparse) > 6.0);
    // Levelling and heating before the start take 150 s, putting the first filament in 35 s, each layer 2 s more.
    let one = [100.0, 0.0, 0.0, 0.0];
    let p = planned(&job(), &[one]);
    assert_relative_eq!(
        p.bill.time_s,
        150.0 + 35.0 + 2.0 + first,
        max_relative = 1e-12
    );
    assert_relative_eq!(p.bill.times.sum(), p.bill.time_s);
    let small = planned(&job(), &[one, one]);
    assert_relative_eq!(
        small.bill.time_s,
        p.bill.time_s + 2.0 + 6.0,
        max_relative = 1e-12
    );
    let large = planned(&job(), &[one, [900.0, 0.0, 0.0, 0.0]]);
    assert_relative_eq!(
        large.bill.time_s,
        p.bill.time_s + 2.0 + 9.0 * (solid + sparse),
        max_relative = 1e-12
    );
    let both = planned(&job(), &[[100.0, 10.0, 0.0, 0.0]]);
    let purge: f64 = both.swaps.iter().map(|s| s.purge_mm3).sum();
    assert!(both.bill.time_s > p.bill.time_s + 35.0 + purge / 8.0);
}

#[test]
fn stronger_pigment_needs_more_purge_to_get_rid_of() {
    let purge = |tinting: f64| {
        let mut spools: Vec<Spool> = rack();
        spools[1].tinting = tinting;
        let areas = [[50.0, 50.0, 0.0, 0.0], [50.0, 0.0, 0.0, 0.0]];
        let p = checked_plan(&job(), &spools, &layers(&areas)).expect("two slots");
        p.proof.least
    };
    assert_ne!(purge(4.0), purge(1.0));
}

#[rstest]
#[case("slots", Printer { slots: 0, ..Printer::default() })]
#[case("layer_mm", Printer { layer_mm: f64::NAN, ..Printer::default() })]
#[case("infill", Printer { infill: 1.01, ..Printer::default() })]
#[case("tolerance", Printer { tolerance: 0.0, ..Printer::default() })]
#[case("bed_mm", Printer { bed_mm: [200.0, 200.0, -1.0], ..Printer::default() })]
#[case("purge_mm3_s", Printer { purge_mm3_s: f64::INFINITY, ..Printer::default() })]
fn values_no_printer_has_are_refused_by_name(#[case] field: &str, #[case] printer: Printer) {
    let problem = printer.check().expect_err("refused");
    assert_eq!(
        (problem.code.as_str(), problem.place.as_deref()),
        ("value-out-of-range", Some(field))
    );
    assert!(Printer::default().check().is_ok());
}

#[test]
fn spools_are_checked_too() {
    let good = &rack()[0];
    assert!(good.check().is_ok());
    let bad = [
        Spool {
            density_g_cm3: 0.0,
            ..good.clone()
        },
        Spool {
            left_g: -1.0,
            ..good.clone()
        },
        Spool {
            tinting: 0.0,
            ..good.clone()
        },
        Spool {
            name: " ".into(),
            ..good.clone()
        },
    ];
    assert!(bad.iter().all(|s| s.check().is_err()));
    assert_ne!(good.colour, Colour([0, 0, 0]));
}
