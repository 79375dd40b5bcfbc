//! How a machine is, and what it came to.

use super::Rehearsal;
use crate::colour::Colour;
use crate::machine::Printer;
use crate::rehearsal::told::{Happening, Status};
use crate::rehearsal::verdict::Verdict;

impl Rehearsal {
    /// The printer that is rehearsed on.
    pub fn printer(&self) -> &Printer {
        &self.setup.printer
    }

    /// How it is.
    pub fn status(&self) -> &Status {
        &self.status
    }

    /// Time of the file that has passed, s: where the drawing of its moves stands.
    pub fn file_s(&self) -> f64 {
        self.file_s
    }

    /// All time that has passed, s.
    pub fn passed_s(&self) -> f64 {
        self.file_s + self.extra_s
    }

    /// Time that the whole file takes, s.
    pub fn whole_s(&self) -> f64 {
        self.whole_s
    }

    /// Layer at hand, from 0.
    pub fn layer(&self) -> usize {
        self.layer
    }

    /// Where the nozzle is, mm.
    pub fn at(&self) -> [f64; 3] {
        self.at
    }

    /// Slot that prints, from 1.
    pub fn slot(&self) -> u8 {
        self.slot
    }

    /// What happened so far.
    pub fn happenings(&self) -> &[Happening] {
        &self.happenings
    }

    /// What each slot has left, g; none where nobody knows.
    pub fn left_g(&self) -> Vec<Option<f64>> {
        let held = self.left_mm3.iter().zip(&self.setup.slots);
        held.map(|(left, h)| left.map(|mm3| mm3 * h.g_per_mm3))
            .collect()
    }

    /// Colours in the nozzle from where filament comes in to where it leaves, and how far the last is from what it should be.
    pub fn in_nozzle(&self) -> (Vec<Colour>, f64) {
        let melt = &self.melts[self.melt()];
        let colours = melt
            .colours(&self.sources)
            .into_iter()
            .map(Colour::from_linear);
        (colours.collect(), self.off())
    }

    /// What it came to so far.
    pub fn verdict(&mut self) -> Verdict {
        let judged = self.stains.judged(&mut self.ground);
        let planned = self.setup.swaps.len();
        let is_good = self.status == Status::Done
            && judged.layers.is_empty()
            && self.touched == 0
            && self.missing_mm == 0.0
            && self.aside == [0.0; 2]
            && self.cold_mm3 == 0.0
            && (planned == 0 || (self.swaps == planned && self.swaps_as_planned == planned));
        Verdict {
            worst: judged.worst,
            tolerance: self.setup.printer.tolerance,
            stained_layers: judged.layers.len(),
            touched: self.touched,
            touched_lines: self.touched_lines.clone(),
            ran_out: self.ran_out.clone(),
            swaps: self.swaps,
            swaps_as_planned: self.swaps_as_planned,
            swaps_planned: planned,
            missing_mm: self.missing_mm,
            aside_mm: self.aside[0].hypot(self.aside[1]),
            cold_mm3: self.cold_mm3,
            time_s: self.passed_s(),
            planned_s: self.setup.planned_s,
            used_g: self
                .used_mm3
                .iter()
                .zip(&self.setup.slots)
                .map(|(mm3, h)| mm3 * h.g_per_mm3)
                .collect(),
            is_good,
        }
    }
}
