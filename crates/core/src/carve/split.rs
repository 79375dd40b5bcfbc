//! Every edge that changes sign is split at its root, so that the zero line runs along edges; and what comes of it.

use super::LEAST_ALTITUDE_MM;
use super::cut::{Paint, just_below};
use super::divided::{Divided, Spot};
use super::patchwork::{Edge, NONE, Patchwork, Seat, Triangle, altitude};
use super::thinned::thinned;
use crate::geometry::middle;
use crate::mesh::{length, sub};
use rustc_hash::{FxHashMap, FxHashSet};

impl Patchwork<'_> {
    /// Splits every edge where it passes through one of the field's planes.
    pub(super) fn split_along_plane(&mut self, number: usize) {
        self.plane = Some(number);
        let field = self.cutting.field;
        self.values = self
            .points
            .iter()
            .map(|p| field.plane(number, *p))
            .collect();
        self.split_along_zero();
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
        let mut refused: FxHashSet<Edge> = FxHashSet::default();
        let mut at = 0;
        while at < self.triangles.len() && self.goes_on() {
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
            let share = self.root(t.facet, a, b);
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

    /// Share of the way from `a` to `b`, both of a facet, at which the field is zero; it has different signs at the two.
    pub(super) fn root(&self, facet: u32, a: u32, b: u32) -> f64 {
        let (p, q) = (self.points[a as usize], self.points[b as usize]);
        let at = |s: f64| self.value(facet, [0, 1, 2].map(|i| p[i] + s * (q[i] - p[i])));
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
    pub(super) fn split(&mut self, edge: Edge, share: f64, least: f64) -> bool {
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
            return self.seated(facet, seat, point);
        }
        let (s0, s1) = (self.shares(facet, a), self.shares(facet, b));
        let shares = [0, 1].map(|i| s0[i] + share * (s1[i] - s0[i]));
        let point = Spot::Inside(shares).point(&mesh.corners(facet));
        self.vertex(facet, Seat::Inside { shares }, point)
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
                let mut numbers: FxHashMap<u32, u32> = FxHashMap::default();
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
                (facet, thinned(divided, &self.mesh_corners(facet)))
            })
            .collect()
    }
}
