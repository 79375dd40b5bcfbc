//! The edits of a job in order, with undo and redo.

use super::before::Before;
use super::edits::Edit;
use super::parts::stopped;
use super::revised::revised;
use super::state::Job;
use crate::Problem;
use crate::drawing::{DrawingSource, Flat};
use crate::layers::Touched;
use crate::model::OpenMesh;
use std::collections::VecDeque;
use std::sync::Arc;

/// What an edit needs from outside: models to open, and a word on whether to go on.
pub trait Models {
    /// The opened mesh of a content name.
    ///
    /// # Errors
    /// A [`Problem`] if there is no such content or it is not a mesh.
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem>;

    /// The bytes of a content that is no mesh: a drawing, a font.
    ///
    /// # Errors
    /// A [`Problem`] if there is no such content.
    fn bytes(&self, content: &str) -> Result<Arc<Vec<u8>>, Problem> {
        Err(Problem::new(
            "content-unknown",
            format!("There is no file {content} here"),
            "content",
            "Put the file where the job looks for it.",
        ))
    }

    /// A drawing laid flat.
    ///
    /// # Errors
    /// As for [`DrawingSource::flat`].
    fn drawing(&self, drawing: &DrawingSource) -> Result<Arc<Flat>, Problem> {
        drawing
            .flat(&|content| self.bytes(content), &|_| true)
            .map(Arc::new)
    }

    /// Told the finished share of a long edit of parts from time to time, 0 to 1. False stops the edit: it is refused
    /// with the code `stopped` and changes nothing.
    fn go_on(&self, done: f64) -> bool {
        let _ = done;
        true
    }

    /// What [`Job::kept`] made of the job, kept elsewhere, after the most edits up to `at`, and after how many.
    fn kept(&self, at: usize) -> Option<(usize, Vec<u8>)> {
        let _ = at;
        None
    }
}

/// A job with the edits that made it. `head` edits are applied; those after it can be redone.
#[derive(Default)]
pub struct History {
    job: Job,
    edits: Vec<Edit>,
    head: usize,
    /// What the latest applied edits overwrote, newest last. Older ones are undone by replaying from the start.
    recent: VecDeque<Before>,
    touched: Touched,
    /// The job as it stands after so many of the edits, ascending, also of those that can be redone: from there further steps
    /// are replayed.
    checkpoints: Vec<(usize, Arc<Job>)>,
}

/// What one edit is tried on.
pub enum Apart {
    /// All edits before it.
    Edits(Vec<Edit>),
    /// The job as they made it.
    Job(Box<Job>),
}

impl Apart {
    /// As [`History::tried`].
    ///
    /// # Errors
    /// The refusal of the edit.
    pub fn tried(&self, edit: &Edit, models: &dyn Models) -> Result<Job, Problem> {
        match self {
            Apart::Edits(edits) => revised(edits, edit, models),
            Apart::Job(job) => Ok(job.tried(edit, models)?.job),
        }
    }
}

/// Undo steps kept ready; the rest costs a replay.
const READY: usize = 64;

/// Of those, steps that keep whole meshes: at least so many, more while their facets are few.
const READY_HEAVY: usize = 2;

/// Facets kept by such steps beyond the least.
const READY_FACETS: usize = 2_000_000;

/// The job as it is kept elsewhere after the most edits up to a number, and after how many.
fn kept_job(at: usize, models: &dyn Models) -> Option<(usize, Job)> {
    let (n, bytes) = models.kept(at)?;
    Some((n, Job::from_kept(&bytes, models).filter(|_| n <= at)?))
}

/// Edits between two checkpoints.
const CHECKPOINT_EVERY: usize = 32;

/// Facets whose labels all checkpoints together may hold; beyond, every other one goes.
const CHECKPOINT_FACETS: usize = 60_000_000;

impl History {
    /// Replays the first `head` of some edits, from where the job is kept on if it is. Edits past `head` are kept for redo.
    ///
    /// # Errors
    /// The first refusal, with the edit's number (from 1) before its place; `stopped`, asked for before every edit.
    pub fn replay(edits: Vec<Edit>, head: usize, models: &dyn Models) -> Result<History, Problem> {
        let head = head.min(edits.len());
        let (from, job) = kept_job(head, models).unwrap_or_default();
        let mut history = History {
            job,
            edits,
            head: from,
            ..History::default()
        };
        for index in from..head {
            if !models.go_on((index - from) as f64 / (head - from) as f64) {
                return Err(stopped());
            }
            let edit = history.edits[index].clone();
            history.step(&edit, models).map_err(|p| Problem {
                place: Some(match p.place {
                    Some(place) => format!("edit {}, {place}", index + 1),
                    None => format!("edit {}", index + 1),
                }),
                ..p
            })?;
        }
        Ok(history)
    }

