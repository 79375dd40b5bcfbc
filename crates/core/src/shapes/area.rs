//! What is covered: shapes with holes.

use super::lattice::{LATTICE_MM, Ring, place, ring, spot, steps};
use super::simplify::simplified;
use i_overlay::core::fill_rule::FillRule;
use i_overlay::core::overlay::Overlay;
use i_overlay::core::overlay_rule::OverlayRule;
use i_overlay::i_float::int::angle::Angle;
use i_overlay::i_float::int::point::IntPoint;
use i_overlay::mesh::int::arc::ArcOptions;
use i_overlay::mesh::int::outline::offset::IntOutlineOffset;
use i_overlay::mesh::int::style::{IntLineJoin, IntOutlineStyle};
use std::borrow::Cow;

/// Shapes that share no area: of each its outer ring, counter-clockwise, then its holes, clockwise.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Area {
    shapes: Vec<Vec<Ring>>,
}

/// What counts as inside of lines that cross (SVG 1.1, 11.3, `fill-rule`).
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Winding {
    /// What they go around at least once more one way than the other.
    NonZero,
    /// What they go around an odd number of times.
    EvenOdd,
}

/// Steps of a turn where an offset goes round a corner: an arc of half a line is off by less than 2 µm.
const ARC_STEP: u32 = 1 << 28;

/// Corners that offsets make and that are off by less are left out, mm.
const ROUNDED_MM: f64 = 0.002;

impl Area {
    /// What is inside of some closed lines in mm, counter-clockwise ones around, clockwise ones as holes. Where lines overlap,
    /// what is inside of more than it is outside of counts.
    pub fn of(rings: &[Vec<[f64; 2]>]) -> Area {
        let rings: Vec<Ring> = rings
            .iter()
            .map(|r| ring(r))
            .filter(|r| r.len() > 2)
            .collect();
        Area::of_rings(&rings)
    }

    /// The same of lines on the lattice.
    pub fn of_rings(rings: &[Ring]) -> Area {
        if rings.is_empty() {
            return Area::default();
        }
        let mut overlay = Overlay::<i32>::from_subj(rings);
        Area {
            shapes: overlay.overlay(OverlayRule::Subject, FillRule::Positive),
        }
    }

    /// What is inside of some closed lines in mm that may cross one another, however they are wound.
    pub fn wound(rings: &[Vec<[f64; 2]>], winding: Winding) -> Area {
        let rings: Vec<Ring> = rings
            .iter()
            .map(|r| ring(r))
            .filter(|r| r.len() > 2)
            .collect();
        if rings.is_empty() {
            return Area::default();
        }
        let rule = match winding {
            Winding::NonZero => FillRule::NonZero,
            Winding::EvenOdd => FillRule::EvenOdd,
        };
        let mut overlay = Overlay::<i32>::from_subj(&rings);
        Area {
            shapes: overlay.overlay(OverlayRule::Subject, rule),
        }
    }

    /// A rectangle in mm.
    pub fn rectangle(low: [f64; 2], high: [f64; 2]) -> Area {
        Area::of(&[vec![low, [high[0], low[1]], high, [low[0], high[1]]]])
    }

    /// Those of its shapes that come near a box, mm.
    pub fn near(&self, low: [f64; 2], high: [f64; 2]) -> Area {
        let (low, high) = (spot(low), spot(high));
        let is_near = |shape: &&Vec<Ring>| {
            let outer = &shape[0];
            let xs = outer.iter().map(|p| p.x);
            let ys = outer.iter().map(|p| p.y);
            let (l, h) = (xs.clone().min(), xs.max());
            let (b, t) = (ys.clone().min(), ys.max());
            l <= Some(high.x) && h >= Some(low.x) && b <= Some(high.y) && t >= Some(low.y)
        };
        Area {
            shapes: self.shapes.iter().filter(is_near).cloned().collect(),
        }
    }

    /// Mirrored left to right within a width from 0, mm.
    pub fn mirrored(&self, width_mm: f64) -> Area {
        let width = steps(width_mm);
        let turned = |ring: &Ring| {
            ring.iter()
                .rev()
                .map(|p| IntPoint::new(width - p.x, p.y))
                .collect()
        };
        let shapes = self.shapes.iter();
        Area {
            shapes: shapes.map(|s| s.iter().map(turned).collect()).collect(),
        }
    }

    /// Whether nothing is covered.
    pub fn is_empty(&self) -> bool {
        self.shapes.is_empty()
    }

    /// All rings.
    pub fn rings(&self) -> impl Iterator<Item = &Ring> {
        self.shapes.iter().flatten()
    }

