//! What is asked of the plan: obeying its edits.

use super::super::depth::SoakDepth;
use super::super::edits::PlanEdit;
use super::super::state::Job;
use super::refuse;
use crate::limits::{BY_HAND, CUT_OFF, TOLERANCE};
use crate::rules::{Aim, CutOff, OrderRule};
use crate::{Problem, figure};

/// The difference that may count as clean. Nothing is ever perfectly clean: what is left of the old colour only halves and
/// halves.
fn check_tolerance(tolerance: f64) -> Result<(), Problem> {
    TOLERANCE.check(tolerance, "tolerance", |difference| {
        if tolerance == 0.0 {
            "No rinse comes out perfectly clean: a difference of 0 is never reached".into()
        } else {
            format!("A difference of {difference} cannot count as clean")
        }
    })
}

impl Job {
    pub(super) fn change_plan(&mut self, edit: &PlanEdit) -> Result<(), Problem> {
        match edit {
            PlanEdit::Aim { aim } => {
                check_aim(aim)?;
                self.rules.aim = *aim;
            }
            PlanEdit::Order { rules } => {
                for rule in rules {
                    match rule {
                        OrderRule::PaleFirst {} => {}
                        OrderRule::First { slot } | OrderRule::Last { slot } => {
                            self.check_slot(*slot)?;
                        }
                        OrderRule::Before { region, then } => {
                            if self.number(region)? == self.number(then)? {
                                let message = "A region cannot print before itself";
                                let mend = "Choose two regions.";
                                return Err(refuse("rule-on-itself", message, "rules", mend));
                            }
                        }
                    }
                }
                self.rules.order.clone_from(rules);
            }
            PlanEdit::Places { places } => {
                if !(0.0..=1.0).contains(&places.tower_share) {
                    let percent = figure(100.0 * places.tower_share);
                    let message = format!("{percent} % cannot go into the tower");
                    let mend = "Choose a share from 0 to 100 %.";
                    return Err(refuse("share-out-of-range", message, "tower_share", mend));
                }
                if let Some(mm) = places.by_hand_mm {
                    BY_HAND.check(mm, "by_hand_mm", |length| {
                        format!("{length} cannot be pressed out by hand")
                    })?;
                }
                self.rules.places = *places;
            }
            PlanEdit::CutOff {
                from,
                to,
                purge_mm3,
            } => {
                self.check_slot(*from)?;
                self.check_slot(*to)?;
                if from == to {
                    let message = format!("From slot {from} to slot {to} nothing is swapped");
                    let mend = "Choose two slots.";
                    return Err(refuse("pair-of-one", message, "to", mend));
                }
                if let Some(mm3) = purge_mm3 {
                    CUT_OFF.check(*mm3, "purge_mm3", |volume| {
                        format!("{volume} cannot be purged at a swap")
                    })?;
                }
                let set = &mut self.rules.cut_offs;
                set.retain(|c| (c.from, c.to) != (*from, *to));
                set.extend(purge_mm3.map(|purge_mm3| CutOff {
                    from: *from,
                    to: *to,
                    purge_mm3,
                }));
                set.sort_by_key(|c| (c.from, c.to));
            }
            PlanEdit::Tolerance { region, tolerance } => {
                tolerance.map(check_tolerance).transpose()?;
                match (region, tolerance) {
                    (None, Some(tolerance)) => self.printer.tolerance = *tolerance,
                    (None, None) => {
                        let message = "Some difference has to count as clean";
                        let mend = "Type 0.1 to 50; 2 is hardly seen.";
                        return Err(refuse("tolerance-none", message, "tolerance", mend));
                    }
                    (Some(region), tolerance) => {
                        self.number(region)?;
                        match tolerance {
                            Some(t) => self.rules.tolerances.insert(region.clone(), *t),
                            None => self.rules.tolerances.remove(region),
                        };
                    }
                }
            }
            PlanEdit::TakesPurge { region, takes } => {
                self.number(region)?;
                match takes {
                    Some(takes) => self.rules.takers.insert(region.clone(), *takes),
                    None => self.rules.takers.remove(region),
                };
            }
            PlanEdit::Accept { snag, note } => {
                const LONGEST: usize = 1000;
                const MOST: usize = 1000;
                let is_long = snag.chars().count() > LONGEST
                    || note.as_ref().is_some_and(|n| n.chars().count() > LONGEST);
                if is_long || self.rules.accepted.len() >= MOST {
                    let message = "This is more than can be kept of snags left on purpose";
                    let mend = "Type a shorter note, or take others up again.";
                    return Err(refuse("accept-too-long", message, "note", mend));
                }
                match note {
                    Some(note) => self.rules.accepted.insert(snag.clone(), note.trim().into()),
                    None => self.rules.accepted.remove(snag),
                };
            }
            PlanEdit::Quick { is_quick } => self.rules.is_quick = *is_quick,
            PlanEdit::Depth {
                soak_mm,
                layers,
                through,
            } => {
                let depth = SoakDepth::asked(*soak_mm, *layers, *through)?;
                if depth.is_through() {
                    self.check_closed_where(|_| true)?;
                }
                for region in self.regions.iter_mut().filter(|r| !r.is_deleted) {
                    region.depth = depth;
                }
            }
        }
        Ok(())
    }
}

fn check_aim(aim: &Aim) -> Result<(), Problem> {
    let Aim::Weighed {
        purge_cm3,
        minute,
        swap,
    } = aim
    else {
        return Ok(());
    };
    let weights = [*purge_cm3, *minute, *swap];
    let is_usable = weights.iter().all(|w| (0.0..=1000.0).contains(w));
    if is_usable && weights.iter().any(|w| *w > 0.0) {
        return Ok(());
    }
    let message = "These weights say nothing about which order is better";
    let mend = "Type 0 to 1000 for each, and more than 0 for one of them.";
    Err(refuse("weights", message, "aim", mend))
}
