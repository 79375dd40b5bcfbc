//! From pixels to areas that share their borders corner by corner.

use super::picture::NONE;
use crate::shapes::{Area, simplified_line, spot};
use i_overlay::i_float::int::point::IntPoint;
use std::collections::VecDeque;

/// Numbers of colours, row by row from the top.
pub(super) struct Grid {
    pub(super) size: [usize; 2],
    pub(super) labels: Vec<u8>,
}

impl Grid {
    /// What is at a pixel; [`NONE`] outside.
    fn at(&self, x: i64, y: i64) -> u8 {
        let [w, h] = self.size.map(|s| s as i64);
        match (0..w).contains(&x) && (0..h).contains(&y) {
            true => self.labels[(y * w + x) as usize],
            false => NONE,
        }
    }

    /// Gives what hangs together and has fewer pixels to what it has the longest border with.
    fn without_specks(mut self, least: usize) -> Grid {
        if least < 2 {
            return self;
        }
        // What is given away may make something else whole, or leave it as small as it was.
        const ROUNDS: usize = 3;
        for _ in 0..ROUNDS {
            if !self.give_specks(least) {
                break;
            }
        }
        self
    }

    fn give_specks(&mut self, least: usize) -> bool {
        let [w, h] = self.size;
        let mut seen = vec![false; self.labels.len()];
        let mut gave = false;
        let mut waiting = VecDeque::new();
        for first in 0..self.labels.len() {
            if seen[first] {
                continue;
            }
            let own = self.labels[first];
            seen[first] = true;
            waiting.push_back(first);
            let mut members = Vec::new();
            let mut borders = [0usize; 256];
            while let Some(at) = waiting.pop_front() {
                members.push(at);
                let (x, y) = (at % w, at / w);
                let beside = [
                    (x > 0).then(|| at - 1),
                    (x + 1 < w).then(|| at + 1),
                    (y > 0).then(|| at - w),
                    (y + 1 < h).then(|| at + w),
                ];
                for next in beside.into_iter().flatten() {
                    if self.labels[next] != own {
                        borders[usize::from(self.labels[next])] += 1;
                    } else if !seen[next] {
                        seen[next] = true;
                        waiting.push_back(next);
                    }
                }
            }
            if members.len() < least {
                let most = (0..256).max_by_key(|l| (borders[*l], 256 - l));
                if let Some(to) = most.filter(|l| borders[*l] > 0) {
                    members.iter().for_each(|at| self.labels[*at] = to as u8);
                    gave = true;
                }
            }
        }
        gave
    }
}

/// Directions along the edges of pixels: right, down, left, up.
const STEPS: [(i64, i64); 4] = [(1, 0), (0, 1), (-1, 0), (0, -1)];

/// The area of each colour, by its number. `specks`: fewer pixels are given away; `smooth`: how far borders are straightened, pixels.
/// Every border is one line that both sides share; borders keep off one another.
///
/// # Cost
/// Linear in pixels, n log n in the length of borders.
pub(super) fn traced(grid: Grid, specks: usize, smooth: f64, pixel_mm: f64) -> Vec<Area> {
    let grid = grid.without_specks(specks);
    let colours = grid.labels.iter().filter(|l| **l != NONE).max();
    let count = colours.map_or(0, |most| usize::from(*most) + 1);
    let mut rings: Vec<Pieces> = vec![Pieces::default(); count];
    for border in borders(&grid) {
        let line = straightened(&border, smooth, &grid, pixel_mm);
        let backward: Vec<IntPoint<i32>> = line.iter().rev().copied().collect();
        // Rows are counted down and mm up, so that what is to the left of the walk is to the left in mm as well.
        if let Some(side) = rings.get_mut(usize::from(border.left)) {
            side.add(line);
        }
        if let Some(side) = rings.get_mut(usize::from(border.right)) {
            side.add(backward);
        }
    }
    rings.into_iter().map(Pieces::area).collect()
}

/// A border between two colours: corners of pixels, from one place where several meet to another, or round to its begin.
struct Border {
    left: u8,
    right: u8,
    corners: Vec<[i64; 2]>,
    is_closed: bool,
}

/// How far a straightened border may be off the middles of its pixel edges: two that go past one pixel are 0.7 apart, so they never meet.
const MOST_SMOOTH: f64 = 0.3;

