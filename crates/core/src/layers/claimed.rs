//! What is left of each body's section once the bodies above it have taken theirs: as shapes, so that two parts that fill the
//! same half of a cell are not taken for two halves.

use super::grid::PrintGrid;
use super::outline::chain;
use super::section::Segment;
use super::survey::{Scratch, Survey};
use crate::mesh::NO_FACET;
use crate::shapes::Area;
use i_overlay::core::fill_rule::FillRule;
use i_overlay::core::overlay::Overlay;
use i_overlay::core::overlay_rule::OverlayRule;
use i_overlay::i_float::int::point::IntPoint;

/// The outline that is left to a body in one layer, if a higher one takes something of its section or may do so.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Claimed {
    pub(super) body: u32,
    /// Inside on the left; empty if nothing is left.
    pub(super) outline: Vec<Segment>,
}

/// What the bodies of a layer leave to one another, and the edge of all together.
#[derive(Debug, Clone, Default, PartialEq)]
pub(super) struct LayerClaims {
    /// By body, those that may have been taken something of.
    pub(super) of_bodies: Vec<Claimed>,
    /// The outline of all bodies together, where any two may meet: walls stand along this, not where two parts touch.
    pub(super) together: Option<Vec<Segment>>,
}

/// Slits between bodies that are narrower are closed, mm: parts that were cut apart share no corners but for rounding.
pub(super) const SLIT_MM: f64 = 0.004;

type Ring = Vec<IntPoint<i32>>;

/// Whole numbers for the places of a layer: 2ᵏ to a mm, as fine as the coordinate range of the overlay allows with a bit to
/// spare (|x| < 2³⁰, see `i_overlay::core::integer`).
struct Lattice {
    origin: [f64; 2],
    per_mm: f64,
}

impl Lattice {
    fn over(grid: &PrintGrid) -> Lattice {
        let wide = grid.cells[0].max(grid.cells[1]) as f64 * grid.step_mm;
        let bits = (29.0 - wide.max(1.0).log2().ceil()).clamp(0.0, 24.0);
        Lattice {
            origin: grid.origin,
            per_mm: bits.exp2(),
        }
    }

    fn ring(&self, ring: &[[f64; 2]]) -> Ring {
        let at = |p: &[f64; 2], i: usize| ((p[i] - self.origin[i]) * self.per_mm).round() as i32;
        ring.iter()
            .map(|p| IntPoint::new(at(p, 0), at(p, 1)))
            .collect()
    }

    fn place(&self, p: IntPoint<i32>) -> [f64; 2] {
        [
            self.origin[0] + f64::from(p.x) / self.per_mm,
            self.origin[1] + f64::from(p.y) / self.per_mm,
        ]
    }
}

/// A body's section so far as it is its own, and the box around it.
struct Section {
    rings: Vec<Ring>,
    low: [i32; 2],
    high: [i32; 2],
}

impl Section {
    fn of(rings: Vec<Ring>) -> Section {
        let (mut low, mut high) = ([i32::MAX; 2], [i32::MIN; 2]);
        for p in rings.iter().flatten() {
            low = [low[0].min(p.x), low[1].min(p.y)];
            high = [high[0].max(p.x), high[1].max(p.y)];
        }
        Section { rings, low, high }
    }

    fn may_meet(&self, other: &Section) -> bool {
        (0..2).all(|i| self.low[i] <= other.high[i] && other.low[i] <= self.high[i])
    }
}

impl Survey {
    /// The outlines of a layer's bodies that higher bodies may take something of, by body.
    ///
    /// # Cost
    /// n log n in the edges of sections whose boxes meet; nothing for a single body.
    pub(super) fn claim(&self, layer: usize, scratch: &mut Scratch) -> LayerClaims {
        let mut found = LayerClaims::default();
        if self.bodies.len() < 2 {
            return found;
        }
        let lattice = Lattice::over(&self.grid);
        let mut above: Vec<Section> = Vec::new();
        for body in 0..self.bodies.len() {
            if self.crossing[body].of(layer).is_empty() {
                continue;
            }
            self.whole_outline(body, layer, &mut scratch.segments);
            let loops = chain(&scratch.segments);
            let rings = loops.iter().map(|ring| lattice.ring(ring)).collect();
            let mut own = Section::of(rings);
            let takers: Vec<&Section> = above.iter().filter(|a| a.may_meet(&own)).collect();
            if !takers.is_empty() {
                let clip: Vec<Ring> = takers.iter().flat_map(|t| t.rings.clone()).collect();
                let mut overlay = Overlay::<i32>::from_subj_and_clip(&own.rings, &clip);
                let left = overlay.overlay(OverlayRule::Difference, FillRule::Positive);
                let rings: Vec<Ring> = left.into_iter().flatten().collect();
                found.of_bodies.push(Claimed {
                    body: body as u32,
                    outline: rings.iter().flat_map(|r| edges(&lattice, r)).collect(),
                });
                own = Section::of(rings);
            }
            if !own.rings.is_empty() {
                above.push(own);
            }
        }
        if !found.of_bodies.is_empty() {
            let in_mm = |r: &Ring| r.iter().map(|p| lattice.place(*p)).collect();
            let rings: Vec<Vec<[f64; 2]>> =
                above.iter().flat_map(|s| &s.rings).map(in_mm).collect();
            let all = Area::of(&rings).offset(SLIT_MM).offset(-SLIT_MM);
            let rings = all.rings_mm();
            found.together = Some(rings.iter().flat_map(|r| ring_edges(r)).collect());
        }
        found
    }
}

fn ring_edges(ring: &[[f64; 2]]) -> impl Iterator<Item = Segment> + '_ {
    let next = ring.iter().cycle().skip(1);
    ring.iter().zip(next).map(|(from, to)| Segment {
        from: *from,
        to: *to,
        facet: NO_FACET,
    })
}

fn edges<'a>(lattice: &'a Lattice, ring: &'a Ring) -> impl Iterator<Item = Segment> + 'a {
    (0..ring.len()).map(|i| Segment {
        from: lattice.place(ring[i]),
        to: lattice.place(ring[(i + 1) % ring.len()]),
        facet: NO_FACET,
    })
}
