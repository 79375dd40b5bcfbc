//! Colours that would cost less if they went deeper: right through, or with the inside ending on layers. The surface stays as it is.

use super::super::deep::several;
use super::{Candidate, SnagSort};
use crate::Problem;
use crate::advice::Trial;
use crate::job::{Edit, SoakDepth};

/// Regions of which each is tried right through alone.
const MOST_ALONE: usize = 6;

/// `regions`: those whose depth can be chosen.
pub(super) fn find(
    trial: &Trial<'_>,
    regions: &[u16],
    out: &mut Vec<Candidate>,
) -> Result<(), Problem> {
    let job = trial.job;
    if regions.is_empty() {
        return Ok(());
    }
    let through = |region: u16| Edit::soak(trial.key(region), SoakDepth::Through);
    let is_shallow = |region: &u16| !job.regions[*region as usize].depth.is_through();
    let tall_mm = trial.shares().last().map_or(0.0, |l| l.z1_mm);
    let mut add = |what: String, mend: String, edits: Vec<Edit>, regions: Vec<u16>| {
        if edits.is_empty() {
            return;
        }
        out.push(Candidate {
            sort: SnagSort::Deeper,
            what,
            edit: several(&mend, edits),
            mend,
            low_mm: 0.0,
            high_mm: tall_mm,
            regions,
            is_told_anyway: false,
        });
    };
    if let Some(best) = trial.best_depths_of(regions)? {
        let edits: Vec<Edit> = regions
            .iter()
            .filter_map(|r| {
                let is_through = !is_shallow(r);
                match (best.through.contains(r), is_through) {
                    (true, false) => Some(through(*r)),
                    (false, true) => Some(Edit::soak(trial.key(*r), SoakDepth::default())),
                    _ => None,
                }
            })
            .collect();
        let how = match (best.is_least, best.floor_mm3) {
            (true, _) => "of all combinations of depths none purges less".to_string(),
            (false, Some(floor)) => format!(
                "the best combination of depths found; none purges less than {:.1} cm³, this one {:.1} cm³",
                floor / 1000.0,
                best.purge_mm3 / 1000.0
            ),
            (false, None) => "the best combination of depths found".into(),
        };
        add(
            format!("Colours go in {}: {how}", how_deep(trial, regions)),
            "Colours as deep as pays".into(),
            edits,
            regions.to_vec(),
        );
    }
    let inside = trial.level_insides();
    add(
        "The inside has another colour than the surface around it: layers print both".into(),
        "Colours as deep as pays, the inside ending on layers".into(),
        inside.clone(),
        regions.to_vec(),
    );
    let shallow: Vec<u16> = regions.iter().copied().filter(is_shallow).collect();
    if shallow.len() > 1 {
        add(
            format!("All colours go in {}", how_deep(trial, regions)),
            "All right through".into(),
            shallow.iter().map(|r| through(*r)).collect(),
            regions.to_vec(),
        );
    }
    for region in shallow.iter().take(MOST_ALONE) {
        add(
            format!(
                "The colour of {} goes in {}",
                trial.name(*region),
                how_deep(trial, &[*region])
            ),
            format!("{} right through", trial.name(*region)),
            vec![through(*region)],
            vec![*region],
        );
    }
    Ok(())
}

/// The depths of some regions in words.
fn how_deep(trial: &Trial<'_>, regions: &[u16]) -> String {
    let depths = regions
        .iter()
        .map(|r| trial.job.soak_mm(*r))
        .filter(|mm| mm.is_finite());
    let (low, high) = depths.fold((f64::INFINITY, 0.0f64), |(a, b), mm| (a.min(mm), b.max(mm)));
    if high == 0.0 {
        "right through".into()
    } else if high - low < 1e-9 {
        format!("{high:.2} mm")
    } else {
        format!("{low:.2} to {high:.2} mm")
    }
}
