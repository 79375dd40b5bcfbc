//! Making a survey.

use super::body::{Body, Settings, Shape};
use super::features::{Features, SLAB};
use super::grid::{LayerHeights, PrintGrid};
use super::index::{InsideBits, crossing_facets};
use super::kept::Kept;
use super::survey::{BodyLayer, Cell, Scratch, Survey};
use crate::Problem;
use crate::mesh::{Bounds, NO_FACET};
use rayon::prelude::*;
use std::ops::Range;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};

/// The survey was stopped on request.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
#[error("stopped on request")]
pub struct Stopped;

impl From<Stopped> for Problem {
    fn from(_: Stopped) -> Problem {
        Problem::stopped("It was stopped", "Ask again.")
    }
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
/// Layers × cells for coverage; facets × layers within reach, and their cells within reach of the surface.
pub fn survey(
    bodies: Vec<Body>,
    settings: Settings,
    reach_mm: f64,
    progress: &(dyn Fn(f64) -> bool + Sync),
) -> Result<Survey, Stopped> {
    let shape = Shape {
        bodies,
        settings,
        reach_mm,
    };
    survey_after(None, shape, progress)
}

/// The same, keeping of an earlier survey every layer near which nothing has changed. What is found is the same, bit by bit.
///
/// # Errors
/// As for [`survey`].
///
/// # Cost
/// As for [`survey`] for the layers that are not kept; n log n in the facets that are compared.
pub fn survey_after(
    before: Option<&Survey>,
    shape: Shape,
    progress: &(dyn Fn(f64) -> bool + Sync),
) -> Result<Survey, Stopped> {
    if !progress(0.0) {
        return Err(Stopped);
    }
    let Shape {
        bodies,
        settings,
        reach_mm,
    } = shape;
    let facets = facets_of(&bodies);
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
    let crossing = bodies
        .iter()
        .zip(&facets)
        .map(|(b, f)| crossing_facets(b, f, &heights))
        .collect();

    let mut survey = Survey {
        heights,
        grid,
        reach_mm,
        settings,
        bodies,
        facets,
        features: Vec::new(),
        crossing,
        claimed: Vec::new(),
        inside: InsideBits {
            words_per_row: grid.cells[0].div_ceil(64),
            layers: Vec::new(),
        },
        layers: Vec::new(),
        kept: 0,
    };
    let near_mm = survey.near_mm();
    let of_body = |(b, f): (&Body, &Vec<u32>)| Features::of(b, f, &survey.heights, near_mm);
    survey.features = survey
        .bodies
        .iter()
        .zip(&survey.facets)
        .map(of_body)
        .collect();
    let kept = before.and_then(|before| Kept::find(before, &survey));
    let count = survey.heights.spans.len();
    let done = AtomicUsize::new(0);
    let stopped = AtomicBool::new(false);
    let step = || {
        let done = done.fetch_add(1, Ordering::Relaxed) + 1;
        if !progress(done as f64 / (3 * count) as f64) {
            stopped.store(true, Ordering::Relaxed);
        }
    };
    let go_on = || !stopped.load(Ordering::Relaxed);
    let pass = Pass {
        count,
        go_on: &go_on,
        step: &step,
    };
    survey.claimed = pass.over(
        |layer| kept.as_ref().and_then(|k| k.claimed(layer)),
        |layer, scratch| survey.claim(layer, scratch),
    );
    survey.inside.layers = pass.over(
        |layer| kept.as_ref().and_then(|k| k.inside(layer)),
        |layer, scratch| survey.inside_bits(layer, scratch),
    );
    let together = survey.layers_together();
    let runs: Vec<Range<usize>> = (0..count)
        .step_by(SLAB)
        .flat_map(|slab| {
            let end = (slab + SLAB).min(count);
            (slab..end)
                .step_by(together)
                .map(move |first| first..(first + together).min(end))
        })
        .collect();
    let kept_count = AtomicUsize::new(0);
    survey.layers = runs
        .into_par_iter()
        .map_init(Scratch::default, |scratch, run| {
            let mut found: Vec<Option<Vec<BodyLayer>>> = run
                .clone()
                .map(|layer| kept.as_ref().and_then(|k| k.layer(layer)))
                .collect();
            kept_count.fetch_add(found.iter().flatten().count(), Ordering::Relaxed);
            // From the first that is not kept to the last: in between there is hardly ever one that is.
            let open = found.iter().position(Option::is_none);
            let last = found.iter().rposition(Option::is_none);
            if let Some((first, last)) = open.zip(last).filter(|_| go_on()) {
                let looked = survey.look_at(run.start + first..run.start + last + 1, scratch);
                for (found, looked) in found[first..].iter_mut().zip(looked) {
                    found.get_or_insert(looked);
                }
            }
            found.iter().for_each(|_| step());
            found.into_iter().map(Option::unwrap_or_default)
        })
        .flatten_iter()
        .collect();
    survey.kept = kept_count.into_inner();
    if go_on() { Ok(survey) } else { Err(Stopped) }
}

/// The facets of each body, ascending. Every mesh is gone through once, however many of its parts are bodies.
fn facets_of(bodies: &[Body]) -> Vec<Vec<u32>> {
    let mut found = vec![Vec::new(); bodies.len()];
    for (first, body) in bodies.iter().enumerate() {
        let is_of_mesh = |b: &Body| Arc::ptr_eq(&b.open, &body.open);
        if bodies[..first].iter().any(is_of_mesh) {
            continue;
        }
        let mut by_part = vec![Vec::new(); body.open.parts.len()];
        for (facet, part) in body.open.part_of.iter().enumerate() {
            by_part[*part as usize].push(facet as u32);
        }
        for (found, body) in found.iter_mut().zip(bodies).filter(|(_, b)| is_of_mesh(b)) {
            found.clone_from(&by_part[body.part as usize]);
        }
    }
    found
}

/// A look at all layers, each by itself.
struct Pass<'a> {
    count: usize,
    go_on: &'a (dyn Fn() -> bool + Sync),
    step: &'a (dyn Fn() + Sync),
}

