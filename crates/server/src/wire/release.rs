//! What stands before a print: checks, ticks, and a second person's word.

use serde::{Deserialize, Serialize};
use ts_rs::TS;
use utoipa::ToSchema;
use varichrom_core::handover::ReleaseCheck;

/// Something said of a job before it is printed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, TS, ToSchema)]
#[serde(tag = "do", rename_all = "kebab-case", deny_unknown_fields)]
pub(crate) enum Said {
    /// Somebody is asked to look at it.
    Ask {
        /// Who asks.
        by: String,
        /// Who is asked; none for anybody.
        of: Option<String>,
    },
    /// It may be printed.
    Release {
        /// Who says so.
        by: String,
    },
    /// It may not, yet.
    SendBack {
        /// Who says so.
        by: String,
        /// Why.
        note: String,
        /// Where.
        #[serde(default)]
        at: Option<NotedPlace>,
    },
    /// What was asked or released is taken back.
    TakeBack {
        /// Who does.
        by: String,
    },
    /// Something to be done by hand was done, or was not.
    Tick {
        /// Who did it.
        by: String,
        /// What: `code` of a thing to be done.
        code: String,
        /// Whether it is done.
        is_done: bool,
    },
}

/// A place of the print.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct NotedPlace {
    /// Layer, from 0.
    pub layer: usize,
    /// Where in it, in the print's frame, mm; none for all of it.
    #[serde(default)]
    #[ts(optional = nullable)]
    pub at_mm: Option<[f64; 2]>,
}

/// What was said, of which revision, and when.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct Look {
    /// Of the job.
    pub revision: u32,
    /// Seconds since 1970.
    #[ts(type = "number")]
    pub at_s: i64,
    /// What.
    pub said: Said,
}

/// How far the release of a job is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, TS, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum ReleaseState {
    /// Nobody was asked.
    Open,
    /// Somebody is to look.
    Asked,
    /// It may be printed.
    Released,
    /// It was sent back.
    SentBack,
    /// It was released, and has changed since.
    Void,
}

/// What stands before the print of a job.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct ReleaseView {
    /// Revision that it is of.
    pub revision: u32,
    /// What was looked at, the worst first.
    pub checks: Vec<ReleaseCheck>,
    /// Things to be done by hand, in order.
    pub care: Vec<CareView>,
    /// How far it is.
    pub state: ReleaseState,
    /// What that state comes from.
    pub look: Option<Look>,
    /// All that was said, the newest first; ticks are left out.
    pub looks: Vec<Look>,
    /// Who works here.
    pub people: Vec<String>,
}

/// A thing to be done by hand.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct CareView {
    /// Its kind, lasting.
    pub code: String,
    /// What to do.
    pub words: String,
    /// Who did it, and when, for this revision.
    pub done: Option<Look>,
}

/// Who works here.
#[derive(Debug, Clone, Serialize, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct People {
    /// Names.
    pub names: Vec<String>,
}

/// A job that waits to be looked at.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct WaitingJob {
    /// The job.
    pub id: i32,
    /// Its name.
    pub name: String,
    /// Who asked, whom, and when.
    pub look: Look,
}
