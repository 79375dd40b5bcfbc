//! Order and reloads found together: which spool leaves for which, and in which order the slots of each layer print.
//!
//! Apart from one another the two are not the best: of all plans with the fewest reloads, the one whose order is cheapest may
//! put out another spool. So one search goes over both: its states are what sits in the machine and what is in the nozzle, its
//! steps are the slots that print, as in [`super::least_cost_order`]. It is exact, and given up where it would take too long.

use super::reloads::{Reload, Reloads};
use super::turns::{CostTable, Turn};

/// What a reload counts against what swaps cost.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum ReloadWeight {
    /// More than any cost: the fewest reloads there are, and of those plans the cheapest.
    First,
    /// As much as this, in the unit of the cost tables.
    Each(f64),
}

/// An order with its reloads.
#[derive(Debug, Clone, PartialEq)]
pub struct Joint {
    /// For each layer its slots in printing order.
    pub layers: Vec<Vec<u8>>,
    /// Who sits in the machine.
    pub reloads: Reloads,
    /// Sum of the costs of all swaps, in the unit of the cost tables, without what reloads count.
    pub cost: f64,
}

/// Steps that may be looked at before the search is given up: a fraction of a second.
pub const MOST_STEPS: usize = 60_000_000;

/// Entries of one layer's table at most.
const MOST_ENTRIES: usize = 3_000_000;

#[derive(Clone, Copy, PartialEq)]
struct Value {
    reloads: u32,
    cost: f64,
}

const NEVER: Value = Value {
    reloads: u32::MAX,
    cost: f64::INFINITY,
};

/// The plan with the least of reloads and cost, as `weight` has it, for a machine of `holds` places; none if the search would
/// take more than `most_steps`, or a layer asks for pairs that contradict one another. At the start the machine may hold
/// whatever suits, and its first slot is loaded at no cost. Ties go to the lower slots.
///
/// # Cost
/// For each layer of n slots, 2ⁿ times the states it is entered in times n times `holds`; twice that to find the way back.
///
/// # Source
/// Held and Karp, 1962, with the machine as part of the state; paging as in Belady, 1966, where a spool is put in only when it
/// is to print.
pub fn least_with_reloads(
    layers: &[Turn],
    tables: &[CostTable],
    holds: usize,
    weight: ReloadWeight,
    most_steps: usize,
) -> Option<Joint> {
    let mut used: Vec<u8> = layers.iter().flat_map(|t| t.slots.clone()).collect();
    used.sort_unstable();
    used.dedup();
    if holds == 0 || used.len() <= holds || used.len() > 16 {
        return None;
    }
    let mut search = Search::new(used, holds, tables, weight, most_steps);
    // By layer that prints: what it was entered with.
    let mut entered: Vec<(usize, Vec<Value>)> = Vec::new();
    let mut states = search.at_start();
    for (layer, turn) in layers
        .iter()
        .enumerate()
        .filter(|(_, t)| !t.slots.is_empty())
    {
        let passed = search.pass(turn, &states)?;
        let after = search.after(&passed, turn.slots.len());
        entered.push((layer, std::mem::replace(&mut states, after)));
    }
    let mut at = (0..states.len()).fold(0, |best, s| {
        if search.is_less(states[s], states[best]) {
            s
        } else {
            best
        }
    });
    let best = states[at];
    if best == NEVER {
        return None;
    }
    let mut order = vec![Vec::new(); layers.len()];
    let mut reloads = vec![Vec::new(); layers.len()];
    // The way back may take as long again.
    search.left += most_steps;
    for (layer, before) in entered.iter().rev() {
        let turn = &layers[*layer];
        let passed = search.pass(turn, before)?;
        let (slots, put_in, from) = search.way_back(&passed, turn, at);
        (order[*layer], reloads[*layer], at) = (slots, put_in, from);
    }
    let start = search.machine_of(at);
    Some(Joint {
        layers: order,
        reloads: Reloads {
            start: search.slots_in(start),
            layers: reloads,
            is_proven: true,
        },
        cost: best.cost,
    })
}

/// One layer passed: for each subset that has printed and each state, the least so far and the entry it came from.
struct Passed {
    values: Vec<Value>,
    from: Vec<u32>,
}

struct Search<'a> {
    /// Slots, ascending; all else counts by place in here.
    used: Vec<u8>,
    tables: &'a [CostTable],
    weight: ReloadWeight,
    /// All machines: sets of `holds` places as masks, ascending.
    machines: Vec<u16>,
    /// Number of a machine by its mask.
    number_of: Vec<u32>,
    /// States of one machine: what is in the nozzle, or nothing yet.
    nozzles: usize,
    holds: usize,
    left: usize,
}

