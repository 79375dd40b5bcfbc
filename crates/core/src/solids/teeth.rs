//! Teeth where two bodies touch: one grows into the other, inside only, so that plastics that do not bond still hold.

use super::boolean::{BooleanError, Wanted, boolean};
use super::solid::{Face, Solid};
use crate::geometry::{cross, dot, facet_normal, length, middle, normalised, sub};
use crate::mesh::{FacetTree, Mesh};

/// Teeth that are made at most; more would be no joint but a surface.
const MOST_TEETH: usize = 2000;

/// Places that are looked at at most.
const MOST_PLACES: f64 = 1e6;

/// Faces nearer than this touch, mm.
const TOUCH_MM: f64 = 1e-4;

/// Cosine between faces that look at one another.
const FACING: f64 = -0.99;

/// How much of its size a tooth stands in the body that it grows from, so that it grows from all of its foot.
const ROOT: f64 = 0.25;

/// Width of a dovetail at its foot, as a share of its width at the end: it widens by about 1 in 7 on each side (common practice in
/// woodwork, no source).
const NECK: f64 = 0.7;

/// Form of teeth.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TeethForm {
    /// Width at the widest, and how far they reach into the other body, mm.
    pub size_mm: f64,
    /// Whether they are wider at the end than at the foot.
    pub is_dovetail: bool,
    /// Least plastic around them, mm.
    pub wall_mm: f64,
}

impl TeethForm {
    /// Half of the width at a height over the foot, mm.
    fn half(&self, height_mm: f64) -> f64 {
        let neck = if self.is_dovetail { NECK } else { 1.0 };
        let share = height_mm / self.size_mm;
        0.5 * self.size_mm * (neck + (1.0 - neck) * share)
    }

    /// Area that a tooth adds to a flat contact, mm².
    pub fn added_mm2(&self) -> f64 {
        let (foot, end) = (2.0 * self.half(0.0), 2.0 * self.half(self.size_mm));
        let slant = self.size_mm.hypot(0.5 * (end - foot));
        end * end - foot * foot + 2.0 * (foot + end) * slant
    }
}

/// Where a tooth stands.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Tooth {
    /// The middle of its foot, where the bodies touch, mm.
    pub foot: [f64; 3],
    /// Into the other body, and the two ways across.
    axes: [[f64; 3]; 3],
}

impl Tooth {
    /// The place so far up and across, mm.
    fn at(&self, up: f64, across: [f64; 2]) -> [f64; 3] {
        let [n, u, v] = self.axes;
        [0, 1, 2].map(|i| self.foot[i] + up * n[i] + across[0] * u[i] + across[1] * v[i])
    }
}

/// Two bodies held by teeth.
#[derive(Debug, Clone)]
pub struct Interlocked {
    /// The one that has grown teeth, and the one with room for them.
    pub bodies: [Solid; 2],
    /// How many teeth.
    pub teeth: usize,
}

/// Why two bodies cannot be held by teeth.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum TeethError {
    /// They touch nowhere.
    #[error("they touch nowhere")]
    Apart,
    /// Nowhere is room for a tooth with plastic around it.
    #[error("there is no room for a tooth")]
    NoRoom,
    /// There would be more than 2000.
    #[error("there would be more than {MOST_TEETH} teeth")]
    TooMany,
    /// A body is open, or does not come out clean.
    #[error(transparent)]
    Unclean(#[from] BooleanError),
}

/// A body with its search tree.
struct Known<'a> {
    solid: &'a Solid,
    tree: FacetTree,
}

impl Known<'_> {
    fn of(solid: &Solid) -> Known<'_> {
        let facets = 0..solid.mesh.facets.len() as u32;
        Known {
            tree: FacetTree::build(&solid.mesh, facets),
            solid,
        }
    }

    fn holds(&self, p: [f64; 3]) -> bool {
        self.tree.is_inside(p, |_| true)
    }
}

/// Two bodies made ready for teeth of any size.
pub struct Joint<'a> {
    from: Known<'a>,
    into: Known<'a>,
}

