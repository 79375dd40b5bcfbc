//! Where the border between two regions runs within a cell.
//!
//! A cell goes to the region of its nearest place as a whole, which is up to half a cell off: enough to make a strip of nothing
//! look like one that prints. Between the middles of two neighbouring cells of different regions the border is found by halving.

use super::label::label_near;
use super::span::NearCut;
use super::survey::{Cell, Survey};
use crate::carve::{Label, Labels};
use crate::geometry::{closest_point, dot, sub};
use crate::mesh::NO_FACET;

/// A share of a cell that lies on the other side of a border.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Beyond {
    /// The cell, by its number among the body's in the layer.
    pub(super) cell: u32,
    /// The neighbour that the share goes with.
    pub(super) other: u32,
    /// Share of the whole cell, up to a half.
    pub(super) share: f64,
    /// Whether the two lie above one another in the grid.
    pub(super) is_upright: bool,
}

/// One body's cells in one layer.
pub(super) struct Sheet<'a> {
    pub(super) survey: &'a Survey,
    pub(super) body: usize,
    pub(super) layer: usize,
    pub(super) cells: &'a [Cell],
    /// Labels of the body's mesh.
    pub(super) labels: &'a Labels,
    /// A cut of the body near the layer.
    pub(super) cut: Option<&'a NearCut<'a>>,
    /// Region of each cell; none is the body's own.
    pub(super) label_of: &'a [Label],
    /// What a label comes to: none for the region that has the inside.
    pub(super) own: u16,
    /// Whose surface is that without a label.
    pub(super) own_surface: u16,
}

impl Sheet<'_> {
    /// All shares beyond borders, by cell. `index` has one more than the number of the cell at each place of the grid.
    ///
    /// # Cost
    /// Two looks for each cell; for each pair of neighbours with different labels a few places asked for the nearer of two facets.
    pub(super) fn beyond(&self, index: &[u32]) -> Vec<Beyond> {
        let row = self.survey.grid.cells[0];
        let mut found = Vec::new();
        for (i, cell) in self.cells.iter().enumerate() {
            for (step, is_upright) in [(1, false), (row, true)] {
                let beside = index.get(cell.at as usize + step);
                let Some(j) = beside.and_then(|n| n.checked_sub(1)) else {
                    continue;
                };
                let is_surface = |cell: &Cell| cell.facet != NO_FACET;
                let is_border = self.label_of[i] != self.label_of[j as usize]
                    && is_surface(cell)
                    && is_surface(&self.cells[j as usize]);
                if !is_border {
                    continue;
                }
                let t = self.crossing(i, j as usize);
                let (cell, other) = if t < 0.5 {
                    (i as u32, j)
                } else {
                    (j, i as u32)
                };
                found.push(Beyond {
                    cell,
                    other,
                    share: (0.5 - t).abs(),
                    is_upright,
                });
            }
        }
        found.sort_by_key(|b| (b.cell, b.is_upright));
        found
    }

    /// How far the border is from one cell's middle on the way to another's, as a share of the way, to 1/64.
    fn crossing(&self, from: usize, to: usize) -> f64 {
        const HALVINGS: usize = 6;
        let (here, there) = (self.middle(from), self.middle(to));
        let (mut low, mut high) = (0.0, 1.0);
        for _ in 0..HALVINGS {
            let t = 0.5 * (low + high);
            let p = [0, 1, 2].map(|i| here[i] + t * (there[i] - here[i]));
            if self.label_at(p, self.cells[from].facet, self.cells[to].facet) == self.label_of[from]
            {
                low = t;
            } else {
                high = t;
            }
        }
        0.5 * (low + high)
    }

    /// A cell's middle, in the print's frame.
    fn middle(&self, cell: usize) -> [f64; 3] {
        let row = self.survey.grid.cells[0];
        let at = self.cells[cell].at as usize;
        let [x, y] = self.survey.grid.centre(at % row, at / row);
        [x, y, self.survey.heights.sample(self.layer)]
    }

    /// The label at the nearer of two facets; the first of equals.
    fn label_at(&self, p: [f64; 3], a: u32, b: u32) -> Label {
        let body = &self.survey.bodies[self.body];
        let local = sub(p, body.shift);
        let away = |facet: u32| {
            let corners = body.open.mesh.corners(facet);
            let nearest = match self.cut {
                Some(cut) => cut.closest(local, &corners),
                None => closest_point(local, &corners),
            };
            let d = sub(local, nearest);
            dot(d, d)
        };
        let facet = if a == b || away(a) <= away(b) { a } else { b };
        let label = match self.labels.whole(facet) {
            Some(label) => label,
            None => label_near(self.survey, self.labels, self.body, facet, p, self.cut),
        };
        Some(label.unwrap_or(self.own_surface)).filter(|l| *l != self.own)
    }
}
