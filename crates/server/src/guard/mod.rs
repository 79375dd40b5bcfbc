//! Who may call: the right host, the right page, and a token where one is asked for.

mod headers;
mod people;
mod tokens;

pub(crate) use headers::headers;
pub(crate) use people::Caller;
pub use people::{May, Person, read_people};
pub use tokens::{SHORTEST_TOKEN, token_in_address};

use crate::app::Config;
use crate::error::ApiError;
use crate::serving::Peer;
use axum::extract::{Request, State};
use axum::http::{HeaderValue, Method, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use std::net::{IpAddr, Ipv4Addr};
use std::sync::Arc;
use tokens::{Known, Wrong};

/// What a call is measured against.
pub(crate) struct Guard {
    /// Host names a call may be addressed to; empty means any (then the token decides).
    hosts: Vec<String>,
    /// Those who are let in; empty means anybody.
    known: Known,
    wrong: Wrong,
    /// Whether callers come over TLS, so that the cookie never goes out without.
    is_secure: bool,
}

impl Guard {
    pub(crate) fn new(config: &Config) -> Guard {
        let own = match config.address {
            IpAddr::V4(own) => own.to_string(),
            IpAddr::V6(own) => format!("[{own}]"),
        };
        let named = config.hosts.iter().map(|h| h.to_ascii_lowercase());
        let mut hosts: Vec<String> = named.collect();
        if config.address.is_loopback() {
            hosts.extend(own_names());
        }
        if !hosts.is_empty() {
            hosts.push(own);
        }
        Guard {
            hosts,
            known: Known::new(config),
            wrong: Wrong::default(),
            is_secure: config.tls.is_some(),
        }
    }

    /// Who calls.
    ///
    /// # Errors
    /// If the call is addressed to another host, comes from a page of another site, or has no good token.
    fn check(&self, request: &Request, peer: IpAddr) -> Result<Caller, ApiError> {
        // Links of other sites may lead to the application's page, not to its calls.
        let is_call = request.uri().path().starts_with("/api/") || request.method() != Method::GET;
        check_from_here(request, &self.hosts, is_call)?;
        let caller =
            self.known
                .caller(request.headers(), request.uri().query(), peer, &self.wrong)?;
        caller.check_may(request.method(), request.uri().path())?;
        Ok(caller)
    }
}

/// Names of this very machine.
pub(crate) fn own_names() -> [String; 3] {
    ["localhost", "127.0.0.1", "[::1]"].map(String::from)
}

/// That a request is addressed to one of some hosts, in small letters, and comes from no page of another site; one that is no
/// call may follow a link of another site. No hosts mean any.
///
/// # Errors
/// Which of both is not so.
pub(crate) fn check_from_here(
    request: &Request,
    hosts: &[String],
    is_call: bool,
) -> Result<(), ApiError> {
    let host = one_host(request)?;
    let name = name_of(host).to_ascii_lowercase();
    if !hosts.is_empty() && !hosts.contains(&name) {
        return Err(ApiError::NotLetIn("it is addressed to another host"));
    }
    let text = |name| {
        let value = request.headers().get(name);
        value.and_then(|v: &HeaderValue| v.to_str().ok())
    };
    // A page of another site may not call, even from this machine's browser.
    if let Some(origin) = text(header::ORIGIN) {
        let from = origin.split_once("://").map_or(origin, |(_, rest)| rest);
        if from != host {
            return Err(ApiError::NotLetIn("it comes from another site"));
        }
    }
    // Pictures and forms of another site send no origin, but browsers say where they stand.
    let site = text(header::HeaderName::from_static("sec-fetch-site"));
    if is_call && matches!(site, Some("cross-site" | "same-site")) {
        return Err(ApiError::NotLetIn("it comes from another site"));
    }
    Ok(())
}

/// The one host a call names: in its head, or, in the second version of the protocol, in its address.
fn one_host(request: &Request) -> Result<&str, ApiError> {
    let mut lines = request.headers().get_all(header::HOST).iter();
    let line = lines.next().map(|h| h.to_str().unwrap_or_default());
    let in_address = request.uri().authority().map(|a| a.as_str());
    let host = line.or(in_address).unwrap_or_default();
    let is_plain = lines.next().is_none() && in_address.is_none_or(|a| a == host);
    match is_plain {
        true => Ok(host),
        false => Err(ApiError::NotLetIn(
            "it does not say plainly which host it is for",
        )),
    }
}

/// Host name without its port.
fn name_of(host: &str) -> &str {
    match host.rsplit_once(':') {
        Some((name, port)) if port.bytes().all(|b| b.is_ascii_digit()) => name,
        _ => host,
    }
}

/// Lets a call through or says why not. A good token in the address is kept as a cookie for the calls that follow.
pub(crate) async fn guard(
    State(guard): State<Arc<Guard>>,
    mut request: Request,
    next: Next,
) -> Response {
    // Without a connection, as in tests, the call comes from this machine.
    let peer = request.extensions().get::<Peer>();
    let peer = peer.map_or(IpAddr::V4(Ipv4Addr::LOCALHOST), |p| p.0);
    let caller = match guard.check(&request, peer) {
        Ok(caller) => caller,
        Err(refused) => return refused.into_response(),
    };
    let cookie = tokens::of_query(request.uri().query()).map(|token| {
        let secure = if guard.is_secure { "; Secure" } else { "" };
        let token = token_in_address(&token);
        format!("varichrom={token}; HttpOnly; SameSite=Strict; Path=/{secure}")
    });
    request.extensions_mut().insert(caller);
    let mut response = next.run(request).await;
    let cookie = cookie.filter(|_| guard.known.asks());
    if let Some(Ok(value)) = cookie.map(|c| c.parse()) {
        response.headers_mut().insert(header::SET_COOKIE, value);
    }
    response
}
