//! Drawings and words laid on the models of a job.

use super::{off_thread, with_session};
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path};
use crate::wire::{AskFlat, FlatView, JobView, LayDrawing};
use axum::Json;
use axum::extract::State;

/// How a drawing or words come out flat.
#[utoipa::path(post, path = "/api/flat", request_body = AskFlat, responses((status = 200, body = FlatView), (status = 404), (status = 422)))]
pub(crate) async fn flat(
    State(app): State<AppState>,
    JsonBody(asked): JsonBody<AskFlat>,
) -> Result<Json<FlatView>, ApiError> {
    off_thread(move || app.workshop.flat_of(&asked.drawing))
        .await
        .map(Json)
}

/// Lays a drawing or words on the models of a job.
#[utoipa::path(post, path = "/api/jobs/{id}/lay", request_body = LayDrawing, responses((status = 200, body = JobView), (status = 404), (status = 422)))]
pub(crate) async fn lay(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(asked): JsonBody<LayDrawing>,
) -> Result<Json<JobView>, ApiError> {
    with_session(app, id, move |session, workshop| {
        workshop.lay(session, asked)?;
        session.view(workshop)
    })
    .await
}
