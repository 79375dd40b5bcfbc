//! Speckles: round spots strewn over a surface, the same again for the same number.

use crate::carve::Field;
use crate::geometry::{Bounds, length, sub};
use rayon::prelude::*;

/// Balls strewn in space; what they meet of a surface is a speckle.
pub struct SpeckleField {
    /// Edge of the cubes of which each has one ball, mm.
    cube: f64,
    radius: [f64; 2],
    seed: u64,
    /// The balls of a block of cubes: its first cube, how many there are each way, and their balls.
    block: [i64; 3],
    count: [i64; 3],
    balls: Vec<Ball>,
}

/// Middle and radius, mm.
type Ball = ([f64; 3], f64);

impl SpeckleField {
    /// Speckles of about a width that cover about a share of the surface.
    ///
    /// `seed`: another number strews them otherwise. `bounds`: where it is asked most; elsewhere it says the same, only later.
    pub fn new(width_mm: f64, share: f64, seed: u64, bounds: &Bounds) -> SpeckleField {
        let radius = 0.5 * width_mm;
        // A plane through cubes with a ball each meets 4/3 pi r³ / cube³ of its area (Cavalieri); overlaps take a little of it.
        let share = share.clamp(0.001, 0.6);
        let wanted = -(1.0 - share).ln();
        let cube = radius * (4.0 / 3.0 * std::f64::consts::PI / wanted).cbrt();
        let mut field = SpeckleField {
            cube,
            radius: [0.7 * radius, 1.25 * radius],
            seed,
            block: [0; 3],
            count: [0; 3],
            balls: Vec::new(),
        };
        field.keep(bounds);
        field
    }

    /// Keeps the balls around a box, if they are not too many.
    fn keep(&mut self, bounds: &Bounds) {
        const MOST: f64 = 4e6;
        let [low, high] = [bounds.min, bounds.max].map(|p| p.map(|c| (c / self.cube).floor()));
        let around = self.around() as f64;
        let count = [0, 1, 2].map(|i| high[i] - low[i] + 1.0 + 2.0 * around);
        let many = count.iter().product::<f64>();
        if many.is_nan() || many > MOST {
            return;
        }
        self.block = low.map(|c| (c - around) as i64);
        self.count = count.map(|c| c as i64);
        let [across, along, _] = self.count;
        let ball = |n: i64| {
            let at = [n % across, n / across % along, n / across / along];
            self.ball([0, 1, 2].map(|i| self.block[i] + at[i]))
        };
        self.balls = (0..many as i64).into_par_iter().map(ball).collect();
    }

    /// How many cubes away a ball can be that reaches into one.
    fn around(&self) -> i64 {
        (self.radius[1] / self.cube).ceil() as i64
    }

    /// The ball of a cube, from those that are kept if it is among them.
    fn known(&self, at: [i64; 3]) -> Ball {
        let [x, y, z] = [0, 1, 2].map(|i| at[i] - self.block[i]);
        let is_kept =
            (0..3).all(|i| (self.block[i]..self.block[i] + self.count[i]).contains(&at[i]));
        match is_kept {
            true => self.balls[(x + self.count[0] * (y + self.count[1] * z)) as usize],
            false => self.ball(at),
        }
    }

    /// The ball of a cube: its middle and radius.
    fn ball(&self, at: [i64; 3]) -> Ball {
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
        let around = self.around();
        let mut nearest = self.cube;
        for x in -around..=around {
            for y in -around..=around {
                for z in -around..=around {
                    let (middle, radius) = self.known([here[0] + x, here[1] + y, here[2] + z]);
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
