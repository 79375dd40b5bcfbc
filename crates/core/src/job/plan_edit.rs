//! Edits of how a job is planned.

use super::apply::refuse;
use super::state::Job;
use crate::rules::{Aim, CutOff, OrderRule, PurgePlaces};
use crate::{Problem, figure};
use serde::{Deserialize, Serialize};

/// A change of how a job is planned. It travels as `{"edit": "plan", "do": …}`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "do", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub enum PlanEdit {
    /// Says what the order makes least.
    Aim {
        /// What.
        aim: Aim,
    },
    /// Says what is asked of the order, in place of what was asked before.
    Order {
        /// All rules.
        rules: Vec<OrderRule>,
    },
    /// Says where purge goes.
    Places {
        /// Where.
        places: PurgePlaces,
    },
    /// Sets what a pair of slots purges, or leaves it to the rinse again.
    CutOff {
        /// Slot unloaded, from 1.
        from: u8,
        /// Slot loaded.
        to: u8,
        /// Volume, mm³; none for what the rinse asks for.
        purge_mm3: Option<f64>,
    },
    /// Says which difference counts as clean.
    Tolerance {
        /// For which region; left out, for all that have none of their own.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        region: Option<String>,
        /// CIEDE2000 difference; none takes a region's own away.
        tolerance: Option<f64>,
    },
    /// Makes the plan a quick one, or a final one.
    Quick {
        /// Whether it is quick.
        is_quick: bool,
    },
    /// Sets the soak depth of all regions at once.
    Depth {
        /// Depth in mm.
        soak_mm: f64,
    },
}

impl PlanEdit {
    /// What it does, in plain words.
    pub(super) fn in_words(&self, name_of: &dyn Fn(&str) -> String) -> String {
        match self {
            PlanEdit::Aim { aim } => match aim {
                Aim::Purge => "Order for the least purge".into(),
                Aim::Time => "Order for the least time".into(),
                Aim::Swaps => "Order for the fewest swaps".into(),
                Aim::Weighed { .. } => "Order for purge, time and swaps weighed".into(),
                Aim::SlotOrder => "Print slots in number order".into(),
            },
            PlanEdit::Order { rules } => match rules.len() {
                0 => "Ask nothing of the order".into(),
                1 => "Ask one thing of the order".into(),
                n => format!("Ask {n} things of the order"),
            },
            PlanEdit::Places { places } => {
                let mut words = Vec::new();
                if let Some(mm) = places.by_hand_mm {
                    words.push(format!("press out {mm:.0} mm by hand"));
                }
                if places.into_infill {
                    words.push("into infill".into());
                }
                if places.tower_share > 0.0 && places.by_hand_mm.is_none() {
                    words.push(if places.tower_share < 1.0 {
                        format!("{:.0} % into the tower", 100.0 * places.tower_share)
                    } else {
                        "into the tower".into()
                    });
                }
                if places.tower_share < 1.0 && places.by_hand_mm.is_none() {
                    words.push("into the bin".into());
                }
                format!("Purge: {}", words.join(", "))
            }
            PlanEdit::CutOff {
                from,
                to,
                purge_mm3: Some(mm3),
            } => format!("Purge {mm3:.0} mm³ from slot {from} to {to}"),
            PlanEdit::CutOff { from, to, .. } => {
                format!("Leave the purge from slot {from} to {to} to the rinse")
            }
            PlanEdit::Tolerance { region, tolerance } => {
                let whose = region.as_ref().map(|r| format!(" for {}", name_of(r)));
                let whose = whose.unwrap_or_default();
                match tolerance {
                    Some(t) => format!("Count a difference of {t:.1} as clean{whose}"),
                    None => format!("Count as clean{whose} what counts for all"),
                }
            }
            PlanEdit::Quick { is_quick: true } => "Plan it quick, without purge".into(),
            PlanEdit::Quick { is_quick: false } => "Plan it final, with purge".into(),
            PlanEdit::Depth { soak_mm } => format!("Let all colours go {soak_mm:.2} mm deep"),
        }
    }
}

/// The difference that may count as clean. Nothing is ever perfectly clean: what is left of the old colour only halves and
/// halves.
pub(crate) fn check_tolerance(tolerance: f64) -> Result<(), Problem> {
    if (0.1..=50.0).contains(&tolerance) {
        return Ok(());
    }
    let message = if tolerance == 0.0 {
        "No rinse comes out perfectly clean: a difference of 0 is never reached".into()
    } else {
        format!(
            "A difference of {} cannot count as clean",
            figure(tolerance)
        )
    };
    let mend = "Type 0.1 to 50; 2 is hardly seen.";
    Err(refuse("tolerance-out-of-range", message, "tolerance", mend))
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
                if let Some(mm) = places.by_hand_mm.filter(|mm| !(0.0..=5000.0).contains(mm)) {
                    let message = format!("{} mm cannot be pressed out by hand", figure(mm));
                    let mend = "Type a length from 0 to 5000 mm.";
                    return Err(refuse("length-out-of-range", message, "by_hand_mm", mend));
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
                if let Some(mm3) = purge_mm3.filter(|v| !(0.0..=5000.0).contains(v)) {
                    let message = format!("{} mm³ cannot be purged at a swap", figure(mm3));
                    let mend = "Choose a volume from 0 to 5000 mm³.";
                    return Err(refuse("purge-out-of-range", message, "purge_mm3", mend));
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
            PlanEdit::Quick { is_quick } => self.rules.is_quick = *is_quick,
            PlanEdit::Depth { soak_mm } => {
                super::apply::check_soak(*soak_mm)?;
                for region in self.regions.iter_mut().filter(|r| !r.is_deleted) {
                    region.soak_mm = *soak_mm;
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