/// Edges on each side of a corner that is meant to be one, and no step of a slope.
const STRAIGHT: usize = 3;

/// Through the middles of the pixel edges, and through what is plainly a corner; straightened, on the lattice.
fn straightened(border: &Border, smooth: f64, grid: &Grid, pixel_mm: f64) -> Vec<IntPoint<i32>> {
    let height = grid.size[1] as f64;
    let on_lattice = |x: f64, y: f64| spot([x * pixel_mm, (height - y) * pixel_mm]);
    let corners = &border.corners;
    let edges = corners.len() - 1;
    let way = |i: usize| [0, 1].map(|k| corners[i + 1][k] - corners[i][k]);
    // How many edges before and after each are of its direction, itself counted.
    let mut before = vec![1; edges];
    let mut after = vec![1; edges];
    for i in 1..edges {
        if way(i) == way(i - 1) {
            before[i] = before[i - 1] + 1;
        }
    }
    for i in (0..edges - 1).rev() {
        if way(i) == way(i + 1) {
            after[i] = after[i + 1] + 1;
        }
    }
    let mut line: Vec<IntPoint<i32>> = Vec::with_capacity(edges + 2);
    for i in 0..edges {
        let [a, b] = [corners[i], corners[i + 1]].map(|c| c.map(|v| v as f64));
        line.push(on_lattice(0.5 * (a[0] + b[0]), 0.5 * (a[1] + b[1])));
        let next = match i + 1 < edges {
            true => i + 1,
            false if border.is_closed => 0,
            false => continue,
        };
        let is_corner = way(i) != way(next) && before[i] >= STRAIGHT && after[next] >= STRAIGHT;
        if is_corner && ways(grid, corners[i + 1]).len() == 2 {
            line.push(on_lattice(b[0], b[1]));
        }
    }
    let within = (smooth.min(MOST_SMOOTH) * pixel_mm * 1e5).max(1.0);
    if border.is_closed {
        // Around, beginning at both ends of it: what is straight is found from there.
        let far = (0..line.len())
            .max_by_key(|i| {
                let d = |a: i32, b: i32| (i64::from(a) - i64::from(b)).pow(2);
                d(line[*i].x, line[0].x) + d(line[*i].y, line[0].y)
            })
            .unwrap_or(0);
        let first = line[0];
        line.push(first);
        let mut kept = simplified_line(&line[..=far], within);
        kept.pop();
        kept.extend(simplified_line(&line[far..], within));
        return kept;
    }
    let end = |c: [i64; 2]| on_lattice(c[0] as f64, c[1] as f64);
    line.insert(0, end(corners[0]));
    line.push(end(corners[edges]));
    simplified_line(&line, within)
}

/// In which directions borders leave a corner.
fn ways(grid: &Grid, place: [i64; 2]) -> Vec<usize> {
    let leaves = |d: &usize| {
        let (l, r) = sides(grid, place, *d);
        l != r
    };
    (0..4).filter(leaves).collect()
}

/// Everything on the left of a step from a corner, and on its right.
fn sides(grid: &Grid, [x, y]: [i64; 2], direction: usize) -> (u8, u8) {
    // Rows go down: walking right, what is above is on the left.
    match direction {
        0 => (grid.at(x, y - 1), grid.at(x, y)),
        1 => (grid.at(x, y), grid.at(x - 1, y)),
        2 => (grid.at(x - 1, y), grid.at(x - 1, y - 1)),
        _ => (grid.at(x - 1, y - 1), grid.at(x, y - 1)),
    }
}

/// How the borders at a corner go on into one another: for each direction in which one leaves, that by which it came; none where they end.
fn goes_on(grid: &Grid, [x, y]: [i64; 2]) -> [Option<usize>; 4] {
    let mut on = [None; 4];
    match ways(grid, [x, y])[..] {
        [a, b] => {
            on[a] = Some(b);
            on[b] = Some(a);
        }
        [_, _, _, _] => {
            // Two colours that meet crosswise, or one that touches itself: it hangs together, the others go past it.
            let [nw, ne, sw, se] = [
                grid.at(x - 1, y - 1),
                grid.at(x, y - 1),
                grid.at(x - 1, y),
                grid.at(x, y),
            ];
            // Of two crosswise pairs the one of the higher number hangs together; nothing does so only if it must.
            let (falls, rises) = (nw == se, ne == sw);
            let rank = |l: u8| u8::wrapping_add(l, 1);
            let falls_first = falls && (!rises || rank(nw) > rank(ne));
            if falls_first {
                // Around the corners of the other two: right with up, down with left.
                [on[0], on[3], on[1], on[2]] = [Some(3), Some(0), Some(2), Some(1)];
            } else if rises {
                [on[0], on[1], on[2], on[3]] = [Some(1), Some(0), Some(3), Some(2)];
            }
        }
        _ => {}
    }
    on
}

