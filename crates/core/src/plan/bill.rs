//! Time, grams and price.

use super::build::Filament;
use super::types::Bill;
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

/// Sums up. A line of width w and height h at speed v lays down w·h·v mm³ each second; accelerations are not
/// counted, travels are in the printer's time per layer.
pub(super) fn bill(layers: &[LayerWork], printer: &Printer, filaments: &[Filament]) -> Bill {
    let mut bill = Bill::default();
    for layer in layers {
        let line_mm2 = printer.line_width_mm * layer.height_mm;
        let at = |speed: f64| line_mm2 * speed;
        bill.time_s += printer.layer_change_s
            + (layer.solid_mm3 + layer.tower_mm3) / at(printer.wall_speed_mm_s)
            + layer.sparse_mm3 / at(printer.infill_speed_mm_s);
        for (slot, mm3) in layer.model_mm3.iter().enumerate() {
            let grams = filaments[slot].grams(*mm3);
            bill.model_g += grams;
            bill.cost += filaments[slot].price(grams);
        }
        for (slot, mm3) in &layer.purges {
            let filament = &filaments[*slot as usize];
            let grams = filament.grams(*mm3);
            bill.time_s += printer.swap_s + mm3 / printer.purge_mm3_s;
            bill.swaps += 1;
            bill.purge_g += grams;
            bill.cost += filament.price(grams);
        }
        if layer.tower_mm3 > 0.0 {
            let filament = &filaments[layer.tower_slot as usize];
            let grams = filament.grams(layer.tower_mm3);
            bill.tower_g += grams;
            bill.cost += filament.price(grams);
        }
    }
    let all = bill.model_g + bill.purge_g + bill.tower_g;
    if all > 0.0 {
        bill.wasted_share = (bill.purge_g + bill.tower_g) / all;
    }
    bill
}