impl<'a> Joint<'a> {
    /// Teeth are to grow from the first into the second. Cost n log n in the facets of both.
    pub fn of(from: &'a Solid, into: &'a Solid) -> Joint<'a> {
        Joint {
            from: Known::of(from),
            into: Known::of(into),
        }
    }

    /// Where teeth can stand: twice their size or more from one to the next, with plastic all around.
    ///
    /// # Errors
    /// [`TeethError::Apart`], [`TeethError::NoRoom`], [`TeethError::TooMany`].
    ///
    /// # Cost
    /// Facets of the first, and places looked at, four to a tooth's width squared, each log n in the facets of both.
    pub fn places(&self, form: &TeethForm) -> Result<Vec<Tooth>, TeethError> {
        let Joint { from, into } = self;
        let feet = feet(from, into, form)?;
        let pitch = 2.0 * form.size_mm;
        let mut found: Vec<Tooth> = Vec::new();
        for tooth in feet {
            let is_free = |other: &Tooth| {
                let far = |up: f64| length(sub(tooth.at(up, [0.0; 2]), other.at(up, [0.0; 2])));
                far(0.0) >= 0.999 * pitch && far(form.size_mm) >= 0.75 * pitch
            };
            if found.iter().all(is_free) && has_room(&tooth, form, from, into) {
                if found.len() == MOST_TEETH {
                    return Err(TeethError::TooMany);
                }
                found.push(tooth);
            }
        }
        match found.is_empty() {
            true => Err(TeethError::NoRoom),
            false => Ok(found),
        }
    }
}

/// Places where both touch, in rows half a tooth apart.
fn feet(from: &Known<'_>, into: &Known<'_>, form: &TeethForm) -> Result<Vec<Tooth>, TeethError> {
    let near = into.solid.bounds();
    let step = 0.5 * form.size_mm;
    let mut touches = false;
    let mut looked_at = 0.0;
    let mut found: Vec<((usize, [i64; 2]), Tooth)> = Vec::new();
    for facet in 0..from.solid.mesh.facets.len() {
        let corners = from.solid.corners(facet);
        let Some(normal) = facet_normal(&corners) else {
            continue;
        };
        let axis = (0..3)
            .max_by(|a, b| normal[*a].abs().total_cmp(&normal[*b].abs()))
            .unwrap_or(2);
        let [s, t] = [(axis + 1) % 3, (axis + 2) % 3];
        // Rows are counted from the middle of the body that has room to give.
        let rows = |i: usize| {
            let middle = 0.5 * (near.min[i] + near.max[i]);
            let low = corners.iter().map(|c| c[i]).fold(f64::INFINITY, f64::min);
            let high = corners
                .iter()
                .map(|c| c[i])
                .fold(f64::NEG_INFINITY, f64::max);
            let first = ((low.max(near.min[i]) - middle) / step).ceil();
            let last = ((high.min(near.max[i]) - middle) / step).floor();
            (first, last, middle)
        };
        let (across, along) = (rows(s), rows(t));
        let count = |(first, last, _): (f64, f64, f64)| (last - first + 1.0).max(0.0);
        looked_at += count(across) * count(along);
        if looked_at > MOST_PLACES {
            return Err(TeethError::TooMany);
        }
        // A facet between the rows may be all that touches.
        touches |= !touches && touch(into, middle(&corners), normal);
        for j in along.0 as i64..=along.1 as i64 {
            for i in across.0 as i64..=across.1 as i64 {
                let at = [across.2 + i as f64 * step, along.2 + j as f64 * step];
                let foot = lifted(&corners, normal, (axis, s, t), at);
                if let Some(foot) = foot.filter(|foot| touch(into, *foot, normal)) {
                    touches = true;
                    let face = 2 * axis + usize::from(normal[axis] < 0.0);
                    found.push(((face, [j, i]), standing(foot, normal, s)));
                }
            }
        }
    }
    if !touches {
        return Err(TeethError::Apart);
    }
    found.sort_by_key(|(row, _)| *row);
    Ok(found.into_iter().map(|(_, tooth)| tooth).collect())
}

/// Holds two bodies that touch by teeth of the first in the second. Both stay closed, share nothing, and hold together what they held.
///
/// # Errors
/// Those of [`Joint::places`]; [`TeethError::Unclean`].
///
/// # Cost
/// That of [`Joint`] and of two cuts.
pub fn interlocked(
    from: &Solid,
    into: &Solid,
    form: &TeethForm,
) -> Result<Interlocked, TeethError> {
    for (number, solid) in [(1, from), (2, into)] {
        let check = solid.check();
        check.map_err(|flaw| BooleanError::NotClosed(number, flaw))?;
    }
    let places = Joint::of(from, into).places(form)?;
    let teeth = body(&places, form);
    let bodies = [
        boolean(from, &teeth, Wanted::United)?,
        boolean(into, &teeth, Wanted::Without)?,
    ];
    let volume = |a: &Solid, b: &Solid| a.volume_mm3() + b.volume_mm3();
    let (before, after) = (volume(from, into), volume(&bodies[0], &bodies[1]));
    // A tooth that shows outside would add to what there is.
    if (after - before).abs() > 1e-6 * before.max(1.0) {
        return Err(BooleanError::Unclean.into());
    }
    Ok(Interlocked {
        bodies,
        teeth: places.len(),
    })
}

