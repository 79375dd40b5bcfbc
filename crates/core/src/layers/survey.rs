//! The look at the shape: for every layer, the cells near the surface with their nearest facet.

use super::grid::{LayerHeights, PrintGrid};
use super::index::{CrossingFacets, InsideBits};
use super::raster::Raster;
use super::section::{Segment, section};
use crate::machine::Printer;
use crate::mesh::{Bounds, FacetTree, OpenMesh};
use rayon::prelude::*;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};

/// One part to be printed. Bodies are given highest first: where two overlap, the earlier one wins.
#[derive(Clone)]
pub struct Body {
    /// Number of the model in its job, for whoever asks where the body came from.
    pub model: usize,
    /// The mesh it belongs to.
    pub open: Arc<OpenMesh>,
    /// Which of its parts.
    pub part: u32,
    /// From the mesh's frame to the print's, in mm.
    pub shift: [f64; 3],
}

/// What of a printer's settings shapes the layers.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Settings {
    /// First layer height, mm.
    pub first_layer_mm: f64,
    /// Height of the others, mm.
    pub layer_mm: f64,
    /// Width of a line, mm.
    pub line_width_mm: f64,
    /// Lines around every outline.
    pub walls: u32,
    /// Solid layers below upward faces.
    pub top_skins: u32,
    /// Solid layers above downward faces.
    pub bottom_skins: u32,
}

impl From<&Printer> for Settings {
    fn from(p: &Printer) -> Self {
        Settings {
            first_layer_mm: p.first_layer_mm,
            layer_mm: p.layer_mm,
            line_width_mm: p.line_width_mm,
            walls: p.walls,
            top_skins: p.top_skins,
            bottom_skins: p.bottom_skins,
        }
    }
}

/// A cell of one layer that lies within reach of the surface.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cell {
    /// The facet of the body nearest to the cell's middle.
    pub facet: u32,
    /// Which cell of the layer's grid it is, row by row.
    pub at: u32,
    /// Its distance in mm.
    pub distance_mm: f32,
    /// By how much that distance changes across the cell, in mm: a soak depth that ends within this takes the cell
    /// in part.
    pub spread_mm: f32,
    /// The body's area in the cell, mm².
    pub area_mm2: f32,
    /// Of that, the area printed solid (walls and skins), mm².
    pub solid_mm2: f32,
}

/// What one body contributes to one layer.
#[derive(Debug, Clone, Default, PartialEq)]
pub(super) struct BodyLayer {
    pub(super) body: u32,
    /// Area further from the surface than the reach, mm².
    pub(super) core_mm2: f64,
    /// Of that, printed solid, mm².
    pub(super) core_solid_mm2: f64,
    pub(super) cells: Vec<Cell>,
}

/// The shape of a print, layer by layer.
pub struct Survey {
    /// The layers.
    pub heights: LayerHeights,
    /// The grid over them.
    pub grid: PrintGrid,
    /// How deep below the surface cells were looked at, mm.
    pub reach_mm: f64,
    pub(super) settings: Settings,
    pub(super) bodies: Vec<Body>,
    pub(super) trees: Vec<FacetTree>,
    pub(super) crossing: Vec<CrossingFacets>,
    pub(super) inside: InsideBits,
    pub(super) layers: Vec<Vec<BodyLayer>>,
}

/// The survey was stopped on request.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
#[error("stopped on request")]
pub struct Stopped;

/// What a thread reuses from layer to layer.
#[derive(Default)]
pub(super) struct Scratch {
    pub(super) segments: Vec<Segment>,
    pub(super) raster: Raster,
    taken: Vec<f32>,
}

