//! All jobs of one data folder: the shelf, the open sessions, the rack.

use super::editing::{Editing, Watched};
use super::laying::Flats;
use super::session::Session;
use super::staging::Staging;
use super::states::OfJob;
use super::turns::Turns;
use super::upkeep::{budget, resident};
use crate::error::ApiError;
pub(super) use crate::lock::lock;
use crate::store::{self, Db};
use crate::wire::{JobEvent, JobSummary};
use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, MutexGuard, Weak};
use std::time::{Duration, Instant};
use tokio::sync::broadcast;
use varichrom_core::Problem;
use varichrom_core::drawing::{DrawingSource, Flat, Read};
use varichrom_core::job::{History, Models};
use varichrom_core::model::OpenMesh;

/// Sessions kept open besides those in use where nobody can tell how much memory they take.
const KEPT_OPEN: usize = 3;

/// The jobs of one database, and what is open of them.
pub struct Workshop {
    pub(super) db: Db,
    /// Open jobs, the latest used last. Whoever opens one holds its door alone, not the house.
    sessions: Mutex<Vec<(i32, Arc<Door>)>>,
    /// Held as long as the workshop stands: one server a folder.
    _lock: std::fs::File,
    meshes: Mutex<HashMap<String, Weak<OpenMesh>>>,
    /// Held while a picture of a job is drawn.
    pub(super) drawing: Mutex<()>,
    events: broadcast::Sender<(i32, JobEvent)>,
    pub(super) staging: Staging,
    /// Its folder.
    data: PathBuf,
    /// When the copy of the day could not be made last: a disk that is full is not filled again and again.
    copy_failed: Mutex<Option<Instant>>,
    /// When it was opened.
    pub(super) since: Instant,
    /// Drawings that were laid lately.
    pub(super) flats: Flats,
    /// Surveys that are going on.
    pub(super) turns: Turns,
}

/// The way into one job.
#[derive(Default)]
struct Door {
    /// Nobody, or the session once it is open.
    inside: Mutex<Option<Arc<Session>>>,
    /// How far the opening is, and its stop.
    opening: Editing,
    /// When somebody went in last.
    used: Mutex<Option<Instant>>,
}

impl Door {
    /// Whether nobody uses what is inside at the moment.
    fn is_idle(self: &Arc<Self>) -> bool {
        let is_empty = |inside: MutexGuard<'_, Option<Arc<Session>>>| {
            inside.as_ref().is_none_or(|s| Arc::strong_count(s) == 1)
        };
        Arc::strong_count(self) == 1 && self.inside.try_lock().is_ok_and(is_empty)
    }
}

impl Workshop {
    /// Opens or makes the database in a folder.
    ///
    /// # Errors
    /// A sentence, if the folder or the file cannot be used.
    pub fn open(folder: &Path) -> Result<Arc<Workshop>, String> {
        std::fs::create_dir_all(folder)
            .map_err(|e| format!("the folder {} cannot be used: {e}", folder.display()))?;
        let held = hold(folder)?;
        let db = store::open(&folder.join("varichrom.sqlite"))?;
        let (events, _) = broadcast::channel(256);
        Ok(Arc::new(Workshop {
            db,
            sessions: Mutex::default(),
            _lock: held,
            meshes: Mutex::default(),
            drawing: Mutex::default(),
            events,
            staging: Staging::in_folder(folder)?,
            data: folder.to_path_buf(),
            copy_failed: Mutex::default(),
            since: Instant::now(),
            flats: Flats::default(),
            turns: Turns::default(),
        }))
    }

    /// Plans of all open jobs are made anew: what they print with has changed.
    pub(super) fn replan_all(self: &Arc<Self>) {
        for session in self.open_sessions() {
            session.replan(self);
        }
    }

    /// Sessions that are open; those that are being opened see what has changed by themselves.
    fn open_sessions(&self) -> Vec<Arc<Session>> {
        let doors: Vec<Arc<Door>> = lock(&self.sessions).iter().map(|d| d.1.clone()).collect();
        let open = |door: &Arc<Door>| door.inside.try_lock().ok().and_then(|d| d.clone());
        doors.iter().filter_map(open).collect()
    }

