//! One facet filled with triangles that run along given lines.

use super::LEAST_ALTITUDE_MM;
use super::divided::{Divided, Spot};
use super::labels::{Held, Label, Labels};
use super::overlay::{Node, OnEdge};
use crate::geometry::{across_normal, dot, facet_normal, length, sub, turn};
use crate::model::OpenMesh;
use rustc_hash::FxHashMap;
use spade::handles::FixedVertexHandle;
use spade::{ConstrainedDelaunayTriangulation, Point2, Triangulation};

/// A facet as it is being filled.
pub(super) struct Filling<'a> {
    labels: &'a Labels,
    facet: u32,
    ids: [u32; 3],
    /// Corners in the facet's plane, counter-clockwise, mm.
    corners: [[f64; 2]; 3],
    origin: [f64; 3],
    axes: [[f64; 3]; 2],
    /// Points on each side, from its lower vertex on.
    around: [OnEdge; 3],
    cells: Cells,
    seats: FxHashMap<FixedVertexHandle, Seat>,
    /// Vertices on each side with their shares of the way from its lower corner on, ascending.
    along: [Vec<(f64, FixedVertexHandle)>; 3],
    mesh: ConstrainedDelaunayTriangulation<Point2<f64>>,
    is_flat: bool,
}

/// Where a vertex is, and which sides of the facet it is on, as bits.
#[derive(Clone, Copy)]
struct Seat {
    spot: Spot,
    sides: u8,
}

/// Points inside by the squares of a fine grid, so that near ones become one.
type Cells = FxHashMap<(i64, i64), FixedVertexHandle>;

