//! The server put together: state, routes, and the layers every call goes through, outermost last.

use crate::assets::front_end;
use crate::error::ApiError;
use crate::guard::{Guard, Person, SHORTEST_TOKEN, guard, headers};
use crate::routes::{calls, completed};
use crate::services::Workshop;
use crate::serving::{Counts, Tls, Uploads, counted, paced};
use axum::Router;
use axum::extract::{DefaultBodyLimit, Request};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use std::net::{IpAddr, Ipv4Addr, SocketAddr};
use std::sync::Arc;
use std::time::Duration;
use tokio::net::TcpListener;
use tower_http::compression::CompressionLayer;
use tower_http::compression::predicate::{NotForContentType, Predicate, SizeAbove};
use tower_http::request_id::{
    MakeRequestUuid, PropagateRequestIdLayer, RequestId, SetRequestIdLayer,
};
use tower_http::trace::TraceLayer;

/// How the server runs.
#[derive(Debug, Clone)]
pub struct Config {
    /// Address to listen on; anything but loopback needs a token.
    pub address: IpAddr,
    /// Port; 0 picks a free one.
    pub port: u16,
    /// Needed by every call, if there is one; an address that is not loopback needs one, or people.
    pub token: Option<String>,
    /// People with tokens of their own.
    pub people: Vec<Person>,
    /// Names under which the server is reached besides its own address, such as that of a proxy. With an address that is not
    /// loopback and none of these, any is taken.
    pub hosts: Vec<String>,
    /// What the program says it is.
    pub version: String,
    /// Certificate and key for secret connections.
    pub tls: Option<Tls>,
    /// Largest model file in bytes.
    pub largest_file: usize,
}

impl Default for Config {
    fn default() -> Self {
        Config {
            address: IpAddr::V4(Ipv4Addr::LOCALHOST),
            port: 7360,
            token: None,
            people: Vec::new(),
            hosts: Vec::new(),
            version: env!("CARGO_PKG_VERSION").into(),
            tls: None,
            largest_file: 512 * 1024 * 1024,
        }
    }
}

/// What every route gets.
#[derive(Clone)]
pub(crate) struct AppState {
    pub(crate) workshop: Arc<Workshop>,
    /// Bytes of files that are on their way in at a time.
    pub(crate) uploads: Uploads,
    /// What was counted since the start.
    pub(crate) counts: Arc<Counts>,
    pub(crate) version: Arc<str>,
}

/// The OpenAPI document, also served at `/api/openapi.json`.
pub fn openapi_json() -> String {
    let document = serde_json::to_value(calls().into_openapi()).unwrap_or_default();
    serde_json::to_string_pretty(&completed(document)).unwrap_or_default()
}

/// The router with all layers.
pub fn router(workshop: Arc<Workshop>, config: &Config) -> Router {
    let counts = Arc::new(Counts::default());
    let state = AppState {
        workshop,
        uploads: Uploads::new(config.largest_file),
        counts: counts.clone(),
        version: config.version.as_str().into(),
    };
    // Edits are small; the import route reads its own body with the file limit.
    const LARGEST_EDIT: usize = 1024 * 1024;
    let compressed = SizeAbove::new(1024).and(NotForContentType::const_new("text/event-stream"));
    let (calls, _) = calls().split_for_parts();
    calls
        .route("/api/openapi.json", get(|| async { openapi_json() }))
        .layer(axum::middleware::from_fn_with_state(counts, counted))
        .fallback(front_end)
        .method_not_allowed_fallback(|| async { ApiError::NoSuchMethod })
        .with_state(state)
        .layer(CompressionLayer::new().compress_when(compressed))
        .layer(DefaultBodyLimit::max(LARGEST_EDIT))
        .layer(axum::middleware::from_fn(paced))
        .layer(axum::middleware::from_fn_with_state(
            Arc::new(Guard::new(config)),
            guard,
        ))
        .layer(axum::middleware::from_fn(in_time))
        .layer(axum::middleware::from_fn(headers))
        .layer(TraceLayer::new_for_http().make_span_with(span))
        .layer(PropagateRequestIdLayer::x_request_id())
        .layer(SetRequestIdLayer::x_request_id(MakeRequestUuid))
}

/// What the log says of a call: its number stands in the answer's `x-request-id` too.
fn span(request: &Request) -> tracing::Span {
    let id = request.extensions().get::<RequestId>();
    let id = id
        .and_then(|id| id.header_value().to_str().ok())
        .unwrap_or("");
    tracing::debug_span!("call", method = %request.method(), path = request.uri().path(), id)
}

/// Answers a call that takes too long; its work goes on only as far as it does not ask whether anybody waits.
async fn in_time(request: Request, next: Next) -> Response {
    /// Longer than anything that a maker would wait for; uploads of large files over slow lines included.
    const LONGEST: Duration = Duration::from_secs(600);
    match tokio::time::timeout(LONGEST, next.run(request)).await {
        Ok(response) => response,
        Err(_) => ApiError::TooLong.into_response(),
    }
}

/// Takes the address; the port it got is in the listener.
///
/// # Errors
/// A sentence, if the address is taken, or is not loopback and there is no token.
pub async fn bind(config: &Config) -> Result<TcpListener, String> {
    let is_reached = !config.address.is_loopback();
    if is_reached && config.token.is_none() && config.people.is_empty() {
        return Err(format!(
            "{} can be reached from other machines: give a --token that every call must carry, or --people",
            config.address
        ));
    }
    let length = config.token.as_ref().map(|t| t.chars().count());
    if length == Some(0) || length.is_some_and(|l| is_reached && l < SHORTEST_TOKEN) {
        return Err(format!(
            "the token is short enough to be found by trying: give it {SHORTEST_TOKEN} characters or more"
        ));
    }
    let address = SocketAddr::new(config.address, config.port);
    TcpListener::bind(address)
        .await
        .map_err(|e| format!("{address} cannot be used ({e}); choose another --port"))
}
