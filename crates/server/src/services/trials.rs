//! What is tried on a plan in the background: snags and ways, one search of each kind per job, always for one revision.

use super::planning::surveyors;
use super::session::Session;
use super::workshop::{Workshop, lock};
use crate::error::ApiError;
use crate::wire::{SearchState, SnagFacets, SnagsView, TriedWay, WaysView};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use varichrom_core::Problem;
use varichrom_core::advice::CheckedPlan;
use varichrom_core::advice::{Snag, Trial, ways};
use varichrom_core::job::Job;
use varichrom_core::machine::{Printer, Spool};
use varichrom_core::plan::Planner;

/// A plan with all it was made of.
struct Planned {
    revision: u32,
    job: Job,
    rack: Vec<Spool>,
    planner: Planner,
    plan: Arc<CheckedPlan>,
}

/// One search: what it has found so far, and for which revision.
struct Search<T> {
    revision: u32,
    state: SearchState,
    done: f64,
    found: Vec<T>,
    stop: Arc<AtomicBool>,
}

/// The searches of one kind, newest only.
pub(super) struct Searches<T>(Mutex<Option<Search<T>>>);

impl<T> Default for Searches<T> {
    fn default() -> Self {
        Searches(Mutex::new(None))
    }
}

/// The searches of one session.
#[derive(Default)]
pub(super) struct Trials {
    snags: Searches<Snag>,
    ways: Searches<TriedWay>,
}

impl<T> Searches<T> {
    /// Whether one has to be begun for a revision: there is none, or it was stopped and is wanted again.
    fn wants(&self, revision: u32, restart: bool) -> bool {
        lock(&self.0)
            .as_ref()
            .is_none_or(|s| s.revision != revision || (restart && s.state == SearchState::Stopped))
    }

    /// Begins one, from what is found already; an older one is told to stop. Returns its stop.
    fn begin(&self, revision: u32, found: Vec<T>) -> Arc<AtomicBool> {
        let stop: Arc<AtomicBool> = Arc::default();
        let new = Search {
            revision,
            state: SearchState::Working,
            done: 0.0,
            found,
            stop: stop.clone(),
        };
        if let Some(old) = lock(&self.0).replace(new) {
            old.stop.store(true, Ordering::SeqCst);
        }
        stop
    }

    /// Changes the search that a stop belongs to, if it is still the one.
    fn with(&self, stop: &Arc<AtomicBool>, f: impl FnOnce(&mut Search<T>)) {
        if let Some(search) = lock(&self.0)
            .as_mut()
            .filter(|s| Arc::ptr_eq(&s.stop, stop))
        {
            f(search);
        }
    }

    fn stop(&self) {
        if let Some(search) = lock(&self.0).as_mut() {
            search.stop.store(true, Ordering::SeqCst);
            if search.state == SearchState::Working {
                search.state = SearchState::Stopped;
            }
        }
    }

    /// How far the search of a revision is, and what it has found; waiting for the plan if there is none.
    fn seen<V>(&self, revision: u32, view: impl FnOnce(SearchState, f64, &[T]) -> V) -> V {
        match lock(&self.0).as_ref().filter(|s| s.revision == revision) {
            Some(s) => view(s.state, s.done, &s.found),
            None => view(SearchState::Waiting, 0.0, &[]),
        }
    }
}

impl Session {
    /// The snags; looked for if they are not known.
    pub(crate) fn snags(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        restart: bool,
    ) -> Result<SnagsView, ApiError> {
        let revision = self.revision();
        let search = &self.trials.snags;
        if search.wants(revision, restart)
            && let Some(planned) = self.planned(workshop, revision)?
        {
            let stop = search.begin(revision, Vec::new());
            let (session, workshop) = (self.clone(), workshop.clone());
            tokio::task::spawn_blocking(move || session.find_snags(&workshop, &stop, &planned));
        }
        Ok(search.seen(revision, |state, done, found| SnagsView {
            revision,
            state,
            done,
            snags: found.to_vec(),
        }))
    }

