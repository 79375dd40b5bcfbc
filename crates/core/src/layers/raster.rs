//! From outlines to cells: how much of each cell is inside, and how far its middle is from the outline.

use super::grid::PrintGrid;
use super::section::Segment;

/// A rectangle of cells of a grid, with a coverage and a distance for each.
#[derive(Default)]
pub(super) struct Raster {
    /// First cell in x and y.
    pub(super) first: [usize; 2],
    /// Cells in x and y.
    pub(super) size: [usize; 2],
    /// Covered share of each cell, row by row; each row has one spare entry at its end.
    cover: Vec<f64>,
    /// Squared distance in cells² from each cell's middle to the outline.
    near: Vec<f32>,
}

impl Raster {
    /// Lays the raster over the segments and works out the exact covered share of every cell.
    ///
    /// Signed areas are summed along each row from the outline alone: what lies to the right of a piece going down
    /// is inside. Shares are cut off at 0 and 1, so overlapping shells of one part count once.
    pub(super) fn cover(&mut self, grid: &PrintGrid, segments: &[Segment]) {
        let inverse = 1.0 / grid.step_mm;
        let local = |p: [f64; 2]| {
            [
                (p[0] - grid.origin[0]) * inverse,
                (p[1] - grid.origin[1]) * inverse,
            ]
        };
        let (mut low, mut high) = ([f64::INFINITY; 2], [f64::NEG_INFINITY; 2]);
        for s in segments {
            for p in [local(s.from), local(s.to)] {
                for i in 0..2 {
                    low[i] = low[i].min(p[i]);
                    high[i] = high[i].max(p[i]);
                }
            }
        }
        if segments.is_empty() {
            self.size = [0, 0];
            return;
        }
        self.first = low.map(|c| c.max(0.0) as usize);
        self.size = [0, 1].map(|i| {
            ((high[i].max(0.0) as usize) + 2 - self.first[i]).min(grid.cells[i] - self.first[i])
        });
        let width = self.size[0] + 2;
        self.cover.clear();
        self.cover.resize(width * self.size[1], 0.0);
        let shift = self.first.map(|f| f as f64);
        for s in segments {
            let (a, b) = (local(s.from), local(s.to));
            let ends = [
                [a[0] - shift[0], a[1] - shift[1]],
                [b[0] - shift[0], b[1] - shift[1]],
            ];
            add_edge(&mut self.cover, width, self.size[1], ends);
        }
        for row in self.cover.chunks_exact_mut(width) {
            let mut sum = 0.0;
            for share in row {
                sum += *share;
                *share = sum.clamp(0.0, 1.0);
            }
        }
    }

    /// Covered share of a cell of this raster, 0 to 1; rounding dust counts as none.
    pub(super) fn share(&self, x: usize, y: usize) -> f64 {
        let share = self.cover[y * (self.size[0] + 2) + x];
        if share < 1e-9 { 0.0 } else { share }
    }

    /// Works out the distance from every cell's middle to the outline, as far as `reach_mm`; beyond, it is more than that.
    pub(super) fn measure(&mut self, grid: &PrintGrid, segments: &[Segment], reach_mm: f64) {
        let inverse = 1.0 / grid.step_mm;
        let reach = reach_mm * inverse;
        self.near.clear();
        self.near.resize(self.size[0] * self.size[1], f32::INFINITY);
        let to_cells = |p: [f64; 2]| {
            [0, 1].map(|i| ((p[i] - grid.origin[i]) * inverse - self.first[i] as f64 - 0.5) as f32)
        };
        for s in segments {
            let (a, b) = (to_cells(s.from), to_cells(s.to));
            let d = [b[0] - a[0], b[1] - a[1]];
            let l2 = d[0] * d[0] + d[1] * d[1];
            let per_length = if l2 > 0.0 { 1.0 / l2 } else { 0.0 };
            let range = |i: usize| {
                let low = (a[i].min(b[i]) - reach as f32).ceil().max(0.0) as usize;
                let high = (a[i].max(b[i]) + reach as f32).floor();
                let end = (high + 1.0).clamp(0.0, self.size[i] as f32) as usize;
                // What is far off is not near any cell.
                low.min(end)..end
            };
            let columns = range(0);
            for y in range(1) {
                let row = &mut self.near[y * self.size[0]..(y + 1) * self.size[0]];
                let py = y as f32 - a[1];
                let first = columns.start;
                for (x, near) in row[columns.clone()].iter_mut().enumerate() {
                    let px = (first + x) as f32 - a[0];
                    let t = ((px * d[0] + py * d[1]) * per_length).clamp(0.0, 1.0);
                    let (ex, ey) = (px - t * d[0], py - t * d[1]);
                    let e2 = ex * ex + ey * ey;
                    *near = if e2 < *near { e2 } else { *near };
                }
            }
        }
    }

    /// Squared distance in cells² from a cell's middle to the outline; beyond the reach asked for, some more than that.
    pub(super) fn near2(&self, x: usize, y: usize) -> f32 {
        self.near[y * self.size[0] + x]
    }
}

/// Adds one edge, in cells, to the running-sum buffer: after summing along the rows each cell holds the share that
/// lies to the right of upward edges, counted negative (the inside is on the left of an edge).
fn add_edge(cover: &mut [f64], width: usize, rows: usize, [a, b]: [[f64; 2]; 2]) {
    if a[1] == b[1] {
        return;
    }
    let (sign, low, high) = if a[1] < b[1] {
        (-1.0, a, b)
    } else {
        (1.0, b, a)
    };
    let slope = (high[0] - low[0]) / (high[1] - low[1]);
    let mut x = low[0];
    let first_row = low[1].max(0.0) as usize;
    for y in first_row..(high[1].ceil() as usize).min(rows) {
        let row = &mut cover[y * width..(y + 1) * width];
        let height = ((y + 1) as f64).min(high[1]) - (y as f64).max(low[1]);
        let next = x + slope * height;
        let amount = sign * height;
        let (left, right) = if x < next { (x, next) } else { (next, x) };
        let (first, last) = (left.max(0.0) as usize, right.max(0.0) as usize);
        let last = last.min(width - 2);
        if last <= first {
            // Within one column: the mean x splits the area between this cell and the ones to its right.
            let inside = 0.5 * (left + right) - first as f64;
            row[first.min(last)] += amount * (1.0 - inside);
            row[first.min(last) + 1] += amount * inside;
        } else {
            // Across columns: the covered share right of the edge grows as the integral of the crossed width.
            let per_column = amount / (right - left);
            let mut before = 0.0;
            for column in first..=last {
                let c = column as f64;
                let (enter, leave) = (left.max(c), right.min(c + 1.0));
                // Area in this column right of the edge, plus all that entered in columns to the left.
                let crossed = (leave - enter).max(0.0);
                let own = per_column * crossed * (c + 1.0 - 0.5 * (enter + leave));
                let full = per_column * (enter - left).max(0.0);
                row[column] += full + own - before;
                before = full + own;
            }
            row[last + 1] += amount - before;
        }
        x = next;
    }
}