    /// The open session of a job; opens it if need be, while other jobs go on.
    pub(crate) fn session(self: &Arc<Self>, id: i32) -> Result<Arc<Session>, ApiError> {
        let door = {
            let mut sessions = lock(&self.sessions);
            let known = sessions.iter().position(|s| s.0 == id);
            let is_known = known.is_some();
            let door = match known {
                Some(at) => sessions.remove(at).1,
                None => Arc::default(),
            };
            *lock(&door.used) = Some(Instant::now());
            sessions.push((id, door.clone()));
            if !is_known {
                self.close_idle(&mut sessions);
            }
            door
        };
        let mut inside = lock(&door.inside);
        if let Some(session) = &*inside {
            return Ok(session.clone());
        }
        let opened = self.open_session(id, &door.opening);
        match &opened {
            Ok(session) => *inside = Some(session.clone()),
            Err(_) => lock(&self.sessions).retain(|s| !Arc::ptr_eq(&s.1, &door)),
        }
        opened
    }

    /// Stops the edit that is being applied to a job, or its opening; without either, nothing happens.
    pub(crate) fn stop_edit(&self, id: i32) {
        let door = lock(&self.sessions)
            .iter()
            .find(|s| s.0 == id)
            .map(|s| s.1.clone());
        let Some(door) = door else { return };
        match door.inside.try_lock() {
            Ok(inside) => {
                if let Some(session) = &*inside {
                    session.stop_edit();
                }
            }
            Err(_) => door.opening.stop(),
        }
    }

    fn open_session(
        self: &Arc<Self>,
        id: i32,
        opening: &Editing,
    ) -> Result<Arc<Session>, ApiError> {
        let stored = store::jobs::load(&mut *self.db.get()?, id).map_err(|e| match e {
            diesel::result::Error::DeserializationError(why) => newer(&why.to_string()).into(),
            other => ApiError::from(other),
        })?;
        let stored = stored.ok_or(ApiError::NotFound("job"))?;
        opening.begin();
        let models = Watched {
            models: OfJob { workshop: self, id },
            go_on: &|done| opening.go_on(id, self, done),
        };
        let history = History::replay(stored.edits, stored.head, &models)?;
        let session = Session::new(id, history, stored.floor, stored.revision);
        let session = Arc::new(session);
        session.keep_states(self, &lock(&session.history));
        Ok(session)
    }

    /// # Errors
    /// If there is no such job.
    pub(crate) fn check_known(&self, id: i32) -> Result<(), ApiError> {
        match store::jobs::exists(&mut *self.db.get()?, id)? {
            true => Ok(()),
            false => Err(ApiError::NotFound("job")),
        }
    }

    /// Closes jobs that nobody uses when there is no more memory for them.
    fn close_idle(&self, sessions: &mut Vec<(i32, Arc<Door>)>) {
        let is_over = |open: usize| match (resident(), budget()) {
            (Some(held), Some(budget)) => held > budget,
            _ => open > KEPT_OPEN,
        };
        while sessions.len() > 1 && is_over(sessions.len()) {
            let last = sessions.len() - 1;
            match sessions[..last].iter().position(|(_, door)| door.is_idle()) {
                Some(at) => drop(sessions.remove(at)),
                None => break,
            }
        }
    }

    /// Puts jobs aside that nobody used for so long; they are opened again when somebody does.
    pub(super) fn put_aside(&self, idle: Duration) {
        let mut sessions = lock(&self.sessions);
        let is_fresh = |door: &Door| lock(&door.used).is_some_and(|used| used.elapsed() < idle);
        sessions.retain(|(_, door)| is_fresh(door) || !door.is_idle());
        self.close_idle(&mut sessions);
    }

    /// How many jobs are open.
    pub(super) fn open_jobs(&self) -> usize {
        lock(&self.sessions).len()
    }

    /// Makes today's copy of the database, unless it is there.
    pub(super) fn daily_copy(&self) -> Result<(), String> {
        const AGAIN: Duration = Duration::from_secs(3600);
        let mut failed = lock(&self.copy_failed);
        if failed.is_some_and(|when| when.elapsed() < AGAIN) {
            return Ok(());
        }
        let day = time::OffsetDateTime::now_utc().date().to_string();
        let made = self
            .db
            .get()
            .map_err(|e| e.to_string())
            .and_then(|mut c| store::copies::daily(&mut c, &self.data, &day));
        *failed = made.is_err().then(Instant::now);
        made
    }

    /// Plans a job and returns when its bill is on the shelf.
    ///
    /// # Errors
    /// If there is no such job.
    pub fn plan_now(self: &Arc<Self>, id: i32) -> Result<(), ApiError> {
        self.session(id)?.plan_here(self);
        Ok(())
    }

