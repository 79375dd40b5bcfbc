//! What an order comes to, without the rest of a plan: for searches over many divisions of the same layers.

use super::ordering::ordering;
use super::prices::Prices;
use super::print::Print;
use super::task::Task;
use crate::Problem;
use crate::layers::LayerShare;

/// What the swaps of a print come to.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Estimate {
    /// Purged in all, mm³.
    pub purge_mm3: f64,
    /// Swaps.
    pub swaps: usize,
    /// Time of what depends on how it stands: swaps, what is pressed out, changes of layer, s. Laying the plastic comes on top.
    pub seconds: f64,
}

/// The swaps of the print that [`super::plan`] would plan.
///
/// # Errors
/// As for [`super::plan`].
///
/// # Cost
/// That of ordering the layers.
pub fn estimate(task: &Task, shares: &[LayerShare]) -> Result<Estimate, Problem> {
    let print = Print::of(task, shares);
    let mut prices = Prices::new(task);
    let order = ordering(&print, &mut prices)?;
    let tolerances: Vec<Vec<f64>> = (0..shares.len()).map(|l| print.tolerances(l)).collect();
    let mut found = Estimate {
        purge_mm3: 0.0,
        swaps: 0,
        seconds: 0.0,
    };
    for pair in order.visits.windows(2) {
        let ((_, from), (layer, to)) = (pair[0], pair[1]);
        if from != to {
            let price = prices.of(from, to, tolerances[layer][to as usize]);
            found.purge_mm3 += price.purge_mm3;
            found.swaps += 1;
        }
    }
    let printer = &task.printer;
    found.seconds = found.swaps as f64 * printer.swap_s
        + found.purge_mm3 / printer.purge_mm3_s
        + shares.len() as f64 * printer.layer_change_s * printer.time_factor;
    Ok(found)
}
