//! What a swap takes, and what it counts for the order.

use super::filament::Filament;
use super::task::Task;
use crate::order::CostTable;
use crate::rinse::purge_mm3;
use crate::rules::{Aim, PlanRules};
use std::collections::{BTreeMap, HashMap};

/// Purge that another plastic asks for besides the colour, in melt zones (common practice, no source).
const OTHER_PLASTIC: f64 = 1.0;

/// Gap of temperatures for which another melt zone is purged, °C: while the nozzle cools, what is in it chars and has to go
/// (common practice, no source).
const GAP_C: f64 = 50.0;

/// What one swap takes.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub(crate) struct SwapPrice {
    /// Purged in all, mm³.
    pub(crate) purge_mm3: f64,
    /// Of that, due to another plastic or temperature, mm³.
    pub(crate) extra_mm3: f64,
    /// Waiting for the temperature, s.
    pub(crate) heat_s: f64,
}

/// What every swap from slot to slot, from 1, purges at the printer's own tolerance, mm³.
pub fn purges_of_pairs(task: &Task) -> BTreeMap<(u8, u8), f64> {
    let mut prices = Prices::new(task);
    let slots = 0..task.filaments.len() as u8;
    let pairs = slots
        .clone()
        .flat_map(|a| slots.clone().map(move |b| (a, b)));
    pairs
        .filter(|(from, to)| from != to)
        .map(|(from, to)| {
            let price = prices.of(from, to, task.printer.tolerance);
            ((from + 1, to + 1), price.purge_mm3)
        })
        .collect()
}

/// Prices of swaps, worked out when they are asked for.
pub(crate) struct Prices<'a> {
    task: &'a Task,
    rules: PlanRules,
    filaments: &'a [Filament],
    known: HashMap<(u8, u8, u64), SwapPrice>,
}

impl<'a> Prices<'a> {
    pub(crate) fn new(task: &'a Task) -> Prices<'a> {
        Prices {
            task,
            rules: task.rules.clone(),
            filaments: &task.filaments,
            known: HashMap::new(),
        }
    }

    /// Prices of the same swaps under other rules.
    pub(crate) fn under(&self, rules: PlanRules) -> Prices<'a> {
        Prices {
            rules,
            known: HashMap::new(),
            ..*self
        }
    }

    /// A swap between two slots, from 0, that has to come out within a difference.
    pub(crate) fn of(&mut self, from: u8, to: u8, tolerance: f64) -> SwapPrice {
        let key = (from, to, tolerance.to_bits());
        if let Some(price) = self.known.get(&key) {
            return *price;
        }
        let price = self.work_out(from, to, tolerance);
        self.known.insert(key, price);
        price
    }

    fn work_out(&self, from: u8, to: u8, tolerance: f64) -> SwapPrice {
        let (rules, printer) = (&self.rules, &self.task.printer);
        let (old, new) = (&self.filaments[from as usize], &self.filaments[to as usize]);
        if from == to {
            return SwapPrice::default();
        }
        if !printer.profile().rinses {
            // With a nozzle for each filament nothing is rinsed: what has oozed is pressed out.
            let purge_mm3 = if rules.is_quick {
                0.0
            } else {
                printer.prime_mm3
            };
            return SwapPrice {
                purge_mm3,
                extra_mm3: 0.0,
                heat_s: printer.printing.standby_c / printer.heat_c_s,
            };
        }
        let gap_c = gap(old, new);
        let heat_s = new.wait_c(old) / printer.heat_c_s;
        if rules.is_quick {
            return SwapPrice {
                heat_s,
                ..SwapPrice::default()
            };
        }
        let set = rules
            .cut_offs
            .iter()
            .find(|c| (c.from, c.to) == (from + 1, to + 1));
        let by_hand = rules.places.by_hand_mm.map(|mm| new.volume_mm3(mm));
        if let Some(purge_mm3) = by_hand.or(set.map(|c| c.purge_mm3)) {
            return SwapPrice {
                purge_mm3,
                extra_mm3: 0.0,
                heat_s,
            };
        }
        let extra_mm3 = printer.melt.volume_mm3 * (other_plastic(old, new) + gap_c / GAP_C);
        let colour_mm3 = purge_mm3(printer.melt, old.pigment, new.pigment, tolerance);
        SwapPrice {
            purge_mm3: (colour_mm3 + extra_mm3).max(printer.least_flush()),
            extra_mm3,
            heat_s,
        }
    }

    /// What all swaps count, when each slot has to come out within its tolerance.
    pub(crate) fn table(&mut self, aim: Aim, tolerances: &[f64]) -> CostTable {
        let n = self.filaments.len() as u8;
        (0..n)
            .map(|from| {
                (0..n)
                    .map(|to| {
                        let price = self.of(from, to, tolerances[to as usize]);
                        if from == to {
                            0.0
                        } else {
                            self.counts(aim, price)
                        }
                    })
                    .collect()
            })
            .collect()
    }

    /// What a swap counts towards an aim. Time is that of the changes: what a small layer waits to set, less where it has changes of its
    /// own, is not in it.
    fn counts(&self, aim: Aim, price: SwapPrice) -> f64 {
        // Small enough that the purge of a whole print never comes to a swap.
        const TIE: f64 = 1e-9;
        let printer = &self.task.printer;
        let seconds = printer.swap_s + price.heat_s + price.purge_mm3 / printer.purge_mm3_s;
        match aim {
            // Where nothing is purged the swaps still count.
            Aim::Purge if self.rules.is_quick => 1.0,
            Aim::Purge | Aim::SlotOrder => price.purge_mm3,
            Aim::Time => seconds,
            Aim::Swaps => 1.0 + TIE * price.purge_mm3,
            Aim::Weighed {
                purge_cm3,
                minute,
                swap,
            } => purge_cm3 * price.purge_mm3 / 1000.0 + minute * seconds / 60.0 + swap,
        }
    }
}

/// Distance between the temperatures of two filaments, °C; none if one temperature suits both.
fn gap(a: &Filament, b: &Filament) -> f64 {
    match (&a.plastic, &b.plastic) {
        (Some((_, a)), Some((_, b))) => (a[0] - b[1]).max(b[0] - a[1]).max(0.0),
        _ => 0.0,
    }
}

fn other_plastic(a: &Filament, b: &Filament) -> f64 {
    match (&a.plastic, &b.plastic) {
        (Some((a, _)), Some((b, _))) if a != b => OTHER_PLASTIC,
        _ => 0.0,
    }
}
