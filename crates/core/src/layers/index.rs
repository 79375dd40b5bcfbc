//! What a survey looks up again and again: facets by layer, and which cells are inside in which layer.

use super::body::Body;
use super::grid::LayerHeights;
use rayon::prelude::*;
use std::ops::Range;

/// By how much wider facets are taken than they are, so that no rounding loses one, mm.
pub(super) const HAIR_MM: f64 = 1e-9;

/// Numbers of things by what they are in: layers, or slabs of them.
#[derive(Default)]
pub(super) struct Buckets {
    starts: Vec<u32>,
    items: Vec<u32>,
}

impl Buckets {
    /// Sorts things that are each in a range of `count` buckets; within a bucket they ascend.
    pub(super) fn new(count: usize, ranges: &[Range<usize>]) -> Buckets {
        let mut starts = vec![0u32; count + 1];
        for bucket in ranges.iter().flat_map(Clone::clone) {
            starts[bucket + 1] += 1;
        }
        for i in 1..starts.len() {
            starts[i] += starts[i - 1];
        }
        let mut fill = starts.clone();
        let mut items = vec![0u32; starts[count] as usize];
        for (item, range) in ranges.iter().enumerate() {
            for bucket in range.clone() {
                items[fill[bucket] as usize] = item as u32;
                fill[bucket] += 1;
            }
        }
        Buckets { starts, items }
    }

    /// What is in a bucket.
    pub(super) fn of(&self, bucket: usize) -> &[u32] {
        &self.items[self.starts[bucket] as usize..self.starts[bucket + 1] as usize]
    }
}

/// Facets of one body by the layers that cut them.
pub(super) fn crossing_facets(body: &Body, facets: &[u32], heights: &LayerHeights) -> Buckets {
    let ranges: Vec<Range<usize>> = facets
        .par_iter()
        .map(|f| {
            let z = body.open.mesh.corners(*f).map(|c| c[2] + body.shift[2]);
            let low = z[0].min(z[1]).min(z[2]);
            let high = z[0].max(z[1]).max(z[2]);
            // A hair wider: the cut itself is decided in the mesh's frame, with other rounding.
            heights.cut_by(low - HAIR_MM, high + HAIR_MM)
        })
        .collect();
    let mut found = Buckets::new(heights.spans.len(), &ranges);
    found
        .items
        .iter_mut()
        .for_each(|i| *i = facets[*i as usize]);
    found
}

/// One bit per cell and layer: at least half of the cell is inside some body.
pub(super) struct InsideBits {
    pub(super) words_per_row: usize,
    pub(super) layers: Vec<Vec<u64>>,
}

impl InsideBits {
    /// Of 64 cells in a row those that are inside in every layer of the window; layers beyond the print count as outside.
    /// `word`: row, and which 64 of it.
    pub(super) fn all_inside(
        &self,
        layer: usize,
        below: u32,
        above: u32,
        word: (usize, usize),
    ) -> u64 {
        let (below, above) = (below as usize, above as usize);
        if layer < below || layer + above >= self.layers.len() {
            return 0;
        }
        let word = word.0 * self.words_per_row + word.1;
        self.layers[layer - below..=layer + above]
            .iter()
            .fold(u64::MAX, |all, l| all & l.get(word).copied().unwrap_or(0))
    }
}
