//! What every answer says to the browser that shows it.

use axum::extract::Request;
use axum::http::HeaderValue;
use axum::http::header::{self, HeaderName};
use axum::middleware::Next;
use axum::response::Response;

/// Only what the server itself sends runs, shows or is called. Styles may stand in the page: parts of the user interface
/// library write some as they open; scripts may not.
const POLICY: &str = "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' blob: data:; \
    font-src 'self'; connect-src 'self'; worker-src 'self' blob:; manifest-src 'self'; base-uri 'none'; form-action 'self'; \
    frame-ancestors 'none'";

/// Puts the headers on; calls' answers are kept nowhere.
pub(crate) async fn headers(request: Request, next: Next) -> Response {
    let is_call = request.uri().path().starts_with("/api/");
    let mut response = next.run(request).await;
    let all = [
        (header::CONTENT_SECURITY_POLICY, POLICY),
        (header::X_CONTENT_TYPE_OPTIONS, "nosniff"),
        (header::X_FRAME_OPTIONS, "DENY"),
        (header::REFERRER_POLICY, "no-referrer"),
        (
            HeaderName::from_static("cross-origin-opener-policy"),
            "same-origin",
        ),
        (
            HeaderName::from_static("cross-origin-resource-policy"),
            "same-origin",
        ),
    ];
    let said = response.headers_mut();
    for (name, value) in all {
        said.insert(name, HeaderValue::from_static(value));
    }
    if is_call {
        let none = HeaderValue::from_static("no-store");
        said.entry(header::CACHE_CONTROL).or_insert(none);
    }
    response
}
