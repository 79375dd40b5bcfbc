//! The facets around a zero line as one local triangulation that is refined and split edge by edge.
//!
//! Everything is a split of an edge, made on both sides at once, so the triangulation conforms at every moment. Edges
//! near the zero line are halved, always the longest of a triangle (Rivara, "Algorithms for refining triangular grids
//! suitable for adaptive and multigrid techniques", 1984: no angle falls below half the smallest angle at the start),
//! until none is longer than the field's detail. Then every edge with a change of sign is split at its root, and the
//! zero line runs along edges.

use super::LEAST_ALTITUDE_MM;
use super::cut::{Cutting, FARTHEST, Paint, just_below, middle};
use super::divided::{Divided, Spot};
use super::labels::{Held, Label, Labels};
use crate::mesh::{NO_FACET, cross, length, sub};
use std::collections::{HashMap, HashSet};

/// No triangle here.
const NONE: u32 = u32::MAX;

/// Refining ends here whatever the field says.
const MOST_TRIANGLES: usize = 2_000_000;

/// Where a local vertex is, in terms of the mesh.
#[derive(Clone, Copy, PartialEq)]
enum Seat {
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
struct Triangle {
    v: [u32; 3],
    facet: u32,
    label: Label,
}

/// An edge: its two vertices, lower first, and whose it is: the facet it lies inside, or of the two facets on both
/// sides of a mesh edge the lower.
type Edge = (u32, u32, u32);

pub(super) struct Patchwork<'a> {
    cutting: &'a Cutting<'a>,
    seats: Vec<Seat>,
    points: Vec<[f64; 3]>,
    values: Vec<f64>,
    triangles: Vec<Triangle>,
    edges: HashMap<Edge, [u32; 2]>,
    by_corner: HashMap<u32, u32>,
    by_edge: HashMap<(u32, u32, u64), u32>,
    loaded: HashSet<u32>,
    /// Facets that take part in the cut.
    on_line: HashSet<u32>,
    /// The plane that values are distances from; none if they are the field's.
    plane: Option<usize>,
}

fn altitude([a, b, c]: [[f64; 3]; 3]) -> f64 {
    let sides = [sub(b, a), sub(c, b), sub(a, c)];
    let longest = sides.map(length).into_iter().fold(0.0, f64::max);
    if longest == 0.0 {
        return 0.0;
    }
    length(cross(sides[0], sides[2])) / longest
}

