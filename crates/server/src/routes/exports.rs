//! Files to hand over.

use super::{Asking, off_thread};
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{Path, Query};
use crate::wire::BodiesView;
use axum::Json;
use axum::extract::State;
use axum::http::header;
use axum::response::IntoResponse;
use serde::Deserialize;
use varichrom_core::handover::{BodyDepth, plan_csv};
use varichrom_core::job::Job;

/// How colour on the surface goes out in `parts.zip`.
#[derive(Deserialize, utoipa::IntoParams)]
pub(crate) struct AskBodies {
    /// As deep as it soaks if left out.
    #[serde(default)]
    depth: BodyDepth,
}

/// The closed bodies that `parts.zip` would hold.
#[utoipa::path(get, path = "/api/jobs/{id}/bodies", params(AskBodies), responses((status = 200, body = BodiesView), (status = 422)))]
pub(crate) async fn bodies(
    State(app): State<AppState>,
    Path(id): Path<i32>,
    Query(ask): Query<AskBodies>,
) -> Result<Json<BodiesView>, ApiError> {
    let asking = Asking::default();
    let is_wanted = asking.flag();
    off_thread(move || app.workshop.session(id)?.bodies(ask.depth, &is_wanted))
        .await
        .map(Json)
}

/// A file: `model.3mf`, `parts.zip`, `plan.json`, `swaps.csv`, `edits.json`, `recipe.json` or `project.zip`.
#[utoipa::path(get, path = "/api/jobs/{id}/files/{file}", params(AskBodies), responses((status = 200), (status = 404), (status = 409)))]
pub(crate) async fn file(
    State(app): State<AppState>,
    Path((id, file)): Path<(i32, String)>,
    Query(ask): Query<AskBodies>,
) -> Result<impl IntoResponse, ApiError> {
    let asking = Asking::default();
    let is_wanted = asking.flag();
    let (kind, name, bytes) = off_thread(move || {
        let session = app.workshop.session(id)?;
        let stem = session.with_job(|job| ascii_stem(&job.name));
        let (kind, bytes) = match file.as_str() {
            "model.3mf" => ("model/3mf", {
                let rack = app.workshop.rack()?;
                session.with_job(Job::clone).threemf(&rack)?
            }),
            "parts.zip" => ("application/zip", session.parts_zip(ask.depth, &is_wanted)?),
            "plan.json" => (
                "application/json",
                session.plan_json(&app.workshop)?.into_bytes(),
            ),
            "swaps.csv" => (
                "text/csv; charset=utf-8",
                plan_csv(&*session.ready_plan()?).into_bytes(),
            ),
            "edits.json" => {
                let text = serde_json::to_vec_pretty(&session.recipe(&app.workshop)?.bare());
                (
                    "application/json",
                    text.map_err(|e| ApiError::Internal(e.to_string()))?,
                )
            }
            "recipe.json" => {
                let text = serde_json::to_vec_pretty(&session.recipe(&app.workshop)?);
                (
                    "application/json",
                    text.map_err(|e| ApiError::Internal(e.to_string()))?,
                )
            }
            "project.zip" => ("application/zip", session.project(&app.workshop)?),
            _ => return Err(ApiError::NotFound("file")),
        };
        Ok((kind, format!("{stem}-{file}"), bytes))
    })
    .await?;
    let disposition = format!("attachment; filename=\"{name}\"");
    Ok((
        [
            (header::CONTENT_TYPE, kind.to_string()),
            (header::CONTENT_DISPOSITION, disposition),
        ],
        bytes,
    ))
}

/// A job's name in the letters that every file system and header takes.
fn ascii_stem(name: &str) -> String {
    let mut out = String::new();
    for c in name.chars().take(60) {
        if c.is_ascii_alphanumeric() {
            out.push(c.to_ascii_lowercase());
        } else if !out.ends_with('-') && !out.is_empty() {
            out.push('-');
        }
    }
    let out = out.trim_end_matches('-');
    if out.is_empty() {
        "job".into()
    } else {
        out.into()
    }
}