/// Whether a place on one body's face lies on the other's, face to face.
fn touch(into: &Known<'_>, p: [f64; 3], normal: [f64; 3]) -> bool {
    let nearest = into.tree.nearest(p, TOUCH_MM);
    let other = nearest.and_then(|n| facet_normal(&into.solid.corners(n.facet as usize)));
    other.is_some_and(|other| dot(normal, other) < FACING)
}

/// The place of a facet over a place across; none if it does not lie over it.
fn lifted(
    corners: &[[f64; 3]; 3],
    normal: [f64; 3],
    (axis, s, t): (usize, usize, usize),
    across: [f64; 2],
) -> Option<[f64; 3]> {
    let turn = |a: [f64; 3], b: [f64; 3]| {
        (b[s] - a[s]) * (across[1] - a[t]) - (b[t] - a[t]) * (across[0] - a[s])
    };
    let [a, b, c] = *corners;
    let turns = [turn(a, b), turn(b, c), turn(c, a)];
    // An edge belongs to the facets on both sides: who comes second finds the place taken.
    if turns.iter().any(|t| *t < 0.0) && turns.iter().any(|t| *t > 0.0) {
        return None;
    }
    let mut p = [0.0; 3];
    (p[s], p[t]) = (across[0], across[1]);
    p[axis] =
        a[axis] - (normal[s] * (across[0] - a[s]) + normal[t] * (across[1] - a[t])) / normal[axis];
    Some(p)
}

/// A tooth on a face, its sides along an axis of the bed as far as that goes.
fn standing(foot: [f64; 3], normal: [f64; 3], along: usize) -> Tooth {
    let mut axis = [0.0; 3];
    axis[along] = 1.0;
    let off = dot(axis, normal);
    let u = normalised([0, 1, 2].map(|i| axis[i] - off * normal[i]));
    let u = u.unwrap_or([1.0, 0.0, 0.0]);
    Tooth {
        foot,
        axes: [normal, u, cross(normal, u)],
    }
}

/// Whether a tooth and the wall around it lie within the two bodies.
fn has_room(tooth: &Tooth, form: &TeethForm, from: &Known<'_>, into: &Known<'_>) -> bool {
    let half = 0.5 * form.size_mm + form.wall_mm;
    let steps = |most: f64| [-most, -0.5 * most, 0.0, 0.5 * most, most];
    let above = form.size_mm + form.wall_mm;
    let below = ROOT * form.size_mm + form.wall_mm;
    // On the border itself nothing is inside; off it by little, either side of it shows whether the faces touch there.
    let hair = 0.02 * form.size_mm;
    let heights = [above, -below, 0.5 * above, -0.5 * below, hair, -hair];
    heights.iter().all(|up| {
        steps(half).iter().all(|x| {
            steps(half).iter().all(|y| {
                let p = tooth.at(*up, [*x, *y]);
                into.holds(p) || from.holds(p)
            })
        })
    }) && into.holds(tooth.at(form.size_mm, [0.0; 2]))
        && from.holds(tooth.at(-ROOT * form.size_mm, [0.0; 2]))
}

/// All teeth as one body, with faces that are no surface.
fn body(teeth: &[Tooth], form: &TeethForm) -> Solid {
    let mut mesh = Mesh::default();
    for tooth in teeth {
        let first = mesh.vertices.len() as u32;
        for up in [-ROOT * form.size_mm, form.size_mm] {
            let half = form.half(up);
            let around = [[-1.0, -1.0], [1.0, -1.0], [1.0, 1.0], [-1.0, 1.0]];
            let corners = around.map(|[x, y]| tooth.at(up, [x * half, y * half]));
            mesh.vertices.extend(corners);
        }
        let quads = [
            [0, 3, 2, 1],
            [4, 5, 6, 7],
            [0, 1, 5, 4],
            [1, 2, 6, 5],
            [2, 3, 7, 6],
            [3, 0, 4, 7],
        ];
        for [a, b, c, d] in quads.map(|q| q.map(|v: u32| v + first)) {
            mesh.facets.extend([[a, b, c], [a, c, d]]);
        }
    }
    let mut solid = Solid::plain(mesh);
    solid.faces.fill(Face::CUT);
    solid
}
