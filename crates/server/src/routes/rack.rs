//! The rack of spools, and the printers.

use super::off_thread;
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path};
use crate::services::RackFormat;
use crate::wire::{ChangePrinters, ChangeRack, PrintersView, RackImported, RackView, UsualSpool};
use axum::Json;
use axum::body::Bytes;
use axum::extract::State;
use axum::http::header;
use axum::response::IntoResponse;
use varichrom_core::machine::Spool;

fn format(name: &str) -> Result<RackFormat, ApiError> {
    match name {
        "rack.csv" => Ok(RackFormat::Csv),
        "rack.json" => Ok(RackFormat::Json),
        _ => Err(ApiError::NotFound("file")),
    }
}

/// The rack.
#[utoipa::path(get, path = "/api/rack", responses((status = 200, body = RackView)))]
pub(crate) async fn show(State(app): State<AppState>) -> Result<Json<RackView>, ApiError> {
    off_thread(move || app.workshop.rack_view()).await.map(Json)
}

/// Changes spools, all changes or none. A spool that a job has loaded cannot go.
#[utoipa::path(post, path = "/api/rack", request_body = ChangeRack, responses((status = 200, body = RackView), (status = 409), (status = 422)))]
pub(crate) async fn change(
    State(app): State<AppState>,
    JsonBody(asked): JsonBody<ChangeRack>,
) -> Result<Json<RackView>, ApiError> {
    off_thread(move || {
        app.workshop.change_rack(asked.revision, asked.changes)?;
        app.workshop.rack_view()
    })
    .await
    .map(Json)
}

/// The values that are usual for a colour and a plastic.
#[utoipa::path(post, path = "/api/rack/usual", request_body = UsualSpool, responses((status = 200, body = Spool)))]
pub(crate) async fn usual(JsonBody(asked): JsonBody<UsualSpool>) -> Json<Spool> {
    Json(Spool::usual(
        asked.colour,
        &asked.material,
        asked.is_translucent,
    ))
}

/// The rack as `rack.csv` or `rack.json`.
#[utoipa::path(get, path = "/api/rack/{file}", responses((status = 200), (status = 404)))]
pub(crate) async fn export(
    State(app): State<AppState>,
    Path(file): Path<String>,
) -> Result<impl IntoResponse, ApiError> {
    let format = format(&file)?;
    let text = off_thread(move || app.workshop.export_rack(format)).await?;
    let kind = match format {
        RackFormat::Csv => "text/csv; charset=utf-8",
        RackFormat::Json => "application/json",
    };
    let name = format!("attachment; filename=\"{file}\"");
    Ok((
        [
            (header::CONTENT_TYPE, kind.to_string()),
            (header::CONTENT_DISPOSITION, name),
        ],
        text,
    ))
}

/// Brings in spools from `rack.csv` or `rack.json`.
#[utoipa::path(post, path = "/api/rack/{file}", responses((status = 200, body = RackImported), (status = 422)))]
pub(crate) async fn import(
    State(app): State<AppState>,
    Path(file): Path<String>,
    body: Bytes,
) -> Result<Json<RackImported>, ApiError> {
    let format = format(&file)?;
    off_thread(move || app.workshop.import_rack(format, &body))
        .await
        .map(Json)
}

/// The maker's printers.
#[utoipa::path(get, path = "/api/printers", responses((status = 200, body = PrintersView)))]
pub(crate) async fn printers(State(app): State<AppState>) -> Result<Json<PrintersView>, ApiError> {
    off_thread(move || app.workshop.printers()).await.map(Json)
}

/// Changes printers, all changes or none; jobs keep theirs.
#[utoipa::path(post, path = "/api/printers", request_body = ChangePrinters, responses((status = 200, body = PrintersView), (status = 409), (status = 422)))]
pub(crate) async fn change_printers(
    State(app): State<AppState>,
    JsonBody(asked): JsonBody<ChangePrinters>,
) -> Result<Json<PrintersView>, ApiError> {
    off_thread(move || {
        app.workshop
            .change_printers(asked.revision, asked.changes)?;
        app.workshop.printers()
    })
    .await
    .map(Json)
}
