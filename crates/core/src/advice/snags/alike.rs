//! Two spools nearly alike, printed as if they were different.

use super::{Candidate, SnagSort};
use crate::advice::Trial;
use crate::advice::filament_in_slot;
use crate::colour::difference;
use crate::job::{Edit, LoadEdit};
use crate::plan::Filament;

/// CIEDE2000 difference below which two prints side by side look like one colour (common practice, no source).
const ALIKE: f64 = 4.0;

pub(super) fn find(trial: &Trial<'_>, out: &mut Vec<Candidate>) {
    let job = trial.job;
    let regions_of = |slot: u8| -> Vec<u16> {
        job.live_regions()
            .map(|(n, _)| n)
            .filter(|n| job.slot_of(*n) == slot)
            .collect()
    };
    let used: Vec<(u8, Filament)> = trial
        .plan
        .needs
        .iter()
        .filter(|n| n.model_g > 0.0)
        .map(|n| (n.slot, filament_in_slot(job, trial.spools, n.slot - 1)))
        .collect();
    for (i, (a, one)) in used.iter().enumerate() {
        for (b, other) in &used[i + 1..] {
            let off = difference(one.pigment.colour.linear(), other.pigment.colour.linear());
            if off > ALIKE {
                continue;
            }
            let regions = regions_of(*b);
            let word = job.printer.profile().slot_word;
            let slots = regions
                .iter()
                .map(|r| (trial.key(*r).to_string(), Some(*a)))
                .collect();
            out.push(Candidate {
                sort: SnagSort::AlikeSpools,
                what: format!(
                    "{word}s {a} and {b} hold colours that are hardly told apart: a difference of {off:.1}"
                ),
                mend: format!("Print both from {} {a}", word.to_lowercase()),
                edit: Edit::Load(LoadEdit::Bay {
                    spools: Default::default(),
                    regions: slots,
                }),
                low_mm: 0.0,
                high_mm: trial.plan.layers.last().map_or(0.0, |l| l.z1_mm),
                regions,
                is_told_anyway: false,
            });
        }
    }
}
