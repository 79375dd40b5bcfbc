//! How the server is: for the status page, for what watches it, and for those who keep it.

use super::upkeep::{budget, resident};
use super::workshop::Workshop;
use crate::error::ApiError;
use crate::store;
use crate::wire::StatusView;

impl Workshop {
    /// How the server is.
    pub(crate) fn status(&self, version: &str) -> Result<StatusView, ApiError> {
        let jobs = self
            .db
            .get()
            .map_err(ApiError::from)
            .and_then(|mut c| Ok(store::jobs::count_all(&mut c)?));
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
