//! What travels for the Colour stage besides the job: previews, strays, steps, palettes, the desk.

use serde::{Deserialize, Serialize};
use ts_rs::TS;
use utoipa::ToSchema;
use varichrom_core::colour::Colour;
use varichrom_core::job::Step;
use varichrom_core::regions::Stray;

/// What an edit would take.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct PreviewView {
    /// Its area, mm².
    pub area_mm2: f64,
    /// Parts or patches it takes.
    pub count: usize,
    /// Pieces it takes.
    pub pieces: usize,
    /// For each model, runs of pieces: first number and how many. Numbers below the count of facets are whole facets;
    /// from there on they count triangles of divided facets in the order of `divisions`.
    pub runs: Vec<Vec<[u32; 2]>>,
    /// For bands: their heights above the bed as they will be cut, mm.
    pub bands: Vec<[f64; 2]>,
}

/// A stray with the model it is on.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct StrayView {
    /// Name of the model.
    pub model: String,
    /// The stray.
    pub stray: Stray,
}

/// A job's edits in plain words.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct StepsView {
    /// Revision it is for.
    pub revision: u32,
    /// Steps that opened the job and are never undone.
    pub floor: usize,
    /// All steps, in order.
    pub steps: Vec<Step>,
}

/// Which step to stand at.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct Stand {
    /// How many steps are applied afterwards.
    pub at: usize,
}

/// How a replay came out.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct Replayed {
    /// Edits that were applied.
    pub applied: usize,
    /// Those that found no place here, each with the reason.
    pub left_out: Vec<LeftOut>,
}

/// An edit that a replay left out.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct LeftOut {
    /// Number in the recipe, from 1.
    pub number: usize,
    /// What it was.
    pub what: String,
    /// Why it was left out.
    pub why: varichrom_core::Problem,
}

/// Colours kept for other jobs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct Palette {
    /// What the maker calls it, unique.
    pub name: String,
    /// Its colours.
    pub colours: Vec<NamedColour>,
}

/// A colour with what it is for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct NamedColour {
    /// Name.
    pub name: String,
    /// Colour.
    pub colour: Colour,
    /// Of a mixture, the share of each feed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub shares: Option<Vec<f64>>,
}

/// All palettes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct Palettes {
    /// In the maker's order.
    pub palettes: Vec<Palette>,
}

/// What lies beside a job's bench and is no part of the job.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct Desk {
    /// A view that was kept.
    pub view: Option<KeptView>,
    /// A picture to take colours from.
    pub picture: Option<Picture>,
    /// Places of the machine that were checked at it, each as its number, a blank and the id of the spool.
    #[serde(default)]
    pub ticked: Vec<String>,
}

/// A view of the bench.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct KeptView {
    /// Where the eye is, mm.
    pub eye: [f64; 3],
    /// What it looks at, mm.
    pub target: [f64; 3],
}

/// A pinned picture.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct Picture {
    /// Name of its file.
    pub name: String,
    /// The picture as a data URL.
    pub data: String,
}
