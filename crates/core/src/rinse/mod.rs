//! How a swap washes out: the share of the old filament left in the melt, its colour, and how much to purge.

mod calibrate;

pub use calibrate::{Calibration, CalibrationPoint, Measured, NoFit, calibrate};

use crate::colour::{Colour, Pigment, difference, mix};
use serde::{Deserialize, Serialize};

/// Cross-section of 1.75 mm filament in mm²: π/4 · 1.75² = 2.405.
pub const FILAMENT_MM2: f64 = 0.25 * std::f64::consts::PI * 1.75 * 1.75;

/// The melt zone of a nozzle: N equal stirred tanks in series with a total volume.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct MeltZone {
    /// Vm, in mm³.
    pub volume_mm3: f64,
    /// N, at least 1: 1 mixes fully, many come close to plug flow.
    pub tanks: u32,
}

impl MeltZone {
    /// Share of the old filament that leaves the nozzle after `purged_mm3`, 1 to 0:
    /// exp(−x) · Σ xⁱ/i! for i < N, with x = N V / Vm.
    ///
    /// # Source
    /// Levenspiel, Chemical Reaction Engineering, ch. 14 (tanks-in-series model).
    pub fn residual(&self, purged_mm3: f64) -> f64 {
        let x = f64::from(self.tanks) * purged_mm3.max(0.0) / self.volume_mm3;
        let mut term = 1.0;
        let mut sum = 1.0;
        for i in 1..self.tanks {
            term *= x / f64::from(i);
            sum += term;
        }
        ((-x).exp() * sum).min(1.0)
    }

    /// The volume in mm³ after which no more than `share` is left (0 < share ≤ 1), by bisection to 10⁻⁶ mm³.
    pub fn volume_for(&self, share: f64) -> f64 {
        if share >= 1.0 {
            return 0.0;
        }
        let mut high = self.volume_mm3;
        while self.residual(high) > share && high < 1e6 {
            high *= 2.0;
        }
        let mut low = 0.0;
        while high - low > 1e-6 {
            let middle = 0.5 * (low + high);
            if self.residual(middle) > share {
                low = middle
            } else {
                high = middle
            }
        }
        high
    }
}

/// What one swap takes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Rinse {
    /// Volume to purge in mm³.
    pub purge_mm3: f64,
    /// The same as length of 1.75 mm filament, in mm.
    pub purge_mm: f64,
    /// The CIEDE2000 difference that counts as clean.
    pub tolerance: f64,
    /// How the colour washes out, from nothing purged to a little past the cut-off.
    pub curve: Vec<RinsePoint>,
}

impl Rinse {
    /// The same where no swap purges less than `least_mm3`.
    #[must_use]
    pub fn at_least(mut self, least_mm3: f64) -> Rinse {
        self.purge_mm3 = self.purge_mm3.max(least_mm3);
        self.purge_mm = self.purge_mm3 / FILAMENT_MM2;
        self
    }
}

/// One point of a wash-out.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct RinsePoint {
    /// Purged so far, mm³.
    pub purged_mm3: f64,
    /// Share of the old filament, 1 to 0.
    pub residual: f64,
    /// CIEDE2000 difference to the new filament.
    pub delta_e: f64,
    /// The colour that comes out.
    pub hex: Colour,
}

/// The largest share of `from` in `to` that is within the tolerance, together with everything below it.
///
/// The difference may rise and fall again on the way (a mixture can pass close to the target), so the share is
/// the lowest crossing: scanned in steps of a twelfth of a decade from 10⁻⁹ up, then bisected.
fn clean_share(from: Pigment, to: Pigment, tolerance: f64) -> f64 {
    let target = mix(from, to, 0.0);
    let off = |share: f64| difference(mix(from, to, share), target) > tolerance;
    let mut low = 1e-9;
    if off(low) {
        return low;
    }
    loop {
        if low >= 1.0 {
            return 1.0;
        }
        let next = (low * 10f64.powf(1.0 / 12.0)).min(1.0);
        if off(next) {
            let mut high = next;
            for _ in 0..40 {
                let middle = 0.5 * (low + high);
                if off(middle) {
                    high = middle
                } else {
                    low = middle
                }
            }
            return low;
        }
        low = next;
    }
}

/// Volume in mm³ to purge from one filament to another.
///
/// `tolerance`: CIEDE2000 difference that counts as clean, above 0.
pub fn purge_mm3(zone: MeltZone, from: Pigment, to: Pigment, tolerance: f64) -> f64 {
    zone.volume_for(clean_share(from, to, tolerance))
}

/// The whole wash-out of one pair, with `points` ≥ 2 points of curve up to 1.25 times the cut-off (at least one
/// melt zone).
pub fn rinse(zone: MeltZone, from: Pigment, to: Pigment, tolerance: f64, points: u32) -> Rinse {
    rinse_to(zone, from, to, tolerance, 0.0, points).0
}

/// The same with a curve that reaches past a volume that is purged instead, and the difference left there.
pub fn rinse_to(
    zone: MeltZone,
    from: Pigment,
    to: Pigment,
    tolerance: f64,
    purged_mm3: f64,
    points: u32,
) -> (Rinse, f64) {
    let purge = purge_mm3(zone, from, to, tolerance);
    let target = mix(from, to, 0.0);
    let end = (1.25 * purge.max(purged_mm3)).max(zone.volume_mm3);
    let point = |purged_mm3: f64| {
        let residual = zone.residual(purged_mm3);
        let colour = mix(from, to, residual);
        RinsePoint {
            purged_mm3,
            residual,
            delta_e: difference(colour, target),
            hex: Colour::from_linear(colour),
        }
    };
    let curve = (0..points)
        .map(|i| point(end * f64::from(i) / f64::from(points.max(2) - 1)))
        .collect();
    let rinse = Rinse {
        purge_mm3: purge,
        purge_mm: purge / FILAMENT_MM2,
        tolerance,
        curve,
    };
    (rinse, point(purged_mm3).delta_e)
}
