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
use reqwest::RequestBuilder;
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
    let call = app
        .printers
        .put(line.url(&format!("print?name={name}")))
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
    Ok(Json(
        said(app.printers.get(line.url("print")), &line).await?,
    ))
}

/// A person has done what the printer asked for.
#[utoipa::path(post, path = "/api/jobs/{id}/sent/answer", request_body = Answer, responses((status = 200, body = SentView), (status = 404), (status = 422)))]
pub(crate) async fn answer(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    JsonBody(answer): JsonBody<Answer>,
) -> Result<Json<SentView>, ApiError> {
    let line = line(&app, id).await?;
    let call = app.printers.post(line.url("print/answer")).json(&answer);
    Ok(Json(said(call, &line).await?))
}

/// Has the printer stop.
#[utoipa::path(delete, path = "/api/jobs/{id}/sent", responses((status = 204), (status = 404), (status = 422)))]
pub(crate) async fn cancel(
    State(app): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, ApiError> {
    let line = line(&app, id).await?;
    let call = line.with_key(app.printers.delete(line.url("print")));
    let answer = call.send().await;
    if let Ok(Some(problem)) = answer.as_ref().map(|a| line.refused(a.status())) {
        return Err(problem.into());
    }
    match answer.is_ok_and(|a| a.status().is_success()) {
        true => Ok(StatusCode::NO_CONTENT),
        false => Err(silent(&line.address, "it does not say that it stopped").into()),
    }
}

async fn line(app: &AppState, id: i32) -> Result<PrinterLine, ApiError> {
    let workshop = app.workshop.clone();
    off_thread(move || workshop.session(id)?.printer_line(&workshop)).await
}

fn silent(address: &str, what: &str) -> Problem {
    Problem::new(
        "printer-silent",
        format!("The printer at {address} does not answer: {what}"),
        "address",
        "See that it is switched on and on this network, then try again.",
    )
}

/// What the printer says to a call; its own refusal is passed on in its words.
async fn said(call: RequestBuilder, line: &PrinterLine) -> Result<SentView, ApiError> {
    let address = &line.address;
    let mut answer = line
        .with_key(call)
        .send()
        .await
        .map_err(|e| match e.is_timeout() {
            true => silent(address, "it took too long"),
            false => silent(address, "nobody is there"),
        })?;
    if let Some(problem) = line.refused(answer.status()) {
        return Err(problem.into());
    }
    let is_fine = answer.status().is_success();
    let mut bytes = Vec::new();
    while let Some(chunk) = answer
        .chunk()
        .await
        .map_err(|_| silent(address, "it broke off"))?
    {
        if bytes.len() + chunk.len() > LARGEST_ANSWER {
            return Err(silent(address, "it never stops").into());
        }
        bytes.extend_from_slice(&chunk);
    }
    if is_fine {
        let view = serde_json::from_slice(&bytes);
        return view.map_err(|_| silent(address, "it says something that is no answer").into());
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
        Err(_) => silent(address, "it refuses without a word").into(),
    })
}
