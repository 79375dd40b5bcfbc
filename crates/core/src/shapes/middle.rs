//! The middle line of what is thin, with its width: for beads that take all of it at once.
//!
//! # Source
//! Fortune, "A sweepline algorithm for Voronoi diagrams", 1987, for line segments (`boostvoronoi`); middle lines as beads of
//! changing width after Kuipers, Doubrovski, Wu, Wang, "A framework for adaptive width control of dense contour-parallel toolpaths
//! in fused deposition modeling", Computer-Aided Design 128, 2020 (both from memory).

use super::area::Area;
use super::lattice::{LATTICE_MM, Ring, steps};
use super::simplify::simplified;
use boostvoronoi::prelude::{Builder, Diagram};
use std::collections::BTreeMap;
use std::panic::{AssertUnwindSafe, catch_unwind};

/// A line along the middle.
#[derive(Debug, Clone, PartialEq)]
pub struct MiddleLine {
    /// Places in mm, each with how wide the area is there, mm.
    pub points: Vec<([f64; 2], f64)>,
    /// Whether it ends where it begins; the first place is not repeated.
    pub is_closed: bool,
}

/// The middle lines of an area where it is at least so wide, mm. Corners have no branch of their own; a blob without any
/// length gets a line as long as makes its area. Whatever cannot be worked out has none.
///
/// # Cost
/// n log n in the corners of each island, and their square for telling inside from outside: meant for what is thin.
pub fn middle_lines(area: &Area, least_mm: f64) -> Vec<MiddleLine> {
    let mut lines = Vec::new();
    for island in area.shapes() {
        let within = f64::from(steps(0.004));
        let rings: Vec<Ring> = island
            .iter()
            .map(|r| simplified(r, within))
            .filter(|r| r.len() > 2)
            .collect();
        let before = lines.len();
        if let Some(web) = Web::of(&rings, 0.5 * least_mm) {
            lines.extend(web.lines());
        }
        if lines.len() == before {
            lines.extend(dot(&rings, least_mm));
        }
    }
    lines
}

/// A short line through a blob, as long as makes its area at its width; none if it is too small.
fn dot(rings: &[Ring], least_mm: f64) -> Option<MiddleLine> {
    let area = Area::of_rings(rings);
    let mm2 = area.mm2();
    let (low, high) = area.bounds()?;
    let size = [high[0] - low[0], high[1] - low[1]];
    let (along, wide) = if size[0] >= size[1] {
        (0, size[1])
    } else {
        (1, size[0])
    };
    if wide < least_mm || mm2 < least_mm * least_mm {
        return None;
    }
    let middle = [0, 1].map(|i| 0.5 * (low[i] + high[i]));
    let half = 0.5 * (mm2 / wide).min(size[along]);
    let end = |sign: f64| {
        let mut p = middle;
        p[along] += sign * half;
        (p, wide)
    };
    Some(MiddleLine {
        points: vec![end(-1.0), end(1.0)],
        is_closed: false,
    })
}

/// Voronoi vertices inside of an island, and what joins them.
struct Web {
    places: Vec<[f64; 2]>,
    radii: Vec<f64>,
    /// For each vertex its neighbours.
    beside: Vec<Vec<usize>>,
}

impl Web {
    fn of(rings: &[Ring], least_radius_mm: f64) -> Option<Web> {
        let sides: Vec<[i32; 4]> = rings
            .iter()
            .flat_map(|r| {
                let next = r.iter().cycle().skip(1);
                r.iter().zip(next).map(|(a, b)| [a.x, a.y, b.x, b.y])
            })
            .collect();
        let diagram = diagram(&sides)?;
        let mut web = Web {
            places: Vec::new(),
            radii: Vec::new(),
            beside: Vec::new(),
        };
        let mut numbers: BTreeMap<usize, usize> = BTreeMap::new();
        for edge in diagram.edges() {
            let ends = inner_edge(&diagram, edge, &sides);
            let Some(ends) = ends else { continue };
            let [a, b] = ends.map(|(number, p, radius)| {
                let number = *numbers.entry(number).or_insert_with(|| web.add(p, radius));
                (number, p, radius)
            });
            let middle = [0, 1].map(|i| 0.5 * (a.1[i] + b.1[i]));
            if !is_inside(rings, middle) {
                continue;
            }
            web.join(a.0, b.0, least_radius_mm);
        }
        web.prune();
        Some(web)
    }

    fn add(&mut self, p: [f64; 2], radius: f64) -> usize {
        self.places.push([p[0] * LATTICE_MM, p[1] * LATTICE_MM]);
        self.radii.push(radius * LATTICE_MM);
        self.beside.push(Vec::new());
        self.places.len() - 1
    }

    /// Joins two vertices as far as what lies between them is wide enough.
    fn join(&mut self, a: usize, b: usize, least: f64) {
        let (low, high) = if self.radii[a] < self.radii[b] {
            (a, b)
        } else {
            (b, a)
        };
        if self.radii[high] <= least || a == b {
            return;
        }
        let mut end = low;
        if self.radii[low] < least {
            let t = (least - self.radii[low]) / (self.radii[high] - self.radii[low]);
            let (p, q) = (self.places[low], self.places[high]);
            self.places.push([0, 1].map(|i| p[i] + t * (q[i] - p[i])));
            self.radii.push(least);
            self.beside.push(Vec::new());
            end = self.places.len() - 1;
        }
        if !self.beside[high].contains(&end) {
            self.beside[high].push(end);
            self.beside[end].push(high);
        }
    }

    fn length(&self, a: usize, b: usize) -> f64 {
        let (p, q) = (self.places[a], self.places[b]);
        (p[0] - q[0]).hypot(p[1] - q[1])
    }

