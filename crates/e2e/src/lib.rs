//! What the browser tests and the pictures share: the real binary on a port of its own, and a real browser.

mod app;
mod bench;
mod browser;
mod desk;
mod gestures;
mod stand_in;

pub use app::{App, binary};
pub use bench::{BenchJob, MIDDLE, choose, choose_from, click, look_from, tool, type_into};
pub use browser::Browser;
pub use desk::Desk;
pub use gestures::{chord, drag, draw, hold, hover, let_go, press, wait_for, wait_for_text};
pub use stand_in::StandIn;
