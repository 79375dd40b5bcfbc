//! The exact order against brute force, against a general solver of integer programs, and its laws.

use crate::judge::cases;
use microlp::{ComparisonOp, OptimizationDirection, Problem, SolveOutcome, Variable};
use proptest::prelude::*;
use varichrom_core::order::{
    CostTable, OrderError, Turn, cost_of, greedy_order, least_cost_order, number_order,
};

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

fn keeps(order: &[u8], before: &[(u8, u8)]) -> bool {
    let place = |s: u8| order.iter().position(|o| *o == s);
    before.iter().all(|(a, b)| match (place(*a), place(*b)) {
        (Some(a), Some(b)) => a < b,
        _ => true,
    })
}

/// Least cost by trying every order of every layer that meets the pairs; infinite if there is none.
fn brute_force(layers: &[Turn], tables: &[CostTable], loaded: Option<u8>) -> f64 {
    let Some((layer, rest)) = layers.split_first() else {
        return 0.0;
    };
    permutations(&layer.slots)
        .into_iter()
        .filter(|order| keeps(order, &layer.before))
        .map(|order| {
            let mut at = loaded;
            let mut cost = 0.0;
            for slot in order {
                if let Some(from) = at.filter(|a| *a != slot) {
                    cost += tables[layer.table][from as usize][slot as usize];
                }
                at = Some(slot);
            }
            cost + brute_force(rest, tables, at)
        })
        .fold(f64::INFINITY, f64::min)
}

fn any_table(slots: usize) -> impl Strategy<Value = CostTable> {
    let row = prop::collection::vec(0u32..500, slots);
    prop::collection::vec(row, slots).prop_map(|t| {
        let row = |r: Vec<u32>| r.into_iter().map(f64::from).collect();
        t.into_iter().map(row).collect()
    })
}

fn any_turn(slots: u8, pairs: usize) -> impl Strategy<Value = Turn> {
    let set = prop::collection::btree_set(0..slots, 0..slots as usize);
    let before = prop::collection::btree_set((0..slots, 0..slots), 0..=pairs);
    (set, 0usize..2, before).prop_map(|(slots, table, before)| Turn {
        slots: slots.into_iter().collect(),
        table,
        before: before.into_iter().filter(|(a, b)| a != b).collect(),
    })
}

proptest! {
    #![proptest_config(cases(2500))]

    #[test]
    fn order_with_rules_equals_brute_force_and_is_never_dearer_than_another(
        layers in prop::collection::vec(any_turn(4, 3), 0..5),
        tables in prop::collection::vec(any_table(4), 2),
    ) {
        let all = brute_force(&layers, &tables, None);
        match least_cost_order(&layers, &tables) {
            Err(OrderError::Contradiction { layer, ring }) => {
                prop_assert!(all.is_infinite());
                let turn = &layers[layer];
                for (i, slot) in ring.iter().enumerate() {
                    let next = ring[(i + 1) % ring.len()];
                    prop_assert!(turn.before.contains(&(*slot, next)));
                    prop_assert!(turn.slots.contains(slot));
                }
            }
            Err(e) => prop_assert!(false, "{e}"),
            Ok(best) => {
                prop_assert_eq!(best.cost, all);
                prop_assert_eq!(best.cost, cost_of(&best.layers, &layers, &tables));
                for other in [greedy_order(&layers, &tables), number_order(&layers)] {
                    prop_assert!(best.cost <= cost_of(&other, &layers, &tables));
                    for (order, turn) in other.iter().zip(&layers) {
                        prop_assert!(keeps(order, &turn.before));
                    }
                }
                for (order, turn) in best.layers.iter().zip(&layers) {
                    prop_assert!(keeps(order, &turn.before));
                    let mut order = order.clone();
                    order.sort_unstable();
                    prop_assert_eq!(&order, &turn.slots);
                }
            }
        }
    }
}

proptest! {
    #![proptest_config(cases(200))]

    // Many equal layers are worked out through a table of all first and last slots, few are swept through: both must agree.
    #[test]
    fn repeated_layers_cost_what_brute_force_says(
        turn in any_turn(4, 2),
        other in any_turn(4, 2),
        tables in prop::collection::vec(any_table(4), 2),
    ) {
        let mut layers = vec![turn; 3];
        layers.push(other);
        layers.extend_from_within(0..3);
        let best = least_cost_order(&layers, &tables);
        let all = brute_force(&layers[..5], &tables, None);
        if let Ok(best) = best {
            let few = least_cost_order(&layers[..5], &tables).expect("part of what works");
            prop_assert_eq!(few.cost, all);
            prop_assert!(best.cost >= few.cost);
            prop_assert_eq!(best.cost, cost_of(&best.layers, &layers, &tables));
            // Never better than the two halves apart, never worse than both and the dearest swap between them.
            let half = least_cost_order(&layers[5..], &tables).expect("part of what works");
            prop_assert!(best.cost + 1e-9 >= few.cost + half.cost);
            prop_assert!(best.cost <= few.cost + half.cost + 500.0);
        } else {
            prop_assert!(all.is_infinite() || least_cost_order(&layers[5..], &tables).is_err());
        }
    }
}

