//! How the server is.

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
    #[ts(type = "number")]
    pub jobs: i64,
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
