//! Working out plans off the request threads: one worker per job at most, always for the newest revision.

use super::session::Session;
use super::workshop::{Workshop, lock};
use crate::error::ApiError;
use crate::wire::{BillChange, JobEvent, LayerView, PlanView, SheetView};
use std::sync::atomic::{AtomicBool, AtomicU32, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Duration;
use tokio::sync::watch;
use varichrom_core::advice::{CheckedPlan, check_extent, checked_plan, task};
use varichrom_core::job::Job;
use varichrom_core::layers::{LayerShare, Shape, Stopped, Survey, Touched, draw_layer};
use varichrom_core::plan::{Planner, bill_sheet};
use varichrom_core::{Problem, ProblemSort};

/// How a plan came out.
#[derive(Clone)]
enum Outcome {
    Ready {
        plan: Arc<CheckedPlan>,
        change: Option<BillChange>,
    },
    Stopped,
    Failed(Problem),
}

#[derive(Default)]
struct State {
    planner: Planner,
    /// The newest outcome and the revision it is for.
    outcome: Option<(u32, Outcome)>,
    is_running: bool,
}

/// The planning of one session.
pub(super) struct Planning {
    state: Mutex<State>,
    is_stopped: AtomicBool,
    /// Finished share in thousandths.
    done: AtomicU32,
    /// Revision whose outcome is there; woken at every outcome.
    finished: watch::Sender<u32>,
}

impl Default for Planning {
    fn default() -> Self {
        Planning {
            state: Mutex::default(),
            is_stopped: AtomicBool::new(false),
            done: AtomicU32::new(0),
            finished: watch::Sender::new(0),
        }
    }
}

impl Planning {
    /// Notes what an edit changed, so that no other layer is divided anew.
    pub(super) fn touched(&self, touched: Touched) {
        lock(&self.state).planner.touch(touched);
    }

    /// The layers divided as the job stands, which nobody changes meanwhile; only those that were touched are worked on.
    ///
    /// # Errors
    /// [`Stopped`] if that would take a long look deep inside, which is not for the time that a job is held.
    fn divided(&self, job: &Job) -> Result<Arc<Vec<LayerShare>>, Stopped> {
        let claims = job.claims();
        let mut planner = lock(&self.state).planner.clone();
        if !planner.is_prepared(&claims) {
            return Err(Stopped);
        }
        let layers = planner.divide(&claims, &|| true)?;
        lock(&self.state).planner = planner;
        Ok(layers)
    }

    /// The newest plan, of whatever revision.
    pub(super) fn newest(&self) -> Option<Arc<CheckedPlan>> {
        match &lock(&self.state).outcome {
            Some((_, Outcome::Ready { plan, .. })) => Some(plan.clone()),
            _ => None,
        }
    }

    /// The plan of a revision with what it was made with.
    pub(super) fn standing(&self, revision: u32) -> Option<(Arc<CheckedPlan>, Planner)> {
        let plan = self.ready(revision)?;
        let planner = lock(&self.state).planner.clone();
        planner.shares()?;
        Some((plan, planner))
    }

    pub(super) fn ready(&self, revision: u32) -> Option<Arc<CheckedPlan>> {
        match &lock(&self.state).outcome {
            Some((of, Outcome::Ready { plan, .. })) if *of == revision => Some(plan.clone()),
            _ => None,
        }
    }
}

impl Session {
    /// Sets the planning going unless it is going already.
    pub(crate) fn plan(self: &Arc<Self>, workshop: &Arc<Workshop>) {
        let mut state = lock(&self.planning.state);
        if state.is_running {
            return;
        }
        state.is_running = true;
        drop(state);
        let (session, workshop) = (self.clone(), workshop.clone());
        tokio::task::spawn_blocking(move || session.work(&workshop));
    }

    /// Plans at once, on this thread.
    pub(super) fn plan_here(self: &Arc<Self>, workshop: &Arc<Workshop>) {
        lock(&self.planning.state).is_running = true;
        self.work(workshop);
    }

    /// Stops the planning that is going on.
    pub(crate) fn stop(&self) {
        self.planning.is_stopped.store(true, Ordering::SeqCst);
    }

    /// The plan, or how far it is; waits a moment so that quick plans come in one answer.
    pub(crate) async fn plan_view(self: &Arc<Self>, workshop: &Arc<Workshop>) -> PlanView {
        let revision = self.revision();
        if lock(&self.planning.state)
            .outcome
            .as_ref()
            .is_none_or(|(of, _)| *of < revision)
        {
            self.plan(workshop);
        }
        const MOMENT: Duration = Duration::from_millis(250);
        let mut finished = self.planning.finished.subscribe();
        // Running out of time is fine: the answer then says how far it is.
        let _ = tokio::time::timeout(MOMENT, finished.wait_for(|of| *of >= revision)).await;
        let moves_s = self.times_by_moves(revision).map(|t| t[0]);
        let state = lock(&self.planning.state);
        match &state.outcome {
            Some((of, outcome)) if *of >= revision => match outcome {
                Outcome::Ready { plan, change } => PlanView::Ready {
                    revision: *of,
                    plan: Box::new(plan.as_ref().clone()),
                    change: *change,
                    moves_s: moves_s.filter(|_| *of == revision),
                },
                Outcome::Stopped => PlanView::Stopped { revision: *of },
                Outcome::Failed(problem) => PlanView::Failed {
                    revision: *of,
                    problem: problem.clone(),
                },
            },
            _ => {
                let done = f64::from(self.planning.done.load(Ordering::Relaxed)) / 1000.0;
                PlanView::Working { revision, done }
            }
        }
    }

    /// The bill of the present plan, opened.
    pub(crate) fn sheet(&self, workshop: &Workshop) -> Result<SheetView, ApiError> {
        let rack = workshop.rack()?;
        let revision = self.revision();
        let plan = self.ready_plan()?;
        Ok(SheetView {
            revision,
            lines: self.with_job(|job| bill_sheet(&task(job, &rack), &plan)),
        })
    }

    /// Draws one layer from the survey at hand.
    pub(crate) fn layer(&self, index: usize) -> Result<LayerView, ApiError> {
        let planner = lock(&self.planning.state).planner.clone();
        let history = lock(&self.history);
        let shape = history.job().shape();
        let survey = planner.survey().filter(|s| s.fits(&shape));
        let survey = survey.ok_or_else(|| {
            let message = "The layers are still being worked out";
            Problem::new(
                "plan-not-ready",
                message,
                "",
                "Wait for the bill, then try again.",
            )
            .of(ProblemSort::Outdated)
        })?;
        let drawing = draw_layer(survey, &history.job().claims(), index);
        Ok(LayerView {
            revision: self.revision(),
            drawing: drawing.ok_or(ApiError::NotFound("layer"))?,
        })
    }

    /// Plans until the newest revision has an outcome.
    fn work(self: &Arc<Self>, workshop: &Arc<Workshop>) {
        loop {
            // A stop is for the revision it was pressed on; asking again, or a new edit, sets out afresh.
            self.planning.is_stopped.store(false, Ordering::SeqCst);
            let (revision, outcome) = self.outcome(workshop);
            let plan = match &outcome {
                Outcome::Ready { plan, .. } => Some(plan.clone()),
                _ => None,
            };
            let mut state = lock(&self.planning.state);
            state.outcome = Some((revision, outcome));
            let is_newest = self.revision() == revision;
            state.is_running = !is_newest;
            drop(state);
            self.planning.finished.send_replace(revision);
            workshop.tell(
                self.id,
                JobEvent::Plan {
                    revision,
                    done: 1.0,
                },
            );
            if let Some(Err(e)) = plan
                .filter(|_| is_newest)
                .map(|p| self.keep_summary(workshop, &p))
            {
                tracing::warn!("the shelf's line of job {} was not renewed: {e}", self.id);
            }
            if is_newest {
                return;
            }
        }
    }

    /// What comes of planning the job as it stands, with the revision that was planned.
    fn outcome(&self, workshop: &Workshop) -> (u32, Outcome) {
        let revision = self.revision();
        if let Err(problem) = self.with_job(check_extent) {
            return (revision, Outcome::Failed(problem));
        }
        let shape = self.with_job(Job::shape);
        let Ok(survey) = self.survey_for(workshop, revision, shape) else {
            return (revision, Outcome::Stopped);
        };
        if self.look_deep(workshop, revision).is_err() {
            return (revision, Outcome::Stopped);
        }
        let before = self.planning.newest().map(|p| p.bill);
        let history = lock(&self.history);
        let job = history.job();
        if !survey.fits(&job.shape()) {
            // The shape was changed meanwhile: the revision that was set out for is not the newest, so it is planned again.
            return (revision, Outcome::Stopped);
        }
        let set_out_for = revision;
        // An edit may have come while the layers were divided. What changes the rack counts after it is changed, so a rack
        // that is read after the revision is never older than that.
        let revision = self.revision();
        let rack = match workshop.rack() {
            Ok(rack) => rack,
            Err(e) => {
                tracing::error!("{e}");
                let message = "The rack cannot be read";
                let problem = Problem::new("rack", message, "", "Restart Varichrom.");
                return (revision, Outcome::Failed(problem));
            }
        };
        let Ok(layers) = self.planning.divided(job) else {
            // A region was let right through meanwhile: that revision is planned next.
            return (set_out_for, Outcome::Stopped);
        };
        let outcome = match checked_plan(job, &rack, &layers) {
            Ok(plan) => Outcome::Ready {
                change: before.map(|b| BillChange::between(&b, &plan.bill)),
                plan: Arc::new(plan),
            },
            Err(problem) => Outcome::Failed(problem),
        };
        (revision, outcome)
    }

    /// Looks deep inside where regions go right through, on a copy of the job, so that it can be changed meanwhile. Given up when a
    /// plan is stopped.
    fn look_deep(&self, workshop: &Workshop, revision: u32) -> Result<(), Stopped> {
        if !self.with_job(|job| job.claims().goes_deep()) {
            return Ok(());
        }
        let turn = workshop.turns.begin();
        let go_on = || {
            turn.slice_done();
            !self.planning.is_stopped.load(Ordering::Relaxed)
        };
        let mut lent = lock(&self.planning.state).planner.lend();
        let job = self.with_job(Job::clone);
        workshop.tell(
            self.id,
            JobEvent::Plan {
                revision,
                done: 0.99,
            },
        );
        lent.prepare_depths(&job.claims(), &go_on)?;
        lock(&self.planning.state).planner.take_back(lent);
        Ok(())
    }

    /// The survey at hand if it fits, else a new one. A survey is given up when the shape is changed meanwhile.
    fn survey_for(
        &self,
        workshop: &Workshop,
        revision: u32,
        shape: Shape,
    ) -> Result<Arc<Survey>, Stopped> {
        let mut planner = lock(&self.planning.state).planner.clone();
        if let Some(survey) = planner.survey().filter(|s| s.fits(&shape)) {
            return Ok(survey.clone());
        }
        self.planning.done.store(0, Ordering::Relaxed);
        let told = AtomicU32::new(0);
        let turn = workshop.turns.begin();
        let progress = |share: f64| {
            turn.slice_done();
            let now = (share * 1000.0) as u32;
            self.planning.done.fetch_max(now, Ordering::Relaxed);
            // Every twentieth is enough for a bar.
            if now / 50 > told.load(Ordering::Relaxed) {
                told.store(now / 50, Ordering::Relaxed);
                workshop.tell(
                    self.id,
                    JobEvent::Plan {
                        revision,
                        done: share.min(0.99),
                    },
                );
            }
            // An edit that is being applied holds the history and may wait for these very threads: never wait for it.
            let is_outdated = || {
                self.revision() != revision
                    && self
                        .history
                        .try_lock()
                        .is_ok_and(|history| history.job().shape() != shape)
            };
            !self.planning.is_stopped.load(Ordering::Relaxed) && !is_outdated()
        };
        let survey = surveyors(|| planner.look(shape.clone(), &progress))?;
        lock(&self.planning.state).planner.take(survey.clone());
        Ok(survey)
    }
}

/// Runs a survey on threads of its own, so that no job waits for another's: the machine gives each its share. An edit never
/// waits for one either.
pub(super) fn surveyors<T: Send>(work: impl FnOnce() -> T + Send) -> T {
    let name = |n: usize| format!("survey-{n}");
    match rayon::ThreadPoolBuilder::new().thread_name(name).build() {
        Ok(pool) => pool.install(work),
        Err(e) => {
            tracing::warn!("no threads can be started for a survey: {e}");
            work()
        }
    }
}
