//! The one place where failures become HTTP answers.

use axum::Json;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use varichrom_core::{Problem, ProblemSort};

/// Anything a call can fail with. Answered as `{code, message, where, mend}`.
#[derive(Debug, thiserror::Error)]
pub enum ApiError {
    /// The maker can act on it: 4xx.
    #[error("{0}")]
    Refused(Problem),
    /// No such job, model, layer or file: 404.
    #[error("{0} was not found")]
    NotFound(&'static str),
    /// There is something at this address, but not to be called like this: 405.
    #[error("no such method")]
    NoSuchMethod,
    /// The call comes from where it must not: 403.
    #[error("the call was not let in: {0}")]
    NotLetIn(&'static str),
    /// The caller is known, but this is for others to do: 403.
    #[error("the caller may not do this")]
    MayNot,
    /// There is too much going on: 503 with the time after which to try again.
    #[error("{why}")]
    TryAgain {
        /// What there is too much of.
        why: &'static str,
        /// Seconds after which it may be tried again.
        again_s: u64,
    },
    /// It took longer than anybody waits: 504.
    #[error("it took too long")]
    TooLong,
    /// The database failed: 500; details are only logged.
    #[error("the database failed: {0}")]
    Store(#[from] diesel::result::Error),
    /// No database connection could be had: 500.
    #[error("no database connection: {0}")]
    Pool(#[from] diesel::r2d2::PoolError),
    /// A fault of ours: 500; details are only logged.
    #[error("internal fault: {0}")]
    Internal(String),
}

impl From<Problem> for ApiError {
    fn from(p: Problem) -> Self {
        ApiError::Refused(p)
    }
}

impl IntoResponse for ApiError {
    fn into_response(self) -> Response {
        let again_s = match &self {
            ApiError::TryAgain { again_s, .. } => Some(*again_s),
            _ => None,
        };
        let (status, problem) = self.told();
        let again = again_s.map(|s| [(header::RETRY_AFTER, s.to_string())]);
        (status, again, Json(problem)).into_response()
    }
}

impl ApiError {
    /// The status it is answered with, and what is said.
    pub(crate) fn told(self) -> (StatusCode, Problem) {
        match self {
            ApiError::Refused(problem) => {
                let status = match problem.sort {
                    ProblemSort::TooLarge => StatusCode::PAYLOAD_TOO_LARGE,
                    ProblemSort::Outdated => StatusCode::CONFLICT,
                    ProblemSort::Refused | ProblemSort::Stopped => StatusCode::UNPROCESSABLE_ENTITY,
                };
                (status, problem)
            }
            ApiError::NotFound(what) => (
                StatusCode::NOT_FOUND,
                Problem::new(
                    "not-found",
                    format!("There is no such {what}"),
                    "",
                    "Go back to the shelf; it may have been deleted.",
                ),
            ),
            ApiError::NoSuchMethod => (
                StatusCode::METHOD_NOT_ALLOWED,
                Problem::new(
                    "no-such-method",
                    "This address cannot be called like this",
                    "",
                    "Look up the calls in /api/openapi.json.",
                ),
            ),
            ApiError::NotLetIn(why) => (
                StatusCode::FORBIDDEN,
                Problem::new(
                    "not-let-in",
                    format!("The call was not let in: {why}"),
                    "",
                    "Open Varichrom by the address it printed when it started.",
                ),
            ),
            ApiError::MayNot => (
                StatusCode::FORBIDDEN,
                Problem::new(
                    "may-not",
                    "This is for others to do",
                    "",
                    "Ask somebody who keeps the workshop for leave.",
                ),
            ),
            ApiError::TryAgain { why, again_s } => {
                let mend = format!("Try again in {again_s} s.");
                (
                    StatusCode::SERVICE_UNAVAILABLE,
                    Problem::new("try-again", why, "", mend),
                )
            }
            ApiError::TooLong => (
                StatusCode::GATEWAY_TIMEOUT,
                Problem::new(
                    "too-long",
                    "It took too long, so the answer was given up",
                    "",
                    "Look whether it was done, then ask for less at a time.",
                ),
            ),
            ApiError::Store(_) | ApiError::Pool(_) | ApiError::Internal(_) => {
                tracing::error!("{self}");
                (
                    StatusCode::INTERNAL_SERVER_ERROR,
                    Problem::new(
                        "internal",
                        "Something went wrong inside Varichrom; the job is as before",
                        "",
                        "Try again; if it stays, restart Varichrom and look at what it printed.",
                    ),
                )
            }
        }
    }
}
