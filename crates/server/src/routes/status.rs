//! How the server is, and who is asking.

use super::off_thread;
use crate::app::AppState;
use crate::error::ApiError;
use crate::guard::Caller;
use crate::wire::StatusView;
use axum::extract::State;
use axum::http::header;
use axum::response::IntoResponse;
use axum::{Extension, Json};
use std::fmt::Write;

/// Who calls, and what it may do.
#[utoipa::path(get, path = "/api/me", responses((status = 200, body = Caller)))]
pub(crate) async fn me(Extension(caller): Extension<Caller>) -> Json<Caller> {
    Json(caller)
}

/// What goes on, and what the server holds.
#[utoipa::path(get, path = "/api/status", responses((status = 200, body = StatusView)))]
pub(crate) async fn status(State(app): State<AppState>) -> Result<Json<StatusView>, ApiError> {
    off_thread(move || app.workshop.status(&app.version))
        .await
        .map(Json)
}

/// Whether the server works: 200 if it does, 503 if its database does not answer.
#[utoipa::path(get, path = "/api/health", responses((status = 200), (status = 503)))]
pub(crate) async fn health(State(app): State<AppState>) -> Result<&'static str, ApiError> {
    let status = off_thread(move || app.workshop.status(&app.version)).await?;
    match status.is_store_sound {
        true => Ok("well\n"),
        false => Err(ApiError::TryAgain {
            why: "The database does not answer",
            again_s: 5,
        }),
    }
}

/// What was counted and what goes on, for monitoring programs (Prometheus exposition format 0.0.4).
#[utoipa::path(get, path = "/api/metrics", responses((status = 200, content_type = "text/plain")))]
pub(crate) async fn metrics(State(app): State<AppState>) -> Result<impl IntoResponse, ApiError> {
    let mut text = app.counts.text();
    let status = off_thread(move || app.workshop.status(&app.version)).await?;
    let gauges = [
        ("jobs", "Jobs on the shelf.", status.jobs as f64),
        ("open_jobs", "Jobs that are open.", status.open_jobs as f64),
        (
            "works",
            "Plans, surveys and trials that go on.",
            status.works as f64,
        ),
        (
            "waiting_files",
            "Files that wait to be taken.",
            status.waiting_files as f64,
        ),
        ("waiting_bytes", "Their bytes.", status.waiting_bytes as f64),
        (
            "listeners",
            "Pages that are told of changes.",
            status.listeners as f64,
        ),
        (
            "memory_bytes",
            "Memory that the process holds.",
            status.memory_bytes.unwrap_or(0) as f64,
        ),
        ("up_seconds", "Time since the start.", status.up_s as f64),
    ];
    for (name, help, value) in gauges {
        // Writing to a text cannot fail.
        let _ = write!(
            text,
            "# HELP varichrom_{name} {help}\n# TYPE varichrom_{name} gauge\nvarichrom_{name} {value}\n"
        );
    }
    Ok(([(header::CONTENT_TYPE, "text/plain; version=0.0.4")], text))
}
