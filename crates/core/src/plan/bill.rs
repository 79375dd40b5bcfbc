//! Time, grams and price.

use super::filament::Filament;
use super::tower::Rows;
use super::types::{Bill, PurgeSplit, SlotNeed, Times};
use crate::machine::Printer;

/// What one layer prints and purges, in mm³ unless said otherwise.
#[derive(Debug, Clone, Default)]
pub(super) struct LayerWork {
    pub(super) height_mm: f64,
    /// Whether it lies on the bed, where everything is slower.
    pub(super) is_first: bool,
    /// Times the nozzle comes to it: once, or once for each pass.
    pub(super) visits: usize,
    /// Walls and skins.
    pub(super) solid_mm3: f64,
    /// Sparse infill.
    pub(super) sparse_mm3: f64,
    /// Per slot from 0, as the shape has it.
    pub(super) model_mm3: Vec<f64>,
    /// Of that, infill, per slot.
    pub(super) infill_mm3: Vec<f64>,
    /// What may be printed of purge because it is marked to take it, per slot, and of that its infill.
    pub(super) marked_mm3: Vec<[f64; 2]>,
    pub(super) swaps: Vec<SwapWork>,
    /// How the tower is laid here, if there is one.
    pub(super) rows: Option<Rows>,
    /// Tower plastic beside the purge, and the slot it comes from.
    pub(super) tower_mm3: f64,
    pub(super) tower_slot: u8,
}

/// Slower than by this plastic sticks to the nozzle (common practice, no source).
const MOST_SLOWER: f64 = 7.0;

/// Time of laying so much plastic into a tower, s: as fast as its lines can be laid and plastic melts.
fn into_tower_s(mm3: f64, rows: Option<Rows>, height_mm: f64, printer: &Printer) -> f64 {
    let printing = &printer.printing;
    let line_mm2 = printer.line_width_mm * height_mm;
    let mm3_s = (line_mm2 * printing.travel_mm_s)
        .min(printing.most_flow_mm3_s)
        .min(printer.purge_mm3_s);
    match rows {
        Some(rows) => rows.laying_s(mm3 / line_mm2, mm3_s / line_mm2, printing),
        None => mm3 / mm3_s,
    }
}

/// One swap.
#[derive(Debug, Clone, Copy)]
pub(super) struct SwapWork {
    /// Slot from 0 that is loaded.
    pub(super) to: u8,
    pub(super) split: PurgeSplit,
    /// Height of its layer, mm.
    pub(super) height_mm: f64,
    /// How the tower is laid on its layer, if there is one.
    pub(super) rows: Option<Rows>,
    pub(super) heat_s: f64,
    /// Going to where it is changed and pressed out, and back, s.
    pub(super) way_s: f64,
    /// Whether a spool is put in by hand first.
    pub(super) is_reload: bool,
}

impl SwapWork {
    /// Time of pressing out what does not become infill, s.
    pub(super) fn purging_s(&self, printer: &Printer) -> f64 {
        let tower_mm3 = self.split.tower_mm3;
        into_tower_s(tower_mm3, self.rows, self.height_mm, printer)
            + (self.split.waste_mm3() - tower_mm3) / printer.purge_mm3_s
    }

    /// All its time, s.
    pub(super) fn seconds(&self, printer: &Printer) -> f64 {
        let reload_s = if self.is_reload {
            printer.reload_s
        } else {
            0.0
        };
        printer.swap_s + self.purging_s(printer) + self.heat_s + reload_s
    }
}

impl LayerWork {
    /// What the layer takes, s. A line of width w and height h at speed v lays down w·h·v mm³ each second, no more than melts, no
    /// faster than the first layer may be laid; a layer that would be done before it sets is slowed down. Accelerations are in the
    /// printer's time factor, but for the tower's, whose rows are known; travels are in its time per
    /// layer, but for the ways of its swaps.
    pub(super) fn times(&self, printer: &Printer) -> Times {
        let line_mm2 = printer.line_width_mm * self.height_mm;
        let printing = &printer.printing;
        let at = |speed: f64| {
            let speed = match self.is_first {
                true => speed.min(printing.first_layer_mm_s),
                false => speed,
            };
            (line_mm2 * speed).min(printing.most_flow_mm3_s) / printer.time_factor
        };
        let ways_s: f64 = self.swaps.iter().map(|s| s.way_s).sum();
        let mut times = Times {
            layers_s: (self.visits as f64 * printer.layer_change_s + ways_s) * printer.time_factor,
            walls_s: self.solid_mm3 / at(printer.wall_speed_mm_s),
            tower_s: into_tower_s(self.tower_mm3, self.rows, self.height_mm, printer)
                * printer.time_factor,
            infill_s: self.sparse_mm3 / at(printer.infill_speed_mm_s),
            ..Times::default()
        };
        let swaps_s: f64 = self.swaps.iter().map(|s| s.seconds(printer)).sum();
        let laying_s = (times.walls_s + times.infill_s) / printer.time_factor;
        if laying_s > 0.0 {
            let slower = ((printing.least_layer_s - swaps_s) / laying_s).clamp(1.0, MOST_SLOWER);
            times.walls_s *= slower;
            times.infill_s *= slower;
        }
        for swap in &self.swaps {
            times.swaps_s += printer.swap_s;
            times.purging_s += swap.purging_s(printer);
            times.heating_s += swap.heat_s;
            times.reloads_s += if swap.is_reload {
                printer.reload_s
            } else {
                0.0
            };
        }
        times
    }
}

