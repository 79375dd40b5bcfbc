//! Plans and layers.

use super::off_thread;
use crate::app::AppState;
use crate::error::ApiError;
use crate::wire::{LayerView, PlanView};
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;

/// The plan of the present revision, or how far it is.
#[utoipa::path(get, path = "/api/jobs/{id}/plan", responses((status = 200, body = PlanView), (status = 404)))]
pub(crate) async fn show(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<PlanView>, ApiError> {
    let workshop = app.workshop.clone();
    let session = off_thread(move || workshop.session(id)).await?;
    Ok(Json(session.plan_view(&app.workshop).await))
}

/// Stops the planning that is going on.
#[utoipa::path(post, path = "/api/jobs/{id}/plan/stop", responses((status = 204), (status = 404)))]
pub(crate) async fn stop(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, ApiError> {
    off_thread(move || {
        app.workshop.session(id)?.stop();
        Ok(StatusCode::NO_CONTENT)
    })
    .await
}

/// Sets the planning going again after a stop.
#[utoipa::path(post, path = "/api/jobs/{id}/plan/start", responses((status = 204), (status = 404)))]
pub(crate) async fn start(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, ApiError> {
    let workshop = app.workshop.clone();
    let session = off_thread(move || workshop.session(id)).await?;
    session.plan(&app.workshop);
    Ok(StatusCode::NO_CONTENT)
}

/// One layer's drawing; layers count from 0.
#[utoipa::path(get, path = "/api/jobs/{id}/layers/{layer}", responses((status = 200, body = LayerView), (status = 404), (status = 409)))]
pub(crate) async fn layer(
    State(app): State<AppState>,
    Path((id, layer)): Path<(i32, usize)>,
) -> Result<Json<LayerView>, ApiError> {
    off_thread(move || app.workshop.session(id)?.layer(layer))
        .await
        .map(Json)
}
