//! Whose the cells of a layer are, and where between their middles the borders pass.
//!
//! The cells of a layer say how much of each is whose. Between the middles of two neighbouring cells of different slots the border
//! passes where their shares put it; joined from square to square these places make smooth lines.
//!
//! # Source
//! Squares after Lorensen and Cline, "Marching Cubes", 1987; places from shares after Hirt and Nichols, "Volume of Fluid (VOF)
//! Method for the Dynamics of Free Boundaries", Journal of Computational Physics 39, 1981 (both from memory).

use super::grid::PrintGrid;
use super::label::Core;
use super::survey::{Run, Survey};
use super::thin::Bit;
use std::collections::BTreeMap;

/// Whose the cells of one body in one layer are.
#[derive(Default)]
pub(super) struct Field {
    /// By cell: one more than the slot that has the most of it; 0 where there is none.
    owner: Vec<u32>,
    /// By cell: share of its owner, and one more than the slot with the next largest share, and that.
    shares: Vec<(f32, u32, f32)>,
    /// Cells that are set.
    set: Vec<u32>,
    /// Cells in a row here, and in the survey's grid: here there is one more all round.
    row: usize,
    grid_row: usize,
    grid: Option<PrintGrid>,
}

impl Field {
    pub(super) fn begin(&mut self, survey: &Survey) {
        self.grid = Some(survey.grid);
        let [across, along] = survey.grid.cells;
        let cells = (across + 2) * (along + 2);
        (self.row, self.grid_row) = (across + 2, across);
        if self.owner.len() < cells {
            self.owner.resize(cells, 0);
            self.shares.resize(cells, (0.0, 0, 0.0));
        }
    }

    pub(super) fn end(&mut self) {
        for at in self.set.drain(..) {
            self.owner[at as usize] = 0;
            self.shares[at as usize] = (0.0, 0, 0.0);
        }
    }

    /// Where a cell of the survey's grid is here.
    fn here(&self, at: usize) -> usize {
        (at / self.grid_row + 1) * self.row + at % self.grid_row + 1
    }

    /// A share of a cell; in mm² until all are there.
    pub(super) fn add(&mut self, bit: &Bit, slot: u16) {
        let at = self.here(bit.at as usize);
        let (own, area) = (u32::from(slot) + 1, bit.area_mm2 as f32);
        let (first, second, next) = self.shares[at];
        if self.owner[at] == 0 {
            self.set.push(at as u32);
            self.owner[at] = own;
            self.shares[at] = (area, 0, 0.0);
        } else if self.owner[at] == own {
            self.shares[at].0 += area;
        } else if second == own {
            self.shares[at].2 += area;
        } else if area > next {
            self.shares[at] = (first, own, area);
        }
        let (first, second, next) = self.shares[at];
        if next > first {
            self.shares[at] = (next, self.owner[at], first);
            self.owner[at] = second;
        }
    }

    pub(super) fn fill(&mut self, core: &Core<'_>, slot: u16) {
        for at in core.runs.iter().flat_map(Run::cells) {
            let at = self.here(at);
            self.set.push(at as u32);
            self.owner[at] = u32::from(slot) + 1;
            self.shares[at] = (1.0, 0, 0.0);
        }
    }

    /// Gives the cells beside those that are set to whom the nearest of these belongs, so that borders reach past the outline.
    pub(super) fn spread(&mut self) {
        let row = self.row as isize;
        let steps = [-1, 1, -row, row, -row - 1, -row + 1, row - 1, row + 1];
        let mut found: BTreeMap<u32, u32> = BTreeMap::new();
        for step in steps {
            for at in &self.set {
                let beside = (*at as isize + step) as usize;
                if self.owner.get(beside) == Some(&0) {
                    let own = self.owner[*at as usize];
                    found.entry(beside as u32).or_insert(own);
                }
            }
        }
        for (at, own) in found {
            self.set.push(at);
            self.owner[at as usize] = own;
            self.shares[at as usize] = (1.0, 0, 0.0);
        }
    }

    /// Where between two neighbouring cells the border of their owners passes, as a share of the way.
    fn crossing(&self, i: usize, j: usize) -> f64 {
        let share = |cell: usize, owner: u32| {
            let (first, second, next) = self.shares[cell];
            if self.owner[cell] == owner {
                first
            } else if second == owner {
                next
            } else {
                0.0
            }
        };
        let (a, b) = (self.owner[i], self.owner[j]);
        if a == 0 || b == 0 {
            return 0.5;
        }
        let more = |cell| share(cell, a) - share(cell, b);
        f64::from(0.5 + 0.5 * (more(i) + more(j))).clamp(0.02, 0.98)
    }

    /// Brings the shares of each cell to a sum of 1, once all are there.
    pub(super) fn settle(&mut self) {
        for at in &self.set {
            let (first, _, next) = &mut self.shares[*at as usize];
            let sum = *first + *next;
            if sum > 0.0 {
                *first /= sum;
                *next /= sum;
            }
        }
    }

    /// The slots, the one with the most cells last.
    pub(super) fn slots(&self) -> Vec<u16> {
        let mut counts: Vec<(usize, u16)> = Vec::new();
        for at in &self.set {
            let slot = (self.owner[*at as usize] - 1) as u16;
            match counts.iter_mut().find(|c| c.1 == slot) {
                Some(count) => count.0 += 1,
                None => counts.push((1, slot)),
            }
        }
        counts.sort_unstable();
        counts.into_iter().map(|(_, slot)| slot).collect()
    }

    /// Visits the borders, square by square: the places on the sides of a square where the owner changes, going round
    /// counter-clockwise, each with one more than the slot before and after it; 0 is nobody.
    pub(super) fn each_square(&self, mut visit: impl FnMut(&[([f64; 2], u32, u32)])) {
        let Some(grid) = &self.grid else { return };
        // Corners, counter-clockwise.
        let corners = |at: usize| [at, at + 1, at + self.row + 1, at + self.row];
        let has_border = |at: usize| {
            let [a, b, c, d] = corners(at).map(|c| self.owner[c]);
            a != b || b != c || c != d
        };
        let mut squares: Vec<u32> = self
            .set
            .iter()
            .flat_map(|at| [0, 1, self.row as u32, self.row as u32 + 1].map(|back| at - back))
            .filter(|at| has_border(*at as usize))
            .collect();
        squares.sort_unstable();
        squares.dedup();
        let one = grid.centre(0, 0);
        let middle = |at: usize| {
            let at = [at % self.row, at / self.row].map(|i| i as f64 - 1.0);
            [0, 1].map(|i| one[i] + at[i] * grid.step_mm)
        };
        let mut places = Vec::with_capacity(4);
        for square in squares {
            let corners = corners(square as usize);
            places.clear();
            for side in 0..4 {
                let (i, j) = (corners[side], corners[(side + 1) % 4]);
                if self.owner[i] != self.owner[j] {
                    // The same bits from both squares: the lower cell leads.
                    let (low, high) = (i.min(j), i.max(j));
                    let t = self.crossing(low, high);
                    let (p, q) = (middle(low), middle(high));
                    let p = [0, 1].map(|k| p[k] + t * (q[k] - p[k]));
                    places.push((p, self.owner[i], self.owner[j]));
                }
            }
            visit(&places);
        }
    }
}
