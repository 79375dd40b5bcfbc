//! Pictures whose shades are stacked, and the wedge that tells how a spool hides.

use super::{Asking, off_thread};
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path};
use crate::services::read_wedge;
use crate::wire::{ReadWedge, StackedView, StagedView, WedgeView};
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use std::sync::atomic::Ordering;
use varichrom_core::drawing::Stacking;

/// How a picture would be stacked.
#[utoipa::path(post, path = "/api/staged/{id}/drawing/stack", request_body = Stacking, responses((status = 200, body = StackedView), (status = 404), (status = 422)))]
pub(crate) async fn stack(
    State(app): State<AppState>,
    Path(id): Path<u32>,
    JsonBody(stacking): JsonBody<Stacking>,
) -> Result<Json<StackedView>, ApiError> {
    let asking = Asking::default();
    let waits = asking.flag();
    off_thread(move || {
        let go_on = || waits.load(Ordering::Relaxed);
        app.workshop.stacked(id, &stacking, &go_on)
    })
    .await
    .map(Json)
}

/// Makes a model of a stacked picture, which a job can take like any other file.
#[utoipa::path(post, path = "/api/staged/{id}/drawing/stacked-model", request_body = Stacking, responses((status = 201, body = StagedView), (status = 404), (status = 422)))]
pub(crate) async fn model(
    State(app): State<AppState>,
    Path(id): Path<u32>,
    JsonBody(stacking): JsonBody<Stacking>,
) -> Result<(StatusCode, Json<StagedView>), ApiError> {
    let view = off_thread(move || app.workshop.model_of_stack(id, stacking)).await?;
    Ok((StatusCode::CREATED, Json(view)))
}

/// Makes a step wedge of two spools, the first below, which a job can take like any other file.
#[utoipa::path(post, path = "/api/wedge", request_body = Stacking, responses((status = 201, body = StagedView), (status = 422)))]
pub(crate) async fn wedge(
    State(app): State<AppState>,
    JsonBody(stacking): JsonBody<Stacking>,
) -> Result<(StatusCode, Json<StagedView>), ApiError> {
    let view = off_thread(move || app.workshop.wedge(&stacking)).await?;
    Ok((StatusCode::CREATED, Json(view)))
}

/// What the colours of a printed wedge say of its spool.
#[utoipa::path(post, path = "/api/wedge/read", request_body = ReadWedge, responses((status = 200, body = WedgeView), (status = 422)))]
pub(crate) async fn read(
    JsonBody(asked): JsonBody<ReadWedge>,
) -> Result<Json<WedgeView>, ApiError> {
    off_thread(move || Ok(read_wedge(&asked)?)).await.map(Json)
}
