//! Taking what the printer holds in place of what the job asked for.

use super::report::{PrinterReport, ReportedSpool};
use crate::advice::filament_in_slot;
use crate::colour::difference;
use crate::job::{Job, LoadEdit};
use crate::machine::Spool;
use std::collections::BTreeMap;

/// Colours that differ by less are taken for the same spool, if nothing else speaks against it (CIEDE2000; what a
/// careful eye just sees is about 1).
pub(super) const SAME: f64 = 3.0;

fn plain(text: &str) -> String {
    text.trim().to_lowercase()
}

/// Whether a spool of the rack is what a printer says it holds: by name, or without that by plastic and colour.
pub(super) fn is_same(spool: &Spool, reported: &ReportedSpool) -> bool {
    if plain(&spool.material) != plain(&reported.material) {
        return false;
    }
    plain(&spool.name) == plain(&reported.name)
        || difference(spool.colour.linear(), reported.colour.linear()) < SAME
}

/// The spool of the rack that a printer holds, if it is there: one of the same name rather than one of the same colour.
pub(super) fn on_rack<'a>(rack: &'a [Spool], reported: &ReportedSpool) -> Option<&'a Spool> {
    let same = || {
        rack.iter()
            .filter(|s| !s.is_archived && is_same(s, reported))
    };
    let off = |s: &Spool| difference(s.colour.linear(), reported.colour.linear());
    same()
        .find(|s| plain(&s.name) == plain(&reported.name))
        .or_else(|| same().min_by(|a, b| off(a).total_cmp(&off(b))))
}

/// Spools that are missing on the rack, and the edit that fills the job's slots with what the printer holds and gives
/// every region the slot whose colour comes nearest to the one it had. Regions without a slot get one too. Of a mixing
/// nozzle only the feeds change.
pub fn use_loaded(job: &Job, rack: &[Spool], report: &PrinterReport) -> (Vec<Spool>, LoadEdit) {
    let mut new: Vec<Spool> = Vec::new();
    let mut spools: BTreeMap<u8, Option<String>> = BTreeMap::new();
    let mut colours: Vec<(u8, [f64; 3])> = Vec::new();
    for (slot, place) in (1u8..).zip(&job.places) {
        let Some(reported) = report.at(*place) else {
            spools.insert(slot, None);
            continue;
        };
        let known = on_rack(rack, reported).or_else(|| on_rack(&new, reported));
        let (id, colour) = match known {
            Some(spool) => (spool.id.clone(), spool.colour),
            None => {
                let spool = Spool {
                    id: fresh_id(rack, &new, &reported.name),
                    name: reported.name.trim().to_string(),
                    left_g: reported.left_g.unwrap_or(0.0),
                    ..Spool::usual(reported.colour, &reported.material, false)
                };
                let found = (spool.id.clone(), spool.colour);
                new.push(spool);
                found
            }
        };
        colours.push((slot, colour.linear()));
        spools.insert(slot, Some(id));
    }
    let mut regions = BTreeMap::new();
    if job.printer.profile().mixes.is_none() {
        for (_, region) in job.live_regions() {
            let wanted = match region.slot {
                Some(slot) => filament_in_slot(job, rack, slot - 1).pigment.colour,
                None => region.colour,
            };
            let off = |c: &[f64; 3]| difference(*c, wanted.linear());
            let nearest = colours
                .iter()
                .min_by(|a, b| off(&a.1).total_cmp(&off(&b.1)).then(a.0.cmp(&b.0)));
            if let Some((slot, _)) = nearest {
                regions.insert(region.key.clone(), Some(*slot));
            }
        }
    }
    (new, LoadEdit::Bay { spools, regions })
}

/// An id made of a name that no spool has.
fn fresh_id(rack: &[Spool], new: &[Spool], name: &str) -> String {
    let letters: String = name
        .to_lowercase()
        .chars()
        .map(|c| if c.is_alphanumeric() { c } else { '-' })
        .collect();
    let base = letters.trim_matches('-');
    let base = if base.is_empty() { "spool" } else { base };
    (1..)
        .map(|n| {
            if n == 1 {
                base.to_string()
            } else {
                format!("{base}-{n}")
            }
        })
        .find(|id| rack.iter().chain(new).all(|s| s.id != *id))
        .unwrap_or_default()
}
