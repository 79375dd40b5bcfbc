//! What of a drawing is thinner than a line of plastic.

use super::flat::{Flat, Ink};
use crate::shapes::{Area, middle_lines};
use rayon::prelude::*;

/// A place of a drawing that is too thin to be printed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ThinPlace {
    /// Number of the ink.
    pub ink: usize,
    /// Where, mm.
    pub at: [f64; 2],
    /// How wide it is there, mm.
    pub width_mm: f64,
    /// How much of it there is, mm².
    pub mm2: f64,
}

/// Half the width of what rounding leaves, mm.
const SLIVER_MM: f64 = 0.01;

/// Tips of less length than this, in widths, are only what rounding takes off a corner.
const TIP: f64 = 1.5;

/// What of an area is thinner than a width, island by island, with how wide it is, mm.
fn thin(area: &Area, least_mm: f64) -> Vec<(Area, f64, [f64; 2])> {
    let left = area.minus(&area.opened(0.49 * least_mm));
    // Along curves rounding leaves slivers, which are no places of the drawing; a hairline that stands alone is one.
    let mut places = left.opened(SLIVER_MM).and(&left).islands();
    let alone = area.clone().islands().into_iter();
    places.extend(alone.filter(|i| i.opened(SLIVER_MM).is_empty()));
    let of_place = |island: Area| {
        let lines = middle_lines(&island, 0.05 * least_mm);
        let points = lines.iter().flat_map(|l| &l.points);
        let mut widths: Vec<([f64; 2], f64)> = points.copied().collect();
        widths.sort_by(|a, b| a.1.total_cmp(&b.1));
        // Where no middle is found, as wide as a long strip of as much area and edge would be.
        let of_strip = || {
            let first = island.rings_mm().first()?.first().copied()?;
            Some((first, 2.0 * island.mm2() / island.edge_mm()))
        };
        let (at, width) = widths.get(widths.len() / 2).copied().or_else(of_strip)?;
        // A corner that a round nozzle cannot reach into is as thin, but has no length.
        let length = island.mm2() / width.max(1e-6);
        let is_thin = length > TIP * least_mm && width < 0.98 * least_mm;
        is_thin.then_some((island, width, at))
    };
    places.into_par_iter().filter_map(of_place).collect()
}

/// Where a drawing is thinner than a width, the most of it first.
///
/// # Cost
/// n log n in corners; of what is thin, island by island the square of them.
pub fn thin_places(flat: &Flat, least_mm: f64) -> Vec<ThinPlace> {
    let of_ink = |(ink, own): (usize, &Ink)| {
        let places = thin(&own.area, least_mm).into_iter();
        let place = move |(island, width_mm, at): (Area, f64, [f64; 2])| ThinPlace {
            ink,
            at,
            width_mm,
            mm2: island.mm2(),
        };
        places.map(place).collect::<Vec<_>>()
    };
    let mut found: Vec<ThinPlace> = flat
        .inks
        .par_iter()
        .enumerate()
        .flat_map_iter(of_ink)
        .collect();
    found.sort_by(|a, b| b.mm2.total_cmp(&a.mm2));
    found
}

/// The same drawing with everything at least so wide: what is thinner grows to both sides, over its neighbours. Colours keep their
/// numbers, even one of which nothing is left.
pub fn thickened(mut flat: Flat, least_mm: f64) -> Flat {
    for ink in 0..flat.inks.len() {
        let grown: Vec<Area> = thin(&flat.inks[ink].area, least_mm)
            .into_iter()
            .map(|(island, width, _)| island.offset(0.5 * (least_mm - width)))
            .collect();
        if grown.is_empty() {
            continue;
        }
        let grown = Area::union(&grown);
        for (other, beside) in flat.inks.iter_mut().enumerate() {
            beside.area = match other == ink {
                true => beside.area.or(&grown),
                false => beside.area.minus(&grown),
            };
        }
    }
    flat
}
