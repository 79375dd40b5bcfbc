//! An accent that is not a whole number of layers thick, and the first layer that makes it so.

use super::surfaces::{On, Span, Surfaces};
use super::{Candidate, SnagSort};
use crate::advice::Trial;
use crate::job::{Edit, SlotEdit};
use crate::machine::Printer;

/// Thickest accent that is looked at, mm (common practice, no source: raised and sunken accents are 0.2 to 1 mm).
const THICKEST_MM: f64 = 3.0;

/// How far off a border between layers counts as on it, mm.
const ON_MM: f64 = 0.011;

/// First layers that print well, as shares of the nozzle's bore (common practice, no source).
const FIRST: std::ops::RangeInclusive<f64> = 0.25..=0.8;

pub(super) fn find(trial: &Trial<'_>, surfaces: &Surfaces, out: &mut Vec<Candidate>) {
    let printer = &trial.job.printer;
    let mut accents: Vec<(&On, &Span)> = surfaces
        .spans
        .iter()
        .filter(|((_, _, region), s)| *region != 0 && s.top_mm2 > 0.0)
        .filter(|(_, s)| (ON_MM..=THICKEST_MM).contains(&(s.high_mm - s.low_mm)))
        .collect();
    accents.sort_by(|a, b| b.1.area_mm2.total_cmp(&a.1.area_mm2));
    for (on, span) in accents {
        let borders = [span.low_mm, span.high_mm];
        let off = |first: f64| -> f64 {
            let from_border = |z: &f64| {
                let layers = (z - first) / printer.layer_mm;
                (layers - layers.round()).abs() * printer.layer_mm
            };
            let inside = borders.iter().filter(|z| **z > ON_MM);
            inside.map(from_border).fold(0.0, f64::max)
        };
        let now = off(printer.first_layer_mm);
        if now <= ON_MM {
            continue;
        }
        // Either border may come to lie on the grid; both do if the accent is a whole number of layers.
        let fits = borders.iter().flat_map(|z| {
            let least = FIRST.start() * printer.nozzle_mm;
            let rest = (z - least).rem_euclid(printer.layer_mm) + least;
            [rest, rest + printer.layer_mm]
        });
        let best = fits
            .map(|first| (1e4 * first).round() / 1e4)
            .filter(|first| FIRST.contains(&(first / printer.nozzle_mm)))
            .min_by(|a, b| {
                let far = |f: &f64| (f - printer.first_layer_mm).abs();
                let same = (off(*a) - off(*b)).abs() < 1e-6;
                if same {
                    far(a).total_cmp(&far(b))
                } else {
                    off(a.to_owned()).total_cmp(&off(b.to_owned()))
                }
            });
        let Some(first) = best.filter(|f| off(*f) + ON_MM < now) else {
            continue;
        };
        let thick = span.high_mm - span.low_mm;
        let layers = (thick / printer.layer_mm).round();
        out.push(Candidate {
            sort: SnagSort::LayerGrid,
            what: format!(
                "{} lies from {:.2} to {:.2} mm: {thick:.2} mm is not cut into whole layers by a first layer of {:.2} mm \
                 and {:.2} mm above",
                trial.name(on.2),
                span.low_mm,
                span.high_mm,
                printer.first_layer_mm,
                printer.layer_mm
            ),
            mend: if off(first) <= ON_MM {
                format!("First layer {first:.2} mm: {layers:.0} whole layers")
            } else {
                format!("First layer {first:.2} mm: one side on a layer")
            },
            edit: Edit::Slot(SlotEdit::SetPrinter {
                printer: Printer {
                    first_layer_mm: first,
                    ..printer.clone()
                },
            }),
            low_mm: span.low_mm,
            high_mm: span.high_mm,
            regions: vec![on.2],
            is_told_anyway: true,
        });
        // One first layer serves the largest accent.
        return;
    }
}
