//! Whatever is wrong with a call, its refusal says what, where and what to do.

use crate::serving::Server;
use axum::Router;
use axum::body::Body;
use axum::http::Request;
use http_body_util::BodyExt;
use serde_json::Value;
use tower::ServiceExt;
use varichrom_server::router;

/// A body and what it says that it is.
const BODIES: [(&str, &str); 5] = [
    ("application/json", "{"),
    ("application/json", "[]"),
    ("application/json", "{\"edit\":\"nonsense\"}"),
    ("text/plain", "{}"),
    ("multipart/form-data", "no boundary"),
];

/// What stands in the place of a parameter.
const NAMES: [&str; 4] = ["abc", "99999", "-1", "%00"];

/// A path with all of its parameters replaced.
fn named(path: &str, name: &str) -> String {
    let parts: Vec<&str> = path
        .split('/')
        .map(|part| if part.starts_with('{') { name } else { part })
        .collect();
    parts.join("/")
}

/// Sends a call; what is wrong with the answer, if anything.
async fn fault(
    app: &Router,
    method: &str,
    path: &str,
    sent: Option<(&str, &str)>,
) -> Option<String> {
    let request = Request::builder()
        .method(method)
        .uri(path)
        .header("host", "127.0.0.1:7360");
    let request = match sent {
        Some((kind, body)) => request
            .header("content-type", kind)
            .body(Body::from(body.to_string())),
        None => request.body(Body::empty()),
    };
    let answer = app.clone().oneshot(request.expect("a call")).await;
    let answer = answer.expect("an answer");
    let status = answer.status();
    let body = answer
        .into_body()
        .collect()
        .await
        .expect("a body")
        .to_bytes();
    if !status.is_client_error() && !status.is_server_error() {
        return None;
    }
    let said: Value = serde_json::from_slice(&body).unwrap_or_default();
    let is_said = |key: &str| said[key].as_str().is_some_and(|s| !s.is_empty());
    let is_whole = is_said("code") && is_said("message") && is_said("mend");
    let is_sound = is_whole && said.get("where").is_some() && !status.is_server_error();
    let body = String::from_utf8_lossy(&body).into_owned();
    (!is_sound).then(|| format!("{method} {path} {sent:?}: {status} {body}"))
}

#[tokio::test]
async fn every_call_that_is_refused_says_what_where_and_what_to_do() {
    let server = Server::new();
    let (_, document) = server.call("GET", "/api/openapi.json", "").await;
    let paths = document["paths"].as_object().expect("paths");
    // One for all: making it takes longer than a call.
    let app = router(server.workshop.clone(), &server.config);
    let mut faults = Vec::new();
    let mut count = 0;
    for (path, calls) in paths {
        for method in calls.as_object().expect("calls").keys() {
            let method = method.to_uppercase();
            let takes_body = !["GET", "DELETE"].contains(&method.as_str());
            if !takes_body && !path.contains('{') {
                continue;
            }
            for name in NAMES {
                let path = named(path, name);
                faults.extend(fault(&app, &method, &path, None).await);
                for sent in BODIES.into_iter().filter(|_| takes_body) {
                    faults.extend(fault(&app, &method, &path, Some(sent)).await);
                    count += 1;
                }
            }
        }
        // There is no call that is made like this.
        faults.extend(fault(&app, "TRACE", &named(path, "1"), None).await);
    }
    assert!(count > 500, "{count} calls");
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}
