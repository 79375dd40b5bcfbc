//! Edits of how a job is planned.

use super::super::depth::SoakDepth;
use super::{Touches, is_default};
use crate::rules::{Aim, OrderRule, PurgePlaces, Takes};
use serde::{Deserialize, Serialize};
use strum::{IntoStaticStr, VariantNames};

/// A change of how a job is planned. It travels as `{"edit": "plan", "do": …}`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, IntoStaticStr, VariantNames)]
#[serde(tag = "do", rename_all = "kebab-case", deny_unknown_fields)]
#[strum(serialize_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
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
    /// Marks a region as one that takes purge, because its colour does not matter.
    TakesPurge {
        /// Which.
        region: String,
        /// What of it; none takes the mark away.
        takes: Option<Takes>,
    },
    /// Makes the plan a quick one, or a final one.
    Quick {
        /// Whether it is quick.
        is_quick: bool,
    },
    /// Leaves a snag or a stray on purpose: it stays listed as accepted until what it says is no longer so.
    Accept {
        /// What is so, and where, as the snag says it.
        snag: String,
        /// Why; none takes it up again.
        note: Option<String>,
    },
    /// Sets the soak depth of all regions at once.
    Depth {
        /// Depth in mm, if it is told so.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        soak_mm: Option<f64>,
        /// Depth in layers, if it is told so.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        layers: Option<u32>,
        /// Whether they go right through.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        through: bool,
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
            PlanEdit::TakesPurge { region, takes } => match takes {
                Some(Takes::Infill) => format!("Let the infill of {} take purge", name_of(region)),
                Some(Takes::All) => format!("Let all of {} take purge", name_of(region)),
                None => format!("Let {} take no purge", name_of(region)),
            },
            PlanEdit::Accept {
                snag,
                note: Some(_),
            } => format!("Leave on purpose: {}", shortened(snag)),
            PlanEdit::Accept { snag, note: None } => format!("Take up again: {}", shortened(snag)),
            PlanEdit::Quick { is_quick: true } => "Plan it quick, without purge".into(),
            PlanEdit::Quick { is_quick: false } => "Plan it final, with purge".into(),
            PlanEdit::Depth {
                soak_mm,
                layers,
                through,
            } => {
                let depth = SoakDepth::asked(*soak_mm, *layers, *through).unwrap_or_default();
                format!("Let all colours soak in {}", depth.in_words())
            }
        }
    }

    /// What it touches of what the layers are divided by.
    pub(super) fn touches(&self) -> Touches {
        match self {
            PlanEdit::Depth { .. } => Touches::Depths,
            PlanEdit::Aim { .. }
            | PlanEdit::Order { .. }
            | PlanEdit::Places { .. }
            | PlanEdit::CutOff { .. }
            | PlanEdit::Tolerance { .. }
            | PlanEdit::TakesPurge { .. }
            | PlanEdit::Accept { .. }
            | PlanEdit::Quick { .. } => Touches::Nothing,
        }
    }
}

/// The beginning of what is so, for a list of steps.
fn shortened(what: &str) -> String {
    const LONGEST: usize = 60;
    match what.char_indices().nth(LONGEST) {
        Some((end, _)) => format!("{}…", what[..end].trim_end()),
        None => what.into(),
    }
}
