//! Who may call: the right host, the right origin, and a token when the server is reachable from elsewhere.

use crate::app::Config;
use crate::error::ApiError;
use axum::extract::{Request, State};
use axum::http::{HeaderMap, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use std::sync::Arc;

/// What a call is measured against.
#[derive(Clone)]
pub(crate) struct Guard {
    /// Host names a call may be addressed to; empty means any (then the token decides).
    hosts: Vec<String>,
    token: Option<String>,
}

impl Guard {
    pub(crate) fn new(config: &Config) -> Guard {
        let is_local = config.address.is_loopback();
        let hosts = ["localhost", "127.0.0.1", "[::1]"].map(String::from);
        Guard {
            hosts: if is_local { hosts.to_vec() } else { Vec::new() },
            token: (!is_local).then(|| config.token.clone()).flatten(),
        }
    }

    fn check(&self, headers: &HeaderMap, query: &str) -> Result<(), ApiError> {
        let text = |name| headers.get(name).and_then(|v| v.to_str().ok());
        let host = text(header::HOST).unwrap_or_default();
        if !self.hosts.is_empty() && !self.hosts.iter().any(|h| h == name_of(host)) {
            return Err(ApiError::NotLetIn("it is addressed to another host"));
        }
        // A page of another site may not call, even from this machine's browser.
        if let Some(origin) = text(header::ORIGIN) {
            let from = origin.split_once("://").map_or(origin, |(_, rest)| rest);
            if from != host {
                return Err(ApiError::NotLetIn("it comes from another site"));
            }
        }
        if let Some(token) = &self.token {
            let bearer = text(header::AUTHORIZATION).and_then(|a| a.strip_prefix("Bearer "));
            let cookie = text(header::COOKIE).into_iter().flat_map(|c| c.split("; "));
            let in_cookie = cookie
                .filter_map(|c| c.strip_prefix("varichrom="))
                .any(|t| t == token);
            let in_query = query
                .split('&')
                .any(|p| p.strip_prefix("token=") == Some(token));
            if bearer != Some(token) && !in_cookie && !in_query {
                return Err(ApiError::NotLetIn("the token is missing or wrong"));
            }
        }
        Ok(())
    }
}

/// Host name without its port.
fn name_of(host: &str) -> &str {
    match host.rsplit_once(':') {
        Some((name, port)) if port.bytes().all(|b| b.is_ascii_digit()) => name,
        _ => host,
    }
}

/// Lets a call through or answers 403. A good token in the address is kept as a cookie for the calls that follow.
pub(crate) async fn guard(
    State(guard): State<Arc<Guard>>,
    request: Request,
    next: Next,
) -> Response {
    let query = request.uri().query().unwrap_or_default().to_string();
    if let Err(refused) = guard.check(request.headers(), &query) {
        return refused.into_response();
    }
    let mut response = next.run(request).await;
    if let Some(token) = guard.token.as_ref().filter(|_| query.contains("token=")) {
        let cookie = format!("varichrom={token}; HttpOnly; SameSite=Strict; Path=/");
        if let Ok(value) = cookie.parse() {
            response.headers_mut().insert(header::SET_COOKIE, value);
        }
    }
    response
}
