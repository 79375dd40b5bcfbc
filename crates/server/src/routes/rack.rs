//! The rack of spools.

use super::off_thread;
use crate::app::AppState;
use crate::error::ApiError;
use crate::wire::RackView;
use axum::Json;
use axum::extract::State;

/// The rack.
#[utoipa::path(get, path = "/api/rack", responses((status = 200, body = RackView)))]
pub(crate) async fn show(State(app): State<AppState>) -> Result<Json<RackView>, ApiError> {
    off_thread(move || {
        Ok(RackView {
            spools: app.workshop.rack()?,
        })
    })
    .await
    .map(Json)
}
