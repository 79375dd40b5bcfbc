//! What a border is the zero line of.

/// A scalar field in space; a region takes the surface where it is negative.
pub trait Field: Sync {
    /// The value at a point, in mm. It must not change faster than the point moves: the value says how far the zero
    /// line is at least.
    fn at(&self, p: [f64; 3]) -> f64;

    /// The longest edge, in mm, over which the zero line hides no bulge larger than the tolerance, for
    /// places within `reach` mm of `p`. Infinite where the field is linear.
    fn detail_mm(&self, p: [f64; 3], reach: f64) -> f64;

    /// Number of planes whose borders together make up the zero line; none if it is curved.
    fn planes(&self) -> usize {
        0
    }

    /// The signed distance of a point from one of those planes, mm.
    fn plane(&self, _number: usize, p: [f64; 3]) -> f64 {
        self.at(p)
    }
}
