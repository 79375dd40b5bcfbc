//! What a printer that was sent a file says of it.

use serde::{Deserialize, Serialize};
use ts_rs::TS;
use utoipa::ToSchema;

/// Which file is sent.
#[derive(Debug, Clone, Copy, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct SendPrint {
    /// Of the plan's print files, from 0, in the order in which they are printed.
    #[serde(default)]
    pub file: usize,
    /// Instead, a print file from elsewhere that is kept with the job.
    #[serde(default)]
    #[ts(optional)]
    pub kept: Option<i32>,
}

/// How a printer is with what it was sent. What it says besides is not looked at.
#[derive(Debug, Clone, Serialize, Deserialize, TS, ToSchema)]
pub(crate) struct SentView {
    /// What it calls what it prints.
    pub name: String,
    /// How it is: `running`, `waits`, `done`, `stopped` or `dead`.
    pub is: String,
    /// What it asks for, where it waits.
    #[serde(default)]
    pub words: Option<String>,
    /// Time that has passed, s.
    pub passed_s: f64,
    /// Time that all of it takes, s.
    pub whole_s: f64,
    /// Layer at hand, from 0.
    pub layer: u32,
}
