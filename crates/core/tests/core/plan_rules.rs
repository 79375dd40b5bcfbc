//! Plans under rules: constraints, tolerances, purge places, reloads, towers, and the bill opened.

use crate::judge::cases;
use crate::made_layers::{any_areas, job, layers, planned};
use approx::assert_relative_eq;
use proptest::prelude::*;
use varichrom_core::advice::{CheckedPlan, checked_plan, task};
use varichrom_core::job::{Edit, History, JobEdit, LoadEdit, PlanEdit, RegionEdit, SlotEdit};
use varichrom_core::plan::{SheetItem, bill_sheet};
use varichrom_core::rules::{Aim, CutOff, OrderRule, PurgePlaces};
use varichrom_demo::rack;

fn caution<'a>(plan: &'a CheckedPlan, code: &str) -> Option<&'a varichrom_core::advice::Caution> {
    plan.cautions.iter().find(|c| c.code == code)
}

/// Amounts of items in units of the last digit shown, and that all below sum to them.
fn units(item: &SheetItem, scale: f64) -> i64 {
    let own = (item.amount * scale).round() as i64;
    assert!((item.amount * scale - own as f64).abs() < 1e-6, "{item:?}");
    if !item.items.is_empty() {
        let sum: i64 = item.items.iter().map(|i| units(i, scale)).sum();
        assert_eq!(sum, own, "{}", item.what);
    }
    own
}

fn places(into_infill: bool, tower_share: f64, by_hand_mm: Option<f64>) -> PurgePlaces {
    PurgePlaces {
        into_infill,
        tower_share,
        by_hand_mm,
    }
}

