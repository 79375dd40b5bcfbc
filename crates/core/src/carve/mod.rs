//! Region labels with exact borders: facets that a border crosses are divided, and nothing else is.
//!
//! The mesh itself never changes. [`Labels`] keeps one label per facet and, for the facets that a border crosses, a
//! [`Divided`]: points on the facet's edges and inside it, triangles over them, and a label for each triangle. Facets
//! on both sides of an edge hold the same points on it, so mesh and divisions together stay conforming; points are
//! kept as shares of the facet's corners, so a model can be moved, turned and scaled with its borders.
//!
//! [`cut`] divides facets along the zero line of a scalar [`Field`], [`overlay`] along lines that are known on each facet.

mod cut;
mod divided;
mod field;
mod filling;
mod labels;
mod overlay;
mod patchwork;
mod pieces;
mod refine;
mod refined;
mod settle;
mod split;
mod thinned;

pub use cut::{Cutting, Paint, cut, painted};
pub use divided::{Divided, Spot};
pub use field::{Field, Values};
pub use labels::{Held, Label, Labels};
pub use overlay::{Coat, Lines, Node, Overlaying, overlay};
pub(crate) use pieces::shares_at;
pub use pieces::{NO_PIECE, Pieces};
pub use refined::{Refined, refined};
pub use settle::settled;

/// How far a border may lie from its true line, in mm.
pub const TOLERANCE_MM: f64 = 0.05;

/// No division makes a facet lower than this, in mm.
pub const LEAST_ALTITUDE_MM: f64 = 1e-4;
