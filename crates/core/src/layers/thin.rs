//! What is too thin to print from a slot of its own, layer by layer.
//!
//! Where what a slot prints is narrower than 0.6 lines, or a spot of it takes less than a bead as long as it is wide, the
//! nozzle would leave a smear and the swap to it would be for nothing. It goes to the neighbour with the longest border; what
//! has no neighbour is not printed. Not a whole line: a wall of 0.6 lines still prints as one bead, and the paths lay no narrower one.

use super::grid::PrintGrid;
use super::survey::Run;

/// A share of a cell that one region takes.
#[derive(Debug, Clone, Copy)]
pub(super) struct Bit {
    pub(super) at: u32,
    /// Whose cell it is a share of.
    pub(super) body: u32,
    /// [`UNPRINTED`] where it was too thin and had no neighbour.
    pub(super) region: u16,
    pub(super) area_mm2: f64,
    pub(super) solid_mm2: f64,
}

/// The narrowest bead, in lines (common practice, no source).
pub const LEAST_LINES: f64 = 0.6;

/// No region.
pub(super) const UNPRINTED: u16 = u16::MAX;

/// What of a region was too thin to print in a layer.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TooThin {
    /// Whose it is.
    pub region: u16,
    /// Who prints it instead; none if nobody does.
    pub to: Option<u16>,
    /// Area in mm².
    pub area_mm2: f64,
}

/// What is known of a layer besides its bits.
pub(super) struct Ground<'a> {
    pub(super) grid: &'a PrintGrid,
    pub(super) line_mm: f64,
    /// Slot of each region: what one slot prints is not told apart.
    pub(super) slot_of: &'a [u16],
    /// Full cells deep inside, as runs, with their region. All cells around them are bits.
    pub(super) cores: Vec<(u16, &'a [Run])>,
}

/// Cell by cell, what a thread reuses from layer to layer; all zero in between.
#[derive(Default)]
pub(super) struct Planes {
    /// Covered share of the slot that is looked at.
    cover: Vec<f32>,
    /// One more than the number of a cell's spot.
    pub(super) index: Vec<u32>,
    /// One more than the region with the most of a cell.
    most: Vec<u16>,
}

impl Planes {
    pub(super) fn fit(&mut self, grid: &PrintGrid) {
        let cells = grid.cells[0] * grid.cells[1];
        if self.cover.len() < cells {
            self.cover.resize(cells, 0.0);
            self.index.resize(cells, 0);
            self.most.resize(cells, 0);
        }
    }
}

/// A cell of the slot that is looked at.
struct Spot {
    at: usize,
    /// Its bits among all, first and one past the last; others may lie between.
    bits: (usize, usize),
    is_thin: bool,
    is_seen: bool,
}

/// Gives what is too thin to a neighbour. `bits` are put in the order of their cells.
///
/// # Cost
/// n log n in the bits, and linear in the cells of the cores.
pub(super) fn settle(ground: &Ground<'_>, bits: &mut [Bit], planes: &mut Planes) -> Vec<TooThin> {
    planes.fit(ground.grid);
    bits.sort_by_key(|b| (b.at, b.region));
    for_each_core(ground, |region, cells| planes.most[cells].fill(region + 1));
    for cell in bits.chunk_by(|a, b| a.at == b.at) {
        let largest = cell.iter().fold(
            cell[0],
            |most, b| {
                if b.area_mm2 > most.area_mm2 { *b } else { most }
            },
        );
        planes.most[largest.at as usize] = largest.region + 1;
    }
    let mut found = Vec::new();
    for slot in slots_by_area(ground, bits) {
        OneSlot {
            ground,
            slot,
            spots: Vec::new(),
        }
        .settle(bits, planes, &mut found);
    }
    for_each_core(ground, |_, cells| planes.most[cells].fill(0));
    bits.iter().for_each(|b| planes.most[b.at as usize] = 0);
    gathered(found)
}

fn for_each_core(ground: &Ground<'_>, mut visit: impl FnMut(u16, std::ops::Range<usize>)) {
    for (region, runs) in &ground.cores {
        for run in *runs {
            visit(*region, run.cells());
        }
    }
}

/// The slots of a layer, the one with the least area first: so the larger one takes what is too thin of the smaller.
fn slots_by_area(ground: &Ground<'_>, bits: &[Bit]) -> Vec<u16> {
    let count = ground.slot_of.iter().max().map_or(0, |s| *s as usize + 1);
    let mut areas = vec![0.0; count];
    for bit in bits {
        areas[ground.slot_of[bit.region as usize] as usize] += bit.area_mm2;
    }
    for_each_core(ground, |region, cells| {
        areas[ground.slot_of[region as usize] as usize] +=
            cells.len() as f64 * ground.grid.cell_mm2();
    });
    let mut slots: Vec<u16> = (0..count as u16)
        .filter(|s| areas[*s as usize] > 0.0)
        .collect();
    slots.sort_by(|a, b| {
        let by_area = areas[*a as usize].total_cmp(&areas[*b as usize]);
        by_area.then(b.cmp(a))
    });
    slots
}

