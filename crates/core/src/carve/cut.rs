//! The conforming cut: labels changed up to the zero line of a field, and exactly there.

use super::divided::Divided;
use super::field::Field;
use super::labels::{Held, Label, Labels};
use super::patchwork::Patchwork;
use crate::geometry::middle;
use crate::mesh::{facet_normal, length, sub};
use crate::model::OpenMesh;
use rayon::prelude::*;
use std::sync::Arc;

/// One cut to be made.
pub struct Cutting<'a> {
    /// The mesh.
    pub open: &'a OpenMesh,
    /// Its labels before the cut.
    pub labels: &'a Labels,
    /// Negative where surface is taken.
    pub field: &'a dyn Field,
    /// How far the border may lie from the zero line, mm.
    pub tolerance_mm: f64,
    /// Asked every few thousand steps; false stops the cut.
    pub go_on: &'a dyn Fn() -> bool,
}

/// Where a facet lies.
#[derive(PartialEq)]
enum Side {
    Inside,
    Outside,
    OnTheLine,
}

/// What becomes of a label: given the facet, the middle of the piece of surface, and the label before.
pub type Paint<'a> = &'a dyn Fn(u32, [f64; 3], Label) -> Label;

/// Passes the labels of all surface where the field is negative through `paint`. Returns what the changed facets have now, ascending; facets beside them that took over points on a shared
/// edge are among them; none if it was stopped.
///
/// `facets`: those that take part, ascending. Others keep their labels, though they may be divided along shared edges.
///
/// # Guarantees
/// Mesh and divisions stay conforming. New points lie on the facets, so neither shape, area nor volume change beyond
/// rounding. The border is within the tolerance of the zero line; where that would take a facet lower than
/// [`super::LEAST_ALTITUDE_MM`], the border follows the nearest edge instead.
///
/// # Cost
/// Linear in the facets that take part, plus what the length of the zero line takes.
pub fn cut(cutting: &Cutting<'_>, facets: &[u32], paint: Paint<'_>) -> Option<Vec<(u32, Held)>> {
    let mut changed: Vec<(u32, Held)> = Vec::new();
    let mut on_line: Vec<u32> = Vec::new();
    let (open, field) = (cutting.open, cutting.field);
    let sides: Vec<Side> = facets.par_iter().map(|f| side(open, field, *f)).collect();
    for (facet, side) in facets.iter().zip(sides) {
        match side {
            Side::Outside => {}
            Side::OnTheLine => on_line.push(*facet),
            Side::Inside => {
                let painted = painted(cutting.open, cutting.labels, *facet, paint);
                changed.extend(painted.map(|held| (*facet, held)));
            }
        }
    }
    if !on_line.is_empty() {
        let mut patchwork = Patchwork::new(cutting);
        patchwork.take_in(&on_line);
        match cutting.field.planes() {
            0 => {
                patchwork.refine();
                patchwork.split_along_zero();
            }
            planes => (0..planes).for_each(|n| {
                if !patchwork.is_stopped {
                    patchwork.split_along_plane(n);
                }
            }),
        }
        if patchwork.is_stopped {
            return None;
        }
        patchwork.merge_into(&mut changed, paint);
    }
    changed.sort_by_key(|(facet, _)| *facet);
    Some(changed)
}

/// What a facet has once each of its labels is passed through `paint`; none if that changes nothing.
pub fn painted(open: &OpenMesh, labels: &Labels, facet: u32, paint: Paint<'_>) -> Option<Held> {
    let corners = open.mesh.corners(facet);
    match labels.held(facet) {
        Held::Divided(divided) => {
            let middle_of = |t: usize| middle(&divided.corners(t, &corners));
            let new = divided.relabelled(|t, l| paint(facet, middle_of(t), l));
            (new.labels != divided.labels).then(|| Held::Divided(Arc::new(new)))
        }
        Held::Whole(label) => {
            let new = paint(facet, middle(&corners), label);
            (new != label).then_some(Held::Whole(new))
        }
    }
}

/// How far a point of a triangle is from the nearest corner, at most, for a longest edge of 1.
pub(super) const FARTHEST: f64 = 0.577_350_27;

