//! Meshes, labels and patches as binary.

use super::off_thread;
use crate::app::AppState;
use crate::error::ApiError;
use crate::extract::{Path, Query};
use axum::extract::State;
use axum::http::header;
use axum::response::IntoResponse;
use serde::Deserialize;
use varichrom_core::handover::{mesh_bytes, partition_bytes};
use varichrom_core::limits::check_crease;

pub(super) const BINARY: (header::HeaderName, &str) =
    (header::CONTENT_TYPE, "application/octet-stream");

/// A model's mesh, format `VCM1`.
#[utoipa::path(get, path = "/api/jobs/{id}/models/{model}/mesh", responses((status = 200, content_type = "application/octet-stream"), (status = 404)))]
pub(crate) async fn mesh(
    State(app): State<AppState>,
    Path((id, model)): Path<(i32, usize)>,
) -> Result<impl IntoResponse, ApiError> {
    let bytes =
        off_thread(move || Ok(mesh_bytes(&*app.workshop.session(id)?.model(model)?))).await?;
    Ok(([BINARY], bytes))
}

/// Region number of every facet as u16, 65535 for a divided one; the header `x-revision` says of which revision.
#[utoipa::path(get, path = "/api/jobs/{id}/models/{model}/labels", responses((status = 200, content_type = "application/octet-stream"), (status = 404)))]
pub(crate) async fn labels(
    State(app): State<AppState>,
    Path((id, model)): Path<(i32, usize)>,
) -> Result<impl IntoResponse, ApiError> {
    let (revision, labels) = off_thread(move || app.workshop.session(id)?.labels(model)).await?;
    let bytes: Vec<u8> = labels.iter().flat_map(|l| l.to_le_bytes()).collect();
    let revision = (
        header::HeaderName::from_static("x-revision"),
        revision.to_string(),
    );
    Ok(([BINARY], [revision], bytes))
}

/// The divided facets of a model, format `VCD1`; the header `x-revision` says of which revision.
#[utoipa::path(get, path = "/api/jobs/{id}/models/{model}/divisions", responses((status = 200, content_type = "application/octet-stream"), (status = 404)))]
pub(crate) async fn divisions(
    State(app): State<AppState>,
    Path((id, model)): Path<(i32, usize)>,
) -> Result<impl IntoResponse, ApiError> {
    let (revision, bytes) = off_thread(move || app.workshop.session(id)?.divisions(model)).await?;
    let revision = (
        header::HeaderName::from_static("x-revision"),
        revision.to_string(),
    );
    Ok(([BINARY], [revision], bytes))
}

#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct Crease {
    /// Crease angle in degrees, 1 to 90.
    pub(super) crease: f64,
}

/// The patches of a model at a crease angle, format `VCP1`.
#[utoipa::path(get, path = "/api/jobs/{id}/models/{model}/patches", params(Crease), responses((status = 200, content_type = "application/octet-stream"), (status = 404), (status = 422)))]
pub(crate) async fn patches(
    State(app): State<AppState>,
    Path((id, model)): Path<(i32, usize)>,
    Query(Crease { crease }): Query<Crease>,
) -> Result<impl IntoResponse, ApiError> {
    check_crease(crease, "crease")?;
    let bytes = off_thread(move || {
        let open = app.workshop.session(id)?.model(model)?;
        let partition = open.creases().partition(&open.topology, crease);
        Ok(partition_bytes(&open, &partition))
    })
    .await?;
    Ok(([BINARY], bytes))
}
