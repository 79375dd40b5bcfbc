//! Finding a facet again by where it is: edits name places, never facet numbers.

use super::OpenMesh;
use crate::geometry::Bounds;
use crate::mesh::{dot, facet_normal, length, normalised};
use rayon::prelude::*;
use rustc_hash::FxHashMap;
use serde::{Deserialize, Serialize};

/// A place on a model's surface.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Place {
    /// Name of the model in the job.
    pub model: String,
    /// A point on the surface, in mm of the model's file.
    pub point: [f64; 3],
    /// The outward direction there; tells the two sides of a thin wall or an edge apart.
    pub normal: [f64; 3],
}

/// Why a place is not on the mesh.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum PlaceError {
    /// A coordinate is not finite, or the normal has no direction.
    #[error("the point or its normal is not usable numbers")]
    NotANumber,
    /// No surface near the point.
    #[error("the point {0:?} is not on the model's surface")]
    OffTheMesh([f64; 3]),
}

/// How far from the surface a seed may lie, in mm: well under a line's width, well over what 32-bit floats lose.
const REACH_MM: f64 = 0.1;

impl Place {
    /// The facet at this place; see [`facet_at`].
    ///
    /// # Errors
    /// As for [`facet_at`].
    pub fn facet(&self, open: &OpenMesh) -> Result<u32, PlaceError> {
        facet_at(open, self.point, self.normal)
    }
}

/// The facet at a point: of those at the least distance, the one that faces most like the normal (then the lowest
/// number).
///
/// # Errors
/// [`PlaceError::OffTheMesh`] if no surface lies within 0.1 mm (or 10⁻⁴ of the model's size, if larger).
fn facet_at(open: &OpenMesh, point: [f64; 3], normal: [f64; 3]) -> Result<u32, PlaceError> {
    let finite = point.iter().chain(&normal).all(|c| c.is_finite());
    let Some(normal) = normalised(normal).filter(|_| finite) else {
        return Err(PlaceError::NotANumber);
    };
    let size = length(open.bounds().size());
    let reach = REACH_MM.max(1e-4 * size);
    let nearest = open
        .tree()
        .nearest(point, reach)
        .ok_or(PlaceError::OffTheMesh(point))?;
    let tie = tie_mm(open);
    let likeness = |f: &u32| facet_normal(&open.mesh.corners(*f)).map_or(-2.0, |n| dot(n, normal));
    let mut best = nearest.facet;
    for facet in open.tree().within(point, nearest.distance2.sqrt() + tie) {
        if likeness(&facet) > likeness(&best) + 1e-9 {
            best = facet;
        }
    }
    Ok(best)
}

/// Facets whose distances from a point differ by no more count as equally near, mm.
fn tie_mm(open: &OpenMesh) -> f64 {
    1e-6 * length(open.bounds().size()).max(1.0)
}

/// Four places on a facet that stand for all of it: its middle, and one near each corner.
pub(crate) fn spots(corners: &[[f64; 3]; 3]) -> [[f64; 3]; 4] {
    const SHARES: [[f64; 3]; 4] = [
        [1.0 / 3.0; 3],
        [0.9, 0.05, 0.05],
        [0.05, 0.9, 0.05],
        [0.05, 0.05, 0.9],
    ];
    let [a, b, c] = corners;
    SHARES.map(|[u, v, w]| [0, 1, 2].map(|i| u * a[i] + v * b[i] + w * c[i]))
}

/// A point of a part's surface and the outward direction there, by which edits can name the part.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Namer {
    /// The point, mm.
    pub point: [f64; 3],
    /// Unit normal.
    pub normal: [f64; 3],
}

/// For each part of a mesh, a place that names it: the middle of a large facet, and one that no other part's surface
/// covers if there is one.
///
/// # Cost
/// Linear, plus a few searches for parts whose boxes overlap others.
pub fn namers(open: &OpenMesh) -> Vec<Namer> {
    const TRIED: usize = 24;
    // Where so many surfaces meet that none of them has a place of its own, a few tries say so.
    const CROWD: usize = 512;
    const TRIED_IN_CROWDS: usize = 4;
    // The largest facets of each part, the largest first.
    let mut largest: Vec<Vec<(f64, u32)>> = vec![Vec::new(); open.parts.len()];
    for (facet, (part, area)) in open.part_of.iter().zip(open.facet_areas()).enumerate() {
        let list = &mut largest[*part as usize];
        if list.len() < TRIED || list.last().is_some_and(|(a, _)| area > a) {
            let at = list.partition_point(|(a, _)| a >= area);
            list.insert(at, (*area, facet as u32));
            list.truncate(TRIED);
        }
    }
    let boxes: Vec<Bounds> = open.parts.iter().map(|p| p.measures.bounds).collect();
    let is_alone = Bounds::alone(&boxes);
    let on = |facet: u32| {
        let corners = open.mesh.corners(facet);
        let normal = facet_normal(&corners).unwrap_or([0.0, 0.0, 1.0]);
        spots(&corners).map(|point| Namer { point, normal })
    };
    // What lies at one place more than once is searched for once.
    type Asked = FxHashMap<[u64; 6], Option<u32>>;
    (0..open.parts.len())
        .into_par_iter()
        .map_init(Asked::default, |asked, part| {
            let of = &largest[part];
            let first = of.first().map_or(open.parts[part].first_facet, |f| f.1);
            let mut crowded = 0;
            let mut names_it = |n: &Namer| {
                let [x, y, z] = n.point.map(f64::to_bits);
                let [u, v, w] = n.normal.map(f64::to_bits);
                let is_of = |f: u32| open.part_of[f as usize] as usize == part;
                let place = [x, y, z, u, v, w];
                if let Some(facet) = asked.get(&place) {
                    return facet.is_some_and(is_of);
                }
                if crowded == TRIED_IN_CROWDS {
                    return false;
                }
                let near = (open.tree()).within_if_few(n.point, 2.0 * tie_mm(open), CROWD);
                let Some(near) = near else {
                    crowded += 1;
                    return false;
                };
                // Where nothing else is, there is nothing to choose from.
                if !near.is_empty() && near.into_iter().all(is_of) {
                    return true;
                }
                let facet = facet_at(open, n.point, n.normal).ok();
                asked.insert(place, facet);
                facet.is_some_and(is_of)
            };
            let mut all = of.iter().flat_map(|(_, f)| on(*f));
            let found = all.find(|n| is_alone[part] || names_it(n));
            found.unwrap_or_else(|| on(first)[0])
        })
        .collect()
}
