//! The server put together: state, routes, and the layers every call goes through, outermost last.

use crate::assets::front_end;
use crate::guard::{Guard, guard};
use crate::routes::{
    card, colouring, events, exports, jobs, load, meshes, parts, plans, rack, staged,
};
use crate::services::Workshop;
use axum::Router;
use axum::extract::DefaultBodyLimit;
use axum::routing::{delete, get, post};
use std::net::{IpAddr, Ipv4Addr, SocketAddr};
use std::sync::Arc;
use std::time::Duration;
use tokio::net::TcpListener;
use tower_http::compression::CompressionLayer;
use tower_http::compression::predicate::{NotForContentType, Predicate, SizeAbove};
use tower_http::trace::TraceLayer;
use utoipa::OpenApi;

/// How the server runs.
#[derive(Debug, Clone)]
pub struct Config {
    /// Address to listen on; anything but loopback needs a token.
    pub address: IpAddr,
    /// Port; 0 picks a free one.
    pub port: u16,
    /// Needed by every call when the address is not loopback.
    pub token: Option<String>,
    /// Largest model file in bytes.
    pub largest_file: usize,
}

impl Default for Config {
    fn default() -> Self {
        Config {
            address: IpAddr::V4(Ipv4Addr::LOCALHOST),
            port: 7360,
            token: None,
            largest_file: 512 * 1024 * 1024,
        }
    }
}

/// What every route gets.
#[derive(Clone)]
pub(crate) struct AppState {
    pub(crate) workshop: Arc<Workshop>,
    pub(crate) largest_file: usize,
    /// Asks printers.
    pub(crate) printers: reqwest::Client,
}

/// A printer that takes longer is silent.
const LONGEST_ANSWER: Duration = Duration::from_secs(3);

/// Asks printers only where their address says: no other way round, and not for long.
fn printer_client() -> reqwest::Client {
    reqwest::Client::builder()
        .timeout(LONGEST_ANSWER)
        .redirect(reqwest::redirect::Policy::none())
        .no_proxy()
        .build()
        .unwrap_or_default()
}

#[derive(OpenApi)]
#[openapi(
    info(
        title = "Varichrom",
        description = "Divide a mesh into colour regions and plan the print."
    ),
    paths(
        jobs::list,
        jobs::import,
        jobs::show,
        jobs::delete,
        jobs::edit,
        jobs::edits,
        jobs::stop_edit,
        jobs::undo,
        jobs::redo,
        staged::stage,
        staged::show,
        staged::forget,
        staged::assemble,
        staged::add,
        staged::revise,
        card::defects,
        card::mend_preview,
        card::split,
        meshes::mesh,
        meshes::labels,
        meshes::divisions,
        colouring::preview,
        colouring::strays,
        colouring::steps,
        colouring::stand,
        colouring::replay,
        colouring::palettes,
        colouring::set_palettes,
        colouring::desk,
        colouring::set_desk,
        meshes::patches,
        parts::meetings,
        parts::stop_meetings,
        parts::shared,
        parts::try_parts,
        parts::depths,
        plans::show,
        plans::stop,
        plans::start,
        plans::layer,
        plans::sheet,
        plans::snags,
        plans::snag_facets,
        plans::ways,
        plans::stop_trials,
        plans::calibrate,
        plans::known_time,
        exports::bodies,
        exports::file,
        rack::show,
        rack::change,
        rack::usual,
        rack::export,
        rack::import,
        rack::printers,
        rack::change_printers,
        load::show,
        load::ask,
        load::use_loaded,
        load::mixture,
        load::printed,
        load::not_printed,
        events::events
    )
)]
struct Api;

/// The OpenAPI document, also served at `/api/openapi.json`.
pub fn openapi_json() -> String {
    Api::openapi().to_pretty_json().unwrap_or_default()
}