/// Looks at the shape of a print.
///
/// `reach_mm`: the deepest soak that [`super::label`] will be asked about. `progress`: told the finished share, 0 to
/// 1; returns false to stop. Layers are worked on in parallel; the result does not depend on the number of threads.
///
/// # Errors
/// [`Stopped`] if `progress` said so.
///
/// # Cost
/// Layers × cells for coverage, plus one search (log of the body's facets) for every cell within reach of the
/// surface.
pub fn survey(
    bodies: Vec<Body>,
    settings: Settings,
    reach_mm: f64,
    progress: &(dyn Fn(f64) -> bool + Sync),
) -> Result<Survey, Stopped> {
    let facets_of: Vec<Vec<u32>> = bodies.iter().map(facets_of).collect();
    let mut bounds = Bounds::EMPTY;
    for body in &bodies {
        let b = body.open.parts[body.part as usize].measures.bounds;
        for corner in [b.min, b.max] {
            bounds.add([0, 1, 2].map(|i| corner[i] + body.shift[i]));
        }
    }
    if bodies.is_empty() {
        bounds = Bounds {
            min: [0.0; 3],
            max: [0.0; 3],
        };
    }
    let heights = LayerHeights::new(bounds.max[2], settings.first_layer_mm, settings.layer_mm);
    let grid = PrintGrid::over(&bounds, settings.line_width_mm);
    let trees: Vec<FacetTree> = bodies
        .iter()
        .zip(&facets_of)
        .map(|(b, f)| FacetTree::build(&b.open.mesh, f.iter().copied()))
        .collect();
    let crossing: Vec<CrossingFacets> = bodies
        .iter()
        .zip(&facets_of)
        .map(|(b, f)| CrossingFacets::find(b, f, &heights))
        .collect();
    drop(facets_of);

    let mut survey = Survey {
        heights,
        grid,
        reach_mm,
        settings,
        bodies,
        trees,
        crossing,
        inside: InsideBits {
            words_per_row: grid.cells[0].div_ceil(64),
            layers: Vec::new(),
        },
        layers: Vec::new(),
    };
    let count = survey.heights.spans.len();
    let done = AtomicUsize::new(0);
    let stopped = AtomicBool::new(!progress(0.0));
    let step = || {
        let done = done.fetch_add(1, Ordering::Relaxed) + 1;
        if !progress(done as f64 / (2 * count) as f64) {
            stopped.store(true, Ordering::Relaxed);
        }
    };
    let go_on = || !stopped.load(Ordering::Relaxed);
    survey.inside.layers = (0..count)
        .into_par_iter()
        .map_init(Scratch::default, |scratch, layer| {
            let bits = if go_on() {
                survey.inside_bits(layer, scratch)
            } else {
                Vec::new()
            };
            step();
            bits
        })
        .collect();
    survey.layers = (0..count)
        .into_par_iter()
        .map_init(Scratch::default, |scratch, layer| {
            let found = if go_on() {
                survey.look_at(layer, scratch)
            } else {
                Vec::new()
            };
            step();
            found
        })
        .collect();
    if go_on() { Ok(survey) } else { Err(Stopped) }
}

fn facets_of(body: &Body) -> Vec<u32> {
    (0..body.open.mesh.facets.len() as u32)
        .filter(|f| body.open.part_of[*f as usize] == body.part)
        .collect()
}

impl Survey {
    /// The outline of one body at a layer's middle, in the print's frame, inside on the left.
    pub(super) fn outline(&self, body: usize, layer: usize, out: &mut Vec<Segment>) {
        let b = &self.bodies[body];
        section(
            &b.open,
            self.crossing[body].of(layer),
            self.heights.middle(layer) - b.shift[2],
            out,
        );
        let turned = b.open.parts[b.part as usize].is_inside_out;
        for s in out.iter_mut() {
            for p in [&mut s.from, &mut s.to] {
                p[0] += b.shift[0];
                p[1] += b.shift[1];
            }
            if turned {
                std::mem::swap(&mut s.from, &mut s.to);
            }
        }
    }

    fn inside_bits(&self, layer: usize, scratch: &mut Scratch) -> Vec<u64> {
        let words = self.inside.words_per_row;
        let mut bits = vec![0u64; words * self.grid.cells[1]];
        for body in 0..self.bodies.len() {
            self.outline(body, layer, &mut scratch.segments);
            let raster = &mut scratch.raster;
            raster.cover(&self.grid, &scratch.segments);
            for y in 0..raster.size[1] {
                for x in 0..raster.size[0] {
                    if raster.share(x, y) >= 0.5 {
                        let (cx, cy) = (raster.first[0] + x, raster.first[1] + y);
                        bits[cy * words + cx / 64] |= 1 << (cx % 64);
                    }
                }
            }
        }
        bits
    }

    fn look_at(&self, layer: usize, scratch: &mut Scratch) -> Vec<BodyLayer> {
        let grid = self.grid;
        let several = self.bodies.len() > 1;
        let mut taken = std::mem::take(&mut scratch.taken);
        taken.clear();
        if several {
            taken.resize(grid.cells[0] * grid.cells[1], 0.0);
        }
        let mut found = Vec::new();
        for body in 0..self.bodies.len() {
            let mut here = BodyLayer {
                body: body as u32,
                ..BodyLayer::default()
            };
            self.each_cell(body, layer, &grid, scratch, |cell| {
                let mut share = cell.share;
                if several {
                    let taken = &mut taken[cell.at[1] * grid.cells[0] + cell.at[0]];
                    share = share.min(1.0 - f64::from(*taken));
                    *taken += share as f32;
                }
                let area = share * grid.cell_mm2();
                let solid = area * cell.solid;
                match cell.nearest {
                    Some((facet, distance, spread)) => here.cells.push(Cell {
                        facet,
                        at: (cell.at[1] * grid.cells[0] + cell.at[0]) as u32,
                        distance_mm: distance as f32,
                        spread_mm: spread as f32,
                        area_mm2: area as f32,
                        solid_mm2: solid as f32,
                    }),
                    None => {
                        here.core_mm2 += area;
                        here.core_solid_mm2 += solid;
                    }
                }
            });
            if here.core_mm2 > 0.0 || !here.cells.is_empty() {
                found.push(here);
            }
        }
        scratch.taken = taken;
        found
    }

