//! The one shape in which anything is refused: what is wrong, where, and what to do.

use serde::{Deserialize, Serialize};

/// What sort of refusal it is, for programs that act on it: a server's answer, or work that is to be given up.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub enum ProblemSort {
    /// What was asked for cannot be done.
    #[default]
    Refused,
    /// Somebody stopped it.
    Stopped,
    /// It is more than is taken in.
    TooLarge,
    /// What it was asked of has changed, or is not there yet.
    Outdated,
}

/// A refusal that a maker can act on. Sent as JSON by the server and printed by the command line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Problem {
    /// Stable code for programs, such as `stl-truncated`.
    pub code: String,
    /// What is wrong, in one plain sentence.
    pub message: String,
    /// Where: a byte, a line, an edit, a field. `None` when it concerns the whole.
    #[serde(rename = "where")]
    #[cfg_attr(feature = "wire", ts(rename = "where"))]
    pub place: Option<String>,
    /// What to do about it.
    pub mend: String,
    /// What sort of refusal it is; not written.
    #[serde(skip)]
    pub sort: ProblemSort,
}

impl Problem {
    /// A problem from its four parts; an empty `place` means none.
    pub fn new(
        code: &str,
        message: impl Into<String>,
        place: impl Into<String>,
        mend: impl Into<String>,
    ) -> Self {
        let place = place.into();
        Problem {
            code: code.into(),
            message: message.into(),
            place: (!place.is_empty()).then_some(place),
            mend: mend.into(),
            sort: ProblemSort::Refused,
        }
    }

    /// What is said of work that was stopped.
    pub fn stopped(message: impl Into<String>, mend: impl Into<String>) -> Self {
        Problem::new("stopped", message, "", mend).of(ProblemSort::Stopped)
    }

    /// The same of another sort.
    #[must_use]
    pub fn of(self, sort: ProblemSort) -> Self {
        Problem { sort, ..self }
    }

    /// Whether somebody stopped it.
    pub fn is_stopped(&self) -> bool {
        self.sort == ProblemSort::Stopped
    }
}

impl std::fmt::Display for Problem {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{}", self.message)?;
        if let Some(place) = &self.place {
            write!(f, " ({place})")?;
        }
        write!(f, ". {}", self.mend)
    }
}

impl std::error::Error for Problem {}

/// A number that somebody typed, as a sentence holds it: up to six decimals and no noise of arithmetic behind them, and a
/// power of ten where digits would run across the screen.
pub fn figure(value: f64) -> String {
    const WIDEST: f64 = 1e9;
    const SMALLEST: f64 = 1e-6;
    let size = value.abs();
    if size >= WIDEST || (size > 0.0 && size < SMALLEST) {
        return format!("{value:.1e}");
    }
    // Adding nothing takes the sign off a nought.
    format!("{}", (1e6 * value).round() / 1e6 + 0.0)
}

/// A number with its word, in the plural unless it is one: `1 swap`, `2 swaps`.
pub fn counted(count: usize, word: &str) -> String {
    format!("{count} {word}{}", if count == 1 { "" } else { "s" })
}
