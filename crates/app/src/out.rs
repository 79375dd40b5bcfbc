//! Lines for who called the program. Whoever reads may have closed the pipe: then nobody wants the rest.

use std::fmt::Display;
use std::io::Write;

/// A line on standard output.
pub(crate) fn say(line: impl Display) {
    let _ = writeln!(std::io::stdout(), "{line}");
}

/// A line on standard error.
pub(crate) fn warn(line: impl Display) {
    let _ = writeln!(std::io::stderr(), "{line}");
}
