//! A spool of the rack that comes as near to the colour that is wanted, and purges less, because colours rinse out of one another
//! sooner over the whole job; or a remnant that is enough, so that a full spool stays full.

use super::{Candidate, SnagSort};
use crate::advice::Trial;
use crate::colour::difference;
use crate::job::{Edit, SlotEdit};
use crate::machine::Spool;

/// By how much further off the wanted colour a spool may be, CIEDE2000: a difference of one is hardly seen (common practice, no
/// source).
const AS_NEAR: f64 = 1.0;

/// Spools tried for each slot.
const MOST: usize = 2;

/// What is left of a spool that counts as a remnant, g (common practice, no source).
const REMNANT_G: f64 = 150.0;

/// Share of a remnant that may be used: scales and windings are not exact (common practice, no source).
const USABLE: f64 = 0.9;

pub(super) fn find(trial: &Trial<'_>, out: &mut Vec<Candidate>) {
    let job = trial.job;
    if job.printer.profile().mixes.is_some() {
        return;
    }
    for need in trial.plan.needs.iter().filter(|n| n.model_g > 0.0) {
        let loaded = job
            .slots
            .get(need.slot as usize - 1)
            .and_then(Option::as_ref);
        let Some(now) = loaded.and_then(|id| trial.spools.iter().find(|s| s.id == *id)) else {
            continue;
        };
        let regions: Vec<u16> = job
            .live_regions()
            .map(|(n, _)| n)
            .filter(|n| job.slot_of(*n) == need.slot)
            .collect();
        // The furthest that a region's wanted colour is off.
        let off = |spool: &Spool| {
            let wanted = regions
                .iter()
                .map(|r| job.regions[*r as usize].colour.linear());
            let off = wanted.map(|w| difference(w, spool.colour.linear()));
            off.fold(0.0, f64::max)
        };
        let is_free = |s: &&Spool| {
            let is_loaded = job.slots.iter().flatten().any(|id| *id == s.id);
            let is_enough = need.grams() <= USABLE * s.left_g;
            !is_loaded && !s.is_archived && s.material == now.material && is_enough
        };
        let limit = off(now) + AS_NEAR;
        let mut near: Vec<(&Spool, f64)> = trial
            .spools
            .iter()
            .filter(is_free)
            .map(|s| (s, off(s)))
            .filter(|(_, o)| *o <= limit)
            .collect();
        near.sort_by(|a, b| a.1.total_cmp(&b.1).then(a.0.id.cmp(&b.0.id)));
        let is_remnant = |s: &Spool| s.left_g <= REMNANT_G.min(0.5 * now.left_g);
        let (remnants, others): (Vec<_>, Vec<_>) =
            near.into_iter().partition(|(s, _)| is_remnant(s));
        let mut add = |sort, what, mend, spool: &Spool| {
            out.push(Candidate {
                sort,
                what,
                mend,
                edit: Edit::Slot(SlotEdit::LoadSlot {
                    slot: need.slot,
                    spool: Some(spool.id.clone()),
                }),
                low_mm: 0.0,
                high_mm: trial.plan.layers.last().map_or(0.0, |l| l.z1_mm),
                regions: regions.clone(),
                is_told_anyway: sort == SnagSort::Remnant,
            });
        };
        for (spool, far) in others.into_iter().take(MOST) {
            let what = format!(
                "{} is {:.1} off the colour wanted from slot {}; {} is {far:.1} off and {:.0} g of it are left",
                now.name,
                off(now),
                need.slot,
                spool.name,
                spool.left_g
            );
            let mend = format!("Load {} instead", spool.name);
            add(SnagSort::OtherSpool, what, mend, spool);
        }
        // The smallest that is enough goes first.
        let least = remnants
            .into_iter()
            .min_by(|(a, _), (b, _)| a.left_g.total_cmp(&b.left_g));
        if let Some((spool, far)) = least {
            let what = format!(
                "Slot {} takes {:.1} g; of {}, {far:.1} off the colour wanted, {:.0} g are left, and that is enough",
                need.slot,
                need.grams(),
                spool.name,
                spool.left_g
            );
            let mend = format!("Use up {}", spool.name);
            add(SnagSort::Remnant, what, mend, spool);
        }
    }
}
