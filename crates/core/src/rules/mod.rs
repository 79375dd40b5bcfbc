//! What is asked of a plan: what the order aims at, what it keeps to, how clean a swap has to be, where its purge goes, and
//! how many pieces there are.

mod copies;

pub use copies::Copies;

use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// What the order makes least.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
#[serde(tag = "is", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Aim {
    /// Plastic purged.
    #[default]
    Purge,
    /// Time of swaps, purging and heating.
    Time,
    /// Number of swaps; of equal numbers the least purge.
    Swaps,
    /// A sum of all three.
    Weighed {
        /// What a cm³ purged counts.
        purge_cm3: f64,
        /// What a minute counts.
        minute: f64,
        /// What a swap counts.
        swap: f64,
    },
    /// Nothing: slots print in number order.
    SlotOrder,
}

/// Something asked of the order within layers.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "rule", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum OrderRule {
    /// On the first layer pale colours print before dark ones, so that dark strings do not end up under them.
    PaleFirst {},
    /// A slot prints first wherever it prints.
    First {
        /// Which, from 1.
        slot: u8,
    },
    /// A slot prints last wherever it prints.
    Last {
        /// Which, from 1.
        slot: u8,
    },
    /// A region prints before another where a layer has both.
    Before {
        /// Key of the region that goes first.
        region: String,
        /// Key of the one that waits.
        then: String,
    },
}

/// Where purged plastic goes: first into infill, then the given share of the rest into the tower, and what is left into a
/// bin.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct PurgePlaces {
    /// Whether infill that nobody sees takes what it can.
    pub into_infill: bool,
    /// Share of the rest that a tower takes, 0 to 1.
    pub tower_share: f64,
    /// Length pressed out by hand at every swap, mm, in place of what the rinse asks for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", ts(optional))]
    pub by_hand_mm: Option<f64>,
}

impl Default for PurgePlaces {
    fn default() -> Self {
        PurgePlaces {
            into_infill: false,
            tower_share: 1.0,
            by_hand_mm: None,
        }
    }
}

/// What of a region takes purge, because its colour does not matter.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Takes {
    /// Its infill: walls and skins keep their colour.
    Infill,
    /// All of it: no swap is made for it where anything else prints, and it is of whatever colours come by.
    All,
}

impl Takes {
    /// Numbers what a layer is divided into for printing: by slot, and apart what of it takes purge.
    pub(crate) fn ground(slot: u8, takes: Option<Takes>) -> u16 {
        let mark = match takes {
            None => 0,
            Some(Takes::Infill) => 1,
            Some(Takes::All) => 2,
        };
        u16::from(slot) | mark << 8
    }

    /// The slot behind such a number, and what of it takes purge.
    pub(crate) fn of_ground(number: u16) -> (u8, Option<Takes>) {
        let takes = match number >> 8 {
            1 => Some(Takes::Infill),
            2 => Some(Takes::All),
            _ => None,
        };
        (number as u8, takes)
    }
}

/// A purge that the maker set for one pair of slots.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct CutOff {
    /// Slot unloaded, from 1.
    pub from: u8,
    /// Slot loaded.
    pub to: u8,
    /// Volume purged, mm³.
    pub purge_mm3: f64,
}

/// How a job is planned.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct PlanRules {
    /// What the order makes least.
    pub aim: Aim,
    /// What is asked of it besides.
    pub order: Vec<OrderRule>,
    /// Where purge goes.
    pub places: PurgePlaces,
    /// Pairs whose purge the maker set, ascending.
    pub cut_offs: Vec<CutOff>,
    /// CIEDE2000 difference that counts as clean, for regions that have their own.
    pub tolerances: BTreeMap<String, f64>,
    /// Regions that take purge, by key.
    #[serde(default)]
    pub takers: BTreeMap<String, Takes>,
    /// Snags and strays that are left on purpose, by what is so and where, with a note.
    #[serde(default)]
    pub accepted: BTreeMap<String, String>,
    /// Whether it is a quick plan: swaps without any purge.
    pub is_quick: bool,
}

impl PlanRules {
    /// Two slots have changed places.
    pub(crate) fn exchange(&mut self, a: u8, b: u8) {
        let other = |s: &mut u8| {
            *s = match *s {
                s if s == a => b,
                s if s == b => a,
                s => s,
            }
        };
        for pair in &mut self.cut_offs {
            other(&mut pair.from);
            other(&mut pair.to);
        }
        self.cut_offs.sort_by_key(|c| (c.from, c.to));
        for rule in &mut self.order {
            if let OrderRule::First { slot } | OrderRule::Last { slot } = rule {
                other(slot);
            }
        }
    }

    /// A slot has another filament: what was set for the old one no longer counts.
    pub(crate) fn refilled(&mut self, slot: u8) {
        self.cut_offs.retain(|c| c.from != slot && c.to != slot);
    }

    /// Lets go of slots that the printer does not have.
    pub(crate) fn keep_slots(&mut self, slots: u8) {
        self.cut_offs.retain(|c| c.from <= slots && c.to <= slots);
        self.order.retain(|rule| match rule {
            OrderRule::First { slot } | OrderRule::Last { slot } => *slot <= slots,
            _ => true,
        });
    }
}
