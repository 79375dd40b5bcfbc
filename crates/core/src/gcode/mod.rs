//! Steps as words for a machine, after ISO 6983 and RS-274, with the M-codes that open firmware documents; docs/print-files.md says
//! what is written, word by word.

mod reader;
mod summary;
mod words;
mod written;

pub use reader::{Line, Told, read};
pub use summary::{Summary, SummaryChange, SummaryLayer, SummaryPause, SummaryTool, summary};
pub use words::{Dialect, words};
pub use written::{Allowed, Standing, check_written};
