//! Colours as sRGB bytes, their difference as people see it, and how pigments mix.

mod hex;
mod hiding;
mod mixing;

pub use hex::{Colour, ColourError, difference};
pub use hiding::Hiding;
pub use mixing::{Pigment, mix};
