//! A facet divided into no more triangles than its borders need.
//!
//! A cut divides until the zero line is known well enough, and leaves all of that behind: along a straight border on a coarse facet
//! thousands of triangles where a few tell the same. Everything after it, layers, searches, files, would carry them.

use super::LEAST_ALTITUDE_MM;
use super::divided::{Divided, Spot};
use super::labels::Label;
use crate::geometry::{across_normal, dot, facet_normal, sub, turn};
use rustc_hash::FxHashMap;
use spade::handles::FixedVertexHandle;
use spade::{ConstrainedDelaunayTriangulation, Point2, Triangulation};

/// Facets of no more triangles stay as they are.
const MANY: usize = 24;

/// So far a border may move, mm: a fiftieth of what a cut may be off.
const MOVED_MM: f64 = 1e-3;

/// The same division of the same labels with fewer triangles: points on the rim stay, so that the facets around it fit; of the
/// borders inside, those that lie straight between others go, and so does all that lies in no border. As it was where that saves
/// little or does not come out clean.
///
/// # Cost
/// n log n in the triangles.
pub(super) fn thinned(divided: Divided, corners: &[[f64; 3]; 3]) -> Divided {
    if divided.triangles.len() <= MANY {
        return divided;
    }
    let thin = Flat::of(&divided, corners).and_then(|flat| flat.thinned());
    thin.unwrap_or(divided)
}

/// A division in the plane of its facet.
struct Flat<'a> {
    divided: &'a Divided,
    points: Vec<[f64; 2]>,
    /// Edges of the rim, and between different labels.
    rim: Vec<[u32; 2]>,
    borders: Vec<[u32; 2]>,
}

