//! What is looked for in the background: one search of each kind per job, always for one revision.

use super::workshop::lock;
use crate::wire::SearchState;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};

/// One search: what it has found so far, and for which revision.
pub(super) struct Search<T> {
    revision: u32,
    /// What of the revision it is of, where that can differ.
    of: String,
    pub(super) state: SearchState,
    pub(super) done: f64,
    pub(super) found: Vec<T>,
    stop: Arc<AtomicBool>,
}

/// The searches of one kind, newest only.
pub(super) struct Searches<T>(Mutex<Option<Search<T>>>);

impl<T> Default for Searches<T> {
    fn default() -> Self {
        Searches(Mutex::new(None))
    }
}

impl<T> Searches<T> {
    /// Whether one has to be begun for something of a revision: there is none, or it was stopped and is wanted again.
    pub(super) fn wants(&self, revision: u32, of: &str, restart: bool) -> bool {
        lock(&self.0).as_ref().is_none_or(|s| {
            s.revision != revision || s.of != of || (restart && s.state == SearchState::Stopped)
        })
    }

    /// Begins one, from what is found already; an older one is told to stop. Returns its stop.
    pub(super) fn begin(&self, revision: u32, of: &str, found: Vec<T>) -> Arc<AtomicBool> {
        let stop: Arc<AtomicBool> = Arc::default();
        let new = Search {
            revision,
            of: of.to_string(),
            state: SearchState::Working,
            done: 0.0,
            found,
            stop: stop.clone(),
        };
        if let Some(old) = lock(&self.0).replace(new) {
            old.stop.store(true, Ordering::SeqCst);
        }
        stop
    }

    /// Changes the search that a stop belongs to, if it is still the one.
    pub(super) fn with(&self, stop: &Arc<AtomicBool>, f: impl FnOnce(&mut Search<T>)) {
        if let Some(search) = lock(&self.0)
            .as_mut()
            .filter(|s| Arc::ptr_eq(&s.stop, stop))
        {
            f(search);
        }
    }

    pub(super) fn stop(&self) {
        if let Some(search) = lock(&self.0).as_mut() {
            search.stop.store(true, Ordering::SeqCst);
            if search.state == SearchState::Working {
                search.state = SearchState::Stopped;
            }
        }
    }

    /// How far the search of a revision is, and what it has found; waiting for the plan if there is none.
    pub(super) fn seen<V>(
        &self,
        revision: u32,
        of: &str,
        view: impl FnOnce(SearchState, f64, &[T]) -> V,
    ) -> V {
        match lock(&self.0)
            .as_ref()
            .filter(|s| s.revision == revision && s.of == of)
        {
            Some(s) => view(s.state, s.done, &s.found),
            None => view(SearchState::Waiting, 0.0, &[]),
        }
    }
}
