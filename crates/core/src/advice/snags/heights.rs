//! Heights that differ by a hair between parts: each then swaps on layers of its own.

use super::surfaces::{On, Span, Surfaces};
use super::{Candidate, SnagSort};
use crate::advice::Trial;
use crate::job::{Edit, PlaceEdit, Placing, Target};
use crate::model::Place;

/// Layers by which heights may differ and still be meant equal.
const MOST_LAYERS: f64 = 3.0;

/// Difference that no layer tells, mm.
const SAME_MM: f64 = 1e-3;

pub(super) fn find(trial: &Trial<'_>, surfaces: &Surfaces, out: &mut Vec<Candidate>) {
    let hair_mm = MOST_LAYERS * trial.job.printer.layer_mm + SAME_MM;
    let spans: Vec<(&On, &Span)> = surfaces.spans.iter().collect();
    for (on, span) in &spans {
        // The same region on all parts, this one too.
        let same = || spans.iter().filter(|(o, _)| o.2 == on.2);
        let lows = same().map(|(_, s)| s.low_mm);
        if on.2 != 0
            && let Some(low) = usual(lows, span.low_mm, hair_mm)
            && low < span.low_mm
        {
            lower_edge(trial, on, span, low, out);
        }
        let highs = same()
            .filter(|(_, s)| s.top_mm2 > 0.0)
            .map(|(_, s)| s.high_mm);
        if span.top_mm2 > 0.0
            && let Some(high) = usual(highs, span.high_mm, hair_mm)
        {
            tops(trial, on, span, high, out);
        }
    }
}

/// The height that most others have of those a hair from one, if it is not its own; the lower of two that are as common.
fn usual(all: impl Iterator<Item = f64>, own: f64, hair_mm: f64) -> Option<f64> {
    let near: Vec<f64> = all.filter(|z| (z - own).abs() <= hair_mm).collect();
    let count = |z: f64| near.iter().filter(|o| (*o - z).abs() <= SAME_MM).count();
    let best = near.iter().copied().max_by(|a, b| {
        let most = count(*a).cmp(&count(*b));
        most.then(b.total_cmp(a))
    })?;
    ((best - own).abs() > SAME_MM).then_some(best)
}

/// A place on a part.
fn place_on(trial: &Trial<'_>, (model, part, _): On) -> Place {
    let m = &trial.job.models[model];
    let namer = m.open.namers()[part as usize];
    Place {
        model: m.name.clone(),
        point: namer.point,
        normal: namer.normal,
    }
}

/// A colour that begins higher on one part than on another: it is drawn down.
fn lower_edge(trial: &Trial<'_>, on: &On, span: &Span, other_mm: f64, out: &mut Vec<Candidate>) {
    let part = &trial.job.models[on.0].parts[on.1 as usize].name;
    out.push(Candidate {
        sort: SnagSort::Heights,
        what: format!(
            "{} begins at {:.2} mm on {part} and at {:.2} mm elsewhere: each height has swaps of its own",
            trial.name(on.2),
            span.low_mm,
            other_mm
        ),
        mend: format!("Let it begin at {:.2} mm here too", other_mm),
        edit: Edit::band(trial.key(on.2), [other_mm, span.low_mm], Some(place_on(trial, *on)), None),
        low_mm: other_mm,
        high_mm: span.low_mm,
        regions: vec![on.2],
        is_told_anyway: false,
    });
}

/// Level tops that are not quite level with one another: the part is stretched.
fn tops(trial: &Trial<'_>, on: &On, span: &Span, other_mm: f64, out: &mut Vec<Candidate>) {
    let foot = trial.job.bounds().min[2];
    let m = &trial.job.models[on.0];
    let bounds = m.open.parts[on.1 as usize].measures.bounds;
    let (low, tall) = (bounds.min[2] - foot, bounds.size()[2]);
    // Only what stands on the bed can be stretched without leaving it, and only its very top moves as wanted.
    let is_top = (bounds.max[2] - foot - span.high_mm).abs() < SAME_MM;
    if low > SAME_MM || !is_top || tall < SAME_MM {
        return;
    }
    let part = &m.parts[on.1 as usize].name;
    out.push(Candidate {
        sort: SnagSort::Heights,
        what: format!(
            "The top of {part} is at {:.2} mm, others at {:.2} mm: a hair apart, on layers of its own",
            span.high_mm, other_mm
        ),
        mend: format!("Stretch {part} to {:.2} mm", other_mm),
        edit: Edit::Place(PlaceEdit::Place {
            target: Target::Part {
                at: place_on(trial, *on),
            },
            placing: Placing::Stretch {
                factors: [1.0, 1.0, other_mm / span.high_mm],
            },
        }),
        low_mm: span.high_mm.min(other_mm),
        high_mm: span.high_mm.max(other_mm),
        regions: vec![on.2],
        is_told_anyway: false,
    });
}
