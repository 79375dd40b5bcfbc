//! The exact order against brute force.

use proptest::prelude::*;
use varichrom_core::order::{CostTable, cost_of, greedy_order, least_cost_order, number_order};

/// Least cost by trying every order of every layer.
fn brute_force(layers: &[Vec<u8>], swap: &CostTable) -> f64 {
    fn permutations(set: &[u8]) -> Vec<Vec<u8>> {
        if set.is_empty() {
            return vec![Vec::new()];
        }
        (0..set.len())
            .flat_map(|i| {
                let mut rest = set.to_vec();
                let first = rest.remove(i);
                permutations(&rest).into_iter().map(move |mut p| {
                    p.insert(0, first);
                    p
                })
            })
            .collect()
    }
    fn go(layers: &[Vec<u8>], loaded: Option<u8>, swap: &CostTable) -> f64 {
        let Some((layer, rest)) = layers.split_first() else {
            return 0.0;
        };
        permutations(layer)
            .into_iter()
            .map(|order| {
                let mut at = loaded;
                let mut cost = 0.0;
                for slot in order {
                    if let Some(from) = at.filter(|a| *a != slot) {
                        cost += swap[from as usize][slot as usize];
                    }
                    at = Some(slot);
                }
                cost + go(rest, at, swap)
            })
            .fold(f64::INFINITY, f64::min)
    }
    go(layers, None, swap)
}

fn small_case() -> impl Strategy<Value = (Vec<Vec<u8>>, CostTable)> {
    let layer = prop::collection::btree_set(0u8..4, 0..4).prop_map(|s| s.into_iter().collect());
    let costs = prop::collection::vec(prop::collection::vec(0u32..500, 4), 4).prop_map(|t| {
        t.into_iter()
            .map(|r| r.into_iter().map(f64::from).collect())
            .collect()
    });
    (prop::collection::vec(layer, 0..5), costs)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(600))]

    #[test]
    fn order_equals_brute_force_and_is_never_dearer_than_greedy((layers, swap) in small_case()) {
        let best = least_cost_order(&layers, &swap).expect("few slots");
        prop_assert_eq!(best.cost, brute_force(&layers, &swap));
        prop_assert_eq!(best.cost, cost_of(&best.layers, &swap));
        prop_assert!(best.cost <= cost_of(&greedy_order(&layers, &swap), &swap));
        prop_assert!(best.cost <= cost_of(&number_order(&layers), &swap));
        for (order, used) in best.layers.iter().zip(&layers) {
            let mut order = order.clone();
            order.sort_unstable();
            prop_assert_eq!(&order, used);
        }
    }
}

#[test]
fn a_thousand_layers_of_eight_slots_cost_no_more_than_greedy() {
    let swap: CostTable = (0..8u32)
        .map(|a| {
            (0..8u32)
                .map(|b| f64::from((a * 37 + b * 101) % 83 + 1))
                .collect()
        })
        .collect();
    let layers = vec![(0..8).collect::<Vec<u8>>(); 1000];
    let best = least_cost_order(&layers, &swap).expect("eight slots");
    assert!(best.cost <= cost_of(&greedy_order(&layers, &swap), &swap));
    // Seven swaps a layer are needed at least, each no cheaper than the cheapest.
    assert!(best.cost >= 7000.0);
}

#[test]
fn no_layers_and_empty_layers_cost_nothing() {
    let swap = vec![vec![5.0; 2]; 2];
    assert_eq!(least_cost_order(&[], &swap).expect("nothing").cost, 0.0);
    let order = least_cost_order(&[vec![0], vec![], vec![1], vec![]], &swap).expect("two slots");
    assert_eq!(order.cost, 5.0);
    assert_eq!(order.layers, [vec![0], vec![], vec![1], vec![]]);
}

#[test]
fn more_slots_than_can_be_ordered_exactly_are_refused() {
    let swap = vec![vec![1.0; 13]; 13];
    assert!(least_cost_order(&[(0..13).collect()], &swap).is_err());
}
