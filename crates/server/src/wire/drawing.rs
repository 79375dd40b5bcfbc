//! Drawings between file and bodies.

use serde::Serialize;
use ts_rs::TS;
use utoipa::ToSchema;
use varichrom_core::colour::Colour;
use varichrom_core::drawing::{DrawingOptions, Flatwork, Stacking};

/// A drawing as it was read.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct DrawingView {
    /// Name of its file.
    pub(crate) file: String,
    /// Whether it is a picture of pixels.
    pub(crate) is_picture: bool,
    /// Width and height of the page, mm.
    pub(crate) size_mm: [f64; 2],
    /// Its colours, the largest first.
    pub(crate) inks: Vec<InkView>,
    /// What was left out or taken otherwise than it was meant.
    pub(crate) notes: Vec<NoteView>,
    /// How it was read.
    pub(crate) options: DrawingOptions,
    /// What becomes of it, as it was said last, or as is usual.
    pub(crate) work: Flatwork,
    /// How its shades are stacked instead, if it is a picture of which that was said.
    pub(crate) stacking: Option<Stacking>,
}

/// A colour of a drawing.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct InkView {
    /// What it is called.
    pub(crate) name: String,
    /// The colour.
    pub(crate) colour: Colour,
    /// Where it is, mm².
    pub(crate) area_mm2: f64,
    /// How many pieces that do not hang together.
    pub(crate) pieces: usize,
}

/// What a maker should know of how a drawing was read.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct NoteView {
    /// In a plain sentence.
    pub(crate) message: String,
    /// What can be done.
    pub(crate) mend: String,
}

/// The bodies that a drawing would become.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct DrawnBodies {
    /// In the order of the colours, plates last.
    pub(crate) bodies: Vec<DrawnBody>,
    /// Low and high corner of all of them, seen from above as the drawing is seen, mm.
    pub(crate) bounds_mm: [[f64; 2]; 2],
    /// How high all of it is, mm.
    pub(crate) height_mm: f64,
    /// Facets of all of them.
    pub(crate) facets: usize,
    /// Where the drawing is thinner than a line, the most of it first.
    pub(crate) thin: Vec<ThinView>,
    /// How wide a line is here, mm.
    pub(crate) line_mm: f64,
}

/// A body that a drawing would become.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct DrawnBody {
    /// What it is called.
    pub(crate) name: String,
    /// Its colour.
    pub(crate) colour: Colour,
    /// What it covers, mm².
    pub(crate) area_mm2: f64,
    /// What it holds, mm³.
    pub(crate) volume_mm3: f64,
    /// Bottom and top, mm.
    pub(crate) span_mm: [f64; 2],
    /// Its outline as path data, mm, y up, as the drawing is seen.
    pub(crate) path: String,
    /// Where a cut through the middle of the drawing meets it, from to, mm, as the drawing is seen.
    pub(crate) cut: Vec<[f64; 2]>,
}

/// A place that is too thin.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct ThinView {
    /// Number of its colour, from 0.
    pub(crate) ink: usize,
    /// Where, mm, y up.
    pub(crate) at: [f64; 2],
    /// How wide it is there, mm.
    pub(crate) width_mm: f64,
}