    /// Visits every cell of a body in a layer, on any grid, row by row within blocks.
    pub(super) fn each_cell(
        &self,
        body: usize,
        layer: usize,
        grid: &PrintGrid,
        scratch: &mut Scratch,
        mut visit: impl FnMut(Seen),
    ) {
        const BLOCK: usize = 8;
        self.outline(body, layer, &mut scratch.segments);
        let raster = &mut scratch.raster;
        raster.cover(grid, &scratch.segments);
        let s = &self.settings;
        let wall_mm = f64::from(s.walls) * s.line_width_mm;
        raster.measure(grid, &scratch.segments, wall_mm + grid.step_mm);
        let z = self.heights.middle(layer);
        let shift = self.bodies[body].shift;
        let tree = &self.trees[body];
        let in_body = |c: [f64; 2]| [c[0] - shift[0], c[1] - shift[1], z - shift[2]];
        // Half a cell more, so that a cell whose middle is just past the reach can still count in part.
        let reach = self.reach_mm + 0.5 * grid.step_mm;
        for by in (0..raster.size[1]).step_by(BLOCK) {
            let mut hint = None;
            for bx in (0..raster.size[0]).step_by(BLOCK) {
                let corner = [raster.first[0] + bx, raster.first[1] + by];
                let half = 0.5 * (BLOCK - 1) as f64 * grid.step_mm;
                let c = grid.centre(corner[0], corner[1]);
                let middle = in_body([c[0] + half, c[1] + half]);
                let radius = half * std::f64::consts::SQRT_2;
                let is_near = tree.nearest(middle, reach + radius, hint).is_some();
                // What was nearest one row up is a better start than what was nearest at the end of that row.
                let mut above = [hint; BLOCK];
                for y in by..(by + BLOCK).min(raster.size[1]) {
                    for x in bx..(bx + BLOCK).min(raster.size[0]) {
                        let share = raster.share(x, y);
                        if share <= 0.0 {
                            continue;
                        }
                        let at = [raster.first[0] + x, raster.first[1] + y];
                        let centre = grid.centre(at[0], at[1]);
                        let p = in_body(centre);
                        let nearest = if is_near {
                            tree.nearest(p, reach, above[x - bx])
                        } else {
                            None
                        };
                        let nearest = nearest.map(|n| {
                            hint = Some(n.slot);
                            above[x - bx] = hint;
                            if let Some(next) = above.get_mut(x - bx + 1).filter(|_| y == by) {
                                *next = hint;
                            }
                            let d = n.distance2.sqrt();
                            let flat =
                                ((p[0] - n.point[0]).powi(2) + (p[1] - n.point[1]).powi(2)).sqrt();
                            (
                                n.facet,
                                d,
                                if d > 0.0 {
                                    grid.step_mm * flat / d
                                } else {
                                    0.0
                                },
                            )
                        });
                        let wall = if s.walls == 0 {
                            0.0
                        } else {
                            let d = raster.distance_mm(grid, x, y);
                            (0.5 + (wall_mm - d) / grid.step_mm).clamp(0.0, 1.0)
                        };
                        visit(Seen {
                            at,
                            share,
                            solid: wall.max(self.skin(layer, centre)),
                            wall,
                            nearest,
                        });
                    }
                }
            }
        }
    }

    /// 1 where the point of a layer is in a top or bottom skin, else 0.
    fn skin(&self, layer: usize, centre: [f64; 2]) -> f64 {
        let s = &self.settings;
        let at = [0, 1]
            .map(|i| ((centre[i] - self.grid.origin[i]) / self.grid.step_mm).max(0.0) as usize);
        let x = at[0].min(self.grid.cells[0] - 1);
        let buried = self
            .inside
            .all_inside(layer, s.bottom_skins, s.top_skins, x, at[1]);
        f64::from(u8::from(!buried))
    }
}

/// One cell as [`Survey::each_cell`] sees it.
pub(super) struct Seen {
    /// Cell in the grid.
    pub(super) at: [usize; 2],
    /// Share of it inside the body.
    pub(super) share: f64,
    /// Share of that printed solid.
    pub(super) solid: f64,
    /// Share of that in walls.
    pub(super) wall: f64,
    /// Nearest facet within reach: number, distance, spread over the cell.
    pub(super) nearest: Option<(u32, f64, f64)>,
}
