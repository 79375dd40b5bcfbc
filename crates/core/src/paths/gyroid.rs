//! The gyroid: a surface that crosses itself nowhere, so that every layer holds on to the one below in all directions.
//!
//! # Source
//! Schoen, "Infinite periodic minimal surfaces without self-intersections", NASA TN D-5541, 1970, with the level set
//! sin x cos y + sin y cos z + sin z cos x = 0 (from memory).

use crate::shapes::{Area, clip_lines};
use std::f64::consts::{PI, TAU};

/// Length of the lines in a plane per area, at a period of 2π, on average over all heights (measured by this file's own lines;
/// tested).
pub(super) const LENGTH_PER_AREA: f64 = 0.549;

/// Points along one period of a line.
const POINTS: usize = 24;

/// The lines of a gyroid at a height over an area, of which they fill a share.
pub(super) fn gyroid(area: &Area, share: f64, z_mm: f64, line_mm: f64) -> Vec<Vec<[f64; 2]>> {
    let Some((low, high)) = area.bounds() else {
        return Vec::new();
    };
    // Share = line · length per area / scale, with `scale` mm to one of the formula's units.
    let scale = line_mm * LENGTH_PER_AREA / share;
    let z = (z_mm / scale).rem_euclid(TAU);
    let lines = waves([low, high].map(|p| p.map(|c| c / scale)), z);
    let lines: Vec<_> = lines
        .into_iter()
        .map(|l| l.into_iter().map(|p| p.map(|c| c * scale)).collect())
        .collect();
    clip_lines(area, &lines)
}

/// Lines of the formula in a box. Where |cos z| leads they run along y and sway in x, else the other way round.
fn waves([low, high]: [[f64; 2]; 2], z: f64) -> Vec<Vec<[f64; 2]>> {
    let (sin_z, cos_z) = z.sin_cos();
    // With a = sin z: a cos x + sin x cos y + cos z sin y = 0 is, for a given y, A cos x + B sin x + C = 0.
    let along_y = sin_z.abs() <= cos_z.abs();
    let axis = usize::from(along_y);
    let step = TAU / POINTS as f64;
    let first = (low[axis] / step).floor() as i64 - 1;
    let last = (high[axis] / step).ceil() as i64 + 1;
    let solve = |s: f64| -> [f64; 2] {
        let (sin, cos) = s.sin_cos();
        let (a, b, c) = match along_y {
            // y given: sin x cos y + sin y cos z + sin z cos x
            true => (sin_z, cos, sin * cos_z),
            // x given: sin x cos y + sin y cos z + sin z cos x
            false => (sin, cos_z, sin_z * cos),
        };
        let reach = a.hypot(b);
        let base = b.atan2(a);
        let off = (-c / reach.max(1e-12)).clamp(-1.0, 1.0).acos();
        [base + off, base - off]
    };
    let across = 1 - axis;
    let mut lines = Vec::new();
    let periods = ((low[across] - PI) / TAU).floor() as i64 - 1
        ..=((high[across] + PI) / TAU).ceil() as i64 + 1;
    for branch in 0..2 {
        // One period of the line, followed without a jump.
        let mut values: Vec<f64> = Vec::new();
        for i in first..=last {
            let raw = solve(i as f64 * step)[branch];
            let near = values
                .last()
                .map_or(raw, |before| raw + TAU * ((before - raw) / TAU).round());
            values.push(near);
        }
        for period in periods.clone() {
            let line: Vec<[f64; 2]> = (first..=last)
                .zip(&values)
                .map(|(i, v)| {
                    let mut p = [0.0; 2];
                    p[axis] = i as f64 * step;
                    p[across] = v + TAU * period as f64;
                    p
                })
                .collect();
            lines.push(line);
        }
    }
    lines
}
