//! What differs from kind to kind of machine: how a print begins and ends, and how filament is changed.

use super::steps::Step;
use super::tower::TowerLine;
use super::writer::{Passage, Writer};
use crate::machine::{CLEAR_MM, bin, park};
use crate::plan::Swap;

impl Writer<'_> {
    /// What is done before the first layer.
    pub(super) fn start(&mut self, slot: u8, is_first: bool) {
        let printer = self.asked.printer();
        let profile = printer.profile();
        let c = self.words(slot).nozzle_c;
        let bed = |waits| Step::Bed {
            c: self.asked.bed_c(),
            waits,
        };
        self.nozzle.say(bed(false));
        self.nozzle.say(Step::Home {
            with_height: is_first,
        });
        if !is_first {
            // The height is still known: up at once.
            self.nozzle.climb(self.standing + CLEAR_MM);
        }
        let has_tools = !profile.rinses;
        if profile.mixes.is_some() {
            for slot in self.asked.plan.needs.iter().filter(|n| n.model_g > 0.0) {
                let shares = self.words(slot.slot).shares.clone();
                self.nozzle.say(Step::Mix {
                    tool: slot.slot - 1,
                    shares,
                });
            }
        }
        if profile.is_told_slots() {
            let tool = self.tool_of(slot);
            self.nozzle.say(Step::Select { tool });
        }
        if has_tools {
            // The others are as warm as they stand when their turn comes.
            let needs = self.asked.plan.needs.iter();
            for other in needs.filter(|n| n.model_g > 0.0 && n.slot != slot) {
                self.nozzle.say(Step::Heat {
                    tool: Some(other.slot - 1),
                    c: self.words(other.slot).nozzle_c - printer.printing.standby_c,
                    waits: false,
                });
            }
        }
        let tool = has_tools.then_some(slot - 1);
        self.nozzle.say(Step::Heat {
            tool,
            c,
            waits: true,
        });
        self.nozzle.say(bed(true));
        self.nozzle.say(Step::Slot { slot });
        if profile.is_by_hand && is_first {
            let words = format!("Begins with {}", self.words(slot).name);
            self.nozzle.say(Step::Say { words });
        }
        self.nozzle.say(Step::Fan { share: 0.0 });
        self.passage(Passage::Start, 0, Some(slot), None);
    }

    pub(super) fn end(&mut self, is_last: bool) {
        self.nozzle.pull();
        let top = self.nozzle.z.max(self.nozzle.layer.0[1]).max(self.standing);
        self.nozzle.go_up_to(top + 5.0 * CLEAR_MM);
        let last = self.asked.plan.layers.len().saturating_sub(1);
        self.passage(Passage::End, last, self.asked.last_slot(), None);
        if is_last {
            // A nozzle of each filament is switched off of its own.
            let has_tools = !self.asked.printer().profile().rinses;
            let used = self.asked.plan.needs.iter().filter(|n| n.model_g > 0.0);
            let tools: Vec<Option<u8>> = match has_tools {
                true => used.map(|n| Some(n.slot - 1)).collect(),
                false => vec![None],
            };
            for tool in tools {
                self.nozzle.say(Step::Heat {
                    tool,
                    c: 0.0,
                    waits: false,
                });
            }
            self.nozzle.say(Step::Bed {
                c: 0.0,
                waits: false,
            });
            self.nozzle.say(Step::Fan { share: 0.0 });
            self.nozzle.say(Step::Rest);
        }
    }

    /// Changes the filament, and presses out what the plan says where it says.
    pub(super) fn change(&mut self, swap: &Swap, tower: &mut Option<TowerLine>) {
        let printer = self.asked.printer();
        let profile = printer.profile();
        let bead = tower.as_mut().and_then(|t| t.take(swap.split.tower_mm3));
        let top = self.nozzle.layer.0[1];
        // To where the purge begins, or straight up.
        let place = bead
            .as_ref()
            .and_then(|b| b.line.first())
            .map(|j| self.nozzle.on_bed(j.at));
        let place = place.or(self.nozzle.at).unwrap_or([0.0; 2]);
        let words = self.words(swap.to);
        if profile.splices {
            if words.nozzle_c > self.words(swap.from).nozzle_c + 0.5 {
                self.heat_aside(swap, top);
            }
            self.nozzle.say(Step::Slot { slot: swap.to });
        } else if profile.is_by_hand {
            self.nozzle.pull();
            self.nozzle.go_above(park(printer), top + 5.0 * CLEAR_MM);
            let filament = &self.asked.task.filaments[swap.to as usize - 1];
            let hand = filament.length_mm(swap.split.hand_mm3);
            let press = match hand > 0.5 {
                true => format!(", press out {hand:.0} mm"),
                false => String::new(),
            };
            self.nozzle.say(Step::Prompt {
                words: format!("Load {}{press}, brush the nozzle, go on", words.name),
                seconds: printer.swap_s,
            });
            self.heat(swap);
            self.nozzle.say(Step::Slot { slot: swap.to });
        } else {
            if swap.is_reload {
                self.put_in(swap, top);
            }
            self.nozzle.go_above(place, top + CLEAR_MM);
            let has_tools = !profile.rinses;
            // While it is still hot.
            self.nozzle.push();
            if has_tools {
                let old = self.words(swap.from).nozzle_c;
                self.nozzle.say(Step::Heat {
                    tool: Some(swap.from - 1),
                    c: old - printer.printing.standby_c,
                    waits: false,
                });
            }
            let tool = self.tool_of(swap.to);
            self.nozzle.say(Step::Select { tool });
            match has_tools {
                true => self.nozzle.say(Step::Heat {
                    tool: Some(swap.to - 1),
                    c: words.nozzle_c,
                    waits: true,
                }),
                false => self.heat(swap),
            }
            self.nozzle.say(Step::Slot { slot: swap.to });
        }
        self.passage(Passage::Swap, swap.layer, Some(swap.to), Some(swap.from));
        if swap.split.bin_mm3 > 0.0 {
            let [x0, y0, x1, y1] = bin(printer);
            let above = top + CLEAR_MM;
            self.nozzle
                .go_above([0.5 * (x0 + x1), 0.5 * (y0 + y1)], above);
            self.nozzle.push();
            self.nozzle.say(Step::Press {
                mm3: swap.split.bin_mm3,
                flow: printer.purge_mm3_s,
            });
        }
        if let Some(bead) = bead {
            self.nozzle.lay(&bead, None);
        }
        // What is purged is still of the hotter one.
        if profile.splices && words.nozzle_c + 0.5 < self.words(swap.from).nozzle_c {
            self.heat_aside(swap, top);
        }
    }

    /// Waits off the print for another temperature.
    fn heat_aside(&mut self, swap: &Swap, top: f64) {
        let place = park(self.asked.printer());
        self.nozzle.go_above(place, top + CLEAR_MM);
        self.heat(swap);
    }

    /// Has a person put the spool of a swap in, where another one was.
    fn put_in(&mut self, swap: &Swap, top: f64) {
        let mut reloads = self.asked.plan.reloads.iter();
        let Some(reload) = reloads.find(|r| r.layer == swap.layer && r.slot == swap.to) else {
            return;
        };
        self.places[reload.place as usize - 1] = reload.slot;
        self.nozzle.pull();
        let park = park(self.asked.printer());
        self.nozzle.go_above(park, top + 5.0 * CLEAR_MM);
        let (new, old) = (self.words(reload.slot), self.words(reload.out));
        self.nozzle.say(Step::Prompt {
            words: format!(
                "Put {} into place {} instead of {}, go on",
                new.name, reload.place, old.name
            ),
            seconds: self.asked.printer().reload_s,
        });
    }

    /// Number of the tool, or of the place of the feeder, that a slot prints from at the moment.
    fn tool_of(&self, slot: u8) -> u8 {
        let place = self.places.iter().position(|s| *s == slot);
        place.map_or(slot - 1, |p| p as u8)
    }

    /// Another temperature, where the new filament needs one.
    fn heat(&mut self, swap: &Swap) {
        let (old, new) = (self.words(swap.from).nozzle_c, self.words(swap.to).nozzle_c);
        if (old - new).abs() > 0.5 {
            self.nozzle.say(Step::Heat {
                tool: None,
                c: new,
                waits: true,
            });
        }
    }
}
