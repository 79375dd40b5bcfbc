//! Tokens: where a call carries one, compared so that the time says nothing, and slowed down after wrong ones.

use super::people::{Caller, May, Person};
use crate::app::Config;
use crate::error::ApiError;
use crate::lock::lock;
use axum::http::{HeaderMap, header};
use percent_encoding::{AsciiSet, NON_ALPHANUMERIC, percent_decode_str, utf8_percent_encode};
use sha2::{Digest, Sha256};
use std::collections::{HashMap, HashSet};
use std::net::IpAddr;
use std::sync::Mutex;
use std::time::{Duration, Instant};
use subtle::ConstantTimeEq;

/// Fewest characters of a token that other machines could try.
pub const SHORTEST_TOKEN: usize = 12;

/// A token as it stands in an address or a cookie, whatever its characters.
pub fn token_in_address(token: &str) -> String {
    const KEPT: &AsciiSet = &NON_ALPHANUMERIC
        .remove(b'-')
        .remove(b'_')
        .remove(b'.')
        .remove(b'~');
    utf8_percent_encode(token, KEPT).to_string()
}

fn decoded(text: &str) -> String {
    percent_decode_str(text).decode_utf8_lossy().into_owned()
}

/// The token in the question of an address.
pub(super) fn of_query(query: Option<&str>) -> Option<String> {
    let parts = query.unwrap_or_default().split('&');
    parts
        .filter_map(|p| p.strip_prefix("token="))
        .map(decoded)
        .next()
}

/// All tokens that a call carries.
fn carried(headers: &HeaderMap, query: Option<&str>) -> Vec<String> {
    let text = |name| headers.get(name).and_then(|v| v.to_str().ok());
    let bearer = headers.get(header::AUTHORIZATION).map(|v| v.as_bytes());
    let bearer = bearer.and_then(|b| b.strip_prefix(b"Bearer "));
    let bearer = bearer.map(|b| String::from_utf8_lossy(b).into_owned());
    let cookies = text(header::COOKIE).into_iter().flat_map(|c| c.split("; "));
    let cookies = cookies
        .filter_map(|c| c.strip_prefix("varichrom="))
        .map(decoded);
    bearer
        .into_iter()
        .chain(cookies)
        .chain(of_query(query))
        .collect()
}

/// Those who have a token.
pub(super) struct Known(Vec<Person>);

impl Known {
    pub(super) fn new(config: &Config) -> Known {
        let whole = config.token.iter().map(|token| Person {
            name: String::new(),
            token: token.clone(),
            may: May::Keep,
        });
        Known(whole.chain(config.people.iter().cloned()).collect())
    }

    /// Whether a token is asked for.
    pub(super) fn asks(&self) -> bool {
        !self.0.is_empty()
    }

    /// Who carries these; anybody where no token is asked for.
    pub(super) fn caller(
        &self,
        headers: &HeaderMap,
        query: Option<&str>,
        peer: IpAddr,
        wrong: &Wrong,
    ) -> Result<Caller, ApiError> {
        if !self.asks() {
            return Ok(Caller::anybody());
        }
        let carried = carried(headers, query);
        if carried.is_empty() {
            return Err(ApiError::NotLetIn("the token is missing"));
        }
        wrong.check(peer)?;
        // Every token is compared with every person's, found or not, so that the time does not say how near one came.
        let mut found = None;
        for token in &carried {
            for person in &self.0 {
                if bool::from(token.as_bytes().ct_eq(person.token.as_bytes())) {
                    found = Some(person);
                }
            }
        }
        match found {
            Some(person) => {
                wrong.forget(peer);
                Ok(Caller::of(person))
            }
            None => {
                wrong.note(peer, &carried);
                Err(ApiError::NotLetIn("the token is wrong"))
            }
        }
    }
}

/// Wrong tokens by the address they came from.
#[derive(Default)]
pub(super) struct Wrong(Mutex<HashMap<IpAddr, Tries>>);

struct Tries {
    /// Digests of the wrong ones: a page that was left open with an old token tries the same one again and again, which is no
    /// guessing and must not keep its owner out.
    seen: HashSet<[u8; 32]>,
    count: u32,
    /// No token is looked at before.
    until: Instant,
}

impl Wrong {
    /// Wrong ones that a person mistypes before it has to wait.
    const FREE: u32 = 5;
    /// Longest wait, s.
    const LONGEST_S: u64 = 60;
    /// Wrong ones remembered of an address.
    const SEEN: usize = 64;
    /// Addresses remembered.
    const MOST: usize = 10_000;

    fn check(&self, peer: IpAddr) -> Result<(), ApiError> {
        let all = lock(&self.0);
        let left = all
            .get(&peer)
            .map(|t| t.until.saturating_duration_since(Instant::now()));
        match left.filter(|left| !left.is_zero()) {
            Some(left) => Err(ApiError::TryAgain {
                why: "Too many wrong tokens came from this address",
                again_s: left.as_secs() + 1,
            }),
            None => Ok(()),
        }
    }

    fn note(&self, peer: IpAddr, carried: &[String]) {
        let mut all = lock(&self.0);
        let now = Instant::now();
        if all.len() >= Self::MOST {
            all.retain(|_, t| t.until > now);
        }
        let tries = all.entry(peer).or_insert(Tries {
            seen: HashSet::new(),
            count: 0,
            until: now,
        });
        let digest = |token: &String| -> [u8; 32] { Sha256::digest(token).into() };
        let before = tries.seen.len();
        tries.seen.extend(carried.iter().map(digest));
        if tries.seen.len() == before {
            return;
        }
        if tries.seen.len() > Self::SEEN {
            tries.seen.clear();
        }
        tries.count += 1;
        let over = tries.count.saturating_sub(Self::FREE).min(16);
        if over > 0 {
            let wait = (1_u64 << (over - 1)).min(Self::LONGEST_S);
            tries.until = now + Duration::from_secs(wait);
        }
    }

    fn forget(&self, peer: IpAddr) {
        lock(&self.0).remove(&peer);
    }
}
