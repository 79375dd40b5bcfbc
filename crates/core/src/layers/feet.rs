//! Where raised bodies stand: the flat outline in which the walls of a region meet the surface around them at an inner edge. Colour
//! that goes right through ends there, as if the body were cut: else it would go on below, where the raised face is nearer than
//! any surface around it, and what lies below would come up where the raised body is wide.

use super::painted::Painted;
use crate::carve::{NO_PIECE, Pieces, TOLERANCE_MM};
use crate::geometry::{
    Bounds, across_normal, area_vector, cross, dot, facet_area, facet_normal, length, middle,
    normalised, rings, sub,
};
use crate::mesh::FacetTree;
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

/// A plane that something stands on, in the body's frame, with the outlines on which it does.
#[derive(Debug, Clone)]
struct FootPlane {
    /// Unit normal towards what is raised.
    normal: [f64; 3],
    offset: f64,
    /// Edges of the outlines, and a ball around them.
    edges: Vec<[[f64; 3]; 2]>,
    ball: ([f64; 3], f64),
}

impl FootPlane {
    /// How far below the plane a place is, mm.
    fn below(&self, p: [f64; 3]) -> f64 {
        self.offset - dot(self.normal, p)
    }

    /// By how much that differs at most within a level disc.
    fn tilt(&self, radius: f64) -> f64 {
        radius * self.normal[0].hypot(self.normal[1])
    }

    /// Whether it is the same plane, seen from the same side.
    fn is_plane_of(&self, other: &FootPlane) -> bool {
        dot(self.normal, other.normal) > 1.0 - 1e-6
            && (self.offset - other.offset).abs() < TOLERANCE_MM
    }

    /// The same plane with more outlines.
    fn with(mut self, edges: Vec<[[f64; 3]; 2]>) -> FootPlane {
        self.edges.extend(edges);
        let bounds = Bounds::of(self.edges.iter().map(|e| e[0]));
        self.ball = (bounds.centre(), 0.5 * length(bounds.size()));
        self
    }

    /// Whether a point of the plane lies inside the outlines.
    fn covers(&self, x: [f64; 3]) -> bool {
        if length(sub(x, self.ball.0)) > self.ball.1 {
            return false;
        }
        let Some([u, v]) = across_normal(self.normal) else {
            return false;
        };
        let flat = |p: [f64; 3]| {
            let d = sub(p, x);
            [dot(d, u), dot(d, v)]
        };
        let mut is_inside = false;
        for edge in &self.edges {
            let [a, b] = edge.map(flat);
            if (a[1] > 0.0) != (b[1] > 0.0) {
                is_inside ^= a[0] - a[1] / (b[1] - a[1]) * (b[0] - a[0]) > 0.0;
            }
        }
        is_inside
    }
}

/// A raised body that a place lies in, with the plane that it stands on.
pub(super) struct Home<'a> {
    raised: u32,
    plane: &'a FootPlane,
}

