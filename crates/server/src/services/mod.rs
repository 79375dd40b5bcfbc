//! Use cases: transaction borders and calls into the core; no HTTP types here.

mod bodies;
mod calibrating;
mod card;
mod colouring;
mod drawings;
mod editing;
mod importing;
mod laying;
mod load;
mod parts;
mod planning;
mod print_settings;
mod printing;
mod projects;
mod rack;
mod rehearsing;
mod releasing;
mod runs;
mod searches;
mod session;
mod sliced;
mod staging;
mod states;
mod steps;
mod trials;
mod turns;
mod views;
mod workshop;

pub(crate) use load::PrinterLine;
pub(crate) use printing::stem;
pub(crate) use rack::RackFormat;
pub(crate) use runs::media_of;
pub(crate) use session::Session;
pub use turns::Turns;
pub use workshop::Workshop;
