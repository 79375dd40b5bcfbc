//! A region's surface as a body of its own depth, and the rest.

use super::crossing::{first_crossing, is_turned};
use super::depth::Surface;
use super::solid::{Flaw, Solid};
use crate::mesh::Mesh;
use std::collections::HashMap;

/// A body in two: the surface that was chosen with what lies below it, and the rest. They share the facets between.
#[derive(Debug, Clone)]
pub struct Sheet {
    /// What was chosen, to its depth.
    pub part: Solid,
    /// What is left.
    pub rest: Solid,
}

/// Why a surface cannot become a body.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum SheetError {
    /// The body it lies on is not closed.
    #[error("the part is not closed: {0}")]
    NotClosed(Flaw),
    /// No facet is chosen, or all of a body are and nothing would be left at this depth.
    #[error("there is nothing to divide")]
    Nothing,
    /// The chosen surface touches itself at a single point.
    #[error("the surface touches itself at a single point, {0:?}")]
    TouchesAtPoint([f64; 3]),
    /// At this depth the body would fold over itself; with the place, and the deepest that works, if any does.
    #[error("it would fold over itself at {at:?}")]
    Folds {
        /// Where.
        at: [f64; 3],
        /// The greatest depth that works, mm, rounded down to hundredths.
        deepest_mm: Option<f64>,
    },
    /// The body crosses itself before anything is done.
    #[error("the part crosses itself at {0:?}")]
    CrossesItself([f64; 3]),
}

/// Divides a closed body: the chosen facets with everything down to `depth_mm` below them, and the rest. Both are
/// closed, share no volume and together are the body. Where the border of the choice lies on an edge, the wall between
/// them runs midway between the faces, as the ownership rule has it; within a face it runs straight in.
///
/// # Errors
/// [`SheetError`]; a depth that folds comes with the deepest that does not, found by halving.
///
/// # Cost
/// n log n in the facets of the body; up to nine times that to find the deepest.
pub fn sheet(solid: &Solid, chosen: &[bool], depth_mm: f64) -> Result<Sheet, SheetError> {
    solid.check().map_err(SheetError::NotClosed)?;
    if !chosen.contains(&true) {
        return Err(SheetError::Nothing);
    }
    if let Some(at) = touching_point(solid, chosen) {
        return Err(SheetError::TouchesAtPoint(at));
    }
    let maker = Maker::new(solid, chosen);
    let at = match maker.attempt(depth_mm) {
        Ok(sheet) => return Ok(sheet),
        Err(at) => at,
    };
    if let Some((facet, _)) = first_crossing(&solid.mesh(), &maker.all()) {
        return Err(SheetError::CrossesItself(solid.corners(facet as usize)[0]));
    }
    let (mut works, mut fails) = (0.0, depth_mm);
    for _ in 0..8 {
        let middle = 0.5 * (works + fails);
        match maker.attempt(middle) {
            Ok(_) => works = middle,
            Err(_) => fails = middle,
        }
    }
    let rounded = (works * 100.0).floor() / 100.0;
    let holds = rounded > 0.0 && maker.attempt(rounded).is_ok();
    Err(SheetError::Folds {
        at,
        deepest_mm: holds.then_some(rounded),
    })
}

/// A vertex where the border of the choice passes more than once.
fn touching_point(solid: &Solid, chosen: &[bool]) -> Option<[f64; 3]> {
    let sides = solid.sides();
    let mut leaving: HashMap<u32, u32> = HashMap::new();
    for (_, ids) in solid.facets.iter().enumerate().filter(|(f, _)| chosen[*f]) {
        for side in 0..3 {
            let (a, b) = (ids[side], ids[(side + 1) % 3]);
            if sides
                .get(&(b, a))
                .is_some_and(|(f, _)| !chosen[*f as usize])
            {
                *leaving.entry(a).or_default() += 1;
            }
        }
    }
    let twice = leaving
        .into_iter()
        .filter(|(_, n)| *n > 1)
        .map(|(v, _)| v)
        .min();
    twice.map(|v| solid.vertices[v as usize])
}

struct Maker<'a> {
    solid: &'a Solid,
    chosen: &'a [bool],
    surface: Surface<'a>,
    /// Vertices of chosen facets, ascending, and the place of each in that list.
    moving: Vec<u32>,
    place: Vec<u32>,
    /// Edges of chosen facets towards others, as the chosen facet runs them.
    border: Vec<(u32, u32)>,
}

