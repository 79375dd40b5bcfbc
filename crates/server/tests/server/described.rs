//! The document of all calls is true: whatever is drawn from it is answered as it says, and nothing breaks or hangs.

use crate::serving::Server;
use axum::body::Body;
use axum::http::Request;
use http_body_util::BodyExt;
use proptest::strategy::{Strategy, ValueTree};
use proptest::test_runner::{Config as Chances, RngAlgorithm, TestRng, TestRunner};
use serde_json::{Map, Value, json};
use std::time::Duration;
use tower::ServiceExt;
use varichrom_server::router;

/// Longer is a hang. It is far more than any call takes, so that a loaded machine does not fail here.
const HANG: Duration = Duration::from_secs(30);

/// Words that may stand where a word is asked for.
const WORDS: [&str; 9] = [
    "base",
    "box",
    "chalk",
    "red",
    "model.3mf",
    "",
    "é \u{202e}\u{0}",
    "..%2f..",
    "000000000000000000000000000000000000000000000000",
];

const NUMBERS: [f64; 10] = [
    0.0,
    1.0,
    2.0,
    -1.0,
    0.25,
    7.5,
    90.0,
    4_294_967_296.0,
    1e300,
    -1e-300,
];

/// Draws values that a schema allows, and now and then one that it does not.
struct Draw<'a> {
    schemas: &'a Value,
    runner: TestRunner,
}

