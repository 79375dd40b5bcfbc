//! What a border is the zero line of.

/// The values of a field, for places of which it was asked.
pub type Values = Box<dyn Fn([f64; 3]) -> f64>;

/// A scalar field in space; a region takes the surface where it is negative.
pub trait Field: Sync {
    /// The value at a point, in mm. It must not change faster than the point moves: the value says how far the zero
    /// line is at least.
    fn at(&self, p: [f64; 3]) -> f64;

    /// The longest edge, in mm, over which the zero line hides no bulge larger than the tolerance, for
    /// places within `reach` mm of `p`. Infinite where the field is linear.
    fn detail_mm(&self, p: [f64; 3], reach: f64) -> f64;

    /// The longest edge, in mm, over which the field bends so evenly that its values at places in a triangle, none of it
    /// further than 0.17 of that edge from one, tell how far it is from a linear one to half the tolerance; 0 where nothing is
    /// known.
    fn smooth_mm(&self) -> f64 {
        0.0
    }

    /// The same values for places within `reach` mm of `p` alone, quicker to ask; none if that would not pay.
    fn around(&self, _p: [f64; 3], _reach: f64) -> Option<Values> {
        None
    }

    /// Number of planes whose borders together make up the zero line; none if it is curved.
    fn planes(&self) -> usize {
        0
    }

    /// The signed distance of a point from one of those planes, mm.
    fn plane(&self, _number: usize, p: [f64; 3]) -> f64 {
        self.at(p)
    }
}
