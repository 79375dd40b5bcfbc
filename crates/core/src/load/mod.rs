//! What is wanted against what is there: spools, grams, plastics, and what the printer says is loaded.

mod checks;
mod needs;
mod pairs;
mod report;
mod use_loaded;

pub use checks::{Level, LoadCheck, LoadMend, checks};
pub use needs::{SpoolNeed, spool_needs};
pub use report::{PrinterReport, ReportedPlace, ReportedSpool};
pub use use_loaded::use_loaded;