/// The middle of a triangle, a hair below the surface: surface that lies in a plane of a field belongs to the side its
/// solid is on.
pub(super) fn just_below(corners: &[[f64; 3]; 3]) -> [f64; 3] {
    const HAIR_MM: f64 = 1e-5;
    let m = middle(corners);
    let n = facet_normal(corners).unwrap_or([0.0; 3]);
    [0, 1, 2].map(|i| m[i] - HAIR_MM * n[i])
}

fn side(open: &OpenMesh, field: &dyn Field, facet: u32) -> Side {
    let corners = open.mesh.corners(facet);
    let planes = field.planes();
    if planes > 0 {
        let crosses = |n: usize| {
            let values = corners.map(|p| field.plane(n, p));
            values.iter().any(|v| *v < 0.0) && values.iter().any(|v| *v > 0.0)
        };
        return match (0..planes).any(crosses) {
            true => Side::OnTheLine,
            false if field.at(just_below(&corners)) < 0.0 => Side::Inside,
            false => Side::Outside,
        };
    }
    let values = corners.map(|p| field.at(p));
    let longest = (0..3)
        .map(|k| length(sub(corners[(k + 1) % 3], corners[k])))
        .fold(0.0, f64::max);
    let is_negative = values[0] < 0.0;
    if values.iter().any(|v| (*v < 0.0) != is_negative) {
        return Side::OnTheLine;
    }
    let nearest = values.iter().fold(f64::INFINITY, |m, v| m.min(v.abs()));
    let is_clear = nearest > FARTHEST * longest
        || longest <= field.detail_mm(corners[0], longest)
        || is_beyond(field, &corners, longest, is_negative);
    match (is_clear, is_negative) {
        (false, _) => Side::OnTheLine,
        (true, true) => Side::Inside,
        (true, false) => Side::Outside,
    }
}

/// Whether a large facet is all on one side although its corners are too far from it to tell: looked at in quarters.
fn is_beyond(field: &dyn Field, corners: &[[f64; 3]; 3], longest: f64, is_negative: bool) -> bool {
    const DEEPEST: u32 = 6;
    fn look(
        field: &dyn Field,
        [a, b, c]: [[f64; 3]; 3],
        longest: f64,
        is_negative: bool,
        deeper: u32,
    ) -> bool {
        let middle = middle(&[a, b, c]);
        let value = field.at(middle);
        if (value < 0.0) != is_negative {
            return false;
        }
        if value.abs() > 2.0 * FARTHEST * longest {
            return true;
        }
        if deeper == 0 {
            return longest <= field.detail_mm(middle, longest);
        }
        let half = |p: [f64; 3], q: [f64; 3]| [0, 1, 2].map(|i| 0.5 * (p[i] + q[i]));
        let (ab, bc, ca) = (half(a, b), half(b, c), half(c, a));
        [[a, ab, ca], [ab, b, bc], [ca, bc, c], [ab, bc, ca]]
            .into_iter()
            .all(|t| look(field, t, 0.5 * longest, is_negative, deeper - 1))
    }
    look(field, *corners, longest, is_negative, DEEPEST)
}

impl Patchwork<'_> {
    /// Adds the facets that the patchwork changed to those that were all inside, which are in ascending order.
    fn merge_into(&self, changed: &mut Vec<(u32, Held)>, paint: Paint<'_>) {
        let inside = changed.len();
        for (facet, divided) in self.divisions(paint) {
            let held = |divided: Divided| match divided.only_label() {
                Some(label) if divided.is_whole() => Held::Whole(label),
                _ => Held::Divided(Arc::new(divided)),
            };
            match changed[..inside].binary_search_by_key(&facet, |(f, _)| *f) {
                // All inside, and it took over points of a neighbour: its labels are still those before.
                Ok(at) => {
                    let corners = self.mesh_corners(facet);
                    let middle_of = |t: usize| middle(&divided.corners(t, &corners));
                    changed[at].1 = held(divided.relabelled(|t, l| paint(facet, middle_of(t), l)));
                }
                Err(_) => {
                    let held = held(divided);
                    if held != self.labels().held(facet) {
                        changed.push((facet, held));
                    }
                }
            }
        }
    }
}
