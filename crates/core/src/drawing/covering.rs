//! Which of several areas covers a place.

use super::squares::{Piece, Squares};

/// Areas that share no ground, by the pieces of their outlines.
pub(super) struct Covering {
    squares: Squares,
    /// Pieces of outline with the area's number; of two areas that share one, both.
    sides: Vec<(Piece, u16)>,
    /// Numbers of sides by square.
    inside: Vec<Vec<u32>>,
    /// Just to the right of each column of squares: from which height on which area lies there, upward.
    lines: Vec<Vec<(f64, Option<u16>)>>,
}

impl Covering {
    /// # Cost
    /// n log n in the sides.
    pub(super) fn new(squares: Squares, sides: Vec<(Piece, u16)>) -> Covering {
        // The lower end first: then two areas at one piece find the same crossings.
        let up = |([a, b], area): (Piece, u16)| match (a[1], a[0]) <= (b[1], b[0]) {
            true => ([a, b], area),
            false => ([b, a], area),
        };
        let sides: Vec<(Piece, u16)> = sides.into_iter().map(up).collect();
        let inside = squares.sorted_in(sides.iter().map(|s| s.0));
        let mut crossings: Vec<Vec<(f64, u16)>> = vec![Vec::new(); squares.across];
        for ([a, b], area) in &sides {
            let [one, other] = [a, b].map(|p| column_of(&squares, p[0]));
            for column in one.min(other)..one.max(other) {
                crossings[column].push((crossing(&squares, column, [*a, *b]), *area));
            }
        }
        let line = |mut all: Vec<(f64, u16)>| {
            all.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
            let mut within: Vec<u16> = Vec::new();
            let mut turn_over = |(y, area): (f64, u16)| {
                toggle(&mut within, area);
                (y, within.iter().copied().min())
            };
            all.into_iter().map(&mut turn_over).collect()
        };
        Covering {
            squares,
            inside,
            lines: crossings.into_iter().map(line).collect(),
            sides,
        }
    }

    /// The area at a place.
    ///
    /// # Cost
    /// What lies in one square.
    pub(super) fn at(&self, p: [f64; 2]) -> Option<usize> {
        let [low, high] = self.squares.bounds();
        if (0..2).any(|i| !(low[i]..=high[i]).contains(&p[i])) {
            return None;
        }
        let (rows, columns) = self.squares.range(p, p);
        let (row, column) = (*rows.start(), *columns.start());
        let line = &self.lines[column];
        let above = line.partition_point(|(y, _)| *y <= p[1]);
        let mut within: Vec<u16> = above
            .checked_sub(1)
            .and_then(|n| line[n].1)
            .into_iter()
            .collect();
        // From there to the left, over every side on the way.
        for number in &self.inside[row * self.squares.across + column] {
            let ([a, b], area) = self.sides[*number as usize];
            if (a[1] > p[1]) == (b[1] > p[1]) {
                continue;
            }
            let at = a[0] + (p[1] - a[1]) / (b[1] - a[1]) * (b[0] - a[0]);
            if at > p[0] && self.before_line(column, [a, b], p[1]) {
                toggle(&mut within, area);
            }
        }
        within.into_iter().min().map(usize::from)
    }

    /// Whether a side that passes a height does so before the line of a column: by the same crossing that stands in the
    /// line, as one that runs along the line has its ends on either side of it by rounding alone.
    fn before_line(&self, column: usize, [a, b]: Piece, height: f64) -> bool {
        let before = |p: [f64; 2]| column_of(&self.squares, p[0]) <= column;
        match (before(a), before(b)) {
            (true, true) => true,
            (false, false) => false,
            (true, false) => height < crossing(&self.squares, column, [a, b]),
            (false, true) => height >= crossing(&self.squares, column, [a, b]),
        }
    }
}

/// The column of squares that a place lies in.
fn column_of(squares: &Squares, x: f64) -> usize {
    let low = squares.low[1];
    *squares.range([x, low], [x, low]).1.start()
}

/// How high a side crosses the line at the right of a column.
fn crossing(squares: &Squares, column: usize, [a, b]: Piece) -> f64 {
    let x = right_of(squares, column);
    let share = ((x - a[0]) / (b[0] - a[0])).clamp(0.0, 1.0);
    a[1] + share * (b[1] - a[1])
}

fn right_of(squares: &Squares, column: usize) -> f64 {
    squares.low[0] + (column + 1) as f64 * squares.edge
}

/// Puts a number in, or takes it out.
fn toggle(within: &mut Vec<u16>, number: u16) {
    match within.iter().position(|n| *n == number) {
        Some(at) => {
            within.swap_remove(at);
        }
        None => within.push(number),
    }
}
