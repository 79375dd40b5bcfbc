//! One pass for each colour.

use super::print::Print;
use crate::order::{CostTable, OrderError, Turn, least_cost_order};

/// How far a pass may begin below the top of what stands already, mm, as far as the head allows: beside the nozzle itself there is
/// little room (common practice, no source).
const PASS_STEP_MM: f64 = 1.0;

/// The order of passes, one for each slot, with the least cost.
///
/// # Errors
/// Two slots neither of which can go before the other.
pub(super) fn passes(print: &Print<'_>, table: &CostTable) -> Result<Vec<u8>, (u8, u8)> {
    let mut spans: Vec<(u8, f64, f64)> = Vec::new();
    for (layer, used) in print.used.iter().enumerate() {
        let share = &print.shares[layer];
        for slot in used {
            match spans.iter_mut().find(|s| s.0 == *slot) {
                Some(span) => span.2 = share.z1_mm,
                None => spans.push((*slot, share.z0_mm, share.z1_mm)),
            }
        }
    }
    spans.sort_by_key(|s| s.0);
    let step_mm = PASS_STEP_MM.min(print.task.printer.clear_mm());
    let mut before = Vec::new();
    for a in &spans {
        for b in spans.iter().filter(|b| b.0 != a.0) {
            // The nozzle would have to go down beside what stands.
            let blocks = |a: &(u8, f64, f64), b: &(u8, f64, f64)| a.2 - b.1 > step_mm;
            if blocks(a, b) && blocks(b, a) {
                return Err((a.0, b.0));
            }
            if blocks(a, b) {
                before.push((b.0, a.0));
            }
        }
    }
    before.sort_unstable();
    let turn = Turn {
        slots: spans.iter().map(|s| s.0).collect(),
        table: 0,
        before,
    };
    let order = least_cost_order(std::slice::from_ref(&turn), std::slice::from_ref(table));
    let ring = match order {
        Ok(order) => return Ok(order.layers.concat()),
        Err(OrderError::Contradiction { ring, .. }) => ring,
        // No printer has more slots than can be put in order.
        Err(OrderError::TooManySlots { .. }) => turn.slots,
    };
    Err((ring[0], ring[1]))
}
