//! The Load stage of a job: checks, the printer's word, mixtures.

use super::printer_line::PrinterLine;
use super::session::Session;
use super::workshop::{Workshop, lock};
use crate::error::ApiError;
use crate::store;
use crate::wire::{AskMixture, Asked, GreyView, LoadView, MixtureView};
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::advice::load::{PrinterReport, checks, spool_needs, use_loaded};
use varichrom_core::colour::{Colour, Pigment, blend, greys, nearest_mixture, shares_with};
use varichrom_core::job::{Edit, Job};
use varichrom_core::machine::{MachineKind, Mixes, Spool, bonds};

/// Greys that differ by less fall together (CIEDE2000; common practice, no source).
const GREYS_ALIKE: f64 = 4.0;

impl Session {
    /// Everything that Load shows besides the job.
    pub(crate) fn load_view(self: &Arc<Self>, workshop: &Workshop) -> Result<LoadView, ApiError> {
        let rack = workshop.rack()?;
        // Which parts touch is only looked for when it matters.
        let revision = self.revision();
        let job = self.with_job(Job::clone);
        let pairs = if has_strangers(&job, &rack) {
            self.known_pairs()
        } else {
            None
        };
        let is_looking = pairs.as_ref().is_some_and(Option::is_none);
        let plan = self.planning.ready(revision);
        let contacts = pairs.flatten().map(|found| job.contacts(&found.pairs));
        let asked = self.answer();
        let report = asked.as_ref().and_then(|a| a.as_ref().ok());
        let mut checked = checks(
            &job,
            &rack,
            plan.as_deref().map(|p| &p.plan),
            contacts.as_deref(),
            report,
        );
        if let Some(Err(problem)) = &asked {
            checked.insert(0, silent(problem));
        }
        // One connection for both, given back before the rest: whoever holds one and waits for another can wait for ever.
        let (runs, has_key) = {
            let mut db = workshop.db.get()?;
            let runs = store::rack::runs(&mut db, self.id)?;
            (
                runs,
                store::keys::of(&mut db, &job.printer.address)?.is_some(),
            )
        };
        Ok(LoadView {
            runs,
            revision,
            is_planned: plan.is_some(),
            is_looking,
            abilities: job.printer.abilities(),
            kinds: MachineKind::CHOICES.to_vec(),
            needs: plan.map_or_else(Vec::new, |p| spool_needs(&job, &rack, &p)),
            checks: checked,
            asked: match asked {
                None => Asked::Never,
                Some(Ok(report)) => Asked::Answered { report },
                Some(Err(problem)) => Asked::Failed { problem },
            },
            greys: grey_views(&job),
            has_key,
        })
    }

    /// Where the job's printer answers.
    ///
    /// # Errors
    /// Why it cannot be asked.
    pub(crate) fn printer_address(&self) -> Result<String, ApiError> {
        let printer = self.with_job(|job| job.printer.clone());
        match printer.abilities().no_asking {
            None => Ok(printer.address),
            Some(why) => {
                let mend = "Choose or set up a printer that can be asked.";
                let why = why.trim_end_matches('.').to_string();
                Err(Problem::new("printer-cannot-be-asked", why, "printer", mend).into())
            }
        }
    }

    /// Where the job's printer answers, and what it wants to hear.
    ///
    /// # Errors
    /// As for [`Session::printer_address`].
    pub(crate) fn printer_line(&self, workshop: &Workshop) -> Result<PrinterLine, ApiError> {
        let address = self.printer_address()?;
        let key = store::keys::of(&mut *workshop.db.get()?, &address)?;
        Ok(PrinterLine { address, key })
    }

    /// Keeps what the job's printer wants to hear before it answers, or forgets it.
    ///
    /// # Errors
    /// As for [`Session::printer_address`]; `printer-key-unusable`.
    pub(crate) fn set_printer_key(
        &self,
        workshop: &Workshop,
        key: Option<&str>,
    ) -> Result<(), ApiError> {
        const LONGEST: usize = 500;
        let address = self.printer_address()?;
        let key = key.map(str::trim).filter(|key| !key.is_empty());
        // It travels in a line of a call.
        let is_sound =
            |key: &str| key.len() <= LONGEST && key.bytes().all(|b| b.is_ascii_graphic());
        if !key.is_none_or(is_sound) {
            return Err(Problem::new(
                "printer-key-unusable",
                "This cannot be a printer's key: it holds spaces, or letters beyond plain ones, or is very long",
                "key",
                "Copy it as the printer shows it.",
            )
            .into());
        }
        store::keys::keep(&mut *workshop.db.get()?, &address, key)?;
        Ok(())
    }

