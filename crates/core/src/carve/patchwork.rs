//! The facets around a zero line as one local triangulation.
//!
//! Everything that happens to it is a split of an edge, made on both sides at once, so it conforms at every moment. See
//! `refine` for the splits before the cut, and `split` for the cut itself.

use super::cut::Cutting;
use super::divided::Spot;
use super::field::Values;
use super::labels::{Held, Label, Labels};
use crate::geometry::middle;
use crate::mesh::{NO_FACET, cross, length, sub};
use rustc_hash::{FxHashMap, FxHashSet};
use std::cell::RefCell;

/// No triangle here.
pub(super) const NONE: u32 = u32::MAX;

/// Where a local vertex is, in terms of the mesh.
#[derive(Clone, Copy, PartialEq)]
pub(super) enum Seat {
    Corner(u32),
    /// Measured from one mesh vertex towards another, as the division it comes from has it.
    Edge {
        from: u32,
        to: u32,
        t: f64,
    },
    Inside {
        shares: [f64; 2],
    },
}

#[derive(Clone, Copy)]
pub(super) struct Triangle {
    pub(super) v: [u32; 3],
    pub(super) facet: u32,
    pub(super) label: Label,
}

/// An edge: its two vertices, lower first, and whose it is: the facet it lies inside, or of the two facets on both
/// sides of a mesh edge the lower.
pub(super) type Edge = (u32, u32, u32);

pub(super) struct Patchwork<'a> {
    /// Whether it was told to stop on the way.
    pub(super) is_stopped: bool,
    steps: u32,
    pub(super) cutting: &'a Cutting<'a>,
    pub(super) seats: Vec<Seat>,
    pub(super) points: Vec<[f64; 3]>,
    pub(super) values: Vec<f64>,
    pub(super) triangles: Vec<Triangle>,
    pub(super) edges: FxHashMap<Edge, [u32; 2]>,
    pub(super) by_corner: FxHashMap<u32, u32>,
    pub(super) by_edge: FxHashMap<(u32, u32, u64), u32>,
    pub(super) loaded: FxHashSet<u32>,
    /// Facets that take part in the cut.
    pub(super) on_line: FxHashSet<u32>,
    /// The field around each facet on the line; none where the whole field is as good.
    near: RefCell<FxHashMap<u32, Option<Values>>>,
    /// The plane that values are distances from; none if they are the field's.
    pub(super) plane: Option<usize>,
}

pub(super) fn altitude([a, b, c]: [[f64; 3]; 3]) -> f64 {
    let sides = [sub(b, a), sub(c, b), sub(a, c)];
    let longest = sides.map(length).into_iter().fold(0.0, f64::max);
    if longest == 0.0 {
        return 0.0;
    }
    length(cross(sides[0], sides[2])) / longest
}

impl<'a> Patchwork<'a> {
    /// Counts a step; false if the work is to stop.
    pub(super) fn goes_on(&mut self) -> bool {
        const STEPS: u32 = 2048;
        self.steps = self.steps.wrapping_add(1);
        if self.steps.is_multiple_of(STEPS) && !(self.cutting.go_on)() {
            self.is_stopped = true;
        }
        !self.is_stopped
    }