impl Draw<'_> {
    fn below(&mut self, count: usize) -> usize {
        let strategy = 0..count.max(1);
        strategy
            .new_tree(&mut self.runner)
            .expect("a number")
            .current()
    }

    fn one_of<'b, T>(&mut self, all: &'b [T]) -> &'b T {
        &all[self.below(all.len())]
    }

    fn value(&mut self, schema: &Value, depth: usize) -> Value {
        if self.below(40) == 0 {
            let odd = [
                json!(null),
                json!([]),
                json!({}),
                json!("odd"),
                json!(-1),
                json!(true),
            ];
            return self.one_of(&odd).clone();
        }
        if let Some(name) = schema["$ref"].as_str() {
            let name = name.rsplit('/').next().unwrap_or_default();
            let schemas = self.schemas;
            return self.value(&schemas[name], depth + 1);
        }
        if let Some(all) = schema["oneOf"].as_array().or(schema["anyOf"].as_array()) {
            let chosen = self.one_of(all);
            return self.value(chosen, depth + 1);
        }
        if let Some(all) = schema["allOf"].as_array() {
            let mut whole = Map::new();
            for part in all {
                if let Value::Object(part) = self.value(part, depth + 1) {
                    whole.extend(part);
                }
            }
            return Value::Object(whole);
        }
        if let Some(all) = schema["enum"].as_array() {
            return self.one_of(all).clone();
        }
        let kinds = match &schema["type"] {
            Value::Array(kinds) => kinds.clone(),
            kind => vec![kind.clone()],
        };
        let kind = self.one_of(&kinds).as_str().unwrap_or("object").to_string();
        match kind.as_str() {
            "null" => Value::Null,
            "boolean" => json!(self.below(2) == 1),
            "integer" => json!(self.one_of(&NUMBERS[..5]).trunc() as i64),
            "number" => json!(self.one_of(&NUMBERS)),
            "string" => json!(self.one_of(&WORDS)),
            "array" => self.array(schema, depth),
            _ => self.object(schema, depth),
        }
    }

    fn array(&mut self, schema: &Value, depth: usize) -> Value {
        if let Some(all) = schema["prefixItems"].as_array() {
            return all.iter().map(|of| self.value(of, depth + 1)).collect();
        }
        let least = schema["minItems"].as_u64().unwrap_or(0) as usize;
        let count = if depth > 8 {
            least
        } else {
            least + self.below(3)
        };
        (0..count)
            .map(|_| self.value(&schema["items"], depth + 1))
            .collect()
    }

    fn object(&mut self, schema: &Value, depth: usize) -> Value {
        let mut made = Map::new();
        let required = schema["required"].as_array().cloned().unwrap_or_default();
        for (name, of) in schema["properties"].as_object().into_iter().flatten() {
            let is_due = required.contains(&json!(name));
            if is_due || (depth < 8 && self.below(2) == 1) {
                made.insert(name.clone(), self.value(of, depth + 1));
            }
        }
        Value::Object(made)
    }

    /// An address with the words and numbers that are asked for, and the question after it.
    fn address(&mut self, path: &str, call: &Value, job: i64) -> String {
        let (mut path, mut question) = (path.to_string(), Vec::new());
        for parameter in call["parameters"].as_array().into_iter().flatten() {
            let name = parameter["name"].as_str().expect("a name");
            let value = match self.value(&parameter["schema"], 0) {
                Value::String(text) => text,
                other => other.to_string(),
            };
            let value = match name {
                // Mostly of the job that is there.
                "id" if path.contains("/jobs/") && self.below(4) > 0 => job.to_string(),
                _ => value,
            };
            let value: String = value
                .bytes()
                .map(|b| match b {
                    b'a'..=b'z' | b'A'..=b'Z' | b'0'..=b'9' | b'.' | b'-' | b'_' => {
                        char::from(b).to_string()
                    }
                    _ => format!("%{b:02X}"),
                })
                .collect();
            match parameter["in"].as_str() {
                Some("path") => path = path.replace(&format!("{{{name}}}"), &value),
                Some("query") => question.push(format!("{name}={value}")),
                other => panic!("a parameter of {path} in {other:?}"),
            }
        }
        assert!(!path.contains('{'), "{path} has a name that is not told");
        match question.is_empty() {
            true => path,
            false => format!("{path}?{}", question.join("&")),
        }
    }

    fn body(&mut self, call: &Value) -> (&'static str, Vec<u8>) {
        let content = &call["requestBody"]["content"];
        let json = &content["application/json"];
        if !json.is_null() {
            return (
                "application/json",
                self.value(&json["schema"], 0).to_string().into_bytes(),
            );
        }
        let raw: [&[u8]; 4] = [b"", b"G28\nG1 X1 Y1\n", b"solid x\n", &[0xff; 90]];
        ("application/octet-stream", self.one_of(&raw).to_vec())
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_drawn_from_the_document_is_answered_as_it_says() {
    const DRAWS: usize = 14;
    /// Edits are of many kinds.
    const EDITS: usize = 800;
    let server = Server::new();
    let app = router(server.workshop.clone(), &server.config);
    let (_, document) = server.call("GET", "/api/openapi.json", "").await;
    let mut draw = Draw {
        schemas: &document["components"]["schemas"],
        runner: TestRunner::new_with_rng(
            Chances::default(),
            TestRng::from_seed(RngAlgorithm::ChaCha, &[7; 32]),
        ),
    };
    let mut job = server.import().await;
    let mut faults = Vec::new();
    let (mut done, mut refused) = (0, 0);
    for (path, calls) in document["paths"].as_object().expect("paths") {
        for (method, call) in calls.as_object().expect("calls") {
            let is_edit = path.ends_with("/edits") && method == "post";
            for _ in 0..if is_edit { EDITS } else { DRAWS } {
                let show = Request::builder()
                    .uri(format!("/api/jobs/{job}"))
                    .header("host", "127.0.0.1:7360")
                    .body(Body::empty());
                let shown = app.clone().oneshot(show.expect("a call")).await;
                if !shown.expect("an answer").status().is_success() {
                    job = server.import().await;
                }
                let address = draw.address(path, call, job);
                let (kind, body) = draw.body(call);
                let what = format!("{method} {address} {}", String::from_utf8_lossy(&body));
                let request = Request::builder()
                    .method(method.to_uppercase().as_str())
                    .uri(&address)
                    .header("host", "127.0.0.1:7360")
                    .header("content-type", kind)
                    .body(Body::from(body));
                let answer = tokio::time::timeout(HANG, app.clone().oneshot(request.expect(&what)));
                let Ok(answer) = answer.await else {
                    faults.push(format!("{what}: hangs"));
                    continue;
                };
                let answer = answer.expect("an answer");
                let status = answer.status();
                let told = &call["responses"][status.as_str()];
                if told.is_null() || status.is_server_error() {
                    faults.push(format!("{what}: {status}"));
                }
                // What goes on being told never ends.
                if status.is_success() {
                    done += 1;
                    continue;
                }
                refused += 1;
                let body = answer.into_body().collect().await.expect("a body");
                let said: Value = serde_json::from_slice(&body.to_bytes()).unwrap_or_default();
                if !["code", "message", "mend"]
                    .iter()
                    .all(|k| said[k].is_string())
                {
                    faults.push(format!("{what}: {status} without a sentence"));
                }
            }
        }
    }
    assert!(done > 200 && refused > 200, "{done} done, {refused} not");
    faults.truncate(30);
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}
