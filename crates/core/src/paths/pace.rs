//! How long steps take: trapezoids with speeds at the joints, found in two sweeps over squares of speeds.
//!
//! # Source
//! Time-optimal motion along a path: Bobrow, Dubowsky, Gibson, "Time-optimal control of robotic manipulators along specified paths",
//! 1985; speed at a joint from how far the corner may be cut, as open firmware documents it (both from memory).

use super::steps::Step;
use crate::machine::{Printer, Printing};

/// Section of filament, mm².
const FILAMENT_MM2: f64 = crate::rinse::FILAMENT_MM2;

/// What steps take.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Pace {
    /// Laying and travelling, s.
    pub moving_s: f64,
    /// Of that, laying, s.
    pub laying_s: f64,
    /// Changing filament, without what is pressed out, s.
    pub changing_s: f64,
    /// Waiting for a temperature, s.
    pub heating_s: f64,
    /// Before the first layer, s.
    pub start_s: f64,
}

impl Pace {
    /// All of it, s.
    pub fn sum(&self) -> f64 {
        self.moving_s + self.changing_s + self.heating_s + self.start_s
    }
}

/// One move.
struct Move {
    length: f64,
    speed: f64,
    /// Direction; none for filament alone.
    along: Option<[f64; 3]>,
    /// Whether the machine stands still before it.
    stops: bool,
    lays: bool,
}

/// Seconds of each step, and what they come to. `printer.start_s` counts once.
///
/// # Cost
/// Linear in steps.
pub fn pace(steps: &[Step], printer: &Printer) -> (Vec<f64>, Pace) {
    let (moves, of_step, mut total, mut seconds) = moves(steps, printer);
    let times = times(&moves, &printer.printing);
    for ((time, step), one) in times.iter().zip(&of_step).zip(&moves) {
        seconds[*step] += time;
        total.moving_s += time;
        if one.lays {
            total.laying_s += time;
        }
    }
    (seconds, total)
}

fn moves(steps: &[Step], printer: &Printer) -> (Vec<Move>, Vec<usize>, Pace, Vec<f64>) {
    let mut moves: Vec<Move> = Vec::new();
    let mut of_step = Vec::new();
    let mut seconds = vec![0.0; steps.len()];
    let mut total = Pace {
        start_s: printer.start_s,
        ..Pace::default()
    };
    let mut at = [0.0; 3];
    let mut stops = true;
    // Of each tool; not known before it is told.
    let mut c: Vec<Option<f64>> = Vec::new();
    for (index, step) in steps.iter().enumerate() {
        let (to, speed, filament) = match step {
            Step::Lay { to, speed, .. } => ([to[0], to[1], at[2]], *speed, 0.0),
            Step::Travel { to, speed } => ([to[0], to[1], at[2]], *speed, 0.0),
            Step::Height { to, speed } => ([at[0], at[1], *to], *speed, 0.0),
            Step::Pull { mm, speed } | Step::Push { mm, speed } => (at, *speed, *mm),
            Step::Press { mm3, flow } => (at, flow / FILAMENT_MM2, mm3 / FILAMENT_MM2),
            Step::Select { .. } | Step::Prompt { .. } => {
                let s = match step {
                    Step::Prompt { seconds, .. } => *seconds,
                    _ => printer.swap_s,
                };
                seconds[index] += s;
                total.changing_s += s;
                stops = true;
                continue;
            }
            Step::Heat { tool, c: to, waits } => {
                let tool = usize::from(tool.unwrap_or(0));
                if c.len() <= tool {
                    c.resize(tool + 1, None);
                }
                if *waits {
                    let wait = c[tool].map_or(0.0, |c| (to - c).abs()) / printer.heat_c_s;
                    seconds[index] += wait;
                    total.heating_s += wait;
                    stops = true;
                }
                c[tool] = Some(*to);
                continue;
            }
            Step::Home { .. } | Step::Bed { .. } | Step::Passage { .. } => {
                stops = true;
                continue;
            }
            Step::Layer { .. }
            | Step::Slot { .. }
            | Step::Mix { .. }
            | Step::Fan { .. }
            | Step::Say { .. }
            | Step::Rest => continue,
        };
        let d = [0, 1, 2].map(|i| to[i] - at[i]);
        let flat = (d[0] * d[0] + d[1] * d[1] + d[2] * d[2]).sqrt();
        let along = (flat > 1e-9).then(|| d.map(|c| c / flat));
        let length = if along.is_some() { flat } else { filament };
        at = to;
        if length <= 0.0 {
            continue;
        }
        moves.push(Move {
            length,
            speed: speed.max(1e-3),
            along,
            stops: std::mem::take(&mut stops),
            lays: matches!(step, Step::Lay { .. }),
        });
        of_step.push(index);
    }
    (moves, of_step, total, seconds)
}

fn times(moves: &[Move], printing: &Printing) -> Vec<f64> {
    let a = printing.acceleration_mm_s2;
    // Squares of the speeds at which each move begins, and the last ends.
    let mut enter = vec![0.0; moves.len() + 1];
    for (i, pair) in moves.windows(2).enumerate() {
        let [before, here] = [&pair[0], &pair[1]];
        let (Some(u), Some(v)) = (before.along, here.along) else {
            continue;
        };
        if here.stops {
            continue;
        }
        let turn = -(u[0] * v[0] + u[1] * v[1] + u[2] * v[2]);
        // Sine of half the angle between the two.
        let half = (0.5 * (1.0 - turn)).clamp(0.0, 1.0).sqrt();
        let corner = if half > 0.9999 {
            f64::INFINITY
        } else {
            printing.corner_speed2(half)
        };
        enter[i + 1] = corner.min(before.speed.min(here.speed).powi(2));
    }
    for (i, one) in moves.iter().enumerate().rev() {
        enter[i] = f64::min(enter[i], enter[i + 1] + 2.0 * a * one.length);
    }
    for (i, one) in moves.iter().enumerate() {
        enter[i + 1] = f64::min(enter[i + 1], enter[i] + 2.0 * a * one.length);
    }
    moves
        .iter()
        .enumerate()
        .map(|(i, one)| {
            let (s, t) = (enter[i].sqrt(), enter[i + 1].sqrt());
            let top = one
                .speed
                .min((a * one.length + 0.5 * (s * s + t * t)).sqrt())
                .max(s)
                .max(t);
            let ramps = (2.0 * top * top - s * s - t * t) / (2.0 * a);
            (2.0 * top - s - t) / a + (one.length - ramps).max(0.0) / top
        })
        .collect()
}
