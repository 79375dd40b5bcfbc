//! Reloads against exhaustive search, against published reference strings, and their laws.

use crate::judge::cases;
use proptest::prelude::*;
use std::collections::HashMap;
use varichrom_core::order::{
    CostTable, Joint, MOST_STEPS, ReloadWeight, Reloads, Turn, fewest_reloads, least_with_reloads,
};

/// The fewest reloads by trying every order of every layer and every spool to take out.
fn exhaustive(layers: &[Vec<u8>], holds: usize, colours: u8) -> usize {
    fn go(
        layers: &[Vec<u8>],
        left: u32,
        machine: u32,
        known: &mut HashMap<(usize, u32, u32), usize>,
    ) -> usize {
        if left == 0 {
            let Some((_, rest)) = layers.split_first() else {
                return 0;
            };
            let next = rest.first().map_or(0, |l| l.iter().map(|s| 1 << s).sum());
            return if rest.is_empty() {
                0
            } else {
                go(rest, next, machine, known)
            };
        }
        let key = (layers.len(), left, machine);
        if let Some(found) = known.get(&key) {
            return *found;
        }
        let mut best = usize::MAX;
        for slot in (0..32).filter(|s| left >> s & 1 == 1) {
            if machine >> slot & 1 == 1 {
                best = best.min(go(layers, left & !(1 << slot), machine, known));
                continue;
            }
            for out in (0..32).filter(|s| machine >> s & 1 == 1) {
                let machine = machine & !(1 << out) | 1 << slot;
                best = best.min(1 + go(layers, left & !(1 << slot), machine, known));
            }
        }
        known.insert(key, best);
        best
    }
    if layers.is_empty() {
        return 0;
    }
    let first = layers[0].iter().map(|s| 1u32 << s).sum();
    let mut known = HashMap::new();
    // Every way to fill the machine before the start.
    (0u32..1 << colours)
        .filter(|m| m.count_ones() as usize == holds.min(colours as usize))
        .map(|machine| go(layers, first, machine, &mut known))
        .min()
        .unwrap_or(0)
}

/// Follows a plan: nobody prints who is not in the machine, nobody is taken out before it has printed.
fn check(layers: &[Vec<u8>], holds: usize, plan: &Reloads) {
    let mut machine = plan.start.clone();
    assert!(machine.len() <= holds);
    for (used, reloads) in layers.iter().zip(&plan.layers) {
        let mut left = used.clone();
        for reload in reloads {
            assert!(!machine.contains(&reload.slot) && left.contains(&reload.slot));
            // Whoever is in the machine and wanted has printed by now.
            left.retain(|s| !machine.contains(s));
            let place = machine.iter().position(|s| *s == reload.out);
            machine[place.expect("it is in the machine")] = reload.slot;
        }
        left.retain(|s| !machine.contains(s));
        assert!(left.is_empty(), "{left:?} never print");
    }
}

fn any_layers() -> impl Strategy<Value = Vec<Vec<u8>>> {
    let set = prop::collection::btree_set(0u8..6, 0..5);
    let layer = set.prop_map(|s| s.into_iter().collect::<Vec<u8>>());
    prop::collection::vec(layer, 0..9)
}

proptest! {
    #![proptest_config(cases(600))]

    #[test]
    fn reloads_are_the_fewest_that_exhaustive_search_finds(
        layers in any_layers(),
        holds in 1usize..5,
    ) {
        let plan = fewest_reloads(&layers, holds);
        check(&layers, holds, &plan);
        prop_assert!(plan.is_proven);
        prop_assert_eq!(plan.count(), exhaustive(&layers, holds, 6));
    }

    #[test]
    fn more_places_never_mean_more_reloads(layers in any_layers(), holds in 1usize..6) {
        let count = |holds| fewest_reloads(&layers, holds).count();
        prop_assert!(count(holds + 1) <= count(holds));
        prop_assert_eq!(count(6), 0);
    }
}

