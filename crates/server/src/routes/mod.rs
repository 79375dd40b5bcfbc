//! Calls: extract, ask one service, answer. No SQL and no geometry here.

mod card;
mod colouring;
mod document;
mod drawings;
mod events;
mod exports;
mod jobs;
mod laying;
mod load;
mod meshes;
mod parts;
mod plans;
mod rack;
mod rehearsal;
mod release;
mod runs;
mod sending;
mod sliced;
mod stacking;
mod staged;
mod status;
mod table;

pub(crate) use document::completed;
pub(crate) use table::calls;

use crate::app::AppState;
use crate::error::ApiError;
use crate::services::{Session, Workshop};
use axum::Json;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

/// Runs blocking work off the async threads.
async fn off_thread<T: Send + 'static>(
    work: impl FnOnce() -> Result<T, ApiError> + Send + 'static,
) -> Result<T, ApiError> {
    tokio::task::spawn_blocking(work)
        .await
        .unwrap_or_else(|e| Err(ApiError::Internal(format!("a worker stopped: {e}"))))
}

/// Asks the session of a job, off the async threads, and answers what it says.
async fn with_session<T: Send + 'static>(
    app: AppState,
    id: i32,
    ask: impl FnOnce(&Arc<Session>, &Arc<Workshop>) -> Result<T, ApiError> + Send + 'static,
) -> Result<Json<T>, ApiError> {
    let asked = off_thread(move || {
        let session = app.workshop.session(id)?;
        ask(&session, &app.workshop)
    });
    asked.await.map(Json)
}

/// A question that somebody waits for: dropped with the call, also when the browser hangs up.
struct Asking(Arc<AtomicBool>);

impl Default for Asking {
    fn default() -> Asking {
        Asking(Arc::new(AtomicBool::new(true)))
    }
}

impl Asking {
    /// True as long as somebody waits.
    fn flag(&self) -> Arc<AtomicBool> {
        self.0.clone()
    }
}

impl Drop for Asking {
    fn drop(&mut self) {
        self.0.store(false, Ordering::Relaxed);
    }
}
