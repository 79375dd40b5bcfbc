//! Use cases: transaction borders and calls into the core; no HTTP types here.

mod card;
mod colouring;
mod importing;
mod parts;
mod planning;
mod session;
mod staging;
mod views;
mod workshop;

pub use workshop::Workshop;
