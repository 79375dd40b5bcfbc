//! Which bodies share volume, which only touch, and which lie within another.

use super::boolean::{BooleanError, Wanted, boolean};
use super::crossing::may_cross;
use super::plane::{Plane, cut_by_plane};
use super::solid::{Face, Solid};
use crate::geometry::{Bounds, cross, dot, facet_area, facet_normal, middle, sub};
use crate::mesh::{FacetTree, inner_point};
use rayon::prelude::*;
use std::borrow::Cow;
use std::sync::atomic::{AtomicUsize, Ordering};

/// How two bodies lie to each other.
#[derive(Debug, Clone, PartialEq)]
pub enum Meeting {
    /// They share volume.
    Overlap {
        /// How much, mm³.
        volume_mm3: f64,
        /// What they share.
        shared: Solid,
        /// Surface of the first inside the second, and of the second inside the first, mm².
        surfaces_mm2: [f64; 2],
    },
    /// They share no volume but touch along their faces.
    Touch {
        /// Area in common, mm².
        area_mm2: f64,
    },
    /// The second lies wholly within the first and nowhere touches its surface.
    Encloses {
        /// Thinnest wall around it, mm: the least distance from a corner of either surface to the other surface.
        wall_mm: f64,
        /// Volume of the second, mm³.
        volume_mm3: f64,
        /// Surface of the second, mm².
        area_mm2: f64,
    },
    /// They cross, but the cut does not come out clean.
    Unclear(BooleanError),
}

/// Two bodies that meet, by their numbers; of [`Meeting::Encloses`] the container comes first.
#[derive(Debug, Clone, PartialEq)]
pub struct Pair {
    /// The two.
    pub bodies: [usize; 2],
    /// How they meet.
    pub meeting: Meeting,
    /// A place where they do, mm.
    pub at: [f64; 3],
}

/// A body with its search tree.
struct Known<'a> {
    solid: &'a Solid,
    tree: FacetTree,
    bounds: Bounds,
}

impl Known<'_> {
    /// What of it lies in a box, and a little around: enough to tell what it shares with a body of that box.
    fn near(&self, bounds: &Bounds) -> Cow<'_, Solid> {
        // Below this, cutting it smaller takes longer than it saves.
        const FEW: usize = 1000;
        // Odd, so that the cut does not run along faces that lie on round figures.
        const SPARE_MM: f64 = 0.017_320_5;
        let mut near = Cow::Borrowed(self.solid);
        for axis in 0..3 {
            for (way, end) in [(1.0, bounds.min[axis]), (-1.0, -bounds.max[axis])] {
                if near.mesh.facets.len() < FEW {
                    return near;
                }
                let mut normal = [0.0; 3];
                normal[axis] = way;
                let offset = end - SPARE_MM;
                // A plane that misses leaves it as it is.
                if let Ok(halves) = cut_by_plane(&near, &Plane { normal, offset }) {
                    near = Cow::Owned(halves.above);
                }
            }
        }
        near
    }
}

/// All pairs of closed bodies that meet, in order. Bodies that are not closed are left out.
///
/// `step` is called as pairs are done, with how many of how many; it returns false to stop, which gives nothing.
///
/// # Cost
/// Boxes are compared pair by pair; only pairs whose surfaces cross are cut.
pub fn meetings(
    solids: &[Solid],
    step: &(dyn Fn(usize, usize) -> bool + Sync),
) -> Option<Vec<Pair>> {
    let known: Vec<Option<Known<'_>>> = solids
        .par_iter()
        .map(|solid| {
            solid.check().ok()?;
            Some(Known {
                solid,
                tree: FacetTree::build(&solid.mesh, 0..solid.mesh.facets.len() as u32),
                bounds: solid.bounds(),
            })
        })
        .collect();
    // A body that is not closed has no box and meets none.
    let bounds = |k: &Option<Known<'_>>| k.as_ref().map_or(Bounds::EMPTY, |k| k.bounds);
    let boxes: Vec<Bounds> = known.iter().map(bounds).collect();
    let near = Bounds::meeting(&boxes, TOUCH_MM);
    let done = AtomicUsize::new(0);
    let found: Vec<Option<Option<Pair>>> = near
        .par_iter()
        .map(|[i, j]| {
            let n = done.fetch_add(1, Ordering::Relaxed);
            if !step(n, near.len()) {
                return None;
            }
            let (Some(a), Some(b)) = (&known[*i], &known[*j]) else {
                return Some(None);
            };
            Some(meet(a, b).map(|(turned, meeting, at)| Pair {
                bodies: if turned { [*j, *i] } else { [*i, *j] },
                meeting,
                at,
            }))
        })
        .collect();
    let mut pairs = Vec::new();
    for pair in found {
        pairs.extend(pair?);
    }
    Some(pairs)
}

