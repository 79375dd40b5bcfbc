//! Orders found without thinking ahead, as yardsticks.

use super::turns::{CostTable, Turn};

/// What an order costs: every change of slot along it, layer after layer, by the table of the layer it is made in.
pub fn cost_of(order: &[Vec<u8>], layers: &[Turn], tables: &[CostTable]) -> f64 {
    let mut loaded: Option<u8> = None;
    let mut cost = 0.0;
    for (slots, turn) in order.iter().zip(layers) {
        for slot in slots {
            if let Some(from) = loaded.filter(|l| l != slot) {
                cost += tables[turn.table][from as usize][*slot as usize];
            }
            loaded = Some(*slot);
        }
    }
    cost
}

/// Every layer in number order, as far as the pairs allow: what a plan without thought would do.
pub fn number_order(layers: &[Turn]) -> Vec<Vec<u8>> {
    one_by_one(layers, |_, _, _| 0.0)
}

/// In every layer the cheapest next slot that the pairs allow, starting from what is loaded: the usual rule of thumb.
pub fn greedy_order(layers: &[Turn], tables: &[CostTable]) -> Vec<Vec<u8>> {
    one_by_one(layers, |turn, from, to| {
        if from == to {
            0.0
        } else {
            tables[turn.table][from as usize][to as usize]
        }
    })
}

/// One slot after the other, always the one with the least price from what is loaded; the lower one of equals.
fn one_by_one(layers: &[Turn], price: impl Fn(&Turn, u8, u8) -> f64) -> Vec<Vec<u8>> {
    let mut loaded: Option<u8> = None;
    let mut layer = |turn: &Turn| {
        let masks = turn.masks();
        let mut left: u32 = (0..masks.len()).map(|i| 1 << i).sum();
        let mut order = Vec::with_capacity(masks.len());
        while left != 0 {
            let free = |i: &usize| left >> i & 1 == 1 && masks[*i] & left == 0;
            let cost = |i: &usize| loaded.map_or(0.0, |l| price(turn, l, turn.slots[*i]));
            let next = (0..masks.len())
                .filter(free)
                .min_by(|a, b| cost(a).total_cmp(&cost(b)));
            // Pairs that contradict one another are found before.
            let next = next.unwrap_or(left.trailing_zeros() as usize);
            left &= !(1 << next);
            loaded = Some(turn.slots[next]);
            order.push(turn.slots[next]);
        }
        order
    };
    layers.iter().map(&mut layer).collect()
}
