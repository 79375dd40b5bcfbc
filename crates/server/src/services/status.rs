//! How the server is: for the status page, for what watches it, and for those who keep it.

use super::upkeep::{budget, resident};
use super::workshop::Workshop;
use crate::error::ApiError;
use crate::store;
use serde::Serialize;
use ts_rs::TS;
use utoipa::ToSchema;

/// How the server is.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct StatusView {
    /// Version of the program, with the commit it was built from.
    pub version: String,
    /// Seconds since it was started.
    #[ts(type = "number")]
    pub up_s: u64,
    /// Jobs on the shelf.
    pub jobs: usize,
    /// Jobs that are open.
    pub open_jobs: usize,
    /// Plans, surveys and trials that go on.
    pub works: usize,
    /// Files that wait to be taken.
    pub waiting_files: usize,
    /// Their bytes.
    #[ts(type = "number")]
    pub waiting_bytes: u64,
    /// Pages that are told of changes.
    pub listeners: usize,
    /// Memory the process holds, bytes; none where it cannot be told.
    #[ts(type = "number | null")]
    pub memory_bytes: Option<u64>,
    /// Memory over which idle jobs are put aside, bytes.
    #[ts(type = "number | null")]
    pub memory_budget_bytes: Option<u64>,
    /// Whether the database answers.
    pub is_store_sound: bool,
}

impl Workshop {
    /// How the server is.
    pub(crate) fn status(&self, version: &str) -> Result<StatusView, ApiError> {
        let jobs = self
            .db
            .get()
            .map_err(ApiError::from)
            .and_then(|mut c| Ok(store::jobs::list(&mut c)?.len()));
        let (waiting_files, waiting_bytes) = self.staging.waiting();
        Ok(StatusView {
            version: version.into(),
            up_s: self.since.elapsed().as_secs(),
            is_store_sound: jobs.is_ok(),
            jobs: jobs.unwrap_or(0),
            open_jobs: self.open_jobs(),
            works: self.turns.going_on(),
            waiting_files,
            waiting_bytes,
            listeners: self.listeners(),
            memory_bytes: resident(),
            memory_budget_bytes: budget(),
        })
    }
}
