//! Files to hand over.

use super::{Asking, off_thread};
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{Path, Query};
use crate::services::stem;
use crate::wire::BodiesView;
use axum::Json;
use axum::extract::State;
use axum::http::header;
use axum::response::IntoResponse;
use serde::{Deserialize, Serialize};
use std::sync::atomic::Ordering;
use varichrom_core::handover::{BodyDepth, Compared, Output, OutputKind, exact_bodies, plan_csv};
use varichrom_core::job::Job;

/// How colour on the surface goes out in `parts.zip`.
#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
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

/// One of the files of [`Output::ALL`]: `print.gcode`, `print.zip`, `model.3mf`, `parts.zip`, `plan.json`, `swaps.csv`, `edits.json`, `recipe.json` or `project.zip`.
#[utoipa::path(get, path = "/api/jobs/{id}/files/{file}", params(AskBodies), responses((status = 200), (status = 404), (status = 409)))]
pub(crate) async fn file(
    State(app): State<AppState>,
    Path((id, file)): Path<(i32, String)>,
    Query(ask): Query<AskBodies>,
) -> Result<impl IntoResponse, ApiError> {
    let asking = Asking::default();
    let is_wanted = asking.flag();
    let output = Output::of_file(&file).ok_or(ApiError::NotFound("file"))?;
    let (name, bytes) = off_thread(move || {
        let session = app.workshop.session(id)?;
        let stem = session.with_job(stem);
        let mut name = format!("{stem}-{file}");
        let bytes = match output.kind {
            OutputKind::Print => {
                let files = session.print_files(&app.workshop, &is_wanted)?;
                let only = files.single()?;
                name.clone_from(&only.name);
                let released = session.released(&app.workshop)?;
                only.taken(released.as_deref()).into_bytes()
            }
            OutputKind::PrintZip => {
                let files = session.print_files(&app.workshop, &is_wanted)?;
                let job = session.with_job(Job::clone);
                let exact = exact_bodies(&job, &|_| is_wanted.load(Ordering::Relaxed))?;
                let compared = Compared {
                    model: job.threemf(&app.workshop.rack()?)?,
                    bodies: exact.as_ref(),
                };
                let released = session.released(&app.workshop)?;
                files.zipped(&job, compared, released.as_deref())?
            }
            OutputKind::Model => {
                let rack = app.workshop.rack()?;
                session.with_job(Job::clone).threemf(&rack)?
            }
            OutputKind::Obj => {
                let rack = app.workshop.rack()?;
                session.with_job(Job::clone).obj(&rack)?
            }
            OutputKind::Ply => {
                let rack = app.workshop.rack()?;
                session.with_job(Job::clone).ply(&rack)?
            }
            OutputKind::Vrml => {
                let rack = app.workshop.rack()?;
                session.with_job(Job::clone).vrml(&rack)?
            }
            OutputKind::Bodies => session.parts_zip(ask.depth, &is_wanted)?,
            OutputKind::Plan => session.plan_json(&app.workshop)?.into_bytes(),
            OutputKind::Swaps => plan_csv(&*session.ready_plan()?).into_bytes(),
            OutputKind::Edits => json(&session.recipe(&app.workshop)?.bare())?,
            OutputKind::Recipe => json(&session.recipe(&app.workshop)?)?,
            OutputKind::Project => session.project(&app.workshop)?,
        };
        Ok((name, bytes))
    })
    .await?;
    let disposition = format!("attachment; filename=\"{name}\"");
    Ok((
        [
            (header::CONTENT_TYPE, output.media.to_string()),
            (header::CONTENT_DISPOSITION, disposition),
        ],
        bytes,
    ))
}

fn json(value: &impl Serialize) -> Result<Vec<u8>, ApiError> {
    serde_json::to_vec_pretty(value).map_err(|e| ApiError::Internal(e.to_string()))
}