/// The work on one slot of one layer.
struct OneSlot<'a> {
    ground: &'a Ground<'a>,
    slot: u16,
    spots: Vec<Spot>,
}

impl OneSlot<'_> {
    fn settle(mut self, bits: &mut [Bit], planes: &mut Planes, found: &mut Vec<TooThin>) {
        self.lay_out(bits, planes);
        self.find_narrow(planes);
        self.find_small(planes);
        self.give_away(bits, planes, found);
        for spot in &self.spots {
            (planes.cover[spot.at], planes.index[spot.at]) = (0.0, 0);
        }
        for_each_core(self.ground, |region, cells| {
            if self.ground.slot_of[region as usize] == self.slot {
                planes.cover[cells].fill(0.0);
            }
        });
    }

    fn is_own(&self, region: u16) -> bool {
        region != UNPRINTED && self.ground.slot_of[region as usize] == self.slot
    }

    fn lay_out(&mut self, bits: &[Bit], planes: &mut Planes) {
        let cell = self.ground.grid.cell_mm2();
        let own = bits
            .iter()
            .enumerate()
            .filter(|(_, b)| self.is_own(b.region));
        let mut spots: Vec<Spot> = Vec::new();
        for (number, bit) in own {
            let at = bit.at as usize;
            planes.cover[at] += (bit.area_mm2 / cell) as f32;
            match spots.last_mut().filter(|s| s.at == at) {
                Some(spot) => spot.bits.1 = number + 1,
                None => {
                    spots.push(Spot {
                        at,
                        bits: (number, number + 1),
                        is_thin: false,
                        is_seen: false,
                    });
                    planes.index[at] = spots.len() as u32;
                }
            }
        }
        self.spots = spots;
        for_each_core(self.ground, |region, cells| {
            if self.is_own(region) {
                planes.cover[cells].fill(1.0);
            }
        });
    }

    /// Marks what is narrower than 0.6 lines. The width of a place is the least way across it along rows, columns and both
    /// stairs of cells, which tells the width of a straight strip within a twelfth whatever way it runs.
    fn find_narrow(&mut self, planes: &Planes) {
        // Less by a hair, so that a strip of just that width prints.
        const LEAST: f64 = LEAST_LINES * (1.0 - 1e-3);
        let grid = self.ground.grid;
        let row = grid.cells[0] as isize;
        let limit = (LEAST * self.ground.line_mm / grid.step_mm) as f32;
        let narrow = |at: usize| {
            let stairs = limit * std::f32::consts::SQRT_2;
            is_across(&planes.cover, at, [1, 1], limit)
                || is_across(&planes.cover, at, [row, row], limit)
                || is_across(&planes.cover, at, [1, row], stairs)
                || is_across(&planes.cover, at, [-1, row], stairs)
        };
        for spot in &mut self.spots {
            spot.is_thin = narrow(spot.at);
        }
        // What hangs on to something wide by a cell prints along with it: corners, and what a coarse cell misjudges.
        let saved: Vec<usize> = (0..self.spots.len())
            .filter(|i| self.spots[*i].is_thin)
            .filter(|i| {
                around(self.spots[*i].at, row).any(|n| match planes.index.get(n) {
                    Some(0) => planes.cover[n] > 0.0,
                    Some(spot) => !self.spots[*spot as usize - 1].is_thin,
                    None => false,
                })
            })
            .collect();
        for i in saved {
            self.spots[i].is_thin = false;
        }
    }

    /// Marks what hangs together and takes less than a bead.
    fn find_small(&mut self, planes: &Planes) {
        let row = self.ground.grid.cells[0] as isize;
        let bead = (self.ground.line_mm / self.ground.grid.step_mm).powi(2) as f32;
        let mut reached: Vec<usize> = Vec::new();
        for seed in 0..self.spots.len() {
            if self.spots[seed].is_thin || self.spots[seed].is_seen {
                continue;
            }
            reached.clear();
            reached.push(seed);
            self.spots[seed].is_seen = true;
            let (mut next, mut area, mut is_large) = (0, 0.0, false);
            while let Some(spot) = reached.get(next).copied().filter(|_| !is_large) {
                next += 1;
                area += planes.cover[self.spots[spot].at];
                is_large = area >= bead * (1.0 - 1e-3);
                for n in around(self.spots[spot].at, row) {
                    match planes.index.get(n).copied() {
                        // A core, or what an earlier search found to be large.
                        Some(0) => is_large |= planes.cover[n] > 0.0,
                        Some(beside) => {
                            let beside = beside as usize - 1;
                            let other = &mut self.spots[beside];
                            if other.is_thin {
                                continue;
                            }
                            if !other.is_seen {
                                other.is_seen = true;
                                reached.push(beside);
                            } else if !reached.contains(&beside) {
                                is_large = true;
                            }
                        }
                        None => {}
                    }
                }
            }
            if !is_large {
                for spot in &reached {
                    self.spots[*spot].is_thin = true;
                }
            }
        }
    }

    /// Gives each group of thin cells to the neighbour with the longest border.
    fn give_away(&mut self, bits: &mut [Bit], planes: &mut Planes, found: &mut Vec<TooThin>) {
        let row = self.ground.grid.cells[0] as isize;
        let mut is_done = vec![false; self.spots.len()];
        let mut group: Vec<usize> = Vec::new();
        for seed in 0..self.spots.len() {
            if !self.spots[seed].is_thin || is_done[seed] {
                continue;
            }
            group.clear();
            group.push(seed);
            is_done[seed] = true;
            let mut next = 0;
            while let Some(spot) = group.get(next).copied() {
                next += 1;
                for n in around(self.spots[spot].at, row) {
                    let beside = planes.index.get(n).map_or(0, |i| *i as usize);
                    if beside > 0 && self.spots[beside - 1].is_thin && !is_done[beside - 1] {
                        is_done[beside - 1] = true;
                        group.push(beside - 1);
                    }
                }
            }
            let to = self.neighbour(&group, bits, planes);
            for spot in &group {
                let (first, end) = self.spots[*spot].bits;
                for bit in &mut bits[first..end] {
                    if !self.is_own(bit.region) {
                        continue;
                    }
                    found.push(TooThin {
                        region: bit.region,
                        to,
                        area_mm2: bit.area_mm2,
                    });
                    let most = &mut planes.most[bit.at as usize];
                    if *most == bit.region + 1 {
                        *most = to.map_or(0, |to| to + 1);
                    }
                    bit.region = to.unwrap_or(UNPRINTED);
                }
            }
        }
    }

    /// The region of another slot with the longest border to a group of cells; the lower one of equals.
    fn neighbour(&self, group: &[usize], bits: &[Bit], planes: &Planes) -> Option<u16> {
        let row = self.ground.grid.cells[0];
        let mut borders: Vec<(u16, u32)> = Vec::new();
        let mut count = |region: u16| {
            if region == UNPRINTED || self.is_own(region) {
                return;
            }
            match borders.iter_mut().find(|b| b.0 == region) {
                Some(border) => border.1 += 1,
                None => borders.push((region, 1)),
            }
        };
        for spot in group {
            let Spot { at, bits: own, .. } = self.spots[*spot];
            // The bits of a cell lie together.
            let first = bits[..own.0].partition_point(|b| (b.at as usize) < at);
            let here = bits[first..].iter().take_while(|b| b.at as usize == at);
            here.for_each(|b| count(b.region));
            for n in [at.wrapping_sub(1), at + 1, at.wrapping_sub(row), at + row] {
                if let Some(most) = planes.most.get(n).and_then(|m| m.checked_sub(1)) {
                    count(most);
                }
            }
        }
        let longest = |a: &(u16, u32), b: &(u16, u32)| a.1.cmp(&b.1).then(b.0.cmp(&a.0));
        borders.into_iter().max_by(longest).map(|b| b.0)
    }
}

