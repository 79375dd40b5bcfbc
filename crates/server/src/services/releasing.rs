//! Before a print: what was checked, what a person ticked off, and whether a second one lets it go. A release is for one revision, and
//! falls with any edit.

use super::session::Session;
use super::workshop::Workshop;
use crate::error::ApiError;
use crate::store;
use crate::wire::{CareView, Look, People, ReleaseState, ReleaseView, Said, WaitingJob};
use std::sync::Arc;
use std::sync::atomic::AtomicBool;
use varichrom_core::Problem;
use varichrom_core::handover::{Known, care, release_checks, slot_names};
use varichrom_core::job::Job;

/// Longest name of a person, and longest note, in characters.
const LONGEST: [usize; 2] = [60, 500];

/// Most people.
const MOST_PEOPLE: usize = 200;

impl Session {
    /// What stands before the print of the job as it is.
    pub(crate) fn release(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
    ) -> Result<ReleaseView, ApiError> {
        let revision = self.revision();
        let load = self.load_view(workshop)?;
        let plan = self.planning.ready(revision);
        let job = self.with_job(Job::clone);
        let rack = workshop.rack()?;
        let names = slot_names(&job, &rack);
        let print = self.made(revision);
        let verdict = self.rehearsed();
        let asked = self.answer();
        let checks = release_checks(&Known {
            job: &job,
            plan: plan.as_deref(),
            load: &load.checks,
            needs: &load.needs,
            names: &names,
            print: print.as_ref().map(|made| made.as_ref().map(AsRef::as_ref)),
            report: asked.as_ref().and_then(|a| a.as_ref().ok()),
            rehearsed: verdict.as_ref(),
        });
        let mut c = workshop.db.get()?;
        let looks = store::looks::of_job(&mut c, self.id)?;
        let people = store::looks::people(&mut c)?;
        let (state, look) = state_of(&looks, revision);
        let done = |code: &str| {
            let ticks = looks.iter().rev().filter(|l| l.revision == revision);
            let mut own =
                ticks.filter(|l| matches!(&l.said, Said::Tick { code: of, .. } if of == code));
            own.next()
                .filter(|l| matches!(l.said, Said::Tick { is_done: true, .. }))
                .cloned()
        };
        let care = care(&job, plan.as_deref())
            .into_iter()
            .map(|(code, words)| CareView {
                code: code.to_string(),
                done: done(code),
                words,
            });
        Ok(ReleaseView {
            revision,
            checks,
            care: care.collect(),
            state,
            look,
            looks: looks
                .iter()
                .rev()
                .filter(|l| !matches!(l.said, Said::Tick { .. }))
                .cloned()
                .collect(),
            people,
        })
    }

    /// Keeps what is said of the job as it stands.
    ///
    /// # Errors
    /// `release-blocked` where something is wrong, and why there is no print file; `name-missing`, `note-missing`, `too-long`;
    /// `release-outdated` for a word on what was changed since.
    pub(crate) fn say(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        revision: u32,
        said: Said,
    ) -> Result<ReleaseView, ApiError> {
        check_words(&said)?;
        if revision != self.revision() {
            return Err(Problem::new(
                "release-outdated",
                "The job has changed since you looked at it",
                "",
                "Look at it again.",
            )
            .of(varichrom_core::ProblemSort::Outdated)
            .into());
        }
        if matches!(said, Said::Release { .. }) {
            let view = self.release(workshop)?;
            let wrong = view
                .checks
                .iter()
                .find(|c| c.level == varichrom_core::advice::load::Level::Wrong);
            if let Some(wrong) = wrong {
                return Err(Problem::new(
                    "release-blocked",
                    format!("It cannot be released: {}", wrong.message),
                    "",
                    "Mend what is wrong first.",
                )
                .into());
            }
            // What is let go is a file that was looked over, not one that is still being made.
            self.print_files(workshop, &AtomicBool::new(true))?;
        }
        let number = i32::try_from(revision).unwrap_or(i32::MAX);
        store::looks::say(&mut *workshop.db.get()?, self.id, number, &said)?;
        workshop.tell(self.id, crate::wire::JobEvent::Looked);
        self.release(workshop)
    }

    /// # Errors
    /// `release-missing` where a release was asked for, and the job as it stands has none.
    pub(crate) fn check_may_go(&self, workshop: &Workshop) -> Result<(), ApiError> {
        let looks = store::looks::of_job(&mut *workshop.db.get()?, self.id)?;
        match state_of(&looks, self.revision()).0 {
            ReleaseState::Open | ReleaseState::Released => Ok(()),
            ReleaseState::Asked | ReleaseState::SentBack | ReleaseState::Void => Err(Problem::new(
                "release-missing",
                "Somebody was asked to look at this job, and has not released it as it stands",
                "release",
                "Have it released, or take the question back.",
            )
            .into()),
        }
    }

