//! The time factor of a printer from one print whose time is known.

use super::types::Plan;
use crate::machine::Printer;
use crate::{Problem, figure};

/// The printer with the time factor that makes a plan of it take `real_s`. What is the same whatever the speed — the start,
/// swaps, purging, heating and reloads — is taken off on both sides first.
///
/// # Errors
/// `time-no-fit` if that leaves nothing, or a factor that no printer has (0.2 to 10).
pub fn timed_printer(printer: &Printer, plan: &Plan, real_s: f64) -> Result<Printer, Problem> {
    let times = &plan.bill.times;
    let moving = times.walls_s + times.infill_s + times.layers_s + times.tower_s;
    let fixed = plan.bill.time_s - moving;
    let factor = printer.time_factor * (real_s - fixed) / moving;
    if factor.is_finite() && (0.2..=10.0).contains(&factor) {
        return Ok(Printer {
            time_factor: factor,
            ..printer.clone()
        });
    }
    let minutes = |s: f64| format!("{} min", figure((s / 60.0).round()));
    Err(Problem::new(
        "time-no-fit",
        format!(
            "A print of {} does not fit this plan: it says {}, of which {} pass without printing",
            minutes(real_s),
            minutes(plan.bill.time_s),
            minutes(fixed)
        ),
        "real_s",
        "Type the time of this very job, or set swap and start times first.",
    ))
}
