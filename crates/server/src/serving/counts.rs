//! What is counted of calls, as the text that monitoring programs read (Prometheus exposition format 0.0.4).

use crate::lock::lock;
use axum::extract::{MatchedPath, Request, State};
use axum::middleware::Next;
use axum::response::Response;
use std::collections::BTreeMap;
use std::fmt::Write;
use std::sync::{Arc, Mutex};
use std::time::Instant;

/// Upper ends of the classes of time, s.
const CLASSES: [f64; 9] = [0.01, 0.03, 0.1, 0.3, 1.0, 3.0, 10.0, 30.0, 100.0];

#[derive(Default)]
struct Line {
    by_class: [u64; CLASSES.len()],
    count: u64,
    sum_s: f64,
}

/// Calls by method, path as the interface describes it, and status. Names and numbers of jobs are in none of them.
#[derive(Default)]
pub(crate) struct Counts(Mutex<BTreeMap<(String, String, u16), Line>>);

impl Counts {
    fn note(&self, method: &str, path: &str, status: u16, took_s: f64) {
        let mut lines = lock(&self.0);
        let line = lines
            .entry((method.into(), path.into(), status))
            .or_default();
        line.count += 1;
        line.sum_s += took_s;
        for (count, end) in line.by_class.iter_mut().zip(CLASSES) {
            *count += u64::from(took_s <= end);
        }
    }

    /// All lines.
    pub(crate) fn text(&self) -> String {
        let lines = lock(&self.0);
        let mut text = String::from(
            "# HELP varichrom_call_seconds Time until the answer to a call began.\n# TYPE varichrom_call_seconds histogram\n",
        );
        for ((method, path, status), line) in lines.iter() {
            let labels = format!("method=\"{method}\",path=\"{path}\",status=\"{status}\"");
            for (count, end) in line.by_class.iter().zip(CLASSES) {
                // Writing to a text cannot fail.
                let _ = writeln!(
                    text,
                    "varichrom_call_seconds_bucket{{{labels},le=\"{end}\"}} {count}"
                );
            }
            let (count, sum) = (line.count, line.sum_s);
            let _ = writeln!(
                text,
                "varichrom_call_seconds_bucket{{{labels},le=\"+Inf\"}} {count}"
            );
            let _ = writeln!(text, "varichrom_call_seconds_sum{{{labels}}} {sum}");
            let _ = writeln!(text, "varichrom_call_seconds_count{{{labels}}} {count}");
        }
        text
    }
}

/// Counts a call.
pub(crate) async fn counted(
    State(counts): State<Arc<Counts>>,
    request: Request,
    next: Next,
) -> Response {
    let method = request.method().clone();
    let path = request
        .extensions()
        .get::<MatchedPath>()
        .map(|p| p.as_str().to_string());
    let began = Instant::now();
    let response = next.run(request).await;
    if let Some(path) = path {
        let took_s = began.elapsed().as_secs_f64();
        counts.note(method.as_str(), &path, response.status().as_u16(), took_s);
    }
    response
}
