//! Flat shapes on one lattice of 10⁻⁵ mm: unions, differences, offsets, lines cut to an area, middle lines of what is thin.
//!
//! Places are whole numbers, so that equal corners stay equal whatever is done to them; booleans and offsets are those of
//! `i_overlay`, middle lines those of `boostvoronoi`.

mod area;
mod lattice;
mod lines;
mod middle;
mod simplify;

pub use area::{Area, Winding};
pub use lattice::{LATTICE_MM, Ring, place, ring, spot};
pub use lines::{Line, Polyline, clip_lines};
pub use middle::{MiddleLine, middle_lines};
pub use simplify::{simplified, simplified_line};
