//! Heights between which the inside of a body is another region's than the body's own: bands right through, and changes at a
//! layer.

use super::feet::{Feet, Home};
use super::label::Claims;
use super::painted::Painted;
use super::survey::{BodyLayer, Cell, Survey};
use crate::carve::TOLERANCE_MM;
use crate::geometry::{closest_point, dot, sub};
use crate::mesh::NO_FACET;

/// Heights of a body whose inside belongs to another region.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Span {
    /// The lower, mm above the bed.
    pub low_mm: f64,
    /// The higher; infinite if it is open above.
    pub high_mm: f64,
    /// Whose it is.
    pub own: u16,
    /// Whether it reaches the surface, as if the body were cut at both heights: then no surface beyond them counts.
    pub cuts: bool,
}

/// The heights between two cuts.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Slab {
    pub(super) low: f64,
    pub(super) high: f64,
}

impl Slab {
    /// All heights.
    pub(super) const ALL: Slab = Slab {
        low: f64::NEG_INFINITY,
        high: f64::INFINITY,
    };

    /// Whether it is bounded at all.
    pub(super) fn is_cut(&self) -> bool {
        self.low.is_finite() || self.high.is_finite()
    }

    /// By how much a facet that only touches a cut may pass it, mm.
    const HAIR_MM: f64 = 1e-6;

    /// Wider than the slivers that cutting surface along a border may leave: their tolerance.
    fn inward_mm(&self) -> f64 {
        TOLERANCE_MM.min(0.1 * (self.high - self.low))
    }

    fn holds(&self, z: f64) -> bool {
        z >= self.low - Self::HAIR_MM && z <= self.high + Self::HAIR_MM
    }

    /// What of a facet lies within, as triangles; `None` if that is all of it.
    pub(super) fn clipped(&self, corners: &[[f64; 3]; 3]) -> Option<Vec<[[f64; 3]; 3]>> {
        if corners.iter().all(|c| self.holds(c[2])) {
            return None;
        }
        let mut polygon = corners.to_vec();
        for (sign, at) in [(1.0, self.low), (-1.0, self.high)] {
            // Some way inward, so that slivers do not come in which surface beyond the cut has on this side of it.
            let height = |p: &[f64; 3]| sign * (p[2] - at) - self.inward_mm();
            let mut kept = Vec::with_capacity(polygon.len() + 1);
            for (i, p) in polygon.iter().enumerate() {
                let q = &polygon[(i + 1) % polygon.len()];
                let (a, b) = (height(p), height(q));
                if !a.is_finite() || a >= 0.0 {
                    kept.push(*p);
                }
                if a.is_finite() && (a < 0.0) != (b < 0.0) {
                    let t = a / (a - b);
                    kept.push([0, 1, 2].map(|k| p[k] + t * (q[k] - p[k])));
                }
            }
            polygon = kept;
        }
        let fan =
            (1..polygon.len().saturating_sub(1)).map(|i| [polygon[0], polygon[i], polygon[i + 1]]);
        Some(fan.collect())
    }

    /// The point of a facet within that is nearest to another; none if nothing of it lies within.
    pub(super) fn closest(&self, p: [f64; 3], corners: &[[f64; 3]; 3]) -> Option<[f64; 3]> {
        let Some(pieces) = self.clipped(corners) else {
            return Some(closest_point(p, corners));
        };
        let away = |q: &[f64; 3]| {
            let d = sub(p, *q);
            dot(d, d)
        };
        let points = pieces.iter().map(|piece| closest_point(p, piece));
        points.min_by(|a, b| away(a).total_cmp(&away(b)))
    }

    pub(super) fn shifted(self, by: f64) -> Slab {
        Slab {
            low: self.low + by,
            high: self.high + by,
        }
    }
}

impl Span {
    /// Whose the inside is at a height, of some spans; none where none of them is.
    pub(crate) fn owner(spans: &[Span], z: f64) -> Option<u16> {
        let span = spans.iter().find(|s| s.low_mm < z && z <= s.high_mm);
        span.map(|s| s.own)
    }
}

impl Claims<'_> {
    fn spans_of(&self, body: usize) -> &[Span] {
        self.spans.get(body).map_or(&[], Vec::as_slice)
    }

    /// Whose the inside of a body is at a height above the bed.
    pub(super) fn own_at(&self, body: usize, z: f64) -> u16 {
        Span::owner(self.spans_of(body), z).unwrap_or(self.own[body])
    }

    /// The heights around one between the cuts of a body, above the bed.
    pub(super) fn slab_at(&self, body: usize, z: f64) -> Slab {
        let mut slab = Slab::ALL;
        let cutting = self.spans_of(body).iter().filter(|s| s.cuts);
        for height in cutting.flat_map(|s| [s.low_mm, s.high_mm]) {
            if height < z {
                slab.low = slab.low.max(height);
            } else {
                slab.high = slab.high.min(height);
            }
        }
        slab
    }
}

