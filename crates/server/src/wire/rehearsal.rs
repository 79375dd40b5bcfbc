//! A rehearsal as the page shows it.

use serde::{Deserialize, Serialize};
use ts_rs::TS;
use utoipa::ToSchema;
use varichrom_core::colour::Colour;
use varichrom_core::rehearsal::{Happening, Status, Trouble, TroubleKind, Verdict};

/// How a rehearsal is wanted.
#[derive(Debug, Clone, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct BeginRehearsal {
    /// Seconds of the print a second; 0 stands still, none is as fast as it goes.
    pub speed: Option<f64>,
    /// What is to go wrong, and when.
    #[serde(default)]
    pub troubles: Vec<Trouble>,
    /// A print file from elsewhere that is kept with the job, instead of the job's own.
    #[serde(default)]
    #[ts(optional = nullable)]
    pub file: Option<i32>,
}

/// Another speed.
#[derive(Debug, Clone, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct SetSpeed {
    /// Seconds of the print a second; 0 stands still, none is as fast as it goes.
    pub speed: Option<f64>,
}

/// Something is to go wrong now.
#[derive(Debug, Clone, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct LetGoWrong {
    /// What.
    pub kind: TroubleKind,
}

/// A rehearsal.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct RehearsalView {
    /// The print file from elsewhere that it is of; none for the job's own.
    pub file: Option<i32>,
    /// Revision that it is of.
    pub revision: u32,
    /// Whether the job is another by now.
    pub is_outdated: bool,
    /// How the machine is.
    pub status: Status,
    /// Seconds of the print a second; none is as fast as it goes.
    pub speed: Option<f64>,
    /// Time of the file that has passed, s, and all of it.
    pub file_s: f64,
    /// All time that has passed, with what nobody planned, s.
    pub passed_s: f64,
    /// Time that the whole file takes, s.
    pub whole_s: f64,
    /// Layer at hand, from 0.
    pub layer: usize,
    /// Slot that prints, from 1.
    pub slot: u8,
    /// Colours in the nozzle from where filament comes in to where it leaves.
    pub nozzle: Vec<Colour>,
    /// CIEDE2000 difference of what leaves it to what should.
    pub delta_e: f64,
    /// What each slot that prints has left.
    pub slots: Vec<RehearsedSlot>,
    /// What happened, the newest first; no more than 60.
    pub happenings: Vec<Happening>,
    /// What it came to so far.
    pub verdict: Verdict,
}

/// A slot in a rehearsal.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct RehearsedSlot {
    /// From 1.
    pub slot: u8,
    /// What a person calls what is in it.
    pub name: String,
    /// Its colour.
    pub colour: Colour,
    /// What is left, g; none where nobody knows.
    pub left_g: Option<f64>,
}
