//! What is printed from which slot: the layers as the slots see them.

use super::filament::Filament;
use super::task::Task;
use crate::layers::{LayerShare, RegionShare};
use crate::machine::Printer;
use crate::rules::Takes;
use std::collections::BTreeMap;

/// Layers by slot, with what is in the slots.
pub(crate) struct Print<'a> {
    pub(crate) task: &'a Task,
    pub(crate) shares: &'a [LayerShare],
    /// By slot from 0.
    pub(crate) filaments: &'a [Filament],
    /// Slot from 0 of each region.
    pub(crate) slot_of: Vec<u8>,
    /// What takes purge, by region.
    pub(crate) takers: Vec<Option<Takes>>,
    /// By layer: slots from 0 that another one prints for, because the colour of all that they have there does not matter.
    pub(crate) lent: Vec<BTreeMap<u8, u8>>,
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
        let takers: Vec<Option<Takes>> = task
            .regions
            .iter()
            .map(|r| task.rules.takers.get(&r.key).copied())
            .collect();
        let lent = lent(shares, &slot_of, &takers, filaments.len());
        let slots: Vec<Vec<RegionShare>> = shares
            .iter()
            .zip(&lent)
            .map(|(layer, lent)| {
                let slot = |region: u16| {
                    let own = slot_of[region as usize];
                    lent.get(&own).copied().unwrap_or(own)
                };
                let mut slots = per_slot(layer, slot, filaments.len());
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
            takers,
            lent,
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

    /// Slot from 0 that prints a region in a layer, as far as no purge does.
    pub(crate) fn slot_in(&self, layer: usize, region: u16) -> u8 {
        let own = self.slot_of[region as usize];
        self.lent[layer].get(&own).copied().unwrap_or(own)
    }

    /// What of a layer may be printed of purge for each slot from 0, mm³, all pieces together: what is marked to take it, and
    /// of that its infill.
    pub(crate) fn takes_mm3(&self, layer: usize) -> Vec<[f64; 2]> {
        let mut found = vec![[0.0; 2]; self.filaments.len()];
        for (region, takes) in (0u16..).zip(&self.takers) {
            let Some(takes) = takes else {
                continue;
            };
            let share = &self.shares[layer].regions[region as usize];
            let (solid, sparse) = self.extruded(layer, share);
            let slot = &mut found[self.slot_in(layer, region) as usize];
            let seen = match takes {
                Takes::Infill => 0.0,
                Takes::All => COUNTED_ON * solid,
            };
            slot[0] += self.copies * (sparse + seen);
            slot[1] += self.copies * sparse;
        }
        found
    }

    /// Keys of the regions that print from a slot in a layer.
    pub(crate) fn regions_of(&self, layer: usize, slot: u8) -> Vec<String> {
        self.task
            .live_regions()
            .filter(|(n, _)| self.slot_in(layer, *n) == slot)
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
            let matters = self.takers[number as usize] != Some(Takes::All);
            if matters && self.shares[layer].regions[number as usize].area_mm2 > 0.0 {
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

/// Of walls and skins that are marked to take purge this share is counted on: lines come to a little less than area times height
/// where a shape is narrow, and what is planned has to be laid.
const COUNTED_ON: f64 = 0.9;

/// The least area that can be printed, mm²: a dot as wide and long as a line.
pub(crate) fn dot_mm2(printer: &Printer) -> f64 {
    printer.line_width_mm * printer.line_width_mm
}

/// A layer's shares by slot.
fn per_slot(layer: &LayerShare, slot_of: impl Fn(u16) -> u8, slots: usize) -> Vec<RegionShare> {
    let mut out = vec![RegionShare::default(); slots];
    for (region, share) in (0u16..).zip(&layer.regions) {
        let slot = &mut out[slot_of(region) as usize];
        slot.area_mm2 += share.area_mm2;
        slot.solid_mm2 += share.solid_mm2;
    }
    out
}

/// For each layer, the slots that print only regions whose colour does not matter, and the slot that prints for them, so that
/// no swap is made: the one that prints most of the layer besides. Where nothing else prints, all of it is printed from one slot
/// of the layer below.
fn lent(
    shares: &[LayerShare],
    slot_of: &[u8],
    takers: &[Option<Takes>],
    slots: usize,
) -> Vec<BTreeMap<u8, u8>> {
    let largest = |areas: &[f64]| {
        let printed = (0u8..).zip(areas).filter(|(_, area)| **area > 0.0);
        let most = printed.max_by(|a, b| a.1.total_cmp(b.1).then(b.0.cmp(&a.0)));
        most.map(|(slot, _)| slot)
    };
    // What the layer below prints from each slot.
    let mut below = vec![0.0; slots];
    let of_layer = |layer: &LayerShare| {
        let (mut free, mut others) = (vec![0.0; slots], vec![0.0; slots]);
        for (region, share) in layer.regions.iter().enumerate() {
            let of = match takers[region] {
                Some(Takes::All) => &mut free,
                _ => &mut others,
            };
            of[slot_of[region] as usize] += share.area_mm2;
        }
        let owns = || (0u8..slots as u8).filter(|own| free[*own as usize] > 0.0);
        let stays = |own: &u8| below[*own as usize] > 0.0;
        let one = largest(&others).or_else(|| {
            owns()
                .find(stays)
                .or_else(|| largest(&below))
                .or_else(|| largest(&free))
        });
        let mut lent = BTreeMap::new();
        for own in owns().filter(|own| others[*own as usize] == 0.0) {
            lent.extend(one.filter(|one| *one != own).map(|one| (own, one)));
        }
        if layer.regions.iter().any(|r| r.area_mm2 > 0.0) {
            below = others;
            if let Some(one) = one {
                below[one as usize] += free.iter().sum::<f64>();
            }
        }
        lent
    };
    shares.iter().map(of_layer).collect()
}
