//! What is printed from which slot: the layers as the slots see them.

use super::filament::Filament;
use super::task::Task;
use crate::layers::{LayerShare, RegionShare};
use crate::machine::Printer;

/// Layers by slot, with what is in the slots.
pub(crate) struct Print<'a> {
    pub(crate) task: &'a Task,
    pub(crate) shares: &'a [LayerShare],
    /// By slot from 0.
    pub(crate) filaments: &'a [Filament],
    /// Slot from 0 of each region.
    pub(crate) slot_of: Vec<u8>,
    /// By layer and slot, all pieces together.
    pub(crate) slots: Vec<Vec<RegionShare>>,
    /// Slots that each layer prints, ascending.
    pub(crate) used: Vec<Vec<u8>>,
    /// Pieces printed at once.
    pub(crate) copies: f64,
}

impl<'a> Print<'a> {
    pub(crate) fn of(task: &'a Task, shares: &'a [LayerShare]) -> Print<'a> {
        let filaments = &task.filaments[..];
        let slot_of: Vec<u8> = task.regions.iter().map(|region| region.slot - 1).collect();
        let copies = f64::from(task.pieces.count());
        let slots: Vec<Vec<RegionShare>> = shares
            .iter()
            .map(|layer| {
                let mut slots = per_slot(layer, &slot_of, filaments.len());
                for share in &mut slots {
                    share.area_mm2 *= copies;
                    share.solid_mm2 *= copies;
                }
                slots
            })
            .collect();
        let used = slots
            .iter()
            .map(|slots| {
                let is_used = |s: &u8| slots[*s as usize].area_mm2 > 0.0;
                (0..slots.len() as u8).filter(is_used).collect()
            })
            .collect();
        Print {
            task,
            shares,
            filaments,
            slot_of,
            slots,
            used,
            copies,
        }
    }

    pub(crate) fn height_mm(&self, layer: usize) -> f64 {
        self.shares[layer].z1_mm - self.shares[layer].z0_mm
    }

    /// Plastic of a share of a layer, mm³: walls and skins, and infill.
    pub(crate) fn extruded(&self, layer: usize, share: &RegionShare) -> (f64, f64) {
        let height = self.height_mm(layer);
        let sparse = (share.area_mm2 - share.solid_mm2).max(0.0);
        (
            height * share.solid_mm2,
            height * sparse * self.task.printer.infill,
        )
    }

    /// Keys of the regions that print from a slot in a layer.
    pub(crate) fn regions_of(&self, layer: usize, slot: u8) -> Vec<String> {
        self.task
            .live_regions()
            .filter(|(n, _)| self.slot_of[*n as usize] == slot)
            .filter(|(n, _)| self.shares[layer].regions[*n as usize].area_mm2 > 0.0)
            .map(|(_, r)| r.key.clone())
            .collect()
    }

    /// Slots that print anything, from 0, ascending.
    pub(crate) fn slots_used(&self) -> Vec<u8> {
        let mut used = self.used.concat();
        used.sort_unstable();
        used.dedup();
        used
    }

    /// Difference that counts as clean for each slot in a layer: that of the strictest region it prints there.
    pub(crate) fn tolerances(&self, layer: usize) -> Vec<f64> {
        let (rules, usual) = (&self.task.rules, self.task.printer.tolerance);
        if rules.tolerances.is_empty() {
            return vec![usual; self.filaments.len()];
        }
        let mut strictest = vec![f64::INFINITY; self.filaments.len()];
        for (number, region) in self.task.live_regions() {
            if self.shares[layer].regions[number as usize].area_mm2 > 0.0 {
                let own = rules.tolerances.get(&region.key);
                let slot = &mut strictest[self.slot_of[number as usize] as usize];
                *slot = slot.min(own.copied().unwrap_or(usual));
            }
        }
        for tolerance in strictest.iter_mut().filter(|t| t.is_infinite()) {
            *tolerance = usual;
        }
        strictest
    }

    /// What a slot is called in a sentence: its number.
    pub(crate) fn word(&self, slot: u8) -> String {
        format!(
            "{} {}",
            self.task.printer.profile().slot_word.to_lowercase(),
            slot + 1
        )
    }
}

/// The least area that can be printed, mm²: a dot as wide and long as a line.
pub(crate) fn dot_mm2(printer: &Printer) -> f64 {
    printer.line_width_mm * printer.line_width_mm
}

/// A layer's shares by slot.
fn per_slot(layer: &LayerShare, slot_of: &[u8], slots: usize) -> Vec<RegionShare> {
    let mut out = vec![RegionShare::default(); slots];
    for (region, share) in layer.regions.iter().enumerate() {
        let slot = &mut out[slot_of[region] as usize];
        slot.area_mm2 += share.area_mm2;
        slot.solid_mm2 += share.solid_mm2;
    }
    out
}
