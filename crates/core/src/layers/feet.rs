//! Where raised bodies stand: the flat outline in which the walls of a region meet the surface around them at an inner edge. Colour
//! that goes right through ends there, as if the body were cut: else it would go on below, where the raised face is nearer than
//! any surface around it.

use crate::carve::{Labels, NO_PIECE, Pieces, TOLERANCE_MM};
use crate::geometry::{cross, dot, facet_area, facet_normal, length, middle, normalised, sub};
use crate::model::OpenMesh;
use rayon::prelude::*;
use std::collections::HashMap;

/// The raised bodies of a part, each of one region: what hangs together of its surface, and the planes it stands on.
#[derive(Debug, Clone, Default)]
pub(super) struct Feet {
    /// By facet that is not divided, one more than the number of its raised body; 0 if it is of none.
    whole: Vec<u32>,
    /// The same of what a region has of a divided facet.
    divided: HashMap<(u32, u16), u32>,
    raised: Vec<Raised>,
}

/// A raised body.
#[derive(Debug, Clone)]
struct Raised {
    region: u16,
    planes: Vec<FootPlane>,
}

/// A plane that something stands on, in the body's frame.
#[derive(Debug, Clone, Copy)]
struct FootPlane {
    /// Unit normal towards what is raised.
    normal: [f64; 3],
    offset: f64,
}

impl FootPlane {
    /// How far below the plane a place is, mm.
    fn below(&self, p: [f64; 3]) -> f64 {
        self.offset - dot(self.normal, p)
    }
}

/// An edge of a region's border, with the region on its left.
struct Edge {
    region: u16,
    from: [f64; 3],
    to: [f64; 3],
    /// The piece that has the region, and its third corner.
    piece: u32,
    wall: [f64; 3],
    /// Whether the surface turns inward across it.
    is_inner: bool,
}

/// Turn from which an edge is an inner one, as a cosine (20°).
const INNER: f64 = 0.94;

/// Sine of the angle to the plane from which what stands on it is a wall (30°).
const WALL: f64 = 0.5;

/// The raised bodies of all regions on a part. `own` is the region of surface without a label.
///
/// # Cost
/// Linear in the pieces of the mesh.
pub(super) fn feet(open: &OpenMesh, part: u32, labels: &Labels, own: u16) -> Feet {
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
        if !counts(p) || !across.iter().any(is_border) {
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
                piece: p,
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
    let mut feet = Feet::default();
    if !edges.iter().any(|e| e.is_inner) {
        return feet;
    }
    let mut body_of: HashMap<u32, usize> = HashMap::new();
    let mut pieces_of: Vec<Vec<u32>> = Vec::new();
    for ring in rings(&edges) {
        let Some(plane) = foot_plane(&edges, &ring) else {
            continue;
        };
        let (seed, here) = (edges[ring[0]].piece, edges[ring[0]].region);
        let body = match body_of.get(&seed) {
            Some(body) => *body,
            None => {
                let body = feet.raised.len();
                feet.raised.push(Raised {
                    region: here,
                    planes: Vec::new(),
                });
                let mut open_pieces = vec![seed];
                body_of.insert(seed, body);
                let mut all = Vec::new();
                while let Some(p) = open_pieces.pop() {
                    all.push(p);
                    for q in pieces.across(p) {
                        let is_new =
                            q != NO_PIECE && region(q) == here && !body_of.contains_key(&q);
                        if is_new && counts(q) {
                            body_of.insert(q, body);
                            open_pieces.push(q);
                        }
                    }
                }
                pieces_of.push(all);
                body
            }
        };
        // What stands on the plane also has to lie above it: an arm that reaches down beside it does not end there.
        let (mut above, mut all) = (0.0, 0.0);
        for piece in &pieces_of[body] {
            let corners = pieces.corners(*piece);
            let area = facet_area(&corners);
            all += area;
            let is_above = plane.below(middle(&corners)) < TOLERANCE_MM;
            above += if is_above { area } else { 0.0 };
        }
        if above > ABOVE_SHARE * all {
            feet.raised[body].planes.push(plane);
        }
    }
    if feet.raised.iter().all(|r| r.planes.is_empty()) {
        return Feet::default();
    }
    feet.whole = vec![0; open.mesh.facets.len()];
    for (piece, body) in body_of {
        let facet = pieces.facet(piece);
        match pieces.triangle(piece) {
            Some(_) => {
                feet.divided.insert((facet, region(piece)), body as u32 + 1);
            }
            None => feet.whole[facet as usize] = body as u32 + 1,
        }
    }
    feet
}

/// Share of the surface of something raised that has to lie above the plane it stands on.
const ABOVE_SHARE: f64 = 0.98;

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
fn foot_plane(edges: &[Edge], ring: &[usize]) -> Option<FootPlane> {
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
    ring.iter()
        .all(is_flat)
        .then_some(FootPlane { normal, offset })
}

impl Feet {
    /// Deeper below a plane than this is below it, mm.
    const HAIR_MM: f64 = 1e-4;

    /// Whether there are none.
    pub(super) fn is_empty(&self) -> bool {
        self.whole.is_empty()
    }

    /// One more than the number of the raised body that what a region has of a facet belongs to; 0 for none. `region` is asked only
    /// for divided facets.
    pub(super) fn of(&self, facet: u32, is_divided: bool, region: impl FnOnce() -> u16) -> u32 {
        if self.is_empty() {
            0
        } else if is_divided {
            self.divided.get(&(facet, region())).copied().unwrap_or(0)
        } else {
            self.whole[facet as usize]
        }
    }

    /// Whether the surface of a raised body counts nowhere in a level disc, because that lies below a plane that it stands on.
    pub(super) fn is_hidden(&self, raised: u32, p: [f64; 3], radius: f64) -> bool {
        let Some(raised) = (raised as usize).checked_sub(1).map(|r| &self.raised[r]) else {
            return false;
        };
        let is_below = |plane: &FootPlane| {
            let tilt = plane.normal[0].hypot(plane.normal[1]);
            plane.below(p) > Feet::HAIR_MM + radius * tilt
        };
        raised.planes.iter().any(is_below)
    }

    /// Whether for any raised body of the regions told something within a reach at a height may be hidden.
    pub(super) fn may_hide(&self, counts: impl Fn(u16) -> bool, z: f64, reach: f64) -> bool {
        let bodies = self.raised.iter().filter(|r| counts(r.region));
        let mut planes = bodies.flat_map(|r| &r.planes);
        planes.any(|plane| {
            let is_level = plane.normal[2].abs() > 1.0 - 1e-9;
            let below = plane.below([0.0, 0.0, z]);
            !is_level || (below > 0.0 && below <= reach)
        })
    }

    /// The region of a raised body.
    pub(super) fn region(&self, raised: u32) -> Option<u16> {
        let at = (raised as usize).checked_sub(1)?;
        Some(self.raised[at].region)
    }
}
