//! What is known of prints afterwards.

use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;
use utoipa::ToSchema;

/// Notes a run of a job as printed.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct NotePrinted {
    /// One more than the runs that were seen: so nothing is taken off twice.
    pub run: u32,
    /// What it really took of a spool, by its id, g; the plan's figure where nothing is said.
    #[serde(default)]
    #[ts(optional, type = "Record<string, number>")]
    pub grams: BTreeMap<String, f64>,
    /// How long it took, and how it went.
    #[serde(default)]
    #[ts(optional, as = "Option<_>")]
    pub about: AboutRun,
}

/// How a print went.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, TS, ToSchema)]
#[serde(default, deny_unknown_fields)]
pub(crate) struct AboutRun {
    /// How long it took, s.
    pub took_s: Option<f64>,
    /// In words.
    pub note: String,
}

/// A print that was noted.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct RunView {
    /// Which time, from 1.
    pub run: u32,
    /// When it was noted, seconds since 1970.
    #[ts(type = "number")]
    pub printed_at_s: i64,
    /// Revision of the job that was printed.
    pub revision: u32,
    /// How long it was planned to take, s.
    pub planned_s: Option<f64>,
    /// How it went.
    pub about: AboutRun,
    /// What it took off all spools, g.
    pub grams: f64,
    /// Whether there is a photo.
    pub has_photo: bool,
}