proptest! {
    #![proptest_config(cases(120))]

    #[test]
    fn every_figure_of_the_bill_opens_to_parts_that_sum_to_the_last_digit(
        areas in any_areas(),
        into_infill: bool,
        tower_share in prop_oneof![Just(0.0), Just(1.0), 0.0..1.0f64],
    ) {
        let mut job = job();
        job.rules.places = places(into_infill, tower_share, None);
        let plan = planned(&job, &areas);
        let bill = plan.bill;
        for line in bill_sheet(&task(&job, &rack()), &plan) {
            let scale = 10f64.powi(line.digits as i32);
            let total = match line.figure {
                "time" => bill.time_s,
                "swaps" => bill.swaps as f64,
                "model" => bill.model_g,
                "purge" => bill.purge_g,
                "tower" => bill.tower_g,
                "cost" => bill.cost,
                "hand" => bill.hand_s,
                other => panic!("{other}"),
            };
            prop_assert!((line.total - total).abs() <= 0.5 / scale + 1e-9);
            let sum: i64 = line.items.iter().map(|i| units(i, scale)).sum();
            prop_assert_eq!(sum, (line.total * scale).round() as i64, "{}", line.figure);
        }
        prop_assert!((bill.times.sum() - bill.time_s).abs() < 1e-9);
        // Where the purge of every swap goes sums to all of it.
        for swap in &plan.swaps {
            let split = swap.split.infill_mm3 + swap.split.waste_mm3();
            prop_assert!((split - swap.purge_mm3).abs() < 1e-9);
        }
    }

    #[test]
    fn infill_takes_no_more_than_the_layer_has_and_never_makes_more_waste(areas in any_areas()) {
        let mut with = job();
        with.rules.places = places(true, 0.0, None);
        let mut without = job();
        without.rules.places = places(false, 0.0, None);
        let (a, b) = (planned(&with, &areas), planned(&without, &areas));
        prop_assert!(a.bill.purge_g <= b.bill.purge_g + 1e-9);
        for (index, layer) in areas.iter().enumerate() {
            let taken: f64 = a.swaps.iter().filter(|s| s.layer == index).map(|s| s.split.infill_mm3).sum();
            // Half of each area is sparse, printed at 15 %, in layers of 0.2 mm.
            let capacity: f64 = layer.iter().map(|a| 0.5 * a * 0.15 * 0.2).sum();
            prop_assert!(taken <= capacity + 1e-9);
        }
        // Purge that becomes infill only changes which slot it comes from: the volume of the model stays.
        let volume = |p: &CheckedPlan| -> f64 {
            p.needs.iter().zip(rack()).map(|(n, s)| (n.model_g / s.density_g_cm3) * 1000.0).sum()
        };
        prop_assert!((volume(&a) - volume(&b)).abs() < 1e-6 * volume(&b).max(1.0));
    }

    #[test]
    fn a_dirtier_region_never_purges_more(areas in any_areas(), own in 2.0..20.0f64) {
        let strict = planned(&job(), &areas).proof.least;
        let mut easy = job();
        easy.rules.tolerances.insert("r2".into(), own);
        prop_assert!(planned(&easy, &areas).proof.least <= strict + 1e-6);
    }

    #[test]
    fn the_aim_that_is_chosen_is_reached_best(areas in any_areas()) {
        let of = |aim: Aim| {
            let mut job = job();
            job.rules.aim = aim;
            job.rules.places = places(false, 0.0, None);
            planned(&job, &areas)
        };
        let (purge, time, swaps) = (of(Aim::Purge), of(Aim::Time), of(Aim::Swaps));
        let purged = |p: &CheckedPlan| p.swaps.iter().map(|s| s.purge_mm3).sum::<f64>();
        // What the order decides; how long a small layer lies to set depends on which of its changes give it the time.
        let changing_s = |p: &CheckedPlan| {
            let t = &p.bill.times;
            t.swaps_s + t.purging_s + t.heating_s + t.reloads_s
        };
        for other in [&time, &swaps, &of(Aim::SlotOrder)] {
            prop_assert!(purged(&purge) <= purged(other) + 1e-6);
            prop_assert!(changing_s(&time) <= changing_s(other) + 1e-6);
            prop_assert!(swaps.bill.swaps <= other.bill.swaps);
        }
        prop_assert_eq!(swaps.proof.chosen as usize, swaps.bill.swaps);
        for p in [&purge, &time, &swaps] {
            prop_assert!(p.proof.chosen <= p.proof.greedy + 1e-6);
            prop_assert!(p.proof.chosen <= p.proof.number_order + 1e-6);
        }
    }

    #[test]
    fn fewer_places_never_mean_fewer_reloads_and_every_reload_is_a_swap(areas in any_areas()) {
        let of = |holds: u8| {
            let mut job = job();
            job.printer.holds = holds;
            planned(&job, &areas)
        };
        let counts: Vec<usize> = (1..=4).map(|h| of(h).reloads.len()).collect();
        prop_assert!(counts.windows(2).all(|c| c[1] <= c[0]), "{counts:?}");
        prop_assert_eq!(counts[3], 0);
        for holds in 1..=3 {
            let plan = of(holds);
            prop_assert_eq!(plan.swaps.iter().filter(|s| s.is_reload).count(), plan.reloads.len());
            prop_assert_eq!(plan.bill.hand_swaps, plan.reloads.len());
            // Nothing prints from a spool that is not in the machine.
            let mut machine = plan.start.clone();
            let used: std::collections::BTreeSet<u8> = plan.layers.iter().flat_map(|l| l.order.clone()).collect();
            if used.len() <= holds as usize {
                continue;
            }
            let mut reloads = plan.reloads.iter().peekable();
            for layer in &plan.layers {
                for slot in &layer.order {
                    while !machine.contains(slot) {
                        let reload = reloads.next();
                        prop_assert!(reload.is_some_and(|r| r.layer == layer.index));
                        let reload = reload.expect("checked");
                        prop_assert_eq!(machine[reload.place as usize - 1], reload.out);
                        machine[reload.place as usize - 1] = reload.slot;
                    }
                }
            }
            prop_assert!(reloads.peek().is_none());
        }
    }
}

/// Four slots in every layer.
const ALL: [[f64; 4]; 3] = [[50.0; 4]; 3];

#[test]
fn rules_of_the_order_are_kept_and_contradictions_named() {
    let mut job = job();
    job.regions[2].name = "Rail".into();
    job.rules.order = vec![
        OrderRule::PaleFirst {},
        OrderRule::Last { slot: 3 },
        OrderRule::Before {
            region: "r3".into(),
            then: "r1".into(),
        },
    ];
    // Pale to dark: chalk, amber, rust, ink.
    let p = planned(&job, &ALL);
    assert_eq!(p.layers[0].order, [1, 4, 2, 3]);
    for layer in &p.layers {
        assert_eq!(layer.order.last(), Some(&3));
        let place = |s: u8| layer.order.iter().position(|o| *o == s);
        assert!(place(4) < place(2));
    }
    job.rules.order.push(OrderRule::First { slot: 3 });
    let refused = checked_plan(&job, &rack(), &layers(&ALL)).expect_err("first and last");
    assert_eq!(refused.code, "rules-contradict");
    assert!(refused.message.contains("slot 3 always goes"), "{refused}");
}

