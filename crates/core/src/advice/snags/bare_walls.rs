//! Walls left uncoloured under a coloured top: every layer of the top then needs both colours.

use super::surfaces::Surfaces;
use super::{Candidate, SnagSort};
use crate::advice::Trial;
use crate::job::{Edit, GiveEdit, JobEdit};
use std::collections::BTreeMap;

/// Border with bare walls that is worth a word, mm.
const LEAST_MM: f64 = 2.0;

/// Crease angle at which a top ends and its walls begin, degrees.
const CREASE_DEG: f64 = 30.0;

/// Tops that one mend colours at most.
const MOST: usize = 200;

pub(super) fn find(trial: &Trial<'_>, surfaces: &Surfaces, out: &mut Vec<Candidate>) {
    let mut by_region: BTreeMap<u16, Vec<&super::surfaces::Top>> = BTreeMap::new();
    for (((_, _, region), _), top) in &surfaces.tops {
        // What every part starts with has tops everywhere.
        if *region != 0 && top.bare_mm >= LEAST_MM {
            by_region.entry(*region).or_default().push(top);
        }
    }
    for (region, tops) in by_region {
        let give = |top: &&super::surfaces::Top| {
            Edit::Give(GiveEdit::GiveRelief {
                region: trial.key(region).into(),
                at: top.at.clone(),
                crease_deg: CREASE_DEG,
                all: true,
                through: false,
            })
        };
        let mut edits: Vec<Edit> = tops.iter().take(MOST).map(give).collect();
        let name = trial.name(region);
        let mend = format!("Colour the walls as well as {name}");
        let edit = if edits.len() == 1 {
            edits.remove(0)
        } else {
            Edit::Job(JobEdit::Several {
                what: format!("Walls under {name} too"),
                edits,
            })
        };
        let walls = trial.name(tops[0].wall);
        let (low_mm, high_mm) = tops.iter().fold((f64::INFINITY, 0.0f64), |(a, b), t| {
            (a.min(t.z_mm), b.max(t.z_mm))
        });
        let soak_mm = trial.job.soak_mm(region).min(high_mm);
        let count = tops.len();
        let stand = if count == 1 {
            "A top".to_string()
        } else {
            format!("{count} tops")
        };
        out.push(Candidate {
            sort: SnagSort::BareWalls,
            what: format!(
                "{stand} of {name} over walls of {walls}: the layers of the top need both colours"
            ),
            mend,
            edit,
            low_mm: (low_mm - soak_mm).max(0.0),
            high_mm,
            regions: vec![region],
            is_told_anyway: false,
        });
    }
}
