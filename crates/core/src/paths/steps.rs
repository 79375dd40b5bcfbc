//! What a machine is told to do, one thing after the other: the text, the picture and the time all come from these.

use super::bead::BeadKind;

/// One thing that a machine does.
#[derive(Debug, Clone, PartialEq)]
pub enum Step {
    /// From here on a layer is laid.
    Layer {
        /// From 0.
        index: usize,
        /// Bottom and top, mm above the bed.
        span_mm: [f64; 2],
    },
    /// From here on plastic of a slot comes out; nothing is done.
    Slot {
        /// From 1.
        slot: u8,
    },
    /// Lays plastic on the way to a place.
    Lay {
        /// Where to, mm from the front left corner of the bed.
        to: [f64; 2],
        /// Width of what is laid, mm.
        width: f64,
        /// Plastic, mm³.
        mm3: f64,
        /// mm/s.
        speed: f64,
        /// What for.
        kind: BeadKind,
    },
    /// Goes to a place.
    Travel {
        /// mm from the front left corner of the bed.
        to: [f64; 2],
        /// mm/s.
        speed: f64,
    },
    /// Goes up or down.
    Height {
        /// mm above the bed.
        to: f64,
        /// mm/s.
        speed: f64,
    },
    /// Pulls filament back.
    Pull {
        /// mm.
        mm: f64,
        /// mm/s.
        speed: f64,
    },
    /// Gives back what was pulled.
    Push {
        /// mm.
        mm: f64,
        /// mm/s.
        speed: f64,
    },
    /// Presses plastic out where it stands.
    Press {
        /// mm³.
        mm3: f64,
        /// mm³/s.
        flow: f64,
    },
    /// Takes another tool, or has the feeder put in another filament.
    Select {
        /// Number of the tool, from 0.
        tool: u8,
    },
    /// Sets and keeps a mixture.
    Mix {
        /// Number of the virtual tool, from 0.
        tool: u8,
        /// Share of each feed.
        shares: Vec<f64>,
    },
    /// Waits until a person has done something.
    Prompt {
        /// What, in words.
        words: String,
        /// How long that takes, s.
        seconds: f64,
    },
    /// Tells a person something, and goes on.
    Say {
        /// What.
        words: String,
    },
    /// Heats a nozzle.
    Heat {
        /// Of which tool; none for the one at hand.
        tool: Option<u8>,
        /// °C.
        c: f64,
        /// Whether it is waited for.
        waits: bool,
    },
    /// Heats the bed.
    Bed {
        /// °C.
        c: f64,
        /// Whether it is waited for.
        waits: bool,
    },
    /// Fan.
    Fan {
        /// Share of its full speed.
        share: f64,
    },
    /// Finds the zero of axes.
    Home {
        /// Whether of height as well.
        with_height: bool,
    },
    /// Lines of the maker's own; where the nozzle is afterwards nobody knows.
    Passage {
        /// The lines.
        text: String,
    },
    /// Motors off, after a print.
    Rest,
}
