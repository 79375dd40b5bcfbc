//! A sunken relief filled level with the face around it.

use super::cap::lid;
use super::crossing::{crossings, is_turned};
use super::depth::Surface;
use super::plane::{CutError, Plane, cut_by_plane};
use super::solid::{Face, Flaw, Solid};
use crate::geometry::{cross, dot, facet_normal, middle, normalised, sub};
use crate::mesh::FacetTree;
use std::collections::HashMap;

/// How an inlay is made.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct InlayOptions {
    /// Thickness from the face down, mm; none fills the whole depth. What lies deeper goes to the body.
    pub thickness_mm: Option<f64>,
    /// Gap left between the inlay and the walls of its pocket, mm.
    pub clearance_mm: f64,
}

/// A body with a pocket, and what fills it.
#[derive(Debug, Clone)]
pub struct Inlay {
    /// What fills the pocket.
    pub fill: Solid,
    /// The body: as it was, or with a shallower pocket.
    pub body: Solid,
    /// The direction out of the pocket.
    pub outward: [f64; 3],
    /// From the deepest place of the pocket to the face around it, mm.
    pub pocket_mm: f64,
    /// The inlay's thickness, mm.
    pub thickness_mm: f64,
}

/// Why a relief cannot be filled.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum InlayError {
    /// The body is not closed.
    #[error("the part is not closed: {0}")]
    NotClosed(Flaw),
    /// It stands out instead of lying in.
    #[error("the face is not sunken")]
    NotSunken,
    /// The face around does not run all the way around it.
    #[error("the face around the relief cannot be closed over it")]
    NoRim,
    /// The rim is not flat enough for a layer count, with how far it is off, mm.
    #[error("the rim is not flat: it is {0} mm off")]
    RimNotFlat(f64),
    /// The gap leaves nothing of the inlay, or folds it.
    #[error("the clearance leaves nothing of the inlay")]
    NoRoom,
}

/// Fills a pocket of a closed body. `chosen`: the facets of the pocket, floor and walls; there may be several pockets.
///
/// The fill's surface is the pocket's own turned over and a lid over its rim, so without clearance the two meet without
/// a gap and share no volume.
///
/// # Errors
/// [`InlayError`].
///
/// # Cost
/// n log n in the facets of the pocket, linear in those of the body.
pub fn inlay(solid: &Solid, chosen: &[bool], options: &InlayOptions) -> Result<Inlay, InlayError> {
    let topology = solid.topology();
    solid.check_over(&topology).map_err(InlayError::NotClosed)?;
    let rim = solid.border(&topology, chosen);
    let pocket: Vec<usize> = (0..solid.mesh.facets.len())
        .filter(|f| chosen[*f])
        .collect();
    let outward = loop_normal(solid, &rim).ok_or(InlayError::NoRim)?;
    let heights = rim
        .iter()
        .map(|(a, _)| dot(solid.mesh.vertices[*a as usize], outward));
    let (low, high) = heights.fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), x| {
        (l.min(x), h.max(x))
    });
    let lid = lid(&solid.mesh.vertices, &rim, outward).ok_or(InlayError::NoRim)?;
    let turned = pocket.iter().map(|f| {
        let [a, b, c] = solid.mesh.facets[*f];
        ([a, c, b], Face::CUT)
    });
    let fill = Solid::gathered(
        &solid.mesh.vertices,
        turned.chain(lid.iter().map(|f| (*f, Face::default()))),
    );
    if fill.volume_mm3() <= 1e-9 {
        return Err(InlayError::NotSunken);
    }
    let floor = pocket.iter().flat_map(|f| solid.corners(*f));
    let floor = floor.map(|p| dot(p, outward)).fold(f64::INFINITY, f64::min);
    let pocket_mm = high - floor;

    let mut result = Inlay {
        fill,
        body: filled(solid, chosen),
        outward,
        pocket_mm,
        thickness_mm: pocket_mm,
    };
    if let Some(thickness) = options.thickness_mm.filter(|t| *t < pocket_mm - 1e-6) {
        const FLAT_MM: f64 = 0.02;
        if high - low > FLAT_MM {
            return Err(InlayError::RimNotFlat(high - low));
        }
        let plane = Plane {
            normal: outward,
            offset: low - thickness,
        };
        result.thickness_mm = thickness;
        match cut_by_plane(&result.fill, &plane) {
            Ok(halves) => {
                let lids = halves.lid;
                result.body = shallower(solid, chosen, &halves.above, lid.len(), lids);
                result.fill = halves.above;
            }
            Err(CutError::Misses) => {}
            Err(CutError::Crossed) => return Err(InlayError::NoRim),
        }
    }
    if options.clearance_mm > 0.0 {
        result.fill = drawn_in(&result.fill, outward, options.clearance_mm)?;
    }
    match (result.fill.check(), result.body.check()) {
        (Ok(()), Ok(())) => Ok(result),
        _ => Err(InlayError::NoRim),
    }
}

