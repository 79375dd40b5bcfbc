//! The edits of a job in order, with undo and redo.

use super::apply::Before;
use super::edit::Edit;
use super::state::Job;
use crate::Problem;
use crate::mesh::OpenMesh;
use std::collections::VecDeque;
use std::sync::Arc;

/// Where models come from when an edit opens one.
pub trait Models {
    /// The opened mesh of a content name.
    ///
    /// # Errors
    /// A [`Problem`] if there is no such content or it is not a mesh.
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem>;
}

/// A job with the edits that made it. `head` edits are applied; those after it can be redone.
#[derive(Default)]
pub struct History {
    job: Job,
    edits: Vec<Edit>,
    head: usize,
    /// What the latest applied edits overwrote, newest last. Older ones are undone by replaying from the start.
    recent: VecDeque<Before>,
}

/// Undo steps kept ready; the rest costs a replay.
const READY: usize = 64;

impl History {
    /// Replays the first `head` of some edits. Edits past `head` are kept for redo.
    ///
    /// # Errors
    /// The first refusal, with the edit's number (from 1) before its place.
    pub fn replay(edits: Vec<Edit>, head: usize, models: &dyn Models) -> Result<History, Problem> {
        let mut history = History {
            edits,
            ..History::default()
        };
        for index in 0..head.min(history.edits.len()) {
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
        let before = self.job.apply(edit, models)?;
        self.recent.push_back(before);
        if self.recent.len() > READY {
            self.recent.pop_front();
        }
        self.head += 1;
        Ok(())
    }

    /// The job as it stands.
    pub fn job(&self) -> &Job {
        &self.job
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
        self.step(&edit, models)?;
        self.edits.truncate(self.head - 1);
        self.edits.push(edit);
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
                self.job.take_back(before);
                self.head -= 1;
            }
            None => {
                *self = History::replay(std::mem::take(&mut self.edits), self.head - 1, models)?
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