/// The eight cells around one. The grid has a spare cell all round.
fn around(at: usize, row: isize) -> impl Iterator<Item = usize> {
    let steps = [-row - 1, -row, -row + 1, -1, 1, row - 1, row, row + 1];
    steps.into_iter().map(move |s| at.wrapping_add_signed(s))
}

/// Whether the covered cells along a line through a cell sum to less than a limit. The line goes by two steps in turn.
fn is_across(cover: &[f32], at: usize, steps: [isize; 2], limit: f32) -> bool {
    let mut sum = cover[at];
    for (sign, first) in [(1, 0), (-1, 1)] {
        let (mut at, mut turn) = (at, first);
        while sum < limit {
            at = at.wrapping_add_signed(sign * steps[turn]);
            turn = 1 - turn;
            match cover.get(at) {
                Some(share) if *share > 0.0 => sum += share,
                _ => break,
            }
        }
    }
    sum < limit
}

/// One entry for each pair of regions, in order.
fn gathered(mut found: Vec<TooThin>) -> Vec<TooThin> {
    found.sort_by_key(|t| (t.region, t.to));
    found.dedup_by(|next, all| {
        let is_same = (next.region, next.to) == (all.region, all.to);
        if is_same {
            all.area_mm2 += next.area_mm2;
        }
        is_same
    });
    found
}
