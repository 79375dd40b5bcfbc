//! The stand-in prints: it takes a file, runs it in simulated time, stands where it has to, and says how it is (docs/stand-in.md).

use super::{Shared, held};
use axum::Json;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use serde::{Deserialize, Serialize};
use std::time::Instant;
use varichrom_core::Problem;
use varichrom_core::advice::load::PrinterReport;
use varichrom_core::colour::{Colour, Pigment};
use varichrom_core::machine::{HandSwap, MachineKind, Printer};
use varichrom_core::rehearsal::{Answer, Happening, Held, Rehearsal, Setup, Status, TroubleKind};

/// Happenings that a look shows.
const MOST_SHOWN: usize = 20;

/// What is being printed.
pub(super) struct Print {
    name: String,
    rehearsal: Rehearsal,
    speed: f64,
    looked: Instant,
}

/// How a file is to be printed.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Asked {
    /// What it is called.
    name: String,
    /// Seconds of the print a second.
    #[serde(default = "usual_speed")]
    speed: f64,
}

fn usual_speed() -> f64 {
    1.0
}

/// How it is, as it is told.
#[derive(Serialize)]
struct Told<'a> {
    name: &'a str,
    #[serde(flatten)]
    status: &'a Status,
    speed: f64,
    passed_s: f64,
    whole_s: f64,
    layer: usize,
    line: u32,
    slot: u8,
    left_g: Vec<Option<f64>>,
    happenings: Vec<&'a Happening>,
}

/// Takes a file, unless it prints one.
pub(super) async fn take(
    State(shared): State<Shared>,
    Query(asked): Query<Asked>,
    text: String,
) -> Response {
    let mut held = held(&shared);
    if held.print.as_mut().is_some_and(Print::is_busy) {
        let told = Problem::new(
            "printer-busy",
            "The printer is printing",
            "print",
            "Wait until it is done, or stop it.",
        );
        return (StatusCode::CONFLICT, Json(told)).into_response();
    }
    let setup = setup_of(&held.report);
    match Rehearsal::new(&text, setup) {
        Ok(rehearsal) => {
            let print = held.print.insert(Print {
                name: asked.name.chars().take(100).collect(),
                rehearsal,
                speed: asked.speed.clamp(0.0, 1e6),
                looked: Instant::now(),
            });
            (StatusCode::CREATED, print.told()).into_response()
        }
        Err(problem) => (StatusCode::UNPROCESSABLE_ENTITY, Json(problem)).into_response(),
    }
}

/// Does something with what is printed, and says how it is then.
fn with(shared: &Shared, act: impl FnOnce(&mut Print)) -> Response {
    let mut held = held(shared);
    match &mut held.print {
        Some(print) => {
            print.go_on();
            act(print);
            print.told().into_response()
        }
        None => {
            let told = Problem::new(
                "print-unknown",
                "Nothing is printed",
                "print",
                "Send a file.",
            );
            (StatusCode::NOT_FOUND, Json(told)).into_response()
        }
    }
}

pub(super) async fn show(State(shared): State<Shared>) -> Response {
    with(&shared, |_| ())
}

pub(super) async fn answer(State(shared): State<Shared>, Json(answer): Json<Answer>) -> Response {
    with(&shared, |print| print.rehearsal.answer(answer))
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Speed {
    speed: f64,
}

pub(super) async fn set_speed(State(shared): State<Shared>, Json(to): Json<Speed>) -> Response {
    with(&shared, |print| print.speed = to.speed.clamp(0.0, 1e6))
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct GoWrong {
    kind: TroubleKind,
}

pub(super) async fn go_wrong(State(shared): State<Shared>, Json(what): Json<GoWrong>) -> Response {
    with(&shared, |print| print.rehearsal.go_wrong(what.kind))
}

pub(super) async fn stop(State(shared): State<Shared>) -> StatusCode {
    held(&shared).print = None;
    StatusCode::NO_CONTENT
}

impl Print {
    fn is_busy(&mut self) -> bool {
        self.go_on();
        matches!(self.rehearsal.status(), Status::Running | Status::Waits(_))
    }

    fn go_on(&mut self) {
        let now = Instant::now();
        let passed = now.duration_since(self.looked).as_secs_f64();
        self.looked = now;
        let to = self.rehearsal.file_s() + passed * self.speed;
        self.rehearsal.run_to(to);
        self.rehearsal.pass(to);
    }

    fn told(&self) -> Json<serde_json::Value> {
        let rehearsal = &self.rehearsal;
        let told = Told {
            name: &self.name,
            status: rehearsal.status(),
            speed: self.speed,
            passed_s: rehearsal.passed_s(),
            whole_s: rehearsal.whole_s(),
            layer: rehearsal.layer(),
            line: rehearsal.line(),
            slot: rehearsal.slot(),
            left_g: rehearsal.left_g(),
            happenings: rehearsal
                .happenings()
                .iter()
                .rev()
                .take(MOST_SHOWN)
                .collect(),
        };
        Json(serde_json::to_value(told).unwrap_or_default())
    }
}

/// The machine that a report tells of.
fn setup_of(report: &PrinterReport) -> Setup {
    let kind = match report.kind.as_str() {
        "tools" => MachineKind::Tools,
        "by-hand" => MachineKind::ByHand {
            how: HandSwap::AtPause,
        },
        "splicer" => MachineKind::Splicer,
        _ => MachineKind::Feeder,
    };
    let count = report
        .places
        .iter()
        .map(|p| p.place)
        .max()
        .unwrap_or(1)
        .max(1);
    let printer = Printer {
        name: report.name.clone(),
        kind,
        slots: count,
        bed_mm: report.bed_mm,
        nozzle_mm: report.nozzle_mm,
        ..Printer::default()
    };
    // Density of PLA, which nobody asked for (common practice, no source).
    const G_PER_MM3: f64 = 1.24e-3;
    let slots = (1..=count).map(|place| {
        let spool = report.at(place);
        Held {
            name: spool.map_or_else(|| format!("place {place}"), |s| s.name.clone()),
            pigment: Pigment {
                colour: spool.map_or(Colour([128; 3]), |s| s.colour),
                tinting: 1.0,
            },
            left_mm3: spool.and_then(|s| s.left_g).map(|g| g / G_PER_MM3),
            section_mm2: varichrom_core::rinse::FILAMENT_MM2,
            g_per_mm3: G_PER_MM3,
        }
    });
    Setup::of(printer, slots.collect())
}
