//! Where raised bodies stand: the flat outline in which the walls of a region meet the surface around them at an inner edge. Colour
//! that goes right through ends there, as if the body were cut: else it would go on below, where the raised face is nearer than
//! any surface around it.

use crate::carve::{Labels, NO_PIECE, Pieces, TOLERANCE_MM};
use crate::geometry::{cross, dot, facet_normal, length, normalised, sub};
use crate::model::OpenMesh;
use rayon::prelude::*;
use std::collections::HashMap;

/// The outlines in one plane on which raised bodies of one region stand, in the body's frame.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Foot {
    pub(super) region: u16,
    /// Unit normal towards what is raised.
    normal: [f64; 3],
    offset: f64,
    /// Two directions in the plane.
    axes: [[f64; 3]; 2],
    /// Edges of all outlines in the plane, by strips across the second direction.
    strips: Vec<Vec<[[f64; 2]; 2]>>,
    low: [f64; 2],
    high: [f64; 2],
}

/// An edge of a region's border, with the region on its left.
struct Edge {
    region: u16,
    from: [f64; 3],
    to: [f64; 3],
    /// The third corner of the piece that has the region.
    wall: [f64; 3],
    /// Whether the surface turns inward across it.
    is_inner: bool,
}

/// Turn from which an edge is an inner one, as a cosine (20°).
const INNER: f64 = 0.94;

/// Sine of the angle to the plane from which what stands on it is a wall (30°).
const WALL: f64 = 0.5;

/// The feet of all regions on a part. `own` is the region of surface without a label.
///
/// # Cost
/// Linear in the pieces of the mesh.
pub(super) fn feet(open: &OpenMesh, part: u32, labels: &Labels, own: u16) -> Vec<Foot> {
    let pieces = Pieces::of(open, labels);
    let region = |p: u32| pieces.label(p).unwrap_or(own);
    let counts = |p: u32| {
        pieces.is_piece(p) && {
            let facet = pieces.facet(p);
            open.part_of[facet as usize] == part && !open.is_inner(facet)
        }
    };
    let border = |p: u32| -> Vec<Edge> {
        let across = pieces.across(p);
        let here = region(p);
        let is_border = |q: &u32| *q != NO_PIECE && region(*q) != here;
        if !counts(p) || !across.iter().any(|q| is_border(q)) {
            return Vec::new();
        }
        let corners = pieces.corners(p);
        let sides = (0..3).filter(|side| is_border(&across[*side]));
        let edge = |side: usize| {
            let (from, to) = (corners[side], corners[(side + 1) % 3]);
            let wall = corners[(side + 2) % 3];
            let normals = [
                facet_normal(&corners),
                facet_normal(&pieces.corners(across[side])),
            ];
            let is_inner = match normals {
                // Turned inward: the neighbour's plane looks towards the wall.
                [Some(a), Some(b)] => dot(a, b) < INNER && dot(b, sub(wall, from)) > 0.0,
                _ => false,
            };
            Edge {
                region: here,
                from,
                to,
                wall,
                is_inner,
            }
        };
        sides.map(edge).collect()
    };
    let edges: Vec<Edge> = (0..pieces.end())
        .into_par_iter()
        .flat_map_iter(border)
        .collect();
    if !edges.iter().any(|e| e.is_inner) {
        return Vec::new();
    }
    let mut planes: Vec<(u16, [f64; 3], f64, Vec<Vec<[f64; 3]>>)> = Vec::new();
    for ring in rings(&edges) {
        let Some((normal, offset)) = foot_plane(&edges, &ring) else {
            continue;
        };
        let region = edges[ring[0]].region;
        let points: Vec<[f64; 3]> = ring.iter().map(|e| edges[*e].from).collect();
        let same = planes.iter_mut().find(|(r, n, o, _)| {
            *r == region && dot(*n, normal) > 1.0 - 1e-6 && (o - offset).abs() < TOLERANCE_MM
        });
        match same {
            Some((.., rings)) => rings.push(points),
            None => planes.push((region, normal, offset, vec![points])),
        }
    }
    let foot = |(region, normal, offset, rings)| Foot::new(region, normal, offset, rings);
    planes.into_iter().map(foot).collect()
}

/// Edges of one region chained into closed outlines, by number.
fn rings(edges: &[Edge]) -> Vec<Vec<usize>> {
    let key = |region: u16, p: [f64; 3]| (region, p.map(f64::to_bits));
    let mut from: HashMap<_, Vec<usize>> = HashMap::new();
    for (number, edge) in edges.iter().enumerate() {
        from.entry(key(edge.region, edge.from))
            .or_default()
            .push(number);
    }
    let mut is_used = vec![false; edges.len()];
    let mut found = Vec::new();
    for start in 0..edges.len() {
        let mut ring = Vec::new();
        let mut at = start;
        while !is_used[at] {
            is_used[at] = true;
            ring.push(at);
            let next = from.get(&key(edges[at].region, edges[at].to));
            match next.and_then(|n| n.iter().find(|e| !is_used[**e])) {
                Some(next) => at = *next,
                None => break,
            }
        }
        if ring.len() > 2 && edges[ring[0]].from == edges[ring[ring.len() - 1]].to {
            found.push(ring);
        }
    }
    found
}