/// Faces nearer than this touch, mm.
const TOUCH_MM: f64 = 1e-4;

/// Less shared volume than this is rounding, mm³.
const SHARED_MM3: f64 = 1e-4;

/// Whether two bodies meet, and whether the second has to be named first.
fn meet(a: &Known<'_>, b: &Known<'_>) -> Option<(bool, Meeting, [f64; 3])> {
    let crossing = first_place(a, b);
    if crossing.is_none() {
        for (turned, outer, inner) in [(false, a, b), (true, b, a)] {
            if let Some(wall_mm) = enclosed(outer, inner) {
                let meeting = Meeting::Encloses {
                    wall_mm,
                    volume_mm3: inner.solid.volume_mm3(),
                    area_mm2: area(inner.solid, |_| true),
                };
                return Some((turned, meeting, inner.solid.mesh.vertices[0]));
            }
        }
    }
    let contact = contact(a, b);
    let at = crossing.or(contact.map(|c| c.1))?;
    // Labelled, so that the facets of what they share tell whose they were.
    let mut first = a.near(&b.bounds).into_owned();
    first.faces.fill(Face {
        label: Some(0),
        is_inner: false,
    });
    match boolean(&first, &b.near(&a.bounds), Wanted::Shared) {
        Ok(shared) if shared.volume_mm3() > SHARED_MM3 => {
            let of = |first: bool| area(&shared, |f| shared.faces[f].label.is_some() == first);
            Some((
                false,
                Meeting::Overlap {
                    volume_mm3: shared.volume_mm3(),
                    surfaces_mm2: [of(true), of(false)],
                    shared,
                },
                at,
            ))
        }
        Ok(_) => contact.map(|(area_mm2, at)| (false, Meeting::Touch { area_mm2 }, at)),
        Err(e) => Some((false, Meeting::Unclear(e), at)),
    }
}

/// Area of some facets, mm².
fn area(solid: &Solid, is_counted: impl Fn(usize) -> bool) -> f64 {
    let facets = (0..solid.mesh.facets.len()).filter(|f| is_counted(*f));
    facets.map(|f| facet_area(&solid.corners(f))).sum()
}

/// The body with fewer facets, its facets in the other's box, ascending, and the other body.
fn narrowed<'k, 'a>(
    a: &'k Known<'a>,
    b: &'k Known<'a>,
) -> (&'k Known<'a>, Vec<u32>, &'k Known<'a>) {
    let (few, many) = if a.solid.mesh.facets.len() <= b.solid.mesh.facets.len() {
        (a, b)
    } else {
        (b, a)
    };
    let mut bounds = many.bounds;
    for i in 0..3 {
        bounds.min[i] -= TOUCH_MM;
        bounds.max[i] += TOUCH_MM;
    }
    let mut near = Vec::new();
    few.tree.each_overlapping(&bounds, |f, _| near.push(f));
    near.sort_unstable();
    (few, near, many)
}

