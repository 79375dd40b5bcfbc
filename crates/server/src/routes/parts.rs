//! What is asked about parts besides edits.

use super::{Asking, off_thread};
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path, Query};
use crate::wire::{DepthsView, MeetingsView, TriedParts, TryParts};
use axum::Json;
use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::IntoResponse;
use serde::Deserialize;
use varichrom_core::limits::{DEPTH_ROWS, TOLERANCE};

#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct AskMeetings {
    /// Set a search that was stopped going again.
    #[serde(default)]
    restart: bool,
}

/// Parts that overlap, touch or lie within one another; set going if not known.
#[utoipa::path(get, path = "/api/jobs/{id}/parts/meetings", params(AskMeetings), responses((status = 200, body = MeetingsView)))]
pub(crate) async fn meetings(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    Query(ask): Query<AskMeetings>,
) -> Result<Json<MeetingsView>, ApiError> {
    off_thread(move || Ok(app.workshop.session(id)?.meetings(ask.restart)))
        .await
        .map(Json)
}

/// Stops the search for parts that meet.
#[utoipa::path(post, path = "/api/jobs/{id}/parts/meetings/stop", responses((status = 204)))]
pub(crate) async fn stop_meetings(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, ApiError> {
    off_thread(move || {
        app.workshop.session(id)?.stop_meetings();
        Ok(StatusCode::NO_CONTENT)
    })
    .await
}

/// What two parts share, as corners of facets: nine 32-bit floats each, little-endian, mm.
#[utoipa::path(get, path = "/api/jobs/{id}/parts/shared/{first}/{second}", responses((status = 200), (status = 404)))]
pub(crate) async fn shared(
    State(app): State<AppState>,
    Path((id, first, second)): Path<(i32, u32, u32)>,
) -> Result<impl IntoResponse, ApiError> {
    let bytes = off_thread(move || app.workshop.session(id)?.shared([first, second])).await?;
    Ok(([(header::CONTENT_TYPE, "application/octet-stream")], bytes))
}

/// What an edit of parts would make, without making it.
#[utoipa::path(post, path = "/api/jobs/{id}/parts/try", request_body = TryParts, responses((status = 200, body = TriedParts), (status = 422)))]
pub(crate) async fn try_parts(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(asked): JsonBody<TryParts>,
) -> Result<Json<TriedParts>, ApiError> {
    let asking = Asking::default();
    let is_wanted = asking.flag();
    off_thread(move || {
        let session = app.workshop.session(id)?;
        session.try_parts(&app.workshop, &asked.edit, &is_wanted)
    })
    .await
    .map(Json)
}

#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct AskDepths {
    /// Layers of the deepest choice, 1 to 20.
    most: u32,
    /// CIEDE2000 difference up to which nothing is said to shine through.
    tolerance: f64,
    /// Whether to begin again after a stop.
    #[serde(default)]
    restart: bool,
}

/// What the depth of a region costs, layer by layer, and how deep it has to be to hide what lies below.
#[utoipa::path(get, path = "/api/jobs/{id}/regions/{region}/depths", params(AskDepths), responses((status = 200, body = DepthsView), (status = 422)))]
pub(crate) async fn depths(
    State(app): State<AppState>,
    Path((id, region)): Path<(i32, String)>,
    Query(ask): Query<AskDepths>,
) -> Result<Json<DepthsView>, ApiError> {
    DEPTH_ROWS.check(f64::from(ask.most), "most", |most| {
        format!("{most} depths cannot be compared")
    })?;
    TOLERANCE.check(ask.tolerance, "tolerance", |difference| {
        format!("A difference of {difference} cannot count as hidden")
    })?;
    off_thread(move || {
        let session = app.workshop.session(id)?;
        session.depths(&app.workshop, &region, ask.most, ask.tolerance, ask.restart)
    })
    .await
    .map(Json)
}
