//! Files on their way in are held in memory until they are whole: only so many bytes of them at a time.

use crate::error::ApiError;
use axum::body::{Body, Bytes};
use http_body_util::{BodyExt, LengthLimitError, Limited};
use hyper::body::Body as _;
use std::sync::Arc;
use std::time::Duration;
use tokio::sync::Semaphore;
use varichrom_core::{Problem, ProblemSort};

/// Room is counted in these, bytes.
const UNIT: usize = 64 * 1024;
/// Longest wait for room.
const WAIT: Duration = Duration::from_secs(20);

/// Room for files that are on their way in.
#[derive(Clone)]
pub(crate) struct Uploads {
    room: Arc<Semaphore>,
    /// All there is.
    units: usize,
    /// Largest file, bytes.
    largest: usize,
}

impl Uploads {
    /// Room for two of the largest files.
    pub(crate) fn new(largest: usize) -> Uploads {
        let units = 2 * largest.div_ceil(UNIT) + 1;
        Uploads {
            room: Arc::new(Semaphore::new(units)),
            units,
            largest,
        }
    }

    /// The whole model, project or print file.
    ///
    /// # Errors
    /// As [`Self::read_at_most`].
    pub(crate) async fn read(&self, body: Body) -> Result<Bytes, ApiError> {
        self.read_at_most(body, self.largest).await
    }

    /// The whole file. One that does not say how large it is takes the room of the largest.
    ///
    /// # Errors
    /// If it is too large, does not arrive whole, or there is no room for it for too long.
    pub(crate) async fn read_at_most(&self, body: Body, largest: usize) -> Result<Bytes, ApiError> {
        let said = body
            .size_hint()
            .upper()
            .and_then(|n| usize::try_from(n).ok());
        if said.is_some_and(|n| n > largest) {
            return Err(too_large(largest));
        }
        let units = said.unwrap_or(largest).div_ceil(UNIT).max(1);
        let units = u32::try_from(units.min(self.units)).unwrap_or(u32::MAX);
        let room = tokio::time::timeout(WAIT, self.room.acquire_many(units)).await;
        let Ok(Ok(_room)) = room else {
            return Err(ApiError::TryAgain {
                why: "Many files are on their way in",
                again_s: WAIT.as_secs(),
            });
        };
        match Limited::new(body, largest).collect().await {
            Ok(whole) => Ok(whole.to_bytes()),
            Err(e) if e.is::<LengthLimitError>() => Err(too_large(largest)),
            Err(_) => {
                let message = "The file did not arrive whole";
                Err(Problem::new("upload-broken", message, "", "Drop it again.").into())
            }
        }
    }
}

fn too_large(largest: usize) -> ApiError {
    Problem::new(
        "file-too-large",
        format!("The file is larger than {} MiB", largest / (1024 * 1024)),
        "",
        "Simplify the mesh, or start Varichrom with a larger --max-file.",
    )
    .of(ProblemSort::TooLarge)
    .into()
}
