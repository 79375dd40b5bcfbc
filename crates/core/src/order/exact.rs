//! The order that costs least over the whole print, found exactly.
//!
//! Within a layer each used slot prints once; the end of one layer is the start of the next. For every set of slots the
//! cheapest way through it comes from dynamic programming over subsets (Held and Karp, "A Dynamic Programming Approach to
//! Sequencing Problems", 1962); a second one runs over the layers. Sets that come often are worked out once for all first
//! and last slots; those that come seldom are swept through with what the layers before them cost.

use super::turns::{CostTable, Order, OrderError, Turn};
use rayon::prelude::*;
use std::collections::HashMap;

/// Most slots that one layer may use: a sweep is a table of 2ⁿ · n entries.
pub const MOST_SLOTS_IN_A_LAYER: usize = 16;

/// Entries of a row are taken four at a time.
const WIDE: usize = 4;

/// One set of slots with its prices and pairs.
struct Set {
    slots: Vec<u8>,
    /// For each place, a mask of those before it.
    before: Vec<u32>,
    /// Length of a row: the number of slots, rounded up to [`WIDE`].
    row: usize,
    /// `price[last * row + previous]`; infinite past the end.
    price: Vec<f64>,
    /// Least cost from each first to each last slot, `[first][last]`, where the set is frequent.
    through: Option<Vec<Vec<f64>>>,
    /// Ways from a first to a last slot that were asked for.
    paths: HashMap<(usize, usize), Vec<u8>>,
}

impl Set {
    fn new(turn: &Turn, swap: &CostTable) -> Set {
        let n = turn.slots.len();
        let row = n.next_multiple_of(WIDE);
        let mut price = vec![f64::INFINITY; n * row];
        for (last, to) in turn.slots.iter().enumerate() {
            for (previous, from) in turn.slots.iter().enumerate() {
                price[last * row + previous] = swap[*from as usize][*to as usize];
            }
        }
        Set {
            before: turn.masks(),
            slots: turn.slots.clone(),
            row,
            price,
            through: None,
            paths: HashMap::new(),
        }
    }

    /// `best[subset * row + last]`: least cost of printing the subset with `last` at its end, when starting with a slot
    /// costs `start`.
    fn sweep(&self, start: &[f64]) -> Vec<f64> {
        let n = self.slots.len();
        let mut best = vec![f64::INFINITY; self.row << n];
        for subset in 1usize..1 << n {
            for last in (0..n).filter(|l| subset >> l & 1 == 1) {
                let rest = subset & !(1 << last);
                if self.before[last] as usize & !rest != 0 {
                    continue;
                }
                let least = if rest == 0 {
                    start[last]
                } else {
                    let so_far = &best[rest * self.row..(rest + 1) * self.row];
                    let price = &self.price[last * self.row..(last + 1) * self.row];
                    least_sum(so_far, price)
                };
                best[subset * self.row + last] = least;
            }
        }
        best
    }

    /// The order that a sweep found to end in `last`. Ties go to the lower slot.
    fn path(&self, best: &[f64], mut last: usize) -> Vec<usize> {
        let mut subset = (1usize << self.slots.len()) - 1;
        let mut path = vec![last];
        while subset.count_ones() > 1 {
            let cost = best[subset * self.row + last];
            subset &= !(1 << last);
            let price = &self.price[last * self.row..(last + 1) * self.row];
            // The same sum as in the sweep, so equal to the last bit.
            last = (0..self.slots.len())
                .find(|p| best[subset * self.row + p] + price[*p] == cost)
                .unwrap_or(0);
            path.push(last);
        }
        path.reverse();
        path
    }

    /// A start that is possible only with one slot.
    fn only(&self, first: usize) -> Vec<f64> {
        let mut start = vec![f64::INFINITY; self.slots.len()];
        start[first] = 0.0;
        start
    }

    fn find_through(&mut self) {
        let n = self.slots.len();
        let full = (1usize << n) - 1;
        let rows = (0..n).into_par_iter().map(|first| {
            let best = self.sweep(&self.only(first));
            best[full * self.row..full * self.row + n].to_vec()
        });
        self.through = Some(rows.collect());
    }

    /// Least cost at each last slot, when entering by each first costs `entry`.
    fn ends(&self, entry: &[f64]) -> Vec<f64> {
        let n = self.slots.len();
        match &self.through {
            Some(through) => (0..n)
                .map(|last| self.cheapest_first(through, entry, last).1)
                .collect(),
            None => {
                let full = (1usize << n) - 1;
                self.sweep(entry)[full * self.row..full * self.row + n].to_vec()
            }
        }
    }

    fn cheapest_first(&self, through: &[Vec<f64>], entry: &[f64], last: usize) -> (usize, f64) {
        let mut best = (0, f64::INFINITY);
        for first in 0..self.slots.len() {
            let total = entry[first] + through[first][last];
            if total < best.1 {
                best = (first, total);
            }
        }
        best
    }