impl<'a> Maker<'a> {
    fn new(solid: &'a Solid, chosen: &'a [bool]) -> Maker<'a> {
        let sides = solid.sides();
        let mut place = vec![u32::MAX; solid.vertices.len()];
        let mut border = Vec::new();
        for (facet, ids) in solid.facets.iter().enumerate() {
            if !chosen[facet] {
                continue;
            }
            for side in 0..3 {
                let (a, b) = (ids[side], ids[(side + 1) % 3]);
                place[a as usize] = 0;
                if sides
                    .get(&(b, a))
                    .is_some_and(|(f, _)| !chosen[*f as usize])
                {
                    border.push((a, b));
                }
            }
        }
        let mut moving = Vec::new();
        for (v, p) in place.iter_mut().enumerate().filter(|(_, p)| **p == 0) {
            *p = moving.len() as u32;
            moving.push(v as u32);
        }
        Maker {
            solid,
            chosen,
            surface: Surface::of(solid),
            moving,
            place,
            border,
        }
    }

    fn all(&self) -> Vec<u32> {
        (0..self.solid.facets.len() as u32).collect()
    }

    /// The sheet at one depth, or a place where it folds.
    fn attempt(&self, depth_mm: f64) -> Result<Sheet, [f64; 3]> {
        let solid = self.solid;
        // Looked over a hair deeper, so that a floor never comes to lie on the far side.
        const SPARE_MM: f64 = 0.01;
        let ways = self.surface.ways(&self.moving, &|_| depth_mm + SPARE_MM);
        let mut vertices = solid.vertices.clone();
        let first = vertices.len() as u32;
        for (v, way) in self.moving.iter().zip(&ways) {
            let p = solid.vertices[*v as usize];
            vertices.push([0, 1, 2].map(|i| p[i] + way[i]));
        }
        let inner = |v: u32| first + self.place[v as usize];
        // The floor between the two, facing out of the rest, and the walls along the border, facing out of the part.
        let mut floor: Vec<[u32; 3]> = Vec::new();
        for (facet, ids) in solid.facets.iter().enumerate() {
            if !self.chosen[facet] {
                continue;
            }
            let below = ids.map(inner);
            let corners = below.map(|v| vertices[v as usize]);
            let outer = solid.corners(facet);
            if is_turned(&outer, &corners) {
                return Err(outer[0]);
            }
            floor.push(below);
        }
        let mut walls: Vec<[u32; 3]> = Vec::new();
        for (a, b) in &self.border {
            walls.push([*b, *a, inner(*a)]);
            walls.push([*b, inner(*a), inner(*b)]);
        }
        // Everything at once: the body with the new facets may not pass through itself.
        let mut facets = solid.facets.clone();
        facets.extend(floor.iter().chain(&walls));
        let asked: Vec<u32> = (solid.facets.len() as u32..facets.len() as u32).collect();
        let mut mesh = Mesh { vertices, facets };
        if let Some((facet, _)) = first_crossing(&mesh, &asked) {
            return Err(mesh.corners(facet)[0]);
        }
        let share = depth_mm / (depth_mm + SPARE_MM);
        for (v, way) in self.moving.iter().zip(&ways) {
            let p = solid.vertices[*v as usize];
            mesh.vertices[inner(*v) as usize] = [0, 1, 2].map(|i| p[i] + share * way[i]);
        }
        let turned = |[a, b, c]: &[u32; 3]| ([*a, *c, *b], None);
        let own = |wanted: bool| {
            (0..solid.facets.len())
                .filter(move |f| self.chosen[*f] == wanted)
                .map(|f| (solid.facets[f], solid.labels[f]))
        };
        let part = own(true)
            .chain(floor.iter().map(turned))
            .chain(walls.iter().map(|w| (*w, None)));
        let rest = own(false)
            .chain(floor.iter().map(|f| (*f, None)))
            .chain(walls.iter().map(turned));
        let sheet = Sheet {
            part: Solid::gathered(&mesh.vertices, part),
            rest: Solid::gathered(&mesh.vertices, rest),
        };
        let is_sound = |s: &Solid| s.check().is_ok() && s.volume_mm3() > 0.0;
        if is_sound(&sheet.part) && is_sound(&sheet.rest) {
            Ok(sheet)
        } else {
            Err(mesh.corners(asked[0])[0])
        }
    }
}
