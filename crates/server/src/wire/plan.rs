//! What travels for the Plan stage besides the plan: the bill opened, snags, ways, calibration.

use serde::{Deserialize, Serialize};
use ts_rs::TS;
use utoipa::ToSchema;
use varichrom_core::advice::{DepthChoices, Snag, Way, WayFigures};
use varichrom_core::plan::SheetLine;
use varichrom_core::rinse::Measured;

/// The bill of a revision, every figure opened.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct SheetView {
    /// Revision it is for.
    pub revision: u32,
    /// The figures.
    pub lines: Vec<SheetLine>,
}

/// How far a search on a plan is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, TS, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum SearchState {
    /// The plan has to be made first.
    Waiting,
    /// Going on.
    Working,
    /// Stopped on request.
    Stopped,
    /// Done.
    Ready,
}

/// The snags of a revision.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct SnagsView {
    /// Revision they are for.
    pub revision: u32,
    /// How far the search is.
    pub state: SearchState,
    /// Finished share, 0 to 1.
    pub done: f64,
    /// The snags, the one that saves most first.
    pub snags: Vec<Snag>,
}

/// The depths of a region.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct DepthsView {
    /// Revision they are for.
    pub revision: u32,
    /// How far they are.
    pub state: SearchState,
    /// Finished share, 0 to 1.
    pub done: f64,
    /// What lies below, and every depth that is planned, the shallowest first.
    pub table: DepthChoices,
}

/// The ways to run a job.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct WaysView {
    /// Revision they are for.
    pub revision: u32,
    /// How far they are.
    pub state: SearchState,
    /// Finished share, 0 to 1.
    pub done: f64,
    /// All ways; those that are still being tried have neither figures nor a reason.
    pub ways: Vec<TriedWay>,
}

/// A way with what it comes to. Where trying it shows that it cannot be run, the way says so.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct TriedWay {
    /// The way.
    pub way: Way,
    /// What it comes to, once tried.
    pub figures: Option<WayFigures>,
}

/// Where a snag is.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct SnagFacets {
    /// Revision it is for.
    pub revision: u32,
    /// For each model, runs of facets: first number and how many.
    pub runs: Vec<Vec<[u32; 2]>>,
}

/// Measured rinses, to fit a melt zone to.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct AskCalibration {
    /// The rinses.
    pub rinses: Vec<Measured>,
    /// Whether the fit is to be kept with the job's printer, and with the maker's printer of that name.
    pub keep: bool,
}

/// How long this very job really took.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct KnownTime {
    /// The time, s.
    pub real_s: f64,
}

/// The beads of a layer, for one piece.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct BeadsView {
    /// Revision of the job.
    pub revision: u32,
    /// By slot.
    pub slots: Vec<SlotBeadsView>,
}

/// The beads of a slot in a layer.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct SlotBeadsView {
    /// From 1.
    pub slot: u8,
    /// All of them.
    pub beads: Vec<BeadView>,
}

/// One bead.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct BeadView {
    /// What for.
    pub kind: varichrom_core::paths::BeadKind,
    /// Whether it ends where it begins.
    pub is_closed: bool,
    /// x, y and width of each place, mm.
    pub line: Vec<[f64; 3]>,
}

/// The moves of a revision: how far they are, and what they come to.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct MovesView {
    /// Revision they are for.
    pub revision: u32,
    /// How far they are.
    pub state: SearchState,
    /// Finished share, 0 to 1.
    pub done: f64,
    /// In the order in which they are printed.
    pub files: Vec<MovesFile>,
    /// The strand from the nozzle on, slot and mm, for a machine that joins one.
    pub strand: Vec<(u8, f64)>,
    /// Runs of layers with something that hangs over nothing, the worst first.
    pub hanging: Vec<HangingRun>,
    /// What they come to, beside what was planned.
    pub figures: Vec<varichrom_core::handover::MovesFigure>,
    /// Why there are none.
    pub problem: Option<varichrom_core::Problem>,
}

/// A file for the printer.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct MovesFile {
    /// Its name.
    pub name: String,
    /// The slot it prints, where each has a file of its own.
    pub slot: Option<u8>,
    /// Size.
    pub bytes: usize,
    /// Things the machine is told.
    pub moves: usize,
    /// How long it takes, s.
    pub seconds: f64,
}

/// How a job is printed.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct PrintSettingsView {
    /// Revision of the job.
    pub revision: u32,
    /// In the order in which they are shown.
    pub settings: Vec<PrintSettingView>,
    /// Ready sets.
    pub sets: Vec<ReadySetView>,
}

/// One setting and its value.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct PrintSettingView {
    /// What it is.
    pub setting: varichrom_core::machine::PrintSetting,
    /// What it is set to.
    #[ts(type = "unknown")]
    #[schema(value_type = Object)]
    pub value: serde_json::Value,
    /// What the ready set has.
    #[ts(type = "unknown")]
    #[schema(value_type = Object)]
    pub usual: serde_json::Value,
}

/// A set of settings that is ready to print with.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct ReadySetView {
    /// What it is called.
    pub name: String,
    /// What it is for.
    pub does: String,
    /// Whether it is the one the job began with.
    pub is_own: bool,
    /// What it would change.
    pub changes: Vec<SetChange>,
    /// The printer with it.
    pub printer: varichrom_core::machine::Printer,
}

/// What a set changes in one setting.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct SetChange {
    /// What the setting is called.
    pub name: String,
    /// As it is.
    pub from: String,
    /// As it would be.
    pub to: String,
}

/// How a job is to be printed.
#[derive(Debug, Deserialize, TS, ToSchema)]
#[serde(tag = "set", rename_all = "kebab-case")]
pub(crate) enum SetPrinting {
    /// One setting.
    Value {
        /// Its field.
        field: String,
        /// Its value.
        #[ts(type = "unknown")]
        #[schema(value_type = Object)]
        value: serde_json::Value,
    },
    /// As a ready set has it.
    All {
        /// The printer with that set.
        printer: Box<varichrom_core::machine::Printer>,
    },
}

/// Layers one after the other of which something hangs.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct HangingRun {
    /// First layer, from 0.
    pub first: usize,
    /// Last layer.
    pub last: usize,
    /// Most that hangs on any of them, mm².
    pub most_mm2: f64,
}
