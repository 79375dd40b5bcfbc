//! Areas of one sheet, found by place: which of them covers a point, and which borders pass through a box.

use super::laying::{Frame, Turn};
use crate::carve::{Node, shares_at};
use crate::model::OpenMesh;
use crate::shapes::{Area, place};
use rustc_hash::FxHashSet;

/// Areas that share no ground, laid out around the middle of their page, mm.
pub(crate) struct Sheet {
    /// Pieces of border, each once.
    borders: Vec<[[f64; 2]; 2]>,
    /// The same once for every area on it, with the area's number.
    sides: Vec<([[f64; 2]; 2], u16)>,
    low: [f64; 2],
    /// Edge of a square of the grid, mm.
    square: f64,
    across: usize,
    along: usize,
    /// Numbers of borders by square.
    squares: Vec<Vec<u32>>,
    /// Numbers of sides by row of squares.
    rows: Vec<Vec<u32>>,
    areas: usize,
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
        let mut low = [f64::INFINITY; 2];
        let mut high = [f64::NEG_INFINITY; 2];
        for p in borders.iter().flatten() {
            for i in 0..2 {
                low[i] = low[i].min(p[i]);
                high[i] = high[i].max(p[i]);
            }
        }
        let mut sheet = Sheet {
            square: 1.0,
            across: 1,
            along: 1,
            squares: Vec::new(),
            rows: Vec::new(),
            areas: areas.len(),
            borders,
            sides,
            low,
            period,
        };
        sheet.sort_in(high);
        sheet
    }

    /// Puts borders and sides where they are found.
    fn sort_in(&mut self, high: [f64; 2]) {
        const MOST: f64 = 1024.0;
        if self.borders.is_empty() {
            self.low = [0.0; 2];
            self.squares = vec![Vec::new()];
            self.rows = vec![Vec::new()];
            return;
        }
        let size = [0, 1].map(|i| high[i] - self.low[i]);
        let wanted = (size[0] * size[1] / self.borders.len() as f64).sqrt();
        let least = size[0].max(size[1]) / MOST;
        self.square = wanted.max(least).max(1e-6);
        let count = |i: usize| (size[i] / self.square).floor() as usize + 1;
        (self.across, self.along) = (count(0), count(1));
        self.squares = vec![Vec::new(); self.across * self.along];
        self.rows = vec![Vec::new(); self.along];
        for number in 0..self.borders.len() {
            let [a, b] = self.borders[number];
            let (rows, _) = self.range(a, b);
            for row in rows {
                // Only as far to the sides as it goes within the row.
                let (bottom, top) = (
                    self.low[1] + row as f64 * self.square,
                    self.low[1] + (row + 1) as f64 * self.square,
                );
                let x_at = |y: f64| match b[1] - a[1] {
                    rise if rise.abs() < 1e-12 => None,
                    rise => Some(a[0] + ((y - a[1]) / rise).clamp(0.0, 1.0) * (b[0] - a[0])),
                };
                let ends = [x_at(bottom).unwrap_or(a[0]), x_at(top).unwrap_or(b[0])];
                let (l, r) = (ends[0].min(ends[1]), ends[0].max(ends[1]));
                let (_, columns) = self.range([l, bottom], [r, bottom]);
                for column in columns {
                    self.squares[row * self.across + column].push(number as u32);
                }
            }
        }
        for number in 0..self.sides.len() {
            let [a, b] = self.sides[number].0;
            let (rows, _) = self.range(a, b);
            for row in rows {
                self.rows[row].push(number as u32);
            }
        }
    }

    /// Rows and columns of the squares between two points.
    fn range(
        &self,
        a: [f64; 2],
        b: [f64; 2],
    ) -> (
        std::ops::RangeInclusive<usize>,
        std::ops::RangeInclusive<usize>,
    ) {
        let of = |v: f64, i: usize, most: usize| {
            let n = ((v - self.low[i]) / self.square).floor();
            (n.max(0.0) as usize).min(most - 1)
        };
        let rows = of(a[1].min(b[1]), 1, self.along)..=of(a[1].max(b[1]), 1, self.along);
        let columns = of(a[0].min(b[0]), 0, self.across)..=of(a[0].max(b[0]), 0, self.across);
        (rows, columns)
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

    /// The box around it: its lower left corner and its upper right one.
    fn bounds(&self) -> [[f64; 2]; 2] {
        let size = [self.across, self.along].map(|n| n as f64 * self.square);
        [self.low, [0, 1].map(|i| self.low[i] + size[i])]
    }

    /// The area that covers a place.
    pub(crate) fn area_at(&self, p: [f64; 2]) -> Option<usize> {
        let [low, high] = self.bounds();
        if p[1] < low[1] || p[1] > high[1] {
            return None;
        }
        let row = ((p[1] - low[1]) / self.square) as usize;
        let mut inside = vec![false; self.areas];
        for number in &self.rows[row.min(self.along - 1)] {
            let ([a, b], area) = self.sides[*number as usize];
            if (a[1] > p[1]) != (b[1] > p[1]) {
                let x = a[0] + (p[1] - a[1]) / (b[1] - a[1]) * (b[0] - a[0]);
                inside[area as usize] ^= x > p[0];
            }
        }
        inside.iter().position(|i| *i)
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
        let least = |i: usize| flat.iter().fold(f64::INFINITY, |m, p| m.min(p[i]));
        let most = |i: usize| flat.iter().fold(f64::NEG_INFINITY, |m, p| m.max(p[i]));
        (flat, [[least(0), least(1)], [most(0), most(1)]])
    }

    /// How far to the right the drawing has to be moved to come near a box: not at all, or around once.
    fn shifts(&self, [low, high]: [[f64; 2]; 2]) -> Vec<f64> {
        let [l, h] = self.bounds();
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
        let (rows, columns) = self.range(low, high);
        for row in rows {
            for column in columns.clone() {
                near.extend(&self.squares[row * self.across + column]);
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
        let mut crossings: Vec<(f64, Node)> = Vec::new();
        for side in 0..3 {
            let next = (side + 1) % 3;
            let is_up = seen.ids[side] < seen.ids[next];
            let (low, high) = if is_up { (side, next) } else { (next, side) };
            // As both facets at the edge see it: from its lower vertex on, which they lay to the same place.
            let vertices = [seen.ids[low], seen.ids[high]];
            let ends = vertices.map(|v| open.mesh.vertices[v as usize]);
            let first = frame.flat(ends[0]);
            let by = match self.period {
                Some(period) => period * ((seen.flat[low][0] - first[0]) / period).round(),
                None => 0.0,
            };
            let [p, q] = [a, b].map(|p| [p[0] - by, p[1]]);
            if let Some((t, along)) = self.crossing(frame, ends, [p, q]) {
                let [low, high] = vertices;
                crossings.push((along, Node::Edge { low, high, t }));
            }
        }
        joined(
            &mut crossings,
            &seen.corners,
            |p| frame.on_plane(p, &seen.corners),
            [a, b],
        )
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

/// What of a piece of border lies on a facet. `crossings`: where it crosses the facet's edges, each with the share of the way along the
/// piece; `on_plane`: the place in the facet's plane of a point of the drawing.
pub(super) fn joined(
    crossings: &mut [(f64, Node)],
    corners: &[[f64; 3]; 3],
    on_plane: impl Fn([f64; 2]) -> Option<[f64; 3]>,
    [a, b]: [[f64; 2]; 2],
) -> Option<[Node; 2]> {
    crossings.sort_by(|a, b| a.0.total_cmp(&b.0));
    let depth = |p: [f64; 2]| on_plane(p).map(|on| (least_share(corners, on), on));
    match *crossings {
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
