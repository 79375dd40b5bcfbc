//! What a survey looks up again and again: facets by layer, and which cells are inside in which layer.

use super::grid::LayerHeights;
use super::survey::Body;
use rayon::prelude::*;

/// Facets of one body by the layers that cut them.
pub(super) struct CrossingFacets {
    starts: Vec<u32>,
    facets: Vec<u32>,
}

impl CrossingFacets {
    pub(super) fn find(body: &Body, facets: &[u32], heights: &LayerHeights) -> CrossingFacets {
        let ranges: Vec<std::ops::Range<usize>> = facets
            .par_iter()
            .map(|f| {
                let z = body.open.mesh.corners(*f).map(|c| c[2] + body.shift[2]);
                let low = z[0].min(z[1]).min(z[2]);
                let high = z[0].max(z[1]).max(z[2]);
                // A hair wider: the cut itself is decided in the mesh's frame, with other rounding.
                heights.cut_by(low - 1e-9, high + 1e-9)
            })
            .collect();
        let mut starts = vec![0u32; heights.spans.len() + 1];
        for layer in ranges.iter().flat_map(Clone::clone) {
            starts[layer + 1] += 1;
        }
        for i in 1..starts.len() {
            starts[i] += starts[i - 1];
        }
        let mut fill = starts.clone();
        let mut sorted = vec![0u32; starts[heights.spans.len()] as usize];
        for (facet, range) in facets.iter().zip(&ranges) {
            for layer in range.clone() {
                sorted[fill[layer] as usize] = *facet;
                fill[layer] += 1;
            }
        }
        CrossingFacets {
            starts,
            facets: sorted,
        }
    }

    pub(super) fn of(&self, layer: usize) -> &[u32] {
        &self.facets[self.starts[layer] as usize..self.starts[layer + 1] as usize]
    }
}

/// One bit per cell and layer: at least half of the cell is inside some body.
pub(super) struct InsideBits {
    pub(super) words_per_row: usize,
    pub(super) layers: Vec<Vec<u64>>,
}

impl InsideBits {
    /// Whether the cell is inside in every layer of the window; layers beyond the print count as outside.
    pub(super) fn all_inside(
        &self,
        layer: usize,
        below: u32,
        above: u32,
        x: usize,
        y: usize,
    ) -> bool {
        let (below, above) = (below as usize, above as usize);
        if layer < below || layer + above >= self.layers.len() {
            return false;
        }
        let word = y * self.words_per_row + x / 64;
        self.layers[layer - below..=layer + above]
            .iter()
            .all(|l| l.get(word).is_some_and(|w| w >> (x % 64) & 1 == 1))
    }
}
