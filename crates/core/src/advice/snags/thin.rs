//! Regions too thin to print: strips narrower than a line, and spots that lie between the middles of two layers.

use super::{Candidate, SnagSort};
use crate::advice::Trial;
use crate::carve::Pieces;
use crate::geometry::facet_normal;
use crate::job::{Edit, GiveEdit};
use crate::layers::LayerHeights;
use crate::limits::EDGE_STEP;
use crate::regions::find_strays;

pub(super) fn find(trial: &Trial<'_>, out: &mut Vec<Candidate>) {
    strips(trial, out);
    between_layers(trial, out);
}

fn strips(trial: &Trial<'_>, out: &mut Vec<Candidate>) {
    let job = trial.job;
    let line_mm = job.printer.line_width_mm;
    let Ok(found) = job.strays(0.0, line_mm) else {
        return;
    };
    let strips: Vec<_> = found.iter().flatten().collect();
    let Some(first) = strips.first() else { return };
    let foot = job.bounds().min[2];
    let heights = strips.iter().flat_map(|s| s.outline.iter().flatten());
    let (low_mm, high_mm) = heights.fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), p| {
        (a.min(p[2] - foot), b.max(p[2] - foot))
    });
    let mut regions: Vec<u16> = strips.iter().map(|s| s.region).collect();
    regions.sort_unstable();
    regions.dedup();
    let area: f64 = strips.iter().map(|s| s.area_mm2).sum();
    let count = strips.len();
    let (what, is) = if count == 1 {
        (format!("A strip of {}", trial.name(first.region)), "is")
    } else {
        let whose: Vec<&str> = regions.iter().map(|r| trial.name(*r)).collect();
        (format!("{count} strips of {}", whose.join(", ")), "are")
    };
    out.push(Candidate {
        sort: SnagSort::Thin,
        what: format!("{what} {is} narrower than a line of {line_mm:.2} mm: {area:.1} mm² that will not print clean"),
        mend: match count {
            1 => "Give it to what is beside it",
            _ => "Give them to what is beside them",
        }
        .into(),
        edit: Edit::Give(GiveEdit::GiveStrays {
            smaller_mm2: 0.0,
            narrower_mm: line_mm,
        }),
        low_mm,
        high_mm,
        regions,
        is_told_anyway: true,
    });
}

/// Surface of a region below which nobody misses it, mm².
const MISSED_MM2: f64 = 1.0;

/// Spots on walls that no layer cuts, by region: the region prints, but less of it than is seen.
fn between_layers(trial: &Trial<'_>, out: &mut Vec<Candidate>) {
    /// Level surface shows in the layer below it, whatever its height.
    const STEEP: f64 = 0.7;
    struct Lost {
        spots: usize,
        area_mm2: f64,
        low: f64,
        high: f64,
        /// Height of the lowest spot, mm.
        least_mm: f64,
    }
    let job = trial.job;
    let bounds = job.bounds();
    let (foot, printer) = (bounds.min[2], &job.printer);
    let heights = LayerHeights::new(bounds.size()[2], printer.first_layer_mm, printer.layer_mm);
    let mut lost: Vec<Option<Lost>> = job.regions.iter().map(|_| None).collect();
    for (index, model) in job.models.iter().enumerate() {
        let pieces = Pieces::of(&model.open, &model.labels);
        let region_of = |p: u32| job.region_of_label(index, pieces.facet(p), pieces.label(p));
        for spot in find_strays(&model.open, &pieces, &region_of, f64::INFINITY, 0.0) {
            let part = model.open.part_of[pieces.facet(spot.pieces[0]) as usize];
            let corners = || spot.pieces.iter().map(|p| pieces.corners(*p));
            let is_steep = |c: [[f64; 3]; 3]| facet_normal(&c).is_none_or(|n| n[2].abs() < STEEP);
            let (low, high) = corners()
                .flatten()
                .fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), p| {
                    (low.min(p[2] - foot), high.max(p[2] - foot))
                });
            let is_between = high - low < printer.layer_mm && heights.cut_by(low, high).is_empty();
            if !is_between || !model.parts[part as usize].is_printed || !corners().all(is_steep) {
                continue;
            }
            let of = lost[spot.region as usize].get_or_insert(Lost {
                spots: 0,
                area_mm2: 0.0,
                low,
                high,
                least_mm: high - low,
            });
            of.spots += 1;
            of.area_mm2 += spot.area_mm2;
            of.low = of.low.min(low);
            of.high = of.high.max(high);
            of.least_mm = of.least_mm.min(high - low);
        }
    }
    for (region, lost) in (0u16..).zip(lost) {
        let Some(lost) = lost.filter(|l| l.area_mm2 > MISSED_MM2) else {
            continue;
        };
        let name = trial.name(region);
        // As high as a layer, every spot holds the middle of one.
        let by_mm = (0.5 * (printer.layer_mm - lost.least_mm) + 0.01).max(EDGE_STEP.low);
        let by_mm = (100.0 * by_mm).ceil() / 100.0;
        let (spots, lie) = match lost.spots {
            1 => ("A spot".to_string(), "lies"),
            n => (format!("{n} spots"), "lie"),
        };
        out.push(Candidate {
            sort: SnagSort::BetweenLayers,
            what: format!(
                "{spots} of {name} {lie} between the middles of two layers: {:.1} mm² that no layer prints",
                lost.area_mm2
            ),
            mend: format!("Grow {name} by {by_mm:.2} mm, so that a layer prints all of it"),
            edit: Edit::Give(GiveEdit::GrowRegion {
                region: trial.key(region).into(),
                by_mm,
            }),
            low_mm: lost.low,
            high_mm: lost.high,
            regions: vec![region],
            is_told_anyway: true,
        });
    }
}