impl<'a> Filling<'a> {
    /// A facet with the points on its three sides.
    pub(super) fn new(
        open: &'a OpenMesh,
        labels: &'a Labels,
        facet: u32,
        around: [OnEdge; 3],
    ) -> Filling<'a> {
        let corners = open.mesh.corners(facet);
        let normal = facet_normal(&corners).unwrap_or([0.0, 0.0, 1.0]);
        let axes = across_normal(normal).unwrap_or([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]]);
        let flat = corners.map(|c| {
            let d = sub(c, corners[0]);
            [dot(d, axes[0]), dot(d, axes[1])]
        });
        let longest = (0..3)
            .map(|k| length(sub(corners[(k + 1) % 3], corners[k])))
            .fold(0.0, f64::max);
        let twice = turn(flat[0], flat[1], flat[2]);
        Filling {
            labels,
            facet,
            ids: open.mesh.facets[facet as usize],
            corners: flat,
            origin: corners[0],
            axes,
            around,
            cells: Cells::default(),
            seats: FxHashMap::default(),
            along: Default::default(),
            mesh: ConstrainedDelaunayTriangulation::new(),
            // So low that nothing can be said of its inside.
            is_flat: twice <= 4.0 * LEAST_ALTITUDE_MM * longest,
        }
    }

    /// The facet divided along some lines and along the borders it had; its labels are those it had.
    pub(super) fn filled(mut self, lines: &[[Node; 2]]) -> Divided {
        let rim = self.rim();
        if self.is_flat {
            return self.fan(&rim);
        }
        let handles: Vec<FixedVertexHandle> = rim
            .iter()
            .filter_map(|(p, seat)| {
                let handle = self.mesh.insert(Point2::new(p[0], p[1])).ok()?;
                self.seats.entry(handle).or_insert(*seat);
                Some(handle)
            })
            .collect();
        for (k, from) in handles.iter().enumerate() {
            let to = handles[(k + 1) % handles.len()];
            if *from != to && self.mesh.can_add_constraint(*from, to) {
                self.mesh.add_constraint(*from, to);
            }
        }
        if handles.len() == rim.len() {
            self.along_sides(&handles);
        }
        for [a, b] in self.borders() {
            self.constrain(a, b);
        }
        for [a, b] in lines {
            let (a, b) = (self.node(a), self.node(b));
            if let (Some(a), Some(b)) = (a, b) {
                self.constrain(a, b);
            }
        }
        self.divided()
    }

    /// Keeps the vertices of each side where [`Filling::on_side`] finds them.
    fn along_sides(&mut self, rim: &[FixedVertexHandle]) {
        let mut first = 0;
        for side in 0..3 {
            let points = self.around[side].len();
            let last = (first + points + 1) % rim.len();
            let inner = &rim[first + 1..=first + points];
            let is_up = self.ids[side] < self.ids[(side + 1) % 3];
            let shares = self.around[side].iter().map(|(t, _)| *t);
            let (low, high, inner): (_, _, Vec<_>) = match is_up {
                true => (rim[first], rim[last], inner.to_vec()),
                false => (rim[last], rim[first], inner.iter().rev().copied().collect()),
            };
            let mut all = vec![(0.0, low)];
            all.extend(shares.zip(inner));
            all.push((1.0, high));
            self.along[side] = all;
            first += points + 1;
        }
    }

    /// The vertex of a side that is nearest to a share of the way from one corner to another: what was too near to another is drawn
    /// to it.
    fn on_side(&self, from: usize, to: usize, t: f64) -> Option<FixedVertexHandle> {
        let side = if (from + 1) % 3 == to { from } else { to };
        let t = if self.ids[from] < self.ids[to] {
            t
        } else {
            1.0 - t
        };
        let all = &self.along[side];
        let at = all.partition_point(|(other, _)| *other < t);
        let near = &all[at.saturating_sub(1)..(at + 1).min(all.len())];
        let off = |p: &&(f64, FixedVertexHandle)| (p.0 - t).abs();
        let nearest = near.iter().min_by(|a, b| off(a).total_cmp(&off(b)))?;
        Some(nearest.1)
    }

    fn constrain(&mut self, a: FixedVertexHandle, b: FixedVertexHandle) {
        if a == b {
            return;
        }
        let sides = |v| self.seats.get(&v).map_or(0, |s: &Seat| s.sides);
        // Along the rim, which is there already.
        if sides(a) & sides(b) != 0 {
            return;
        }
        self.mesh.add_constraint_and_split(a, b, |p| p);
    }

    /// Corners and points of the rim, around.
    fn rim(&self) -> Vec<([f64; 2], Seat)> {
        let mut out = Vec::new();
        for side in 0..3 {
            let next = (side + 1) % 3;
            let corner = Seat {
                spot: Spot::Corner(side as u8),
                sides: 1 << side | 1 << ((side + 2) % 3),
            };
            out.push((self.corners[side], corner));
            let is_up = self.ids[side] < self.ids[next];
            let (low, high) = if is_up { (side, next) } else { (next, side) };
            let (low, high) = (self.corners[low], self.corners[high]);
            let number = |id: u32| self.ids.iter().position(|i| *i == id).unwrap_or(0) as u8;
            let point = |(along, spot): &(f64, super::overlay::EdgeSpot)| {
                let p = [0, 1].map(|i| low[i] + along * (high[i] - low[i]));
                let seat = Seat {
                    spot: Spot::Edge {
                        from: number(spot.from),
                        to: number(spot.to),
                        t: spot.t,
                    },
                    sides: 1 << side,
                };
                (p, seat)
            };
            let points = self.around[side].iter().map(point);
            match is_up {
                true => out.extend(points),
                false => out.extend(points.rev()),
            }
        }
        out
    }

    /// Triangles from one corner, for facets that are hardly more than a line.
    fn fan(&self, rim: &[([f64; 2], Seat)]) -> Divided {
        let spots: Vec<Spot> = rim.iter().map(|(_, s)| s.spot).collect();
        let label = match self.labels.held(self.facet) {
            Held::Whole(label) => label,
            Held::Divided(divided) => divided.main_label(),
        };
        let mut triangles = Vec::new();
        let from = rim.len() - 1;
        for k in 0..rim.len() {
            let next = (k + 1) % rim.len();
            if k == from || next == from {
                continue;
            }
            triangles.push([from as u32, k as u32, next as u32]);
        }
        let labels = vec![label; triangles.len()];
        Divided::new(spots, triangles, labels)
    }

    /// Edges between different labels of the division it has, between vertices that are put in.
    fn borders(&mut self) -> Vec<[FixedVertexHandle; 2]> {
        let Some(divided) = self.labels.division(self.facet).cloned() else {
            return Vec::new();
        };
        let mut sides: FxHashMap<(u32, u32), (Label, bool)> = FxHashMap::default();
        let mut borders: Vec<(u32, u32)> = Vec::new();
        for (t, label) in divided.triangles.iter().zip(&divided.labels) {
            for k in 0..3 {
                let (a, b) = (t[k], t[(k + 1) % 3]);
                let edge = (a.min(b), a.max(b));
                match sides.get(&edge) {
                    None => {
                        sides.insert(edge, (*label, false));
                    }
                    Some((other, _)) if other != label => borders.push(edge),
                    Some(_) => {}
                }
            }
        }
        let mut vertex = |spot: u32| {
            let spot = &divided.spots[spot as usize];
            let [u, v] = spot.shares();
            let [a, b, c] = self.corners;
            let p = [0, 1].map(|i| a[i] + u * (b[i] - a[i]) + v * (c[i] - a[i]));
            match *spot {
                Spot::Inside(_) => self.inside(p),
                Spot::Corner(k) => self.on_side(usize::from(k), (usize::from(k) + 1) % 3, 0.0),
                Spot::Edge { from, to, t } => self.on_side(usize::from(from), usize::from(to), t),
            }
        };
        borders
            .into_iter()
            .filter_map(|(a, b)| Some([vertex(a)?, vertex(b)?]))
            .collect()
    }

    /// The vertex of a node.
    fn node(&mut self, node: &Node) -> Option<FixedVertexHandle> {
        match *node {
            Node::Edge { low, high, t } => {
                let number = |id: u32| self.ids.iter().position(|i| *i == id);
                self.on_side(number(low)?, number(high)?, t)
            }
            Node::Inside(p) => {
                let d = sub(p, self.origin);
                let p = self.axes.map(|a| dot(d, a));
                self.inside(p)
            }
        }
    }

    /// The vertex at a place inside, which is kept off the rim.
    fn inside(&mut self, mut p: [f64; 2]) -> Option<FixedVertexHandle> {
        let least = LEAST_ALTITUDE_MM;
        for side in 0..3 {
            let (a, b) = (self.corners[side], self.corners[(side + 1) % 3]);
            let along = [b[0] - a[0], b[1] - a[1]];
            let long = along[0].hypot(along[1]);
            let off = turn(a, b, p) / long;
            if off < least {
                let inward = [-along[1] / long, along[0] / long];
                p = [0, 1].map(|i| p[i] + (least - off) * inward[i]);
            }
        }
        let cell = p.map(|v| (v / least).floor() as i64);
        for (dx, dy) in [-1, 0, 1]
            .into_iter()
            .flat_map(|x| [(x, -1), (x, 0), (x, 1)])
        {
            let Some(known) = self.cells.get(&(cell[0] + dx, cell[1] + dy)) else {
                continue;
            };
            let q = self.mesh.vertex(*known).position();
            if (q.x - p[0]).hypot(q.y - p[1]) < least {
                return Some(*known);
            }
        }
        let new = self.mesh.insert(Point2::new(p[0], p[1])).ok()?;
        self.cells.insert((cell[0], cell[1]), new);
        let spot = Spot::Inside(self.shares(p));
        self.seats.entry(new).or_insert(Seat { spot, sides: 0 });
        Some(new)
    }

    /// Shares of the edges from corner 0 to corners 1 and 2.
    fn shares(&self, p: [f64; 2]) -> [f64; 2] {
        let [a, b, c] = self.corners;
        let whole = turn(a, b, c);
        [turn(a, p, c) / whole, turn(a, b, p) / whole]
    }

    fn divided(&self) -> Divided {
        let mut spots: Vec<Spot> = Vec::new();
        let mut numbers: FxHashMap<FixedVertexHandle, u32> = FxHashMap::default();
        let mut triangles = Vec::new();
        let mut labels = Vec::new();
        for face in self.mesh.inner_faces() {
            let corners = face.vertices();
            let seats = corners.map(|v| {
                let known = self.seats.get(&v.fix()).copied();
                let p = [v.position().x, v.position().y];
                known.unwrap_or_else(|| Seat {
                    spot: Spot::Inside(self.shares(p)),
                    sides: 0,
                })
            });
            // What rounding leaves between points of one side.
            if seats[0].sides & seats[1].sides & seats[2].sides != 0 {
                continue;
            }
            let v = [0, 1, 2].map(|k| {
                *numbers.entry(corners[k].fix()).or_insert_with(|| {
                    spots.push(seats[k].spot);
                    spots.len() as u32 - 1
                })
            });
            let shares = seats.map(|s| s.spot.shares());
            let middle = [0, 1].map(|i| shares.iter().map(|s| s[i]).sum::<f64>() / 3.0);
            triangles.push(v);
            labels.push(self.labels.at(self.facet, middle));
        }
        Divided::new(spots, triangles, labels)
    }
}