    /// Takes off the branches that only lead into corners: those no longer than the area is wide where they begin.
    fn prune(&mut self) {
        let mut gone: Vec<Vec<usize>> = Vec::new();
        for leaf in 0..self.places.len() {
            if self.beside[leaf].len() != 1 {
                continue;
            }
            let mut way = vec![leaf];
            let (mut before, mut at) = (leaf, self.beside[leaf][0]);
            let mut length = self.length(before, at);
            while self.beside[at].len() == 2 {
                way.push(at);
                let next = self.beside[at].iter().copied().find(|n| *n != before);
                let Some(next) = next else { break };
                length += self.length(at, next);
                (before, at) = (at, next);
            }
            if self.beside[at].len() > 2 && length < 1.2 * self.radii[at] {
                way.push(at);
                gone.push(way);
            }
        }
        for way in gone {
            for pair in way.windows(2) {
                let [a, b] = [pair[0], pair[1]];
                self.beside[a].retain(|n| *n != b);
                self.beside[b].retain(|n| *n != a);
            }
        }
    }

    /// All lines between ends and crossings, then rings. Open ends reach on towards the edge.
    fn lines(mut self) -> Vec<MiddleLine> {
        let degree: Vec<usize> = self.beside.iter().map(Vec::len).collect();
        let mut lines = Vec::new();
        for ends_only in [true, false] {
            for start in 0..self.places.len() {
                while let Some(next) = self.beside[start].first().copied() {
                    if ends_only && degree[start] == 2 {
                        break;
                    }
                    lines.push(self.walk(start, next, &degree));
                }
            }
        }
        lines.retain(|l| l.points.len() > 1);
        lines
    }

    fn walk(&mut self, start: usize, next: usize, degree: &[usize]) -> MiddleLine {
        let mut way = vec![start];
        let (mut before, mut at) = (start, next);
        loop {
            self.beside[before].retain(|n| *n != at);
            self.beside[at].retain(|n| *n != before);
            way.push(at);
            if degree[at] != 2 || at == start {
                break;
            }
            let Some(next) = self.beside[at].first().copied() else {
                break;
            };
            (before, at) = (at, next);
        }
        let is_closed = way.first() == way.last();
        if is_closed {
            way.pop();
        }
        let mut points: Vec<([f64; 2], f64)> = way
            .iter()
            .map(|v| (self.places[*v], 2.0 * self.radii[*v]))
            .collect();
        if !is_closed {
            if degree[way[0]] == 1 {
                reach_on(&mut points);
            }
            if degree[way[way.len() - 1]] == 1 {
                points.reverse();
                reach_on(&mut points);
                points.reverse();
            }
        }
        MiddleLine { points, is_closed }
    }
}

/// The diagram of closed lines. Of some that come very near to one another the library asserts what does not hold: there is none then.
fn diagram(sides: &[[i32; 4]]) -> Option<Diagram> {
    let built = catch_unwind(AssertUnwindSafe(|| {
        let builder = Builder::<i32>::default().with_segments(sides.iter()).ok()?;
        builder.build().ok()
    }));
    built.ok().flatten()
}

/// Moves the first place outward, to where a round end would touch the edge less a quarter of the width.
fn reach_on(points: &mut [([f64; 2], f64)]) {
    let ((p, width), (q, _)) = (points[0], points[1]);
    let d = [p[0] - q[0], p[1] - q[1]];
    let length = d[0].hypot(d[1]);
    if length > 0.0 {
        let by = 0.3 * width / length;
        points[0].0 = [p[0] + by * d[0], p[1] + by * d[1]];
    }
}

/// Ends of an edge that is of a middle line: number of the vertex, place and distance from the outline, in steps of the lattice.
/// Of each pair of twins one.
fn inner_edge(
    diagram: &Diagram,
    edge: &boostvoronoi::prelude::Edge,
    sides: &[[i32; 4]],
) -> Option<[(usize, [f64; 2], f64); 2]> {
    let twin = edge.twin().ok()?;
    if !edge.is_primary() || edge.id().usize() > twin.usize() {
        return None;
    }
    let cell = diagram.cell(edge.cell().ok()?).ok()?;
    let side = sides.get(cell.source_index().usize())?;
    let end = |vertex| {
        let vertex = diagram.vertex(vertex).ok()?;
        let p = [vertex.x(), vertex.y()];
        if !p.iter().all(|c| c.is_finite()) {
            return None;
        }
        Some((vertex.get_id().usize(), p, away(p, side)))
    };
    let first = end(edge.vertex0()?)?;
    let last = end(diagram.edge_get_vertex1(edge.id()).ok()??)?;
    Some([first, last])
}

fn away(p: [f64; 2], side: &[i32; 4]) -> f64 {
    let [ax, ay, bx, by] = side.map(f64::from);
    let (d, v) = ([bx - ax, by - ay], [p[0] - ax, p[1] - ay]);
    let l2 = d[0] * d[0] + d[1] * d[1];
    let t = ((v[0] * d[0] + v[1] * d[1]) / l2.max(1e-300)).clamp(0.0, 1.0);
    (v[0] - t * d[0]).hypot(v[1] - t * d[1])
}

fn is_inside(rings: &[Ring], p: [f64; 2]) -> bool {
    let mut inside = false;
    for ring in rings {
        let next = ring.iter().cycle().skip(1);
        for (a, b) in ring.iter().zip(next) {
            let ([ax, ay], [bx, by]) = (
                [f64::from(a.x), f64::from(a.y)],
                [f64::from(b.x), f64::from(b.y)],
            );
            if (ay > p[1]) != (by > p[1]) && p[0] < ax + (p[1] - ay) / (by - ay) * (bx - ax) {
                inside = !inside;
            }
        }
    }
    inside
}
