//! Print files from elsewhere, kept with a job.

use super::{off_thread, with_session};
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path, Query};
use crate::wire::{FileJob, KeptFile, KeptFileView, RewriteFiles, RewrittenView, SayOfFile};
use axum::Json;
use axum::body::Body;
use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::IntoResponse;
use serde::Deserialize;

#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct Named {
    /// Name of the file.
    file: String,
}

/// Makes a job for a print file sent as the body.
#[utoipa::path(post, path = "/api/sliced", params(Named), request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses((status = 201, body = FileJob), (status = 413), (status = 422)))]
pub(crate) async fn begin(
    State(app): State<AppState>,
    Query(named): Query<Named>,
    body: Body,
) -> Result<(StatusCode, Json<FileJob>), ApiError> {
    let bytes = app.uploads.read(body).await?;
    let made = off_thread(move || app.workshop.job_of_file(&named.file, &bytes)).await?;
    Ok((StatusCode::CREATED, Json(made)))
}

/// Keeps a print file sent as the body.
#[utoipa::path(post, path = "/api/jobs/{id}/sliced", params(Named), request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses((status = 201, body = KeptFile), (status = 404), (status = 413), (status = 422)))]
pub(crate) async fn keep(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    Query(named): Query<Named>,
    body: Body,
) -> Result<(StatusCode, Json<KeptFile>), ApiError> {
    let bytes = app.uploads.read(body).await?;
    let kept = with_session(app, id, move |s, workshop| {
        s.keep_file(workshop, &named.file, &bytes)
    });
    Ok((StatusCode::CREATED, kept.await?))
}

/// The print files that are kept with a job, the oldest first.
#[utoipa::path(get, path = "/api/jobs/{id}/sliced", responses((status = 200, body = Vec<KeptFile>), (status = 404)))]
pub(crate) async fn list(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<Vec<KeptFile>>, ApiError> {
    with_session(app, id, |s, workshop| s.kept_files(workshop)).await
}

/// A print file on the job's printer, set against its plan if that is ready.
#[utoipa::path(get, path = "/api/jobs/{id}/sliced/{file}", responses((status = 200, body = KeptFileView), (status = 404), (status = 422)))]
pub(crate) async fn show(
    State(app): State<AppState>,
    Path((id, file)): Path<(i32, i32)>,
) -> Result<Json<KeptFileView>, ApiError> {
    with_session(app, id, move |s, workshop| s.file_view(workshop, file)).await
}

/// Says which slots stand for the tools and pauses of a print file.
#[utoipa::path(put, path = "/api/jobs/{id}/sliced/{file}", request_body = SayOfFile, responses((status = 200, body = KeptFileView), (status = 404), (status = 422)))]
pub(crate) async fn say(
    State(app): State<AppState>,
    Path((id, file)): Path<(i32, i32)>,
    JsonBody(said): JsonBody<SayOfFile>,
) -> Result<Json<KeptFileView>, ApiError> {
    with_session(app, id, move |s, workshop| {
        s.say_of_file(workshop, file, said)
    })
    .await
}

/// Forgets a print file.
#[utoipa::path(delete, path = "/api/jobs/{id}/sliced/{file}", responses((status = 204), (status = 404)))]
pub(crate) async fn forget(
    State(app): State<AppState>,
    Path((id, file)): Path<(i32, i32)>,
) -> Result<StatusCode, ApiError> {
    let _ = with_session(app, id, move |s, workshop| s.forget_file(workshop, file)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// All moves of a print file, format `VCV1`.
#[utoipa::path(get, path = "/api/jobs/{id}/sliced/{file}/moves.bin", responses((status = 200, content_type = "application/octet-stream"), (status = 404)))]
pub(crate) async fn moves(
    State(app): State<AppState>,
    Path((id, file)): Path<(i32, i32)>,
) -> Result<impl IntoResponse, ApiError> {
    let Json(bytes) =
        with_session(app, id, move |s, workshop| s.file_moves(workshop, file)).await?;
    Ok(([(header::CONTENT_TYPE, "application/octet-stream")], bytes))
}

/// What can be taken of a print file: `print.gcode`; of one that was made here `differences.txt` and, for a strand, `splices.json`.
#[utoipa::path(get, path = "/api/jobs/{id}/sliced/{file}/files/{what}", responses((status = 200), (status = 404)))]
pub(crate) async fn take(
    State(app): State<AppState>,
    Path((id, file, what)): Path<(i32, i32, String)>,
) -> Result<impl IntoResponse, ApiError> {
    let taken = with_session(app, id, move |s, workshop| {
        s.file_taken(workshop, file, &what)
    });
    let Json((name, text)) = taken.await?;
    // Whatever a file is called, the head of an answer stays one line of plain letters.
    let plain = |c: char| c.is_ascii_alphanumeric() || "-_. ".contains(c);
    let name: String = name
        .chars()
        .map(|c| if plain(c) { c } else { '_' })
        .collect();
    Ok((
        [
            (
                header::CONTENT_TYPE,
                "text/plain; charset=utf-8".to_string(),
            ),
            (
                header::CONTENT_DISPOSITION,
                format!("attachment; filename=\"{name}\""),
            ),
        ],
        text,
    ))
}

/// Makes a print file for the job's printer of one, or joins several.
#[utoipa::path(post, path = "/api/jobs/{id}/rewritten", request_body = RewriteFiles, responses((status = 201, body = RewrittenView), (status = 404), (status = 409), (status = 422)))]
pub(crate) async fn rewrite(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(wanted): JsonBody<RewriteFiles>,
) -> Result<(StatusCode, Json<RewrittenView>), ApiError> {
    let made = with_session(app, id, move |s, workshop| {
        s.rewrite_files(workshop, &wanted)
    });
    Ok((StatusCode::CREATED, made.await?))
}
