//! Edits of the Load stage: which region prints from which slot, and what is in the slots.

use super::Touches;
use serde::de::Error;
use serde::{Deserialize, Deserializer, Serialize};
use std::collections::BTreeMap;
use strum::{IntoStaticStr, VariantNames};

/// A change of what is loaded and where. It travels as `{"edit": "load", "do": …}`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, IntoStaticStr, VariantNames)]
#[serde(tag = "do", rename_all = "kebab-case", deny_unknown_fields)]
#[strum(serialize_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum LoadEdit {
    /// Two slots change places: spools, mixtures, regions and all. Every region keeps its colour.
    Exchange {
        /// One slot, from 1.
        a: u8,
        /// The other.
        b: u8,
    },
    /// All regions print from one slot: the base, before accents are given theirs.
    All {
        /// Which, from 1.
        slot: u8,
    },
    /// Slots that the program proposed are taken as they are.
    Confirm {
        /// Of which region; left out, of all.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        region: Option<String>,
    },
    /// Fills slots and gives regions theirs in one go; what is left out stays.
    Bay {
        /// Spools by slot, or by feed of a mixing nozzle; none empties it.
        #[serde(default, deserialize_with = "by_slot")]
        spools: BTreeMap<u8, Option<String>>,
        /// Slots by region.
        #[serde(default)]
        regions: BTreeMap<String, Option<u8>>,
    },
    /// Says which place of the machine each slot of the job is.
    Places {
        /// For each slot its place in the machine, from 1: every place once.
        places: Vec<u8>,
    },
    /// Sets what a slot of a mixing nozzle is mixed from.
    Mixture {
        /// Which slot, from 1.
        slot: u8,
        /// Share of each feed; they sum to 1.
        shares: Vec<f64>,
    },
}

/// Reads a map by slot. Within an enum told by its tag the keys of JSON come as text, which is not taken for a number.
fn by_slot<'de, D: Deserializer<'de>>(from: D) -> Result<BTreeMap<u8, Option<String>>, D::Error> {
    BTreeMap::<String, Option<String>>::deserialize(from)?
        .into_iter()
        .map(|(slot, spool)| match slot.parse() {
            Ok(slot) => Ok((slot, spool)),
            Err(_) => Err(D::Error::custom(format!(
                "{slot} is not the number of a slot"
            ))),
        })
        .collect()
}

impl LoadEdit {
    /// What it does, in plain words.
    pub(super) fn in_words(&self, name_of: &dyn Fn(&str) -> String) -> String {
        match self {
            LoadEdit::Exchange { a, b } => format!("Let slots {a} and {b} change places"),
            LoadEdit::All { slot } => format!("Print everything from slot {slot}"),
            LoadEdit::Confirm {
                region: Some(region),
            } => format!("Confirm the slot of {}", name_of(region)),
            LoadEdit::Confirm { region: None } => "Confirm all slots".into(),
            LoadEdit::Bay { .. } => "Join regions, slots and spools anew".into(),
            LoadEdit::Places { .. } => "Say where the slots are in the machine".into(),
            LoadEdit::Mixture { slot, shares } => {
                let percent: Vec<String> =
                    shares.iter().map(|s| format!("{:.1}", 100.0 * s)).collect();
                format!("Mix {} for slot {slot}", percent.join(" : "))
            }
        }
    }

    /// Ids of the spools it puts in.
    pub(super) fn spools(&self) -> Vec<&str> {
        match self {
            LoadEdit::Bay { spools, .. } => spools.values().flatten().map(String::as_str).collect(),
            LoadEdit::Exchange { .. }
            | LoadEdit::All { .. }
            | LoadEdit::Confirm { .. }
            | LoadEdit::Places { .. }
            | LoadEdit::Mixture { .. } => Vec::new(),
        }
    }

    /// What it touches of what the layers are divided by: which regions share a slot.
    pub(super) fn touches(&self) -> Touches {
        match self {
            LoadEdit::Confirm { .. } | LoadEdit::Places { .. } | LoadEdit::Mixture { .. } => {
                Touches::Nothing
            }
            LoadEdit::Exchange { .. } | LoadEdit::All { .. } | LoadEdit::Bay { .. } => {
                Touches::Everything
            }
        }
    }
}