/// A place where the surfaces may pass through one another: on the lowest facet of the smaller that may.
fn first_place(a: &Known<'_>, b: &Known<'_>) -> Option<[f64; 3]> {
    let (few, near, many) = narrowed(a, b);
    near.par_iter().find_map_first(|f| {
        let corners = few.solid.corners(*f as usize);
        let mut hit = false;
        many.tree
            .each_overlapping(&Bounds::of(corners.into_iter()), |_, other| {
                hit = hit || may_cross(&corners, other);
            });
        hit.then(|| middle(&corners))
    })
}

/// The thinnest wall if the second lies wholly within the first.
fn enclosed(outer: &Known<'_>, inner: &Known<'_>) -> Option<f64> {
    if !outer.bounds.holds(&inner.bounds) {
        return None;
    }
    let distance = |known: &Known<'_>, p: [f64; 3]| {
        known
            .tree
            .nearest(p, f64::INFINITY)
            .map_or(f64::INFINITY, |n| n.distance2.sqrt())
    };
    // Every shell of the inner one has to lie inside.
    for shell in inner.solid.shells() {
        if !outer
            .tree
            .is_inside(inner_point(&shell.corners(0)), |_| true)
        {
            return None;
        }
    }
    let least = |known: &Known<'_>, points: &[[f64; 3]]| {
        points
            .par_iter()
            .map(|p| distance(known, *p))
            .reduce(|| f64::INFINITY, f64::min)
    };
    let wall =
        least(outer, &inner.solid.mesh.vertices).min(least(inner, &outer.solid.mesh.vertices));
    (wall > TOUCH_MM).then_some(wall)
}

/// Area over which faces of the two lie on one another, with a place; none if there is none.
fn contact(a: &Known<'_>, b: &Known<'_>) -> Option<(f64, [f64; 3])> {
    const OPPOSITE: f64 = -0.999_999;
    let (few, near, many) = narrowed(a, b);
    let parts: Vec<(f64, [f64; 3])> = near
        .par_iter()
        .filter_map(|f| {
            let corners = few.solid.corners(*f as usize);
            let normal = facet_normal(&corners)?;
            let mut bounds = Bounds::of(corners.into_iter());
            for i in 0..3 {
                bounds.min[i] -= TOUCH_MM;
                bounds.max[i] += TOUCH_MM;
            }
            let mut area = 0.0;
            many.tree.each_overlapping(&bounds, |_, other| {
                let is_level = other
                    .iter()
                    .all(|p| dot(normal, sub(*p, corners[0])).abs() < TOUCH_MM);
                if is_level && facet_normal(other).is_some_and(|n| dot(n, normal) < OPPOSITE) {
                    area += shared_area(&corners, other, normal);
                }
            });
            (area > 1e-9).then(|| (area, middle(&corners)))
        })
        .collect();
    let place = parts.first()?.1;
    Some((parts.iter().map(|p| p.0).sum(), place))
}

/// Area that two triangles of one plane share.
///
/// # Source
/// Sutherland and Hodgman, "Reentrant Polygon Clipping", 1974.
fn shared_area(a: &[[f64; 3]; 3], b: &[[f64; 3]; 3], normal: [f64; 3]) -> f64 {
    let mut polygon: Vec<[f64; 3]> = b.iter().rev().copied().collect();
    for i in 0..3 {
        let (from, to) = (a[i], a[(i + 1) % 3]);
        let inward = cross(normal, sub(to, from));
        let height = |p: &[f64; 3]| dot(inward, sub(*p, from));
        let mut kept = Vec::with_capacity(polygon.len() + 1);
        for k in 0..polygon.len() {
            let (p, q) = (polygon[k], polygon[(k + 1) % polygon.len()]);
            let (h, g) = (height(&p), height(&q));
            if h >= 0.0 {
                kept.push(p);
            }
            if (h > 0.0 && g < 0.0) || (h < 0.0 && g > 0.0) {
                let t = h / (h - g);
                kept.push([0, 1, 2].map(|i| p[i] + t * (q[i] - p[i])));
            }
        }
        polygon = kept;
    }
    (1..polygon.len().saturating_sub(1))
        .map(|i| facet_area(&[polygon[0], polygon[i], polygon[i + 1]]))
        .sum()
}
