//! A grid of squares over pieces of line, for finding those near a place.

use std::ops::RangeInclusive;

/// Squares over a box.
#[derive(Clone, Copy)]
pub(super) struct Squares {
    /// Lower left corner, mm.
    pub(super) low: [f64; 2],
    /// Edge of a square, mm.
    pub(super) edge: f64,
    pub(super) across: usize,
    pub(super) along: usize,
}

/// A piece of line.
pub(super) type Piece = [[f64; 2]; 2];

/// Squares each way at most.
const MOST: f64 = 1024.0;

impl Squares {
    /// About as many squares as there are pieces.
    pub(super) fn over(pieces: &[Piece]) -> Squares {
        let (low, high) = box_of(pieces.iter().flatten());
        if pieces.is_empty() {
            return Squares {
                low: [0.0; 2],
                edge: 1.0,
                across: 1,
                along: 1,
            };
        }
        let size = [0, 1].map(|i| high[i] - low[i]);
        let wanted = (size[0] * size[1] / pieces.len() as f64).sqrt();
        let least = size[0].max(size[1]) / MOST;
        let edge = wanted.max(least).max(1e-6);
        let [across, along] = size.map(|s| (s / edge).floor() as usize + 1);
        Squares {
            low,
            edge,
            across,
            along,
        }
    }

    /// Lower left and upper right corner of all squares.
    pub(super) fn bounds(&self) -> [[f64; 2]; 2] {
        let size = [self.across, self.along].map(|n| n as f64 * self.edge);
        [self.low, [0, 1].map(|i| self.low[i] + size[i])]
    }

    /// Rows and columns of the squares that a box meets.
    pub(super) fn range(
        &self,
        low: [f64; 2],
        high: [f64; 2],
    ) -> (RangeInclusive<usize>, RangeInclusive<usize>) {
        let of = |v: f64, i: usize, most: usize| {
            let n = ((v - self.low[i]) / self.edge).floor();
            (n.max(0.0) as usize).min(most - 1)
        };
        let rows = of(low[1], 1, self.along)..=of(high[1], 1, self.along);
        let columns = of(low[0], 0, self.across)..=of(high[0], 0, self.across);
        (rows, columns)
    }

    /// The numbers of pieces by square. A piece that runs along the border of two squares is in both.
    pub(super) fn sorted_in(&self, pieces: impl Iterator<Item = Piece>) -> Vec<Vec<u32>> {
        let slack = 1e-9 * self.edge;
        let mut squares = vec![Vec::new(); self.across * self.along];
        for (number, [a, b]) in pieces.enumerate() {
            let (bottom, top) = (a[1].min(b[1]) - slack, a[1].max(b[1]) + slack);
            let (rows, _) = self.range([a[0], bottom], [a[0], top]);
            for row in rows {
                // Only as far to the sides as it goes within the row.
                let low = self.low[1] + row as f64 * self.edge;
                let x_at = |y: f64| match b[1] - a[1] {
                    rise if rise.abs() < 1e-12 => None,
                    rise => Some(a[0] + ((y - a[1]) / rise).clamp(0.0, 1.0) * (b[0] - a[0])),
                };
                let ends = [
                    x_at(low).unwrap_or(a[0]),
                    x_at(low + self.edge).unwrap_or(b[0]),
                ];
                let (left, right) = (ends[0].min(ends[1]) - slack, ends[0].max(ends[1]) + slack);
                let (_, columns) = self.range([left, low], [right, low]);
                for column in columns {
                    squares[row * self.across + column].push(number as u32);
                }
            }
        }
        squares
    }
}

/// The box around some points: its lower left and its upper right corner.
pub(super) fn box_of<'a>(points: impl IntoIterator<Item = &'a [f64; 2]>) -> ([f64; 2], [f64; 2]) {
    let mut low = [f64::INFINITY; 2];
    let mut high = [f64::NEG_INFINITY; 2];
    for p in points {
        for i in 0..2 {
            low[i] = low[i].min(p[i]);
            high[i] = high[i].max(p[i]);
        }
    }
    (low, high)
}
