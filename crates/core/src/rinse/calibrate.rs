//! The melt zone of a nozzle from rinses that somebody measured.

use super::{FILAMENT_MM2, MeltZone, clean_share};
use crate::colour::{Colour, Pigment};
use serde::{Deserialize, Serialize};

/// One rinse that was watched: from a colour to another it came out clean after so much filament.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Measured {
    /// The filament that was in the nozzle.
    pub from: Colour,
    /// The one that was loaded.
    pub to: Colour,
    /// Length of 1.75 mm filament pushed through until it looked clean, mm.
    pub clean_mm: f64,
    /// CIEDE2000 difference that looked clean.
    pub tolerance: f64,
}

/// A melt zone fitted to measured rinses.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Calibration {
    /// The melt zone that fits best.
    pub melt: MeltZone,
    /// Root of the mean square of what it is off by, mm of filament.
    pub error_mm: f64,
    /// The same as a share of what was measured.
    pub error_share: f64,
    /// Whether the number of tanks was fitted as well: one rinse, or rinses that all leave the same share, do not tell it.
    pub is_tanks_fitted: bool,
    /// Each rinse, in the order given.
    pub points: Vec<CalibrationPoint>,
    /// Share of the old filament against length pushed through, mm: the curve of the fit.
    pub curve: Vec<[f64; 2]>,
}

/// One rinse beside its fit.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct CalibrationPoint {
    /// Share of the old filament that still looks clean.
    pub share: f64,
    /// Length measured, mm.
    pub measured_mm: f64,
    /// Length that the fitted zone needs, mm.
    pub fitted_mm: f64,
}

/// Why no melt zone fits.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum NoFit {
    /// Nothing was measured.
    #[error("No rinse was measured")]
    Nothing,
    /// A length or a tolerance that cannot be.
    #[error("Rinse {0} has a length or a tolerance that cannot be")]
    Value(usize),
    /// Two colours so alike that nothing has to be rinsed.
    #[error("Rinse {0} goes between colours that already count as the same")]
    Alike(usize),
    /// The rinses contradict one another.
    #[error(
        "No melt zone fits: rinse {worst} would take {fitted_mm:.0} mm, not {measured_mm:.0} mm"
    )]
    Contradiction {
        /// Which is furthest off, from 1.
        worst: usize,
        /// What the best zone would need, mm.
        fitted_mm: f64,
        /// What was measured, mm.
        measured_mm: f64,
    },
    /// The best zone is not one that a nozzle has.
    #[error("The melt zone would hold {0:.1} mm³")]
    Size(f64),
}

/// Most tanks tried: above, the wash-out is as good as plug flow.
const MOST_TANKS: u32 = 50;

/// Mean error, as a share, above which rinses are said to contradict one another.
const WORST_SHARE: f64 = 0.25;

/// Points of the curve drawn.
const CURVE_POINTS: u32 = 49;

/// Fits a melt zone to measured rinses, by least squares of the relative error of the length.
///
/// For a number of tanks the volume that leaves a share is proportional to Vm, so Vm is found in closed form; every number of
/// tanks up to 50 is tried. One rinse, or several that all leave the same share, cannot tell the number of tanks: it stays as
/// in `now`.
///
/// # Errors
/// [`NoFit`].
pub fn calibrate(measured: &[Measured], now: MeltZone) -> Result<Calibration, NoFit> {
    if measured.is_empty() {
        return Err(NoFit::Nothing);
    }
    let mut shares = Vec::with_capacity(measured.len());
    for (index, m) in measured.iter().enumerate() {
        let is_usable = |x: f64, most: f64| x.is_finite() && x > 0.0 && x <= most;
        if !is_usable(m.clean_mm, 1e4) || !is_usable(m.tolerance, 50.0) {
            return Err(NoFit::Value(index + 1));
        }
        let pigment = |colour: Colour| Pigment {
            colour,
            tinting: 1.0,
        };
        let share = clean_share(pigment(m.from), pigment(m.to), m.tolerance);
        if share >= 1.0 {
            return Err(NoFit::Alike(index + 1));
        }
        shares.push(share);
    }
    let spread = |pick: fn(f64, f64) -> f64| shares.iter().copied().reduce(pick).unwrap_or(1.0);
    // Lengths go with the logarithm of the share: a tenth of it apart is enough to tell the tanks.
    let is_tanks_fitted = (spread(f64::max) / spread(f64::min)).ln() > 0.1;
    let tanks = if is_tanks_fitted {
        1..=MOST_TANKS
    } else {
        now.tanks..=now.tanks
    };
    let fit = |tanks: u32| {
        let unit = MeltZone {
            volume_mm3: 1.0,
            tanks,
        };
        // Length over measured length for a zone of 1 mm³; the best factor makes these come nearest to 1.
        let ratios: Vec<f64> = shares
            .iter()
            .zip(measured)
            .map(|(share, m)| unit.volume_for(*share) / FILAMENT_MM2 / m.clean_mm)
            .collect();
        let sum: f64 = ratios.iter().sum();
        let squares: f64 = ratios.iter().map(|r| r * r).sum();
        let volume_mm3 = sum / squares;
        let off: f64 = ratios.iter().map(|r| (r * volume_mm3 - 1.0).powi(2)).sum();
        let zone = MeltZone { volume_mm3, tanks };
        (zone, (off / measured.len() as f64).sqrt())
    };
    let (melt, error_share) = tanks
        .map(fit)
        .min_by(|a, b| a.1.total_cmp(&b.1))
        .ok_or(NoFit::Nothing)?;
    let points: Vec<CalibrationPoint> = shares
        .iter()
        .zip(measured)
        .map(|(share, m)| CalibrationPoint {
            share: *share,
            measured_mm: m.clean_mm,
            fitted_mm: melt.volume_for(*share) / FILAMENT_MM2,
        })
        .collect();
    let off = |p: &CalibrationPoint| (p.fitted_mm / p.measured_mm - 1.0).abs();
    if error_share > WORST_SHARE {
        let (index, worst) = points
            .iter()
            .enumerate()
            .max_by(|a, b| off(a.1).total_cmp(&off(b.1)))
            .ok_or(NoFit::Nothing)?;
        return Err(NoFit::Contradiction {
            worst: index + 1,
            fitted_mm: worst.fitted_mm,
            measured_mm: worst.measured_mm,
        });
    }
    if !(1.0..=2000.0).contains(&melt.volume_mm3) {
        return Err(NoFit::Size(melt.volume_mm3));
    }
    let squares = points.iter().map(|p| (p.fitted_mm - p.measured_mm).powi(2));
    let error_mm = (squares.sum::<f64>() / points.len() as f64).sqrt();
    let longest = points
        .iter()
        .map(|p| p.measured_mm.max(p.fitted_mm))
        .fold(0.0, f64::max);
    let curve = (0..CURVE_POINTS)
        .map(|i| {
            let mm = 1.1 * longest * f64::from(i) / f64::from(CURVE_POINTS - 1);
            [mm, melt.residual(mm * FILAMENT_MM2)]
        })
        .collect();
    Ok(Calibration {
        melt,
        error_mm,
        error_share,
        is_tanks_fitted,
        points,
        curve,
    })
}