/// The router with all layers.
pub fn router(workshop: Arc<Workshop>, config: &Config) -> Router {
    let state = AppState {
        workshop,
        largest_file: config.largest_file,
        printers: printer_client(),
    };
    // Edits are small; the import route reads its own body with the file limit.
    const LARGEST_EDIT: usize = 1024 * 1024;
    const LARGEST_RECIPE: usize = 16 * 1024 * 1024;
    let compressed = SizeAbove::new(1024).and(NotForContentType::const_new("text/event-stream"));
    Router::new()
        .route("/api/jobs", get(jobs::list).post(jobs::import))
        .route("/api/staged", post(staged::stage))
        .route("/api/staged/{id}", get(staged::show).delete(staged::forget))
        .route("/api/jobs/assemble", post(staged::assemble))
        .route("/api/jobs/{id}/models", post(staged::add))
        .route("/api/jobs/{id}/models/{model}/revise", post(staged::revise))
        .route(
            "/api/jobs/{id}/models/{model}/defects/{kind}",
            get(card::defects),
        )
        .route(
            "/api/jobs/{id}/models/{model}/mend-preview",
            post(card::mend_preview),
        )
        .route("/api/jobs/{id}/models/{model}/split", get(card::split))
        .route("/api/jobs/{id}", delete(jobs::delete).get(jobs::show))
        .route("/api/jobs/{id}/edits", get(jobs::edits).post(jobs::edit))
        .route("/api/jobs/{id}/edits/stop", post(jobs::stop_edit))
        .route("/api/jobs/{id}/undo", post(jobs::undo))
        .route("/api/jobs/{id}/redo", post(jobs::redo))
        .route("/api/jobs/{id}/models/{model}/mesh", get(meshes::mesh))
        .route("/api/jobs/{id}/models/{model}/labels", get(meshes::labels))
        .route(
            "/api/jobs/{id}/models/{model}/patches",
            get(meshes::patches),
        )
        .route(
            "/api/jobs/{id}/models/{model}/divisions",
            get(meshes::divisions),
        )
        .route("/api/jobs/{id}/preview", post(colouring::preview))
        .route("/api/jobs/{id}/strays", get(colouring::strays))
        .route("/api/jobs/{id}/steps", get(colouring::steps))
        .route("/api/jobs/{id}/stand", post(colouring::stand))
        .route(
            "/api/jobs/{id}/replay",
            post(colouring::replay).layer(DefaultBodyLimit::max(LARGEST_RECIPE)),
        )
        .route(
            "/api/jobs/{id}/desk",
            get(colouring::desk)
                .put(colouring::set_desk)
                .layer(DefaultBodyLimit::max(LARGEST_RECIPE)),
        )
        .route(
            "/api/palettes",
            get(colouring::palettes).put(colouring::set_palettes),
        )
        .route("/api/jobs/{id}/parts/meetings", get(parts::meetings))
        .route(
            "/api/jobs/{id}/parts/meetings/stop",
            post(parts::stop_meetings),
        )
        .route(
            "/api/jobs/{id}/parts/shared/{first}/{second}",
            get(parts::shared),
        )
        .route("/api/jobs/{id}/parts/try", post(parts::try_parts))
        .route("/api/jobs/{id}/regions/{region}/depths", get(parts::depths))
        .route("/api/jobs/{id}/plan", get(plans::show))
        .route("/api/jobs/{id}/plan/stop", post(plans::stop))
        .route("/api/jobs/{id}/plan/start", post(plans::start))
        .route("/api/jobs/{id}/plan/sheet", get(plans::sheet))
        .route("/api/jobs/{id}/plan/snags", get(plans::snags))
        .route(
            "/api/jobs/{id}/plan/snags/{snag}/facets",
            get(plans::snag_facets),
        )
        .route("/api/jobs/{id}/plan/ways", get(plans::ways))
        .route("/api/jobs/{id}/plan/trials/stop", post(plans::stop_trials))
        .route("/api/jobs/{id}/plan/calibrate", post(plans::calibrate))
        .route("/api/jobs/{id}/plan/known-time", post(plans::known_time))
        .route("/api/jobs/{id}/layers/{layer}", get(plans::layer))
        .route("/api/jobs/{id}/bodies", get(exports::bodies))
        .route("/api/jobs/{id}/files/{file}", get(exports::file))
        .route("/api/jobs/{id}/events", get(events::events))
        .route("/api/rack", get(rack::show).post(rack::change))
        .route("/api/rack/usual", post(rack::usual))
        .route("/api/rack/{file}", get(rack::export).post(rack::import))
        .route(
            "/api/printers",
            get(rack::printers).post(rack::change_printers),
        )
        .route("/api/jobs/{id}/load", get(load::show))
        .route("/api/jobs/{id}/load/ask", post(load::ask))
        .route("/api/jobs/{id}/load/use-loaded", post(load::use_loaded))
        .route("/api/jobs/{id}/load/mixture", post(load::mixture))
        .route("/api/jobs/{id}/load/printed", post(load::printed))
        .route(
            "/api/jobs/{id}/load/printed/{run}",
            delete(load::not_printed),
        )
        .route("/api/openapi.json", get(|| async { openapi_json() }))
        .fallback(front_end)
        .with_state(state)
        .layer(CompressionLayer::new().compress_when(compressed))
        .layer(DefaultBodyLimit::max(LARGEST_EDIT))
        .layer(axum::middleware::from_fn_with_state(
            Arc::new(Guard::new(config)),
            guard,
        ))
        .layer(TraceLayer::new_for_http())
}

/// Takes the address; the port it got is in the listener.
///
/// # Errors
/// A sentence, if the address is taken, or is not loopback and there is no token.
pub async fn bind(config: &Config) -> Result<TcpListener, String> {
    if !config.address.is_loopback() && config.token.as_deref().unwrap_or_default().is_empty() {
        return Err(format!(
            "{} can be reached from other machines: give a --token that every call must carry",
            config.address
        ));
    }
    let address = SocketAddr::new(config.address, config.port);
    TcpListener::bind(address)
        .await
        .map_err(|e| format!("{address} cannot be used ({e}); choose another --port"))
}

/// Serves until the process is told to stop.
///
/// # Errors
/// A sentence, if serving fails.
pub async fn serve(
    listener: TcpListener,
    workshop: Arc<Workshop>,
    config: &Config,
) -> Result<(), String> {
    // Nothing is lost by going at once: every acknowledged edit is on the disk, and event streams never end.
    tokio::select! {
        served = axum::serve(listener, router(workshop, config)) => served.map_err(|e| e.to_string()),
        _ = tokio::signal::ctrl_c() => Ok(()),
    }
}
