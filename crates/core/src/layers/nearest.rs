//! The nearest facet of every cell: the zone of each part of the surface is swept over the cells it holds.

use super::features::SLAB;
use super::grid::PrintGrid;
use super::raster::Raster;
use super::survey::{Scratch, Survey};
use super::zone::{Offered, Zone};
use crate::geometry::{closest_point, dot, sub};
use crate::mesh::{SAME, comes_first};
use std::ops::Range;

/// The best so far of one cell.
#[derive(Clone, Copy)]
struct Best {
    distance2: f32,
    facet: u32,
    /// How level the facet is: 1 for level.
    level: f64,
}

impl Best {
    /// Takes a facet instead, if it is nearer to a point.
    fn take(&mut self, offered: &Offered, p: [f64; 3]) {
        // A facet is no nearer than its plane, but for the plane's rounding.
        let height = dot(offered.normal, p) - offered.offset;
        if height * height * (1.0 - SAME) > f64::from(self.distance2) {
            return;
        }
        let d = sub(p, closest_point(p, &offered.corners));
        let (distance2, level) = (dot(d, d) as f32, offered.normal[2].abs());
        let now = (self.distance2, self.level, self.facet);
        if comes_first((distance2, level, offered.facet), now) {
            *self = Best {
                distance2,
                facet: offered.facet,
                level,
            };
        }
    }
}

/// One layer of a body on a grid: what is covered, how far the outline is, and the nearest facets.
pub(super) struct Slice {
    layer: usize,
    /// Height in the body's frame, mm.
    z: f64,
    raster: Raster,
    best: Vec<Best>,
}

/// One cell of a slice.
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

impl Survey {
    /// Some layers of one slab, of one body, on any grid.
    ///
    /// Of facets that are equally near the same one is taken as by [`crate::mesh::FacetTree::nearest`].
    ///
    /// # Cost
    /// Linear in the cells of the layers, in the zones that meet them, and in the cells of each.
    pub(super) fn slices(
        &self,
        body: usize,
        layers: Range<usize>,
        grid: &PrintGrid,
        scratch: &mut Scratch,
    ) -> Vec<Slice> {
        let b = &self.bodies[body];
        let wall_mm = self.wall_mm() + grid.step_mm;
        let slab = layers.start / SLAB;
        let near = self.near_mm();
        let open = Best {
            distance2: (near * near) as f32,
            facet: u32::MAX,
            level: -1.0,
        };
        let mut slices: Vec<Slice> = layers
            .map(|layer| {
                let mut raster = Raster::default();
                self.outline(body, layer, &mut scratch.segments);
                raster.cover(grid, &scratch.segments);
                let together = self.claimed[layer].together.as_ref();
                raster.measure(grid, together.unwrap_or(&scratch.segments), wall_mm);
                Slice {
                    layer,
                    z: self.heights.sample(layer) - b.shift[2],
                    best: vec![open; raster.size[0] * raster.size[1]],
                    raster,
                }
            })
            .collect();
        if slices.iter().all(|s| s.best.is_empty()) {
            return slices;
        }
        let place = Placed {
            grid,
            shift: b.shift,
        };
        self.features[body].each_in(b, slab, |zone| {
            for slice in &mut slices {
                place.sweep(zone, slice, |best, p| {
                    for offered in &zone.facets {
                        best.take(offered, p);
                    }
                });
            }
        });
        slices
    }

