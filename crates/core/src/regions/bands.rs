//! Bands: everything between two heights.

use crate::carve::Field;
use crate::model::OpenMesh;

/// Some bands, each from a lower to a higher height in mm, apart from each other.
pub struct BandField {
    bands: Vec<(f64, f64)>,
}

impl BandField {
    /// Bands at these heights, in the mesh's frame; none is empty.
    pub fn new(bands: Vec<(f64, f64)>) -> BandField {
        BandField { bands }
    }

    /// Facets of a mesh that reach into a band, of one part or of all. Linear.
    pub(crate) fn facets(&self, open: &OpenMesh, part: Option<u32>) -> Vec<u32> {
        (0..open.mesh.facets.len() as u32)
            .filter(|f| part.is_none_or(|p| open.part_of[*f as usize] == p))
            .filter(|f| {
                let z = open.mesh.corners(*f).map(|c| c[2]);
                let low = z[0].min(z[1]).min(z[2]);
                let high = z[0].max(z[1]).max(z[2]);
                self.bands.iter().any(|(a, b)| low <= *b && high >= *a)
            })
            .collect()
    }
}

impl Field for BandField {
    fn at(&self, [_, _, z]: [f64; 3]) -> f64 {
        let from = |(low, high): &(f64, f64)| (low - z).max(z - high);
        self.bands.iter().map(from).fold(f64::INFINITY, f64::min)
    }

    fn detail_mm(&self, _p: [f64; 3], _reach: f64) -> f64 {
        f64::INFINITY
    }

    fn planes(&self) -> usize {
        2 * self.bands.len()
    }

    fn plane(&self, number: usize, [_, _, z]: [f64; 3]) -> f64 {
        let (low, high) = self.bands[number / 2];
        z - if number.is_multiple_of(2) { low } else { high }
    }
}