impl<'a> Search<'a> {
    fn new(
        used: Vec<u8>,
        holds: usize,
        tables: &'a [CostTable],
        weight: ReloadWeight,
        left: usize,
    ) -> Search<'a> {
        let n = used.len();
        let machines: Vec<u16> = (0..1u32 << n)
            .filter(|m| m.count_ones() as usize == holds)
            .map(|m| m as u16)
            .collect();
        let mut number_of = vec![u32::MAX; 1 << n];
        for (number, machine) in (0u32..).zip(&machines) {
            number_of[*machine as usize] = number;
        }
        Search {
            nozzles: n + 1,
            used,
            tables,
            weight,
            machines,
            number_of,
            holds,
            left,
        }
    }

    fn states(&self) -> usize {
        self.machines.len() * self.nozzles
    }

    fn machine_of(&self, state: usize) -> u16 {
        self.machines[state / self.nozzles]
    }

    fn slots_in(&self, machine: u16) -> Vec<u8> {
        let places = 0..self.used.len();
        places
            .filter(|p| machine >> p & 1 == 1)
            .map(|p| self.used[p])
            .collect()
    }

    fn is_less(&self, a: Value, b: Value) -> bool {
        match self.weight {
            ReloadWeight::First => (a.reloads, a.cost) < (b.reloads, b.cost),
            ReloadWeight::Each(each) => {
                let sum = |v: Value| v.cost + each * f64::from(v.reloads);
                (sum(a), a.reloads) < (sum(b), b.reloads)
            }
        }
    }

    fn at_start(&self) -> Vec<Value> {
        let nothing = self.nozzles - 1;
        let empty = |state: usize| state % self.nozzles == nothing;
        let start = Value {
            reloads: 0,
            cost: 0.0,
        };
        (0..self.states())
            .map(|s| if empty(s) { start } else { NEVER })
            .collect()
    }

    /// All ways through a layer; none if that takes too many steps.
    fn pass(&mut self, turn: &Turn, start: &[Value]) -> Option<Passed> {
        let (states, n) = (self.states(), turn.slots.len());
        let entries = states
            .checked_shl(n as u32)
            .filter(|e| *e <= MOST_ENTRIES)?;
        let (masks, table) = (turn.masks(), &self.tables[turn.table]);
        let places: Vec<usize> = (turn.slots.iter())
            .filter_map(|s| self.used.iter().position(|u| u == s))
            .collect();
        let mut passed = Passed {
            values: vec![NEVER; entries],
            from: vec![u32::MAX; entries],
        };
        passed.values[..states].copy_from_slice(start);
        for at in 0..entries {
            let value = passed.values[at];
            if value.reloads == u32::MAX {
                continue;
            }
            let (subset, state) = (at / states, at % states);
            let (machine, nozzle) = (self.machine_of(state), state % self.nozzles);
            self.left = self.left.checked_sub(n * self.holds)?;
            for (i, place) in places.iter().enumerate() {
                if subset >> i & 1 == 1 || masks[i] as usize & !subset != 0 {
                    continue;
                }
                let price = if nozzle == *place || nozzle == self.nozzles - 1 {
                    0.0
                } else {
                    table[self.used[nozzle] as usize][self.used[*place] as usize]
                };
                let mut reach = |machine: u16, more: u32| {
                    let number = self.number_of[machine as usize] as usize;
                    let to = (subset | 1 << i) * states + number * self.nozzles + place;
                    let new = Value {
                        reloads: value.reloads + more,
                        cost: value.cost + price,
                    };
                    if self.is_less(new, passed.values[to]) {
                        passed.values[to] = new;
                        passed.from[to] = at as u32;
                    }
                };
                if machine >> place & 1 == 1 {
                    reach(machine, 0);
                    continue;
                }
                // Whoever still has to print in this layer may leave as well, and then comes in once more.
                let all = 0..self.used.len();
                for out in all.filter(|out| machine >> out & 1 == 1) {
                    reach(machine & !(1 << out) | 1 << place, 1);
                }
            }
        }
        Some(passed)
    }

    /// What a layer leaves, without what can no longer win: from any state every other is reached by reloading all places.
    fn after(&self, passed: &Passed, slots: usize) -> Vec<Value> {
        let states = self.states();
        let full = (1 << slots) - 1;
        let mut values = passed.values[full * states..(full + 1) * states].to_vec();
        if self.weight == ReloadWeight::First {
            let least = values.iter().map(|v| v.reloads).min().unwrap_or(0);
            let most = least.saturating_add(self.holds as u32);
            for value in values.iter_mut().filter(|v| v.reloads > most) {
                *value = NEVER;
            }
        }
        values
    }

    /// From a state after a layer back to the one before it: the slots in order, what was put in, and that state.
    fn way_back(&self, passed: &Passed, turn: &Turn, end: usize) -> (Vec<u8>, Vec<Reload>, usize) {
        let states = self.states();
        let mut at = ((1 << turn.slots.len()) - 1) * states + end;
        let (mut slots, mut put_in) = (Vec::new(), Vec::new());
        while at >= states {
            let before = passed.from[at] as usize;
            let slot = self.used[(at % states) % self.nozzles];
            slots.push(slot);
            let (old, new) = (
                self.machine_of(before % states),
                self.machine_of(at % states),
            );
            if old != new {
                put_in.push(Reload {
                    out: self.used[(old & !new).trailing_zeros() as usize],
                    slot,
                });
            }
            at = before;
        }
        slots.reverse();
        put_in.reverse();
        (slots, put_in, at)
    }
}