/// The reference string of Belady, Nelson and Shedler, "An anomaly in space-time characteristics of certain programs running
/// in a paging machine", 1969, and the one of Silberschatz, Operating System Concepts, with their optimal faults (both from
/// memory). Faults count what is put in at the start; reloads do not.
#[test]
fn fixed_sequences_have_the_optimal_faults_of_the_literature() {
    let faults = |string: &[u8], holds: usize| {
        let layers: Vec<Vec<u8>> = string.iter().map(|s| vec![*s]).collect();
        let plan = fewest_reloads(&layers, holds);
        check(&layers, holds, &plan);
        plan.count() + plan.start.len()
    };
    let anomaly = [1, 2, 3, 4, 1, 2, 5, 1, 2, 3, 4, 5];
    assert_eq!((faults(&anomaly, 3), faults(&anomaly, 4)), (7, 6));
    let textbook = [7, 0, 1, 2, 0, 3, 0, 4, 2, 3, 0, 3, 2, 1, 2, 0, 1, 7, 0, 1];
    assert_eq!(faults(&textbook, 3), 9);
}

#[test]
fn every_layer_with_every_colour_needs_the_difference_each_time() {
    // Six colours, four places: two reloads in every layer, and no plan has fewer.
    let layers = vec![(0..6).collect::<Vec<u8>>(); 50];
    let plan = fewest_reloads(&layers, 4);
    check(&layers, 4, &plan);
    assert_eq!(plan.count(), 100);
    assert!(plan.is_proven);
    let wide = vec![(0..16).collect::<Vec<u8>>(); 20];
    let plan = fewest_reloads(&wide, 8);
    assert_eq!(plan.count(), 160);
    assert!(plan.is_proven);
}

/// The fewest reloads and, of plans with so many, the least cost, by trying everything: every machine to start with, every order
/// of every layer, every spool to take out.
fn exhaustive_cost(layers: &[Turn], table: &CostTable, holds: usize, colours: u8) -> (usize, f64) {
    type Known = HashMap<(usize, u32, u32, Option<u8>), (usize, f64)>;
    struct All<'a> {
        layers: &'a [Turn],
        table: &'a CostTable,
        known: Known,
    }
    impl All<'_> {
        fn go(
            &mut self,
            layer: usize,
            left: u32,
            machine: u32,
            nozzle: Option<u8>,
        ) -> (usize, f64) {
            if left == 0 {
                let Some(next) = self.layers.get(layer + 1) else {
                    return (0, 0.0);
                };
                let left = next.slots.iter().map(|s| 1 << s).sum();
                return self.go(layer + 1, left, machine, nozzle);
            }
            let key = (layer, left, machine, nozzle);
            if let Some(known) = self.known.get(&key) {
                return *known;
            }
            let mut best = (usize::MAX, f64::INFINITY);
            for slot in (0..16u8).filter(|s| left >> s & 1 == 1) {
                let waits = |(first, then): &(u8, u8)| *then == slot && left >> first & 1 == 1;
                if self.layers[layer].before.iter().any(waits) {
                    continue;
                }
                let price = match nozzle {
                    Some(from) if from != slot => self.table[from as usize][slot as usize],
                    _ => 0.0,
                };
                let outs: Vec<Option<u8>> = if machine >> slot & 1 == 1 {
                    vec![None]
                } else {
                    (0..16)
                        .filter(|s| machine >> s & 1 == 1)
                        .map(Some)
                        .collect()
                };
                for out in outs {
                    let after = out.map_or(machine, |o| machine & !(1 << o) | 1 << slot);
                    let (reloads, cost) = self.go(layer, left & !(1 << slot), after, Some(slot));
                    let all = (reloads + usize::from(out.is_some()), cost + price);
                    if all < best {
                        best = all;
                    }
                }
            }
            self.known.insert(key, best);
            best
        }
    }
    let first = layers[0].slots.iter().map(|s| 1u32 << s).sum();
    let mut all = All {
        layers,
        table,
        known: HashMap::new(),
    };
    let mut best = (usize::MAX, f64::INFINITY);
    for machine in (0u32..1 << colours).filter(|m| m.count_ones() as usize == holds) {
        let found = all.go(0, first, machine, None);
        if found < best {
            best = found;
        }
    }
    best
}

fn turns(layers: &[Vec<u8>]) -> Vec<Turn> {
    let turn = |slots: &Vec<u8>| Turn {
        slots: slots.clone(),
        ..Turn::default()
    };
    layers.iter().map(turn).collect()
}

