//! What a print file cannot tell a printer yet. What a file would do to it is looked for in the file as it is written, where words are made.

use super::script::Asked;
use crate::Problem;
use crate::machine::bin;
use crate::plan::PlanReload;

/// What is pressed out keeps so far off the print, mm (common practice, no source).
const BIN_CLEAR_MM: f64 = 2.0;

/// Refuses what is not certain to be printed as it is meant.
///
/// # Errors
/// `print-refused` with a place and a mend.
///
/// # Cost
/// That of the plan's swaps.
pub fn check_scripts(asked: &Asked<'_>) -> Result<(), Problem> {
    if let Some(reload) = asked.plan.reloads.iter().find(|r| is_in_nozzle(asked, r)) {
        return Err(refusal(
            &format!(
                "The spool in place {} would have to be taken out while its filament is in the nozzle",
                reload.place
            ),
            &format!("layer {}", reload.layer + 1),
            "Use one colour less than there are spools, or choose swaps at a pause.",
        ));
    }
    if asked.plan.is_by_passes && asked.printer().printing.supports {
        return Err(refusal(
            "What hangs cannot be held up where colours print in passes: a pass would lay it below another",
            "load",
            "Take “Hold up what hangs” away (How it prints), or turn the model.",
        ));
    }
    if asked.plan.swaps.iter().any(|s| s.split.bin_mm3 > 0.0) && meets_bin(asked) {
        return Err(refusal(
            "The print stands where purge is pressed out",
            "bed",
            "Print fewer pieces, move the bin (How it prints), or send all purge into the tower.",
        ));
    }
    Ok(())
}

/// Whether the spool that a reload takes out is the one that prints just before.
fn is_in_nozzle(asked: &Asked<'_>, reload: &PlanReload) -> bool {
    let mut swaps = asked.plan.swaps.iter();
    swaps.any(|s| s.layer == reload.layer && s.to == reload.slot && s.from == reload.out)
}

/// Whether any piece, or the tower, is near the bin.
fn meets_bin(asked: &Asked<'_>) -> bool {
    let (shift, size) = (asked.shift(), asked.task.footprint.size());
    let middle = asked.task.footprint.centre();
    let of_piece = |by: [f64; 2]| {
        let side = |sign: f64| [0, 1].map(|i| middle[i] + by[i] + sign * 0.5 * size[i]);
        (side(-1.0), side(1.0))
    };
    let [x0, y0, x1, y1] = bin(asked.printer());
    let (low, high) = ([x0, y0], [x1, y1]);
    let boxes = asked.pieces().into_iter().map(of_piece);
    boxes.chain(asked.tower_box()).any(|(l, h)| {
        (0..2).all(|i| {
            l[i] + shift[i] < high[i] + BIN_CLEAR_MM && h[i] + shift[i] > low[i] - BIN_CLEAR_MM
        })
    })
}

fn refusal(message: &str, place: &str, mend: &str) -> Problem {
    Problem::new("print-refused", message, place, mend)
}
