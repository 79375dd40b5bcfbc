//! Print files sent to a printer that speaks the interface of docs/stand-in.md.

use super::off_thread;
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path};
use crate::services::PrinterLine;
use crate::wire::{SendPrint, SentView};
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use reqwest::{Method, RequestBuilder};
use std::sync::atomic::AtomicBool;
use std::time::Duration;
use varichrom_core::Problem;
use varichrom_core::rehearsal::Answer;

/// A large file over a slow line takes no longer.
const LONGEST_SENDING: Duration = Duration::from_secs(120);

/// The largest answer that is read.
const LARGEST_ANSWER: usize = 256 * 1024;

/// Sends a print file to the job's printer, if it may go.
#[utoipa::path(post, path = "/api/jobs/{id}/sent", request_body = SendPrint, responses((status = 200, body = SentView), (status = 404), (status = 409), (status = 422)))]
pub(crate) async fn send(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(asked): JsonBody<SendPrint>,
) -> Result<Json<SentView>, ApiError> {
    let workshop = app.workshop.clone();
    let (line, name, text) = off_thread(move || {
        let session = workshop.session(id)?;
        let line = session.printer_line(&workshop)?;
        session.check_may_go(&workshop)?;
        if let Some(kept) = asked.kept {
            let (name, text) = session.kept_to_send(&workshop, kept)?;
            return Ok((line, name, text));
        }
        let print = session.print_files(&workshop, &AtomicBool::new(true))?;
        let file = print
            .files
            .get(asked.file)
            .ok_or(ApiError::NotFound("file"))?;
        Ok((
            line,
            file.name.clone(),
            file.taken(session.released(&workshop)?.as_deref()),
        ))
    })
    .await?;
    // Names of files that are sent are plain letters, digits, - and a dot.
    let path = format!("print?name={name}");
    let call = line.call(Method::PUT, &path).await?;
    let call = call
        .timeout(LONGEST_SENDING)
        .header("content-type", "text/plain; charset=utf-8")
        .body(text);
    Ok(Json(said(call, &line).await?))
}

/// How the printer is with what it was sent.
#[utoipa::path(get, path = "/api/jobs/{id}/sent", responses((status = 200, body = SentView), (status = 404), (status = 422)))]
pub(crate) async fn show(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<SentView>, ApiError> {
    let line = line(&app, id).await?;
    let call = line.call(Method::GET, "print").await?;
    Ok(Json(said(call, &line).await?))
}

/// A person has done what the printer asked for.
#[utoipa::path(post, path = "/api/jobs/{id}/sent/answer", request_body = Answer, responses((status = 200, body = SentView), (status = 404), (status = 422)))]
pub(crate) async fn answer(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(answer): JsonBody<Answer>,
) -> Result<Json<SentView>, ApiError> {
    let line = line(&app, id).await?;
    let call = line.call(Method::POST, "print/answer").await?;
    Ok(Json(said(call.json(&answer), &line).await?))
}

/// Has the printer stop.
#[utoipa::path(delete, path = "/api/jobs/{id}/sent", responses((status = 204), (status = 404), (status = 422)))]
pub(crate) async fn cancel(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, ApiError> {
    let line = line(&app, id).await?;
    let call = line.call(Method::DELETE, "print").await?;
    let answer = line.send(call).await?;
    match answer.status().is_success() {
        true => Ok(StatusCode::NO_CONTENT),
        false => Err(line.silent("it does not say that it stopped").into()),
    }
}

async fn line(app: &AppState, id: i32) -> Result<PrinterLine, ApiError> {
    let workshop = app.workshop.clone();
    off_thread(move || workshop.session(id)?.printer_line(&workshop)).await
}

/// What the printer says to a call; its own refusal is passed on in its words.
async fn said(call: RequestBuilder, line: &PrinterLine) -> Result<SentView, ApiError> {
    let answer = line.send(call).await?;
    let is_fine = answer.status().is_success();
    let bytes = line.heard(answer, LARGEST_ANSWER).await?;
    if is_fine {
        let view = serde_json::from_slice(&bytes);
        return view.map_err(|_| line.silent("it says something that is no answer").into());
    }
    #[derive(serde::Deserialize)]
    struct Refusal {
        message: String,
        #[serde(default)]
        mend: String,
    }
    Err(match serde_json::from_slice::<Refusal>(&bytes) {
        Ok(refusal) => {
            let message: String = refusal.message.chars().take(200).collect();
            let mend: String = refusal.mend.chars().take(200).collect();
            Problem::new(
                "printer-refuses",
                format!("The printer says: {message}"),
                "printer",
                mend,
            )
            .into()
        }
        Err(_) => line.silent("it refuses without a word").into(),
    })
}