/// The plane of an outline on which something raised stands; none if it is no such outline.
fn foot_plane(edges: &[Edge], ring: &[usize]) -> Option<([f64; 3], f64)> {
    let first = edges[ring[0]].from;
    let mut area = [0.0; 3];
    let (mut whole, mut inner) = (0.0, 0.0);
    for edge in ring.iter().map(|e| &edges[*e]) {
        let turn = cross(sub(edge.from, first), sub(edge.to, first));
        (0..3).for_each(|i| area[i] += turn[i]);
        let long = length(sub(edge.to, edge.from));
        whole += long;
        inner += if edge.is_inner { long } else { 0.0 };
    }
    if inner < 0.5 * whole {
        return None;
    }
    let mut normal = normalised(area)?;
    // Towards the walls, which have to stand on the plane.
    let mut rise = 0.0;
    for edge in ring.iter().map(|e| &edges[*e]) {
        let corners = [edge.from, edge.to, edge.wall];
        let steep = facet_normal(&corners).map_or(0.0, |n| length(cross(n, normal)));
        if steep > WALL {
            rise +=
                length(sub(edge.to, edge.from)) * dot(normal, sub(edge.wall, edge.from)).signum();
        }
    }
    if rise.abs() < 0.5 * whole {
        return None;
    }
    if rise < 0.0 {
        normal = normal.map(|c| -c);
    }
    let offset = ring
        .iter()
        .map(|e| dot(normal, edges[*e].from))
        .sum::<f64>()
        / ring.len() as f64;
    let is_flat = |e: &usize| (dot(normal, edges[*e].from) - offset).abs() < TOLERANCE_MM;
    ring.iter().all(is_flat).then_some((normal, offset))
}

impl Foot {
    fn new(region: u16, normal: [f64; 3], offset: f64, rings: Vec<Vec<[f64; 3]>>) -> Foot {
        let least = (0..3).min_by(|a, b| normal[*a].abs().total_cmp(&normal[*b].abs()));
        let mut aside = [0.0; 3];
        aside[least.unwrap_or(0)] = 1.0;
        let u = normalised(cross(normal, aside)).unwrap_or([1.0, 0.0, 0.0]);
        let axes = [u, cross(normal, u)];
        let mut edges = Vec::new();
        let (mut low, mut high) = ([f64::INFINITY; 2], [f64::NEG_INFINITY; 2]);
        for ring in &rings {
            for (i, p) in ring.iter().enumerate() {
                let q = ring[(i + 1) % ring.len()];
                let edge = [*p, q].map(|p| axes.map(|a| dot(a, p)));
                for i in 0..2 {
                    low[i] = low[i].min(edge[0][i]);
                    high[i] = high[i].max(edge[0][i]);
                }
                edges.push(edge);
            }
        }
        let count = (edges.len() / 4).clamp(1, 4096);
        let mut foot = Foot {
            region,
            normal,
            offset,
            axes,
            strips: vec![Vec::new(); count],
            low,
            high,
        };
        for edge in edges {
            let ends = [edge[0][1], edge[1][1]];
            let (first, last) = (ends[0].min(ends[1]), ends[0].max(ends[1]));
            for strip in foot.strip(first - Foot::HAIR_MM)..=foot.strip(last + Foot::HAIR_MM) {
                foot.strips[strip].push(edge);
            }
        }
        foot
    }

    const HAIR_MM: f64 = 1e-4;

    fn strip(&self, v: f64) -> usize {
        let share = (v - self.low[1]) / (self.high[1] - self.low[1]).max(1e-12);
        ((share * self.strips.len() as f64).max(0.0) as usize).min(self.strips.len() - 1)
    }

    /// How far below the plane a place is, mm.
    pub(super) fn below(&self, p: [f64; 3]) -> f64 {
        self.offset - dot(self.normal, p)
    }

    /// Whether anything at a height, in the body's frame, may be below the plane by no more than a reach.
    pub(super) fn may_matter(&self, z: f64, reach: f64) -> bool {
        let is_level = self.normal[2].abs() > 1.0 - 1e-9;
        let below = self.below([0.0, 0.0, z]);
        !is_level || (below > 0.0 && below <= reach)
    }

    /// Whether the way from a place to a point of the region's surface comes up through the foot, its outline included.
    pub(super) fn is_between(&self, p: [f64; 3], q: [f64; 3]) -> bool {
        let (p_below, q_below) = (self.below(p), self.below(q));
        if p_below < Foot::HAIR_MM || q_below > TOLERANCE_MM {
            return false;
        }
        // The point may lie a little below the plane, as outlines are flat but for a tolerance.
        let t = (p_below / (p_below - q_below).max(1e-12)).clamp(0.0, 1.0);
        let x = self.axes.map(|a| dot(a, p) + t * (dot(a, q) - dot(a, p)));
        let is_out =
            |i: usize| x[i] < self.low[i] - Foot::HAIR_MM || x[i] > self.high[i] + Foot::HAIR_MM;
        if is_out(0) || is_out(1) {
            return false;
        }
        let mut is_inside = false;
        for [a, b] in &self.strips[self.strip(x[1])] {
            if near_edge(x, *a, *b) {
                return true;
            }
            if (a[1] > x[1]) != (b[1] > x[1]) {
                let at = a[0] + (x[1] - a[1]) / (b[1] - a[1]) * (b[0] - a[0]);
                is_inside ^= at > x[0];
            }
        }
        is_inside
    }
}

/// Whether a point lies on an edge, but for a hair.
fn near_edge(x: [f64; 2], a: [f64; 2], b: [f64; 2]) -> bool {
    let along = [b[0] - a[0], b[1] - a[1]];
    let long2 = along[0] * along[0] + along[1] * along[1];
    let way = [x[0] - a[0], x[1] - a[1]];
    let t = ((way[0] * along[0] + way[1] * along[1]) / long2.max(1e-24)).clamp(0.0, 1.0);
    let off = [way[0] - t * along[0], way[1] - t * along[1]];
    off[0].hypot(off[1]) < Foot::HAIR_MM
}
