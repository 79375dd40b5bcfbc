//! Files on their way in.

use super::off_thread;
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path, Query};
use crate::wire::{AddModels, Assemble, JobSummary, JobView, ReviseModel, StagedView};
use axum::Json;
use axum::body::Body;
use axum::extract::State;
use axum::http::StatusCode;
use serde::Deserialize;

#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct Stage {
    /// Name of the file.
    file: String,
    /// Numbers of staged files that belong beside it, with commas between.
    #[serde(default)]
    beside: String,
    /// Whether it only belongs beside another file that is still to come, such as a model's picture.
    #[serde(default)]
    is_beside: bool,
}

/// Takes in a file sent as the body and begins to open it.
#[utoipa::path(post, path = "/api/staged", params(Stage), request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses((status = 201, body = StagedView), (status = 413), (status = 422)))]
pub(crate) async fn stage(
    State(app): State<AppState>,
    Query(query): Query<Stage>,
    body: Body,
) -> Result<(StatusCode, Json<StagedView>), ApiError> {
    let bytes = app.uploads.read(body).await?;
    let beside: Vec<u32> = query
        .beside
        .split(',')
        .filter_map(|n| n.parse().ok())
        .collect();
    let view = off_thread(move || {
        app.workshop
            .stage(&query.file, &bytes, &beside, query.is_beside)
    })
    .await?;
    Ok((StatusCode::CREATED, Json(view)))
}

/// How far a file is.
#[utoipa::path(get, path = "/api/staged/{id}", responses((status = 200, body = StagedView), (status = 404)))]
pub(crate) async fn show(
    State(app): State<AppState>,
    Path(id): Path<u32>,
) -> Result<Json<StagedView>, ApiError> {
    app.workshop.staged_view(id).await.map(Json)
}

/// Stops the opening of a file and forgets it.
#[utoipa::path(delete, path = "/api/staged/{id}", responses((status = 204), (status = 404)))]
pub(crate) async fn forget(
    State(app): State<AppState>,
    Path(id): Path<u32>,
) -> Result<StatusCode, ApiError> {
    app.workshop.unstage(id)?;
    Ok(StatusCode::NO_CONTENT)
}

/// Makes a job of staged files, or one of each.
#[utoipa::path(post, path = "/api/jobs/assemble", request_body = Assemble, responses((status = 201, body = Vec<JobSummary>), (status = 404), (status = 422)))]
pub(crate) async fn assemble(
    State(app): State<AppState>,
    JsonBody(asked): JsonBody<Assemble>,
) -> Result<(StatusCode, Json<Vec<JobSummary>>), ApiError> {
    let jobs = off_thread(move || app.workshop.assemble(&asked.staged, asked.arrangement)).await?;
    Ok((StatusCode::CREATED, Json(jobs)))
}

/// Adds staged files to a job.
#[utoipa::path(post, path = "/api/jobs/{id}/models", request_body = AddModels, responses((status = 200, body = JobView), (status = 404), (status = 422)))]
pub(crate) async fn add(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(asked): JsonBody<AddModels>,
) -> Result<Json<JobView>, ApiError> {
    off_thread(move || {
        let session = app.workshop.session(id)?;
        app.workshop
            .add_models(&session, &asked.staged, asked.arrangement)?;
        session.view(&app.workshop)
    })
    .await
    .map(Json)
}

/// Replaces a model by a staged file; the job's edits are done again on it.
#[utoipa::path(post, path = "/api/jobs/{id}/models/{model}/revise", request_body = ReviseModel, responses((status = 200, body = JobView), (status = 404), (status = 422)))]
pub(crate) async fn revise(
    State(app): State<AppState>,
    Path((id, model)): Path<(i32, usize)>,
    JsonBody(asked): JsonBody<ReviseModel>,
) -> Result<Json<JobView>, ApiError> {
    off_thread(move || {
        let session = app.workshop.session(id)?;
        app.workshop.revise(&session, model, asked.staged)?;
        session.view(&app.workshop)
    })
    .await
    .map(Json)
}