/// A layer of a body near a cut, or near the foot of something raised that goes right through.
pub(super) struct NearCut<'a> {
    of: Painted<'a>,
    slab: Slab,
    /// What is raised on it, if any of that may be hidden from here, or hide something.
    feet: Option<&'a Feet>,
    /// By region, whether it goes right through.
    goes_deep: Vec<bool>,
    /// Height in the body's frame, mm.
    z: f64,
    step_mm: f64,
}

impl<'a> NearCut<'a> {
    /// None if no cut of the body is near enough to the layer to matter, and no foot.
    pub(super) fn of(
        survey: &'a Survey,
        claims: &Claims<'a>,
        feet: Option<&'a Feet>,
        (number, layer): (usize, usize),
        step_mm: f64,
    ) -> Option<NearCut<'a>> {
        let z = survey.heights.sample(layer);
        let slab = claims.slab_at(number, z);
        let reach = survey.near_mm();
        let of = Painted::of(survey, claims, number);
        let shift = of.body.shift[2];
        let goes_deep = |region: u16| claims.soak_mm[region as usize].is_infinite();
        let feet = feet.filter(|f| f.may_hide(goes_deep, z - shift, reach));
        if slab.low < z - reach && slab.high > z + reach && feet.is_none() {
            return None;
        }
        Some(NearCut {
            of,
            feet,
            goes_deep: (0..claims.soak_mm.len() as u16).map(goes_deep).collect(),
            slab: slab.shifted(-shift),
            z: z - shift,
            step_mm,
        })
    }

    /// Whether a point of a facet does not count at a place: it is of something raised that ends above, or below something raised that
    /// the place lies in, and that goes right through.
    fn is_hidden(&self, p: [f64; 3], homes: &[Home<'_>], facet: u32, q: [f64; 3]) -> bool {
        let Some(feet) = self.feet else {
            return false;
        };
        let raised = feet.at(&self.of, facet, q);
        let goes_deep = |r: u16| self.goes_deep[r as usize];
        (feet.region(raised).is_some_and(goes_deep) && feet.is_hidden(raised, p, 0.0))
            || homes.iter().any(|home| home.hides(raised, q))
    }

    /// The point of a facet within the piece that is nearest to a place, both in the body's frame; the nearest of all if nothing of it
    /// lies within.
    pub(super) fn closest(&self, p: [f64; 3], corners: &[[f64; 3]; 3]) -> [f64; 3] {
        let within = self.slab.closest(p, corners);
        within.unwrap_or_else(|| closest_point(p, corners))
    }

    /// The nearest facet of the body's own piece to a place, given the nearest of all: number, distance, and by how much that changes
    /// across a cell. None if nothing has to change.
    ///
    /// # Cost
    /// A search where the nearest place lies beyond a cut.
    pub(super) fn nearest(&self, [x, y]: [f64; 2], facet: u32) -> Option<(u32, f64, f64)> {
        let (of, open) = (&self.of, &self.of.body.open);
        let corners = open.mesh.corners(facet);
        let is_cut = self.slab.clipped(&corners).is_some();
        if !is_cut && self.feet.is_none() {
            return None;
        }
        let p = [x - of.body.shift[0], y - of.body.shift[1], self.z];
        let q = closest_point(p, &corners);
        let counts = |region: u16| self.goes_deep[region as usize];
        let homes = self.feet.map(|f| f.homes(of, open.tree(), counts, p));
        let homes = homes.unwrap_or_default();
        if (!is_cut || self.slab.holds(q[2])) && !self.is_hidden(p, &homes, facet, q) {
            return None;
        }
        let closest = |f: u32, c: &[[f64; 3]; 3]| {
            let counted = of.counts(f).then(|| self.slab.closest(p, c));
            counted.flatten()
        };
        let accepts = |f: u32, q: [f64; 3]| !self.is_hidden(p, &homes, f, q);
        let found = open
            .tree()
            .nearest_by((p, f64::INFINITY), None, |_| true, closest, accepts);
        let Some(found) = found else {
            return Some((NO_FACET, f64::INFINITY, 0.0));
        };
        let d = sub(p, found.point);
        let distance = found.distance2.sqrt();
        let spread = if distance > 0.0 {
            self.step_mm * d[0].hypot(d[1]) / distance
        } else {
            0.0
        };
        Some((found.facet, distance, spread))
    }
}

impl Survey {
    /// The cells of a body in a layer near a cut as they are once the body is cut: their nearest facets are those of their own piece.
    ///
    /// # Cost
    /// A look at each cell, and that of [`NearCut::nearest`].
    pub(super) fn cells_of_piece(&self, cut: &NearCut<'_>, here: &BodyLayer) -> Vec<Cell> {
        let row = self.grid.cells[0];
        let seen = |cell: &Cell| {
            let at = cell.at as usize;
            let place = self.grid.centre(at % row, at / row);
            let found = (cell.facet != NO_FACET).then(|| cut.nearest(place, cell.facet));
            match found.flatten() {
                Some((facet, distance, spread)) => Cell {
                    facet,
                    distance_mm: distance as f32,
                    spread_mm: spread as f32,
                    ..*cell
                },
                None => *cell,
            }
        };
        here.cells.iter().map(seen).collect()
    }
}
