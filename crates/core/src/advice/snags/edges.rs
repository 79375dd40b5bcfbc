//! A border between two colours that runs through several layers, each of which needs both.

use super::{Candidate, SnagSort, give_layers, runs};
use crate::advice::Trial;
use crate::plan::dot_mm2;

/// Layers that a border may run through and still be meant level.
const MOST_LAYERS: usize = 8;

pub(super) fn find(trial: &Trial<'_>, out: &mut Vec<Candidate>) {
    let (job, shares) = (trial.job, trial.shares());
    let dot = dot_mm2(&job.printer);
    let regions: Vec<u16> = job.live_regions().map(|(n, _)| n).collect();
    let prints = |layer: usize, n: u16| shares[layer].regions[n as usize].area_mm2 >= dot;
    let pairs = regions
        .iter()
        .flat_map(|a| regions.iter().map(|b| (*a, *b)));
    for (below, above) in pairs.filter(|(a, b)| job.slot_of(*a) != job.slot_of(*b)) {
        let only = |layer: usize, is: u16, not: u16| prints(layer, is) && !prints(layer, not);
        for run in runs(shares.len(), |l| prints(l, below) && prints(l, above)) {
            // Below it only the one, above it only the other, and more than the one swap that any border needs.
            let starts = run.start > 0 && only(run.start - 1, below, above);
            let ends = run.end < shares.len() && only(run.end, above, below);
            if !(starts && ends && (2..=MOST_LAYERS).contains(&run.len())) {
                continue;
            }
            for (from, to) in [(above, below), (below, above)] {
                out.push(Candidate {
                    sort: SnagSort::Edge,
                    what: format!(
                        "The border between {} and {} runs through layer {} to {} instead of lying on one",
                        trial.name(below),
                        trial.name(above),
                        run.start + 1,
                        run.end
                    ),
                    mend: format!("Level it: to {}", trial.name(to)),
                    edit: give_layers(trial, from, to, &run),
                    low_mm: shares[run.start].z0_mm,
                    high_mm: shares[run.end - 1].z1_mm,
                    regions: vec![below, above],
                    is_told_anyway: false,
                });
            }
        }
    }
}
