//! Affine maps of space: where a part stands.

use super::vectors::{cross, dot, length, normalised};
use serde::{Deserialize, Serialize};

/// An affine map. A point is a row vector times the first three rows, plus the fourth, as 3MF writes it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Affine(pub [[f64; 3]; 4]);

impl Affine {
    /// The map that leaves everything where it is.
    pub const IDENTITY: Affine = Affine([
        [1.0, 0.0, 0.0],
        [0.0, 1.0, 0.0],
        [0.0, 0.0, 1.0],
        [0.0, 0.0, 0.0],
    ]);

    /// A shift, in mm.
    pub fn shift(by: [f64; 3]) -> Affine {
        let mut map = Affine::IDENTITY;
        map.0[3] = by;
        map
    }

    /// Scaling about the origin, axis by axis.
    pub fn scale(by: [f64; 3]) -> Affine {
        Affine([
            [by[0], 0.0, 0.0],
            [0.0, by[1], 0.0],
            [0.0, 0.0, by[2]],
            [0.0, 0.0, 0.0],
        ])
    }

    /// A right-handed turn about an axis through the origin. `axis` has length 1.
    ///
    /// # Source
    /// Rodrigues' rotation formula.
    pub fn turn(axis: [f64; 3], radians: f64) -> Affine {
        let (sin, cos) = radians.sin_cos();
        let mut map = Affine::IDENTITY;
        for (i, row) in map.0.iter_mut().take(3).enumerate() {
            let mut unit = [0.0; 3];
            unit[i] = 1.0;
            let (across, along) = (cross(axis, unit), dot(axis, unit));
            *row =
                [0, 1, 2].map(|k| unit[k] * cos + across[k] * sin + axis[k] * along * (1.0 - cos));
        }
        map
    }

    /// The turn that brings one direction onto another by the shortest way. Both have length 1; opposite ones turn
    /// about an axis across them that is the same every time.
    pub fn turn_onto(from: [f64; 3], onto: [f64; 3]) -> Affine {
        let axis = cross(from, onto);
        match normalised(axis) {
            Some(unit) if length(axis) > 1e-12 => {
                Affine::turn(unit, length(axis).atan2(dot(from, onto)))
            }
            _ if dot(from, onto) > 0.0 => Affine::IDENTITY,
            _ => {
                let aside = if from[0].abs() < 0.9 {
                    [1.0, 0.0, 0.0]
                } else {
                    [0.0, 1.0, 0.0]
                };
                let axis = normalised(cross(from, aside)).unwrap_or([0.0, 0.0, 1.0]);
                Affine::turn(axis, std::f64::consts::PI)
            }
        }
    }

    /// First this map, then the other.
    pub fn then(&self, next: &Affine) -> Affine {
        let (a, b) = (&self.0, &next.0);
        let mut out = [[0.0; 3]; 4];
        for (row, from) in out.iter_mut().zip(a) {
            *row = [0, 1, 2].map(|k| from[0] * b[0][k] + from[1] * b[1][k] + from[2] * b[2][k]);
        }
        for k in 0..3 {
            out[3][k] += b[3][k];
        }
        Affine(out)
    }

    /// This map about another fixed point than the origin.
    pub fn about(&self, point: [f64; 3]) -> Affine {
        Affine::shift(point.map(|c| -c))
            .then(self)
            .then(&Affine::shift(point))
    }

    /// Where a point goes.
    #[inline]
    pub fn apply(&self, p: [f64; 3]) -> [f64; 3] {
        let t = &self.0;
        [0, 1, 2].map(|k| p[0] * t[0][k] + p[1] * t[1][k] + p[2] * t[2][k] + t[3][k])
    }

    /// By how much volumes grow; negative if the map turns the inside out, as a mirror does.
    pub fn growth(&self) -> f64 {
        let [a, b, c, _] = self.0;
        dot(a, cross(b, c))
    }

    /// The map back. A map that flattens space has none; its inverse is the identity.
    pub fn inverse(&self) -> Affine {
        if *self == Affine::IDENTITY || self.growth() == 0.0 {
            return Affine::IDENTITY;
        }
        let [a, b, c, shift] = self.0;
        let whole = self.growth();
        let columns = [cross(b, c), cross(c, a), cross(a, b)];
        let mut out = [[0.0; 3]; 4];
        for i in 0..3 {
            for k in 0..3 {
                out[i][k] = columns[k][i] / whole;
            }
        }
        out[3] = [0, 1, 2].map(|k| -(0..3).map(|i| shift[i] * out[i][k]).sum::<f64>());
        Affine(out)
    }

    /// Whether facets have to be turned over to face outward again.
    pub fn turns_over(&self) -> bool {
        self.growth() < 0.0
    }
}