impl Flat<'_> {
    fn of<'a>(divided: &'a Divided, corners: &[[f64; 3]; 3]) -> Option<Flat<'a>> {
        let axes = across_normal(facet_normal(corners)?)?;
        let place = |spot: &Spot| {
            let d = sub(spot.point(corners), corners[0]);
            axes.map(|axis| dot(axis, d))
        };
        let mut open: FxHashMap<[u32; 2], Label> = FxHashMap::default();
        let mut borders = Vec::new();
        for (t, label) in divided.triangles.iter().zip(&divided.labels) {
            for k in 0..3 {
                let (a, b) = (t[k], t[(k + 1) % 3]);
                let edge = [a.min(b), a.max(b)];
                match open.remove(&edge) {
                    None => {
                        open.insert(edge, *label);
                    }
                    Some(other) if other != *label => borders.push(edge),
                    Some(_) => {}
                }
            }
        }
        let mut rim: Vec<[u32; 2]> = open.into_keys().collect();
        rim.sort_unstable();
        Some(Flat {
            divided,
            points: divided.spots.iter().map(place).collect(),
            rim,
            borders,
        })
    }

    fn thinned(&self) -> Option<Divided> {
        let lines = self.straightened();
        let mut is_kept = vec![false; self.points.len()];
        for v in self.rim.iter().chain(&lines).flatten() {
            is_kept[*v as usize] = true;
        }
        let mut mesh = ConstrainedDelaunayTriangulation::<Point2<f64>>::new();
        let mut spot_of: FxHashMap<FixedVertexHandle, u32> = FxHashMap::default();
        let mut handle_of: FxHashMap<u32, FixedVertexHandle> = FxHashMap::default();
        for (v, p) in self.points.iter().enumerate().filter(|(v, _)| is_kept[*v]) {
            let handle = mesh.insert(Point2::new(p[0], p[1])).ok()?;
            if spot_of.insert(handle, v as u32).is_some() {
                return None;
            }
            handle_of.insert(v as u32, handle);
        }
        for [a, b] in self.rim.iter().chain(&lines) {
            let (a, b) = (handle_of[a], handle_of[b]);
            if !mesh.can_add_constraint(a, b) {
                return None;
            }
            mesh.add_constraint(a, b);
        }
        let mut numbers: FxHashMap<u32, u32> = FxHashMap::default();
        let (mut spots, mut triangles, mut labels) = (Vec::new(), Vec::new(), Vec::new());
        for face in mesh.inner_faces() {
            let of_face = face.vertices().map(|v| spot_of[&v.fix()]);
            let place = of_face.map(|v| self.points[v as usize]);
            if self.is_beyond_a_side(of_face) {
                continue;
            }
            if altitude(place) < LEAST_ALTITUDE_MM {
                return None;
            }
            let shares = of_face.map(|v| self.divided.spots[v as usize].shares());
            let middle = [0, 1].map(|i| shares.iter().map(|s| s[i]).sum::<f64>() / 3.0);
            labels.push(self.divided.labels[self.divided.triangle_at(middle)]);
            triangles.push(of_face.map(|v| {
                *numbers.entry(v).or_insert_with(|| {
                    spots.push(self.divided.spots[v as usize]);
                    spots.len() as u32 - 1
                })
            }));
        }
        let thin = Divided::new(spots, triangles, labels);
        let pays = 2 * thin.triangles.len() <= self.divided.triangles.len();
        (pays && self.has_the_same_areas(&thin)).then_some(thin)
    }

    /// Whether three points lie on one side of the facet: what rounding leaves between them is none of it.
    fn is_beyond_a_side(&self, face: [u32; 3]) -> bool {
        let sides = |v: u32| match self.divided.spots[v as usize] {
            Spot::Corner(k) => 1u8 << k | 1 << ((k + 2) % 3),
            Spot::Edge { from, to, .. } => 1 << (if (from + 1) % 3 == to { from } else { to }),
            Spot::Inside(_) => 0,
        };
        let [a, b, c] = face.map(sides);
        a & b & c != 0
    }

    /// The borders with what lies straight between other points of them left out.
    fn straightened(&self) -> Vec<[u32; 2]> {
        let mut beside: FxHashMap<u32, Vec<u32>> = FxHashMap::default();
        for [a, b] in &self.borders {
            beside.entry(*a).or_default().push(*b);
            beside.entry(*b).or_default().push(*a);
        }
        let is_end = |v: u32| {
            let is_inside = matches!(self.divided.spots[v as usize], Spot::Inside(_));
            !is_inside || beside[&v].len() != 2
        };
        let mut starts: Vec<u32> = beside.keys().copied().collect();
        // Ends first; what is left then goes around.
        starts.sort_unstable_by_key(|v| (!is_end(*v), *v));
        let mut done: FxHashMap<[u32; 2], ()> = FxHashMap::default();
        let mut lines = Vec::new();
        for start in starts {
            for next in &beside[&start] {
                let mut chain = vec![start];
                let (mut at, mut to) = (start, *next);
                while done.insert([at.min(to), at.max(to)], ()).is_none() {
                    chain.push(to);
                    if to == start || is_end(to) {
                        break;
                    }
                    let ways = &beside[&to];
                    let onward = if ways[0] == at { ways[1] } else { ways[0] };
                    (at, to) = (to, onward);
                }
                self.straighten(&chain, &mut lines);
            }
        }
        lines
    }

    /// Adds a chain with as few of its points as tell where it runs.
    fn straighten(&self, chain: &[u32], lines: &mut Vec<[u32; 2]>) {
        let [first, .., last] = chain else { return };
        if chain.len() == 2 {
            lines.push([*first, *last]);
            return;
        }
        let place = |v: u32| self.points[v as usize];
        let (a, b) = (place(*first), place(*last));
        let along = [b[0] - a[0], b[1] - a[1]];
        let long = along[0].hypot(along[1]);
        // A chain that goes around is divided where it is furthest off.
        let off = |v: u32| match long > MOVED_MM {
            true => turn(a, b, place(v)).abs() / long,
            false => (place(v)[0] - a[0]).hypot(place(v)[1] - a[1]),
        };
        let inner = &chain[1..chain.len() - 1];
        // What turns back lies beside the line, but beyond its ends.
        let is_beyond = |v: u32| {
            let p = place(v);
            let t = (p[0] - a[0]) * along[0] + (p[1] - a[1]) * along[1];
            t < 0.0 || t > long * long
        };
        let furthest = (1..=inner.len()).max_by(|x, y| off(chain[*x]).total_cmp(&off(chain[*y])));
        let Some(furthest) = furthest else { return };
        let is_straight = long > MOVED_MM
            && off(chain[furthest]) <= MOVED_MM
            && !inner.iter().any(|v| is_beyond(*v));
        if is_straight {
            lines.push([*first, *last]);
            return;
        }
        self.straighten(&chain[..=furthest], lines);
        self.straighten(&chain[furthest..], lines);
    }

    fn has_the_same_areas(&self, thin: &Divided) -> bool {
        let border_mm: f64 = self
            .borders
            .iter()
            .map(|[a, b]| {
                let (p, q) = (self.points[*a as usize], self.points[*b as usize]);
                (p[0] - q[0]).hypot(p[1] - q[1])
            })
            .sum();
        let (mut whole, mut off) = (0.0, 0.0);
        let mut areas: FxHashMap<Label, f64> = FxHashMap::default();
        for (sign, of) in [(1.0, self.divided), (-1.0, thin)] {
            for (t, label) in of.triangles.iter().zip(&of.labels) {
                let [a, b, c] = t.map(|s| of.spots[s as usize].shares());
                let area = turn(a, b, c);
                *areas.entry(*label).or_default() += sign * area;
                whole += sign * area;
            }
        }
        for left in areas.values() {
            off += left.abs();
        }
        // Areas are shares of the facet; the corners' places give its size.
        let corner = |k: u8| {
            let at = self
                .divided
                .spots
                .iter()
                .position(|s| *s == Spot::Corner(k));
            at.map(|at| self.points[at])
        };
        let (Some(a), Some(b), Some(c)) = (corner(0), corner(1), corner(2)) else {
            return false;
        };
        let mm2 = 0.5 * turn(a, b, c);
        whole.abs() < 1e-9 && off * mm2 <= MOVED_MM * border_mm + 1e-9
    }
}

fn altitude([a, b, c]: [[f64; 2]; 3]) -> f64 {
    let long = |p: [f64; 2], q: [f64; 2]| (p[0] - q[0]).hypot(p[1] - q[1]);
    let longest = long(a, b).max(long(b, c)).max(long(c, a));
    turn(a, b, c) / longest
}
