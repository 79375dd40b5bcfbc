//! Places as whole numbers.

use i_overlay::i_float::int::point::IntPoint;

/// Step of the lattice, mm. With 32 bits it reaches ±10 m, the range that `i_overlay` takes.
pub const LATTICE_MM: f64 = 1e-5;

/// Steps to a mm.
const PER_MM: f64 = 1e5;

/// Corners of a closed line; holes are wound clockwise.
pub type Ring = Vec<IntPoint<i32>>;

/// The place of the lattice nearest to one in mm.
#[inline]
pub fn spot(p: [f64; 2]) -> IntPoint<i32> {
    IntPoint::new(
        (p[0] * PER_MM).round() as i32,
        (p[1] * PER_MM).round() as i32,
    )
}

/// The same in mm.
#[inline]
pub fn place(p: IntPoint<i32>) -> [f64; 2] {
    [f64::from(p.x) / PER_MM, f64::from(p.y) / PER_MM]
}

/// A closed line on the lattice, without repeated corners.
pub fn ring(points: &[[f64; 2]]) -> Ring {
    let mut ring: Ring = points.iter().map(|p| spot(*p)).collect();
    ring.dedup();
    while ring.len() > 1 && ring.first() == ring.last() {
        ring.pop();
    }
    ring
}

/// A length in steps of the lattice.
pub(super) fn steps(mm: f64) -> i32 {
    (mm * PER_MM).round() as i32
}
