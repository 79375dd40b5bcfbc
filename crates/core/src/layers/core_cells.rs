//! The core of a body in a layer: full cells beyond the reach of the surface, kept as runs instead of one by one.

use super::grid::PrintGrid;
use super::survey::{BodyLayer, Cell, Run};
use crate::mesh::NO_FACET;

/// Cells of one body in one layer that may be core.
#[derive(Default)]
pub(super) struct CoreCells {
    /// One bit a cell.
    bits: Vec<u64>,
    /// Cells in order, each with its share printed solid.
    cells: Vec<(u32, f64)>,
}

impl CoreCells {
    pub(super) fn begin(&mut self, grid: &PrintGrid) {
        let words = (grid.cells[0] * grid.cells[1]).div_ceil(64) + 1;
        if self.bits.len() < words {
            self.bits.resize(words, 0);
        }
        self.cells.clear();
    }

    pub(super) fn add(&mut self, at: u32, solid: f64) {
        self.bits[at as usize / 64] |= 1 << (at % 64);
        self.cells.push((at, solid));
    }

    /// Puts runs of those that have only such around them, and every other as a cell without a facet, in the order of the grid.
    pub(super) fn end(&mut self, grid: &PrintGrid, here: &mut BodyLayer) {
        let row = grid.cells[0] as u32;
        let cell_mm2 = grid.cell_mm2();
        let three =
            |at: u32| (0..3).all(|i| self.bits[(at + i) as usize / 64] >> ((at + i) % 64) & 1 == 1);
        // The grid has a spare cell all round, so that every cell has eight beside it.
        let is_core = |at: u32| three(at - row - 1) && three(at - 1) && three(at + row - 1);
        let before = here.cells.len();
        for (at, solid) in &self.cells {
            if is_core(*at) {
                here.core_mm2 += cell_mm2;
                here.core_solid_mm2 += solid * cell_mm2;
                let solid = *solid as f32;
                match here
                    .core
                    .last_mut()
                    .filter(|run| run.first + run.length == *at && run.solid == solid)
                {
                    Some(run) => run.length += 1,
                    None => here.core.push(Run {
                        first: *at,
                        length: 1,
                        solid,
                    }),
                }
            } else {
                here.cells.push(Cell {
                    facet: NO_FACET,
                    at: *at,
                    distance_mm: f32::INFINITY,
                    spread_mm: 0.0,
                    area_mm2: cell_mm2 as f32,
                    solid_mm2: (solid * cell_mm2) as f32,
                });
            }
        }
        if before < here.cells.len() {
            here.cells.sort_by_key(|c| c.at);
        }
        for (at, _) in &self.cells {
            self.bits[*at as usize / 64] = 0;
        }
    }
}
