//! After a print: what it took off the spools, how long it took, a note, a photo.

use super::session::Session;
use super::workshop::Workshop;
use crate::error::ApiError;
use crate::store;
use crate::wire::{AboutRun, NotePrinted, RunView};
use std::sync::Arc;
use varichrom_core::advice::load::spool_needs;
use varichrom_core::{Problem, ProblemSort};

/// Longest note, letters.
const LONGEST_NOTE: usize = 2000;

/// Most that a spool holds, g.
const MOST_G: f64 = 1e5;

/// Longest print, s: a year.
const LONGEST_S: f64 = 365.0 * 86_400.0;

/// Pictures that browsers show, by how they begin (from the formats' public descriptions).
const PICTURES: [(&[u8], &str); 3] = [
    (b"\x89PNG\r\n\x1a\n", "image/png"),
    (b"\xff\xd8\xff", "image/jpeg"),
    (b"RIFF", "image/webp"),
];

/// What kind of picture bytes are.
pub(crate) fn media_of(bytes: &[u8]) -> Option<&'static str> {
    let found = PICTURES.iter().find(|(start, _)| bytes.starts_with(start));
    let (_, media) = found?;
    let is_whole = *media != "image/webp" || bytes.get(8..12) == Some(b"WEBP");
    is_whole.then_some(*media)
}

impl Session {
    /// Takes what a print used off the spools, notes it in the ledger, and keeps how it went.
    ///
    /// # Errors
    /// `run-noted` if that run is not the next; `nothing-used`; `figure-impossible`; as for [`Session::ready_plan`].
    pub(crate) fn printed(
        &self,
        workshop: &Arc<Workshop>,
        noted: &NotePrinted,
    ) -> Result<(), ApiError> {
        let run = noted.run;
        let is_next = |c: &mut diesel::sqlite::SqliteConnection| {
            if store::rack::runs(c, self.id)? + 1 == run {
                return Ok(());
            }
            let message = "This run was noted as printed already";
            let mend = "Look at the ledger; note another run if it was printed again.";
            let noted = Problem::new("run-noted", message, "run", mend);
            Err(ApiError::from(noted.of(ProblemSort::Outdated)))
        };
        // Told before anything else, and looked at again when it is written.
        is_next(&mut *workshop.db.get()?)?;
        check(&noted.about)?;
        let is_amount = |g: &f64| (0.0..=MOST_G).contains(g);
        if !noted.grams.values().all(is_amount) {
            return Err(impossible("Grams are from 0 to 100 000"));
        }
        let plan = self.ready_plan()?;
        let rack = workshop.rack()?;
        let (name, needs) = self.with_job(|job| (job.name.clone(), spool_needs(job, &rack, &plan)));
        let used: Vec<(String, f64)> = needs
            .into_iter()
            .filter_map(|n| {
                let spool = n.spool.clone()?;
                let really = noted.grams.get(&spool).copied();
                Some((spool, really.unwrap_or(n.grams())))
            })
            .filter(|(_, grams)| *grams > 0.0)
            .collect();
        if used.is_empty() {
            let message = "No spool of the rack is loaded, so there is nothing to take off";
            return Err(Problem::new("nothing-used", message, "", "Load the slots first.").into());
        }
        let revision = self.revision();
        let from_moves = self.made(revision).and_then(Result::ok);
        let planned_s = from_moves.map_or(plan.bill.time_s, |m| m.time_s);
        workshop.db.get()?.immediate_transaction(|c| {
            is_next(c)?;
            store::rack::take_off(c, (self.id, &name), run, &used)?;
            let at = (self.id, run);
            store::runs::note(c, at, revision, Some(planned_s), &noted.about)
                .map_err(ApiError::from)
        })?;
        workshop.replan_all();
        Ok(())
    }

    /// The prints of this job that were noted, the latest first.
    pub(crate) fn runs(&self, workshop: &Workshop) -> Result<Vec<RunView>, ApiError> {
        Ok(store::runs::of_job(&mut *workshop.db.get()?, self.id)?)
    }

    /// Keeps how a print went.
    pub(crate) fn say_of_run(
        &self,
        workshop: &Workshop,
        run: u32,
        about: &AboutRun,
    ) -> Result<Vec<RunView>, ApiError> {
        check(about)?;
        let is_there = store::runs::say(&mut *workshop.db.get()?, (self.id, run), about)?;
        is_there
            .then_some(())
            .ok_or(ApiError::NotFound("print that was noted"))?;
        self.runs(workshop)
    }

    /// Keeps a photo of a print, or takes it away.
    ///
    /// # Errors
    /// `photo-unknown` for what no browser shows.
    pub(crate) fn set_photo(
        &self,
        workshop: &Workshop,
        run: u32,
        photo: Option<&[u8]>,
    ) -> Result<Vec<RunView>, ApiError> {
        if photo.is_some_and(|bytes| media_of(bytes).is_none()) {
            return Err(Problem::new(
                "photo-unknown",
                "This is no picture that can be shown",
                "",
                "Choose a JPEG, PNG or WebP picture.",
            )
            .into());
        }
        let is_there = store::runs::set_photo(&mut *workshop.db.get()?, (self.id, run), photo)?;
        is_there
            .then_some(())
            .ok_or(ApiError::NotFound("print that was noted"))?;
        self.runs(workshop)
    }

    /// The photo of a print.
    pub(crate) fn photo(&self, workshop: &Workshop, run: u32) -> Result<Vec<u8>, ApiError> {
        let found = store::runs::photo(&mut *workshop.db.get()?, self.id, run)?;
        found.ok_or(ApiError::NotFound("photo"))
    }
}

fn check(about: &AboutRun) -> Result<(), ApiError> {
    if about
        .took_s
        .is_some_and(|s| !(1.0..=LONGEST_S).contains(&s))
    {
        return Err(impossible("A print takes from a second to a year"));
    }
    if about.note.chars().count() > LONGEST_NOTE {
        return Err(impossible("A note has 2000 letters at most"));
    }
    Ok(())
}

fn impossible(message: &str) -> ApiError {
    Problem::new("figure-impossible", message, "", "Type it again.").into()
}

impl Workshop {
    /// Gives back what a run of a job took off the spools, and forgets how it went.
    ///
    /// # Errors
    /// If there is no such run.
    pub(crate) fn take_back_run(self: &Arc<Self>, job: i32, run: u32) -> Result<(), ApiError> {
        self.db.get()?.immediate_transaction(|c| {
            if !store::rack::give_back(c, job, run)? {
                return Err(ApiError::NotFound("run"));
            }
            store::runs::strike(c, job, run).map_err(ApiError::from)
        })?;
        self.replan_all();
        Ok(())
    }
}
