//! Bridges: solid rows that hang between two sides, laid the way in which most of them find hold at both ends.

use super::bead::{Bead, BeadKind, way};
use super::fill::{in_rows, solid};
use super::rows::{Rows, rows};
use crate::machine::SkinFill;
use crate::shapes::Area;

/// Directions that are tried.
const WAYS: usize = 12;

/// Rows over what hangs. `held`: what of the layer lies on something.
///
/// # Cost
/// Twelve times that of rows.
pub(super) fn bridges(area: Area, held: &Area, line_mm: f64) -> Vec<Bead> {
    let mut beads = Vec::new();
    for island in area.islands() {
        let (angle_deg, _) = best_angle(&island, held, line_mm);
        let mut laid = match island.opened(1.5 * line_mm).is_empty() {
            // Too narrow to turn in.
            true => solid(island, SkinFill::Contour, 0.0, line_mm),
            false => in_rows(&island, angle_deg, line_mm),
        };
        for bead in laid.iter_mut().filter(|b| b.kind == BeadKind::Skin) {
            bead.kind = BeadKind::Bridge;
        }
        beads.extend(laid);
    }
    beads
}

/// Whether most rows over what hangs find hold at both ends.
pub(super) fn is_spanned(island: &Area, held: &Area, line_mm: f64) -> bool {
    const MOST: f64 = 0.6;
    best_angle(island, held, line_mm).1 >= MOST
}

/// The direction in which the largest share of rows is held at both ends, of equals the one with the shortest rows; and that share.
fn best_angle(island: &Area, held: &Area, line_mm: f64) -> (f64, f64) {
    let (mut best, mut best_share, mut best_mean) = (0.0, -1.0, f64::INFINITY);
    for step in 0..WAYS {
        let angle_deg = 180.0 * step as f64 / WAYS as f64;
        let how = Rows {
            angle_deg,
            apart_mm: 2.0 * line_mm,
            is_joined: false,
            fits: true,
        };
        let (mut sum, mut sure, mut count) = (0.0, 0.0, 0);
        for line in rows(island, how).lines {
            let (Some(a), Some(b)) = (line.first(), line.last()) else {
                continue;
            };
            let length = way(*a, *b);
            // A little beyond its ends.
            let out = |p: &[f64; 2], q: &[f64; 2]| {
                [0, 1].map(|i| p[i] + line_mm * (p[i] - q[i]) / length.max(1e-9))
            };
            if held.holds(out(a, b)) && held.holds(out(b, a)) {
                sure += length;
            }
            sum += length;
            count += 1;
        }
        if count == 0 {
            continue;
        }
        let (share, mean) = (sure / f64::max(sum, 1e-9), sum / count as f64);
        const LIKE: f64 = 0.02;
        if share > best_share + LIKE || (share > best_share - LIKE && mean < 0.98 * best_mean) {
            (best, best_share, best_mean) = (angle_deg, share, mean);
        }
    }
    (best, best_share)
}
