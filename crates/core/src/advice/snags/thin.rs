//! Regions too thin to print: strips narrower than a line.

use super::{Candidate, SnagSort};
use crate::advice::Trial;
use crate::job::{Edit, GiveEdit};

pub(super) fn find(trial: &Trial<'_>, out: &mut Vec<Candidate>) {
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
