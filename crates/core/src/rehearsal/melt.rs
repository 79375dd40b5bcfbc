//! What is in a nozzle: stirred tanks one after the other, each with shares of what has been fed.

use crate::colour::{Pigment, blend};
use crate::rinse::MeltZone;

/// A share of less is nothing that anybody sees.
const NOTHING: f64 = 1e-6;

/// The filled melt zone of a nozzle.
///
/// # Source
/// Levenspiel, Chemical Reaction Engineering, ch. 14 (tanks-in-series model), as [`MeltZone`].
#[derive(Debug, Clone, PartialEq)]
pub struct Melt {
    tank_mm3: f64,
    /// Tank by tank from where filament comes in, share of each source.
    tanks: Vec<Vec<f64>>,
    /// Pulled back and not yet given back, mm³.
    pulled_mm3: f64,
    /// The source that all tanks are full of, if it is one.
    pure: Option<usize>,
}

impl Melt {
    /// Full of what is made of shares of so many sources.
    pub fn full_of(zone: MeltZone, shares: &[(usize, f64)], sources: usize) -> Melt {
        let mut tank = vec![0.0; sources];
        for (source, share) in shares {
            tank[*source] += share;
        }
        Melt {
            tank_mm3: zone.volume_mm3 / f64::from(zone.tanks.max(1)),
            tanks: vec![tank; zone.tanks.max(1) as usize],
            pulled_mm3: 0.0,
            pure: match shares {
                [(source, _)] => Some(*source),
                _ => None,
            },
        }
    }

    /// Pulls filament back.
    pub fn pull(&mut self, mm3: f64) {
        self.pulled_mm3 += mm3;
    }

    /// Feeds filament made of shares of the sources; what leaves the nozzle, mm³: the rest makes up for what was pulled back.
    ///
    /// # Cost
    /// Nothing while all is of one source; else linear in tanks, sources, and steps of a twentieth of a tank.
    pub fn feed(&mut self, mm3: f64, shares: &[(usize, f64)]) -> f64 {
        let made_up = mm3.min(self.pulled_mm3);
        self.pulled_mm3 -= made_up;
        let out = mm3 - made_up;
        if let ([(source, _)], Some(pure)) = (shares, self.pure)
            && *source == pure
        {
            return out;
        }
        self.pure = None;
        let steps = (out / (0.05 * self.tank_mm3)).ceil().max(1.0);
        // What goes in and is stirred leaves e^−x of what was there.
        let kept = (-out / steps / self.tank_mm3).exp();
        let mut coming = vec![0.0; self.tanks[0].len()];
        for _ in 0..steps as usize {
            coming.fill(0.0);
            for (source, share) in shares {
                coming[*source] += share;
            }
            for tank in &mut self.tanks {
                for (held, came) in tank.iter_mut().zip(&mut coming) {
                    let now = *came + (*held - *came) * kept;
                    // What flows on is the mean of what it held on the way.
                    *came = 0.5 * (*held + now);
                    *held = now;
                }
            }
        }
        if let [(source, _)] = shares {
            let is_pure = self.tanks.iter().all(|t| 1.0 - t[*source] < NOTHING);
            if is_pure {
                for tank in &mut self.tanks {
                    tank.fill(0.0);
                    tank[*source] = 1.0;
                }
                self.pure = Some(*source);
            }
        }
        out
    }

    /// Somebody has pushed filament through until it flows.
    pub fn primed(&mut self) {
        self.pulled_mm3 = 0.0;
    }

    /// Whether all of it is of one source, and which.
    pub fn pure(&self) -> Option<usize> {
        self.pure
    }

    /// Linear-light colour of what leaves it.
    pub fn colour(&self, sources: &[Pigment]) -> [f64; 3] {
        self.tanks
            .last()
            .map_or([0.0; 3], |tank| of_shares(tank, sources))
    }

    /// Colours from where filament comes in to where it leaves.
    pub fn colours(&self, sources: &[Pigment]) -> Vec<[f64; 3]> {
        self.tanks
            .iter()
            .map(|tank| of_shares(tank, sources))
            .collect()
    }
}

fn of_shares(shares: &[f64], sources: &[Pigment]) -> [f64; 3] {
    let parts: Vec<(Pigment, f64)> = sources
        .iter()
        .copied()
        .zip(shares.iter().copied())
        .collect();
    blend(&parts)
}