    fn find_snags(&self, workshop: &Workshop, stop: &Arc<AtomicBool>, planned: &Planned) {
        let search = &self.trials.snags;
        let told = |done: f64| search.with(stop, |s| s.done = done);
        let found = surveyors(|| {
            let go_on = || self.goes_on(stop, planned);
            planned.trial(workshop, &go_on).snags(&told)
        });
        search.with(stop, |s| match found {
            Ok(found) => {
                s.found = found;
                s.state = SearchState::Ready;
            }
            Err(_) => s.state = SearchState::Stopped,
        });
    }

    /// Where a snag of the present revision is.
    pub(crate) fn snag_facets(&self, index: usize) -> Result<SnagFacets, ApiError> {
        let revision = self.revision();
        let runs = self.trials.snags.seen(revision, |_, _, found| {
            let snag = found.get(index)?;
            let runs = |facets: &Vec<u32>| super::colouring::runs(facets);
            Some(snag.facets.iter().map(runs).collect())
        });
        Ok(SnagFacets {
            revision,
            runs: runs.ok_or(ApiError::NotFound("snag"))?,
        })
    }

    /// The ways to run the job; tried if they are not known.
    pub(crate) fn ways(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        restart: bool,
    ) -> Result<WaysView, ApiError> {
        let revision = self.revision();
        let search = &self.trials.ways;
        if search.wants(revision, restart)
            && let Some(planned) = self.planned(workshop, revision)?
        {
            let own = workshop.printers()?.printers;
            let own: Vec<Printer> = own.into_iter().map(|p| p.printer).collect();
            let untried = |way| TriedWay { way, figures: None };
            let all: Vec<TriedWay> = ways(&planned.job, &own).into_iter().map(untried).collect();
            let stop = search.begin(revision, all.clone());
            let (session, workshop) = (self.clone(), workshop.clone());
            tokio::task::spawn_blocking(move || session.try_ways(&workshop, &stop, &planned, all));
        }
        Ok(search.seen(revision, |state, done, found| WaysView {
            revision,
            state,
            done,
            ways: found.to_vec(),
        }))
    }

    fn try_ways(
        &self,
        workshop: &Workshop,
        stop: &Arc<AtomicBool>,
        planned: &Planned,
        all: Vec<TriedWay>,
    ) {
        let search = &self.trials.ways;
        let go_on = || self.goes_on(stop, planned);
        let trial = planned.trial(workshop, &go_on);
        let count = all.len() as f64;
        for (index, mut tried) in all.into_iter().enumerate() {
            if tried.way.cannot.is_none() {
                match surveyors(|| trial.figures(&tried.way)) {
                    Ok(figures) => tried.figures = Some(figures),
                    Err(p) if p.is_stopped() => {
                        search.with(stop, |s| s.state = SearchState::Stopped);
                        return;
                    }
                    Err(p) => tried.way.cannot = Some(in_words(&p)),
                }
            }
            search.with(stop, |s| {
                s.done = (index + 1) as f64 / count;
                s.found[index] = tried;
            });
        }
        search.with(stop, |s| s.state = SearchState::Ready);
    }

    /// Stops both searches.
    pub(crate) fn stop_trials(&self) {
        self.trials.snags.stop();
        self.trials.ways.stop();
    }

    fn goes_on(&self, stop: &AtomicBool, planned: &Planned) -> bool {
        !stop.load(Ordering::Relaxed) && self.revision() == planned.revision
    }

    /// The plan of a revision with what it was made of; none if it is not there any more.
    fn planned(&self, workshop: &Workshop, revision: u32) -> Result<Option<Planned>, ApiError> {
        let Some((plan, planner)) = self.planning.standing(revision) else {
            return Ok(None);
        };
        let rack = workshop.rack()?;
        let job = self.with_job(Job::clone);
        // An edit may have come between.
        Ok((self.revision() == revision).then_some(Planned {
            revision,
            job,
            rack,
            planner,
            plan,
        }))
    }
}

fn in_words(problem: &Problem) -> String {
    format!(
        "{}. {}",
        problem.message.trim_end_matches('.'),
        problem.mend
    )
}

impl Planned {
    fn trial<'a>(
        &'a self,
        workshop: &'a Workshop,
        go_on: &'a (dyn Fn() -> bool + Sync),
    ) -> Trial<'a> {
        Trial {
            job: &self.job,
            spools: &self.rack,
            planner: &self.planner,
            plan: &self.plan,
            models: workshop,
            go_on,
        }
    }
}
