//! The order of slots in every layer that costs least over the whole print, found exactly.
//!
//! Within a layer each used slot prints once. The end of one layer is the start of the next. For every set of
//! slots the cheapest way through it from each first to each last slot comes from dynamic programming over
//! subsets (Held and Karp, 1962); a second one runs over the layers. Sets repeat from layer to layer, so each is
//! worked out once.

use std::collections::HashMap;

/// Most slots that one layer may use: subsets are tables of 2ⁿ · n entries.
pub const MOST_SLOTS_IN_A_LAYER: usize = 12;

/// Why no order was worked out.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum OrderError {
    /// A layer with more slots than the exact method can hold.
    #[error(
        "layer {layer} uses {slots} slots; at most {MOST_SLOTS_IN_A_LAYER} can be ordered exactly"
    )]
    TooManySlots {
        /// Index of the layer, from 0.
        layer: usize,
        /// Slots it uses.
        slots: usize,
    },
}

/// An order for every layer, and what it costs.
#[derive(Debug, Clone, PartialEq)]
pub struct Order {
    /// For each layer its slots in printing order.
    pub layers: Vec<Vec<u8>>,
    /// Sum of the costs of all swaps, in the unit of the cost table.
    pub cost: f64,
}

/// Cost of a swap: `cost[from][to]`, not negative, for slots numbered from 0.
pub type CostTable = Vec<Vec<f64>>;

/// Least cost through one set of slots.
struct Through {
    slots: Vec<u8>,
    /// `cost[first][last]`, by place in `slots`; infinite where impossible.
    cost: Vec<Vec<f64>>,
    /// `before[first][subset * n + last]`: the slot printed before `last`.
    before: Vec<Vec<u8>>,
}

impl Through {
    fn find(slots: Vec<u8>, swap: &CostTable) -> Through {
        let n = slots.len();
        let price = |a: usize, b: usize| swap[slots[a] as usize][slots[b] as usize];
        let mut cost = vec![vec![f64::INFINITY; n]; n];
        let mut before = Vec::with_capacity(n);
        for first in 0..n {
            let mut best = vec![f64::INFINITY; (1 << n) * n];
            let mut from = vec![0u8; (1 << n) * n];
            best[(1 << first) * n + first] = 0.0;
            for subset in 1usize..1 << n {
                if subset & (1 << first) == 0 {
                    continue;
                }
                for last in (0..n).filter(|l| subset & (1 << l) != 0) {
                    let so_far = best[subset * n + last];
                    if so_far.is_infinite() {
                        continue;
                    }
                    for next in (0..n).filter(|k| subset & (1 << k) == 0) {
                        let entry = (subset | 1 << next) * n + next;
                        let total = so_far + price(last, next);
                        if total < best[entry] {
                            best[entry] = total;
                            from[entry] = last as u8;
                        }
                    }
                }
            }
            for last in 0..n {
                cost[first][last] = best[((1 << n) - 1) * n + last];
            }
            before.push(from);
        }
        Through {
            slots,
            cost,
            before,
        }
    }

    fn path(&self, first: usize, last: usize) -> Vec<u8> {
        let n = self.slots.len();
        let mut subset = (1usize << n) - 1;
        let mut at = last;
        let mut path = vec![self.slots[at]];
        while at != first || subset.count_ones() > 1 {
            let previous = self.before[first][subset * n + at] as usize;
            subset &= !(1 << at);
            at = previous;
            path.push(self.slots[at]);
        }
        path.reverse();
        path
    }
}