#[test]
fn a_purge_set_for_a_pair_counts_until_its_spool_changes() {
    let mut job = job();
    let areas = [[50.0, 50.0, 0.0, 0.0]; 4];
    let usual = planned(&job, &areas);
    job.rules.cut_offs = vec![CutOff {
        from: 2,
        to: 1,
        purge_mm3: 111.0,
    }];
    let p = planned(&job, &areas);
    let pair = p
        .pairs
        .iter()
        .find(|p| (p.from, p.to) == (2, 1))
        .expect("it occurs");
    assert!(pair.is_set && pair.delta_e > job.printer.tolerance);
    assert_eq!(pair.purge_mm3, 111.0);
    let others = |p: &CheckedPlan| {
        let mut all: Vec<f64> = p
            .swaps
            .iter()
            .filter(|s| s.from == 1)
            .map(|s| s.purge_mm3)
            .collect();
        all.dedup();
        all
    };
    assert_eq!(others(&p), others(&usual));
    // As edits: slots that change places take it along, another spool lets it go.
    let shelf = Nothing;
    let mut history = History::default();
    let mut apply = |edit: Edit| {
        history
            .apply(edit, &shelf)
            .map(|()| history.job().rules.clone())
    };
    let load = |slot, id: &str| {
        Edit::Slot(SlotEdit::LoadSlot {
            slot,
            spool: Some(id.into()),
        })
    };
    apply(load(1, "chalk")).expect("a slot");
    apply(load(2, "rust-red")).expect("a slot");
    let cut = Edit::Plan(PlanEdit::CutOff {
        from: 2,
        to: 1,
        purge_mm3: Some(111.0),
    });
    apply(cut).expect("a pair");
    let swapped = apply(Edit::Load(LoadEdit::Exchange { a: 1, b: 3 })).expect("two slots");
    assert_eq!((swapped.cut_offs[0].from, swapped.cut_offs[0].to), (2, 3));
    assert_eq!(
        apply(load(2, "rust-red")).expect("the same").cut_offs.len(),
        1
    );
    assert!(apply(load(2, "moss")).expect("another").cut_offs.is_empty());
}

struct Nothing;

impl varichrom_core::job::Models for Nothing {
    fn open(
        &self,
        content: &str,
    ) -> Result<std::sync::Arc<varichrom_core::model::OpenMesh>, varichrom_core::Problem> {
        Err(varichrom_core::Problem::new("none", content, "", ""))
    }
}

#[test]
fn what_cannot_be_planned_is_refused_with_the_place() {
    let refused = |edit: PlanEdit| {
        let mut history = History::default();
        let before = history.job().rules.clone();
        let problem = history
            .apply(Edit::Plan(edit), &Nothing)
            .expect_err("refused");
        assert_eq!(history.job().rules, before);
        problem
    };
    let zero = refused(PlanEdit::Tolerance {
        region: None,
        tolerance: Some(0.0),
    });
    assert_eq!(zero.code, "tolerance-out-of-range");
    assert!(zero.message.contains("never reached"), "{zero}");
    let edits = [
        PlanEdit::Tolerance {
            region: Some("nobody".into()),
            tolerance: Some(2.0),
        },
        PlanEdit::Tolerance {
            region: None,
            tolerance: None,
        },
        PlanEdit::CutOff {
            from: 1,
            to: 1,
            purge_mm3: Some(10.0),
        },
        PlanEdit::CutOff {
            from: 1,
            to: 9,
            purge_mm3: Some(10.0),
        },
        PlanEdit::CutOff {
            from: 1,
            to: 2,
            purge_mm3: Some(f64::NAN),
        },
        PlanEdit::Places {
            places: places(false, 1.2, None),
        },
        PlanEdit::Places {
            places: places(false, 1.0, Some(-3.0)),
        },
        PlanEdit::Aim {
            aim: Aim::Weighed {
                purge_cm3: 0.0,
                minute: 0.0,
                swap: 0.0,
            },
        },
        PlanEdit::Order {
            rules: vec![OrderRule::First { slot: 0 }],
        },
        PlanEdit::Order {
            rules: vec![OrderRule::Before {
                region: "base".into(),
                then: "base".into(),
            }],
        },
        PlanEdit::Depth {
            soak_mm: Some(0.0),
            layers: None,
            through: false,
        },
    ];
    for edit in edits {
        let problem = refused(edit.clone());
        assert!(
            !problem.mend.is_empty() && problem.place.is_some(),
            "{edit:?}"
        );
    }
}

