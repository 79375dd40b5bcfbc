//! Small vector arithmetic on `[f64; 3]`, in mm.

use rstar::primitives::{GeomWithData, Rectangle};
use rstar::{AABB, RTree};
use serde::{Deserialize, Serialize};

/// Component-wise a − b.
#[inline]
pub fn sub(a: [f64; 3], b: [f64; 3]) -> [f64; 3] {
    [a[0] - b[0], a[1] - b[1], a[2] - b[2]]
}

/// Scalar product.
#[inline]
pub fn dot(a: [f64; 3], b: [f64; 3]) -> f64 {
    a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
}

/// Vector product, right-handed.
#[inline]
pub fn cross(a: [f64; 3], b: [f64; 3]) -> [f64; 3] {
    [
        a[1] * b[2] - a[2] * b[1],
        a[2] * b[0] - a[0] * b[2],
        a[0] * b[1] - a[1] * b[0],
    ]
}

/// Euclidean length.
#[inline]
pub fn length(a: [f64; 3]) -> f64 {
    dot(a, a).sqrt()
}

/// The vector at length 1, or `None` if it has no direction.
#[inline]
pub fn normalised(a: [f64; 3]) -> Option<[f64; 3]> {
    let l = length(a);
    (l > 0.0 && l.is_finite()).then(|| a.map(|c| c / l))
}

/// Outward unit normal of a counter-clockwise facet, or `None` if the facet has no area.
#[inline]
pub fn facet_normal(corners: &[[f64; 3]; 3]) -> Option<[f64; 3]> {
    let [a, b, c] = *corners;
    normalised(cross(sub(b, a), sub(c, a)))
}

/// Area of a facet in mm².
#[inline]
pub fn facet_area(corners: &[[f64; 3]; 3]) -> f64 {
    let [a, b, c] = *corners;
    0.5 * length(cross(sub(b, a), sub(c, a)))
}

/// Middle of a triangle's corners.
#[inline]
pub fn middle([a, b, c]: &[[f64; 3]; 3]) -> [f64; 3] {
    [0, 1, 2].map(|i| (a[i] + b[i] + c[i]) / 3.0)
}

/// Two directions of length 1 that stand across a normal and each other, right-handed with it; none for a normal
/// without direction.
pub fn across_normal(normal: [f64; 3]) -> Option<[[f64; 3]; 2]> {
    let aside = if normal[0].abs() < 0.9 {
        [1.0, 0.0, 0.0]
    } else {
        [0.0, 1.0, 0.0]
    };
    let x = normalised(cross(normal, aside))?;
    Some([x, cross(normal, x)])
}

/// An axis-aligned box in mm. Empty bounds have `min` above `max`.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Bounds {
    /// Lowest corner.
    pub min: [f64; 3],
    /// Highest corner.
    pub max: [f64; 3],
}

impl Bounds {
    /// Bounds around nothing.
    pub const EMPTY: Bounds = Bounds {
        min: [f64::INFINITY; 3],
        max: [f64::NEG_INFINITY; 3],
    };

    /// The smallest box around the points.
    pub fn of(points: impl Iterator<Item = [f64; 3]>) -> Bounds {
        points.fold(Bounds::EMPTY, |mut b, p| {
            b.add(p);
            b
        })
    }

    /// Grows to hold the point.
    #[inline]
    pub fn add(&mut self, p: [f64; 3]) {
        for i in 0..3 {
            self.min[i] = self.min[i].min(p[i]);
            self.max[i] = self.max[i].max(p[i]);
        }
    }

    /// Grows to hold another box.
    #[inline]
    pub fn join(&mut self, other: &Bounds) {
        for i in 0..3 {
            self.min[i] = self.min[i].min(other.min[i]);
            self.max[i] = self.max[i].max(other.max[i]);
        }
    }

    /// Edge lengths; zero for empty bounds.
    #[inline]
    pub fn size(&self) -> [f64; 3] {
        [0, 1, 2].map(|i| (self.max[i] - self.min[i]).max(0.0))
    }

    /// Middle of the box; the origin for empty bounds.
    pub fn centre(&self) -> [f64; 3] {
        if self.min[0] > self.max[0] {
            return [0.0; 3];
        }
        [0, 1, 2].map(|i| 0.5 * (self.min[i] + self.max[i]))
    }

    /// Whether the two come within a distance of each other on every axis, borders included.
    #[inline]
    pub fn meets(&self, other: &Bounds, within_mm: f64) -> bool {
        (0..3).all(|i| {
            self.min[i] <= other.max[i] + within_mm && other.min[i] <= self.max[i] + within_mm
        })
    }

