//! What is wanted against what is there: spools, grams, plastics, and what the printer says is loaded.

mod answers;
mod check;
mod checks;
mod jetting;
mod needs;
mod pairs;
mod report;
mod use_loaded;

pub use check::{Level, LoadCheck, LoadMend};
pub use checks::checks;
pub use needs::{SpoolNeed, spool_needs};
pub use report::{PrinterReport, ReportedPlace, ReportedSpool};
pub use use_loaded::use_loaded;
