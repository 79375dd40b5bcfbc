//! Lines laid over facets: labels changed along borders that are given as straight pieces, facet by facet, all at once.
//!
//! Where [`super::cut`] looks for the zero line of one field, this takes any number of borders that are known: those of a picture
//! with its colours, or of a value that is known at the corners.

use super::LEAST_ALTITUDE_MM;
use super::cut::painted;
use super::divided::{Divided, Spot};
use super::filling::Filling;
use super::labels::{Held, Label, Labels};
use crate::geometry::{length, middle, sub};
use crate::mesh::NO_FACET;
use crate::model::OpenMesh;
use rayon::prelude::*;
use rustc_hash::{FxHashMap, FxHashSet};
use std::sync::Arc;

/// An end of a piece of border.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Node {
    /// On an edge of the facet: a share of the way from one vertex of the mesh to another of a higher number. Both facets at the
    /// edge must say the same bits.
    Edge {
        /// Vertex it is measured from, the lower number.
        low: u32,
        /// Vertex it is measured towards.
        high: u32,
        /// Share of the way, 0 to 1.
        t: f64,
    },
    /// On the facet, in space.
    Inside([f64; 3]),
}

/// The pieces of border on a facet.
pub type Lines<'a> = &'a (dyn Fn(u32) -> Vec<[Node; 2]> + Sync);

/// What becomes of a label: given the facet, the middle of the piece of surface, and the label before.
pub type Coat<'a> = &'a (dyn Fn(u32, [f64; 3], Label) -> Label + Sync);

/// What is laid over.
pub struct Overlaying<'a> {
    /// The mesh.
    pub open: &'a OpenMesh,
    /// Its labels before.
    pub labels: &'a Labels,
    /// Asked now and then, never by two threads at once; false stops it.
    pub go_on: &'a dyn Fn() -> bool,
}

/// Mesh and labels, for all threads.
#[derive(Clone, Copy)]
struct Ground<'a> {
    open: &'a OpenMesh,
    labels: &'a Labels,
}

/// The points on one edge of the mesh besides its ends, from its lower vertex on.
pub(super) type OnEdge = Vec<(f64, EdgeSpot)>;

/// A point on an edge, as every facet there names it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct EdgeSpot {
    pub(super) from: u32,
    pub(super) to: u32,
    pub(super) t: f64,
}

/// Divides facets along lines and passes every label on facets that take part through `paint`. Returns what the changed facets have
/// now, ascending; facets beside them that took over points on a shared edge are among them; none if it was stopped.
///
/// `facets`: those that take part, ascending.
///
/// # Guarantees
/// Mesh and divisions stay conforming. New points lie on the facets. Borders run where the lines say, but for ends less than
/// [`LEAST_ALTITUDE_MM`] from one another, which are drawn together.
///
/// # Cost
/// Linear in facets, n log n in the lines of each.
pub fn overlay(
    laid: &Overlaying<'_>,
    facets: &[u32],
    lines: Lines<'_>,
    paint: Coat<'_>,
) -> Option<Vec<(u32, Held)>> {
    const CHUNK: usize = 1 << 14;
    let ground = Ground {
        open: laid.open,
        labels: laid.labels,
    };
    let mut lined: Vec<(u32, Vec<[Node; 2]>)> = Vec::new();
    for chunk in facets.chunks(CHUNK) {
        if !(laid.go_on)() {
            return None;
        }
        let found: Vec<_> = chunk.par_iter().map(|f| (*f, lines(*f))).collect();
        lined.extend(found.into_iter().filter(|(_, l)| !l.is_empty()));
    }
    let edges = edges(ground, &lined);
    let has_lines: FxHashSet<u32> = lined.iter().map(|(f, _)| *f).collect();
    let takes_part = |f: u32| facets.binary_search(&f).is_ok();
    // Facets beside them that take over points.
    let mut beside: Vec<u32> = Vec::new();
    for (facet, _) in &lined {
        for (side, across) in ground.open.topology.across[*facet as usize]
            .into_iter()
            .enumerate()
        {
            let edge = edge_of(ground.open, *facet, side);
            if across != NO_FACET && !has_lines.contains(&across) && edges.contains_key(&edge) {
                beside.push(across);
            }
        }
    }
    beside.sort_unstable();
    beside.dedup();
    let mut changed: Vec<(u32, Held)> = Vec::new();
    let is_undivided = |f: &&u32| !has_lines.contains(*f) && beside.binary_search(*f).is_err();
    for chunk in facets.chunks(CHUNK) {
        if !(laid.go_on)() {
            return None;
        }
        let held = |f: &u32| painted(ground.open, ground.labels, *f, paint).map(|held| (*f, held));
        let coated: Vec<_> = (chunk.par_iter().filter(is_undivided))
            .filter_map(held)
            .collect();
        changed.extend(coated);
    }
    lined.extend(beside.into_iter().map(|f| (f, Vec::new())));
    for chunk in lined.chunks(CHUNK) {
        if !(laid.go_on)() {
            return None;
        }
        let fill = |(facet, lines): &(u32, Vec<[Node; 2]>)| {
            let around = [0, 1, 2].map(|side| on_edge(ground, &edges, *facet, side));
            Filling::new(ground.open, ground.labels, *facet, around).filled(lines)
        };
        let coated = |lined: &(u32, Vec<[Node; 2]>)| {
            let (facet, divided) = (lined.0, fill(lined));
            let corners = ground.open.mesh.corners(facet);
            let middle_of = |t: usize| middle(&divided.corners(t, &corners));
            match takes_part(facet) {
                true => divided.relabelled(|t, label| paint(facet, middle_of(t), label)),
                false => divided,
            }
        };
        let filled: Vec<Divided> = chunk.par_iter().map(coated).collect();
        for ((facet, _), divided) in chunk.iter().zip(filled) {
            let held = match divided.only_label() {
                Some(label) if divided.is_whole() => Held::Whole(label),
                _ => Held::Divided(Arc::new(divided)),
            };
            if held != ground.labels.held(*facet) {
                changed.push((*facet, held));
            }
        }
    }
    changed.sort_by_key(|(facet, _)| *facet);
    Some(changed)
}

