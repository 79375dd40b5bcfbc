//! Drawings between file and bodies.

use super::off_thread;
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path, Query};
use crate::wire::{DrawingView, DrawnBodies, StagedView};
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use serde::Deserialize;
use varichrom_core::drawing::{DrawingOptions, Flatwork};

/// A drawing that was sent in.
#[utoipa::path(get, path = "/api/staged/{id}/drawing", responses((status = 200, body = DrawingView), (status = 404), (status = 422)))]
pub(crate) async fn show(
    State(app): State<AppState>,
    Path(id): Path<u32>,
) -> Result<Json<DrawingView>, ApiError> {
    off_thread(move || app.workshop.drawing(id)).await.map(Json)
}

/// Reads it anew: another size, other colours.
#[utoipa::path(put, path = "/api/staged/{id}/drawing", request_body = DrawingOptions, responses((status = 200, body = DrawingView), (status = 404), (status = 422)))]
pub(crate) async fn read(
    State(app): State<AppState>,
    Path(id): Path<u32>,
    JsonBody(options): JsonBody<DrawingOptions>,
) -> Result<Json<DrawingView>, ApiError> {
    off_thread(move || app.workshop.read_anew(id, options))
        .await
        .map(Json)
}

/// What would become of it.
#[utoipa::path(post, path = "/api/staged/{id}/drawing/bodies", request_body = Flatwork, responses((status = 200, body = DrawnBodies), (status = 404), (status = 422)))]
pub(crate) async fn bodies(
    State(app): State<AppState>,
    Path(id): Path<u32>,
    JsonBody(work): JsonBody<Flatwork>,
) -> Result<Json<DrawnBodies>, ApiError> {
    off_thread(move || app.workshop.drawn_bodies(id, &work))
        .await
        .map(Json)
}

/// Makes a model of it, which a job can take like any other file.
#[utoipa::path(post, path = "/api/staged/{id}/drawing/model", request_body = Flatwork, responses((status = 201, body = StagedView), (status = 404), (status = 422)))]
pub(crate) async fn model(
    State(app): State<AppState>,
    Path(id): Path<u32>,
    JsonBody(work): JsonBody<Flatwork>,
) -> Result<(StatusCode, Json<StagedView>), ApiError> {
    let view = off_thread(move || app.workshop.model_of_drawing(id, work)).await?;
    Ok((StatusCode::CREATED, Json(view)))
}

#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct Instead {
    /// Another drawing that was sent in, to take its place with all that was said of it.
    instead: Option<u32>,
}

/// Puts the drawing that a model was made of on the table again, or another one in its place.
#[utoipa::path(post, path = "/api/jobs/{id}/models/{model}/drawing", params(Instead), responses((status = 201, body = StagedView), (status = 404), (status = 422)))]
pub(crate) async fn of_model(
    State(app): State<AppState>,
    Path((id, model)): Path<(i32, usize)>,
    Query(query): Query<Instead>,
) -> Result<(StatusCode, Json<StagedView>), ApiError> {
    let view = off_thread(move || {
        let session = app.workshop.session(id)?;
        app.workshop
            .drawing_of_model(&session, model, query.instead)
    })
    .await?;
    Ok((StatusCode::CREATED, Json(view)))
}
