//! A colour on a few layers for next to nothing.

use super::{Candidate, SnagSort, give_layers, layers_in_words, runs};
use crate::advice::Trial;
use crate::plan::dot_mm2;
use std::ops::Range;

/// Layers at the end of a run that are looked at.
const MOST_LAYERS: usize = 4;

/// Plastic that counts as next to nothing, as a share of what is purged in the same layers.
const NEXT_TO_NOTHING: f64 = 0.15;

/// A layer at the end of a longer run that has less than this share of the run's usual layer is its tapering end.
const TAPERING: f64 = 0.35;

pub(super) fn find(trial: &Trial<'_>, out: &mut Vec<Candidate>) {
    let (job, shares) = (trial.job, trial.shares());
    let copies = f64::from(job.copies.count());
    let dot = dot_mm2(&job.printer);
    let mut purged = vec![0.0; shares.len()];
    for swap in &trial.plan.swaps {
        purged[swap.layer] += swap.purge_mm3;
    }
    for (number, _) in job.live_regions() {
        let area = |layer: usize| shares[layer].regions[number as usize].area_mm2;
        let volumes: Vec<f64> = shares
            .iter()
            .map(|s| copies * s.regions[number as usize].area_mm2 * (s.z1_mm - s.z0_mm))
            .collect();
        for run in runs(shares.len(), |l| area(l) >= dot) {
            for layers in ends(&run, &volumes, &purged) {
                out.extend(candidate(trial, number, &layers, &volumes, &purged));
            }
        }
    }
}

/// The lower and the upper end of a run, as far as each prints next to nothing; all of it once if that is all of it.
fn ends(run: &Range<usize>, volumes: &[f64], purged: &[f64]) -> Vec<Range<usize>> {
    let mut sorted = volumes[run.clone()].to_vec();
    sorted.sort_by(f64::total_cmp);
    // All of a short run may go; of a longer one only what tapers off.
    let most_mm3 = if run.len() <= MOST_LAYERS {
        f64::INFINITY
    } else {
        TAPERING * sorted[sorted.len() / 2]
    };
    let length = |layers: &mut dyn Iterator<Item = usize>| {
        let (mut plastic, mut purge, mut length) = (0.0, 0.0, 0);
        let small = layers
            .take(MOST_LAYERS)
            .take_while(|l| volumes[*l] <= most_mm3);
        for (at, layer) in small.enumerate() {
            plastic += volumes[layer];
            purge += purged[layer];
            if purge > 0.0 && plastic <= NEXT_TO_NOTHING * purge {
                length = at + 1;
            }
        }
        length
    };
    let low = run.start..run.start + length(&mut run.clone());
    let high = run.end - length(&mut run.clone().rev())..run.end;
    let mut found = vec![low];
    if found[0] != *run {
        found.push(high);
    }
    found.retain(|layers| !layers.is_empty());
    found
}

/// Whoever has most of these layers takes them over.
fn candidate(
    trial: &Trial<'_>,
    number: u16,
    layers: &Range<usize>,
    volumes: &[f64],
    purged: &[f64],
) -> Option<Candidate> {
    let (job, shares) = (trial.job, trial.shares());
    let has = |n: u16| -> f64 {
        let here = shares[layers.clone()].iter();
        here.map(|s| s.regions[n as usize].area_mm2)
            .fold(0.0, |sum, a| sum + a)
    };
    let to = job
        .live_regions()
        .map(|(n, _)| n)
        .filter(|n| job.slot_of(*n) != job.slot_of(number))
        .max_by(|a, b| has(*a).total_cmp(&has(*b)))
        .filter(|to| has(*to) > has(number))?;
    let mm3: f64 = volumes[layers.clone()].iter().sum();
    let purge: f64 = purged[layers.clone()].iter().sum();
    Some(Candidate {
        sort: SnagSort::Trifle,
        what: format!(
            "{} prints {mm3:.1} mm³ in {} for {purge:.0} mm³ of purge",
            trial.name(number),
            layers_in_words(layers)
        ),
        mend: format!("Give it to {}", trial.name(to)),
        edit: give_layers(trial, number, to, layers),
        low_mm: shares[layers.start].z0_mm,
        high_mm: shares[layers.end - 1].z1_mm,
        regions: vec![number],
        is_told_anyway: false,
    })
}
