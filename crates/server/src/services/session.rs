//! One open job: its history, and what is worked out from it.

use super::bodies::KnownBodies;
use super::editing::{Editing, Watched};
use super::parts::Meetings;
use super::planning::Planning;
use super::printing::Printing;
use super::rehearsing::Rehearsing;
use super::sliced::Opened;
use super::states::{KeptStates, OfJob};
use super::trials::Trials;
use super::workshop::{Workshop, lock};
use crate::error::ApiError;
use crate::store;
use crate::wire::{JobEvent, JobSummary, JobView};
use std::sync::atomic::{AtomicU32, Ordering};
use std::sync::{Arc, Mutex};
use varichrom_core::advice::CheckedPlan;
use varichrom_core::advice::load::{PrinterReport, spool_needs};
use varichrom_core::handover::plan_json;
use varichrom_core::job::{Edit, History, Job};
use varichrom_core::layers::Touched;
use varichrom_core::model::OpenMesh;
use varichrom_core::{Problem, ProblemSort};

/// Stands in the labels for a facet that has several.
const DIVIDED: u16 = u16::MAX;

/// An open job.
pub(crate) struct Session {
    pub(crate) id: i32,
    pub(super) history: Mutex<History>,
    /// Edits that opened the job and are never undone.
    pub(super) floor: usize,
    pub(super) revision: AtomicU32,
    pub(super) planning: Planning,
    pub(super) meetings: Meetings,
    pub(super) trials: Trials,
    pub(super) bodies: KnownBodies,
    pub(super) printing: Printing,
    pub(super) rehearsing: Rehearsing,
    pub(super) opened: Opened,
    pub(super) states: KeptStates,
    editing: Editing,
    /// What was said at which address when it was asked last.
    pub(super) asked: Mutex<Option<(String, Result<PrinterReport, Problem>)>>,
}

impl Session {
    pub(super) fn new(id: i32, history: History, floor: usize, revision: u32) -> Session {
        Session {
            id,
            history: Mutex::new(history),
            floor,
            revision: AtomicU32::new(revision),
            planning: Planning::default(),
            meetings: Meetings::default(),
            trials: Trials::default(),
            bodies: KnownBodies::default(),
            printing: Printing::default(),
            rehearsing: Rehearsing::default(),
            opened: Opened::default(),
            states: KeptStates::default(),
            editing: Editing::default(),
            asked: Mutex::default(),
        }
    }

    /// The job as the stages show it.
    pub(crate) fn view(&self, workshop: &Workshop) -> Result<JobView, ApiError> {
        let rack = workshop.rack()?;
        let history = lock(&self.history);
        Ok(super::views::job_view(
            self.id,
            self.revision(),
            &history,
            self.floor,
            &rack,
        ))
    }

    pub(crate) fn revision(&self) -> u32 {
        self.revision.load(Ordering::SeqCst)
    }

    /// Applies an edit and keeps it; it is on the disk when this returns.
    pub(crate) fn apply(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        edit: Edit,
    ) -> Result<(), ApiError> {
        self.apply_with(workshop, edit, &[])
    }

    /// Applies an edit and keeps it together with the files it names.
    pub(super) fn apply_with(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        edit: Edit,
        files: &[(String, &[u8])],
    ) -> Result<(), ApiError> {
        self.check_named(workshop, &edit, files)?;
        let mut history = lock(&self.history);
        self.watched(workshop, |models| {
            history.apply_kept(edit.clone(), models, |history| {
                self.keep(workshop, history, |c, standing| {
                    store::jobs::append(c, self.id, &edit, standing, files)
                })
            })
        })?;
        self.changed(workshop, history.touched());
        self.keep_states(workshop, &history);
        Ok(())
    }

    /// Whether spools and files that an edit names are there.
    fn check_named(
        &self,
        workshop: &Workshop,
        edit: &Edit,
        files: &[(String, &[u8])],
    ) -> Result<(), ApiError> {
        let spools = edit.spools();
        if !spools.is_empty() {
            let rack = workshop.rack()?;
            if let Some(id) = spools.iter().find(|id| !rack.iter().any(|s| s.id == **id)) {
                let message = format!("There is no spool {id} on the rack");
                let mend = "Choose a spool of the rack.";
                return Err(Problem::new("spool-unknown", message, "spool", mend).into());
            }
        }
        for content in edit.contents() {
            let is_brought = files.iter().any(|(hash, _)| hash == content);
            if !is_brought && !store::jobs::has_content(&mut *workshop.db.get()?, content)? {
                let message = "The file of this model is not in the store";
                let mend = "Open the model's file again.";
                return Err(Problem::new("content-unknown", message, "content", mend).into());
            }
        }
        Ok(())
    }

