//! Plans and layers.

use super::meshes::BINARY;
use super::{off_thread, with_session};
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path, Query};
use crate::wire::{
    AskCalibration, BeadsView, JobView, KnownTime, LayerView, MovesView, PlanView,
    PrintSettingsView, SetPrinting, SheetView, SnagFacets, SnagsView, WaysView,
};
use axum::Json;
use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::IntoResponse;
use serde::Deserialize;
use varichrom_core::advice::WayFigures;
use varichrom_core::job::Edit;
use varichrom_core::rinse::Calibration;

/// The plan of the present revision, or how far it is.
#[utoipa::path(get, path = "/api/jobs/{id}/plan", responses((status = 200, body = PlanView), (status = 404)))]
pub(crate) async fn show(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<PlanView>, ApiError> {
    let workshop = app.workshop.clone();
    let session = off_thread(move || workshop.session(id)).await?;
    Ok(Json(session.plan_view(&app.workshop).await))
}

/// Stops the planning that is going on.
#[utoipa::path(post, path = "/api/jobs/{id}/plan/stop", responses((status = 204), (status = 404)))]
pub(crate) async fn stop(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, ApiError> {
    off_thread(move || {
        app.workshop.session(id)?.stop();
        Ok(StatusCode::NO_CONTENT)
    })
    .await
}

/// Sets the planning going again after a stop.
#[utoipa::path(post, path = "/api/jobs/{id}/plan/start", responses((status = 204), (status = 404)))]
pub(crate) async fn start(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, ApiError> {
    let workshop = app.workshop.clone();
    let session = off_thread(move || workshop.session(id)).await?;
    session.plan(&app.workshop);
    Ok(StatusCode::NO_CONTENT)
}

/// One layer's drawing; layers count from 0.
#[utoipa::path(get, path = "/api/jobs/{id}/layers/{layer}", responses((status = 200, body = LayerView), (status = 404), (status = 409)))]
pub(crate) async fn layer(
    State(app): State<AppState>,
    Path((id, layer)): Path<(i32, usize)>,
) -> Result<Json<LayerView>, ApiError> {
    with_session(app, id, move |s, _| s.layer(layer)).await
}

/// The beads of one layer, for one piece; layers count from 0.
#[utoipa::path(get, path = "/api/jobs/{id}/layers/{layer}/beads", responses((status = 200, body = BeadsView), (status = 404), (status = 409)))]
pub(crate) async fn beads(
    State(app): State<AppState>,
    Path((id, layer)): Path<(i32, usize)>,
) -> Result<Json<BeadsView>, ApiError> {
    with_session(app, id, move |s, _| s.beads(layer)).await
}

/// The moves of the print: how far they are, and what they come to; sets them going if need be.
#[utoipa::path(get, path = "/api/jobs/{id}/moves", params(AskSearch), responses((status = 200, body = MovesView), (status = 404)))]
pub(crate) async fn moves(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    Query(ask): Query<AskSearch>,
) -> Result<Json<MovesView>, ApiError> {
    with_session(app, id, move |s, workshop| s.moves(workshop, ask.restart)).await
}

/// Gives up making moves.
#[utoipa::path(post, path = "/api/jobs/{id}/moves/stop", responses((status = 204), (status = 404)))]
pub(crate) async fn stop_moves(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, ApiError> {
    off_thread(move || {
        app.workshop.session(id)?.stop_moves();
        Ok(StatusCode::NO_CONTENT)
    })
    .await
}

/// All moves, format `VCV1`; the header `x-revision` says of which revision.
#[utoipa::path(get, path = "/api/jobs/{id}/moves.bin", responses((status = 200, content_type = "application/octet-stream"), (status = 404), (status = 409)))]
pub(crate) async fn moves_bytes(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<impl IntoResponse, ApiError> {
    let (revision, bytes) = off_thread(move || app.workshop.session(id)?.moves_bytes()).await?;
    let name = header::HeaderName::from_static("x-revision");
    Ok(([BINARY], [(name, revision.to_string())], bytes))
}

#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct AskSearch {
    /// Set a search that was stopped going again.
    #[serde(default)]
    restart: bool,
}

/// How the job is printed, setting by setting.
#[utoipa::path(get, path = "/api/jobs/{id}/print-settings", responses((status = 200, body = PrintSettingsView), (status = 404)))]
pub(crate) async fn print_settings(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<PrintSettingsView>, ApiError> {
    with_session(app, id, move |s, workshop| s.print_settings(workshop)).await
}

/// Has the job printed another way: one edit, remembered for this printer and plastic.
#[utoipa::path(put, path = "/api/jobs/{id}/print-settings", request_body = SetPrinting, responses((status = 200, body = JobView), (status = 404), (status = 422)))]
pub(crate) async fn set_printing(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(to): JsonBody<SetPrinting>,
) -> Result<Json<JobView>, ApiError> {
    with_session(app, id, move |s, workshop| {
        s.set_printing(workshop, to)?;
        s.view(workshop)
    })
    .await
}

/// Every figure of the bill, down to single swaps.
#[utoipa::path(get, path = "/api/jobs/{id}/plan/sheet", responses((status = 200, body = SheetView), (status = 409)))]
pub(crate) async fn sheet(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<SheetView>, ApiError> {
    with_session(app, id, move |s, workshop| s.sheet(workshop)).await
}

/// Places where a small change saves swaps or purge; looked for if they are not known.
#[utoipa::path(get, path = "/api/jobs/{id}/plan/snags", params(AskSearch), responses((status = 200, body = SnagsView)))]
pub(crate) async fn snags(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    Query(ask): Query<AskSearch>,
) -> Result<Json<SnagsView>, ApiError> {
    with_session(app, id, move |s, workshop| s.snags(workshop, ask.restart)).await
}

/// The facets of one snag; snags count from 0.
#[utoipa::path(get, path = "/api/jobs/{id}/plan/snags/{snag}/facets", responses((status = 200, body = SnagFacets), (status = 404)))]
pub(crate) async fn snag_facets(
    State(app): State<AppState>,
    Path((id, snag)): Path<(i32, usize)>,
) -> Result<Json<SnagFacets>, ApiError> {
    with_session(app, id, move |s, _| s.snag_facets(snag)).await
}

/// Ways to run the job side by side; tried if they are not known.
#[utoipa::path(get, path = "/api/jobs/{id}/plan/ways", params(AskSearch), responses((status = 200, body = WaysView)))]
pub(crate) async fn ways(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    Query(ask): Query<AskSearch>,
) -> Result<Json<WaysView>, ApiError> {
    with_session(app, id, move |s, workshop| s.ways(workshop, ask.restart)).await
}

/// What the job would come to after an edit that is still being moved about; null once a newer one was asked about.
#[utoipa::path(post, path = "/api/jobs/{id}/plan/try", request_body = Edit, responses((status = 200, body = Option<WayFigures>), (status = 422)))]
pub(crate) async fn tried(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(edit): JsonBody<Edit>,
) -> Result<Json<Option<WayFigures>>, ApiError> {
    with_session(app, id, move |s, workshop| s.tried(workshop, &edit)).await
}

/// Stops the searches for snags and ways.
#[utoipa::path(post, path = "/api/jobs/{id}/plan/trials/stop", responses((status = 204)))]
pub(crate) async fn stop_trials(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, ApiError> {
    off_thread(move || {
        app.workshop.session(id)?.stop_trials();
        Ok(StatusCode::NO_CONTENT)
    })
    .await
}

/// Fits the melt zone of the job's printer to measured rinses.
#[utoipa::path(post, path = "/api/jobs/{id}/plan/calibrate", request_body = AskCalibration, responses((status = 200, body = Calibration), (status = 422)))]
pub(crate) async fn calibrate(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(ask): JsonBody<AskCalibration>,
) -> Result<Json<Calibration>, ApiError> {
    with_session(app, id, move |s, workshop| {
        s.calibrate(workshop, &ask.rinses, ask.keep)
    })
    .await
}

/// Sets the printer's pace from how long this very job took.
#[utoipa::path(post, path = "/api/jobs/{id}/plan/known-time", request_body = KnownTime, responses((status = 200, body = JobView), (status = 422)))]
pub(crate) async fn known_time(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(ask): JsonBody<KnownTime>,
) -> Result<Json<JobView>, ApiError> {
    with_session(app, id, move |s, workshop| {
        s.known_time(workshop, ask.real_s)?;
        s.view(workshop)
    })
    .await
}
