//! What would harm a printer, looked for in the steps as they are and not in the plan of them.

use super::script::{Asked, PrintScript};
use super::steps::Step;
use crate::Problem;
use crate::geometry::Bounds;

/// What is pressed out keeps so far off the print, mm (common practice, no source).
const BIN_CLEAR_MM: f64 = 2.0;

/// Refuses what is not certain to be printed as it is meant.
///
/// # Errors
/// `print-refused` with a place and a mend.
///
/// # Cost
/// Linear in steps.
pub fn check_scripts(asked: &Asked<'_>, scripts: &[PrintScript]) -> Result<(), Problem> {
    if !asked.plan.reloads.is_empty() {
        return Err(refusal(
            "Spools that a person puts in on the way cannot be told to the printer yet",
            "load",
            "Use as many colours as the printer holds spools, or choose swaps at a pause.",
        ));
    }
    if asked.plan.swaps.iter().any(|s| s.split.bin_mm3 > 0.0) && meets_bin(asked) {
        return Err(refusal(
            "The print stands where purge is pressed out, at the back right of the bed",
            "bed",
            "Print fewer pieces, or send all purge into the tower.",
        ));
    }
    scripts.iter().try_for_each(|s| check_steps(asked, s))
}

/// Whether any piece, or the tower, is near the bin.
fn meets_bin(asked: &Asked<'_>) -> bool {
    let (shift, size) = (asked.shift(), asked.task.footprint.size());
    let middle = asked.task.footprint.centre();
    let of_piece = |by: [f64; 2]| {
        let side = |sign: f64| [0, 1].map(|i| middle[i] + by[i] + sign * 0.5 * size[i]);
        (side(-1.0), side(1.0))
    };
    let [x0, y0, x1, y1] = asked.bin();
    let (low, high) = ([x0, y0], [x1, y1]);
    let boxes = asked.pieces().into_iter().map(of_piece);
    boxes.chain(asked.tower_box()).any(|(l, h)| {
        (0..2).all(|i| {
            l[i] + shift[i] < high[i] + BIN_CLEAR_MM && h[i] + shift[i] > low[i] - BIN_CLEAR_MM
        })
    })
}

/// All places within the bed's, nothing laid before the nozzle is hot, no number that is none.
fn check_steps(asked: &Asked<'_>, script: &PrintScript) -> Result<(), Problem> {
    const HAIR_MM: f64 = 1e-3;
    let bed = asked.task.printer.bed_mm;
    let reach = Bounds {
        min: [-HAIR_MM; 3],
        max: bed.map(|mm| mm + HAIR_MM),
    };
    let (mut z, mut layer, mut is_hot) = (0.0, 0, false);
    for step in &script.steps {
        let at = match step {
            Step::Layer { index, .. } => {
                layer = *index;
                continue;
            }
            Step::Heat { c, .. } => {
                is_hot = *c > 0.0;
                continue;
            }
            Step::Height { to, .. } => {
                z = *to;
                [0.0, 0.0, z]
            }
            Step::Travel { to, .. } => [to[0], to[1], z],
            Step::Lay { to, mm3, speed, .. } => {
                let is_sound = mm3.is_finite() && *mm3 >= 0.0 && speed.is_finite() && *speed > 0.0;
                if !is_hot || !is_sound {
                    return Err(refusal(
                        "A move would feed filament that is cold, or that is no amount",
                        &format!("layer {}", layer + 1),
                        "Please report it: this is a fault of Varichrom.",
                    ));
                }
                [to[0], to[1], z]
            }
            _ => continue,
        };
        // Also false for what is no number.
        let is_within = (0..3).all(|i| at[i] >= reach.min[i] && at[i] <= reach.max[i]);
        if !is_within {
            return Err(refusal(
                &format!(
                    "A move would go to {:.1}, {:.1}, {:.1} mm, off the bed of {:.0} by {:.0} by {:.0} mm",
                    at[0], at[1], at[2], bed[0], bed[1], bed[2]
                ),
                &format!("layer {}", layer + 1),
                "Print fewer pieces, a narrower brim, or turn the model.",
            ));
        }
    }
    Ok(())
}

fn refusal(message: &str, place: &str, mend: &str) -> Problem {
    Problem::new("print-refused", message, place, mend)
}
