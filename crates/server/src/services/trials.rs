//! What is tried on a plan in the background: snags, ways and depths.

use super::planning::surveyors;
use super::searches::Searches;
use super::session::Session;
use super::workshop::Workshop;
use crate::error::ApiError;
use crate::lock::lock;
use crate::wire::{DepthsView, SearchState, SnagFacets, SnagsView, TriedWay, WaysView};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicU32, Ordering};
use varichrom_core::Problem;
use varichrom_core::advice::CheckedPlan;
use varichrom_core::advice::{DepthChoices, DepthCost, Depths, Snag, Trial, WayFigures, pose_ways};
use varichrom_core::job::{Edit, Job};
use varichrom_core::layers::Touched;
use varichrom_core::machine::{Printer, Spool};
use varichrom_core::plan::Planner;

/// A plan with all it was made of.
pub(super) struct Planned {
    pub(super) revision: u32,
    pub(super) job: Job,
    pub(super) rack: Vec<Spool>,
    pub(super) planner: Planner,
    pub(super) plan: Arc<CheckedPlan>,
}

/// Ways to stand that are planned in full: the best of those that are compared.
const POSES: usize = 4;

/// The searches of one session.
#[derive(Default)]
pub(super) struct Trials {
    snags: Searches<Snag>,
    ways: Searches<TriedWay>,
    depths: Searches<DepthCost>,
    /// Counts what was tried while it was moved about: only the newest matters.
    tried: AtomicU32,
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
        if search.wants(revision, "", restart)
            && let Some(planned) = self.planned(workshop, revision)?
        {
            let stop = search.begin(revision, "", Vec::new());
            let (session, workshop) = (self.clone(), workshop.clone());
            tokio::task::spawn_blocking(move || session.find_snags(&workshop, &stop, &planned));
        }
        Ok(search.seen(revision, "", |state, done, found| SnagsView {
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
            let go_on = || self.goes_on(stop, planned.revision);
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
        let runs = self.trials.snags.seen(revision, "", |_, _, found| {
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
        if search.wants(revision, "", restart)
            && let Some(planned) = self.planned(workshop, revision)?
        {
            let own = workshop.printers()?.printers;
            let own: Vec<Printer> = own.into_iter().map(|p| p.printer).collect();
            let untried = |way| TriedWay { way, figures: None };
            let all = planned.trial(workshop, &|| true).ways(&own);
            let all: Vec<TriedWay> = all.into_iter().map(untried).collect();
            let stop = search.begin(revision, "", all.clone());
            let (session, workshop) = (self.clone(), workshop.clone());
            tokio::task::spawn_blocking(move || session.try_ways(&workshop, &stop, &planned, all));
        }
        let later_s = self.later_s(revision);
        let as_shown = |tried: &TriedWay| {
            let mut tried = tried.clone();
            if let Some(figures) = &mut tried.figures {
                figures.time_s += later_s * f64::from(figures.pieces);
            }
            tried
        };
        Ok(search.seen(revision, "", |state, done, found| WaysView {
            revision,
            state,
            done,
            ways: found.iter().map(as_shown).collect(),
        }))
    }

    /// By how much one piece is done later by its moves than by its plan, s, once they are made: other ways are done later by as much,
    /// so that what is compared is the time that the bill shows.
    fn later_s(&self, revision: u32) -> f64 {
        let times = self.times_by_moves(revision);
        let pieces = self.with_job(|job| job.copies.count());
        times.map_or(0.0, |[moves, planned]| moves - planned) / f64::from(pieces.max(1))
    }

    fn try_ways(
        &self,
        workshop: &Workshop,
        stop: &Arc<AtomicBool>,
        planned: &Planned,
        all: Vec<TriedWay>,
    ) {
        let search = &self.trials.ways;
        let go_on = || self.goes_on(stop, planned.revision);
        let trial = planned.trial(workshop, &go_on);
        let count = (all.len() + POSES) as f64;
        // Which sides up are worth a try is found out while the others are tried.
        let poses = || {
            let found = pose_ways(&planned.job, &planned.rack, POSES).into_iter();
            found.map(|way| TriedWay { way, figures: None })
        };
        let later = std::iter::once_with(poses).flatten();
        for (index, mut tried) in all.into_iter().chain(later).enumerate() {
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
                match s.found.get_mut(index) {
                    Some(found) => *found = tried,
                    None => s.found.push(tried),
                }
            });
        }
        // Fewer ways to stand may have been worth a try.
        search.with(stop, |s| (s.state, s.done) = (SearchState::Ready, 1.0));
    }

    /// What the job would come to after an edit that is still being moved about; none once a newer one was asked about, the job
    /// has changed, or its plan is not there.
    ///
    /// # Cost
    /// That of the edit, of dividing the layers anew, and of a plan.
    pub(crate) fn tried(
        &self,
        workshop: &Workshop,
        edit: &Edit,
    ) -> Result<Option<WayFigures>, ApiError> {
        let number = self.trials.tried.fetch_add(1, Ordering::Relaxed) + 1;
        let revision = self.revision();
        let go_on =
            || self.revision() == revision && self.trials.tried.load(Ordering::Relaxed) == number;
        let Some(mut planned) = self.planned(workshop, revision)? else {
            return Ok(None);
        };
        // Edits go on meanwhile.
        let apart = lock(&self.history).apart(edit);
        let job = apart.tried(edit, workshop)?;
        planned.planner.touch(Touched::Everything);
        let plan = surveyors(|| {
            varichrom_core::advice::planned(&mut planned.planner, &job, &planned.rack, &|_| go_on())
        });
        match plan {
            Ok(plan) => {
                let mut figures = WayFigures::of(&job, &plan);
                figures.time_s += self.later_s(revision) * f64::from(figures.pieces);
                Ok(Some(figures))
            }
            Err(p) if p.is_stopped() => Ok(None),
            Err(p) => Err(p.into()),
        }
    }

    /// What the depth of a region costs, from 1 layer to `most`; planned if it is not known.
    pub(crate) fn depths(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        region: &str,
        most: u32,
        tolerance: f64,
        restart: bool,
    ) -> Result<DepthsView, ApiError> {
        let revision = self.revision();
        let rack = workshop.rack()?;
        let (choices, is_choice) = self.with_job(|job| {
            let depths = Depths::of(job, &rack, region)?;
            Ok::<_, Problem>((depths.choices(tolerance), depths.is_choice()))
        })?;
        let search = &self.trials.depths;
        let of = format!("{region} {most}");
        if search.wants(revision, &of, restart)
            && let Some(planned) = self.planned(workshop, revision)?
        {
            let stop = search.begin(revision, &of, Vec::new());
            let (session, region) = (self.clone(), region.to_string());
            let most = if is_choice { most } else { 0 };
            tokio::task::spawn_blocking(move || {
                session.plan_depths(&stop, planned, &region, most);
            });
        }
        Ok(search.seen(revision, &of, |state, done, found| DepthsView {
            revision,
            state,
            done,
            table: DepthChoices {
                choices: found.to_vec(),
                ..choices
            },
        }))
    }

    fn plan_depths(&self, stop: &Arc<AtomicBool>, planned: Planned, region: &str, most: u32) {
        let search = &self.trials.depths;
        let go_on = || self.goes_on(stop, planned.revision);
        let mut planner = planned.planner;
        let Ok(depths) = Depths::of(&planned.job, &planned.rack, region) else {
            return search.with(stop, |s| s.state = SearchState::Stopped);
        };
        for layers in 1..=most {
            match surveyors(|| depths.cost(&mut planner, layers, &go_on)) {
                Ok(row) => search.with(stop, |s| {
                    s.found.push(row);
                    s.done = f64::from(layers) / f64::from(most);
                }),
                // What is planned so far stays.
                Err(_) => return search.with(stop, |s| s.state = SearchState::Stopped),
            }
        }
        search.with(stop, |s| s.state = SearchState::Ready);
    }

    /// Stops all searches.
    pub(crate) fn stop_trials(&self) {
        self.trials.depths.stop();
        self.trials.snags.stop();
        self.trials.ways.stop();
    }

    pub(super) fn goes_on(&self, stop: &AtomicBool, revision: u32) -> bool {
        !stop.load(Ordering::Relaxed) && self.revision() == revision
    }

    /// The plan of a revision with what it was made of; none if it is not there any more.
    pub(super) fn planned(
        &self,
        workshop: &Workshop,
        revision: u32,
    ) -> Result<Option<Planned>, ApiError> {
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
