//! The edits of a job in order, with undo and redo.

use super::apply::Before;
use super::edit::Edit;
use super::state::{Job, LostEdit};
use crate::Problem;
use crate::mesh::OpenMesh;
use std::collections::{HashMap, VecDeque};
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

/// Of those, steps that keep whole meshes.
const READY_HEAVY: usize = 2;

/// The job that some edits make when the file of one model is another. Edits that no longer find their place are left
/// out and listed.
fn revised(edits: &[Edit], last: &Edit, models: &dyn Models) -> Result<Job, Problem> {
    // By which edit each model of the present name was opened, and which file it has now.
    let mut opened: Vec<(String, usize)> = Vec::new();
    let mut files: HashMap<usize, (&String, &String)> = HashMap::new();
    for (index, edit) in edits.iter().chain([last]).enumerate() {
        let known = |name: &str| opened.iter().position(|(n, _)| n == name);
        match edit {
            Edit::OpenModel { model, .. } => opened.push((model.trim().to_string(), index)),
            Edit::RenameModel { model, name } => {
                if let Some(at) = known(model) {
                    opened[at].0 = name.trim().to_string();
                }
            }
            Edit::RemoveModel { model } => opened.retain(|(n, _)| n != model),
            Edit::ReviseModel {
                model,
                file,
                content,
            } => {
                let at = known(model).ok_or_else(|| {
                    let message = format!("There is no model called {model}");
                    let mend = "Use the name of one of the job's models.";
                    Problem::new("model-unknown", message, "model", mend)
                })?;
                files.insert(opened[at].1, (file, content));
            }
            _ => {}
        }
    }
    let mut job = Job::default();
    let mut lost = Vec::new();
    for (index, edit) in edits.iter().enumerate() {
        let done = match (edit, files.get(&index)) {
            (Edit::ReviseModel { .. }, _) => continue,
            (Edit::OpenModel { model, .. }, Some((file, content))) => {
                let edit = Edit::OpenModel {
                    model: model.clone(),
                    file: (*file).clone(),
                    content: (*content).clone(),
                };
                // Without the new file there is nothing to go on with.
                job.apply(&edit, models)?;
                continue;
            }
            _ => job.apply(edit, models),
        };
        if let Err(why) = done {
            lost.push(LostEdit {
                number: index as u32 + 1,
                what: edit.in_words(),
                at: edit.place().map(|p| p.point),
                why,
            });
        }
    }
    job.lost = lost;
    Ok(job)
}

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
        let before = match edit {
            Edit::ReviseModel { .. } => {
                let revised = revised(&self.edits[..self.head], edit, models)?;
                let before = Before::whole(&self.job);
                self.job = revised;
                before
            }
            _ => self.job.apply(edit, models)?,
        };
        self.recent.push_back(before);
        let heavy = |recent: &VecDeque<Before>| recent.iter().filter(|b| b.is_heavy()).count();
        while self.recent.len() > READY || heavy(&self.recent) > READY_HEAVY {
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
