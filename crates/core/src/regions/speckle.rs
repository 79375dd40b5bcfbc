//! Speckles: round spots strewn over a surface, the same again for the same number.

use crate::carve::Field;
use crate::geometry::{length, sub};

/// Balls strewn in space; what they meet of a surface is a speckle.
pub struct SpeckleField {
    /// Edge of the cubes of which each has one ball, mm.
    cube: f64,
    radius: [f64; 2],
    seed: u64,
}

impl SpeckleField {
    /// Speckles of about a width that cover about a share of the surface.
    ///
    /// `seed`: another number strews them otherwise.
    pub fn new(width_mm: f64, share: f64, seed: u64) -> SpeckleField {
        let radius = 0.5 * width_mm;
        // A plane through cubes with a ball each meets 4/3 pi r³ / cube³ of its area (Cavalieri); overlaps take a little of it.
        let share = share.clamp(0.001, 0.6);
        let wanted = -(1.0 - share).ln();
        let cube = radius * (4.0 / 3.0 * std::f64::consts::PI / wanted).cbrt();
        SpeckleField {
            cube,
            radius: [0.7 * radius, 1.25 * radius],
            seed,
        }
    }

    /// The ball of a cube: its middle and radius.
    fn ball(&self, at: [i64; 3]) -> ([f64; 3], f64) {
        let mut state = self.seed ^ 0x9e37_79b9_7f4a_7c15;
        for c in at {
            state = mixed(state ^ (c as u64));
        }
        let mut next = || {
            state = mixed(state.wrapping_add(0x9e37_79b9_7f4a_7c15));
            (state >> 11) as f64 / (1u64 << 53) as f64
        };
        let middle = at.map(|c| (c as f64 + next()) * self.cube);
        let radius = self.radius[0] + next() * (self.radius[1] - self.radius[0]);
        (middle, radius)
    }
}

/// Bits well mixed (SplitMix64's finaliser, Steele and others 2014, from memory).
fn mixed(mut z: u64) -> u64 {
    z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
    z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
    z ^ (z >> 31)
}

impl Field for SpeckleField {
    fn at(&self, p: [f64; 3]) -> f64 {
        let here = p.map(|c| (c / self.cube).floor() as i64);
        let around = (self.radius[1] / self.cube).ceil() as i64;
        let mut nearest = self.cube;
        for x in -around..=around {
            for y in -around..=around {
                for z in -around..=around {
                    let (middle, radius) = self.ball([here[0] + x, here[1] + y, here[2] + z]);
                    nearest = nearest.min(length(sub(p, middle)) - radius);
                }
            }
        }
        nearest
    }

    fn detail_mm(&self, _p: [f64; 3], _reach: f64) -> f64 {
        // A chord of a circle of this radius hides no bulge larger than 0.05 mm.
        const BULGE_MM: f64 = 0.05;
        (8.0 * self.radius[0] * BULGE_MM).sqrt().min(self.radius[0])
    }
}
