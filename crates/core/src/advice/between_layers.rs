//! Colour on walls that no layer prints: spots between the middles of two layers. The region prints, but less of it than is seen.

use crate::carve::{NO_PIECE, Pieces};
use crate::geometry::{facet_area, facet_normal};
use crate::job::Job;
use crate::layers::LayerHeights;

/// What of a region lies between layers.
pub(super) struct BetweenLayers {
    pub(super) region: u16,
    pub(super) spots: usize,
    pub(super) area_mm2: f64,
    /// Height of the lowest spot, mm.
    pub(super) least_mm: f64,
}

/// The regions that are so, by number.
///
/// # Cost
/// One look at every piece of models that are painted; along borders, the spots.
pub(super) fn between_layers(job: &Job) -> Vec<BetweenLayers> {
    let bounds = job.bounds();
    let (foot, printer) = (bounds.min[2], &job.printer);
    let heights = LayerHeights::new(bounds.size()[2], printer.first_layer_mm, printer.layer_mm);
    let mut found: Vec<Option<BetweenLayers>> = job.regions.iter().map(|_| None).collect();
    // Parts do not hang together: without colours a model has no borders.
    let models = job.models.iter().enumerate();
    for (index, model) in models.filter(|(_, m)| !m.labels.is_plain()) {
        let pieces = Pieces::of(&model.open, &model.labels);
        let look = Look {
            region_of: &|p| job.region_of_label(index, pieces.facet(p), pieces.label(p)),
            is_printed: &|p| {
                model.parts[model.open.part_of[pieces.facet(p) as usize] as usize].is_printed
            },
            pieces: &pieces,
            heights: &heights,
            foot,
        };
        for (region, area_mm2, height_mm) in look.spots() {
            let of = found[region as usize].get_or_insert(BetweenLayers {
                region,
                spots: 0,
                area_mm2: 0.0,
                least_mm: f64::INFINITY,
            });
            of.spots += 1;
            of.area_mm2 += area_mm2;
            of.least_mm = of.least_mm.min(height_mm);
        }
    }
    found.into_iter().flatten().collect()
}

struct Look<'a> {
    pieces: &'a Pieces<'a>,
    region_of: &'a dyn Fn(u32) -> u16,
    is_printed: &'a dyn Fn(u32) -> bool,
    heights: &'a LayerHeights,
    foot: f64,
}

impl Look<'_> {
    /// Region, area in mm² and height in mm of every spot.
    fn spots(&self) -> Vec<(u16, f64, f64)> {
        let pieces = self.pieces;
        let end = pieces.end();
        let mut seen = vec![false; end as usize];
        let mut found = Vec::new();
        for seed in (0..end).filter(|p| pieces.is_piece(*p)) {
            if seen[seed as usize] {
                continue;
            }
            let region = (self.region_of)(seed);
            let is_other = |p: &u32| *p != NO_PIECE && (self.region_of)(*p) != region;
            // A spot has a border with another region; so what lies inside of one is not looked at.
            if !pieces.across(seed).iter().any(is_other) || !(self.is_printed)(seed) {
                continue;
            }
            let Some(first) = self.between(seed) else {
                continue;
            };
            seen[seed as usize] = true;
            let (mut is_between, mut area_mm2, mut next) = (true, 0.0, 0);
            let [mut low, mut high] = first.span;
            let mut spot = vec![seed];
            while let Some(&piece) = spot.get(next) {
                next += 1;
                area_mm2 += facet_area(&pieces.corners(piece));
                for other in pieces.across(piece) {
                    if other == NO_PIECE
                        || (self.region_of)(other) != region
                        || seen[other as usize]
                    {
                        continue;
                    }
                    match self.between(other).filter(|b| b.layer == first.layer) {
                        Some(between) => {
                            low = low.min(between.span[0]);
                            high = high.max(between.span[1]);
                            seen[other as usize] = true;
                            spot.push(other);
                        }
                        None => is_between = false,
                    }
                }
            }
            if is_between {
                found.push((region, area_mm2, high - low));
            }
        }
        found
    }

    /// Where a piece of a wall lies that no layer cuts; none if one does. Level surface shows in the layer below it, whatever its
    /// height.
    fn between(&self, piece: u32) -> Option<Between> {
        const STEEP: f64 = 0.7;
        let corners = self.pieces.corners(piece);
        let z = corners.map(|p| p[2] - self.foot);
        let span = [
            z.into_iter().fold(f64::INFINITY, f64::min),
            z.into_iter().fold(f64::NEG_INFINITY, f64::max),
        ];
        let cut = self.heights.cut_by(span[0], span[1]);
        let is_steep = || facet_normal(&corners).is_none_or(|n| n[2].abs() < STEEP);
        (cut.is_empty() && is_steep()).then_some(Between {
            layer: cut.start,
            span,
        })
    }
}

struct Between {
    /// How many layers have their middle below it.
    layer: usize,
    span: [f64; 2],
}
