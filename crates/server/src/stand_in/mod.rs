//! A small simulated printer: it says what it is and holds, and prints what it is sent in simulated time (docs/stand-in.md).

mod printing;

use crate::guard::{check_from_here, own_names};
use axum::extract::{DefaultBodyLimit, Request, State};
use axum::http::{StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use axum::routing::{get, post, put};
use axum::{Json, Router};
use serde::{Deserialize, Serialize};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::Duration;
use varichrom_core::advice::load::PrinterReport;

/// How the stand-in answers.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Mood {
    /// As it is.
    #[default]
    Right,
    /// With the spools of its first two places exchanged.
    Wrong,
    /// With nothing in any place.
    Empty,
    /// Not at all.
    Silent,
    /// With something that is no report.
    Nonsense,
}

struct StandIn {
    report: PrinterReport,
    mood: Mood,
    print: Option<printing::Print>,
}

type Shared = Arc<Mutex<StandIn>>;

/// Longer than anybody waits for an answer.
const SILENCE: Duration = Duration::from_secs(60);

/// Largest file that it takes, bytes.
const LARGEST_FILE: usize = 256 * 1024 * 1024;

/// The stand-in as a router: what it is and holds, its mood, and what it prints. With a key, calls that a program makes have to
/// carry it; those that stand for what a person does to the machine do not.
pub fn stand_in(report: PrinterReport, mood: Mood, key: Option<String>) -> Router {
    let called = Router::new()
        .route("/printer", get(answer))
        .route(
            "/print",
            get(printing::show)
                .put(printing::take)
                .delete(printing::stop),
        )
        .route("/print/answer", post(printing::answer))
        .layer(axum::middleware::from_fn_with_state(key, let_in));
    called
        .route("/printer", put(set_printer))
        .route("/mood", put(set_mood))
        .route("/print/speed", put(printing::set_speed))
        .route("/print/trouble", post(printing::go_wrong))
        .layer(DefaultBodyLimit::max(LARGEST_FILE))
        .layer(axum::middleware::from_fn(from_here))
        .with_state(Arc::new(Mutex::new(StandIn {
            report,
            mood,
            print: None,
        })))
}

/// Lets a call in that is addressed to this machine and comes from no page of another site: what listens on this machine alone can
/// still be reached by any page that its browser shows.
async fn from_here(request: Request, next: Next) -> Response {
    match check_from_here(&request, &own_names(), true) {
        Ok(()) => next.run(request).await,
        Err(refused) => refused.into_response(),
    }
}

/// Lets a call in that carries the key.
async fn let_in(State(key): State<Option<String>>, request: Request, next: Next) -> Response {
    let carried = request.headers().get(header::AUTHORIZATION);
    let is_let_in = key.is_none_or(|key| carried.is_some_and(|c| c == &format!("Bearer {key}")));
    match is_let_in {
        true => next.run(request).await,
        false => StatusCode::UNAUTHORIZED.into_response(),
    }
}

fn held(shared: &Shared) -> MutexGuard<'_, StandIn> {
    shared.lock().unwrap_or_else(PoisonError::into_inner)
}

async fn answer(State(shared): State<Shared>) -> Response {
    let (mut report, mood) = {
        let held = held(&shared);
        (held.report.clone(), held.mood)
    };
    match mood {
        Mood::Right => {}
        Mood::Wrong => {
            if let [first, second, ..] = &mut report.places[..] {
                std::mem::swap(&mut first.spool, &mut second.spool);
            }
        }
        Mood::Empty => report.places.iter_mut().for_each(|p| p.spool = None),
        Mood::Silent => tokio::time::sleep(SILENCE).await,
        Mood::Nonsense => {
            let page = "<html><body>Welcome</body></html>";
            return ([(header::CONTENT_TYPE, "text/html")], page).into_response();
        }
    }
    Json(report).into_response()
}

async fn set_printer(
    State(shared): State<Shared>,
    Json(report): Json<PrinterReport>,
) -> StatusCode {
    held(&shared).report = report;
    StatusCode::NO_CONTENT
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct SetMood {
    mood: Mood,
}

async fn set_mood(State(shared): State<Shared>, Json(asked): Json<SetMood>) -> StatusCode {
    held(&shared).mood = asked.mood;
    StatusCode::NO_CONTENT
}

/// Serves the stand-in until the process is told to stop; the address it got is printed first.
///
/// # Errors
/// A sentence, if the port is taken or serving fails.
pub async fn serve_stand_in(
    port: u16,
    report: PrinterReport,
    mood: Mood,
    key: Option<String>,
) -> Result<(), String> {
    let address = std::net::SocketAddr::from(([127, 0, 0, 1], port));
    let listener = tokio::net::TcpListener::bind(address)
        .await
        .map_err(|e| format!("{address} cannot be used ({e}); choose another --port"))?;
    let address = listener.local_addr().map_err(|e| e.to_string())?;
    println!("{} stands in at http://{address}", report.name);
    tokio::select! {
        served = axum::serve(listener, stand_in(report, mood, key)) => served.map_err(|e| e.to_string()),
        _ = tokio::signal::ctrl_c() => Ok(()),
    }
}
