//! Rehearsals of a job's print files.

use super::{off_thread, with_session};
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path};
use crate::wire::{BeginRehearsal, LetGoWrong, RehearsalView, SetSpeed};
use axum::Json;
use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::IntoResponse;
use varichrom_core::rehearsal::Answer;

/// Begins a rehearsal of the job as it stands.
#[utoipa::path(post, path = "/api/jobs/{id}/rehearsal", request_body = BeginRehearsal, responses((status = 200, body = RehearsalView), (status = 404), (status = 409), (status = 422)))]
pub(crate) async fn begin(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(asked): JsonBody<BeginRehearsal>,
) -> Result<Json<RehearsalView>, ApiError> {
    with_session(app, id, |s, workshop| s.begin_rehearsal(workshop, asked)).await
}

/// The rehearsal as it is by now.
#[utoipa::path(get, path = "/api/jobs/{id}/rehearsal", responses((status = 200, body = RehearsalView), (status = 404), (status = 409)))]
pub(crate) async fn show(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<RehearsalView>, ApiError> {
    with_session(app, id, move |s, _| s.rehearsal()).await
}

/// A person has done something where the machine stands.
#[utoipa::path(post, path = "/api/jobs/{id}/rehearsal/answer", request_body = Answer, responses((status = 200, body = RehearsalView), (status = 404), (status = 409)))]
pub(crate) async fn answer(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(answer): JsonBody<Answer>,
) -> Result<Json<RehearsalView>, ApiError> {
    with_session(app, id, move |s, _| s.answer_rehearsal(answer)).await
}

/// Another speed.
#[utoipa::path(put, path = "/api/jobs/{id}/rehearsal/speed", request_body = SetSpeed, responses((status = 200, body = RehearsalView), (status = 404), (status = 409)))]
pub(crate) async fn speed(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(to): JsonBody<SetSpeed>,
) -> Result<Json<RehearsalView>, ApiError> {
    with_session(app, id, move |s, _| s.set_rehearsal_speed(to.speed)).await
}

/// Something goes wrong now.
#[utoipa::path(post, path = "/api/jobs/{id}/rehearsal/trouble", request_body = LetGoWrong, responses((status = 200, body = RehearsalView), (status = 404), (status = 409)))]
pub(crate) async fn trouble(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(what): JsonBody<LetGoWrong>,
) -> Result<Json<RehearsalView>, ApiError> {
    with_session(app, id, move |s, _| s.trouble_rehearsal(what.kind)).await
}

/// Ends the rehearsal.
#[utoipa::path(delete, path = "/api/jobs/{id}/rehearsal", responses((status = 204), (status = 404)))]
pub(crate) async fn end(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, ApiError> {
    off_thread(move || {
        app.workshop.session(id)?.end_rehearsal();
        Ok(StatusCode::NO_CONTENT)
    })
    .await
}

/// What prints the rest from where the rehearsal stands.
#[utoipa::path(get, path = "/api/jobs/{id}/rehearsal/rest.gcode", responses((status = 200), (status = 404), (status = 409), (status = 422)))]
pub(crate) async fn rest(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<impl IntoResponse, ApiError> {
    let bytes = off_thread(move || app.workshop.session(id)?.rest_of_rehearsal()).await?;
    let kind = (header::CONTENT_TYPE, "text/plain; charset=utf-8");
    let name = (
        header::CONTENT_DISPOSITION,
        "attachment; filename=\"rest.gcode\"",
    );
    Ok(([kind, name], bytes))
}
