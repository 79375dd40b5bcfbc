//! A small printer that only says what it is and holds, for trying out Load without one (docs/stand-in.md).

use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::routing::{get, put};
use axum::{Json, Router};
use serde::{Deserialize, Serialize};
use std::sync::{Arc, Mutex, PoisonError};
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

#[derive(Debug, Clone)]
struct StandIn {
    report: PrinterReport,
    mood: Mood,
}

type Shared = Arc<Mutex<StandIn>>;

/// Longer than anybody waits for an answer.
const SILENCE: Duration = Duration::from_secs(60);

/// The stand-in as a router: `GET /printer`, `PUT /printer`, `PUT /mood`.
pub fn stand_in(report: PrinterReport, mood: Mood) -> Router {
    Router::new()
        .route("/printer", get(answer).put(set_printer))
        .route("/mood", put(set_mood))
        .with_state(Arc::new(Mutex::new(StandIn { report, mood })))
}

fn state(shared: &Shared) -> StandIn {
    shared
        .lock()
        .unwrap_or_else(PoisonError::into_inner)
        .clone()
}

async fn answer(State(shared): State<Shared>) -> Response {
    let StandIn { mut report, mood } = state(&shared);
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
    shared.lock().unwrap_or_else(PoisonError::into_inner).report = report;
    StatusCode::NO_CONTENT
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct SetMood {
    mood: Mood,
}

async fn set_mood(State(shared): State<Shared>, Json(asked): Json<SetMood>) -> StatusCode {
    shared.lock().unwrap_or_else(PoisonError::into_inner).mood = asked.mood;
    StatusCode::NO_CONTENT
}

/// Serves the stand-in until the process is told to stop; the address it got is printed first.
///
/// # Errors
/// A sentence, if the port is taken or serving fails.
pub async fn serve_stand_in(port: u16, report: PrinterReport, mood: Mood) -> Result<(), String> {
    let address = std::net::SocketAddr::from(([127, 0, 0, 1], port));
    let listener = tokio::net::TcpListener::bind(address)
        .await
        .map_err(|e| format!("{address} cannot be used ({e}); choose another --port"))?;
    let address = listener.local_addr().map_err(|e| e.to_string())?;
    println!("{} stands in at http://{address}", report.name);
    tokio::select! {
        served = axum::serve(listener, stand_in(report, mood)) => served.map_err(|e| e.to_string()),
        _ = tokio::signal::ctrl_c() => Ok(()),
    }
}