    /// Visits every cell of a slice, row by row.
    pub(super) fn each_cell(
        &self,
        body: usize,
        grid: &PrintGrid,
        slice: &Slice,
        mut visit: impl FnMut(Seen),
    ) {
        let b = &self.bodies[body];
        let place = Placed {
            grid,
            shift: b.shift,
        };
        let wall_mm = self.wall_mm();
        let raster = &slice.raster;
        let s = &self.settings;
        let is_own = *grid == self.grid;
        // In cells²: beyond, no part of a cell is wall.
        let walled2 = if wall_mm > 0.0 {
            (wall_mm / grid.step_mm + 0.5).powi(2) as f32
        } else {
            0.0
        };
        // Neighbours are in the same word of bits.
        let mut word = None;
        for y in 0..raster.size[1] {
            for x in 0..raster.size[0] {
                let share = raster.share(x, y);
                if share <= 0.0 {
                    continue;
                }
                let at = [raster.first[0] + x, raster.first[1] + y];
                let facet = slice.best[y * raster.size[0] + x].facet;
                let nearest = (facet != u32::MAX).then(|| {
                    let p = place.middle(at, slice.z);
                    let d = sub(p, closest_point(p, &b.open.mesh.corners(facet)));
                    let distance = dot(d, d).sqrt();
                    let flat = (d[0] * d[0] + d[1] * d[1]).sqrt();
                    let spread = if distance > 0.0 {
                        grid.step_mm * flat / distance
                    } else {
                        0.0
                    };
                    (facet, distance, spread)
                });
                let near2 = raster.near2(x, y);
                let wall = if near2 < walled2 {
                    let d = f64::from(near2).sqrt() * grid.step_mm;
                    (0.5 + (wall_mm - d) / grid.step_mm).clamp(0.0, 1.0)
                } else {
                    0.0
                };
                let [cx, cy] = if is_own {
                    at
                } else {
                    self.cell_of(grid.centre(at[0], at[1]))
                };
                let key = (cy, cx / 64);
                let buried = match word {
                    Some((of, bits)) if of == key => bits,
                    _ => self
                        .inside
                        .all_inside(slice.layer, s.bottom_skins, s.top_skins, key),
                };
                word = Some((key, buried));
                let is_skin = buried >> (cx % 64) & 1 == 0;
                visit(Seen {
                    at,
                    share,
                    solid: if is_skin { 1.0 } else { wall },
                    wall,
                    nearest,
                });
            }
        }
    }

    fn wall_mm(&self) -> f64 {
        f64::from(self.settings.walls) * self.settings.line_width_mm
    }

    /// Where a point of a layer lies in the survey's own grid.
    fn cell_of(&self, centre: [f64; 2]) -> [usize; 2] {
        let at = [0, 1]
            .map(|i| ((centre[i] - self.grid.origin[i]) / self.grid.step_mm).max(0.0) as usize);
        [at[0].min(self.grid.cells[0] - 1), at[1]]
    }
}

/// A grid as a body sees it.
struct Placed<'a> {
    grid: &'a PrintGrid,
    shift: [f64; 3],
}

impl Placed<'_> {
    /// Middle of a cell in the body's frame.
    fn middle(&self, at: [usize; 2], z: f64) -> [f64; 3] {
        let c = self.grid.centre(at[0], at[1]);
        [c[0] - self.shift[0], c[1] - self.shift[1], z]
    }

    /// Cells of a slice's raster whose middles lie between two places on an axis, in the body's frame.
    fn cells(&self, raster: &Raster, axis: usize, low: f64, high: f64) -> Range<usize> {
        let (step, first) = (self.grid.step_mm, raster.first[axis]);
        let zero = self.grid.origin[axis] - self.shift[axis] + (first as f64 + 0.5) * step;
        // PERF: casts instead of rounding, which is a call where the processor is not known to have it.
        let most = raster.size[axis] as f64;
        let start = ((low - zero) / step).clamp(0.0, most);
        let end = ((high - zero) / step + 1.0).clamp(0.0, most);
        let whole = start as usize;
        whole + usize::from((whole as f64) < start)..end as usize
    }

    /// Visits the covered cells of a slice that a zone holds, row by row.
    fn sweep(&self, zone: &Zone, slice: &mut Slice, mut visit: impl FnMut(&mut Best, [f64; 3])) {
        let z = slice.z;
        let raster = &slice.raster;
        if raster.size[0] == 0 || z < zone.low[2] || z > zone.high[2] {
            return;
        }
        let mut span = [zone.low[1], zone.high[1]];
        if let Some([low, high]) = zone.prism.and_then(|p| p.span_at(z)) {
            span = [span[0].max(low), span[1].min(high)];
        }
        for y in self.cells(raster, 1, span[0], span[1]) {
            let at_y = self.middle([0, raster.first[1] + y], z)[1];
            let at = |[a, b, d]: &[f64; 3]| d - a * at_y - b * z;
            if zone.along.iter().any(|h| at(h) < 0.0) {
                continue;
            }
            // PERF: plain comparisons, since `f64::min` also minds NaN.
            let (mut low, mut high) = (zone.low[0], zone.high[0]);
            for half_space in &zone.upper {
                let end = at(half_space);
                high = if end < high { end } else { high };
            }
            for half_space in &zone.lower {
                let start = at(half_space);
                low = if start > low { start } else { low };
            }
            if low > high {
                continue;
            }
            for x in self.cells(raster, 0, low, high) {
                if raster.share(x, y) > 0.0 {
                    let p = self.middle([raster.first[0] + x, raster.first[1] + y], z);
                    visit(&mut slice.best[y * raster.size[0] + x], p);
                }
            }
        }
    }
}
