//! Jobs kept as they stood, so that opening them and going back is quick however many edits they have.

use super::session::Session;
use super::workshop::{Workshop, lock};
use crate::store;
use std::collections::BTreeSet;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use varichrom_core::Problem;
use varichrom_core::drawing::{DrawingSource, Flat};
use varichrom_core::job::{History, Job, Models};
use varichrom_core::model::OpenMesh;

/// The models of a workshop with the states kept of one of its jobs.
pub(super) struct OfJob<'a> {
    pub(super) workshop: &'a Workshop,
    pub(super) id: i32,
}

impl Models for OfJob<'_> {
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem> {
        self.workshop.open(content)
    }

    fn bytes(&self, content: &str) -> Result<Arc<Vec<u8>>, Problem> {
        self.workshop.bytes(content)
    }

    fn drawing(&self, drawing: &DrawingSource) -> Result<Arc<Flat>, Problem> {
        Models::drawing(self.workshop, drawing)
    }

    fn kept(&self, at: usize) -> Option<(usize, Vec<u8>)> {
        let mut connection = self.workshop.db.get().ok()?;
        store::states::newest(&mut connection, self.id, at)
            .inspect_err(|e| tracing::warn!("the states of job {} cannot be read: {e}", self.id))
            .ok()?
    }
}

/// Which states of a session's job are in the store.
#[derive(Default)]
pub(super) struct KeptStates {
    /// After how many edits; none before it is known.
    after: Mutex<Option<BTreeSet<usize>>>,
    is_busy: AtomicBool,
}

impl Session {
    /// Keeps what the history has as checkpoints and the store has not, behind the scenes: edits do not wait for it.
    pub(super) fn keep_states(self: &Arc<Self>, workshop: &Arc<Workshop>, history: &History) {
        let known = {
            let mut known = lock(&self.states.after);
            let stored = || -> Option<BTreeSet<usize>> {
                let mut connection = workshop.db.get().ok()?;
                let all = store::states::kept(&mut connection, self.id).ok()?;
                Some(all.into_iter().collect())
            };
            if known.is_none() {
                *known = stored();
            }
            let Some(known) = known.as_mut() else { return };
            // Those of edits that are no more went with them; after a new edit there is nothing to redo.
            let (all, head) = (history.edits().len(), history.head());
            known.retain(|after| *after < head || (*after <= all && head < all));
            known.clone()
        };
        let due: Vec<usize> = history
            .checkpoints()
            .map(|(n, _)| n)
            .filter(|n| !known.contains(n))
            .collect();
        if due.is_empty() || self.states.is_busy.swap(true, Ordering::SeqCst) {
            return;
        }
        let mut mark = store::states::Mark::default();
        let mut states: Vec<(usize, String, Arc<Job>)> = Vec::new();
        let mut marked = 0;
        for (after, job) in history.checkpoints().filter(|(n, _)| due.contains(n)) {
            for edit in &history.edits()[marked..after] {
                mark.add(&store::jobs::to_json(edit).unwrap_or_default());
            }
            marked = after;
            states.push((after, mark.text(), job.clone()));
        }
        let (session, workshop) = (self.clone(), workshop.clone());
        std::thread::spawn(move || {
            for (after, mark, job) in states {
                session.keep_state(&workshop, after, &mark, &job);
            }
            session.states.is_busy.store(false, Ordering::SeqCst);
        });
    }

    fn keep_state(&self, workshop: &Workshop, after: usize, mark: &str, job: &Job) {
        let Some(body) = job.kept(workshop) else {
            return;
        };
        let written = workshop
            .db
            .get()
            .map_err(|e| e.to_string())
            .and_then(|mut c| {
                store::states::keep(&mut c, self.id, after, mark, &body).map_err(|e| e.to_string())
            });
        match written {
            Ok(()) => {
                if let Some(known) = lock(&self.states.after).as_mut() {
                    known.insert(after);
                }
            }
            // A job that was deleted in between, or a full disk: it is opened by its edits then.
            Err(e) => tracing::warn!("job {} after {after} edits is not kept: {e}", self.id),
        }
    }
}
