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
            let (left, right) = (a[0].min(b[0]), a[0].max(b[0]));
            let (_, columns) = squares.range([left, a[1]], [right, a[1]]);
            // One that begins just on a line crosses that line too.
            for column in columns.start().saturating_sub(1)..=*columns.end() {
                let x = right_of(&squares, column);
                if (a[0] > x) != (b[0] > x) {
                    let y = a[1] + (x - a[0]) / (b[0] - a[0]) * (b[1] - a[1]);
                    crossings[column].push((y, *area));
                }
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
        let x = right_of(&self.squares, column);
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
            if at > p[0] && at <= x {
                toggle(&mut within, area);
            }
        }
        within.into_iter().min().map(usize::from)
    }
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
