//! A surface made a body by flat lids over its outlines: what is raised, cut off where it stands.

use super::cap::lid;
use super::sheet::Sheet;
use super::solid::{Face, Solid};
use crate::geometry::{area_vector, cross, dot, length, middle, normalised, rings, sub};
use crate::mesh::FacetTree;

/// How far an outline may leave its plane, mm.
const FLAT_MM: f64 = 0.05;

/// The outlines in one plane: its normal and offset, and their edges.
type OnePlane = ([f64; 3], f64, Vec<(u32, u32)>);

/// Lid facets whose middles are asked whether they lie inside, at most.
const ASKED: usize = 400;

/// Divides a closed body by flat lids over the outlines of the chosen facets: what has them, and the rest. None if an outline is not
/// flat, or a lid does not lie inside the body.
///
/// # Cost
/// n log n in the facets, for the search tree.
pub fn capped(solid: &Solid, chosen: &[bool]) -> Option<Sheet> {
    let topology = solid.topology();
    let border = solid.border(&topology, chosen);
    let vertices = &solid.mesh.vertices;
    // A lid runs every edge the other way than the facets it closes.
    let edges: Vec<(u32, u32)> = border.iter().map(|(a, b)| (*b, *a)).collect();
    let ends = |(a, b): &(u32, u32)| [vertices[*a as usize], vertices[*b as usize]];
    let outlines = rings(&edges);
    if outlines.iter().map(Vec::len).sum::<usize>() < edges.len() {
        return None;
    }
    let mut planes: Vec<OnePlane> = Vec::new();
    for outline in outlines {
        let ring: Vec<(u32, u32)> = outline.into_iter().map(|e| edges[e]).collect();
        let normal = normalised(area_vector(ring.iter().map(ends)))?;
        let heights = ring.iter().map(|(a, _)| dot(normal, vertices[*a as usize]));
        let offset = heights.clone().sum::<f64>() / ring.len() as f64;
        if heights.into_iter().any(|h| (h - offset).abs() > FLAT_MM) {
            return None;
        }
        // Holes run the other way round in the same plane.
        let same = planes.iter_mut().find(|(n, o, _)| {
            let along = dot(*n, normal);
            along.abs() > 1.0 - 1e-6 && (along.signum() * offset - *o).abs() < FLAT_MM
        });
        match same {
            Some((_, _, edges)) => edges.extend(ring),
            None => planes.push((normal, offset, ring)),
        }
    }
    let mut lids = Vec::new();
    for (_, _, edges) in &planes {
        // All outlines of a plane together say which way it faces.
        let normal = normalised(area_vector(edges.iter().map(ends)))?;
        lids.extend(lid(vertices, edges, normal)?);
    }
    let tree = FacetTree::build(&solid.mesh, 0..solid.mesh.facets.len() as u32);
    let step = lids.len().div_ceil(ASKED).max(1);
    let is_inside = |f: &[u32; 3]| {
        let corners = f.map(|v| vertices[v as usize]);
        let p = middle(&corners);
        // A lid that lies on the surface cuts nothing off.
        let nearest = tree.nearest(p, f64::INFINITY);
        let is_off = nearest.is_some_and(|n| n.distance2 > 1e-6);
        let is_sliver = length(cross(
            sub(corners[1], corners[0]),
            sub(corners[2], corners[0]),
        )) < 1e-4;
        is_sliver || (is_off && tree.is_inside(p, |_| true))
    };
    if lids.is_empty() || !lids.iter().step_by(step).all(is_inside) {
        return None;
    }
    let facets = solid.mesh.facets.iter().zip(&solid.faces).zip(chosen);
    let of = |wanted: bool| {
        let own = facets.clone().filter(move |(_, c)| **c == wanted);
        own.map(|((f, face), _)| (*f, *face))
    };
    let turned = lids.iter().map(|[a, b, c]| ([*a, *c, *b], Face::CUT));
    let part = Solid::gathered(
        vertices,
        of(true).chain(lids.iter().map(|f| (*f, Face::CUT))),
    );
    let rest = Solid::gathered(vertices, of(false).chain(turned));
    let is_body = |s: &Solid| s.check().is_ok() && s.volume_mm3() > 0.0;
    (is_body(&part) && is_body(&rest)).then_some(Sheet { part, rest })
}
