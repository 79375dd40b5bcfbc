//! One layer as a picture: outlines, and the region and kind of every cell.

use super::grid::PrintGrid;
use super::label::{Claims, label_near, soaked};
use super::section::Segment;
use super::survey::{Scratch, Survey};
use crate::mesh::Bounds;
use serde::Serialize;

/// What a cell is printed as.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub enum CellKind {
    /// Nothing here.
    Empty,
    /// A line along the outline.
    Wall,
    /// Solid, below an upward or above a downward face.
    Skin,
    /// Sparse inside.
    Infill,
}

/// Cells in a row that are alike.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct CellRun {
    /// How many.
    pub count: u32,
    /// Region, numbered as in the claims; 0 for empty cells.
    pub region: u16,
    /// What they are printed as.
    pub kind: CellKind,
}

/// One layer, drawn on a grid of its own.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct LayerDrawing {
    /// Index from 0.
    pub index: usize,
    /// Bottom, mm.
    pub z0_mm: f64,
    /// Top, mm.
    pub z1_mm: f64,
    /// Lower left corner of the grid, mm.
    pub origin: [f64; 2],
    /// Side of a cell, mm.
    pub step_mm: f64,
    /// Cells in x and y.
    pub cells: [usize; 2],
    /// All cells, row by row from the lowest y; a run may go on into the next row.
    pub runs: Vec<CellRun>,
    /// Closed outlines in mm, inside on the left.
    pub outlines: Vec<Vec<[f64; 2]>>,
}

/// Cells along the longer side of a drawing, about; a line's width is never cut finer than by eight.
const DRAWN_CELLS: f64 = 420.0;

/// Draws one layer, or nothing if there is no such layer.
pub fn draw_layer(survey: &Survey, claims: &Claims<'_>, index: usize) -> Option<LayerDrawing> {
    let (z0_mm, z1_mm) = *survey.heights.spans.get(index)?;
    let mut outlines = Vec::new();
    let mut bounds = Bounds::EMPTY;
    let mut segments = Vec::new();
    for body in 0..survey.bodies.len() {
        survey.outline(body, index, &mut segments);
        outlines.extend(chain(&segments));
    }
    for p in outlines.iter().flatten() {
        bounds.add([p[0], p[1], 0.0]);
    }
    if outlines.is_empty() {
        bounds = Bounds {
            min: [0.0; 3],
            max: [1.0; 3],
        };
    }
    let size = bounds.size();
    let step = (size[0].max(size[1]) / DRAWN_CELLS).max(survey.settings.line_width_mm / 8.0);
    let grid = PrintGrid::with_step(&bounds, step);
    let mut cells = vec![(0u16, CellKind::Empty); grid.cells[0] * grid.cells[1]];
    let mut scratch = Scratch::default();
    for body in 0..survey.bodies.len() {
        let (own, labels) = (claims.own[body], claims.labels[body]);
        let z = survey.heights.middle(index);
        let slices = survey.slices(body, index..index + 1, &grid, &mut scratch);
        survey.each_cell(body, &grid, &slices[0], |seen| {
            let cell = &mut cells[seen.at[1] * grid.cells[0] + seen.at[0]];
            if cell.1 != CellKind::Empty {
                return;
            }
            let region = seen.nearest.map_or(own, |(facet, distance, spread)| {
                let label = labels.whole(facet).unwrap_or_else(|| {
                    let [x, y] = grid.centre(seen.at[0], seen.at[1]);
                    label_near(survey, labels, body, facet, [x, y, z])
                });
                let region = label.unwrap_or(own);
                let inside = soaked(claims.soak_mm[region as usize], distance, spread) >= 0.5;
                if inside { region } else { own }
            });
            if claims.is_skipped(body, region) {
                return;
            }
            let kind = if seen.wall >= 0.5 {
                CellKind::Wall
            } else if seen.solid >= 0.5 {
                CellKind::Skin
            } else {
                CellKind::Infill
            };
            *cell = (region, kind);
        });
    }
    let runs = cells
        .chunk_by(|a, b| a == b)
        .map(|run| CellRun {
            count: run.len() as u32,
            region: run[0].0,
            kind: run[0].1,
        })
        .collect();
    Some(LayerDrawing {
        index,
        z0_mm,
        z1_mm,
        origin: grid.origin,
        step_mm: step,
        cells: grid.cells,
        runs,
        outlines,
    })
}

/// Joins segments end to start into closed loops. Pieces that meet share their end points to the last bit.
fn chain(segments: &[Segment]) -> Vec<Vec<[f64; 2]>> {
    let key = |p: [f64; 2]| (p[0].to_bits(), p[1].to_bits());
    let mut by_start: Vec<usize> = (0..segments.len()).collect();
    by_start.sort_by_key(|i| key(segments[*i].from));
    let mut used = vec![false; segments.len()];
    let mut loops = Vec::new();
    for seed in 0..segments.len() {
        if used[seed] {
            continue;
        }
        let mut ring = Vec::new();
        let mut at = Some(seed);
        while let Some(i) = at {
            used[i] = true;
            if ring.last() != Some(&segments[i].from) {
                ring.push(segments[i].from);
            }
            let end = key(segments[i].to);
            let first = by_start.partition_point(|j| key(segments[*j].from) < end);
            at = by_start[first..]
                .iter()
                .take_while(|j| key(segments[**j].from) == end)
                .find(|j| !used[**j])
                .copied();
        }
        if ring.len() >= 3 {
            loops.push(ring);
        }
    }
    loops
}
