//! Areas of one sheet, found by place: which of them covers a point, and which borders pass through a box.

use super::covering::Covering;
use super::laying::{Frame, Turn};
use super::squares::{Piece, Squares, box_of};
use crate::carve::{Node, shares_at};
use crate::model::OpenMesh;
use crate::shapes::{Area, place};
use rustc_hash::FxHashSet;

/// Areas that share no ground, laid out around the middle of their page, mm.
pub(crate) struct Sheet {
    /// Pieces of border, each once.
    borders: Vec<Piece>,
    grid: Squares,
    /// Numbers of borders by square.
    squares: Vec<Vec<u32>>,
    covering: Covering,
    /// After what length to the right the same place comes again.
    period: Option<f64>,
}

/// Around an axis no piece of border is longer than this part of its radius: so it is straight on a facet to 0.02 % of it.
const STRAIGHT: f64 = 0.035;

impl Sheet {
    /// Some areas of a page, laid with a turn; no longer than once around where it is wound.
    ///
    /// # Cost
    /// n log n in the corners of all areas.
    ///
    /// `period`: after what length to the right the same place comes again, where it is wound.
    pub(crate) fn new(areas: &[Area], turn: &Turn, period: Option<f64>) -> Sheet {
        let longest = period.map_or(f64::INFINITY, |p| p / std::f64::consts::TAU * STRAIGHT);
        let mut known = FxHashSet::default();
        let mut borders = Vec::new();
        let mut sides = Vec::new();
        for (number, area) in areas.iter().enumerate() {
            for ring in area.rings() {
                for (a, b) in ring.iter().zip(ring.iter().cycle().skip(1)) {
                    let (p, q) = ((a.x, a.y), (b.x, b.y));
                    let [a, b] = [*a, *b].map(|p| turn.laid(place(p)));
                    sides.push(([a, b], number as u16));
                    if !known.insert((p.min(q), p.max(q))) {
                        continue;
                    }
                    let pieces = ((b[0] - a[0]).hypot(b[1] - a[1]) / longest).ceil().max(1.0);
                    let at = |k: f64| match k {
                        k if k == pieces => b,
                        k => [0, 1].map(|i| a[i] + k / pieces * (b[i] - a[i])),
                    };
                    borders
                        .extend((0..pieces as usize).map(|k| [at(k as f64), at(k as f64 + 1.0)]));
                }
            }
        }
        let grid = Squares::over(&borders);
        Sheet {
            squares: grid.sorted_in(borders.iter().copied()),
            covering: Covering::new(grid, sides),
            grid,
            borders,
            period,
        }
    }

    /// Takes out borders that run along the edges of a page of a size, from its lower left corner on: nothing lies beyond them.
    pub(super) fn drop_rim(&mut self, size: [f64; 2], within: f64) {
        let runs_along = |[a, b]: &[[f64; 2]; 2]| {
            (0..2).any(|i| {
                let near = |at: f64| (a[i] - at).abs() < within && (b[i] - at).abs() < within;
                near(0.0) || near(size[i])
            })
        };
        let rim: Vec<bool> = self.borders.iter().map(runs_along).collect();
        for square in &mut self.squares {
            square.retain(|number| !rim[*number as usize]);
        }
    }

    /// The area that covers a place.
    pub(crate) fn area_at(&self, p: [f64; 2]) -> Option<usize> {
        self.covering.at(p)
    }

    /// The area under a place of the model.
    pub(crate) fn area_under(&self, frame: &Frame, p: [f64; 3]) -> Option<usize> {
        self.area_at(frame.flat(p))
    }

    /// The corners of a facet in the drawing, one beside the other where it is wound, and the box around them.
    fn spread(&self, frame: &Frame, corners: &[[f64; 3]; 3]) -> ([[f64; 2]; 3], [[f64; 2]; 2]) {
        let mut flat = corners.map(|p| frame.flat(p));
        if let Some(period) = self.period {
            for k in 1..3 {
                flat[k][0] += period * ((flat[0][0] - flat[k][0]) / period).round();
            }
        }
        let (low, high) = box_of(&flat);
        (flat, [low, high])
    }

