//! What happens to a job, as server-sent events: keeps several tabs in step and shows progress.

use super::off_thread;
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::Path;
use axum::extract::State;
use axum::response::sse::{Event, KeepAlive, Sse};
use futures_core::Stream;
use std::convert::Infallible;
use tokio::sync::broadcast::error::RecvError;

/// Most pages that are told of changes at a time.
const MOST_LISTENERS: usize = 1_000;

/// Events of one job, each a JSON `JobEvent`.
#[utoipa::path(get, path = "/api/jobs/{id}/events", responses((status = 200, content_type = "text/event-stream"), (status = 404), (status = 503)))]
pub(crate) async fn events(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, ApiError> {
    let workshop = app.workshop.clone();
    if workshop.listeners() >= MOST_LISTENERS {
        return Err(ApiError::TryAgain {
            why: "Too many pages are open",
            again_s: 30,
        });
    }
    // Not opened first: how far the opening is, is among what is told.
    let mut events = workshop.events();
    off_thread(move || workshop.check_known(id)).await?;
    let stream = async_stream::stream! {
        loop {
            match events.recv().await {
                Ok((of, event)) if of == id => {
                    if let Ok(event) = Event::default().json_data(&event) {
                        yield Ok(event);
                    }
                }
                Ok(_) => {}
                // A tab that fell behind is told by the next event anyway.
                Err(RecvError::Lagged(_)) => {}
                Err(RecvError::Closed) => break,
            }
        }
    };
    Ok(Sse::new(stream).keep_alive(KeepAlive::default()))
}
