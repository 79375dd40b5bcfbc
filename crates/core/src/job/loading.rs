//! What is loaded and where: obeying the edits of the Load stage.

use super::apply::refuse;
use super::edits::LoadEdit;
use super::state::{Job, Region};
use crate::machine::Mixes;
use crate::{Problem, figure};

/// Rounding of shares that still sum to the whole.
const SUM: f64 = 1e-6;

impl Job {
    /// Spools that the printer takes: feeds of a mixing nozzle, else one for each slot.
    pub fn spool_count(&self) -> u8 {
        self.printer.profile().spools
    }

    /// Id of the spool in each place of the machine that takes one; a jetting machine has none, whatever the slots held before.
    pub fn loaded(&self) -> &[Option<String>] {
        let profile = self.printer.profile();
        match profile.mixes {
            _ if profile.jets => &[],
            Some(_) => &self.feeds,
            None => &self.slots,
        }
    }

    pub(super) fn loaded_mut(&mut self) -> &mut [Option<String>] {
        match self.printer.profile().mixes {
            Some(_) => &mut self.feeds,
            None => &mut self.slots,
        }
    }

    /// Puts a spool into a slot or a feed, or empties it.
    pub(super) fn fill(&mut self, slot: u8, spool: &Option<String>) {
        let place = &mut self.loaded_mut()[slot as usize - 1];
        if place == spool {
            return;
        }
        place.clone_from(spool);
        match self.printer.profile().mixes {
            // Every mixture has a little of every feed.
            Some(_) => self.rules.cut_offs.clear(),
            None => self.rules.refilled(slot),
        }
    }

    /// Refuses a place of the machine that takes no spool.
    pub(super) fn check_spool_place(&self, slot: u8) -> Result<(), Problem> {
        let most = self.spool_count();
        if (1..=most).contains(&slot) {
            return Ok(());
        }
        let what = self.printer.profile().place_word.to_lowercase();
        let message = format!("The printer has no {what} {slot}");
        let mend = format!("Choose a {what} from 1 to {most}.");
        Err(refuse("slot-unknown", message, "slot", &mend))
    }

    /// The shares that a slot of a mixing nozzle is mixed from; equal ones if none were set.
    pub fn mixture(&self, slot: u8) -> Vec<f64> {
        let n = self.spool_count().max(1);
        let set = self.mixtures.get(slot as usize).and_then(Option::as_ref);
        set.cloned()
            .unwrap_or_else(|| vec![1.0 / f64::from(n); n as usize])
    }

    pub(super) fn load(&mut self, edit: &LoadEdit) -> Result<(), Problem> {
        match edit {
            LoadEdit::Exchange { a, b } => {
                self.check_slot(*a)?;
                self.check_slot(*b)?;
                let (i, j) = (*a as usize - 1, *b as usize - 1);
                self.slots.swap(i, j);
                self.rules.exchange(*a, *b);
                self.mixtures.swap(i, j);
                let other = |s: u8| match s {
                    s if s == *a => *b,
                    s if s == *b => *a,
                    s => s,
                };
                for region in &mut self.regions {
                    region.slot = region.slot.map(other);
                }
                for part in self.models.iter_mut().flat_map(|m| &mut m.parts) {
                    part.skipped_passes.iter_mut().for_each(|s| *s = other(*s));
                    part.skipped_passes.sort_unstable();
                }
            }
            LoadEdit::All { slot } => {
                self.check_slot(*slot)?;
                for region in self.regions.iter_mut().filter(|r| !r.is_deleted) {
                    region.join(Some(*slot));
                }
            }
            LoadEdit::Confirm { region } => {
                let only = region.as_ref().map(|r| self.number(r)).transpose()?;
                for (n, region) in self.regions.iter_mut().enumerate() {
                    region.is_proposed &= only.is_some_and(|o| o as usize != n);
                }
            }
            LoadEdit::Bay { spools, regions } => {
                for slot in spools.keys() {
                    self.check_spool_place(*slot)?;
                }
                let mut joined = Vec::new();
                for (key, slot) in regions {
                    slot.map(|s| self.check_slot(s)).transpose()?;
                    joined.push((self.number(key)? as usize, *slot));
                }
                for (slot, spool) in spools {
                    self.fill(*slot, spool);
                }
                for (region, slot) in joined {
                    self.regions[region].join(slot);
                }
            }
            LoadEdit::Places { places } => {
                let mut sorted = places.clone();
                sorted.sort_unstable();
                if !sorted.into_iter().eq(1..=self.spool_count()) {
                    let message = "These are not the machine's places";
                    let mend = format!(
                        "Name each place from 1 to {} once, in the order of the slots.",
                        self.spool_count()
                    );
                    return Err(refuse("places-not-each-once", message, "places", &mend));
                }
                self.places.clone_from(places);
            }
            LoadEdit::Mixture { slot, shares } => {
                let Some(mixes) = self.printer.profile().mixes else {
                    return Err(not_mixing());
                };
                self.check_slot(*slot)?;
                check_shares(shares, mixes)?;
                self.mixtures[*slot as usize - 1] = Some(shares.clone());
            }
        }
        Ok(())
    }

    /// Takes over another printer: what no longer has a place there is let go.
    pub(super) fn set_printer(&mut self, printer: &crate::machine::Printer) -> Result<(), Problem> {
        printer.check()?;
        let slots = printer.slots as usize;
        let spools = printer.profile().spools as usize;
        if let Some(Mixes { feeds, .. }) = printer.profile().mixes {
            // The first spools go into the feeds.
            if self.feeds.is_empty() {
                self.feeds = self.slots.iter().filter(|s| s.is_some()).cloned().collect();
            }
            self.feeds.resize(feeds as usize, None);
            if self.printer.profile().spools != feeds {
                self.mixtures.clear();
            }
        } else {
            self.feeds.clear();
            self.mixtures.clear();
        }
        self.slots.resize(slots, None);
        self.mixtures.resize(slots, None);
        if self.places.len() != spools {
            self.places = (1..=spools as u8).collect();
        }
        for region in &mut self.regions {
            region.slot = region.slot.filter(|s| *s <= printer.slots);
        }
        self.rules.keep_slots(printer.slots);
        self.printer = printer.clone();
        Ok(())
    }
}

impl Region {
    /// Gives it a slot on the maker's word.
    pub(super) fn join(&mut self, slot: Option<u8>) {
        self.slot = slot;
        self.is_proposed = false;
    }
}

fn not_mixing() -> Problem {
    refuse(
        "not-a-mixing-nozzle",
        "Only a mixing nozzle has feeds and mixtures",
        "",
        "Choose such a printer first.",
    )
}

/// Refuses shares that are not a mixture of a nozzle's feeds.
fn check_shares(shares: &[f64], mixes: Mixes) -> Result<(), Problem> {
    let (feeds, least) = (mixes.feeds, mixes.least_share);
    let refused = |message: String, mend: &str| Err(refuse("shares", message, "shares", mend));
    if shares.len() != feeds as usize {
        return refused(
            format!("{} shares do not fit {feeds} feeds", shares.len()),
            "Give one share for each feed.",
        );
    }
    if shares.iter().any(|s| !s.is_finite() || *s < least - SUM) {
        return refused(
            format!("A share is below the least of {:.1} %", 100.0 * least),
            "A feed that stands still clogs: give each at least that much.",
        );
    }
    let sum: f64 = shares.iter().sum();
    if (sum - 1.0).abs() > SUM {
        return refused(
            format!("The shares sum to {} %", figure(100.0 * sum)),
            "Let them sum to 100 %.",
        );
    }
    Ok(())
}
