//! Locks that outlive a panic.

use std::sync::{Mutex, MutexGuard, PoisonError};

/// The data behind a lock, even after a panic elsewhere: every holder leaves it whole.
pub(crate) fn lock<T>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}