/// The body with its pocket covered by what fills it.
fn filled(solid: &Solid, chosen: &[bool]) -> Solid {
    let mut body = solid.clone();
    for (face, _) in body.faces.iter_mut().zip(chosen).filter(|(_, c)| **c) {
        *face = face.covered();
    }
    body
}

/// Direction that closed loops face, by the area they go round.
fn loop_normal(solid: &Solid, edges: &[(u32, u32)]) -> Option<[f64; 3]> {
    let origin = solid.mesh.vertices[edges.first()?.0 as usize];
    let mut area = [0.0; 3];
    for (a, b) in edges {
        let [p, q] = [a, b].map(|v| sub(solid.mesh.vertices[*v as usize], origin));
        let c = cross(p, q);
        for i in 0..3 {
            area[i] += c[i];
        }
    }
    normalised(area)
}

/// The body with its pocket only as deep as the fill: the lower walls give way to a floor under the fill.
fn shallower(solid: &Solid, chosen: &[bool], fill: &Solid, lid: usize, floor: usize) -> Solid {
    let key = |p: &[f64; 3]| p.map(f64::to_bits);
    let mut numbers: HashMap<[u64; 3], u32> = HashMap::new();
    for (facet, ids) in solid.mesh.facets.iter().enumerate() {
        if chosen[facet] {
            for v in ids {
                numbers.insert(key(&solid.mesh.vertices[*v as usize]), *v);
            }
        }
    }
    let mut vertices = solid.mesh.vertices.clone();
    let number: Vec<u32> = fill
        .mesh
        .vertices
        .iter()
        .map(|p| {
            *numbers.entry(key(p)).or_insert_with(|| {
                vertices.push(*p);
                vertices.len() as u32 - 1
            })
        })
        .collect();
    // The fill's facets: walls, then the lid over the rim, then the floor of the cut.
    let walls = fill.mesh.facets.len() - lid - floor;
    let new = (0..fill.mesh.facets.len()).filter(|f| !(walls..walls + lid).contains(f));
    let kept = (0..solid.mesh.facets.len()).filter(|f| !chosen[*f]);
    let kept = kept.map(|f| (solid.mesh.facets[f], solid.faces[f]));
    let new = new.map(|f| {
        let [a, b, c] = fill.mesh.facets[f].map(|v| number[v as usize]);
        ([a, c, b], Face::CUT)
    });
    Solid::gathered(&vertices, kept.chain(new))
}

/// Walls from which a facet counts as floor or lid: it faces along the pocket within this cosine.
const FLOOR: f64 = 0.7;

/// A body drawn in from its side walls, `outward` being the way they run along.
fn drawn_in(body: &Solid, outward: [f64; 3], clearance_mm: f64) -> Result<Solid, InlayError> {
    let moved = walls_moved(body, outward, clearance_mm);
    let turned =
        (0..body.mesh.facets.len()).any(|f| is_turned(&body.corners(f), &moved.corners(f)));
    let all: Vec<u32> = (0..moved.mesh.facets.len() as u32).collect();
    if turned || !crossings(&moved.mesh, &all, &[], false).is_empty() || moved.check().is_err() {
        return Err(InlayError::NoRoom);
    }
    Ok(moved)
}

/// A body with its side walls, those along `outward`, moved in by a distance, or out by a negative one. Lid and floor
/// keep their planes.
pub fn walls_moved(fill: &Solid, outward: [f64; 3], by_mm: f64) -> Solid {
    let surface = Surface::of(fill, fill.topology());
    let all: Vec<u32> = (0..fill.mesh.vertices.len() as u32).collect();
    let depth = |f: u32| {
        let normal = facet_normal(&fill.corners(f as usize));
        let is_wall = normal.is_some_and(|n| dot(n, outward).abs() < FLOOR);
        if is_wall { by_mm.abs() } else { 0.0 }
    };
    let ways = surface.ways(&all, &depth);
    let sign = by_mm.signum();
    let place = |(p, w): (&[f64; 3], &[f64; 3])| [0, 1, 2].map(|i| p[i] + sign * w[i]);
    fill.with_vertices(fill.mesh.vertices.iter().zip(&ways).map(place).collect())
}

/// The narrowest place of a body across `outward`, mm: the least way from the middle of a side wall's facet straight in
/// to the wall across. Infinite if there are no side walls.
pub fn narrowest(fill: &Solid, outward: [f64; 3]) -> f64 {
    // Off the surface, so that the wall itself is not hit.
    const OFF_MM: f64 = 1e-6;
    let tree = FacetTree::build(&fill.mesh, 0..fill.mesh.facets.len() as u32);
    (0..fill.mesh.facets.len())
        .filter_map(|f| {
            let c = fill.corners(f);
            let n = facet_normal(&c).filter(|n| dot(*n, outward).abs() < FLOOR)?;
            let m = middle(&c);
            let from = [0, 1, 2].map(|i| m[i] - OFF_MM * n[i]);
            let (t, _) = *tree.hits(from, n.map(|x| -x)).first()?;
            Some(t + OFF_MM)
        })
        .fold(f64::INFINITY, f64::min)
}