    /// Takes the newest edit back and applies another in its place, both or neither: what is on the disk is the one or the other.
    pub(super) fn instead_of_newest(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        edit: Edit,
        files: &[(String, &[u8])],
    ) -> Result<(), ApiError> {
        self.check_named(workshop, &edit, files)?;
        let mut history = lock(&self.history);
        let kept = self.models(workshop);
        if history.head() <= self.floor || !history.undo(&kept)? {
            return Err(nothing_to("undo"));
        }
        let undone = history.touched();
        let applied = self.watched(workshop, |models| {
            history.apply_kept(edit.clone(), models, |history| {
                self.keep(workshop, history, |c, standing| {
                    store::jobs::append(c, self.id, &edit, standing, files)
                })
            })
        });
        if let Err(refused) = applied {
            history.redo(&kept)?;
            return Err(refused);
        }
        self.changed(workshop, undone.and(history.touched()));
        self.keep_states(workshop, &history);
        Ok(())
    }

    /// Runs something on the history as it stands.
    pub(super) fn with_history<T>(&self, f: impl FnOnce(&History) -> T) -> T {
        f(&lock(&self.history))
    }

    /// Runs an edit that can be stopped and tells how far it is.
    fn watched<T>(&self, workshop: &Workshop, work: impl FnOnce(&Watched<'_>) -> T) -> T {
        self.editing.begin();
        let go_on = |done: f64| self.editing.go_on(self.id, workshop, done);
        work(&Watched {
            models: self.models(workshop),
            go_on: &go_on,
        })
    }

    /// The models and states of this job.
    pub(super) fn models<'a>(&self, workshop: &'a Workshop) -> OfJob<'a> {
        OfJob {
            workshop,
            id: self.id,
        }
    }

    /// Stops the edit that is being applied; without one, nothing happens.
    pub(crate) fn stop_edit(&self) {
        self.editing.stop();
    }

    /// Takes the last edit back.
    pub(crate) fn undo(self: &Arc<Self>, workshop: &Arc<Workshop>) -> Result<(), ApiError> {
        let mut history = lock(&self.history);
        if history.head() <= self.floor || !history.undo(&self.models(workshop))? {
            return Err(nothing_to("undo"));
        }
        if let Err(failed) = self.keep_standing(workshop, &history) {
            history.redo(&self.models(workshop))?;
            return Err(failed);
        }
        self.changed(workshop, history.touched());
        self.keep_states(workshop, &history);
        Ok(())
    }

    /// Applies the edit that was taken back last.
    pub(crate) fn redo(self: &Arc<Self>, workshop: &Arc<Workshop>) -> Result<(), ApiError> {
        let mut history = lock(&self.history);
        if !self.watched(workshop, |models| history.redo(models))? {
            return Err(nothing_to("redo"));
        }
        if let Err(failed) = self.keep_standing(workshop, &history) {
            history.undo(&self.models(workshop))?;
            return Err(failed);
        }
        self.changed(workshop, history.touched());
        self.keep_states(workshop, &history);
        Ok(())
    }

    pub(super) fn keep_standing(
        &self,
        workshop: &Workshop,
        history: &History,
    ) -> Result<(), ApiError> {
        self.keep(workshop, history, |c, standing| {
            store::jobs::stand(c, self.id, standing)
        })
    }

    fn keep(
        &self,
        workshop: &Workshop,
        history: &History,
        write: impl FnOnce(
            &mut diesel::sqlite::SqliteConnection,
            &store::jobs::Standing<'_>,
        ) -> diesel::QueryResult<()>,
    ) -> Result<(), ApiError> {
        let plan = self.planning.newest();
        let summary = Session::summary_of(self.id, history, plan.as_deref());
        let text =
            serde_json::to_string(&summary).map_err(|e| ApiError::Internal(e.to_string()))?;
        let standing = store::jobs::Standing {
            name: &history.job().name,
            head: history.head(),
            revision: self.count(),
            summary: &text,
        };
        Ok(write(&mut *workshop.db.get()?, &standing)?)
    }

    /// Counts a change. Of the job itself only while nobody else can look at it, so that no plan goes by the number of the job
    /// before.
    fn count(&self) -> u32 {
        self.revision.fetch_add(1, Ordering::SeqCst) + 1
    }

    /// Tells every tab of a change that is counted and kept, and sets the planning going.
    pub(super) fn changed(self: &Arc<Self>, workshop: &Arc<Workshop>, touched: Touched) {
        self.planning.touched(touched);
        let revision = self.revision();
        workshop.tell(self.id, JobEvent::Changed { revision });
        self.plan(workshop);
    }

    /// Plans anew, for a change of what the job is printed with.
    pub(super) fn replan(self: &Arc<Self>, workshop: &Arc<Workshop>) {
        let revision = self.count();
        let stored = workshop.db.get().map_err(ApiError::from);
        // At worst it is stored with the next edit.
        if let Err(e) =
            stored.and_then(|mut c| Ok(store::jobs::raise_revision(&mut c, self.id, revision)?))
        {
            tracing::warn!("the revision of job {} is not stored: {e}", self.id);
        }
        self.changed(workshop, Touched::NOTHING);
    }

    /// What the shelf shows of a job.
    pub(super) fn summary_of(id: i32, history: &History, plan: Option<&CheckedPlan>) -> JobSummary {
        let job = history.job();
        // Only as much of each as is planned; the rack is not needed for that.
        let needs = plan.map(|p| spool_needs(job, &[], p));
        let mut spools: Vec<(String, Option<f64>)> = Vec::new();
        for (n, id) in job.loaded().iter().enumerate() {
            let Some(id) = id else { continue };
            let grams = needs.as_ref().and_then(|all| all.get(n)).map(|n| n.grams());
            match spools.iter_mut().find(|s| s.0 == *id) {
                Some((_, sum)) => *sum = sum.zip(grams).map(|(a, b)| a + b),
                None => spools.push((id.clone(), grams)),
            }
        }
        let bill = plan.map(|p| &p.bill);
        JobSummary {
            id,
            name: job.name.clone(),
            facets: job.models.iter().map(|m| m.open.mesh.facets.len()).sum(),
            parts: job.models.iter().map(|m| m.parts.len()).sum(),
            size_mm: job.bounds().size(),
            colours: job.live_regions().map(|(_, r)| r.colour).collect(),
            swaps: bill.map(|b| b.swaps),
            // How long a jetting machine takes nobody here knows.
            time_s: bill
                .map(|b| b.time_s)
                .filter(|_| !job.printer.profile().jets),
            spools,
            wasted_share: bill.map(|b| b.wasted_share).filter(|s| s.is_finite()),
            ..JobSummary::default()
        }
    }

    /// Writes the shelf's line anew after a plan.
    pub(super) fn keep_summary(
        &self,
        workshop: &Workshop,
        plan: &CheckedPlan,
    ) -> Result<(), ApiError> {
        let summary = Session::summary_of(self.id, &lock(&self.history), Some(plan));
        let text =
            serde_json::to_string(&summary).map_err(|e| ApiError::Internal(e.to_string()))?;
        Ok(store::jobs::set_summary(
            &mut *workshop.db.get()?,
            self.id,
            &text,
        )?)
    }

    /// A model's mesh.
    pub(crate) fn model(&self, index: usize) -> Result<Arc<OpenMesh>, ApiError> {
        let history = lock(&self.history);
        let model = history
            .job()
            .models
            .get(index)
            .ok_or(ApiError::NotFound("model"))?;
        Ok(model.open.clone())
    }

    /// Region number of every facet of a model, and the revision it is for.
    pub(crate) fn labels(&self, index: usize) -> Result<(u32, Vec<u16>), ApiError> {
        let history = lock(&self.history);
        let job = history.job();
        let model = job.models.get(index).ok_or(ApiError::NotFound("model"))?;
        let labels = (0..model.labels.len() as u32)
            .map(|f| match model.labels.whole(f) {
                Some(label) => job.region_of_label(index, f, label),
                None => DIVIDED,
            })
            .collect();
        Ok((self.revision(), labels))
    }

    /// Runs something on the job as it stands.
    pub(crate) fn with_job<T>(&self, f: impl FnOnce(&Job) -> T) -> T {
        f(lock(&self.history).job())
    }

    /// The plan of the present revision.
    ///
    /// # Errors
    /// `plan-not-ready` while it is being worked out.
    pub(crate) fn ready_plan(&self) -> Result<Arc<CheckedPlan>, ApiError> {
        self.planning.ready(self.revision()).ok_or_else(|| {
            let message = "The plan is still being worked out";
            Problem::new(
                "plan-not-ready",
                message,
                "",
                "Wait for the bill, then try again.",
            )
            .of(ProblemSort::Outdated)
            .into()
        })
    }

    /// The plan as it is handed over.
    ///
    /// # Errors
    /// As for [`Session::ready_plan`]; those of the store.
    pub(crate) fn plan_json(&self, workshop: &Workshop) -> Result<String, ApiError> {
        let (plan, rack) = (self.ready_plan()?, workshop.rack()?);
        Ok(self.with_job(|job| plan_json(job, &rack, &plan)))
    }

    /// All edits that are applied.
    pub(crate) fn edits(&self) -> Vec<Edit> {
        let history = lock(&self.history);
        history.edits()[..history.head()].to_vec()
    }
}

fn nothing_to(what: &str) -> ApiError {
    let message = format!("There is nothing to {what}");
    Problem::new(&format!("nothing-to-{what}"), message, "", "Carry on.").into()
}
