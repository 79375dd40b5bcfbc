//! Time, grams and price.

use super::filament::Filament;
use super::types::{Bill, SlotNeed};
use crate::machine::Printer;

/// What one layer prints and purges, in mm³ unless said otherwise.
pub(super) struct LayerWork {
    pub(super) height_mm: f64,
    /// Walls and skins.
    pub(super) solid_mm3: f64,
    /// Sparse infill.
    pub(super) sparse_mm3: f64,
    /// Per slot from 0.
    pub(super) model_mm3: Vec<f64>,
    /// Slot from 0 that is loaded, and how much is purged for it.
    pub(super) purges: Vec<(u8, f64)>,
    /// Tower plastic beside the purge, and the slot it comes from.
    pub(super) tower_mm3: f64,
    pub(super) tower_slot: u8,
}

/// What each slot gives, from slot 1 up.
pub(super) fn needs(layers: &[LayerWork], filaments: &[Filament]) -> Vec<SlotNeed> {
    let mut mm3 = vec![[0.0; 3]; filaments.len()];
    for layer in layers {
        for (slot, model) in layer.model_mm3.iter().enumerate() {
            mm3[slot][0] += model;
        }
        for (slot, purge) in &layer.purges {
            mm3[*slot as usize][1] += purge;
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

/// Sums up. A line of width w and height h at speed v lays down w·h·v mm³ each second; accelerations are not
/// counted, travels are in the printer's time per layer.
pub(super) fn bill(layers: &[LayerWork], printer: &Printer, needs: &[SlotNeed]) -> Bill {
    let mut bill = Bill::default();
    for layer in layers {
        let line_mm2 = printer.line_width_mm * layer.height_mm;
        let at = |speed: f64| line_mm2 * speed;
        bill.time_s += printer.layer_change_s
            + (layer.solid_mm3 + layer.tower_mm3) / at(printer.wall_speed_mm_s)
            + layer.sparse_mm3 / at(printer.infill_speed_mm_s);
        for (_, mm3) in &layer.purges {
            bill.time_s += printer.swap_s + mm3 / printer.purge_mm3_s;
            bill.swaps += 1;
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
    bill
}