/// All borders.
fn borders(grid: &Grid) -> Vec<Border> {
    let [w, h] = grid.size.map(|s| s as i64 + 1);
    // Which edges are walked: to the right and down from each corner.
    let mut walked = vec![[false; 2]; (w * h) as usize];
    let mut found = Vec::new();
    let edge = |[x, y]: [i64; 2], d: usize| match d {
        0 => ((y * w + x) as usize, 0),
        1 => ((y * w + x) as usize, 1),
        2 => ((y * w + x - 1) as usize, 0),
        _ => (((y - 1) * w + x) as usize, 1),
    };
    let mut walk = |start: [i64; 2], first: usize, found: &mut Vec<Border>, only_open: bool| {
        let (left, right) = sides(grid, start, first);
        let (at, side) = edge(start, first);
        if left == right || walked[at][side] {
            return;
        }
        if only_open && goes_on(grid, start)[first].is_some() {
            return;
        }
        let mut corners = vec![start];
        let (mut place, mut direction) = (start, first);
        let mut is_closed = false;
        loop {
            let (at, side) = edge(place, direction);
            if walked[at][side] {
                is_closed = true;
                break;
            }
            walked[at][side] = true;
            let (dx, dy) = STEPS[direction];
            place = [place[0] + dx, place[1] + dy];
            corners.push(place);
            let came = (direction + 2) % 4;
            let on = goes_on(grid, place);
            match (0..4).find(|d| on[*d] == Some(came)) {
                Some(next) => direction = next,
                None => break,
            }
        }
        found.push(Border {
            left,
            right,
            corners,
            is_closed,
        });
    };
    for only_open in [true, false] {
        for y in 0..h {
            for x in 0..w {
                for d in 0..4 {
                    let (dx, dy) = STEPS[d];
                    let inside = (0..w).contains(&(x + dx)) && (0..h).contains(&(y + dy));
                    if inside {
                        walk([x, y], d, &mut found, only_open);
                    }
                }
            }
        }
    }
    found
}

/// Pieces of rings around one colour, to be put together where they meet.
#[derive(Debug, Clone, Default)]
struct Pieces {
    closed: Vec<Vec<IntPoint<i32>>>,
    open: Vec<Vec<IntPoint<i32>>>,
}

impl Pieces {
    fn add(&mut self, line: Vec<IntPoint<i32>>) {
        match line.first() == line.last() {
            true => self.closed.push(line),
            false => self.open.push(line),
        }
    }

    /// Whatever piece follows another where several could: what is inside of all of them is the same.
    fn area(self) -> Area {
        let mut by_begin: std::collections::BTreeMap<(i32, i32), Vec<usize>> = Default::default();
        for (number, line) in self.open.iter().enumerate() {
            by_begin
                .entry((line[0].x, line[0].y))
                .or_default()
                .push(number);
        }
        let mut rings = self.closed;
        let mut taken = vec![false; self.open.len()];
        for first in 0..self.open.len() {
            if taken[first] {
                continue;
            }
            taken[first] = true;
            let mut ring = self.open[first].clone();
            while let Some(end) = ring.last().copied() {
                let next = by_begin.get_mut(&(end.x, end.y));
                let Some(next) = next.and_then(|n| {
                    let at = n.iter().position(|i| !taken[*i])?;
                    Some(n.swap_remove(at))
                }) else {
                    break;
                };
                taken[next] = true;
                ring.extend_from_slice(&self.open[next][1..]);
                if ring.first() == ring.last() {
                    break;
                }
            }
            rings.push(ring);
        }
        for ring in &mut rings {
            ring.pop();
        }
        Area::of_rings(&rings)
    }
}
