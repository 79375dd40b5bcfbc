//! Use cases: transaction borders and calls into the core; no HTTP types here.

mod importing;
mod planning;
mod session;
mod views;
mod workshop;

pub use workshop::Workshop;
