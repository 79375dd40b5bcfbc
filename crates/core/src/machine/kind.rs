//! Kinds of machines, and what each can do.

use super::Printer;
use crate::rinse::MeltZone;
use serde::{Deserialize, Serialize};

/// When a maker swaps by hand.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub enum HandSwap {
    /// The printer pauses and waits.
    #[default]
    AtPause,
    /// Each colour is a print of its own on the same bed.
    PassPerColour,
}

/// What kind of machine a printer is.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
#[serde(tag = "is", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub enum MachineKind {
    /// One nozzle; a feeder puts in one of several filaments.
    #[default]
    Feeder,
    /// A nozzle for each filament: two extruders, or a tool changer.
    Tools,
    /// One nozzle; the maker swaps.
    ByHand {
        /// When.
        how: HandSwap,
    },
    /// One nozzle, fed with one strand that is joined from lengths of several filaments.
    Splicer,
    /// One nozzle that melts several filaments together.
    Mixing {
        /// Filaments that go in, 2 to 6.
        feeds: u8,
        /// The least share of each in any mixture, 0 to 0.2: a feed that stands still clogs.
        least_share: f64,
    },
}

/// Colours that a job can tell apart at most.
pub(super) const MOST_SLOTS: u8 = 16;

/// What a kind of machine can do; what it cannot comes with the reason.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct Abilities {
    /// Why mixtures cannot be set; none if they can.
    pub no_mixtures: Option<String>,
    /// Why the purge after a swap cannot be set; none if it can.
    pub no_rinse: Option<String>,
    /// Why it cannot say what is loaded; none if it can.
    pub no_asking: Option<String>,
    /// Why filaments of several plastics cannot go together; none if they can.
    pub no_other_plastic: Option<String>,
}

impl MachineKind {
    /// Whether it mixes several filaments into one.
    pub fn mixes(&self) -> bool {
        matches!(self, MachineKind::Mixing { .. })
    }

    /// What a slot of a job is called on it: what regions print from.
    pub fn slot_word(&self) -> &'static str {
        match self {
            MachineKind::Tools => "Tool",
            MachineKind::Mixing { .. } => "Mixture",
            _ => "Slot",
        }
    }

    /// What a place for a spool is called on it: the slot again, but for a mixing nozzle.
    pub fn place_word(&self) -> &'static str {
        match self {
            MachineKind::Mixing { .. } => "Feed",
            _ => self.slot_word(),
        }
    }

    /// Whether all filaments go through one nozzle, so that a swap has to be rinsed.
    pub fn has_one_nozzle(&self) -> bool {
        !matches!(self, MachineKind::Tools)
    }

    /// Filaments that are put into the machine: feeds of a mixing nozzle, else one for each slot.
    pub fn spools(&self, slots: u8) -> u8 {
        match self {
            MachineKind::Mixing { feeds, .. } => *feeds,
            _ => slots,
        }
    }
}

impl Printer {
    /// Spools in the machine at a time: one for every slot, unless it is a kind that is reloaded on the way and holds fewer.
    pub fn places(&self) -> u8 {
        match self.kind {
            MachineKind::Feeder | MachineKind::Splicer if self.holds > 0 => {
                self.holds.min(self.slots)
            }
            _ => self.slots,
        }
    }

    /// Whether it prints more colours than it holds, with spools put in by hand on the way.
    pub fn takes_reloads(&self) -> bool {
        self.kind.has_one_nozzle() && !self.kind.mixes() && self.slots < MOST_SLOTS
    }

    /// Whether each colour is to be printed to its end before the next.
    pub fn prints_in_passes(&self) -> bool {
        let how = HandSwap::PassPerColour;
        self.kind == MachineKind::ByHand { how }
    }

    /// Whether a person makes every swap.
    pub fn is_by_hand(&self) -> bool {
        matches!(self.kind, MachineKind::ByHand { .. })
    }

    /// What the printer can do.
    pub fn abilities(&self) -> Abilities {
        let is_by_hand = self.is_by_hand();
        Abilities {
            no_mixtures: (!self.kind.mixes())
                .then(|| "Only a mixing nozzle prints mixtures.".into()),
            no_rinse: (!self.kind.has_one_nozzle())
                .then(|| "Each filament has its own nozzle: nothing is rinsed.".into()),
            no_asking: if is_by_hand {
                Some("The filament is put in by hand: there is nothing to ask.".into())
            } else if self.address.is_empty() {
                Some("The printer has no address: type one among its settings.".into())
            } else {
                None
            },
            no_other_plastic: matches!(self.kind, MachineKind::Splicer)
                .then(|| "A splice holds only between the same plastics.".into()),
        }
    }

    /// A ready example of each kind, with generic values (common practice, no source).
    pub fn examples() -> Vec<Printer> {
        let feeder = Printer::default();
        vec![
            feeder.clone(),
            Printer {
                name: "Two extruders, 0.4 mm".into(),
                kind: MachineKind::Tools,
                slots: 2,
                swap_s: 12.0,
                ..feeder.clone()
            },
            Printer {
                name: "One nozzle, swaps by hand".into(),
                kind: MachineKind::ByHand {
                    how: HandSwap::AtPause,
                },
                // A person has to come, pull, load and press out.
                swap_s: 180.0,
                ..feeder.clone()
            },
            Printer {
                name: "Splicer of four strands".into(),
                kind: MachineKind::Splicer,
                swap_s: 0.0,
                ..feeder.clone()
            },
            Printer {
                name: "Mixing nozzle with three feeds".into(),
                kind: MachineKind::Mixing {
                    feeds: 3,
                    least_share: 0.02,
                },
                slots: 8,
                swap_s: 1.0,
                melt: MeltZone {
                    volume_mm3: 70.0,
                    tanks: 1,
                },
                ..feeder
            },
        ]
    }
}
