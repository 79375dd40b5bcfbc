//! What is in the slots, as files and people call it.

use crate::Problem;
use crate::job::Job;
use crate::machine::Spool;
use crate::paths::SlotWords;
use crate::plan::Filament;

/// What a person calls what is in each slot, from slot 1 on.
pub fn slot_names(job: &Job, spools: &[Spool]) -> Vec<String> {
    let profile = job.printer.profile();
    let spool = |id: &Option<String>| spools.iter().find(|s| Some(&s.id) == id.as_ref());
    let names: Vec<Option<&str>> = (0..job.printer.slots as usize)
        .map(|slot| {
            let id = job.slots.get(slot).filter(|_| profile.mixes.is_none())?;
            spool(id).map(|s| s.name.as_str())
        })
        .collect();
    let told = names.iter().zip(1..).map(|(name, slot)| {
        let word = format!("{} {slot}", profile.slot_word);
        let is_double = names.iter().filter(|n| *n == name).count() > 1;
        match name {
            // Two spools of one name are told apart by where they are.
            Some(name) if is_double => format!("{name}, {word}"),
            Some(name) => name.to_string(),
            None => word,
        }
    });
    told.collect()
}

/// What is in the slots, as it stands in files.
///
/// # Errors
/// `print-refused` where filaments are to be mixed that no temperature suits.
pub(super) fn slot_words(
    job: &Job,
    spools: &[Spool],
    filaments: &[Filament],
) -> Result<Vec<SlotWords>, Problem> {
    let is_mixed = job.printer.profile().mixes.is_some();
    let spool = |id: &Option<String>| spools.iter().find(|s| Some(&s.id) == id.as_ref());
    // What melts together has to suit all that is in the feeds.
    let feeds: Vec<&Spool> = job.feeds.iter().filter_map(spool).collect();
    let low = feeds.iter().map(|s| s.nozzle_c[0]).fold(0.0, f64::max);
    let high = feeds
        .iter()
        .map(|s| s.nozzle_c[1])
        .fold(f64::INFINITY, f64::min);
    if is_mixed && low > high {
        return Err(Problem::new(
            "print-refused",
            "No temperature suits all filaments in the feeds",
            "load",
            "Put filaments of one plastic into the feeds.",
        ));
    }
    let names = slot_names(job, spools);
    let of_slot = |(slot, filament): (u8, &Filament)| SlotWords {
        name: names[slot as usize].clone(),
        nozzle_c: match is_mixed && !feeds.is_empty() {
            true => 0.5 * (low + high),
            false => filament.nozzle_c(),
        },
        shares: match is_mixed {
            true => job.mixture(slot),
            false => Vec::new(),
        },
    };
    Ok((0..job.printer.slots).zip(filaments).map(of_slot).collect())
}