/// The two vertices of a facet's side, the lower number first.
fn edge_of(open: &OpenMesh, facet: u32, side: usize) -> (u32, u32) {
    let ids = open.mesh.facets[facet as usize];
    let (a, b) = (ids[side], ids[(side + 1) % 3]);
    (a.min(b), a.max(b))
}

/// The points that are there on a facet's side already, as shares from its lower vertex.
fn standing(ground: Ground<'_>, facet: u32, side: usize) -> OnEdge {
    let Some(divided) = ground.labels.division(facet) else {
        return Vec::new();
    };
    let ids = ground.open.mesh.facets[facet as usize];
    let (low, high) = edge_of(ground.open, facet, side);
    let spot = |s: &Spot| match *s {
        Spot::Edge { from, to, t } => {
            let (from, to) = (ids[usize::from(from)], ids[usize::from(to)]);
            let is_here = (from, to) == (low, high) || (to, from) == (low, high);
            let along = if from == low { t } else { 1.0 - t };
            is_here.then_some((along, EdgeSpot { from, to, t }))
        }
        _ => None,
    };
    let mut found: OnEdge = divided.spots.iter().filter_map(spot).collect();
    found.sort_by(|a, b| a.0.total_cmp(&b.0));
    found
}

/// All points on a facet's side: what the new lines brought, or what was there.
fn on_edge(
    ground: Ground<'_>,
    edges: &FxHashMap<(u32, u32), OnEdge>,
    facet: u32,
    side: usize,
) -> OnEdge {
    match edges.get(&edge_of(ground.open, facet, side)) {
        Some(all) => all.clone(),
        None => standing(ground, facet, side),
    }
}

/// The points on every edge that got new ones, with those that were there. What lies nearer to an end or to a point before it than
/// the least altitude is left out.
fn edges(ground: Ground<'_>, lined: &[(u32, Vec<[Node; 2]>)]) -> FxHashMap<(u32, u32), OnEdge> {
    let mut new: FxHashMap<(u32, u32), Vec<f64>> = FxHashMap::default();
    let mut seen_by: FxHashMap<(u32, u32), (u32, usize)> = FxHashMap::default();
    for (facet, lines) in lined {
        for node in lines.iter().flatten() {
            if let Node::Edge { low, high, t } = *node {
                new.entry((low, high)).or_default().push(t);
            }
        }
        for side in 0..3 {
            let edge = edge_of(ground.open, *facet, side);
            // A facet that is divided tells what is on the edge; the one across tells the same.
            seen_by.entry(edge).or_insert((*facet, side));
        }
    }
    let vertices = &ground.open.mesh.vertices;
    let mut out = FxHashMap::default();
    for (edge, mut places) in new {
        places.sort_by(f64::total_cmp);
        let (low, high) = edge;
        let ends = [low, high].map(|v| vertices[v as usize]);
        let least = LEAST_ALTITUDE_MM / length(sub(ends[1], ends[0])).max(1e-300);
        let mut all = seen_by
            .get(&edge)
            .map(|(f, side)| standing(ground, *f, *side))
            .unwrap_or_default();
        let had = all.len();
        for t in places {
            let at = all.partition_point(|(other, _)| *other < t);
            let near = &all[at.saturating_sub(1)..(at + 1).min(all.len())];
            let is_free = t > least
                && t < 1.0 - least
                && near.iter().all(|(other, _)| (other - t).abs() > least);
            if is_free {
                let spot = EdgeSpot {
                    from: low,
                    to: high,
                    t,
                };
                all.insert(at, (t, spot));
            }
        }
        if all.len() > had {
            out.insert(edge, all);
        }
    }
    out
}
