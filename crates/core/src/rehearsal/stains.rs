//! What is laid in another colour than it should be, and what of it shows.

use super::ground::Ground;
use super::verdict::Stain;
use std::collections::{BTreeSet, HashMap};

/// Stains that are kept to be looked at when all is laid around them; beyond, those of finished layers are judged at once.
const MOST_OPEN: usize = 50_000;

/// What is counted as clean, of the tolerance: a change's purge is reckoned from one pure filament to another, and a trace of those before
/// the last one comes on top of it (2.16 for 2.0 in the demo's gull, where three colours change in every layer).
const CLEAN: f64 = 1.1;

/// Stains of a print, the worst of each square millimetre of a layer.
#[derive(Default)]
pub(super) struct Stains {
    tolerance: f64,
    open: HashMap<(usize, [i32; 2]), Stain>,
    judged: Judged,
}

/// What of stains shows.
#[derive(Debug, Clone, Default)]
pub(super) struct Judged {
    pub(super) worst: Option<Stain>,
    /// Layers with something in sight that is beyond the tolerance.
    pub(super) layers: BTreeSet<usize>,
}

impl Stains {
    pub(super) fn new(tolerance: f64) -> Stains {
        Stains {
            tolerance,
            ..Stains::default()
        }
    }

    /// Whether a difference is worth keeping.
    pub(super) fn is_worth(&self, delta_e: f64) -> bool {
        delta_e > 0.25 * self.tolerance
    }

    pub(super) fn add(&mut self, stain: Stain) {
        let key = (stain.layer, stain.at.map(|c| c.floor() as i32));
        let worst = self.open.entry(key).or_insert_with(|| stain.clone());
        if stain.delta_e > worst.delta_e {
            *worst = stain;
        }
    }

    /// A layer is begun: if there are many, those of layers that nothing is laid on any more are judged.
    pub(super) fn begin(&mut self, layer: usize, ground: &mut Ground) {
        if self.open.len() <= MOST_OPEN {
            return;
        }
        let over = |s: &Stain| s.layer + 1 < layer;
        let due: Vec<Stain> = self
            .open
            .extract_if(|_, s| over(s))
            .map(|(_, s)| s)
            .collect();
        self.judged.take(due, ground, self.tolerance);
    }

    /// What shows so far.
    pub(super) fn judged(&self, ground: &mut Ground) -> Judged {
        let mut judged = self.judged.clone();
        judged.take(
            self.open.values().cloned().collect(),
            ground,
            self.tolerance,
        );
        judged
    }
}

impl Judged {
    fn take(&mut self, mut stains: Vec<Stain>, ground: &mut Ground, tolerance: f64) {
        // The same whatever order they were kept in.
        stains.sort_by(|a, b| b.delta_e.total_cmp(&a.delta_e).then(a.line.cmp(&b.line)));
        for stain in stains {
            let is_beyond =
                stain.delta_e > CLEAN * tolerance && !self.layers.contains(&stain.layer);
            let is_worse = self
                .worst
                .as_ref()
                .is_none_or(|w| stain.delta_e > w.delta_e);
            // The rest would change nothing.
            if !(is_beyond || is_worse) || !ground.shows(stain.layer, stain.at) {
                continue;
            }
            if is_beyond {
                self.layers.insert(stain.layer);
            }
            if is_worse {
                self.worst = Some(stain);
            }
        }
    }
}