    /// Closes a job that is no longer there.
    pub(super) fn close(&self, id: i32) {
        let door = {
            let mut sessions = lock(&self.sessions);
            let at = sessions.iter().position(|s| s.0 == id);
            at.map(|at| sessions.remove(at).1)
        };
        if let Some(session) = door.and_then(|door| lock(&door.inside).take()) {
            session.stop();
        }
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

    /// How many pages are told.
    pub(crate) fn listeners(&self) -> usize {
        self.events.receiver_count()
    }

    pub(super) fn tell(&self, id: i32, event: JobEvent) {
        // No receiver means no tab is open.
        let _ = self.events.send((id, event));
    }
}

/// Takes the folder for this server alone, as long as the file is open: the lock goes with the process, however it ends.
pub(super) fn hold(folder: &Path) -> Result<std::fs::File, String> {
    let path = folder.join("in-use.lock");
    let file = std::fs::OpenOptions::new()
        .create(true)
        .truncate(false)
        .write(true)
        .open(&path)
        .map_err(|e| format!("the folder {} cannot be used: {e}", folder.display()))?;
    match file.try_lock() {
        Ok(()) => Ok(file),
        Err(std::fs::TryLockError::WouldBlock) => Err(format!(
            "another Varichrom is using the folder {}: use that one, stop it first, or choose another folder with --data",
            folder.display()
        )),
        // Some network folders cannot lock; SQLite says the rest.
        Err(std::fs::TryLockError::Error(e)) => {
            tracing::warn!("the folder {} cannot be locked: {e}", folder.display());
            Ok(file)
        }
    }
}

/// The lines of the shelf. One that this version cannot read is there with the reason.
pub(super) fn shelf_of(lines: Vec<store::jobs::StoredLine>) -> Vec<JobSummary> {
    let read = |line: store::jobs::StoredLine| {
        let mut summary = match serde_json::from_str::<JobSummary>(&line.summary) {
            Ok(summary) => summary,
            Err(e) => JobSummary {
                trouble: Some(newer(&e.to_string()).message),
                ..JobSummary::default()
            },
        };
        summary.id = line.id;
        summary.name = line.name;
        summary.tags = serde_json::from_str(&line.tags).unwrap_or_default();
        summary.is_archived = line.is_archived;
        summary.runs = line.runs;
        summary.changed_s = line.changed_s;
        summary
    };
    lines.into_iter().map(read).collect()
}

/// What is said of a job that this version cannot read.
fn newer(why: &str) -> Problem {
    tracing::warn!("a job cannot be read: {why}");
    Problem::new(
        "job-newer",
        "This job was made by a newer version of Varichrom",
        "",
        "Open it with that version.",
    )
}

impl Workshop {
    /// A mesh that somebody has open.
    pub(super) fn remembered(&self, hash: &str) -> Option<Arc<OpenMesh>> {
        lock(&self.meshes).get(hash).and_then(Weak::upgrade)
    }

    /// A drawing laid flat, read from what `read` gives unless it was laid lately.
    pub(super) fn flat_from(
        &self,
        drawing: &DrawingSource,
        read: Read<'_>,
    ) -> Result<Arc<Flat>, Problem> {
        if let Some(flat) = self.flats.get(drawing) {
            return Ok(flat);
        }
        let flat = drawing.flat(read, &|_| true)?;
        Ok(self.flats.remember(drawing, Arc::new(flat)))
    }
}

impl Models for Workshop {
    fn open(&self, hash: &str) -> Result<Arc<OpenMesh>, Problem> {
        if let Some(open) = self.remembered(hash) {
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

    fn bytes(&self, hash: &str) -> Result<Arc<Vec<u8>>, Problem> {
        let missing =
            |what: String| Problem::new("content-unknown", what, "content", "Give the file again.");
        let stored = self
            .db
            .get()
            .map_err(|e| e.to_string())
            .and_then(|mut c| store::jobs::content(&mut c, hash).map_err(|e| e.to_string()));
        let bytes = stored.map_err(|e| missing(format!("The file cannot be read: {e}")))?;
        let bytes = bytes.ok_or_else(|| missing("The file is not in the store".into()))?;
        Ok(Arc::new(bytes))
    }

    fn drawing(&self, drawing: &DrawingSource) -> Result<Arc<Flat>, Problem> {
        self.flat_from(drawing, &|content| self.bytes(content))
    }
}
