//! What is known of the shape of a print: for every layer, the cells near the surface with their nearest facet.

use super::body::{Body, Settings, Shape};
use super::claimed::LayerClaims;
use super::core_cells::CoreCells;
use super::features::Features;
use super::grid::{LayerHeights, PrintGrid};
use super::index::{Buckets, InsideBits};
use super::raster::Raster;
use super::section::{Segment, section};
use crate::mesh::NO_FACET;

/// A cell of one layer that lies within reach of the surface.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cell {
    /// The facet of the body's surface nearest to the cell's middle; `NO_FACET` if none is within reach.
    pub facet: u32,
    /// Which cell of the layer's grid it is, row by row.
    pub at: u32,
    /// Its distance in mm; infinite if none is within reach.
    pub distance_mm: f32,
    /// By how much that distance changes across the cell, in mm: a soak depth that ends within this takes the cell
    /// in part.
    pub spread_mm: f32,
    /// The body's area in the cell, mm².
    pub area_mm2: f32,
    /// Of that, the area printed solid (walls and skins), mm².
    pub solid_mm2: f32,
}

/// Full cells in a row that are printed alike.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Run {
    /// The first cell of the grid.
    pub(super) first: u32,
    /// How many.
    pub(super) length: u32,
    /// Share of each printed solid.
    pub(super) solid: f32,
}

impl Run {
    /// Its cells.
    pub(super) fn cells(&self) -> std::ops::Range<usize> {
        self.first as usize..(self.first + self.length) as usize
    }
}

/// What one body contributes to one layer.
#[derive(Debug, Clone, Default, PartialEq)]
pub(super) struct BodyLayer {
    pub(super) body: u32,
    /// Full cells further from the surface than the reach that have only such around them.
    pub(super) core: Vec<Run>,
    /// Area of the core, mm².
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
    /// By body: its facets, ascending.
    pub(super) facets: Vec<Vec<u32>>,
    pub(super) features: Vec<Features>,
    pub(super) crossing: Vec<Buckets>,
    /// By layer: outlines of which higher bodies take something.
    pub(super) claimed: Vec<LayerClaims>,
    pub(super) inside: InsideBits,
    pub(super) layers: Vec<Vec<BodyLayer>>,
    pub(super) kept: usize,
}

/// What a thread reuses from layer to layer.
#[derive(Default)]
pub(super) struct Scratch {
    pub(super) segments: Vec<Segment>,
    pub(super) raster: Raster,
    pub(super) core: CoreCells,
    /// Covered share of each cell of a layer, all bodies together.
    pub(super) sums: Vec<f32>,
}

impl Survey {
    /// The cells of a layer that lie within reach of the surface, each with its body.
    pub fn cells(&self, layer: usize) -> impl Iterator<Item = (u32, &Cell)> {
        self.layers[layer]
            .iter()
            .flat_map(move |b| b.cells.iter().map(|c| (b.body, c)))
            .filter(|(_, c)| c.facet != NO_FACET)
    }

    /// How many layers were kept of an earlier survey.
    pub fn layers_kept(&self) -> usize {
        self.kept
    }

    /// How near to the surface a cell's middle has to be. Half a cell more than the reach, so that a cell whose middle is just
    /// past it can still count in part.
    pub(super) fn near_mm(&self) -> f64 {
        self.reach_mm + 0.5 * self.grid.step_mm
    }

    /// The outline of what one body prints at a layer's middle, in the print's frame, inside on the left.
    pub(super) fn outline(&self, body: usize, layer: usize, out: &mut Vec<Segment>) {
        let claimed = &self.claimed[layer].of_bodies;
        match claimed.binary_search_by_key(&(body as u32), |c| c.body) {
            Ok(at) => out.clone_from(&claimed[at].outline),
            Err(_) => self.whole_outline(body, layer, out),
        }
    }

    /// The same as if the body were alone.
    pub(super) fn whole_outline(&self, body: usize, layer: usize, out: &mut Vec<Segment>) {
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

    /// Whether it is a survey of just this shape, as deep as asked or deeper.
    pub fn fits(&self, shape: &Shape) -> bool {
        self.settings == shape.settings
            && self.reach_mm + 1e-9 >= shape.reach_mm
            && self.bodies == shape.bodies
    }
}
