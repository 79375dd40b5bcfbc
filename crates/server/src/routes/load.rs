//! What the Load stage asks besides edits.

use super::off_thread;
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path};
use crate::services::PrinterLine;
use crate::wire::{AskMixture, JobView, LoadView, MixtureView, SetPrinterKey};
use axum::Json;
use axum::extract::State;
use axum::http::Method;
use varichrom_core::Problem;
use varichrom_core::advice::load::PrinterReport;

/// Checks, grams, and what the printer said last.
#[utoipa::path(get, path = "/api/jobs/{id}/load", responses((status = 200, body = LoadView), (status = 404)))]
pub(crate) async fn show(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<LoadView>, ApiError> {
    off_thread(move || app.workshop.session(id)?.load_view(&app.workshop))
        .await
        .map(Json)
}

/// Asks the job's printer what it is and holds. A printer that is silent, or answers nonsense, is told among the checks.
#[utoipa::path(post, path = "/api/jobs/{id}/load/ask", responses((status = 200, body = LoadView), (status = 422)))]
pub(crate) async fn ask(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<LoadView>, ApiError> {
    let workshop = app.workshop.clone();
    let session = off_thread(move || workshop.session(id)).await?;
    let (asking, workshop) = (session.clone(), app.workshop.clone());
    let line = off_thread(move || asking.printer_line(&workshop)).await?;
    let said = ask_printer(&line).await;
    session.heard(line.address, said);
    off_thread(move || session.load_view(&app.workshop))
        .await
        .map(Json)
}

/// Keeps what the job's printer wants to hear before it answers.
#[utoipa::path(put, path = "/api/jobs/{id}/load/key", request_body = SetPrinterKey, responses((status = 200, body = LoadView), (status = 404), (status = 422)))]
pub(crate) async fn set_key(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(asked): JsonBody<SetPrinterKey>,
) -> Result<Json<LoadView>, ApiError> {
    off_thread(move || {
        let session = app.workshop.session(id)?;
        session.set_printer_key(&app.workshop, asked.key.as_deref())?;
        session.load_view(&app.workshop)
    })
    .await
    .map(Json)
}

/// The largest answer that is read.
const LARGEST_ANSWER: usize = 64 * 1024;

async fn ask_printer(line: &PrinterLine) -> Result<PrinterReport, Problem> {
    let answer = line.send(line.call(Method::GET, "printer").await?).await?;
    if !answer.status().is_success() {
        let what = format!("it says {}", answer.status().as_u16());
        return Err(line.silent(&what));
    }
    PrinterReport::from_json(&line.heard(answer, LARGEST_ANSWER).await?)
}

/// Fills the slots with what the printer holds, and gives regions the nearest colours.
#[utoipa::path(post, path = "/api/jobs/{id}/load/use-loaded", responses((status = 200, body = JobView), (status = 422)))]
pub(crate) async fn use_loaded(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<JobView>, ApiError> {
    off_thread(move || {
        let session = app.workshop.session(id)?;
        session.use_loaded(&app.workshop)?;
        session.view(&app.workshop)
    })
    .await
    .map(Json)
}

/// The mixture that comes nearest to a colour, or one with a share set and the others following.
#[utoipa::path(post, path = "/api/jobs/{id}/load/mixture", request_body = AskMixture, responses((status = 200, body = MixtureView), (status = 422)))]
pub(crate) async fn mixture(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(asked): JsonBody<AskMixture>,
) -> Result<Json<MixtureView>, ApiError> {
    off_thread(move || app.workshop.session(id)?.mixture(&app.workshop, &asked))
        .await
        .map(Json)
}