    fn step(&mut self, edit: &Edit, models: &dyn Models) -> Result<(), Problem> {
        let before = if edit.takes_all_before() {
            let revised = revised(&self.edits[..self.head], edit, models)?;
            let before = Before::whole(&self.job);
            self.job = revised;
            before
        } else {
            self.job.apply(edit, models)?
        };
        self.touched = before.touched(edit, &self.job);
        self.recent.push_back(before);
        let too_heavy = |recent: &VecDeque<Before>| {
            let heavy = recent.iter().filter(|b| b.is_heavy());
            heavy.clone().count() > READY_HEAVY
                && heavy.map(Before::facets).sum::<usize>() > READY_FACETS
        };
        while self.recent.len() > READY || too_heavy(&self.recent) {
            self.recent.pop_front();
        }
        self.head += 1;
        if self.head.is_multiple_of(CHECKPOINT_EVERY) {
            let place = self.checkpoints.partition_point(|(at, _)| *at < self.head);
            if self.checkpoints.get(place).is_none_or(|c| c.0 != self.head) {
                self.checkpoints
                    .insert(place, (self.head, Arc::new(self.job.clone())));
                self.thin_out();
            }
        }
        Ok(())
    }

    /// The job as it would be after an edit, of any kind; nothing changes.
    ///
    /// # Errors
    /// The refusal of the edit.
    ///
    /// # Cost
    /// A copy of the job and the edit; of one that takes all before it, all of them.
    pub fn tried(&self, edit: &Edit, models: &dyn Models) -> Result<Job, Problem> {
        self.apart(edit).tried(edit, models)
    }

    /// What an edit is tried on, apart from this history, so that it can be changed meanwhile.
    pub fn apart(&self, edit: &Edit) -> Apart {
        match edit.takes_all_before() {
            true => Apart::Edits(self.edits[..self.head].to_vec()),
            false => Apart::Job(Box::new(self.job.clone())),
        }
    }

    /// Drops every other checkpoint while they hold too much.
    fn thin_out(&mut self) {
        let facets = |job: &Arc<Job>| job.models.iter().map(|m| m.labels.len()).sum::<usize>();
        while self.checkpoints.len() > 2
            && self
                .checkpoints
                .iter()
                .map(|(_, j)| facets(j))
                .sum::<usize>()
                > CHECKPOINT_FACETS
        {
            let mut at = 0;
            self.checkpoints.retain(|_| {
                at += 1;
                at % 2 == 0
            });
        }
    }

    /// The job from which it is not far to stand after `at` edits, and after how many it stands so; none if that is the job
    /// as it stands now.
    fn nearest(&self, at: usize, models: &dyn Models) -> Option<(usize, Arc<Job>)> {
        // So few steps are quicker than reading what is kept.
        const FEW: usize = 4;
        let now = if self.head <= at { self.head } else { 0 };
        if self.head <= at && at - now <= FEW {
            return None;
        }
        let known = self.checkpoints.iter().rev().find(|(n, _)| *n <= at);
        let known = known.filter(|(n, _)| *n > now).cloned();
        let reached = known.as_ref().map_or(now, |k| k.0);
        let kept = (at - reached > FEW).then(|| kept_job(at, models)).flatten();
        let kept = kept
            .filter(|(n, _)| *n > reached)
            .map(|(n, job)| (n, Arc::new(job)));
        let from_start = || (self.head > at).then(Default::default);
        kept.or(known).or_else(from_start)
    }

