//! The front end, built into the binary.

use axum::http::{StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};
use rust_embed::RustEmbed;

#[derive(RustEmbed)]
#[folder = "$CARGO_MANIFEST_DIR/../../web/dist"]
#[allow_missing = true]
struct Built;

/// A file of the front end; any other path that is not the API's gives the page, which routes by itself.
pub(crate) async fn front_end(uri: Uri) -> Response {
    let path = uri.path().trim_start_matches('/');
    if path.starts_with("api/") {
        return crate::error::ApiError::NotFound("call").into_response();
    }
    let is_asset = path.starts_with("assets/");
    let name = if Built::get(path).is_some() && !path.is_empty() {
        path
    } else {
        "index.html"
    };
    if is_asset && name == "index.html" {
        return StatusCode::NOT_FOUND.into_response();
    }
    let Some(file) = Built::get(name) else {
        let text = "The front end is not built into this binary. Run `cargo xtask demo`.";
        return (StatusCode::NOT_FOUND, text).into_response();
    };
    // Built assets carry a hash of their content in their name.
    let keep = if is_asset {
        "public, max-age=31536000, immutable"
    } else {
        "no-cache"
    };
    let kind = mime_guess::from_path(name).first_or_octet_stream();
    (
        [
            (header::CONTENT_TYPE, kind.as_ref()),
            (header::CACHE_CONTROL, keep),
        ],
        file.data,
    )
        .into_response()
}