#[test]
fn several_edits_are_one_step_all_or_none() {
    let mut history = History::default();
    let quick = |is_quick| Edit::Plan(PlanEdit::Quick { is_quick });
    let name = |name: &str| {
        Edit::Region(RegionEdit::RenameRegion {
            region: "base".into(),
            name: name.into(),
        })
    };
    let several = |edits: Vec<Edit>| {
        Edit::Job(JobEdit::Several {
            what: "Two things".into(),
            edits,
        })
    };
    history
        .apply(several(vec![quick(true), name("Hull")]), &Nothing)
        .expect("both can be done");
    assert!(history.job().rules.is_quick && history.job().regions[0].name == "Hull");
    let refused = history.apply(several(vec![name("Deck"), name("")]), &Nothing);
    assert_eq!(refused.expect_err("the second").code, "name-empty");
    assert_eq!(history.job().regions[0].name, "Hull");
    let nested = several(vec![several(vec![quick(false)])]);
    assert_eq!(
        history.apply(nested, &Nothing).expect_err("nested").code,
        "not-with-others"
    );
    assert!(history.undo(&Nothing).expect("undone"));
    assert!(!history.job().rules.is_quick && history.job().regions[0].name == "Plain");
    assert!(history.redo(&Nothing).expect("redone"));
    assert_eq!(history.steps()[0].what, "Two things");
}

/// A tower by hand: two slots in each of three layers of 0.2 mm.
#[test]
fn the_tower_is_what_a_pencil_makes_of_it() {
    let mut job = job();
    job.rules.cut_offs = vec![
        CutOff {
            from: 1,
            to: 2,
            purge_mm3: 40.0,
        },
        CutOff {
            from: 2,
            to: 1,
            purge_mm3: 80.0,
        },
    ];
    let p = planned(
        &job,
        &[
            [50.0, 50.0, 0.0, 0.0],
            [50.0, 50.0, 0.0, 0.0],
            [50.0, 0.0, 0.0, 0.0],
            [50.0, 0.0, 0.0, 0.0],
        ],
    );
    // Best: 2 1 | 1 2 | 1: 80, 40, 80 — or 1 2 | 2 1 | 1: 40 and 80.
    let purges: Vec<(usize, f64)> = p.swaps.iter().map(|s| (s.layer, s.purge_mm3)).collect();
    assert_eq!(purges, [(0, 40.0), (1, 80.0)]);
    let tower = p.tower.expect("something is purged");
    // The second layer needs 80 mm³ / 0.2 mm = 400 mm²: 20 mm square, two layers high.
    assert_relative_eq!(tower.side_mm, 20.0, max_relative = 1e-9);
    assert_relative_eq!(tower.height_mm, 0.4, max_relative = 1e-9);
    // Walls 4 · 20 · 0.4 and 12 % of the floor are 80 mm², 16 mm³ a layer: both purge more.
    assert_relative_eq!(p.bill.tower_g, 0.0);
    assert!(!tower.is_widened && tower.idle_layers == 0);
    job.rules.cut_offs[1].purge_mm3 = 2.0;
    let p = planned(&job, &[[50.0, 50.0, 0.0, 0.0], [50.0, 50.0, 0.0, 0.0]]);
    // 40 and 2 mm³ on a tower of √200 mm: the second layer is filled up to its walls and floor, by the slot it begins with.
    let side = 200f64.sqrt();
    let floor = 0.2 * (4.0 * side * 0.4 + 0.12 * 200.0);
    let added = (floor - 2.0).max(0.0);
    assert_relative_eq!(
        p.bill.tower_g,
        added * rack()[1].density_g_cm3 / 1000.0,
        max_relative = 1e-9
    );
}

#[test]
fn a_high_tower_is_widened_and_a_full_bed_has_no_room() {
    let mut job = job();
    job.rules.cut_offs = vec![CutOff {
        from: 1,
        to: 2,
        purge_mm3: 1.0,
    }];
    let mut areas = vec![[50.0, 0.0, 0.0, 0.0]; 899];
    areas.push([0.0, 50.0, 0.0, 0.0]);
    let p = planned(&job, &areas);
    let tower = p.tower.expect("one swap");
    assert_relative_eq!(tower.side_mm, 18.0, max_relative = 1e-9);
    assert!(tower.is_widened && tower.idle_layers == 899);
    // A floor of 12 % on the bed and for a millimetre up to the layer that purges, 4 % in between.
    let filled = |share: f64| 0.2 * (4.0 * 18.0 * 0.4 + share * 18.0 * 18.0);
    let added = 6.0 * filled(0.12) - 1.0 + 894.0 * filled(0.04);
    assert_relative_eq!(
        p.bill.tower_g,
        added * rack()[0].density_g_cm3 / 1000.0,
        max_relative = 1e-9
    );
    assert!(caution(&p, "tower-widened").is_some());
    job.printer.bed_mm = [15.0, 15.0, 300.0];
    // Without models there is nothing to stand beside; the bed alone is too small.
    let p = planned(&job, &areas);
    assert!(p.tower.is_some_and(|t| t.at.is_some()));
}
