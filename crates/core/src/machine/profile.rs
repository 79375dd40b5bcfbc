//! What a machine can do, told apart from what kind it is: outside this room nobody asks for the kind.

use super::{HandSwap, MachineKind, Printer};
use serde::Serialize;

/// Colours that a job can tell apart at most.
pub(super) const MOST_SLOTS: u8 = 16;

/// What a kind of machine can do; what it cannot comes with the reason.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
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

/// What a nozzle melts together.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Mixes {
    /// Filaments that go in.
    pub feeds: u8,
    /// The least share of each.
    pub least_share: f64,
}

/// What a machine is called and what it can do.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Profile {
    /// Which of the kinds to choose from it is.
    pub kind: &'static str,
    /// What a slot of a job is called on it: what regions print from.
    pub slot_word: &'static str,
    /// What a place for a spool is called on it: the slot again, but for a mixing nozzle.
    pub place_word: &'static str,
    /// Filaments that are put into it for a job: feeds of a mixing nozzle, else one for each slot.
    pub spools: u8,
    /// Spools that it holds at a time.
    pub places: u8,
    /// Whether all filaments go through one nozzle, so that a swap has to be rinsed.
    pub rinses: bool,
    /// What it melts together, if it mixes colours.
    pub mixes: Option<Mixes>,
    /// Whether all filaments are joined to one strand.
    pub splices: bool,
    /// Whether it may hold fewer spools than a job has slots, and is reloaded on the way.
    pub holds_fewer: bool,
    /// Whether a person makes every swap.
    pub is_by_hand: bool,
    /// Whether each colour is printed to its end before the next.
    pub prints_in_passes: bool,
    /// Whether it lays any colour anywhere: slots, swaps and spools mean nothing to it.
    pub jets: bool,
    /// Whether it prints greys only.
    pub is_grey: bool,
}

/// A kind of machine to choose.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct KindChoice {
    /// Lasting key; see [`Profile::kind`].
    pub key: &'static str,
    /// What it is, in plain words.
    pub words: &'static str,
    /// The kind with its usual values.
    pub kind: MachineKind,
}

const fn choice(words: &'static str, kind: MachineKind) -> KindChoice {
    KindChoice {
        key: kind.key(),
        words,
        kind,
    }
}

impl Profile {
    /// Whether a word of the file says which slot prints, the first included: not where a person or the strand does.
    pub fn is_told_slots(&self) -> bool {
        !self.is_by_hand && !self.splices && !self.jets
    }
}

impl MachineKind {
    /// All kinds, as they are chosen.
    pub const CHOICES: [KindChoice; 7] = [
        choice("One nozzle with a feeder", MachineKind::Feeder),
        choice("A nozzle for each filament", MachineKind::Tools),
        choice(
            "Swaps by hand at a pause",
            MachineKind::ByHand {
                how: HandSwap::AtPause,
            },
        ),
        choice(
            "By hand, one pass for each colour",
            MachineKind::ByHand {
                how: HandSwap::PassPerColour,
            },
        ),
        choice("One nozzle with a splicer", MachineKind::Splicer),
        choice(
            "A mixing nozzle",
            MachineKind::Mixing {
                feeds: 3,
                least_share: 0.02,
            },
        ),
        choice(
            "A jetting machine, any colour",
            MachineKind::Jetting { is_grey: false },
        ),
    ];

    const fn key(&self) -> &'static str {
        match self {
            MachineKind::Feeder => "feeder",
            MachineKind::Tools => "tools",
            MachineKind::ByHand {
                how: HandSwap::AtPause,
            } => "at-pause",
            MachineKind::ByHand {
                how: HandSwap::PassPerColour,
            } => "pass-per-colour",
            MachineKind::Splicer => "splicer",
            MachineKind::Mixing { .. } => "mixing",
            MachineKind::Jetting { .. } => "jetting",
        }
    }
}

impl Printer {
    /// What the printer is called and what it can do.
    pub fn profile(&self) -> Profile {
        let mixes = match self.kind {
            MachineKind::Mixing { feeds, least_share } => Some(Mixes { feeds, least_share }),
            MachineKind::Feeder
            | MachineKind::Tools
            | MachineKind::ByHand { .. }
            | MachineKind::Splicer
            | MachineKind::Jetting { .. } => None,
        };
        let (slot_word, place_word) = match self.kind {
            MachineKind::Tools => ("Tool", "Tool"),
            MachineKind::Mixing { .. } => ("Mixture", "Feed"),
            MachineKind::Jetting { .. } => ("Colour", "Material"),
            MachineKind::Feeder | MachineKind::ByHand { .. } | MachineKind::Splicer => {
                ("Slot", "Slot")
            }
        };
        let holds_fewer = matches!(self.kind, MachineKind::Feeder | MachineKind::Splicer);
        Profile {
            kind: self.kind.key(),
            slot_word,
            place_word,
            spools: mixes.map_or(self.slots, |m| m.feeds),
            places: if holds_fewer && self.holds > 0 {
                self.holds.min(self.slots)
            } else {
                self.slots
            },
            rinses: !matches!(self.kind, MachineKind::Tools | MachineKind::Jetting { .. }),
            mixes,
            splices: self.kind == MachineKind::Splicer,
            holds_fewer,
            is_by_hand: matches!(self.kind, MachineKind::ByHand { .. }),
            prints_in_passes: self.kind
                == MachineKind::ByHand {
                    how: HandSwap::PassPerColour,
                },
            jets: matches!(self.kind, MachineKind::Jetting { .. }),
            is_grey: self.kind == MachineKind::Jetting { is_grey: true },
        }
    }

    /// The printer with another number of slots for a job that needs them; none if it has as many nozzles as it has.
    pub fn with_slots(&self, slots: u8) -> Option<Printer> {
        let profile = self.profile();
        if !profile.rinses {
            return None;
        }
        let mut printer = self.clone();
        if profile.mixes.is_none() {
            printer.holds = profile.places;
            printer.slots = slots;
        }
        Some(printer)
    }

    /// The printer with swaps at a pause.
    pub fn swapped_at_pause(&self) -> Printer {
        Printer {
            kind: MachineKind::ByHand {
                how: HandSwap::AtPause,
            },
            ..self.clone()
        }
    }

    /// Whether it prints more colours than it holds, with spools put in by hand on the way.
    pub fn takes_reloads(&self) -> bool {
        let profile = self.profile();
        profile.rinses && profile.mixes.is_none() && self.slots < MOST_SLOTS
    }

    /// What the printer cannot do, and why.
    pub fn abilities(&self) -> Abilities {
        let profile = self.profile();
        Abilities {
            no_mixtures: profile
                .mixes
                .is_none()
                .then(|| "Only a mixing nozzle prints mixtures.".into()),
            no_rinse: match (profile.rinses, profile.jets) {
                (true, _) => None,
                (_, true) => Some("It lays any colour anywhere: nothing is rinsed.".into()),
                _ => Some("Each filament has its own nozzle: nothing is rinsed.".into()),
            },
            no_asking: if profile.jets {
                Some("It takes any colour: there is nothing to ask.".into())
            } else if profile.is_by_hand {
                Some("The filament is put in by hand: there is nothing to ask.".into())
            } else if self.address.is_empty() {
                Some("The printer has no address: type one among its settings.".into())
            } else {
                None
            },
            no_other_plastic: profile
                .splices
                .then(|| "A splice holds only between the same plastics.".into()),
        }
    }
}