    /// All rings in mm.
    pub fn rings_mm(&self) -> Vec<Vec<[f64; 2]>> {
        let in_mm = |r: &Ring| r.iter().map(|p| place(*p)).collect();
        self.rings().map(in_mm).collect()
    }

    pub(super) fn shapes(&self) -> &[Vec<Ring>] {
        &self.shapes
    }

    /// What hangs together, each by itself.
    pub fn islands(self) -> Vec<Area> {
        let one = |shape| Area {
            shapes: vec![shape],
        };
        self.shapes.into_iter().map(one).collect()
    }

    /// Covered area, mm².
    pub fn mm2(&self) -> f64 {
        let twice: i128 = self.rings().map(|r| twice_area(r)).sum();
        0.5 * twice as f64 * LATTICE_MM * LATTICE_MM
    }

    /// Length of all rings, mm.
    pub fn edge_mm(&self) -> f64 {
        let length = |r: &Ring| -> f64 {
            let next = r.iter().cycle().skip(1);
            let sides = r.iter().zip(next);
            sides
                .map(|(a, b)| f64::from(b.x - a.x).hypot(f64::from(b.y - a.y)))
                .sum()
        };
        self.rings().map(length).sum::<f64>() * LATTICE_MM
    }

    /// The box around it, mm; `None` if it is empty.
    pub fn bounds(&self) -> Option<([f64; 2], [f64; 2])> {
        let mut low = IntPoint::new(i32::MAX, i32::MAX);
        let mut high = IntPoint::new(i32::MIN, i32::MIN);
        for p in self.rings().flatten() {
            low = IntPoint::new(low.x.min(p.x), low.y.min(p.y));
            high = IntPoint::new(high.x.max(p.x), high.y.max(p.y));
        }
        (!self.is_empty()).then(|| (place(low), place(high)))
    }

    /// Whether a place in mm is covered.
    pub fn holds(&self, p: [f64; 2]) -> bool {
        let p = super::lattice::spot(p);
        let mut inside = false;
        for ring in self.rings() {
            let next = ring.iter().cycle().skip(1);
            for (a, b) in ring.iter().zip(next) {
                if (a.y > p.y) != (b.y > p.y) {
                    let t = f64::from(p.y - a.y) / f64::from(b.y - a.y);
                    inside ^= f64::from(p.x) < f64::from(a.x) + t * f64::from(b.x - a.x);
                }
            }
        }
        inside
    }

    /// What either covers.
    pub fn or(&self, other: &Area) -> Area {
        match (self.is_empty(), other.is_empty()) {
            (true, _) => other.clone(),
            (_, true) => self.clone(),
            _ => self.with(other, OverlayRule::Union),
        }
    }

