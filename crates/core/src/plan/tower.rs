//! The purge tower: a square column that takes what each layer purges and is kept standing in between.

use super::task::Task;
use super::types::Tower;
use crate::machine::Printing;

/// Smallest side that stands by itself, mm (common practice, no source).
const LEAST_SIDE_MM: f64 = 12.0;

/// Height over side above which a tower wobbles under the nozzle (common practice, no source).
const MOST_SLENDER: f64 = 10.0;

/// Share of the footprint filled on the bed and for so far below a layer that purges, so that it has a floor, mm (common practice,
/// no source).
const FLOOR_SHARE: f64 = 0.12;
const FLOOR_MM: f64 = 1.0;

/// Share filled where no layer purges for a while: what carries the next floor (common practice, no source).
const SPARSE_SHARE: f64 = 0.04;

/// Gap between the tower and whatever else stands on the bed, mm (common practice, no source).
const CLEAR_MM: f64 = 5.0;

/// Step in which the bed is searched for room, mm.
const SEARCH_MM: f64 = 5.0;

/// A tower and the plastic added on each layer only to keep it standing, mm³.
///
/// `layers`: height and volume purged into it of each layer, mm and mm³. Nothing is built above the last layer that purges.
pub(super) fn tower(layers: &[(f64, f64)], task: &Task) -> (Option<Tower>, Vec<f64>) {
    let Some(last) = layers.iter().rposition(|(_, purge)| *purge > 0.0) else {
        return (None, vec![0.0; layers.len()]);
    };
    let widest = layers
        .iter()
        .map(|(height, purge)| purge / height)
        .fold(0.0, f64::max);
    let height_mm: f64 = layers[..=last].iter().map(|(height, _)| height).sum();
    let needed_mm = widest.sqrt().max(LEAST_SIDE_MM);
    let side_mm = needed_mm.max(height_mm / MOST_SLENDER);
    let line_width_mm = task.printer.line_width_mm;
    let mut added = vec![0.0; layers.len()];
    // From a layer up to the next one that purges.
    let mut below_mm = 0.0;
    for (index, (height, purge)) in layers[..=last].iter().enumerate().rev() {
        if *purge > 0.0 {
            below_mm = 0.0;
        }
        let share = match index == 0 || below_mm < FLOOR_MM - 1e-6 {
            true => FLOOR_SHARE,
            false => SPARSE_SHARE,
        };
        let floor = 4.0 * side_mm * line_width_mm + share * side_mm * side_mm;
        added[index] = (height * floor - purge).max(0.0);
        below_mm += height;
    }
    let tower = Tower {
        side_mm,
        height_mm,
        at: place(task, side_mm),
        slenderness: height_mm / side_mm,
        is_widened: side_mm > needed_mm,
        idle_layers: layers[..=last].iter().filter(|l| l.1 <= 0.0).count(),
    };
    (Some(tower), added)
}

/// The rows in which a tower is laid on one layer.
#[derive(Debug, Clone, Copy)]
pub(super) struct Rows {
    /// How long each is, mm.
    long_mm: f64,
    /// How far one is from the next, mm.
    apart_mm: f64,
}

impl Rows {
    /// Those of a layer that lays so many millimetres of line on a square.
    pub(super) fn of(side_mm: f64, line_mm: f64, all_mm: f64) -> Rows {
        let long_mm = (side_mm - line_mm).max(line_mm);
        Rows {
            long_mm,
            apart_mm: (long_mm * side_mm / all_mm.max(1e-9)).clamp(line_mm, long_mm),
        }
    }

    /// Time of laying a length in them, s: at the end of each the nozzle turns twice, no faster than a right angle allows.
    pub(super) fn laying_s(&self, length_mm: f64, speed_mm_s: f64, printing: &Printing) -> f64 {
        // Sine of half a right angle.
        let half = std::f64::consts::FRAC_1_SQRT_2;
        let corner = printing.corner_speed2(half).sqrt().min(speed_mm_s);
        let leg_s = |mm: f64| printing.leg_s(mm, corner, speed_mm_s);
        length_mm / (self.long_mm + self.apart_mm) * (leg_s(self.long_mm) + leg_s(self.apart_mm))
    }
}

/// Middle of a place on the bed for a square, clear of all pieces, where the layers have their x and y; the models stand
/// around the middle of the bed. Beside all of them if there is room, else wherever there is some, nearest to the middle.
fn place(task: &Task, side_mm: f64) -> Option<[f64; 2]> {
    let bounds = task.footprint;
    if bounds.min[0] > bounds.max[0] {
        return Some([0.0; 2]);
    }
    let (size, middle) = (bounds.size(), bounds.centre());
    let bed = task.printer.bed_mm;
    // Middle of the square, from the middle of the bed: as far out as it may be, and how near to each piece.
    let most = [0, 1].map(|i| 0.5 * (bed[i] - side_mm));
    let near = [0, 1].map(|i| 0.5 * (size[i] + side_mm) + CLEAR_MM);
    if most.iter().any(|m| *m < 0.0) {
        return None;
    }
    let pieces = task.pieces.shifts(size);
    let is_free = |at: [f64; 2]| {
        (0..2).all(|i| at[i].abs() <= most[i] + 1e-9)
            && pieces
                .iter()
                .all(|p| (0..2).any(|i| (at[i] - p[i]).abs() >= near[i] - 1e-9))
    };
    let out = [0, 1].map(|i| pieces.iter().map(|p| p[i]).fold(0.0, f64::max) + near[i]);
    let beside = [[out[0], 0.0], [0.0, out[1]], [-out[0], 0.0], [0.0, -out[1]]];
    let steps = |i: usize| {
        let n = (2.0 * most[i] / SEARCH_MM) as u32;
        (0..=n).map(move |s| f64::from(s) * SEARCH_MM - most[i])
    };
    let everywhere = steps(0).flat_map(|x| steps(1).map(move |y| [x, y]));
    let far = |at: &[f64; 2]| at[0].hypot(at[1]);
    let found = beside.into_iter().find(|at| is_free(*at)).or_else(|| {
        everywhere
            .filter(|at| is_free(*at))
            .min_by(|a, b| far(a).total_cmp(&far(b)))
    })?;
    Some([0, 1].map(|i| middle[i] + found[i]))
}