impl<'a> Patchwork<'a> {
    pub(super) fn new(cutting: &'a Cutting<'a>) -> Patchwork<'a> {
        Patchwork {
            cutting,
            seats: Vec::new(),
            points: Vec::new(),
            values: Vec::new(),
            triangles: Vec::new(),
            edges: HashMap::new(),
            by_corner: HashMap::new(),
            by_edge: HashMap::new(),
            loaded: HashSet::new(),
            on_line: HashSet::new(),
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

    fn vertex(&mut self, seat: Seat, point: [f64; 3]) -> u32 {
        self.seats.push(seat);
        self.points.push(point);
        self.values.push(self.value(point));
        self.seats.len() as u32 - 1
    }

    /// The local vertex of a seat; points on mesh corners and edges are shared by all facets there.
    fn seated(&mut self, seat: Seat, point: [f64; 3]) -> u32 {
        let known = match seat {
            Seat::Corner(v) => self.by_corner.get(&v),
            Seat::Edge { from, to, t } => self.by_edge.get(&(from, to, t.to_bits())),
            Seat::Inside { .. } => None,
        };
        if let Some(known) = known {
            return *known;
        }
        let new = self.vertex(seat, point);
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

    fn load(&mut self, facet: u32) {
        if !self.loaded.insert(facet) {
            return;
        }
        let ids = self.cutting.open.mesh.facets[facet as usize];
        let corners = self.cutting.open.mesh.corners(facet);
        match self.cutting.labels.held(facet) {
            Held::Whole(label) => {
                let v = [0, 1, 2].map(|k: usize| self.seated(Seat::Corner(ids[k]), corners[k]));
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
                        self.seated(seat, spot.point(&corners))
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

    fn add(&mut self, triangle: Triangle) -> u32 {
        let number = self.triangles.len() as u32;
        self.triangles.push(triangle);
        for k in 0..3 {
            let edge = self.edge(&triangle, k);
            self.join(edge, number);
        }
        number
    }

    fn join(&mut self, edge: Edge, triangle: u32) {
        let sides = self.edges.entry(edge).or_insert([NONE; 2]);
        let free = usize::from(sides[0] != NONE);
        sides[free] = triangle;
    }

    fn swap_side(&mut self, edge: Edge, old: u32, new: u32) {
        if let Some(sides) = self.edges.get_mut(&edge) {
            for side in sides.iter_mut().filter(|s| **s == old) {
                *side = new;
            }
        }
    }

    /// The edges of a facet a vertex lies on, as bits.
    fn sides_of(&self, facet: u32, vertex: u32) -> u8 {
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
    fn mesh_side(&self, facet: u32, a: u32, b: u32) -> Option<usize> {
        let shared = self.sides_of(facet, a) & self.sides_of(facet, b);
        (shared != 0).then(|| shared.trailing_zeros() as usize)
    }

    fn edge_between(&self, facet: u32, a: u32, b: u32) -> Edge {
        let owner = match self.mesh_side(facet, a, b) {
            Some(side) => facet.min(self.cutting.open.topology.across[facet as usize][side]),
            None => facet,
        };
        (a.min(b), a.max(b), owner)
    }

    fn edge(&self, triangle: &Triangle, k: usize) -> Edge {
        self.edge_between(triangle.facet, triangle.v[k], triangle.v[(k + 1) % 3])
    }

    /// Loads the facet on the other side of a triangle's edge, if that edge is one of the mesh.
    fn load_across(&mut self, triangle: u32, k: usize) {
        let t = self.triangles[triangle as usize];
        if let Some(side) = self.mesh_side(t.facet, t.v[k], t.v[(k + 1) % 3]) {
            let across = self.cutting.open.topology.across[t.facet as usize][side];
            if across != NO_FACET {
                self.load(across);
            }
        }
    }

    /// Length of an edge with its vertices, for comparing edges without ties.
    fn weight(&self, t: &Triangle, k: usize) -> (f64, u32, u32) {
        let (a, b) = (t.v[k], t.v[(k + 1) % 3]);
        let d = sub(self.points[a as usize], self.points[b as usize]);
        (crate::mesh::dot(d, d), a.min(b), a.max(b))
    }

    fn longest(&self, triangle: u32) -> usize {
        let t = &self.triangles[triangle as usize];
        let heavier = |a: usize, b: usize| {
            let (x, y) = (self.weight(t, a), self.weight(t, b));
            x.0.total_cmp(&y.0).then((x.1, x.2).cmp(&(y.1, y.2)))
        };
        (0..3).max_by(|a, b| heavier(*a, *b)).unwrap_or(0)
    }

    fn corners(&self, t: &Triangle) -> [[f64; 3]; 3] {
        t.v.map(|v| self.points[v as usize])
    }

    /// Whether the zero line may pass through a triangle that is too large to tell how.
    fn is_coarse(&self, triangle: u32) -> bool {
        let t = &self.triangles[triangle as usize];
        if !self.on_line.contains(&t.facet) {
            return false;
        }
        let longest = self.weight(t, self.longest(triangle)).0.sqrt();
        let values = t.v.map(|v| self.values[v as usize]);
        let same = values.iter().all(|v| *v < 0.0) || values.iter().all(|v| *v >= 0.0);
        let nearest = values.iter().fold(f64::INFINITY, |m, v| m.min(v.abs()));
        if same && nearest > FARTHEST * longest {
            return false;
        }
        longest
            > self
                .cutting
                .field
                .detail_mm(self.points[t.v[0] as usize], longest)
            || longest > self.cutting.tolerance_mm && self.is_bent(t)
    }

    /// Whether the zero line stands off the straight way through a triangle by more than half the tolerance.
    fn is_bent(&self, t: &Triangle) -> bool {
        let mut ends = [[0.0; 3]; 2];
        let mut found = 0;
        for k in 0..3 {
            let (a, b) = (t.v[k], t.v[(k + 1) % 3]);
            let (a, b) = (a.min(b), a.max(b));
            if found < 2 && self.values[a as usize] * self.values[b as usize] < 0.0 {
                let share = self.root(a, b);
                let (p, q) = (self.points[a as usize], self.points[b as usize]);
                ends[found] = [0, 1, 2].map(|i| p[i] + share * (q[i] - p[i]));
                found += 1;
            }
        }
        let middle = [0, 1, 2].map(|i| 0.5 * (ends[0][i] + ends[1][i]));
        found == 2 && self.value(middle).abs() > 0.5 * self.cutting.tolerance_mm
    }

    /// Halves edges until no triangle on the line is coarser than the field's detail.
    pub(super) fn refine(&mut self) {
        let mut stuck: HashSet<u32> = HashSet::new();
        let mut waiting: Vec<u32> = (0..self.triangles.len() as u32).rev().collect();
        while let Some(triangle) = waiting.pop() {
            if self.triangles.len() > MOST_TRIANGLES {
                return;
            }
            if stuck.contains(&triangle) || !self.is_coarse(triangle) {
                continue;
            }
            // Along the path of longest edges to one that is the longest on both sides.
            let mut at = triangle;
            let split = loop {
                let k = self.longest(at);
                self.load_across(at, k);
                let edge = self.edge(&self.triangles[at as usize], k);
                let sides = self.edges[&edge];
                let other = if sides[0] == at { sides[1] } else { sides[0] };
                if other == NONE {
                    break edge;
                }
                let k = self.longest(other);
                if self.edge(&self.triangles[other as usize], k) == edge {
                    break edge;
                }
                at = other;
            };
            let first = self.triangles.len() as u32;
            let sides = self.edges[&split];
            if self.split(split, 0.5, LEAST_ALTITUDE_MM) {
                waiting.push(triangle);
                waiting.extend(sides.into_iter().filter(|s| *s != NONE && *s != triangle));
                waiting.extend(first..self.triangles.len() as u32);
            } else {
                stuck.insert(triangle);
            }
        }
    }

    /// Splits every edge where it passes through one of the field's planes.
    pub(super) fn split_along_plane(&mut self, number: usize) {
        self.plane = Some(number);
        self.values = self.points.iter().map(|p| self.value(*p)).collect();
        self.split_along_zero();
    }

    fn value(&self, p: [f64; 3]) -> f64 {
        match self.plane {
            Some(number) => self.cutting.field.plane(number, p),
            None => self.cutting.field.at(p),
        }
    }

    /// Splits every edge on the line where the field changes sign.
    pub(super) fn split_along_zero(&mut self) {
        let tolerance = self.cutting.tolerance_mm;
        let zero = 0.02 * tolerance;
        for value in &mut self.values {
            if value.abs() <= zero {
                *value = 0.0;
            }
        }
        let mut refused: HashSet<Edge> = HashSet::new();
        let mut at = 0;
        while at < self.triangles.len() {
            let t = self.triangles[at];
            if !self.on_line.contains(&t.facet) {
                at += 1;
                continue;
            }
            let crossing = (0..3).find(|k| {
                let (a, b) = (t.v[*k] as usize, t.v[(k + 1) % 3] as usize);
                self.values[a] * self.values[b] < 0.0 && !refused.contains(&self.edge(&t, *k))
            });
            let Some(k) = crossing else {
                at += 1;
                continue;
            };
            let edge = self.edge(&t, k);
            let (a, b) = (edge.0, edge.1);
            let share = self.root(a, b);
            let span = length(sub(self.points[a as usize], self.points[b as usize]));
            let (near, gap) = if share < 0.5 {
                (a, share * span)
            } else {
                (b, (1.0 - share) * span)
            };
            if gap <= (0.2 * tolerance).min(0.1 * span) {
                self.values[near as usize] = 0.0;
                continue;
            }
            self.load_across(at as u32, k);
            if self.split(edge, share, LEAST_ALTITUDE_MM) {
                let new = self.values.len() - 1;
                self.values[new] = 0.0;
            } else if gap <= 0.5 * tolerance {
                self.values[near as usize] = 0.0;
            } else {
                refused.insert(edge);
            }
        }
    }

    /// Share of the way from `a` to `b` at which the field is zero; it has different signs at the two.
    fn root(&self, a: u32, b: u32) -> f64 {
        let (p, q) = (self.points[a as usize], self.points[b as usize]);
        let at = |s: f64| self.value([0, 1, 2].map(|i| p[i] + s * (q[i] - p[i])));
        let (mut low, mut high) = (0.0, 1.0);
        let (mut f_low, mut f_high) = (self.values[a as usize], self.values[b as usize]);
        // Regula falsi with halving of the end that stays (the Illinois rule).
        const CLOSE_MM: f64 = 1e-7;
        for _ in 0..60 {
            let s: f64 = (low * f_high - high * f_low) / (f_high - f_low);
            let s = s.clamp(low, high);
            let f = at(s);
            if f.abs() < CLOSE_MM {
                return s;
            }
            if (f < 0.0) == (f_high < 0.0) {
                f_low *= if high < 1.0 { 0.5 } else { 1.0 };
                (high, f_high) = (s, f);
            } else {
                f_high *= if low > 0.0 { 0.5 } else { 1.0 };
                (low, f_low) = (s, f);
            }
        }
        0.5 * (low + high)
    }

    /// Splits an edge at a share of the way from its lower to its higher vertex, on both sides. Refuses, and returns
    /// false, if a triangle would become lower than `least`.
    fn split(&mut self, edge: Edge, share: f64, least: f64) -> bool {
        let (a, b, _) = edge;
        let sides = self.edges[&edge];
        let (p, q) = (self.points[a as usize], self.points[b as usize]);
        let rough = [0, 1, 2].map(|i| p[i] + share * (q[i] - p[i]));
        for side in sides.into_iter().filter(|s| *s != NONE) {
            let t = self.triangles[side as usize];
            let apex = t.v.into_iter().find(|v| *v != a && *v != b).unwrap_or(a);
            let apex = self.points[apex as usize];
            if altitude([p, rough, apex]) < least || altitude([rough, q, apex]) < least {
                return false;
            }
        }
        let Some(first) = sides.into_iter().find(|s| *s != NONE) else {
            return false;
        };
        let middle = self.between(self.triangles[first as usize].facet, a, b, share);
        self.edges.remove(&edge);
        for side in sides.into_iter().filter(|s| *s != NONE) {
            let t = self.triangles[side as usize];
            let k = (0..3)
                .find(|k| {
                    let (x, y) = (t.v[*k], t.v[(k + 1) % 3]);
                    (x.min(y), x.max(y)) == (a, b)
                })
                .unwrap_or(0);
            let [x, y, z] = [0, 1, 2].map(|i| t.v[(k + i) % 3]);
            let new = self.triangles.len() as u32;
            let far = self.edge_between(t.facet, y, z);
            self.swap_side(far, side, new);
            self.triangles[side as usize].v = [x, middle, z];
            self.triangles.push(Triangle {
                v: [middle, y, z],
                ..t
            });
            let near = self.edge_between(t.facet, x, middle);
            self.join(near, side);
            let beyond = self.edge_between(t.facet, middle, y);
            self.join(beyond, new);
            let inner = self.edge_between(t.facet, middle, z);
            self.join(inner, side);
            self.join(inner, new);
        }
        true
    }

    /// A new vertex between two on the same facet.
    fn between(&mut self, facet: u32, a: u32, b: u32, share: f64) -> u32 {
        let mesh = &self.cutting.open.mesh;
        let ids = mesh.facets[facet as usize];
        if let Some(side) = self.mesh_side(facet, a, b) {
            let (from, to) = (ids[side], ids[(side + 1) % 3]);
            let (low, high) = (from.min(to), from.max(to));
            let along = |v: u32| match self.seats[v as usize] {
                Seat::Corner(id) => f64::from(u8::from(id == high)),
                Seat::Edge { from, t, .. } if from == low => t,
                Seat::Edge { t, .. } => 1.0 - t,
                Seat::Inside { .. } => 0.0,
            };
            let (t0, t1) = (along(a), along(b));
            let t = t0 + share * (t1 - t0);
            let (p, q) = (mesh.vertices[low as usize], mesh.vertices[high as usize]);
            let point = [0, 1, 2].map(|i| p[i] + t * (q[i] - p[i]));
            let seat = Seat::Edge {
                from: low,
                to: high,
                t,
            };
            return self.seated(seat, point);
        }
        let (s0, s1) = (self.shares(facet, a), self.shares(facet, b));
        let shares = [0, 1].map(|i| s0[i] + share * (s1[i] - s0[i]));
        let point = Spot::Inside(shares).point(&mesh.corners(facet));
        self.vertex(Seat::Inside { shares }, point)
    }

    fn spot(&self, facet: u32, vertex: u32) -> Spot {
        let ids = self.cutting.open.mesh.facets[facet as usize];
        let number = |id: u32| ids.iter().position(|i| *i == id).unwrap_or(0) as u8;
        match self.seats[vertex as usize] {
            Seat::Corner(id) => Spot::Corner(number(id)),
            Seat::Edge { from, to, t } => Spot::Edge {
                from: number(from),
                to: number(to),
                t,
            },
            Seat::Inside { shares } => Spot::Inside(shares),
        }
    }

    fn shares(&self, facet: u32, vertex: u32) -> [f64; 2] {
        self.spot(facet, vertex).shares()
    }

    /// Whether a triangle lies on the negative side.
    fn is_inside(&self, t: &Triangle) -> bool {
        let values = t.v.map(|v| self.values[v as usize]);
        let below = values.iter().any(|v| *v < 0.0);
        let above = values.iter().any(|v| *v > 0.0);
        if self.plane.is_some() {
            return self.cutting.field.at(just_below(&self.corners(t))) < 0.0;
        }
        if below != above {
            return below;
        }
        self.cutting.field.at(middle(&self.corners(t))) < 0.0
    }

    /// Every facet taken in as it is now, in ascending order; triangles on the negative side of facets that take part
    /// have been painted.
    pub(super) fn divisions(&self, paint: Paint<'_>) -> Vec<(u32, Divided)> {
        let mut order: Vec<u32> = (0..self.triangles.len() as u32).collect();
        order.sort_by_key(|t| (self.triangles[*t as usize].facet, *t));
        order
            .chunk_by(|a, b| self.triangles[*a as usize].facet == self.triangles[*b as usize].facet)
            .map(|group| {
                let facet = self.triangles[group[0] as usize].facet;
                let takes_part = self.on_line.contains(&facet);
                let mut numbers: HashMap<u32, u32> = HashMap::new();
                let mut divided = Divided::default();
                for triangle in group {
                    let t = &self.triangles[*triangle as usize];
                    let v = t.v.map(|v| {
                        *numbers.entry(v).or_insert_with(|| {
                            divided.spots.push(self.spot(facet, v));
                            divided.spots.len() as u32 - 1
                        })
                    });
                    divided.triangles.push(v);
                    divided.labels.push(if takes_part && self.is_inside(t) {
                        paint(facet, middle(&self.corners(t)), t.label)
                    } else {
                        t.label
                    });
                }
                (facet, divided)
            })
            .collect()
    }
}
