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