    /// All pairs of boxes that come within a distance of each other, the lower number first, in order.
    ///
    /// # Cost
    /// n log n, and the pairs.
    pub fn meeting(boxes: &[Bounds], within_mm: f64) -> Vec<[usize; 2]> {
        let numbered =
            |(n, b): (usize, &Bounds)| GeomWithData::new(Rectangle::from_corners(b.min, b.max), n);
        let all = RTree::bulk_load(boxes.iter().enumerate().map(numbered).collect());
        let mut pairs = Vec::new();
        for (n, own) in boxes.iter().enumerate() {
            let near = own.grown(within_mm);
            let near = all.locate_in_envelope_intersecting(AABB::from_corners(near.min, near.max));
            let from = pairs.len();
            let meets = |other: &usize| *other > n && own.meets(&boxes[*other], within_mm);
            pairs.extend(near.map(|b| b.data).filter(meets).map(|other| [n, other]));
            pairs[from..].sort_unstable();
        }
        pairs
    }

    /// Of each box, whether no other one meets it.
    ///
    /// # Cost
    /// n log n.
    pub fn alone(boxes: &[Bounds]) -> Vec<bool> {
        let corners = |b: &Bounds| Rectangle::from_corners(b.min, b.max);
        let all = RTree::bulk_load(boxes.iter().map(corners).collect());
        let is_alone = |b: &Bounds| {
            let around = AABB::from_corners(b.min, b.max);
            all.locate_in_envelope_intersecting(around).nth(1).is_none()
        };
        boxes.iter().map(is_alone).collect()
    }

    /// The box with so much more on every side.
    #[must_use]
    pub fn grown(&self, by_mm: f64) -> Bounds {
        Bounds {
            min: self.min.map(|c| c - by_mm),
            max: self.max.map(|c| c + by_mm),
        }
    }

    /// Whether `inner` lies within this box, borders included.
    #[inline]
    pub fn holds(&self, inner: &Bounds) -> bool {
        (0..3).all(|i| self.min[i] <= inner.min[i] && inner.max[i] <= self.max[i])
    }
}

/// The point of a triangle nearest to `p`.
///
/// # Source
/// Ericson, Real-Time Collision Detection, 2005, section 5.1.5 (Voronoi regions of a triangle).
#[inline]
pub fn closest_point(p: [f64; 3], triangle: &[[f64; 3]; 3]) -> [f64; 3] {
    let [a, b, c] = *triangle;
    let (ab, ac, ap) = (sub(b, a), sub(c, a), sub(p, a));
    let (d1, d2) = (dot(ab, ap), dot(ac, ap));
    if d1 <= 0.0 && d2 <= 0.0 {
        return a;
    }
    let bp = sub(p, b);
    let (d3, d4) = (dot(ab, bp), dot(ac, bp));
    if d3 >= 0.0 && d4 <= d3 {
        return b;
    }
    let along =
        |from: [f64; 3], to: [f64; 3], t: f64| [0, 1, 2].map(|i| from[i] + t * (to[i] - from[i]));
    let vc = d1 * d4 - d3 * d2;
    if vc <= 0.0 && d1 >= 0.0 && d3 <= 0.0 && d1 != d3 {
        return along(a, b, d1 / (d1 - d3));
    }
    let cp = sub(p, c);
    let (d5, d6) = (dot(ab, cp), dot(ac, cp));
    if d6 >= 0.0 && d5 <= d6 {
        return c;
    }
    let vb = d5 * d2 - d1 * d6;
    if vb <= 0.0 && d2 >= 0.0 && d6 <= 0.0 && d2 != d6 {
        return along(a, c, d2 / (d2 - d6));
    }
    let va = d3 * d6 - d5 * d4;
    let (e, f) = (d4 - d3, d5 - d6);
    if va <= 0.0 && e >= 0.0 && f >= 0.0 && e + f > 0.0 {
        return along(b, c, e / (e + f));
    }
    let whole = va + vb + vc;
    if whole <= 0.0 {
        return a;
    }
    let (v, w) = (vb / whole, vc / whole);
    [0, 1, 2].map(|i| a[i] + v * ab[i] + w * ac[i])
}

/// Twice the area to the left of the way from a by b to c, in a plane.
#[inline]
pub(crate) fn turn(a: [f64; 2], b: [f64; 2], c: [f64; 2]) -> f64 {
    (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
}