    /// The order with the least cost that ends in `last`, as slots.
    fn way(&mut self, entry: &[f64], last: usize) -> Vec<u8> {
        let as_slots = |path: Vec<usize>, slots: &[u8]| -> Vec<u8> {
            path.iter().map(|p| slots[*p]).collect()
        };
        let Some(through) = &self.through else {
            return as_slots(self.path(&self.sweep(entry), last), &self.slots);
        };
        let (first, _) = self.cheapest_first(through, entry, last);
        if let Some(path) = self.paths.get(&(first, last)) {
            return path.clone();
        }
        let path = self.path(&self.sweep(&self.only(first)), last);
        let path = as_slots(path, &self.slots);
        self.paths.insert((first, last), path.clone());
        path
    }
}

/// The least sum of two rows, entry by entry.
fn least_sum(a: &[f64], b: &[f64]) -> f64 {
    let mut least = [f64::INFINITY; WIDE];
    for (a, b) in a.chunks_exact(WIDE).zip(b.chunks_exact(WIDE)) {
        for i in 0..WIDE {
            let sum = a[i] + b[i];
            least[i] = if sum < least[i] { sum } else { least[i] };
        }
    }
    least.into_iter().fold(f64::INFINITY, f64::min)
}

/// The cheapest order over all layers that meets every pair.
///
/// `tables[t][a][b]`: cost of swapping from a to b in a layer that names table t. The first slot of the print is loaded
/// at no cost. Ties go to the lower slot.
///
/// # Errors
/// [`OrderError`]: a layer with more than 16 slots, or pairs that contradict one another.
///
/// # Cost
/// For a layer of n slots 2ⁿ · n²; for a set that occurs in more than n layers 2ⁿ · n³ once and n² for each layer.
pub fn least_cost_order(layers: &[Turn], tables: &[CostTable]) -> Result<Order, OrderError> {
    let mut known: HashMap<&Turn, usize> = HashMap::new();
    let mut sets: Vec<Set> = Vec::new();
    let mut times: Vec<usize> = Vec::new();
    let mut set_of: Vec<Option<usize>> = Vec::with_capacity(layers.len());
    for (layer, turn) in layers.iter().enumerate() {
        let slots = turn.slots.len();
        if slots > MOST_SLOTS_IN_A_LAYER {
            return Err(OrderError::TooManySlots { layer, slots });
        }
        if slots == 0 {
            set_of.push(None);
            continue;
        }
        let set = match known.get(turn) {
            Some(set) => *set,
            None => {
                if let Some(ring) = turn.ring() {
                    return Err(OrderError::Contradiction { layer, ring });
                }
                sets.push(Set::new(turn, &tables[turn.table]));
                times.push(0);
                known.insert(turn, sets.len() - 1);
                sets.len() - 1
            }
        };
        times[set] += 1;
        set_of.push(Some(set));
    }
    for (set, times) in sets.iter_mut().zip(times) {
        if times > set.slots.len() {
            set.find_through();
        }
    }

    // Layers that print, with what entering by each of their slots costs, and their least cost at each end.
    let mut passed: Vec<Passed> = Vec::with_capacity(layers.len());
    for (layer, set) in set_of.into_iter().enumerate() {
        let Some(set) = set else { continue };
        let turn = &layers[layer];
        let before = passed.last().map_or(&[][..], |p| &p.ends);
        let enter = |slot: &u8| cheapest_end(before, *slot, &tables[turn.table]).1;
        let entry: Vec<f64> = turn.slots.iter().map(enter).collect();
        let costs = sets[set].ends(&entry);
        passed.push(Passed {
            layer,
            set,
            ends: turn.slots.iter().copied().zip(costs).collect(),
            entry,
        });
    }
    let mut order = vec![Vec::new(); layers.len()];
    let ends = passed.last().map_or(&[][..], |p| &p.ends);
    let Some((mut last, cost)) = ends.iter().copied().min_by(|a, b| a.1.total_cmp(&b.1)) else {
        return Ok(Order {
            layers: order,
            cost: 0.0,
        });
    };
    for (index, here) in passed.iter().enumerate().rev() {
        let turn = &layers[here.layer];
        let place = turn.slots.iter().position(|s| *s == last);
        let way = sets[here.set].way(&here.entry, place.unwrap_or(0));
        if let (Some(before), Some(first)) = (index.checked_sub(1), way.first()) {
            last = cheapest_end(&passed[before].ends, *first, &tables[turn.table]).0;
        }
        order[here.layer] = way;
    }
    Ok(Order {
        layers: order,
        cost,
    })
}

/// A layer that prints, on the way from the first to the last.
struct Passed {
    layer: usize,
    set: usize,
    /// Least cost of getting to each of its slots first.
    entry: Vec<f64>,
    /// Least cost of everything up to its end, by its last slot.
    ends: Vec<(u8, f64)>,
}

/// The end of the layers so far from which a slot is reached at the least cost, and that cost; nothing at the start.
fn cheapest_end(ends: &[(u8, f64)], slot: u8, swap: &CostTable) -> (u8, f64) {
    let mut best = (slot, if ends.is_empty() { 0.0 } else { f64::INFINITY });
    for (end, total) in ends {
        let price = if *end == slot {
            0.0
        } else {
            swap[*end as usize][slot as usize]
        };
        if total + price < best.1 {
            best = (*end, total + price);
        }
    }
    best
}
