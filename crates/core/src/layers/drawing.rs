//! One layer as a picture: outlines, and the region and kind of every cell.

use super::deep::PaintedBody;
use super::grid::PrintGrid;
use super::label::{Claims, counted_soak, label_near, soaked};
use super::outline::chain;
use super::span::NearCut;
use super::survey::{Scratch, Survey};
use super::thin::{Bit, Ground, Planes, UNPRINTED, settle};
use crate::mesh::{Bounds, NO_FACET};
use serde::Serialize;

/// What a cell is printed as.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum CellKind {
    /// Nothing here.
    Empty,
    /// A line along the outline.
    Wall,
    /// Solid, below an upward or above a downward face.
    Skin,
    /// Sparse inside.
    Infill,
    /// Too thin for its own slot: printed by the region named.
    TooThin,
    /// Too thin for any: nobody prints it.
    Unprinted,
}

/// Cells in a row that are alike.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
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
    let mut bits: Vec<Bit> = Vec::new();
    // Of each cell the kind of what has the most of it, and how much that is.
    let mut kinds = vec![(0.0, CellKind::Empty); grid.cells[0] * grid.cells[1]];
    let mut scratch = Scratch::default();
    for body in 0..survey.bodies.len() {
        let z = survey.heights.sample(index);
        let (own, labels) = (claims.own_at(body, z), claims.labels[body]);
        let slices = survey.slices(body, index..index + 1, &grid, &mut scratch);
        let painted = claims
            .goes_deep()
            .then(|| PaintedBody::of(survey, claims, body));
        let painted = painted.flatten();
        let feet = painted.as_ref().map(|p| &*p.feet);
        let cut = NearCut::of(survey, claims, feet, (body, index), step);
        let deep = painted.as_ref().map(|painted| {
            let mut cells = Vec::new();
            survey.each_cell(body, &grid, &slices[0], |seen| {
                if seen.nearest.is_none() {
                    cells.push(seen.at[1] * grid.cells[0] + seen.at[0]);
                }
            });
            painted.cells(index, &grid, &cells)
        });
        let mut deep = deep.into_iter().flatten();
        survey.each_cell(body, &grid, &slices[0], |mut seen| {
            let at = seen.at[1] * grid.cells[0] + seen.at[0];
            let far = match seen.nearest {
                Some(_) => None,
                None => deep.next(),
            };
            let far = far.filter(|l| claims.soak_mm[*l as usize] == f64::INFINITY);
            if let Some((facet, ..)) = seen.nearest
                && let Some(cut) = &cut
                && let Some(found) = cut.nearest(grid.centre(seen.at[0], seen.at[1]), facet)
            {
                seen.nearest = Some(found);
            }
            let (region, soaked) = seen
                .nearest
                .filter(|(facet, ..)| *facet != NO_FACET)
                .map_or((far.unwrap_or(own), 1.0), |(facet, distance, spread)| {
                    let label = labels.whole(facet).unwrap_or_else(|| {
                        let [x, y] = grid.centre(seen.at[0], seen.at[1]);
                        label_near(survey, labels, body, facet, [x, y, z], cut.as_ref())
                    });
                    let region = label.unwrap_or(claims.own[body]);
                    let soak_mm =
                        counted_soak(claims.soak_mm[region as usize], survey.settings.layer_mm);
                    (
                        region,
                        if region == own {
                            1.0
                        } else {
                            soaked(soak_mm, distance, spread)
                        },
                    )
                });
            for (region, share) in [(region, soaked), (own, 1.0 - soaked)] {
                let area_mm2 = share * seen.share * grid.cell_mm2();
                if area_mm2 > 0.0 && !claims.is_skipped(body, region) {
                    bits.push(Bit {
                        body: body as u32,
                        at: at as u32,
                        region,
                        area_mm2,
                        solid_mm2: 0.0,
                    });
                    let kind = if seen.wall >= 0.5 {
                        CellKind::Wall
                    } else if seen.solid >= 0.5 {
                        CellKind::Skin
                    } else {
                        CellKind::Infill
                    };
                    if area_mm2 > kinds[at].0 {
                        kinds[at] = (area_mm2, kind);
                    }
                }
            }
        });
    }
    let ground = Ground {
        grid: &grid,
        line_mm: survey.settings.line_width_mm,
        slot_of: &claims.slots(),
        cores: Vec::new(),
    };
    bits.sort_by_key(|b| (b.at, b.region));
    let wished: Vec<u16> = bits.iter().map(|b| b.region).collect();
    settle(&ground, &mut bits, &mut Planes::default());
    let mut cells = vec![(0u16, CellKind::Empty); kinds.len()];
    let mut number = 0;
    for cell in bits.chunk_by(|a, b| a.at == b.at) {
        let most = (0..cell.len()).fold(0, |most, i| {
            if cell[i].area_mm2 > cell[most].area_mm2 {
                i
            } else {
                most
            }
        });
        let at = cell[most].at as usize;
        cells[at] = match cell[most].region {
            // Named is whose it was to be.
            UNPRINTED => (wished[number + most], CellKind::Unprinted),
            region if region != wished[number + most] => (region, CellKind::TooThin),
            region => (region, kinds[at].1),
        };
        number += cell.len();
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
