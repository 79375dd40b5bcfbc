//! What people do at a machine, what is changed, and what goes wrong.

use super::Rehearsal;
use crate::rehearsal::setup::{Trouble, TroubleKind};
use crate::rehearsal::told::{Answer, HowItWent, Status};

/// How far lost steps bring the nozzle aside, mm.
const ASIDE_MM: f64 = 2.0;

impl Rehearsal {
    /// A person has done something.
    pub fn answer(&mut self, answer: Answer) {
        let Status::Waits(stands) = self.status.clone() else {
            return;
        };
        if answer == Answer::Stop {
            self.status = Status::Stopped;
            self.say(HowItWent::Look, "Stopped by hand".into());
            return;
        }
        self.status = Status::Running;
        if !stands.is_planned {
            self.extra_s += self.setup.printer.reload_s;
        }
        self.jammed_mm3 = None;
        let used = match answer {
            Answer::Use { slot } => Some(slot.clamp(1, self.setup.slots.len().clamp(1, 255) as u8)),
            Answer::GoOn | Answer::Stop => stands.slot,
        };
        match (used, stands.slot) {
            (Some(used), _) if stands.is_planned => self.put_in(used),
            (Some(used), Some(slot)) => {
                // A new spool; the wrong one if somebody says so.
                let index = Rehearsal::index(slot);
                self.make_of(index, Rehearsal::index(used));
                if let Some(left) = self.left_mm3.get_mut(index) {
                    *left = None;
                }
            }
            _ => {}
        }
    }

    /// From now on a slot gives one source alone, whichever there is.
    fn make_of(&mut self, index: usize, source: usize) {
        let count = self.sources.len();
        if let Some(made) = self.made_of.get_mut(index).filter(|_| count > 0) {
            *made = vec![(source % count, 1.0)];
        }
    }

    /// The spool of a slot goes in at a pause.
    fn put_in(&mut self, slot: u8) {
        let turn = self.setup.turns.get(self.turn.saturating_sub(1)).copied();
        let place = turn.map_or(0, |t| t.place);
        if self.setup.places.len() <= place {
            self.setup.places.resize(place + 1, 1);
        }
        self.setup.places[place] = slot;
        if self.setup.printer.profile().is_by_hand {
            self.change_to(slot);
            let melt = self.melt();
            // Whoever loads by hand pushes until it flows, and as much as the prompt says.
            self.melts[melt].primed();
            if let Some(press) = turn.map(|t| t.press_mm3).filter(|mm3| *mm3 > 0.0) {
                let made = self.made_of.get(Rehearsal::index(slot));
                let made = made.map_or(&[][..], Vec::as_slice);
                self.melts[melt].feed(press, made);
            }
        }
    }

    pub(super) fn change_to(&mut self, slot: u8) {
        if slot == self.slot {
            return;
        }
        let from = std::mem::replace(&mut self.slot, slot);
        if !self.has_laid {
            // Whatever was in the nozzle goes before the print begins.
            self.due = slot;
            self.prime(slot);
            return;
        }
        let planned = self.setup.swaps.get(self.swaps).copied();
        self.swaps += 1;
        let name = |slot: u8| match self.setup.slots.get(Rehearsal::index(slot)) {
            Some(held) => held.name.clone(),
            None => format!("slot {slot}"),
        };
        let what = format!("Swap {}: {} → {}", self.swaps, name(from), name(slot));
        match planned {
            Some(to) if to == slot => {
                self.swaps_as_planned += 1;
                self.due = slot;
                self.say(HowItWent::Fine, what);
            }
            Some(to) => {
                self.due = to;
                let words = format!("{what}; planned is {}", name(to));
                self.say(HowItWent::Wrong, words);
            }
            None => {
                self.due = slot;
                let how = match self.setup.swaps.is_empty() {
                    true => HowItWent::Fine,
                    false => HowItWent::Wrong,
                };
                self.say(how, what);
            }
        }
    }

    /// Something goes wrong now, with the slot that prints.
    pub fn go_wrong(&mut self, kind: TroubleKind) {
        let trouble = Trouble {
            kind,
            layer: 0,
            slot: None,
        };
        self.troubles.push(trouble);
        if self.status == Status::Running {
            self.meet_troubles();
        }
    }

    pub(super) fn meet_troubles(&mut self) {
        let (layer, slot) = (self.layer, self.slot);
        let is_due = |t: &Trouble| t.layer <= layer;
        let due: Vec<Trouble> = self.troubles.iter().copied().filter(is_due).collect();
        self.troubles.retain(|t| !is_due(t));
        for trouble in due {
            let index = Rehearsal::index(trouble.slot.unwrap_or(slot));
            match trouble.kind {
                TroubleKind::RunOut => {
                    if let Some(left) = self.left_mm3.get_mut(index) {
                        *left = Some(1.0);
                    }
                }
                TroubleKind::Jam => self.jammed_mm3 = Some(0.0),
                TroubleKind::WrongSpool => {
                    let made = self.made_of.get(index).and_then(|m| m.first());
                    let source = made.map_or(0, |m| m.0);
                    self.make_of(index, source + 1);
                }
                TroubleKind::LostSteps => self.aside = [ASIDE_MM, 0.0],
                TroubleKind::PowerCut => {
                    self.say(HowItWent::Wrong, "The power went".into());
                    self.status = Status::Dead;
                }
            }
        }
    }
}
