//! What calls carry, with refusals that say `{code, message, where, mend}` like all others.

use crate::error::ApiError;
use axum::Json;
use axum::extract::rejection::JsonRejection;
use axum::extract::{FromRequest, FromRequestParts, Request};
use axum::http::request::Parts;
use serde::de::DeserializeOwned;
use varichrom_core::Problem;

/// The body of a call, as JSON.
pub(crate) struct JsonBody<T>(pub(crate) T);

impl<T: DeserializeOwned, S: Send + Sync> FromRequest<S> for JsonBody<T> {
    type Rejection = ApiError;

    async fn from_request(request: Request, state: &S) -> Result<Self, ApiError> {
        match Json::<T>::from_request(request, state).await {
            Ok(Json(body)) => Ok(JsonBody(body)),
            Err(rejection) => Err(refused(&rejection)),
        }
    }
}

fn refused(rejection: &JsonRejection) -> ApiError {
    let (code, message, mend) = match rejection {
        JsonRejection::JsonSyntaxError(e) => (
            "json-unreadable",
            format!("The call is not sound JSON: {}", last_words(&e.body_text())),
            "Send JSON.",
        ),
        JsonRejection::JsonDataError(e) => (
            "json-unknown",
            format!(
                "The call says something unknown: {}",
                last_words(&e.body_text())
            ),
            "Send the fields that /api/openapi.json names, with values of their kind.",
        ),
        JsonRejection::MissingJsonContentType(_) => (
            "json-expected",
            "The call does not say that it is JSON".into(),
            "Send it as application/json.",
        ),
        other => (
            "body-unreadable",
            format!("The call cannot be read: {}", other.body_text()),
            "Send it again; if it is large, in smaller parts.",
        ),
    };
    Problem::new(code, message, "body", mend).into()
}

/// What the reader said, without the library's own preface.
fn last_words(text: &str) -> String {
    text.split_once(": ")
        .map_or(text, |(_, said)| said)
        .to_string()
}

/// What stands in the address of a call.
pub(crate) struct Path<T>(pub(crate) T);

impl<T: DeserializeOwned + Send, S: Send + Sync> FromRequestParts<S> for Path<T> {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, ApiError> {
        match axum::extract::Path::<T>::from_request_parts(parts, state).await {
            Ok(axum::extract::Path(path)) => Ok(Path(path)),
            Err(rejection) => {
                let message = format!(
                    "The address does not fit: {}",
                    last_words(&rejection.body_text())
                );
                let mend = "Use an address as /api/openapi.json has it.";
                Err(Problem::new("address-unreadable", message, "address", mend).into())
            }
        }
    }
}

/// What follows the question mark of a call's address.
pub(crate) struct Query<T>(pub(crate) T);

impl<T: DeserializeOwned, S: Send + Sync> FromRequestParts<S> for Query<T> {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, ApiError> {
        match axum::extract::Query::<T>::from_request_parts(parts, state).await {
            Ok(axum::extract::Query(query)) => Ok(Query(query)),
            Err(rejection) => {
                let message = format!(
                    "The question does not fit: {}",
                    last_words(&rejection.body_text())
                );
                let mend = "Use the names and kinds of values that /api/openapi.json has.";
                Err(Problem::new("query-unreadable", message, "query", mend).into())
            }
        }
    }
}