/// A moment of an integer program: its layer, and the variable of each slot that may print then.
type Moment = (usize, Vec<(u8, Variable)>);

/// The same as an integer program: one slot at each moment, each slot once in its layer, a swap where neighbours differ.
fn solved(layers: &[Turn], tables: &[CostTable]) -> Option<f64> {
    let mut problem = Problem::new(OptimizationDirection::Minimize);
    let mut moments: Vec<Moment> = Vec::new();
    for (layer, turn) in layers.iter().enumerate() {
        let first = moments.len();
        for _ in &turn.slots {
            let here: Vec<(u8, Variable)> = turn
                .slots
                .iter()
                .map(|s| (*s, problem.add_binary_var(0.0)))
                .collect();
            let all: Vec<(Variable, f64)> = here.iter().map(|(_, v)| (*v, 1.0)).collect();
            problem.add_constraint(&all[..], ComparisonOp::Eq, 1.0);
            moments.push((layer, here));
        }
        let of = |slot: u8, moments: &[Moment], weigh: bool, sign: f64| {
            let at = |(t, (_, here)): (usize, &Moment)| {
                let found = here.iter().find(|(s, _)| *s == slot)?;
                Some((found.1, sign * if weigh { t as f64 } else { 1.0 }))
            };
            let terms = moments[first..].iter().enumerate();
            terms.filter_map(at).collect::<Vec<(Variable, f64)>>()
        };
        for slot in &turn.slots {
            let once = of(*slot, &moments, false, 1.0);
            problem.add_constraint(&once[..], ComparisonOp::Eq, 1.0);
        }
        for (a, b) in &turn.before {
            if turn.slots.contains(a) && turn.slots.contains(b) {
                let mut later = of(*b, &moments, true, 1.0);
                later.extend(of(*a, &moments, true, -1.0));
                problem.add_constraint(&later[..], ComparisonOp::Ge, 1.0);
            }
        }
    }
    for pair in moments.windows(2) {
        for (a, x) in &pair[0].1 {
            for (b, y) in pair[1].1.iter().filter(|(b, _)| b != a) {
                let price = tables[layers[pair[1].0].table][*a as usize][*b as usize];
                let swap = problem.add_var(price, (0.0, 1.0));
                let both = [(*x, 1.0), (*y, 1.0), (swap, -1.0)];
                problem.add_constraint(both, ComparisonOp::Le, 1.0);
            }
        }
    }
    match problem.solve().ok()? {
        SolveOutcome::Solution(solution) => Some(solution.objective()),
        SolveOutcome::Interrupted(_) => None,
    }
}

proptest! {
    #![proptest_config(cases(60))]

    #[test]
    fn order_equals_a_general_solver_of_integer_programs(
        layers in prop::collection::vec(any_turn(4, 2), 1..4),
        tables in prop::collection::vec(any_table(4), 2),
    ) {
        match (least_cost_order(&layers, &tables), solved(&layers, &tables)) {
            (Ok(best), Some(cost)) => prop_assert!((best.cost - cost).abs() < 1e-5),
            (Err(_), None) => {}
            (ours, theirs) => prop_assert!(false, "{ours:?} against {theirs:?}"),
        }
    }
}

fn turns(layers: &[Vec<u8>]) -> Vec<Turn> {
    let turn = |slots: &Vec<u8>| Turn {
        slots: slots.clone(),
        ..Turn::default()
    };
    layers.iter().map(turn).collect()
}

#[test]
fn many_slots_cost_no_more_than_greedy_and_no_less_than_the_cheapest_swaps() {
    let swap: CostTable = (0..16u32)
        .map(|a| {
            (0..16u32)
                .map(|b| f64::from((a * 37 + b * 101) % 83 + 1))
                .collect()
        })
        .collect();
    for slots in [8u8, 16] {
        let layers = turns(&vec![(0..slots).collect::<Vec<u8>>(); 100]);
        let tables = [swap.clone()];
        let best = least_cost_order(&layers, &tables).expect("up to sixteen slots");
        assert!(best.cost <= cost_of(&greedy_order(&layers, &tables), &layers, &tables));
        assert_eq!(best.cost, cost_of(&best.layers, &layers, &tables));
        assert!(best.cost >= 100.0 * f64::from(slots - 1));
    }
}

#[test]
fn no_layers_and_empty_layers_cost_nothing() {
    let tables = [vec![vec![5.0; 2]; 2]];
    assert_eq!(least_cost_order(&[], &tables).expect("nothing").cost, 0.0);
    let layers = turns(&[vec![0], vec![], vec![1], vec![]]);
    let order = least_cost_order(&layers, &tables).expect("two slots");
    assert_eq!(order.cost, 5.0);
    assert_eq!(order.layers, [vec![0], vec![], vec![1], vec![]]);
}

#[test]
fn more_slots_than_can_be_ordered_exactly_are_refused() {
    let tables = [vec![vec![1.0; 17]; 17]];
    let layers = turns(&[(0..17).collect()]);
    let refused = least_cost_order(&layers, &tables).expect_err("too many");
    assert_eq!(
        refused,
        OrderError::TooManySlots {
            layer: 0,
            slots: 17
        }
    );
}
