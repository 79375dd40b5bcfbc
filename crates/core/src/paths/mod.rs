//! From layers as shapes to what a machine does: beads, their order, travel, changes of filament, and how long it all takes.
//!
//! Data flows in one line: [`crate::layers::faces`] → [`beads`] → [`Asked::scripts`] → [`pace`] and words
//! for the machine. Volume is the master: a bead of width w and length l on a layer of height h is w·l·h of plastic, and what
//! is planned, drawn, timed and written all comes from the same steps.

mod bead;
mod bridge;
mod edges;
mod fill;
mod gyroid;
mod layer;
mod machines;
mod nozzle;
mod pace;
mod pool;
mod route;
mod rows;
mod safety;
mod script;
mod stack;
mod steps;
mod support;
mod tower;
mod walls;
mod ways;
mod writer;
mod zones;

pub use bead::{Bead, BeadKind, Joint};
pub use layer::SlotBeads;
pub use pace::{Pace, pace};
pub use safety::check_scripts;
pub use script::{Asked, PrintScript, SlotWords};
pub use stack::{LayerBeads, beads, beads_of_layer};
pub use steps::Step;
