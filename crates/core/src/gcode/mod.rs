//! Steps as words for a machine, after ISO 6983 and RS-274, with the M-codes that open firmware documents; docs/print-files.md says
//! what is written, word by word. And the way back: files of anybody's as steps, judged and put right.

mod arcs;
mod reader;
mod rewrite;
mod scan;
mod sliced;
mod standing;
mod summary;
mod words;
mod written;

pub use reader::{Line, Modes, Reader, Told, read};
pub use rewrite::{
    Difference, Rewritten, StrandLength, Wanted, difference_text, joined, rest_of, rewritten,
};
pub use sliced::{Sliced, sliced};
pub use standing::Standing;
pub use summary::{
    Summary, SummaryChange, SummaryLayer, SummaryPause, SummaryTool, purge_place, summary,
};
pub use words::{Dialect, plain, words};
pub use written::{Allowed, MELTS_C, check_written};
