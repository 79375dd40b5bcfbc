//! Long edits: how far one is, and its stop.

use super::states::OfJob;
use super::workshop::{Workshop, lock};
use crate::wire::JobEvent;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};
use varichrom_core::Problem;
use varichrom_core::drawing::{DrawingSource, Flat};
use varichrom_core::job::Models;
use varichrom_core::model::OpenMesh;

/// Time between two words on how far it is.
const PAUSE: Duration = Duration::from_millis(100);

/// The edit that is being applied to a job.
#[derive(Default)]
pub(super) struct Editing {
    is_stopped: AtomicBool,
    next_word: Mutex<Option<Instant>>,
}

impl Editing {
    /// An edit begins.
    pub(super) fn begin(&self) {
        self.is_stopped.store(false, Ordering::SeqCst);
        *lock(&self.next_word) = None;
    }

    /// Stops the edit that is being applied, if it can be stopped.
    pub(super) fn stop(&self) {
        self.is_stopped.store(true, Ordering::SeqCst);
    }

    /// Tells every tab how far the edit is; false if it is to stop.
    pub(super) fn go_on(&self, id: i32, workshop: &Workshop, done: f64) -> bool {
        let mut next = lock(&self.next_word);
        let now = Instant::now();
        if next.is_none_or(|at| at <= now) {
            *next = Some(now + PAUSE);
            workshop.tell(id, JobEvent::Editing { done });
        }
        !self.is_stopped.load(Ordering::SeqCst)
    }
}

/// The models of a workshop, for work that may be stopped.
pub(super) struct Watched<'a> {
    pub(super) models: OfJob<'a>,
    /// Told the finished share; false to stop.
    pub(super) go_on: &'a dyn Fn(f64) -> bool,
}

impl Models for Watched<'_> {
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem> {
        self.models.open(content)
    }

    fn bytes(&self, content: &str) -> Result<Arc<Vec<u8>>, Problem> {
        self.models.bytes(content)
    }

    fn drawing(&self, drawing: &DrawingSource) -> Result<Arc<Flat>, Problem> {
        self.models.drawing(drawing)
    }

    fn go_on(&self, done: f64) -> bool {
        (self.go_on)(done)
    }

    fn kept(&self, at: usize) -> Option<(usize, Vec<u8>)> {
        self.models.kept(at)
    }
}
