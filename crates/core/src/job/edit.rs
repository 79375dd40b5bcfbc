//! The edits: everything that changes a job.

use crate::colour::Colour;
use crate::machine::Printer;
use crate::regions::Place;
use serde::{Deserialize, Serialize};

/// One change of a job. Surface is named by position, never by facet number, so edits replay on a revised mesh.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "edit", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub enum Edit {
    /// Brings a model in.
    OpenModel {
        /// Name of the model in this job, unique.
        model: String,
        /// File it came from.
        file: String,
        /// Where its bytes are kept: a content hash in the store, or a file beside a recipe.
        content: String,
    },
    /// Renames the job.
    RenameJob {
        /// The new name.
        name: String,
    },
    /// Renames the part at a place.
    RenamePart {
        /// Anywhere on the part.
        at: Place,
        /// The new name.
        name: String,
    },
    /// Adds a colour region.
    AddRegion {
        /// Key by which other edits name it, unique and lasting.
        region: String,
        /// What the maker calls it.
        name: String,
        /// The colour wanted.
        colour: Colour,
        /// Slot it prints from, counted from 1. Left out: the first slot no region uses, if there is one.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        slot: Option<u8>,
    },
    /// Renames a region.
    RenameRegion {
        /// Which.
        region: String,
        /// The new name.
        name: String,
    },
    /// Changes the colour wanted for a region.
    RecolourRegion {
        /// Which.
        region: String,
        /// The new colour.
        colour: Colour,
    },
    /// Deletes a region; its surface goes back to each part's own region.
    DeleteRegion {
        /// Which.
        region: String,
    },
    /// Sets how far a region's colour goes in below the surface.
    SetSoak {
        /// Which.
        region: String,
        /// Depth in mm.
        soak_mm: f64,
    },
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
    /// Gives the patch at a place to a region.
    GivePatch {
        /// Which region.
        region: String,
        /// Anywhere on the patch.
        at: Place,
        /// Crease angle in degrees, 1 to 90.
        crease_deg: f64,
    },
    /// Gives the whole part at a place to a region, which becomes the part's own.
    GivePart {
        /// Which region.
        region: String,
        /// Anywhere on the part.
        at: Place,
    },
    /// Chooses or changes the printer.
    SetPrinter {
        /// The printer with its settings.
        printer: Printer,
    },
}