impl Pass<'_> {
    /// What is found in each layer, or was kept of it; nothing in those after a stop.
    fn over<T: Send + Default>(
        &self,
        kept: impl Fn(usize) -> Option<T> + Sync,
        find: impl Fn(usize, &mut Scratch) -> T + Sync,
    ) -> Vec<T> {
        (0..self.count)
            .into_par_iter()
            .map_init(Scratch::default, |scratch, layer| {
                let found = match kept(layer) {
                    Some(kept) => kept,
                    None if (self.go_on)() => find(layer, scratch),
                    None => T::default(),
                };
                (self.step)();
                found
            })
            .collect()
    }
}

/// Share of a cell from which it is full, but for rounding.
const FULL: f64 = 1.0 - 1e-9;

impl Survey {
    /// Layers that are looked at together: of a wide print fewer, so that they fit into memory.
    fn layers_together(&self) -> usize {
        const MOST_CELLS: usize = 2_000_000;
        let cells = self.grid.cells[0] * self.grid.cells[1];
        (MOST_CELLS / cells.max(1)).clamp(1, SLAB)
    }

    fn inside_bits(&self, layer: usize, scratch: &mut Scratch) -> Vec<u64> {
        let words = self.inside.words_per_row;
        let mut bits = vec![0u64; words * self.grid.cells[1]];
        // What several bodies share out among them may be inside though of none there is half.
        let several = self.bodies.len() > 1;
        let sums = &mut scratch.sums;
        sums.clear();
        sums.resize(
            if several {
                self.grid.cells[0] * self.grid.cells[1]
            } else {
                0
            },
            0.0,
        );
        for body in 0..self.bodies.len() {
            self.outline(body, layer, &mut scratch.segments);
            let raster = &mut scratch.raster;
            raster.cover(&self.grid, &scratch.segments);
            for y in 0..raster.size[1] {
                for x in 0..raster.size[0] {
                    let (cx, cy) = (raster.first[0] + x, raster.first[1] + y);
                    let mut share = raster.share(x, y);
                    if several {
                        let sum = &mut sums[cy * self.grid.cells[0] + cx];
                        *sum += share as f32;
                        share = f64::from(*sum);
                    }
                    // Shapes that share a cell out add up to it but for rounding.
                    if share >= 0.5 - 1e-6 {
                        bits[cy * words + cx / 64] |= 1 << (cx % 64);
                    }
                }
            }
        }
        bits
    }

    /// Looks at some layers of one slab.
    fn look_at(&self, layers: Range<usize>, scratch: &mut Scratch) -> Vec<Vec<BodyLayer>> {
        let grid = self.grid;
        let mut found = vec![Vec::new(); layers.len()];
        for body in 0..self.bodies.len() {
            let slices = self.slices(body, layers.clone(), &grid, scratch);
            for (slice, found) in slices.iter().zip(&mut found) {
                let mut here = BodyLayer {
                    body: body as u32,
                    ..BodyLayer::default()
                };
                scratch.core.begin(&grid);
                self.each_cell(body, &grid, slice, |cell| {
                    let at = (cell.at[1] * grid.cells[0] + cell.at[0]) as u32;
                    let area = cell.share * grid.cell_mm2();
                    if cell.nearest.is_none() && cell.share > FULL {
                        scratch.core.add(at, cell.solid);
                        return;
                    }
                    let (facet, distance, spread) =
                        cell.nearest.unwrap_or((NO_FACET, f64::INFINITY, 0.0));
                    here.cells.push(Cell {
                        facet,
                        at,
                        distance_mm: distance as f32,
                        spread_mm: spread as f32,
                        area_mm2: area as f32,
                        solid_mm2: (area * cell.solid) as f32,
                    });
                });
                scratch.core.end(&grid, &mut here);
                if here.core_mm2 > 0.0 || !here.cells.is_empty() {
                    found.push(here);
                }
            }
        }
        found
    }
}
