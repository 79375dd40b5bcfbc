//! A job as a plan sees it.

use crate::job::{Job, Region};
use crate::machine::Spool;
use crate::plan::{Filament, Task, TaskRegion};

/// What is to be planned of a job. A region without a slot prints from the first region's.
pub fn task(job: &Job, spools: &[Spool]) -> Task {
    let region = |(number, region): (usize, &Region)| TaskRegion {
        key: region.key.clone(),
        name: region.name.clone(),
        slot: job.slot_of(number as u16),
        is_live: !region.is_deleted,
    };
    Task {
        regions: job.regions.iter().enumerate().map(region).collect(),
        filaments: (0..job.printer.slots)
            .map(|slot| filament_in_slot(job, spools, slot))
            .collect(),
        printer: job.printer.clone(),
        rules: job.rules.clone(),
        pieces: job.copies,
        footprint: job.bounds(),
    }
}

/// What is in a slot (from 0): its spool, or what a mixing nozzle makes of its feeds; without a spool a stand-in in the colour
/// of the first region that uses it, at no price.
pub fn filament_in_slot(job: &Job, spools: &[Spool], slot: u8) -> Filament {
    let spool = |id: &Option<String>| -> Option<&Spool> {
        let id = id.as_ref()?;
        spools.iter().find(|s| s.id == *id)
    };
    if job.printer.profile().mixes.is_some() {
        let feeds: Option<Vec<&Spool>> = job.feeds.iter().map(spool).collect();
        if let Some(feeds) = feeds.filter(|f| !f.is_empty()) {
            let shares = job.mixture(slot);
            return Filament::mixed(&feeds.into_iter().zip(shares).collect::<Vec<_>>());
        }
    } else if let Some(spool) = job.slots.get(slot as usize).and_then(spool) {
        return Filament::of(spool);
    }
    let region = job.live_regions().find(|(_, r)| r.slot == Some(slot + 1));
    Filament::unknown(region.map_or(job.regions[0].colour, |(_, r)| r.colour))
}
