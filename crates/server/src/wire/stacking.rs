//! Pictures whose shades are stacked, and the wedge that tells how a spool hides.

use serde::{Deserialize, Serialize};
use ts_rs::TS;
use utoipa::ToSchema;
use varichrom_core::colour::Colour;
use varichrom_core::drawing::WedgeStep;

/// A picture as it would be stacked.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct StackedView {
    /// The spools from the bed up.
    pub(crate) spools: Vec<StackedSpool>,
    /// The tones, from the lowest up.
    pub(crate) tones: Vec<StackedTone>,
    /// Times that another spool is put in.
    pub(crate) swaps: usize,
    /// Height of all of it, mm.
    pub(crate) height_mm: f64,
    /// Width and height of the picture, mm.
    pub(crate) size_mm: [f64; 2],
    /// Mean CIEDE2000 difference of what is predicted to the picture.
    pub(crate) mean_difference: f64,
    /// Columns and rows of the two small pictures.
    pub(crate) preview: [usize; 2],
    /// The picture, row by row from the top, six letters a pixel: red, green and blue in sixteens.
    pub(crate) wanted: String,
    /// What is predicted, the same way.
    pub(crate) predicted: String,
}

/// A spool in a stack.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct StackedSpool {
    /// What it is called.
    pub(crate) name: String,
    /// Its colour.
    pub(crate) colour: Colour,
    /// Its first and last layer, from 1.
    pub(crate) layers: [u32; 2],
    /// Bottom and top, mm.
    pub(crate) span_mm: [f64; 2],
}

/// A height at which places end.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct StackedTone {
    /// Layers from the bed up.
    pub(crate) layers: u32,
    /// What it looks like.
    pub(crate) colour: Colour,
    /// Where, mm².
    pub(crate) area_mm2: f64,
}

/// A wedge as it was read off the print.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct ReadWedge {
    /// Colour of the spool where it is thick.
    pub(crate) colour: Colour,
    /// Height of its layers, mm.
    pub(crate) layer_mm: f64,
    /// The steps, the bare base among them.
    pub(crate) steps: Vec<WedgeStep>,
}

/// What a wedge says.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct WedgeView {
    /// How well the spool hides: luminance of 1 mm on black as a share of that on white.
    pub(crate) opacity: f64,
    /// Mean CIEDE2000 difference of the steps to what this makes of them.
    pub(crate) mean_difference: f64,
}
