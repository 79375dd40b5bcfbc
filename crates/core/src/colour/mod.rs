//! Colours as sRGB bytes, their difference as people see it, and how pigments mix.

mod grey;
mod hex;
mod hiding;
mod mixing;
mod mixture;

pub use grey::{grey_of, greys};
pub use hex::{Colour, ColourError, difference};
pub use hiding::Hiding;
pub use mixing::{Pigment, blend, mix};
pub use mixture::{Mixture, nearest_mixture, shares_with};
