//! Mixtures of several feeds: shares that sum to the whole, and the shares that come nearest to a colour.

use super::{Colour, Pigment, blend, difference};

/// A mixture that was looked for.
#[derive(Debug, Clone, PartialEq)]
pub struct Mixture {
    /// Share of each feed; they sum to 1.
    pub shares: Vec<f64>,
    /// Linear-light colour that it gives.
    pub linear: [f64; 3],
    /// CIEDE2000 difference to the colour that is wanted.
    pub difference: f64,
}

/// Shares are whole numbers of these parts: half a percent.
const PARTS: u32 = 200;

/// Shares with one of them set: the others keep their proportions, and none falls below the least. The sum is 1; what is
/// set gives way if the least shares leave no room for it.
///
/// `shares`: at least two; `index` of the one that is set. Rounded to half a percent, the rounding goes to the largest
/// of the others.
pub fn shares_with(shares: &[f64], index: usize, share: f64, least: f64) -> Vec<f64> {
    let n = shares.len();
    let rest = n.saturating_sub(1).max(1) as f64;
    let share = if share.is_finite() { share } else { least };
    let set = round(share.clamp(least, (1.0 - least * rest).max(least)));
    let others: f64 = (0..n)
        .filter(|i| *i != index)
        .map(|i| shares[i].max(0.0))
        .sum();
    let left = 1.0 - set;
    let spare = left - least * rest;
    let mut out: Vec<f64> = (0..n)
        .map(|i| {
            if i == index {
                return set;
            }
            let part = if others > 0.0 {
                shares[i].max(0.0) / others
            } else {
                1.0 / rest
            };
            // In proportion above the least, so that nothing falls below it.
            round(least + part * spare)
        })
        .collect();
    let largest = (0..n)
        .filter(|i| *i != index)
        .max_by(|a, b| out[*a].total_cmp(&out[*b]).then(b.cmp(a)));
    if let Some(largest) = largest {
        let sum: f64 = out.iter().sum();
        out[largest] += 1.0 - sum;
    }
    out
}

fn round(share: f64) -> f64 {
    (share * f64::from(PARTS)).round() / f64::from(PARTS)
}

/// The shares, in half percents, whose colour comes nearest to a wanted one, each at least `least`.
///
/// `feeds`: 2 to 6. Of up to three feeds every mixture is looked at; of more, those on a coarse grid, and then half
/// percents, and more, are moved from one feed to another as long as that comes nearer, from the best few places.
pub fn nearest_mixture(feeds: &[Pigment], wanted: Colour, least: f64) -> Mixture {
    let n = feeds.len();
    let floor = (least * f64::from(PARTS)).ceil() as u32;
    let free = PARTS.saturating_sub(floor * n as u32);
    let target = wanted.linear();
    let made = |parts: &[u32]| -> Mixture {
        let shares: Vec<f64> = parts
            .iter()
            .map(|p| f64::from(floor + p) / f64::from(floor * n as u32 + free))
            .collect();
        let pairs: Vec<(Pigment, f64)> =
            feeds.iter().copied().zip(shares.iter().copied()).collect();
        let linear = blend(&pairs);
        Mixture {
            difference: difference(linear, target),
            shares,
            linear,
        }
    };
    let steps = match n {
        // Few enough to look at every one.
        0..=3 => free,
        4 => 14,
        5 => 9,
        _ => 7,
    };
    const STARTS: usize = 6;
    let mut starts: Vec<(f64, Vec<u32>)> = Vec::new();
    each_split(steps, n, &mut Vec::new(), &mut |coarse| {
        let mut parts: Vec<u32> = coarse.iter().map(|c| c * free / steps.max(1)).collect();
        let short = free - parts.iter().sum::<u32>();
        if let Some(largest) = (0..n).max_by_key(|i| parts[*i]) {
            parts[largest] += short;
        }
        let off = made(&parts).difference;
        let at = starts.partition_point(|(d, _)| *d <= off);
        if at < STARTS {
            starts.insert(at, (off, parts));
            starts.truncate(STARTS);
        }
    });
    let mut best: Option<Mixture> = None;
    for (_, mut parts) in starts {
        let mut here = made(&parts);
        let mut step = (free / steps.max(1)).max(1);
        while step > 0 {
            let mut is_better = false;
            for from in 0..n {
                for to in (0..n).filter(|to| *to != from) {
                    if parts[from] < step {
                        continue;
                    }
                    parts[from] -= step;
                    parts[to] += step;
                    let there = made(&parts);
                    if there.difference < here.difference - 1e-12 {
                        here = there;
                        is_better = true;
                    } else {
                        parts[from] += step;
                        parts[to] -= step;
                    }
                }
            }
            if !is_better {
                step /= 2;
            }
        }
        if best.as_ref().is_none_or(|b| here.difference < b.difference) {
            best = Some(here);
        }
    }
    best.unwrap_or_else(|| made(&vec![0; n]))
}

/// Calls for every way to split a whole number among some.
fn each_split(whole: u32, among: usize, so_far: &mut Vec<u32>, call: &mut dyn FnMut(&[u32])) {
    if among <= 1 {
        so_far.push(whole);
        call(so_far);
        so_far.pop();
        return;
    }
    for first in 0..=whole {
        so_far.push(first);
        each_split(whole - first, among - 1, so_far, call);
        so_far.pop();
    }
}
