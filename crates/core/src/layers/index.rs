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
    /// Sorts things, each given with a bucket that it is in; in one bucket they keep their order.
    pub(super) fn new(count: usize, pairs: impl Iterator<Item = (usize, u32)> + Clone) -> Buckets {
        let mut starts = vec![0u32; count + 1];
        for (bucket, _) in pairs.clone() {
            starts[bucket + 1] += 1;
        }
        for i in 1..starts.len() {
            starts[i] += starts[i - 1];
        }
        let mut next = starts.clone();
        let mut items = vec![0u32; starts[count] as usize];
        for (bucket, item) in pairs {
            let at = &mut next[bucket];
            items[*at as usize] = item;
            *at += 1;
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
            // A hair wider: the cut itself is decided in the mesh's frame, with other rounding.
            let [low, high] = body.heights_of(*f);
            heights.cut_by(low - HAIR_MM, high + HAIR_MM)
        })
        .collect();
    let layers = facets.iter().zip(&ranges);
    Buckets::new(
        heights.spans.len(),
        layers.flat_map(|(f, range)| range.clone().map(|layer| (layer, *f))),
    )
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
