//! A simulated machine that runs a print file: where the nozzle is, what is in it, what has been laid, what goes wrong.
//!
//! It reads the file as a printer would and believes no comment. What it should be doing comes from the plan; what is in its places
//! may be something else. Time is simulated: a whole print passes in seconds, or as slowly as somebody wants to watch.

mod ground;
mod melt;
mod run;
mod setup;
mod stains;
mod told;
mod verdict;

pub use melt::Melt;
pub use run::Rehearsal;
pub use setup::{Held, Setup, Trouble, TroubleKind, Turn};
pub use told::{Answer, Happening, HowItWent, Standstill, Status};
pub use verdict::{Stain, Verdict};