    /// What all of some cover together.
    pub fn union<'a>(areas: impl IntoIterator<Item = &'a Area>) -> Area {
        let rings: Vec<Ring> = areas.into_iter().flat_map(|a| a.rings().cloned()).collect();
        Area::of_rings(&rings)
    }

    /// What both cover.
    pub fn and(&self, other: &Area) -> Area {
        if !self.may_meet(other) {
            return Area::default();
        }
        self.beside(other)
            .with(&other.beside(self), OverlayRule::Intersect)
    }

    /// What the other does not cover.
    pub fn minus(&self, other: &Area) -> Area {
        if !self.may_meet(other) {
            return self.clone();
        }
        self.with(&other.beside(self), OverlayRule::Difference)
    }

    /// What the other covers of it, and the rest: both from one graph, so that they share their border corner by corner.
    pub fn split(&self, other: &Area) -> (Area, Area) {
        if !self.may_meet(other) {
            return (Area::default(), self.clone());
        }
        let other = other.beside(self);
        let mut overlay = Overlay::<i32>::from_subj_and_clip(&self.shapes, &other.shapes);
        let Some(graph) = overlay.build_graph_view(FillRule::NonZero) else {
            return (Area::default(), self.clone());
        };
        let mut buffer = Default::default();
        let mut of = |rule| Area {
            shapes: graph.extract_shapes(rule, &mut buffer),
        };
        (of(OverlayRule::Intersect), of(OverlayRule::Difference))
    }

    fn with(&self, other: &Area, rule: OverlayRule) -> Area {
        let mut overlay = Overlay::<i32>::from_subj_and_clip(&self.shapes, &other.shapes);
        Area {
            shapes: overlay.overlay(rule, FillRule::NonZero),
        }
    }

    /// Those of its shapes that another may meet: of many small ones far from each other a few.
    fn beside(&self, other: &Area) -> Cow<'_, Area> {
        match other.bounds() {
            Some((low, high)) if self.shapes.len() > 1 => Cow::Owned(self.near(low, high)),
            _ => Cow::Borrowed(self),
        }
    }

    fn may_meet(&self, other: &Area) -> bool {
        match (self.bounds(), other.bounds()) {
            (Some((low, high)), Some((l, h))) => (0..2).all(|i| low[i] <= h[i] && l[i] <= high[i]),
            _ => false,
        }
    }

    /// Grown by a distance in mm all round, or shrunk by a negative one; corners that a circle would not reach are rounded.
    pub fn offset(&self, mm: f64) -> Area {
        let by = steps(mm);
        if by == 0 || self.is_empty() {
            return self.clone();
        }
        if by < 0 {
            let is_left = |shape: &Vec<Ring>| may_hold_a_disc(shape, -mm);
            if !self.shapes.iter().all(is_left) {
                let shapes = self.shapes.iter().filter(|s| is_left(s)).cloned();
                let left = Area {
                    shapes: shapes.collect(),
                };
                return left.offset(mm);
            }
        }
        let mut style = IntOutlineStyle::new(by);
        style.join = IntLineJoin::Round(ArcOptions {
            max_step: Angle::from_bits(ARC_STEP),
            ..ArcOptions::default()
        });
        let shapes = self.shapes.outline(&style);
        Area {
            shapes: shapes.unwrap_or_default(),
        }
        .tidy(ROUNDED_MM)
    }

    /// With fewer corners, none of which moves; edges move by up to a distance in mm.
    pub fn tidy(mut self, within_mm: f64) -> Area {
        let within = within_mm / LATTICE_MM;
        for shape in &mut self.shapes {
            for ring in shape.iter_mut() {
                *ring = simplified(ring, within);
            }
            shape.retain(|r| r.len() > 2);
        }
        self.shapes.retain(|s| !s.is_empty());
        self
    }

    /// What a disc of a radius in mm covers that stays within.
    pub fn opened(&self, radius_mm: f64) -> Area {
        self.offset(-radius_mm).offset(radius_mm)
    }

    /// Without pieces and holes that are smaller than so many mm².
    pub fn without_specks(mut self, least_mm2: f64) -> Area {
        let is_large = |r: &Ring| {
            let mm2 = 0.5 * twice_area(r) as f64 * LATTICE_MM * LATTICE_MM;
            mm2.abs() >= least_mm2
        };
        self.shapes.retain(|s| s.first().is_some_and(is_large));
        for shape in &mut self.shapes {
            let mut first = true;
            shape.retain(|r| std::mem::take(&mut first) || is_large(r));
        }
        self
    }

    /// With all holes filled.
    pub fn without_holes(mut self) -> Area {
        self.shapes.iter_mut().for_each(|s| s.truncate(1));
        self
    }

    /// Moved by whole steps of the lattice nearest to a way in mm.
    pub fn moved(&self, by: [f64; 2]) -> Area {
        let (dx, dy) = (steps(by[0]), steps(by[1]));
        let ring = |r: &Ring| -> Ring {
            r.iter()
                .map(|p| IntPoint::new(p.x + dx, p.y + dy))
                .collect()
        };
        Area {
            shapes: self
                .shapes
                .iter()
                .map(|s| s.iter().map(ring).collect())
                .collect(),
        }
    }
}

/// Twice the area that a ring goes around, in steps of the lattice; negative if it is clockwise.
fn twice_area(ring: &[IntPoint<i32>]) -> i128 {
    let next = ring.iter().cycle().skip(1);
    let cross = |(a, b): (&IntPoint<i32>, &IntPoint<i32>)| {
        i128::from(a.x) * i128::from(b.y) - i128::from(a.y) * i128::from(b.x)
    };
    ring.iter().zip(next).map(cross).sum()
}

/// Whether a disc may lie in a shape: not where the shape is narrower, or has less area.
///
/// PERF: small shapes that vanish are told so: moved through themselves all their sides cross one another, which is slow to sort out.
fn may_hold_a_disc(shape: &[Ring], radius_mm: f64) -> bool {
    let Some(outer) = shape.first() else {
        return false;
    };
    let span = |of: &dyn Fn(&IntPoint<i32>) -> i32| {
        let (low, high) = outer
            .iter()
            .map(of)
            .fold((i32::MAX, i32::MIN), |(low, high), c| {
                (low.min(c), high.max(c))
            });
        f64::from(high) - f64::from(low)
    };
    let narrow = span(&|p| p.x).min(span(&|p| p.y)) * LATTICE_MM;
    let twice: i128 = shape.iter().map(|r| twice_area(r)).sum();
    let mm2 = 0.5 * twice.abs() as f64 * LATTICE_MM * LATTICE_MM;
    narrow >= 2.0 * radius_mm && mm2 >= std::f64::consts::PI * radius_mm * radius_mm
}
