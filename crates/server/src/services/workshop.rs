//! All jobs of one data folder: the shelf, the open sessions, the rack.

use super::session::Session;
use super::staging::Staging;
use crate::error::ApiError;
use crate::store::{self, Db};
use crate::wire::{JobEvent, JobSummary};
use std::collections::HashMap;
use std::path::Path;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError, Weak};
use tokio::sync::broadcast;
use varichrom_core::Problem;
use varichrom_core::job::{History, Models};
use varichrom_core::mesh::OpenMesh;

/// Sessions kept open besides those in use: a large job takes hundreds of megabytes.
const KEPT_OPEN: usize = 3;

/// The jobs of one database, and what is open of them.
pub struct Workshop {
    pub(super) db: Db,
    sessions: Mutex<Vec<Arc<Session>>>,
    meshes: Mutex<HashMap<String, Weak<OpenMesh>>>,
    events: broadcast::Sender<(i32, JobEvent)>,
    pub(super) staging: Staging,
    /// Threads of their own for surveys: an edit never waits for one that goes on in the background.
    pub(super) surveyors: rayon::ThreadPool,
}

/// The data behind a lock, even after a panic elsewhere: every holder leaves it whole.
pub(super) fn lock<T>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

impl Workshop {
    /// Opens or makes the database in a folder.
    ///
    /// # Errors
    /// A sentence, if the folder or the file cannot be used.
    pub fn open(folder: &Path) -> Result<Arc<Workshop>, String> {
        std::fs::create_dir_all(folder)
            .map_err(|e| format!("the folder {} cannot be used: {e}", folder.display()))?;
        let db = store::open(&folder.join("varichrom.sqlite"))?;
        let (events, _) = broadcast::channel(256);
        Ok(Arc::new(Workshop {
            db,
            sessions: Mutex::default(),
            meshes: Mutex::default(),
            events,
            staging: Staging::default(),
            surveyors: rayon::ThreadPoolBuilder::new()
                .thread_name(|n| format!("survey-{n}"))
                .build()
                .map_err(|e| format!("no threads can be started: {e}"))?,
        }))
    }

    /// The shelf, the latest changed job first.
    pub fn shelf(&self) -> Result<Vec<JobSummary>, ApiError> {
        let lines = store::jobs::list(&mut *self.db.get()?)?;
        lines
            .into_iter()
            .map(|line| {
                let mut summary: JobSummary = serde_json::from_str(&line.summary)
                    .map_err(|e| ApiError::Internal(e.to_string()))?;
                summary.id = line.id;
                summary.name = line.name;
                Ok(summary)
            })
            .collect()
    }

    /// Plans of all open jobs are made anew: what they print with has changed.
    pub(super) fn replan_all(self: &Arc<Self>) {
        for session in lock(&self.sessions).iter() {
            session.touch_everything(self);
        }
    }

    /// The open session of a job; opens it if need be.
    pub(crate) fn session(self: &Arc<Self>, id: i32) -> Result<Arc<Session>, ApiError> {
        let mut sessions = lock(&self.sessions);
        if let Some(at) = sessions.iter().position(|s| s.id == id) {
            let session = sessions.remove(at);
            sessions.push(session.clone());
            return Ok(session);
        }
        let stored =
            store::jobs::load(&mut *self.db.get()?, id)?.ok_or(ApiError::NotFound("job"))?;
        let history = History::replay(stored.edits, stored.head, self.as_ref())?;
        let session = Arc::new(Session::new(id, history, stored.floor));
        sessions.push(session.clone());
        while sessions.len() > KEPT_OPEN {
            let idle = sessions[..sessions.len() - 1]
                .iter()
                .position(|s| Arc::strong_count(s) == 1);
            match idle {
                Some(at) => drop(sessions.remove(at)),
                None => break,
            }
        }
        Ok(session)
    }

    /// Plans a job and returns when its bill is on the shelf.
    ///
    /// # Errors
    /// If there is no such job.
    pub fn plan_now(self: &Arc<Self>, id: i32) -> Result<(), ApiError> {
        self.session(id)?.plan_here(self);
        Ok(())
    }

    /// Takes a job off the shelf for good.
    pub(crate) fn delete(&self, id: i32) -> Result<(), ApiError> {
        let mut sessions = lock(&self.sessions);
        if !store::jobs::delete(&mut *self.db.get()?, id)? {
            return Err(ApiError::NotFound("job"));
        }
        if let Some(at) = sessions.iter().position(|s| s.id == id) {
            sessions.remove(at).stop();
        }
        Ok(())
    }

    /// Remembers an opened mesh for as long as a job holds it.
    pub(super) fn remember(&self, hash: &str, open: &Arc<OpenMesh>) {
        let mut meshes = lock(&self.meshes);
        meshes.retain(|_, m| m.strong_count() > 0);
        meshes.insert(hash.to_string(), Arc::downgrade(open));
    }

    /// What happens to any job from now on.
    pub(crate) fn events(&self) -> broadcast::Receiver<(i32, JobEvent)> {
        self.events.subscribe()
    }

    pub(super) fn tell(&self, id: i32, event: JobEvent) {
        // No receiver means no tab is open.
        let _ = self.events.send((id, event));
    }
}

impl Models for Workshop {
    fn open(&self, hash: &str) -> Result<Arc<OpenMesh>, Problem> {
        if let Some(open) = lock(&self.meshes).get(hash).and_then(Weak::upgrade) {
            return Ok(open);
        }
        let missing = |what: String| {
            Problem::new(
                "content-unknown",
                what,
                "content",
                "Open the model's file again.",
            )
        };
        let mut connection = self
            .db
            .get()
            .map_err(|e| missing(format!("The file cannot be read: {e}")))?;
        let bytes = store::jobs::content(&mut connection, hash)
            .map_err(|e| missing(format!("The file cannot be read: {e}")))?
            .ok_or_else(|| missing("The file of this model is not in the store".into()))?;
        let open = Arc::new(OpenMesh::from_bytes(&bytes)?);
        self.remember(hash, &open);
        Ok(open)
    }
}