    /// How far to the right the drawing has to be moved to come near a box: not at all, or around once.
    fn shifts(&self, [low, high]: [[f64; 2]; 2]) -> Vec<f64> {
        let [l, h] = self.grid.bounds();
        if low[1] > h[1] || high[1] < l[1] {
            return Vec::new();
        }
        let around: &[f64] = match self.period {
            Some(_) => &[-1.0, 0.0, 1.0],
            None => &[0.0],
        };
        let period = self.period.unwrap_or(0.0);
        let meets = |by: &f64| low[0] <= h[0] + by && high[0] >= l[0] + by;
        around.iter().map(|k| k * period).filter(meets).collect()
    }

    /// Whether a facet reaches into the sheet.
    pub(crate) fn reaches(&self, frame: &Frame, corners: &[[f64; 3]; 3]) -> bool {
        !self.borders.is_empty() && !self.shifts(self.spread(frame, corners).1).is_empty()
    }

    /// The pieces of border on a facet.
    pub(crate) fn lines(&self, frame: &Frame, open: &OpenMesh, facet: u32) -> Vec<[Node; 2]> {
        let corners = open.mesh.corners(facet);
        let ids = open.mesh.facets[facet as usize];
        let (flat, around) = self.spread(frame, &corners);
        let mut out = Vec::new();
        for shift in self.shifts(around) {
            let here = around.map(|p| [p[0] - shift, p[1]]);
            for [a, b] in self.near(here) {
                let [a, b] = [a, b].map(|p| [p[0] + shift, p[1]]);
                let seen = Seen { ids, corners, flat };
                out.extend(self.piece(frame, open, &seen, [a, b]));
            }
        }
        out
    }

    /// Pieces of border whose boxes meet a box, each once.
    pub(super) fn near(&self, [low, high]: [[f64; 2]; 2]) -> Vec<[[f64; 2]; 2]> {
        let mut near: Vec<u32> = Vec::new();
        let (rows, columns) = self.grid.range(low, high);
        for row in rows {
            for column in columns.clone() {
                near.extend(&self.squares[row * self.grid.across + column]);
            }
        }
        near.sort_unstable();
        near.dedup();
        let meets = |[a, b]: &[[f64; 2]; 2]| {
            (0..2).all(|i| a[i].min(b[i]) <= high[i] && a[i].max(b[i]) >= low[i])
        };
        let pieces = near.into_iter().map(|n| self.borders[n as usize]);
        pieces.filter(meets).collect()
    }

    /// What of a piece of border lies on a facet.
    fn piece(
        &self,
        frame: &Frame,
        open: &OpenMesh,
        seen: &Seen,
        [a, b]: [[f64; 2]; 2],
    ) -> Option<[Node; 2]> {
        let cross = |low: usize, high: usize| {
            // As both facets at the edge see it: from its lower vertex on, which they lay to the same place.
            let vertices = [seen.ids[low], seen.ids[high]];
            let ends = vertices.map(|v| open.mesh.vertices[v as usize]);
            let first = frame.flat(ends[0]);
            let by = match self.period {
                Some(period) => period * ((seen.flat[low][0] - first[0]) / period).round(),
                None => 0.0,
            };
            let piece = [a, b].map(|p| [p[0] - by, p[1]]);
            self.crossing(frame, ends, piece)
        };
        let on_plane = |p| frame.on_plane(p, &seen.corners);
        joined(seen.ids, &seen.corners, cross, on_plane, [a, b])
    }