    /// Undoes or redoes until so many edits are applied; all of it or nothing.
    ///
    /// # Errors
    /// If a model can no longer be read, or the way there is stopped.
    ///
    /// # Cost
    /// A step back costs next to nothing while it is kept ready; else the edits since the last checkpoint before it, here or
    /// kept elsewhere.
    pub fn go_to(&mut self, at: usize, models: &dyn Models) -> Result<(), Problem> {
        let at = at.min(self.edits.len());
        let is_ready = at < self.head && self.head - at <= self.recent.len();
        if !is_ready && let Some((head, job)) = self.nearest(at, models) {
            let mut gone = History {
                job: (*job).clone(),
                head,
                edits: self.edits.clone(),
                checkpoints: self.checkpoints.clone(),
                ..History::default()
            };
            while gone.head < at {
                if !models.go_on((gone.head - head) as f64 / (at - head) as f64) {
                    return Err(stopped());
                }
                let edit = gone.edits[gone.head].clone();
                gone.step(&edit, models)?;
            }
            gone.touched = Touched::Everything;
            *self = gone;
            return Ok(());
        }
        let from = self.head;
        while self.head > at {
            self.undo(models)?;
        }
        while self.head < at {
            if let Err(refused) = self.redo(models) {
                while self.head > from && self.undo(models)? {}
                return Err(refused);
            }
        }
        if from != at {
            self.touched = Touched::Everything;
        }
        Ok(())
    }

    /// The job at its checkpoints, and after how many edits it stood so, ascending: to be kept elsewhere.
    pub fn checkpoints(&self) -> impl Iterator<Item = (usize, &Arc<Job>)> {
        self.checkpoints.iter().map(|(at, job)| (*at, job))
    }

    /// The job as it stands.
    pub fn job(&self) -> &Job {
        &self.job
    }

    /// What the last edit, undo or redo changed.
    pub fn touched(&self) -> Touched {
        self.touched
    }

    /// All edits, those that can be redone included.
    pub fn edits(&self) -> &[Edit] {
        &self.edits
    }

    /// How many edits are applied.
    pub fn head(&self) -> usize {
        self.head
    }

    /// Applies a new edit; what could be redone is dropped.
    ///
    /// # Errors
    /// The refusal; the job and its history are as before.
    pub fn apply(&mut self, edit: Edit, models: &dyn Models) -> Result<(), Problem> {
        self.apply_kept(edit, models, |_| Ok(()))
    }

    /// Applies a new edit and keeps it elsewhere, both or neither: if `keep`, which is given the history with the edit, fails,
    /// history and job are as before, and what could be redone still can.
    ///
    /// # Errors
    /// The refusal of the edit, or what `keep` says.
    pub fn apply_kept<E: From<Problem>>(
        &mut self,
        edit: Edit,
        models: &dyn Models,
        keep: impl FnOnce(&History) -> Result<(), E>,
    ) -> Result<(), E> {
        let touched = self.touched;
        // Where it leads, those that could be redone do not.
        let ahead = self
            .checkpoints
            .split_off(self.checkpoints.partition_point(|(at, _)| *at <= self.head));
        if let Err(refused) = self.step(&edit, models) {
            self.checkpoints.extend(ahead);
            return Err(refused.into());
        }
        let undone = self.edits.split_off(self.head - 1);
        self.edits.push(edit);
        if let Err(failed) = keep(self) {
            // The newest step is always ready.
            if let Some(before) = self.recent.pop_back() {
                self.job.take_back(before);
            }
            self.checkpoints.retain(|(at, _)| *at < self.head);
            self.checkpoints.extend(ahead);
            self.head -= 1;
            self.edits.truncate(self.head);
            self.edits.extend(undone);
            self.touched = touched;
            return Err(failed);
        }
        Ok(())
    }

    /// Takes the last edit back. Returns false if there is none.
    ///
    /// # Errors
    /// Only if a model can no longer be read when a long history has to be replayed.
    pub fn undo(&mut self, models: &dyn Models) -> Result<bool, Problem> {
        if self.head == 0 {
            return Ok(false);
        }
        match self.recent.pop_back() {
            Some(before) => {
                self.touched = before.touched(&self.edits[self.head - 1], &self.job);
                self.job.take_back(before);
                self.head -= 1;
            }
            None => {
                return self.go_to(self.head - 1, models).map(|()| true);
            }
        }
        Ok(true)
    }

    /// Applies the next edit again. Returns false if there is none.
    ///
    /// # Errors
    /// As for [`History::apply`].
    pub fn redo(&mut self, models: &dyn Models) -> Result<bool, Problem> {
        let Some(edit) = self.edits.get(self.head).cloned() else {
            return Ok(false);
        };
        self.step(&edit, models)?;
        Ok(true)
    }
}