/// What each slot gives, from slot 1 up. Purge that becomes a piece of the model counts as model of the slot it comes from; what
/// it stands for is taken off all slots of the layer by what they would have printed of it.
pub(super) fn needs(layers: &[LayerWork], filaments: &[Filament]) -> Vec<SlotNeed> {
    let mut mm3 = vec![[0.0; 3]; filaments.len()];
    for layer in layers {
        let splits = || layer.swaps.iter().map(|s| s.split);
        let marked: f64 = splits().map(|s| s.marked_mm3).sum();
        let others: f64 = splits().map(|s| s.infill_mm3 - s.marked_mm3).sum();
        let share = |taken: f64, of: f64| if of > 0.0 { taken / of } else { 0.0 };
        let marked = share(marked, layer.marked_mm3.iter().map(|m| m[0]).sum());
        let sparse_mm3 = layer.sparse_mm3 - layer.marked_mm3.iter().map(|m| m[1]).sum::<f64>();
        let others = share(others, sparse_mm3);
        for (slot, model) in layer.model_mm3.iter().enumerate() {
            let [takes, sparse] = layer.marked_mm3[slot];
            let infill = layer.infill_mm3[slot] - sparse;
            mm3[slot][0] += model - marked * takes - others * infill;
        }
        for swap in &layer.swaps {
            mm3[swap.to as usize][0] += swap.split.infill_mm3;
            mm3[swap.to as usize][1] += swap.split.waste_mm3();
        }
        mm3[layer.tower_slot as usize][2] += layer.tower_mm3;
    }
    let slots = filaments.iter().zip(mm3).zip(1u8..);
    slots
        .map(|((filament, mm3), slot)| {
            let [model_g, purge_g, tower_g] = mm3.map(|v| filament.grams(v));
            SlotNeed {
                slot,
                model_g,
                purge_g,
                tower_g,
                cost: filament.price(model_g + purge_g + tower_g),
            }
        })
        .collect()
}

/// Sums up.
pub(super) fn bill(
    layers: &[LayerWork],
    printer: &Printer,
    filaments: &[Filament],
    needs: &[SlotNeed],
) -> Bill {
    let mut bill = Bill::default();
    let puts_in = printer.profile().is_told_slots();
    let mut times = Times {
        start_s: printer.start_s + if puts_in { printer.swap_s } else { 0.0 },
        ..Times::default()
    };
    let mut reloads = 0;
    for layer in layers {
        let here = layer.times(printer);
        times.walls_s += here.walls_s;
        times.infill_s += here.infill_s;
        times.layers_s += here.layers_s;
        times.tower_s += here.tower_s;
        times.swaps_s += here.swaps_s;
        times.purging_s += here.purging_s;
        times.heating_s += here.heating_s;
        times.reloads_s += here.reloads_s;
        bill.swaps += layer.swaps.len();
        reloads += layer.swaps.iter().filter(|s| s.is_reload).count();
        for swap in &layer.swaps {
            bill.infill_g += filaments[swap.to as usize].grams(swap.split.infill_mm3);
        }
    }
    for need in needs {
        bill.model_g += need.model_g;
        bill.purge_g += need.purge_g;
        bill.tower_g += need.tower_g;
        bill.cost += need.cost;
    }
    let all = bill.model_g + bill.purge_g + bill.tower_g;
    if all > 0.0 {
        bill.wasted_share = (bill.purge_g + bill.tower_g) / all;
    }
    (bill.hand_swaps, bill.hand_s) = if printer.profile().is_by_hand {
        (bill.swaps, bill.swaps as f64 * printer.swap_s)
    } else {
        (reloads, reloads as f64 * printer.reload_s)
    };
    bill.times = times;
    bill.time_s = times.sum();
    bill
}