    /// Keeps what was said at an address.
    pub(crate) fn heard(&self, address: String, said: Result<PrinterReport, Problem>) {
        *lock(&self.asked) = Some((address, said));
    }

    /// What the job's printer said when it was asked last; nothing if the job has another printer since.
    pub(super) fn answer(&self) -> Option<Result<PrinterReport, Problem>> {
        let address = self.with_job(|job| job.printer.address.clone());
        let asked = lock(&self.asked).clone();
        asked.filter(|(of, _)| *of == address).map(|(_, said)| said)
    }

    /// Fills the slots with what the printer holds; spools that are new to the rack are put there first.
    pub(crate) fn use_loaded(self: &Arc<Self>, workshop: &Arc<Workshop>) -> Result<(), ApiError> {
        let Some(Ok(report)) = self.answer() else {
            let message = "The printer has not said what it holds";
            return Err(Problem::new("printer-not-asked", message, "", "Ask it first.").into());
        };
        let rack = workshop.rack()?;
        let (new, edit) = self.with_job(|job| use_loaded(job, &rack, &report));
        if !new.is_empty() {
            workshop.add_spools(new)?;
        }
        self.apply(workshop, Edit::Load(edit))
    }

    /// A mixture of the job's feeds.
    pub(crate) fn mixture(
        &self,
        workshop: &Workshop,
        asked: &AskMixture,
    ) -> Result<MixtureView, ApiError> {
        let rack = workshop.rack()?;
        let job = self.with_job(Job::clone);
        let Some(Mixes { least_share, .. }) = job.printer.profile().mixes else {
            let message = "Only a mixing nozzle prints mixtures";
            let mend = "Choose such a printer first.";
            return Err(Problem::new("not-a-mixing-nozzle", message, "printer", mend).into());
        };
        let mut feeds: Vec<Pigment> = Vec::new();
        for (n, id) in job.feeds.iter().enumerate() {
            let spool = id
                .as_ref()
                .and_then(|id| rack.iter().find(|s| s.id == *id))
                .ok_or_else(|| {
                    let message = format!("Feed {} is empty", n + 1);
                    let mend = "Load all feeds, then mix.";
                    Problem::new("feed-empty", message, "feed", mend)
                })?;
            feeds.push(spool.pigment());
        }
        match asked {
            AskMixture::Colour { colour } => {
                let found = nearest_mixture(&feeds, *colour, least_share);
                Ok(MixtureView {
                    colour: Colour::from_linear(found.linear),
                    difference: Some(found.difference),
                    shares: found.shares,
                })
            }
            AskMixture::Share {
                shares,
                index,
                share,
            } => {
                if shares.len() != feeds.len() || *index >= feeds.len() {
                    let message = "These shares do not fit the feeds";
                    let mend = "Give one share for each feed.";
                    return Err(Problem::new("shares", message, "shares", mend).into());
                }
                let shares = shares_with(shares, *index, *share, least_share);
                let parts: Vec<(Pigment, f64)> =
                    feeds.into_iter().zip(shares.iter().copied()).collect();
                Ok(MixtureView {
                    colour: Colour::from_linear(blend(&parts)),
                    difference: None,
                    shares,
                })
            }
        }
    }
}

/// Whether two loaded spools are of plastics that may not hold on to one another.
fn has_strangers(job: &Job, rack: &[Spool]) -> bool {
    let loaded: Vec<&Spool> = job
        .loaded()
        .iter()
        .flatten()
        .filter_map(|id| rack.iter().find(|s| s.id == *id))
        .collect();
    loaded.iter().enumerate().any(|(i, a)| {
        loaded[i + 1..]
            .iter()
            .any(|b| bonds(&a.material, &b.material) != Some(true))
    })
}

fn silent(problem: &Problem) -> varichrom_core::advice::load::LoadCheck {
    varichrom_core::advice::load::LoadCheck {
        code: "printer-silent",
        level: varichrom_core::advice::load::Level::Wrong,
        message: format!("{}. {}", problem.message, problem.mend),
        brief: String::new(),
        mend: Some(varichrom_core::advice::load::LoadMend::AskAgain),
        place: None,
        regions: Vec::new(),
    }
}

fn grey_views(job: &Job) -> Vec<GreyView> {
    let regions: Vec<_> = job.live_regions().map(|(_, r)| r).collect();
    let colours: Vec<Colour> = regions.iter().map(|r| r.colour).collect();
    greys(&colours, GREYS_ALIKE)
        .into_iter()
        .zip(&regions)
        .map(|((grey, like), region)| GreyView {
            region: region.key.clone(),
            grey,
            lightness: grey.lab()[0],
            like: like.into_iter().map(|n| regions[n].name.clone()).collect(),
        })
        .collect()
}
