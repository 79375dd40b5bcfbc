//! After a print.

use super::{off_thread, with_session};
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path};
use crate::services::media_of;
use crate::wire::{AboutRun, NotePrinted, RackView, RunView};
use axum::Json;
use axum::body::Body;
use axum::extract::State;
use axum::http::header;
use axum::response::IntoResponse;

/// Largest photo, bytes.
const LARGEST_PHOTO: usize = 12 * 1024 * 1024;

/// Takes what a print used off the spools, once for each run, and keeps how it went.
#[utoipa::path(post, path = "/api/jobs/{id}/load/printed", request_body = NotePrinted, responses((status = 200, body = RackView), (status = 409), (status = 422)))]
pub(crate) async fn printed(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(noted): JsonBody<NotePrinted>,
) -> Result<Json<RackView>, ApiError> {
    with_session(app, id, move |s, workshop| {
        s.printed(workshop, &noted)?;
        workshop.rack_view()
    })
    .await
}

/// Gives back what a run took off the spools.
#[utoipa::path(delete, path = "/api/jobs/{id}/load/printed/{run}", responses((status = 200, body = RackView), (status = 404)))]
pub(crate) async fn not_printed(
    State(app): State<AppState>,
    Path((id, run)): Path<(i32, u32)>,
) -> Result<Json<RackView>, ApiError> {
    off_thread(move || {
        app.workshop.take_back_run(id, run)?;
        app.workshop.rack_view()
    })
    .await
    .map(Json)
}

/// The prints of a job that were noted, the latest first.
#[utoipa::path(get, path = "/api/jobs/{id}/runs", responses((status = 200, body = Vec<RunView>), (status = 404)))]
pub(crate) async fn list(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<Vec<RunView>>, ApiError> {
    with_session(app, id, |s, workshop| s.runs(workshop)).await
}

/// Keeps how a print went.
#[utoipa::path(put, path = "/api/jobs/{id}/runs/{run}", request_body = AboutRun, responses((status = 200, body = Vec<RunView>), (status = 404), (status = 422)))]
pub(crate) async fn say(
    State(app): State<AppState>,
    Path((id, run)): Path<(i32, u32)>,
    JsonBody(about): JsonBody<AboutRun>,
) -> Result<Json<Vec<RunView>>, ApiError> {
    with_session(app, id, move |s, workshop| {
        s.say_of_run(workshop, run, &about)
    })
    .await
}

/// The photo of a print.
#[utoipa::path(get, path = "/api/jobs/{id}/runs/{run}/photo", responses((status = 200), (status = 404)))]
pub(crate) async fn photo(
    State(app): State<AppState>,
    Path((id, run)): Path<(i32, u32)>,
) -> Result<impl IntoResponse, ApiError> {
    let Json(bytes) = with_session(app, id, move |s, workshop| s.photo(workshop, run)).await?;
    let media = media_of(&bytes).unwrap_or("application/octet-stream");
    Ok((
        [
            (header::CONTENT_TYPE, media),
            (header::X_CONTENT_TYPE_OPTIONS, "nosniff"),
        ],
        bytes,
    ))
}

/// Keeps a photo sent as the body: JPEG, PNG or WebP.
#[utoipa::path(put, path = "/api/jobs/{id}/runs/{run}/photo", request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses((status = 200, body = Vec<RunView>), (status = 404), (status = 413), (status = 422)))]
pub(crate) async fn set_photo(
    State(app): State<AppState>,
    Path((id, run)): Path<(i32, u32)>,
    body: Body,
) -> Result<Json<Vec<RunView>>, ApiError> {
    let bytes = app.uploads.read_at_most(body, LARGEST_PHOTO).await?;
    with_session(app, id, move |s, workshop| {
        s.set_photo(workshop, run, Some(&bytes))
    })
    .await
}

/// Takes the photo of a print away.
#[utoipa::path(delete, path = "/api/jobs/{id}/runs/{run}/photo", responses((status = 200, body = Vec<RunView>), (status = 404)))]
pub(crate) async fn no_photo(
    State(app): State<AppState>,
    Path((id, run)): Path<(i32, u32)>,
) -> Result<Json<Vec<RunView>>, ApiError> {
    with_session(app, id, move |s, workshop| s.set_photo(workshop, run, None)).await
}