    /// Who released the job as it stands, and when, as its files say it; none if nobody has.
    pub(crate) fn released(&self, workshop: &Workshop) -> Result<Option<String>, ApiError> {
        let looks = store::looks::of_job(&mut *workshop.db.get()?, self.id)?;
        let (ReleaseState::Released, Some(look)) = state_of(&looks, self.revision()) else {
            return Ok(None);
        };
        let Said::Release { by } = look.said else {
            return Ok(None);
        };
        let date = time::OffsetDateTime::from_unix_timestamp(look.at_s);
        let date = date.map_or_else(|_| String::new(), |d| format!(", {}", d.date()));
        Ok(Some(format!("released by {by}{date}")))
    }
}

impl Workshop {
    /// Who works here.
    pub(crate) fn people(&self) -> Result<People, ApiError> {
        let names = store::looks::people(&mut *self.db.get()?)?;
        Ok(People { names })
    }

    /// Exactly these people work here from now on.
    ///
    /// # Errors
    /// `name-missing`, `too-long`, `too-many`.
    pub(crate) fn set_people(&self, people: People) -> Result<People, ApiError> {
        let mut names: Vec<String> = people.names.iter().map(|n| n.trim().to_string()).collect();
        names.sort();
        names.dedup();
        names.iter().try_for_each(|n| check_name(n))?;
        if names.len() > MOST_PEOPLE {
            return Err(Problem::new(
                "too-many",
                format!("There can be {MOST_PEOPLE} people at most"),
                "names",
                "Leave some out.",
            )
            .into());
        }
        store::looks::set_people(&mut *self.db.get()?, &names)?;
        self.people()
    }

    /// Jobs that wait to be looked at, those that wait longest first.
    pub(crate) fn waiting(&self) -> Result<Vec<WaitingJob>, ApiError> {
        let all = store::looks::by_job(&mut *self.db.get()?)?;
        let mut waiting: Vec<WaitingJob> = all
            .into_iter()
            .filter_map(
                |(id, name, revision, looks)| match state_of(&looks, revision) {
                    (ReleaseState::Asked, Some(look)) => Some(WaitingJob { id, name, look }),
                    _ => None,
                },
            )
            .collect();
        waiting.sort_by_key(|w| w.look.at_s);
        Ok(waiting)
    }
}

/// Jobs that are released as they stand.
pub(super) fn released_jobs(all: &[store::looks::SaidOf]) -> std::collections::BTreeSet<i32> {
    let is_released =
        |revision, looks: &[Look]| state_of(looks, revision).0 == ReleaseState::Released;
    let released = all
        .iter()
        .filter(|(_, _, revision, looks)| is_released(*revision, looks));
    released.map(|(id, ..)| *id).collect()
}

/// How far the release of a revision is, and by which word.
fn state_of(looks: &[Look], revision: u32) -> (ReleaseState, Option<Look>) {
    let words = looks
        .iter()
        .rev()
        .filter(|l| !matches!(l.said, Said::Tick { .. }));
    let mut words = words.peekable();
    let Some(last) = words.peek() else {
        return (ReleaseState::Open, None);
    };
    let look = Some((*last).clone());
    match &last.said {
        // Who was asked looks at the job as it is by then.
        Said::Ask { .. } => (ReleaseState::Asked, look),
        Said::Release { .. } if last.revision == revision => (ReleaseState::Released, look),
        Said::Release { .. } => (ReleaseState::Void, look),
        Said::SendBack { .. } => (ReleaseState::SentBack, look),
        Said::TakeBack { .. } | Said::Tick { .. } => (ReleaseState::Open, None),
    }
}

fn check_words(said: &Said) -> Result<(), Problem> {
    match said {
        Said::Ask { by, of } => {
            check_name(by)?;
            of.as_deref().map_or(Ok(()), check_name)
        }
        Said::Release { by } | Said::TakeBack { by } | Said::Tick { by, .. } => check_name(by),
        Said::SendBack { by, note, at } => {
            check_name(by)?;
            let places = at.iter().filter_map(|at| at.at_mm).flatten();
            if places.into_iter().any(|mm| !(-1e4..=1e4).contains(&mm)) {
                return Err(Problem::new(
                    "place-unusable",
                    "The place of the note is nowhere on a bed",
                    "at_mm",
                    "Click the layer where it is meant.",
                ));
            }
            if note.trim().is_empty() {
                return Err(Problem::new(
                    "note-missing",
                    "Nothing says why it is sent back",
                    "note",
                    "Write what should be changed.",
                ));
            }
            check_length(note, LONGEST[1], "note")
        }
    }
}

fn check_name(name: &str) -> Result<(), Problem> {
    if name.trim().is_empty() {
        return Err(Problem::new(
            "name-missing",
            "Nobody is named",
            "by",
            "Say who you are.",
        ));
    }
    check_length(name, LONGEST[0], "by")
}

fn check_length(text: &str, most: usize, place: &str) -> Result<(), Problem> {
    match text.chars().count() > most || text.chars().any(|c| c.is_control() && c != '\n') {
        false => Ok(()),
        true => Err(Problem::new(
            "too-long",
            format!("No more than {most} letters fit here"),
            place,
            "Say it shorter, in plain letters.",
        )),
    }
}
