//! What the Colour stage asks besides edits.

use super::jobs::read_edit;
use super::off_thread;
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path, Query};
use crate::wire::{Desk, JobView, Palettes, PreviewView, Replayed, Stand, StepsView, StrayView};
use axum::Json;
use axum::body::Bytes;
use axum::extract::State;
use axum::http::StatusCode;
use serde::Deserialize;
use varichrom_core::job::Recipe;

/// What an edit would take, without doing it.
#[utoipa::path(post, path = "/api/jobs/{id}/preview", request_body = varichrom_core::job::Edit, responses((status = 200, body = PreviewView), (status = 422)))]
pub(crate) async fn preview(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    body: Bytes,
) -> Result<Json<PreviewView>, ApiError> {
    let edit = read_edit(&body)?;
    off_thread(move || app.workshop.session(id)?.preview(&edit))
        .await
        .map(Json)
}

#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct StraySize {
    /// Spots smaller than this, mm².
    smaller: f64,
    /// And those narrower than this, mm.
    narrower: f64,
}

/// Surface that was probably missed, the smallest of each model first.
#[utoipa::path(get, path = "/api/jobs/{id}/strays", params(StraySize), responses((status = 200, body = Vec<StrayView>), (status = 422)))]
pub(crate) async fn strays(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    Query(size): Query<StraySize>,
) -> Result<Json<Vec<StrayView>>, ApiError> {
    off_thread(move || {
        app.workshop
            .session(id)?
            .strays(size.smaller, size.narrower)
    })
    .await
    .map(Json)
}

/// The edits in plain words, those that can be redone included.
#[utoipa::path(get, path = "/api/jobs/{id}/steps", responses((status = 200, body = StepsView)))]
pub(crate) async fn steps(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<StepsView>, ApiError> {
    off_thread(move || Ok(app.workshop.session(id)?.steps()))
        .await
        .map(Json)
}

/// Undoes or redoes until so many steps are applied.
#[utoipa::path(post, path = "/api/jobs/{id}/stand", request_body = Stand, responses((status = 200, body = JobView), (status = 422)))]
pub(crate) async fn stand(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(stand): JsonBody<Stand>,
) -> Result<Json<JobView>, ApiError> {
    off_thread(move || {
        let session = app.workshop.session(id)?;
        session.stand(&app.workshop, stand.at)?;
        session.view(&app.workshop)
    })
    .await
    .map(Json)
}

/// Applies the edits of a recipe to this job, as far as they find their place.
#[utoipa::path(post, path = "/api/jobs/{id}/replay", responses((status = 200, body = Replayed), (status = 422)))]
pub(crate) async fn replay(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    body: Bytes,
) -> Result<Json<Replayed>, ApiError> {
    let recipe = Recipe::from_json(&body)?;
    off_thread(move || app.workshop.session(id)?.replay(&app.workshop, &recipe))
        .await
        .map(Json)
}

/// Colours kept for all jobs.
#[utoipa::path(get, path = "/api/palettes", responses((status = 200, body = Palettes)))]
pub(crate) async fn palettes(State(app): State<AppState>) -> Result<Json<Palettes>, ApiError> {
    off_thread(move || {
        Ok(Palettes {
            palettes: app.workshop.palettes()?,
        })
    })
    .await
    .map(Json)
}

/// Replaces all palettes.
#[utoipa::path(put, path = "/api/palettes", request_body = Palettes, responses((status = 204), (status = 422)))]
pub(crate) async fn set_palettes(
    State(app): State<AppState>,
    JsonBody(all): JsonBody<Palettes>,
) -> Result<StatusCode, ApiError> {
    off_thread(move || app.workshop.set_palettes(&all.palettes)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// What lies beside a job's bench.
#[utoipa::path(get, path = "/api/jobs/{id}/desk", responses((status = 200, body = Desk)))]
pub(crate) async fn desk(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<Desk>, ApiError> {
    off_thread(move || app.workshop.desk(id)).await.map(Json)
}

/// Replaces what lies beside a job's bench.
#[utoipa::path(put, path = "/api/jobs/{id}/desk", request_body = Desk, responses((status = 204), (status = 422)))]
pub(crate) async fn set_desk(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(desk): JsonBody<Desk>,
) -> Result<StatusCode, ApiError> {
    off_thread(move || app.workshop.set_desk(id, &desk)).await?;
    Ok(StatusCode::NO_CONTENT)
}
