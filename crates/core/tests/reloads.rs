//! Reloads against exhaustive search, against published reference strings, and their laws.

use proptest::prelude::*;
use std::collections::HashMap;
use varichrom_core::order::{Reloads, fewest_reloads};

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
    #![proptest_config(ProptestConfig::with_cases(600))]

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
