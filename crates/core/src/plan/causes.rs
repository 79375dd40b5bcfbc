//! Why a print swaps: neighbouring layers that ask for the same regions, as one line.

use super::types::{Swap, SwapCause};

/// Layers without a swap that may lie within a run: the best order often swaps on every other layer.
const LONGEST_GAP: usize = 2;

/// The swaps gathered into runs, from the bed up.
pub(super) fn causes(swaps: &[Swap]) -> Vec<SwapCause> {
    let mut runs: Vec<SwapCause> = Vec::new();
    let mut last_pair: Vec<u8> = Vec::new();
    for layer in swaps.chunk_by(|a, b| a.layer == b.layer) {
        let mut regions: Vec<String> = layer.iter().flat_map(|s| s.regions.clone()).collect();
        regions.sort_unstable();
        regions.dedup();
        let index = layer[0].layer;
        let purge_mm3 = layer
            .iter()
            .map(|s| s.purge_mm3)
            .fold(0.0, |sum, v| sum + v);
        // The best order swaps one region in on this layer and back out on the next: both belong to one run.
        let pair = slots(layer);
        let joins = runs.last().is_some_and(|run| {
            index <= run.last_layer + 1 + LONGEST_GAP
                && swaps
                    .iter()
                    .filter(|s| s.layer == run.last_layer)
                    .all(|s| pair.contains(&s.to))
                && layer.iter().all(|s| last_pair.contains(&s.to))
        });
        last_pair = pair;
        match runs.last_mut().filter(|_| joins) {
            Some(run) => {
                run.last_layer = index;
                run.swaps += layer.len();
                run.purge_mm3 += purge_mm3;
                run.regions.extend(regions);
                run.regions.sort_unstable();
                run.regions.dedup();
            }
            None => runs.push(SwapCause {
                first_layer: index,
                last_layer: index,
                regions,
                swaps: layer.len(),
                purge_mm3,
            }),
        }
    }
    runs
}

/// Slots that the swaps of one layer unload or load.
fn slots(layer: &[Swap]) -> Vec<u8> {
    layer.iter().flat_map(|s| [s.from, s.to]).collect()
}
