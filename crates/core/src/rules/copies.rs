//! Equal pieces beside each other.

use crate::limits::PIECES;
use serde::{Deserialize, Serialize};

/// Equal pieces of the whole job, side by side on the bed.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Copies {
    /// How many from left to right.
    pub across: u32,
    /// How many from front to back.
    pub along: u32,
    /// Gap between two, mm.
    pub spacing_mm: f64,
}

impl Copies {
    /// How many pieces in all.
    pub fn count(&self) -> u32 {
        self.across * self.along
    }

    /// How far the pieces stand from the middle one's place, for pieces of that size seen from above; in mm, row by
    /// row from the front left.
    pub fn shifts(&self, size: [f64; 3]) -> Vec<[f64; 2]> {
        let place = |i: u32, n: u32, size: f64| {
            (f64::from(i) - 0.5 * f64::from(n - 1)) * (size + self.spacing_mm)
        };
        let row = |y: u32| {
            (0..self.across).map(move |x| {
                [
                    place(x, self.across, size[0]),
                    place(y, self.along, size[1]),
                ]
            })
        };
        (0..self.along).flat_map(row).collect()
    }

    /// The most pieces of a size that stand on a bed; one at least.
    pub fn most(size: [f64; 3], bed: [f64; 3], spacing_mm: f64) -> [u32; 2] {
        [0, 1].map(|i| {
            let fit = (bed[i] + spacing_mm) / (size[i] + spacing_mm).max(1e-6);
            // A bed that is filled exactly counts as filled although digits were lost on the way.
            (fit + 1e-9).floor().clamp(1.0, PIECES.high) as u32
        })
    }
}
