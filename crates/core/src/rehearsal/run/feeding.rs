//! What goes into a machine, what leaves the nozzle, and what it lays or meets.

use super::Rehearsal;
use crate::colour::difference;
use crate::gcode::MELTS_C;
use crate::rehearsal::melt::Melt;
use crate::rehearsal::told::HowItWent;
use crate::rehearsal::verdict::Stain;

/// Filament that a machine feeds before it sees that nothing comes out, mm (common practice, no source).
const SEEN_MM: f64 = 20.0;

impl Rehearsal {
    pub(super) fn melt(&self) -> usize {
        self.tool.min(self.melts.len() - 1)
    }

    /// Where a slot stands in lists of them.
    pub(super) fn index(slot: u8) -> usize {
        usize::from(slot.saturating_sub(1))
    }

    /// Difference of what leaves the nozzle to what should.
    pub(super) fn off(&self) -> f64 {
        let melt = &self.melts[self.melt()];
        let Some(wanted) = self.wanted.get(Rehearsal::index(self.due)) else {
            return 0.0;
        };
        let comes = melt.colour(&self.sources);
        match comes == *wanted {
            true => 0.0,
            false => difference(comes, *wanted),
        }
    }

    /// The nozzle is as full of a slot as it is before a print.
    pub(super) fn prime(&mut self, slot: u8) {
        let melt = self.melt();
        let made = self.made_of.get(Rehearsal::index(slot));
        let made = made.map_or(&[][..], Vec::as_slice);
        self.melts[melt] = Melt::full_of(self.setup.printer.melt, made, self.sources.len());
    }

    pub(super) fn section_mm2(&self) -> f64 {
        let held = self.setup.slots.get(Rehearsal::index(self.slot));
        held.map_or(crate::rinse::FILAMENT_MM2, |h| h.section_mm2)
    }

    /// Takes filament off the spool at hand; less than nothing gives it back.
    pub(super) fn draw(&mut self, mm3: f64) {
        let index = Rehearsal::index(self.slot);
        if let Some(used) = self.used_mm3.get_mut(index) {
            *used += mm3;
        }
        let Some(Some(left)) = self.left_mm3.get_mut(index) else {
            return;
        };
        *left -= mm3;
        if *left <= 0.0 && mm3 > 0.0 {
            *left = 0.0;
            self.ran_out.push(self.slot);
            let name = self.setup.slots[index].name.clone();
            let length = self.setup.printer.melt.volume_mm3 / self.section_mm2();
            let words = format!(
                "Slot {} is empty. Put in {name}, press out {length:.0} mm, then go on",
                self.slot
            );
            self.wait(HowItWent::Wrong, words, Some(self.slot));
        }
    }

    /// Feeds filament; what comes out, mm³.
    pub(super) fn feed(&mut self, mm3: f64) -> f64 {
        if let Some(fed) = &mut self.jammed_mm3 {
            *fed += mm3;
            if *fed > SEEN_MM * self.section_mm2() {
                self.wait(
                    HowItWent::Wrong,
                    "Nothing comes out of the nozzle. Clear it, then go on".into(),
                    None,
                );
            }
            return 0.0;
        }
        let warm = self
            .warm
            .get(&if self.melts.len() > 1 { self.tool } else { 0 });
        if warm.is_some_and(|c| *c < MELTS_C) {
            self.cold_mm3 += mm3;
        }
        self.strand_on(mm3);
        self.draw(mm3);
        let index = Rehearsal::index(self.slot);
        let melt = self.melt();
        let made = self.made_of.get(index).map_or(&[][..], Vec::as_slice);
        self.melts[melt].feed(mm3, made)
    }

    /// A strand is used up length by length.
    pub(super) fn strand_on(&mut self, mm3: f64) {
        if self.setup.strand.is_empty() {
            return;
        }
        self.strand.1 -= mm3 / self.section_mm2();
        while self.strand.1 <= 1e-6 && self.strand.0 + 1 < self.setup.strand.len() {
            self.strand.0 += 1;
            let (slot, mm) = self.setup.strand[self.strand.0];
            self.strand.1 += mm;
            self.has_laid = true;
            self.change_to(slot);
        }
    }

    pub(super) fn lay(&mut self, to: [f64; 2], mm3: f64, width: f64) {
        let from = [self.at[0], self.at[1]];
        self.meets([to[0], to[1], self.at[2]]);
        let off = self.off();
        let out = self.feed(mm3);
        (self.at[0], self.at[1]) = (to[0], to[1]);
        self.has_laid = true;
        let really = |p: [f64; 2]| [p[0] + self.aside[0], p[1] + self.aside[1]];
        let (from, to) = (really(from), really(to));
        let length = (to[0] - from[0]).hypot(to[1] - from[1]);
        if out <= 0.0 {
            self.missing_mm += length;
            return;
        }
        self.standing.lay(from, to, [self.at[2]; 2]);
        let is_aside = |p: [f64; 2]| {
            let holds =
                |[low, high]: &[[f64; 2]; 2]| (0..2).all(|i| p[i] >= low[i] && p[i] <= high[i]);
            self.setup.aside.iter().any(holds)
        };
        if is_aside(from) && is_aside(to) {
            return;
        }
        self.ground.lay(self.layer, from, to, width);
        if self.stains.is_worth(off) {
            self.stains.add(Stain {
                delta_e: off,
                layer: self.layer,
                slot: self.due,
                at: [0.5 * (from[0] + to[0]), 0.5 * (from[1] + to[1])],
                line: self.line(),
            });
        }
    }

    /// Whether nozzle or head meet what stands on their way; straight up nothing does.
    pub(super) fn meets(&mut self, to: [f64; 3]) {
        let [x, y, z] = self.at;
        let really = |p: [f64; 2]| [p[0] + self.aside[0], p[1] + self.aside[1]];
        let (from, down) = (really([x, y]), [z, to[2]]);
        let to = really([to[0], to[1]]);
        let head = self.setup.printer.head();
        let what = if self.standing.meets(from, to, down).is_some() {
            "The nozzle"
        } else if self.standing.meets_head(from, to, down, &head).is_some() {
            "The head"
        } else {
            return;
        };
        self.touched += 1;
        if self.touched_lines.len() < 5 {
            let line = self.line();
            self.touched_lines.push(line);
            self.say(HowItWent::Wrong, format!("{what} touched what stands"));
        }
    }
}