/// Follows a plan and says what it costs.
fn cost_along(joint: &Joint, layers: &[Turn], table: &CostTable, holds: usize) -> f64 {
    let mut machine = joint.reloads.start.clone();
    assert_eq!(machine.len(), holds);
    let (mut nozzle, mut cost) = (None, 0.0);
    for ((slots, put_in), turn) in joint.layers.iter().zip(&joint.reloads.layers).zip(layers) {
        let mut sorted = slots.clone();
        sorted.sort_unstable();
        assert_eq!(sorted, turn.slots);
        let mut put_in = put_in.iter();
        for slot in slots {
            if !machine.contains(slot) {
                let reload = put_in.next().expect("a reload");
                assert_eq!(reload.slot, *slot);
                let place = machine.iter().position(|s| *s == reload.out);
                machine[place.expect("it is in the machine")] = *slot;
            }
            if let Some(from) = nozzle.filter(|n| n != slot) {
                cost += table[from as usize][*slot as usize];
            }
            nozzle = Some(*slot);
        }
        assert!(put_in.next().is_none());
    }
    cost
}

#[test]
fn of_plans_with_the_fewest_reloads_the_cheapest_is_taken() {
    // White, black and red in two places: prices of the rinse between them, mm³. Layers {black}, {white, black, red}.
    let table = vec![
        vec![0.0, 45.0, 60.0],
        vec![420.0, 0.0, 310.0],
        vec![330.0, 75.0, 0.0],
    ];
    let layers = turns(&[vec![1], vec![0, 1, 2]]);
    let joint = least_with_reloads(
        &layers,
        &table_of(&table),
        2,
        ReloadWeight::First,
        MOST_STEPS,
    )
    .expect("small");
    let (reloads, cost) = exhaustive_cost(&layers, &table, 2, 3);
    assert_eq!((joint.reloads.count(), reloads), (1, 1));
    assert_eq!(joint.cost, cost);
    assert_eq!(cost_along(&joint, &layers, &table, 2), cost);
}

fn table_of(table: &CostTable) -> Vec<CostTable> {
    vec![table.clone()]
}

#[test]
fn a_search_that_is_too_long_is_given_up() {
    let all: Vec<u8> = (0..12).collect();
    let layers = turns(&vec![all; 40]);
    let table = vec![vec![1.0; 12]; 12];
    assert!(least_with_reloads(&layers, &table_of(&table), 4, ReloadWeight::First, 1000).is_none());
}

proptest! {
    #![proptest_config(cases(300))]

    #[test]
    fn no_plan_has_fewer_reloads_or_with_as_few_costs_less(
        layers in prop::collection::vec(
            prop::collection::btree_set(0u8..5, 0..4), 1..6,
        ),
        prices in prop::collection::vec(1.0..800.0f64, 25),
        holds in 1usize..4,
        pairs in prop::collection::vec((0usize..6, 0u8..5, 0u8..5), 0..4),
    ) {
        let mut layers = turns(&layers.into_iter().map(|l| l.into_iter().collect()).collect::<Vec<_>>());
        for (layer, a, b) in pairs {
            // Only pairs that go up, so that they cannot contradict one another.
            if let Some(turn) = layers.get_mut(layer).filter(|_| a < b) {
                turn.before.push((a, b));
            }
        }
        layers.iter_mut().for_each(|t| { t.before.sort_unstable(); t.before.dedup(); });
        let table: CostTable = prices.chunks(5).map(<[f64]>::to_vec).collect();
        let mut used: Vec<u8> = layers.iter().flat_map(|t| t.slots.clone()).collect();
        used.sort_unstable();
        used.dedup();
        prop_assume!(used.len() > holds);
        let joint = least_with_reloads(&layers, &table_of(&table), holds, ReloadWeight::First, MOST_STEPS)
            .expect("small");
        let (reloads, cost) = exhaustive_cost(&layers, &table, holds, 5);
        prop_assert_eq!(joint.reloads.count(), reloads);
        prop_assert!((joint.cost - cost).abs() < 1e-9);
        prop_assert!((cost_along(&joint, &layers, &table, holds) - cost).abs() < 1e-9);
        // What reloads count may be weighed against purge: never worse than either extreme in their sum.
        let each = 100.0;
        let weighed = least_with_reloads(
            &layers, &table_of(&table), holds, ReloadWeight::Each(each), MOST_STEPS,
        ).expect("small");
        let sum = |j: &Joint| j.cost + each * j.reloads.count() as f64;
        prop_assert!(sum(&weighed) <= sum(&joint) + 1e-9);
    }
}
