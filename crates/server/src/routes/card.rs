//! The report card of a model: defects, mending, splitting.

use super::meshes::Crease;
use super::off_thread;
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{JsonBody, Path, Query};
use crate::wire::MendPreview;
use axum::Json;
use axum::extract::State;
use varichrom_core::advice::intake::Split;
use varichrom_core::limits::check_crease;
use varichrom_core::mesh::DefectKind;
use varichrom_core::model::{DefectPlace, Mending};

/// Where the defects of one kind are.
#[utoipa::path(get, path = "/api/jobs/{id}/models/{model}/defects/{kind}", responses((status = 200, body = Vec<DefectPlace>), (status = 404)))]
pub(crate) async fn defects(
    State(app): State<AppState>,
    Path((id, model, kind)): Path<(i32, usize, DefectKind)>,
) -> Result<Json<Vec<DefectPlace>>, ApiError> {
    off_thread(move || app.workshop.session(id)?.defect_places(model, kind))
        .await
        .map(Json)
}

/// What a mending would do.
#[utoipa::path(post, path = "/api/jobs/{id}/models/{model}/mend-preview", request_body = Mending, responses((status = 200, body = MendPreview), (status = 404), (status = 422)))]
pub(crate) async fn mend_preview(
    State(app): State<AppState>,
    Path((id, model)): Path<(i32, usize)>,
    JsonBody(mending): JsonBody<Mending>,
) -> Result<Json<MendPreview>, ApiError> {
    off_thread(move || app.workshop.session(id)?.mend_preview(model, &mending))
        .await
        .map(Json)
}

/// Whether a model can be split, and which way of colouring suits it.
#[utoipa::path(get, path = "/api/jobs/{id}/models/{model}/split", params(Crease), responses((status = 200, body = Split), (status = 404), (status = 422)))]
pub(crate) async fn split(
    State(app): State<AppState>,
    Path((id, model)): Path<(i32, usize)>,
    Query(Crease { crease }): Query<Crease>,
) -> Result<Json<Split>, ApiError> {
    check_crease(crease, "crease")?;
    off_thread(move || app.workshop.session(id)?.split(model, crease))
        .await
        .map(Json)
}
