//! What an order comes to, without the rest of a plan: for searches over many divisions of the same layers.

use super::order_rules::refused;
use super::ordering::ordering;
use super::prices::Prices;
use super::print::Print;
use super::task::Task;
use crate::Problem;
use crate::layers::LayerShare;
use crate::order::{CostTable, Turn, least_cost_order};
use crate::rules::{Aim, Takes};

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

/// Purge that no print goes below whose layers print at least what these do, mm³, whatever its rules of order. None where it is not
/// the layers that say what is purged: in passes, where nothing is, and where a region takes purge as a whole, since for that one
/// more colour in a layer may be a swap less.
///
/// Printing more can be less purge than printing less, if what is between rinses in steps; so each swap is taken for the cheapest way
/// from the one colour to the other by way of any, at the widest tolerance of the job.
///
/// # Errors
/// `too-many-slots`.
pub fn purge_floor_mm3(task: &Task, shares: &[LayerShare]) -> Result<Option<f64>, Problem> {
    let is_lent = task.rules.takers.values().any(|t| *t == Takes::All);
    if task.printer.profile().prints_in_passes || task.rules.is_quick || is_lent {
        return Ok(None);
    }
    let print = Print::of(task, shares);
    let tolerances = task.rules.tolerances.values().copied();
    let widest = tolerances.fold(task.printer.tolerance, f64::max);
    let count = task.filaments.len();
    let mut table: CostTable = Prices::new(task).table(Aim::Purge, &vec![widest; count]);
    for by in 0..count {
        for from in 0..count {
            for to in 0..count {
                table[from][to] = table[from][to].min(table[from][by] + table[by][to]);
            }
        }
    }
    let turn = |slots: &Vec<u8>| Turn {
        slots: slots.clone(),
        table: 0,
        before: Vec::new(),
    };
    let turns: Vec<Turn> = print.used.iter().map(turn).collect();
    let least = least_cost_order(&turns, &[table]).map_err(|e| refused(&print, &turns, e))?;
    Ok(Some(least.cost))
}
