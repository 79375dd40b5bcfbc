//! Edits of single slots, and of the printer.

use super::Touches;
use crate::machine::Printer;
use serde::{Deserialize, Serialize};
use strum::{IntoStaticStr, VariantNames};

/// A change of a slot or of the printer.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, IntoStaticStr, VariantNames)]
#[serde(tag = "edit", rename_all = "kebab-case", deny_unknown_fields)]
#[strum(serialize_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[expect(
    clippy::large_enum_variant,
    reason = "edits are few, and a box would stand wherever a printer is set"
)]
pub enum SlotEdit {
    /// Gives a region a slot, or takes it away.
    AssignSlot {
        /// Which.
        region: String,
        /// Slot from 1, or none.
        slot: Option<u8>,
    },
    /// Puts a spool of the rack into a slot, or empties it.
    LoadSlot {
        /// Slot from 1.
        slot: u8,
        /// The spool's id, or none.
        spool: Option<String>,
    },
    /// Chooses or changes the printer.
    SetPrinter {
        /// The printer with its settings.
        printer: Printer,
    },
}

impl SlotEdit {
    /// Id of the spool it puts in.
    pub(super) fn spool(&self) -> Option<&str> {
        match self {
            SlotEdit::LoadSlot { spool, .. } => spool.as_deref(),
            SlotEdit::AssignSlot { .. } | SlotEdit::SetPrinter { .. } => None,
        }
    }

    /// What it touches of what the layers are divided by: what one slot prints is not told apart where it is thin.
    pub(super) fn touches(&self) -> Touches {
        match self {
            SlotEdit::LoadSlot { .. } => Touches::Nothing,
            SlotEdit::AssignSlot { .. } | SlotEdit::SetPrinter { .. } => Touches::Everything,
        }
    }

    /// What it does, in plain words.
    pub(super) fn in_words(&self, name_of: &dyn Fn(&str) -> String) -> String {
        match self {
            SlotEdit::AssignSlot {
                region,
                slot: Some(slot),
            } => format!("Print {} from slot {slot}", name_of(region)),
            SlotEdit::AssignSlot { region, slot: None } => {
                format!("Take the slot from {}", name_of(region))
            }
            SlotEdit::LoadSlot { slot, .. } => format!("Load slot {slot}"),
            SlotEdit::SetPrinter { printer } => format!("Set the printer {}", printer.name),
        }
    }
}
