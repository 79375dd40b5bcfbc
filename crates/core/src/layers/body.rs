//! What is printed, and what of a printer shapes its layers.

use crate::model::OpenMesh;
use std::sync::Arc;

/// One part to be printed. Bodies are given highest first: where two overlap, the earlier one wins.
#[derive(Clone)]
pub struct Body {
    /// Number of the model in its job, for whoever asks where the body came from.
    pub model: usize,
    /// The mesh it belongs to.
    pub open: Arc<OpenMesh>,
    /// Which of its parts.
    pub part: u32,
    /// From the mesh's frame to the print's, in mm.
    pub shift: [f64; 3],
}

impl Body {
    /// Lowest and highest place of a facet, in the print's frame.
    pub(super) fn heights_of(&self, facet: u32) -> [f64; 2] {
        let z = self.open.mesh.corners(facet).map(|c| c[2] + self.shift[2]);
        [z[0].min(z[1]).min(z[2]), z[0].max(z[1]).max(z[2])]
    }
}

impl PartialEq for Body {
    /// The same part of the very same mesh at the same place, whatever number its model has.
    fn eq(&self, other: &Body) -> bool {
        Arc::ptr_eq(&self.open, &other.open) && self.part == other.part && self.shift == other.shift
    }
}

/// What of a printer's settings shapes the layers.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Settings {
    /// First layer height, mm.
    pub first_layer_mm: f64,
    /// Height of the others, mm.
    pub layer_mm: f64,
    /// Width of a line, mm.
    pub line_width_mm: f64,
    /// Lines around every outline.
    pub walls: u32,
    /// Lines along either side of borders between slots.
    pub border_walls: u32,
    /// Solid layers below upward faces.
    pub top_skins: u32,
    /// Solid layers above downward faces.
    pub bottom_skins: u32,
}

/// What a survey is of.
#[derive(Clone, PartialEq)]
pub struct Shape {
    /// What is printed, highest rank first.
    pub bodies: Vec<Body>,
    /// What of the printer shapes the layers.
    pub settings: Settings,
    /// How deep below the surface regions may reach, mm.
    pub reach_mm: f64,
}