    pub(super) fn new(cutting: &'a Cutting<'a>) -> Patchwork<'a> {
        Patchwork {
            is_stopped: false,
            steps: 0,
            cutting,
            seats: Vec::new(),
            points: Vec::new(),
            values: Vec::new(),
            triangles: Vec::new(),
            edges: FxHashMap::default(),
            by_corner: FxHashMap::default(),
            by_edge: FxHashMap::default(),
            loaded: FxHashSet::default(),
            on_line: FxHashSet::default(),
            near: RefCell::default(),
            plane: None,
        }
    }

    pub(super) fn mesh_corners(&self, facet: u32) -> [[f64; 3]; 3] {
        self.cutting.open.mesh.corners(facet)
    }

    pub(super) fn labels(&self) -> &Labels {
        self.cutting.labels
    }

    /// Takes in the facets to be cut.
    pub(super) fn take_in(&mut self, facets: &[u32]) {
        self.on_line.extend(facets);
        for facet in facets {
            self.load(*facet);
        }
    }

    /// The field, or the present plane of it, at a point of a facet.
    pub(super) fn value(&self, facet: u32, p: [f64; 3]) -> f64 {
        let field = self.cutting.field;
        if let Some(number) = self.plane {
            return field.plane(number, p);
        }
        // What lies beside the line is asked once or twice, and planes are quick to ask anyway.
        if field.planes() > 0 || !self.on_line.contains(&facet) {
            return field.at(p);
        }
        let mut near = self.near.borrow_mut();
        let here = near.entry(facet).or_insert_with(|| {
            let corners = self.mesh_corners(facet);
            let middle = middle(&corners);
            let reach = corners.map(|c| length(sub(c, middle)));
            field.around(middle, reach.into_iter().fold(0.0, f64::max))
        });
        here.as_ref().map_or_else(|| field.at(p), |here| here(p))
    }

    pub(super) fn vertex(&mut self, facet: u32, seat: Seat, point: [f64; 3]) -> u32 {
        self.seats.push(seat);
        self.points.push(point);
        self.values.push(self.value(facet, point));
        self.seats.len() as u32 - 1
    }

    /// The local vertex of a seat; points on mesh corners and edges are shared by all facets there.
    pub(super) fn seated(&mut self, facet: u32, seat: Seat, point: [f64; 3]) -> u32 {
        let known = match seat {
            Seat::Corner(v) => self.by_corner.get(&v),
            Seat::Edge { from, to, t } => self.by_edge.get(&(from, to, t.to_bits())),
            Seat::Inside { .. } => None,
        };
        if let Some(known) = known {
            return *known;
        }
        let new = self.vertex(facet, seat, point);
        match seat {
            Seat::Corner(v) => {
                self.by_corner.insert(v, new);
            }
            Seat::Edge { from, to, t } => {
                self.by_edge.insert((from, to, t.to_bits()), new);
            }
            Seat::Inside { .. } => {}
        }
        new
    }

    pub(super) fn load(&mut self, facet: u32) {
        if !self.loaded.insert(facet) {
            return;
        }
        let ids = self.cutting.open.mesh.facets[facet as usize];
        let corners = self.cutting.open.mesh.corners(facet);
        match self.cutting.labels.held(facet) {
            Held::Whole(label) => {
                let v =
                    [0, 1, 2].map(|k: usize| self.seated(facet, Seat::Corner(ids[k]), corners[k]));
                self.add(Triangle { v, facet, label });
            }
            Held::Divided(divided) => {
                let local: Vec<u32> = divided
                    .spots
                    .iter()
                    .map(|spot| {
                        let seat = match *spot {
                            Spot::Corner(k) => Seat::Corner(ids[usize::from(k)]),
                            Spot::Edge { from, to, t } => Seat::Edge {
                                from: ids[usize::from(from)],
                                to: ids[usize::from(to)],
                                t,
                            },
                            Spot::Inside(shares) => Seat::Inside { shares },
                        };
                        self.seated(facet, seat, spot.point(&corners))
                    })
                    .collect();
                for (triangle, label) in divided.triangles.iter().zip(&divided.labels) {
                    self.add(Triangle {
                        v: triangle.map(|s| local[s as usize]),
                        facet,
                        label: *label,
                    });
                }
            }
        }
    }

    pub(super) fn add(&mut self, triangle: Triangle) -> u32 {
        let number = self.triangles.len() as u32;
        self.triangles.push(triangle);
        for k in 0..3 {
            let edge = self.edge(&triangle, k);
            self.join(edge, number);
        }
        number
    }

    pub(super) fn join(&mut self, edge: Edge, triangle: u32) {
        let sides = self.edges.entry(edge).or_insert([NONE; 2]);
        let free = usize::from(sides[0] != NONE);
        sides[free] = triangle;
    }

    pub(super) fn swap_side(&mut self, edge: Edge, old: u32, new: u32) {
        if let Some(sides) = self.edges.get_mut(&edge) {
            for side in sides.iter_mut().filter(|s| **s == old) {
                *side = new;
            }
        }
    }

    /// The edges of a facet a vertex lies on, as bits.
    pub(super) fn sides_of(&self, facet: u32, vertex: u32) -> u8 {
        let ids = self.cutting.open.mesh.facets[facet as usize];
        match self.seats[vertex as usize] {
            Seat::Corner(v) => {
                let k = ids.iter().position(|id| *id == v).unwrap_or(0);
                1 << k | 1 << ((k + 2) % 3)
            }
            Seat::Edge { from, to, .. } => (0..3)
                .filter(|k| {
                    let ends = (ids[*k], ids[(k + 1) % 3]);
                    ends == (from, to) || ends == (to, from)
                })
                .fold(0, |bits, k| bits | 1 << k),
            Seat::Inside { .. } => 0,
        }
    }

    /// Which edge of the mesh the edge of a triangle lies on, if on one: its side of the facet.
    pub(super) fn mesh_side(&self, facet: u32, a: u32, b: u32) -> Option<usize> {
        let shared = self.sides_of(facet, a) & self.sides_of(facet, b);
        (shared != 0).then(|| shared.trailing_zeros() as usize)
    }

    pub(super) fn edge_between(&self, facet: u32, a: u32, b: u32) -> Edge {
        let owner = match self.mesh_side(facet, a, b) {
            Some(side) => facet.min(self.cutting.open.topology.across[facet as usize][side]),
            None => facet,
        };
        (a.min(b), a.max(b), owner)
    }

    pub(super) fn edge(&self, triangle: &Triangle, k: usize) -> Edge {
        self.edge_between(triangle.facet, triangle.v[k], triangle.v[(k + 1) % 3])
    }

    /// Loads the facet on the other side of a triangle's edge, if that edge is one of the mesh.
    pub(super) fn load_across(&mut self, triangle: u32, k: usize) {
        let t = self.triangles[triangle as usize];
        if let Some(side) = self.mesh_side(t.facet, t.v[k], t.v[(k + 1) % 3]) {
            let across = self.cutting.open.topology.across[t.facet as usize][side];
            if across != NO_FACET {
                self.load(across);
            }
        }
    }

    /// Length of an edge with its vertices, for comparing edges without ties.
    pub(super) fn weight(&self, t: &Triangle, k: usize) -> (f64, u32, u32) {
        let (a, b) = (t.v[k], t.v[(k + 1) % 3]);
        let d = sub(self.points[a as usize], self.points[b as usize]);
        (crate::mesh::dot(d, d), a.min(b), a.max(b))
    }

    pub(super) fn longest(&self, triangle: u32) -> usize {
        let t = &self.triangles[triangle as usize];
        let heavier = |a: usize, b: usize| {
            let (x, y) = (self.weight(t, a), self.weight(t, b));
            x.0.total_cmp(&y.0).then((x.1, x.2).cmp(&(y.1, y.2)))
        };
        (0..3).max_by(|a, b| heavier(*a, *b)).unwrap_or(0)
    }

    pub(super) fn corners(&self, t: &Triangle) -> [[f64; 3]; 3] {
        t.v.map(|v| self.points[v as usize])
    }
}
