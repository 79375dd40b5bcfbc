//! How every pair that is swapped washes out.

use super::prices::Prices;
use super::print::Print;
use super::types::{PairRinse, Swap};
use crate::rinse::rinse_to;
use std::collections::BTreeMap;

/// Points in the wash-out curve of a pair.
const CURVE_POINTS: u32 = 33;

/// All pairs that are swapped, the one that purges most each time first.
pub(super) fn pairs(print: &Print<'_>, prices: &mut Prices<'_>, swaps: &[Swap]) -> Vec<PairRinse> {
    let task = print.task;
    if !task.printer.profile().rinses {
        return Vec::new();
    }
    let mut found: BTreeMap<(u8, u8), (usize, f64)> = BTreeMap::new();
    for swap in swaps {
        let pair = found.entry((swap.from, swap.to)).or_default();
        pair.0 += 1;
        pair.1 = pair.1.max(swap.purge_mm3);
    }
    let mut pairs: Vec<PairRinse> = found
        .into_iter()
        .map(|((from, to), (times, purge_mm3))| {
            let pigment = |slot: u8| print.filaments[slot as usize - 1].pigment;
            let usual = prices.of(from - 1, to - 1, task.printer.tolerance);
            let (rinse, delta_e) = rinse_to(
                task.printer.melt,
                pigment(from),
                pigment(to),
                task.printer.tolerance,
                // What is due to the plastic washes the colour out as well.
                purge_mm3,
                CURVE_POINTS,
            );
            PairRinse {
                from,
                to,
                times,
                purge_mm3,
                purge_mm: print.filaments[to as usize - 1].length_mm(purge_mm3),
                extra_mm3: usual.extra_mm3,
                delta_e,
                is_set: task
                    .rules
                    .cut_offs
                    .iter()
                    .any(|c| (c.from, c.to) == (from, to)),
                rinse: rinse.at_least(task.printer.least_flush()),
            }
        })
        .collect();
    pairs.sort_by(|a, b| b.purge_mm3.total_cmp(&a.purge_mm3));
    pairs
}
