//! What travels while files come in and are looked over.

use serde::{Deserialize, Serialize};
use ts_rs::TS;
use utoipa::ToSchema;
use varichrom_core::mesh::Defect;
use varichrom_core::model::MendReport;

/// A file on its way in.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct StagedView {
    /// Number to name it by.
    pub(crate) id: u32,
    /// Its name.
    pub(crate) file: String,
    /// How far it is.
    pub(crate) state: StagedState,
}

/// How far a file is.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
#[serde(tag = "state", rename_all = "kebab-case")]
pub(crate) enum StagedState {
    /// Being opened.
    Opening {
        /// Finished share, 0 to 1.
        done: f64,
    },
    /// It belongs beside another file, as a material file does.
    Beside,
    /// A drawing or a picture, of which bodies are still to be made.
    Drawing,
    /// It cannot be used.
    Refused {
        /// Why.
        problem: varichrom_core::Problem,
    },
    /// Open.
    Ready {
        /// Format by content.
        format: String,
        /// Size in mm, as far as the units are known.
        size_mm: [f64; 3],
        /// Facets.
        facets: usize,
        /// Parts.
        parts: usize,
        /// Whether it brings colours.
        has_colours: bool,
        /// Its outline seen a little from above, in the coordinates that files of a set share: a convex polygon,
        /// x to the right, y up.
        outline: Vec<[f64; 2]>,
    },
}

/// How files that come together stand to each other.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, TS, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum Arrangement {
    /// In the coordinates they share.
    Together,
    /// Side by side on the bed.
    Apart,
    /// A job for each.
    Each,
}

/// Staged files to make a job of.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
pub(crate) struct Assemble {
    /// Their numbers, in order.
    pub(crate) staged: Vec<u32>,
    /// How they stand.
    pub(crate) arrangement: Arrangement,
}

/// Staged files to add to a job.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
pub(crate) struct AddModels {
    /// Their numbers, in order.
    pub(crate) staged: Vec<u32>,
    /// How they stand; a job for each is not possible here and means as they are.
    pub(crate) arrangement: Arrangement,
}

/// A staged file to replace a model by.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
pub(crate) struct ReviseModel {
    /// Its number.
    pub(crate) staged: u32,
}

/// What a mending would do.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct MendPreview {
    /// What would be done.
    pub(crate) report: MendReport,
    /// Facets afterwards.
    pub(crate) facets: usize,
    /// Parts afterwards.
    pub(crate) parts: usize,
    /// Whether every part would be closed.
    pub(crate) closed: bool,
    /// What would still be wrong.
    pub(crate) defects: Vec<Defect>,
}
