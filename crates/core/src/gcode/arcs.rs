//! Arcs of RS-274 (G2, G3) as chords.

use std::f64::consts::TAU;

/// How far a chord may be off the arc, mm.
const OFF_MM: f64 = 0.005;

/// How far the end of an arc may be off its circle, as a share of the radius and in mm: more is no arc but a mistake.
const ASKEW: (f64, f64) = (0.005, 0.1);

/// How the middle of an arc is told.
#[derive(Debug, Clone, Copy)]
pub(super) enum Middle {
    /// From where it begins, mm.
    Off([f64; 2]),
    /// By its radius, mm; below 0 for the longer way around.
    Radius(f64),
}

/// An arc in the plane of the bed; its height changes evenly.
#[derive(Debug, Clone, Copy)]
pub(super) struct Arc {
    pub(super) from: [f64; 3],
    pub(super) to: [f64; 3],
    pub(super) middle: Middle,
    pub(super) is_clockwise: bool,
}

impl Arc {
    /// Ends of its chords, evenly apart, the last of them where it ends.
    ///
    /// # Errors
    /// A sentence where there is no such arc.
    pub(super) fn places(&self) -> Result<Vec<[f64; 3]>, String> {
        let middle = self.centre()?;
        let out = |p: [f64; 3]| [p[0] - middle[0], p[1] - middle[1]];
        let (a, b) = (out(self.from), out(self.to));
        let (r, end) = (a[0].hypot(a[1]), b[0].hypot(b[1]));
        if r < 1e-9 {
            return Err("An arc of no radius".into());
        }
        if (r - end).abs() > f64::max(ASKEW.0 * r, ASKEW.1) {
            return Err("The end of the arc is not on its circle".into());
        }
        let begin = a[1].atan2(a[0]);
        let mut turn = b[1].atan2(b[0]) - begin;
        if self.is_clockwise {
            turn = -turn;
        }
        // From a place to itself is once around.
        turn = turn.rem_euclid(TAU);
        if turn < 1e-9 {
            turn = TAU;
        }
        let most = 2.0 * (1.0 - OFF_MM / r).clamp(-1.0, 1.0).acos();
        const MOST_CHORDS: f64 = 2000.0;
        let count = (turn / most.max(1e-3)).ceil().clamp(1.0, MOST_CHORDS) as usize;
        let sign = if self.is_clockwise { -1.0 } else { 1.0 };
        let place = |step: usize| {
            if step == count {
                return self.to;
            }
            let t = step as f64 / count as f64;
            let angle = begin + sign * turn * t;
            let radius = r + (end - r) * t;
            [
                middle[0] + radius * angle.cos(),
                middle[1] + radius * angle.sin(),
                self.from[2] + (self.to[2] - self.from[2]) * t,
            ]
        };
        Ok((1..=count).map(place).collect())
    }

    fn centre(&self) -> Result<[f64; 2], String> {
        let radius = match self.middle {
            Middle::Off(off) => return Ok([self.from[0] + off[0], self.from[1] + off[1]]),
            Middle::Radius(radius) => radius,
        };
        let d = [self.to[0] - self.from[0], self.to[1] - self.from[1]];
        let half = 0.5 * d[0].hypot(d[1]);
        if half < 1e-9 || radius.abs() < half - ASKEW.1 {
            return Err("No arc of that radius ends there".into());
        }
        let rise = (radius * radius - half * half).max(0.0).sqrt();
        // To the left of the way for the shorter one counterclockwise.
        let side = match self.is_clockwise == (radius < 0.0) {
            true => 1.0,
            false => -1.0,
        };
        let along = [d[0] / (2.0 * half), d[1] / (2.0 * half)];
        Ok([
            0.5 * (self.from[0] + self.to[0]) - side * rise * along[1],
            0.5 * (self.from[1] + self.to[1]) + side * rise * along[0],
        ])
    }
}