impl Home<'_> {
    /// Whether a point of the surface counts no more in there: it is of something else, and not above the plane.
    pub(super) fn hides(&self, raised: u32, q: [f64; 3]) -> bool {
        raised != self.raised && self.plane.below(q) > -TOLERANCE_MM
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

/// The raised bodies of all regions on a body.
///
/// # Cost
/// Linear in the pieces of the mesh.
pub(super) fn feet(of: &Painted<'_>) -> Feet {
    let open = &of.body.open;
    let pieces = Pieces::of(open, of.labels);
    let region = |p: u32| pieces.label(p).unwrap_or(of.own);
    let counts = |p: u32| pieces.is_piece(p) && of.counts(pieces.facet(p));
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
    let key = |region: u16, p: [f64; 3]| (region, p.map(f64::to_bits));
    let ends: Vec<_> = edges
        .iter()
        .map(|e| (key(e.region, e.from), key(e.region, e.to)))
        .collect();
    for ring in rings(&ends) {
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
            let planes = &mut feet.raised[body].planes;
            match planes.iter().position(|p| p.is_plane_of(&plane)) {
                Some(at) => planes[at] = planes[at].clone().with(plane.edges),
                None => planes.push(plane),
            }
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

/// The plane of an outline on which something raised stands; none if it is no such outline.
fn foot_plane(edges: &[Edge], ring: &[usize]) -> Option<FootPlane> {
    let of_ring = || ring.iter().map(|e| &edges[*e]);
    let long = |e: &Edge| length(sub(e.to, e.from));
    let whole: f64 = of_ring().map(long).sum();
    let inner: f64 = of_ring().filter(|e| e.is_inner).map(long).sum();
    if inner < 0.5 * whole {
        return None;
    }
    let mut normal = normalised(area_vector(of_ring().map(|e| [e.from, e.to])))?;
    // Towards the walls, which have to stand on the plane.
    let mut rise = 0.0;
    for edge in of_ring() {
        let corners = [edge.from, edge.to, edge.wall];
        let steep = facet_normal(&corners).map_or(0.0, |n| length(cross(n, normal)));
        if steep > WALL {
            rise += long(edge) * dot(normal, sub(edge.wall, edge.from)).signum();
        }
    }
    if rise.abs() < 0.5 * whole {
        return None;
    }
    if rise < 0.0 {
        normal = normal.map(|c| -c);
    }
    let heights = of_ring().map(|e| dot(normal, e.from));
    let offset = heights.clone().sum::<f64>() / ring.len() as f64;
    let is_flat = heights
        .into_iter()
        .all(|h| (h - offset).abs() < TOLERANCE_MM);
    let plane = FootPlane {
        normal,
        offset,
        edges: Vec::new(),
        ball: ([0.0; 3], 0.0),
    };
    is_flat.then(|| plane.with(of_ring().map(|e| [e.from, e.to]).collect()))
}

impl Feet {
    /// Deeper below a plane than this is below it, mm.
    const HAIR_MM: f64 = 1e-4;

    /// Whether there are none.
    pub(super) fn is_empty(&self) -> bool {
        self.whole.is_empty()
    }

    /// One more than the number of the raised body that a point of a facet belongs to; 0 for none.
    pub(super) fn at(&self, of: &Painted<'_>, facet: u32, q: [f64; 3]) -> u32 {
        if self.is_empty() {
            0
        } else if of.labels.whole(facet).is_some() {
            self.whole[facet as usize]
        } else {
            let key = (facet, of.region_at(facet, q));
            self.divided.get(&key).copied().unwrap_or(0)
        }
    }

    /// The same for a facet that is not divided.
    pub(super) fn of_whole(&self, facet: u32) -> u32 {
        self.whole[facet as usize]
    }

    /// Whether the surface of a raised body counts nowhere in a level disc, because that lies below a plane that it stands on.
    pub(super) fn is_hidden(&self, raised: u32, p: [f64; 3], radius: f64) -> bool {
        let Some(raised) = (raised as usize).checked_sub(1).map(|r| &self.raised[r]) else {
            return false;
        };
        let is_below = |plane: &FootPlane| plane.below(p) > Feet::HAIR_MM + plane.tilt(radius);
        raised.planes.iter().any(is_below)
    }

    /// The raised bodies of the regions told that a place inside the part lies in: those on whose foot a ray from it comes down
    /// without having left them, or having come back.
    ///
    /// # Cost
    /// A ray for each that has the place above its plane, and its outline below.
    pub(super) fn homes(
        &self,
        of: &Painted<'_>,
        tree: &FacetTree,
        counts: impl Fn(u16) -> bool,
        p: [f64; 3],
    ) -> Vec<Home<'_>> {
        let mut found = Vec::new();
        for (number, raised) in (1u32..).zip(&self.raised) {
            if !counts(raised.region) {
                continue;
            }
            for plane in &raised.planes {
                let above = -plane.below(p);
                let Some([u, v]) = across_normal(plane.normal).filter(|_| above > Feet::HAIR_MM)
                else {
                    continue;
                };
                // Slanting a little, so that it runs along no edge of a machine-made part.
                let down =
                    [0, 1, 2].map(|i| above * (0.011 * u[i] + 0.007 * v[i] - plane.normal[i]));
                if !plane.covers([0, 1, 2].map(|i| p[i] + down[i])) {
                    continue;
                }
                let mut is_out = false;
                tree.each_hit(p, down, |t, facet| {
                    let q = [0, 1, 2].map(|i| p[i] + t * down[i]);
                    let is_its = t < 1.0 && of.counts(facet) && self.at(of, facet, q) == number;
                    is_out ^= is_its;
                });
                if !is_out {
                    found.push(Home {
                        raised: number,
                        plane,
                    });
                }
            }
        }
        found
    }

    /// Whether for any raised body of the regions told something within a reach at a height may be hidden, below its foot or above.
    pub(super) fn may_hide(&self, counts: impl Fn(u16) -> bool, z: f64, reach: f64) -> bool {
        let bodies = self.raised.iter().filter(|r| counts(r.region));
        let mut planes = bodies.flat_map(|r| &r.planes);
        planes.any(|plane| {
            let is_level = plane.normal[2].abs() > 1.0 - 1e-9;
            let below = plane.below([0.0, 0.0, z]);
            !is_level || below.abs() <= reach
        })
    }

    /// The region of a raised body.
    pub(super) fn region(&self, raised: u32) -> Option<u16> {
        let at = (raised as usize).checked_sub(1)?;
        Some(self.raised[at].region)
    }
}
