//! The shelf and the edits of a job.

use super::off_thread;
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path, Query};
use crate::wire::{JobSummary, JobView, Shelving};
use axum::Json;
use axum::body::{Body, Bytes};
use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::IntoResponse;
use serde::Deserialize;
use varichrom_core::Problem;
use varichrom_core::formats::is_project;
use varichrom_core::job::Edit;

/// All jobs, the latest changed first.
#[utoipa::path(get, path = "/api/jobs", responses((status = 200, body = Vec<JobSummary>)))]
pub(crate) async fn list(State(app): State<AppState>) -> Result<Json<Vec<JobSummary>>, ApiError> {
    off_thread(move || app.workshop.shelf()).await.map(Json)
}

#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct Import {
    /// Name of the file.
    file: String,
}

/// Makes a job of a model file, or opens a project file, sent as the body.
#[utoipa::path(post, path = "/api/jobs", params(Import), request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses((status = 201, body = JobSummary), (status = 413), (status = 422)))]
pub(crate) async fn import(
    State(app): State<AppState>,
    Query(query): Query<Import>,
    body: Body,
) -> Result<(StatusCode, Json<JobSummary>), ApiError> {
    let bytes = app.uploads.read(body).await?;
    let summary = off_thread(move || match is_project(&bytes) {
        true => app.workshop.open_project(&bytes),
        false => app
            .workshop
            .import(&query.file, None, None, &bytes, None, &[]),
    })
    .await?;
    Ok((StatusCode::CREATED, Json(summary)))
}

/// One job.
#[utoipa::path(get, path = "/api/jobs/{id}", responses((status = 200, body = JobView), (status = 404)))]
pub(crate) async fn show(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<JobView>, ApiError> {
    off_thread(move || app.workshop.session(id)?.view(&app.workshop))
        .await
        .map(Json)
}

/// A job in its colours, as a small PNG.
#[utoipa::path(get, path = "/api/jobs/{id}/picture.png", responses((status = 200), (status = 404), (status = 409), (status = 422)))]
pub(crate) async fn picture(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<impl IntoResponse, ApiError> {
    let png = off_thread(move || app.workshop.picture(id)).await?;
    Ok(([(header::CONTENT_TYPE, "image/png")], png))
}

#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct Deleting {
    /// Whether it goes for good instead of into the bin.
    #[serde(default)]
    for_good: bool,
}

/// Takes a job off the shelf: into the bin, from where it can be brought back for 30 days, or for good.
#[utoipa::path(delete, path = "/api/jobs/{id}", params(Deleting), responses((status = 204), (status = 404)))]
pub(crate) async fn delete(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    Query(how): Query<Deleting>,
) -> Result<StatusCode, ApiError> {
    off_thread(move || match how.for_good {
        true => app.workshop.delete_for_good(id),
        false => app.workshop.delete(id),
    })
    .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Jobs that were deleted and can be brought back, the latest changed first.
#[utoipa::path(get, path = "/api/bin", responses((status = 200, body = Vec<JobSummary>)))]
pub(crate) async fn bin(State(app): State<AppState>) -> Result<Json<Vec<JobSummary>>, ApiError> {
    off_thread(move || app.workshop.bin()).await.map(Json)
}

/// Brings a deleted job back.
#[utoipa::path(post, path = "/api/jobs/{id}/back", responses((status = 204), (status = 404)))]
pub(crate) async fn back(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, ApiError> {
    off_thread(move || app.workshop.bring_back(id)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Makes a second job like one.
#[utoipa::path(post, path = "/api/jobs/{id}/duplicate", responses((status = 201, body = JobSummary), (status = 404), (status = 422)))]
pub(crate) async fn duplicate(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<(StatusCode, Json<JobSummary>), ApiError> {
    let copy = off_thread(move || app.workshop.duplicate(id)).await?;
    Ok((StatusCode::CREATED, Json(copy)))
}

/// Tags a job, and puts it away or back.
#[utoipa::path(put, path = "/api/jobs/{id}/shelving", request_body = Shelving, responses((status = 204), (status = 404), (status = 422)))]
pub(crate) async fn shelve(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(to): JsonBody<Shelving>,
) -> Result<StatusCode, ApiError> {
    off_thread(move || app.workshop.shelve(id, to)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// An edit from its JSON.
pub(super) fn read_edit(body: &[u8]) -> Result<Edit, ApiError> {
    serde_json::from_slice(body).map_err(|e| {
        let mend = "Send one edit as docs/recipes.md describes it.";
        let place = format!("line {}, column {}", e.line(), e.column());
        let message = format!("The edit cannot be read: {e}");
        Problem::new("edit-not-readable", message, place, mend).into()
    })
}

#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct InsteadOf {
    /// Number of a step, from 1, whose place the edit takes.
    instead_of: Option<u32>,
}

/// Applies an edit, as a new step or in the place of one. It is on the disk when the answer comes.
#[utoipa::path(post, path = "/api/jobs/{id}/edits", params(InsteadOf), request_body = Edit, responses((status = 200, body = JobView), (status = 404), (status = 422)))]
pub(crate) async fn edit(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    Query(query): Query<InsteadOf>,
    body: Bytes,
) -> Result<Json<JobView>, ApiError> {
    let edit = read_edit(&body)?;
    off_thread(move || {
        let session = app.workshop.session(id)?;
        match query.instead_of {
            Some(number) => session.put_in_place(&app.workshop, number, edit, &[])?,
            None => session.apply(&app.workshop, edit)?,
        }
        session.view(&app.workshop)
    })
    .await
    .map(Json)
}

/// Stops the edit that is being applied, or the opening of the job, if it takes long enough; it is then refused as `stopped`.
#[utoipa::path(post, path = "/api/jobs/{id}/edits/stop", responses((status = 204), (status = 404)))]
pub(crate) async fn stop_edit(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, ApiError> {
    off_thread(move || {
        app.workshop.stop_edit(id);
        Ok(StatusCode::NO_CONTENT)
    })
    .await
}

/// All edits that are applied, in order.
#[utoipa::path(get, path = "/api/jobs/{id}/edits", responses((status = 200, body = Vec<Edit>), (status = 404)))]
pub(crate) async fn edits(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<Vec<Edit>>, ApiError> {
    off_thread(move || Ok(app.workshop.session(id)?.edits()))
        .await
        .map(Json)
}

/// Takes the last edit back.
#[utoipa::path(post, path = "/api/jobs/{id}/undo", responses((status = 200, body = JobView), (status = 422)))]
pub(crate) async fn undo(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<JobView>, ApiError> {
    off_thread(move || {
        let session = app.workshop.session(id)?;
        session.undo(&app.workshop)?;
        session.view(&app.workshop)
    })
    .await
    .map(Json)
}

/// Applies the edit again that was taken back last.
#[utoipa::path(post, path = "/api/jobs/{id}/redo", responses((status = 200, body = JobView), (status = 422)))]
pub(crate) async fn redo(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<JobView>, ApiError> {
    off_thread(move || {
        let session = app.workshop.session(id)?;
        session.redo(&app.workshop)?;
        session.view(&app.workshop)
    })
    .await
    .map(Json)
}
