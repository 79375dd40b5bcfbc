//! What stands before a print, and who works here.

use super::{off_thread, with_session};
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path, Query};
use crate::guard::Caller;
use crate::wire::{People, ReleaseView, Said, WaitingJob};
use axum::extract::State;
use axum::{Extension, Json};
use serde::Deserialize;

/// Checks, ticks and words of a job as it stands.
#[utoipa::path(get, path = "/api/jobs/{id}/release", responses((status = 200, body = ReleaseView), (status = 404)))]
pub(crate) async fn show(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<ReleaseView>, ApiError> {
    with_session(app, id, |s, workshop| s.release(workshop)).await
}

#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct OfRevision {
    /// The revision that was looked at.
    revision: u32,
}

/// Keeps a word or a tick.
#[utoipa::path(post, path = "/api/jobs/{id}/release", params(OfRevision), request_body = Said, responses((status = 200, body = ReleaseView), (status = 404), (status = 409), (status = 422)))]
pub(crate) async fn say(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    Query(of): Query<OfRevision>,
    Extension(caller): Extension<Caller>,
    JsonBody(said): JsonBody<Said>,
) -> Result<Json<ReleaseView>, ApiError> {
    let said = caller.say(said)?;
    with_session(app, id, move |s, workshop| {
        s.say(workshop, of.revision, said)
    })
    .await
}

/// Who works here.
#[utoipa::path(get, path = "/api/people", responses((status = 200, body = People)))]
pub(crate) async fn people(State(app): State<AppState>) -> Result<Json<People>, ApiError> {
    off_thread(move || app.workshop.people()).await.map(Json)
}

/// Exactly these people work here from now on.
#[utoipa::path(put, path = "/api/people", request_body = People, responses((status = 200, body = People), (status = 422)))]
pub(crate) async fn set_people(
    State(app): State<AppState>,
    JsonBody(people): JsonBody<People>,
) -> Result<Json<People>, ApiError> {
    off_thread(move || app.workshop.set_people(people))
        .await
        .map(Json)
}

/// Jobs that wait to be looked at, those that wait longest first.
#[utoipa::path(get, path = "/api/waiting", responses((status = 200, body = [WaitingJob])))]
pub(crate) async fn waiting(
    State(app): State<AppState>,
) -> Result<Json<Vec<WaitingJob>>, ApiError> {
    off_thread(move || app.workshop.waiting()).await.map(Json)
}