/// The cheapest order over all layers.
///
/// `layers`: for each layer the slots it uses, from 0, each once; may be empty. `swap[a][b]`: cost of swapping
/// from a to b. The first slot of the print is loaded at no cost. Ties go to the lower slot.
///
/// # Errors
/// [`OrderError::TooManySlots`].
///
/// # Cost
/// Layers · n² plus, for every different set of n slots, 2ⁿ · n³.
pub fn least_cost_order(layers: &[Vec<u8>], swap: &CostTable) -> Result<Order, OrderError> {
    let mut known: HashMap<Vec<u8>, usize> = HashMap::new();
    let mut ways: Vec<Through> = Vec::new();
    let mut way_of: Vec<Option<usize>> = Vec::with_capacity(layers.len());
    for (layer, used) in layers.iter().enumerate() {
        let mut slots = used.clone();
        slots.sort_unstable();
        slots.dedup();
        if slots.is_empty() {
            way_of.push(None);
            continue;
        }
        if slots.len() > MOST_SLOTS_IN_A_LAYER {
            return Err(OrderError::TooManySlots {
                layer,
                slots: slots.len(),
            });
        }
        let way = *known.entry(slots).or_insert_with_key(|slots| {
            ways.push(Through::find(slots.clone(), swap));
            ways.len() - 1
        });
        way_of.push(Some(way));
    }

    // total[last]: least cost of everything up to and with this layer, ending in `last`.
    let mut ends: Vec<(u8, f64)> = Vec::new();
    // For each layer and last slot: first slot, and which end of the layer before it came from.
    let mut steps: Vec<Vec<(usize, usize)>> = Vec::with_capacity(layers.len());
    for way in &way_of {
        let Some(way) = way.map(|w| &ways[w]) else {
            steps.push(Vec::new());
            continue;
        };
        let n = way.slots.len();
        let entry: Vec<(f64, usize)> = (0..n)
            .map(|first| {
                let slot = way.slots[first];
                let mut best = (if ends.is_empty() { 0.0 } else { f64::INFINITY }, 0);
                for (index, (end, total)) in ends.iter().enumerate() {
                    let price = if *end == slot {
                        0.0
                    } else {
                        swap[*end as usize][slot as usize]
                    };
                    if total + price < best.0 {
                        best = (total + price, index);
                    }
                }
                best
            })
            .collect();
        let mut here = Vec::with_capacity(n);
        let mut step = Vec::with_capacity(n);
        for last in 0..n {
            let mut best = (f64::INFINITY, 0, 0);
            for (first, (arrive, from)) in entry.iter().enumerate() {
                let total = arrive + way.cost[first][last];
                if total < best.0 {
                    best = (total, first, *from);
                }
            }
            here.push((way.slots[last], best.0));
            step.push((best.1, best.2));
        }
        ends = here;
        steps.push(step);
    }

    let (mut last, cost) = ends
        .iter()
        .enumerate()
        .min_by(|a, b| a.1.1.total_cmp(&b.1.1))
        .map_or((0, 0.0), |(i, e)| (i, e.1));
    let mut order = vec![Vec::new(); layers.len()];
    for layer in (0..layers.len()).rev() {
        if let Some(way) = way_of[layer] {
            let (first, from) = steps[layer][last];
            order[layer] = ways[way].path(first, last);
            last = from;
        }
    }
    Ok(Order {
        layers: order,
        cost,
    })
}

/// What an order costs: every change of slot along it, layer after layer.
pub fn cost_of(layers: &[Vec<u8>], swap: &CostTable) -> f64 {
    let all: Vec<u8> = layers.iter().flatten().copied().collect();
    all.windows(2)
        .filter(|p| p[0] != p[1])
        .map(|p| swap[p[0] as usize][p[1] as usize])
        .fold(0.0, |sum, price| sum + price)
}

/// Every layer in number order: what a plan without thought would do, as a yardstick.
pub fn number_order(layers: &[Vec<u8>]) -> Vec<Vec<u8>> {
    layers
        .iter()
        .map(|used| {
            let mut used = used.clone();
            used.sort_unstable();
            used
        })
        .collect()
}

/// In every layer the cheapest next slot, starting from what is loaded: the usual rule of thumb, as a yardstick.
pub fn greedy_order(layers: &[Vec<u8>], swap: &CostTable) -> Vec<Vec<u8>> {
    let mut loaded: Option<u8> = None;
    layers
        .iter()
        .map(|used| {
            let mut left = used.clone();
            left.sort_unstable();
            let mut order = Vec::with_capacity(left.len());
            while !left.is_empty() {
                let price = |s: &u8| {
                    loaded.map_or(0.0, |l| {
                        if l == *s {
                            0.0
                        } else {
                            swap[l as usize][*s as usize]
                        }
                    })
                };
                let next = (0..left.len())
                    .min_by(|a, b| price(&left[*a]).total_cmp(&price(&left[*b])))
                    .unwrap_or(0);
                let slot = left.remove(next);
                loaded = Some(slot);
                order.push(slot);
            }
            order
        })
        .collect()
}
