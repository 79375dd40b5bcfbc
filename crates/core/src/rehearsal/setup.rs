//! What a rehearsal begins with: the printer, what is in it, what is planned, and what is to go wrong.

use crate::colour::Pigment;
use crate::machine::Printer;
use serde::{Deserialize, Serialize};

/// What a slot holds, or ought to.
#[derive(Debug, Clone, PartialEq)]
pub struct Held {
    /// What a person calls it.
    pub name: String,
    /// Its colour.
    pub pigment: Pigment,
    /// How much there is, mm³; none if nobody knows: then it never ends.
    pub left_mm3: Option<f64>,
    /// Section of the filament, mm².
    pub section_mm2: f64,
    /// Weight of 1 mm³, g.
    pub g_per_mm3: f64,
}

/// What a person does at a pause.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Turn {
    /// Place of the machine, from 0.
    pub place: usize,
    /// Slot whose spool goes in, from 1.
    pub slot: u8,
    /// What is pressed out by hand, mm³.
    pub press_mm3: f64,
}

/// What a rehearsal begins with.
#[derive(Debug, Clone, PartialEq)]
pub struct Setup {
    /// The printer.
    pub printer: Printer,
    /// What each slot ought to hold, from slot 1 on.
    pub slots: Vec<Held>,
    /// Slot in each place of the machine at the start, by number of the tool.
    pub places: Vec<u8>,
    /// What is put in at each pause, in order.
    pub turns: Vec<Turn>,
    /// Share of each feed for each slot, where a nozzle mixes; then `feeds` are what is melted.
    pub shares: Vec<Vec<f64>>,
    /// What is in the feeds of a nozzle that mixes.
    pub feeds: Vec<Held>,
    /// The strand from the nozzle on, for a machine that joins one: slot and length in mm.
    pub strand: Vec<(u8, f64)>,
    /// Planned changes, in order: to which slot.
    pub swaps: Vec<u8>,
    /// Boxes that take purge: low and high corner, on the bed, mm.
    pub aside: Vec<[[f64; 2]; 2]>,
    /// Planned time, s.
    pub planned_s: f64,
    /// What is to go wrong.
    pub troubles: Vec<Trouble>,
}

impl Setup {
    /// A machine with these in its slots, each in the place of its number, of which nothing is planned.
    pub fn of(printer: Printer, slots: Vec<Held>) -> Setup {
        Setup {
            printer,
            places: (1u8..).take(slots.len()).collect(),
            slots,
            turns: Vec::new(),
            shares: Vec::new(),
            feeds: Vec::new(),
            strand: Vec::new(),
            swaps: Vec::new(),
            aside: Vec::new(),
            planned_s: 0.0,
            troubles: Vec::new(),
        }
    }
}

/// Something that goes wrong.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Trouble {
    /// What.
    pub kind: TroubleKind,
    /// From which layer on, from 0.
    pub layer: usize,
    /// Slot that it is about, from 1; the one that prints if none is said.
    #[serde(default)]
    pub slot: Option<u8>,
}

/// What can go wrong.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum TroubleKind {
    /// The spool of the slot ends.
    RunOut,
    /// Nothing comes out any more.
    Jam,
    /// In the slot is the spool of the next one.
    WrongSpool,
    /// The nozzle is 2 mm aside of where it is thought to be.
    LostSteps,
    /// The power goes.
    PowerCut,
}