    /// Where a piece of border crosses an edge: the share of the way along the edge, and along the piece.
    fn crossing(
        &self,
        frame: &Frame,
        [low, high]: [[f64; 3]; 2],
        [a, b]: [[f64; 2]; 2],
    ) -> Option<(f64, f64)> {
        let way = [b[0] - a[0], b[1] - a[1]];
        let first = frame.flat(low);
        let laid = |p: [f64; 3]| {
            let mut q = frame.flat(p);
            if let Some(period) = self.period {
                q[0] += period * ((first[0] - q[0]) / period).round();
            }
            q
        };
        let off = |q: [f64; 2]| way[0] * (q[1] - a[1]) - way[1] * (q[0] - a[0]);
        let at = |t: f64| laid([0, 1, 2].map(|i| low[i] + t * (high[i] - low[i])));
        let (mut from, mut to) = ((0.0, off(first)), (1.0, off(laid(high))));
        if (from.1 > 0.0) == (to.1 > 0.0) {
            return None;
        }
        let mut t = from.1 / (from.1 - to.1);
        if self.period.is_some() {
            // Wound around, an edge is bent in the drawing: false position with halving ("Illinois", Dowell and Jarratt 1971, from memory).
            for _ in 0..60 {
                let value = off(at(t));
                if value == 0.0 || to.0 - from.0 < 1e-14 {
                    break;
                }
                if (value > 0.0) == (to.1 > 0.0) {
                    to = (t, value);
                    from.1 *= 0.5;
                } else {
                    from = (t, value);
                    to.1 *= 0.5;
                }
                let next = from.0 + from.1 / (from.1 - to.1) * (to.0 - from.0);
                if (next - t).abs() < 1e-15 {
                    break;
                }
                t = next;
            }
        }
        let q = at(t);
        let long = way[0] * way[0] + way[1] * way[1];
        let along = (way[0] * (q[0] - a[0]) + way[1] * (q[1] - a[1])) / long;
        is_along(along).then_some((t, along))
    }
}

/// Nearer to an edge than this share a place is on it.
const ON_EDGE: f64 = 1e-9;

/// Whether a crossing is on the piece of border, ends included: a border that ends on an edge ends there for both facets.
pub(super) fn is_along(share: f64) -> bool {
    (-ON_EDGE..=1.0 + ON_EDGE).contains(&share)
}

/// What of a piece of border lies on a facet. `cross`: where the piece crosses the edge from one corner to another, of which the first is
/// the vertex of the lower number: the share of the way along the edge, and along the piece; `on_plane`: the place in the facet's plane of
/// a point of the drawing.
pub(super) fn joined(
    ids: [u32; 3],
    corners: &[[f64; 3]; 3],
    cross: impl Fn(usize, usize) -> Option<(f64, f64)>,
    on_plane: impl Fn([f64; 2]) -> Option<[f64; 3]>,
    [a, b]: Piece,
) -> Option<[Node; 2]> {
    let on_edge = |side: usize| {
        let next = (side + 1) % 3;
        let is_up = ids[side] < ids[next];
        let (low, high) = if is_up { (side, next) } else { (next, side) };
        let (t, along) = cross(low, high)?;
        let (low, high) = (ids[low], ids[high]);
        Some((along, Node::Edge { low, high, t }))
    };
    let mut crossings: Vec<(f64, Node)> = (0..3).filter_map(on_edge).collect();
    crossings.sort_by(|a, b| a.0.total_cmp(&b.0));
    let depth = |p: [f64; 2]| on_plane(p).map(|on| (least_share(corners, on), on));
    match crossings[..] {
        [] => {
            let (p, q) = (depth(a)?, depth(b)?);
            let is_in = p.0.max(q.0) > ON_EDGE && p.0.min(q.0) > -1e-6;
            is_in.then_some([Node::Inside(p.1), Node::Inside(q.1)])
        }
        [(_, only)] => {
            let inner = match (depth(a), depth(b)) {
                (Some(p), Some(q)) if p.0 >= q.0 => p,
                (Some(p), None) => p,
                (_, Some(q)) => q,
                (None, None) => return None,
            };
            // What only touches the edge with its end lies on the facet beyond.
            (inner.0 > ON_EDGE).then_some([only, Node::Inside(inner.1)])
        }
        [(_, first), .., (_, last)] => Some([first, last]),
    }
}

/// A facet as it is laid out.
struct Seen {
    ids: [u32; 3],
    corners: [[f64; 3]; 3],
    flat: [[f64; 2]; 3],
}

/// The least of a point's shares of three corners: how far inside it is, 1/3 in the middle and below 0 outside.
fn least_share(corners: &[[f64; 3]; 3], p: [f64; 3]) -> f64 {
    let [u, v] = shares_at(p, corners);
    u.min(v).min(1.0 - u - v)
}
