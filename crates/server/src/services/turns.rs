//! Whose turn it is when several jobs are planned at once: the newest edit first, and nobody stands still.

use super::workshop::lock;
use std::cell::Cell;
use std::collections::BTreeSet;
use std::sync::Mutex;
use std::sync::atomic::{AtomicU64, Ordering};
use std::time::{Duration, Instant};

/// All long works that are going on, by the order in which they began.
#[derive(Default)]
pub struct Turns {
    going_on: Mutex<BTreeSet<u64>>,
    next: AtomicU64,
}

/// One of them; it ends when this is dropped.
pub struct Turn<'a> {
    turns: &'a Turns,
    number: u64,
}

impl Turns {
    /// A work begins.
    pub fn begin(&self) -> Turn<'_> {
        let number = self.next.fetch_add(1, Ordering::Relaxed);
        lock(&self.going_on).insert(number);
        Turn {
            turns: self,
            number,
        }
    }
}

impl Turns {
    /// How many works go on.
    pub(crate) fn going_on(&self) -> usize {
        lock(&self.going_on).len()
    }
}

impl Turn<'_> {
    /// Whether no other work began after this one.
    pub fn is_newest(&self) -> bool {
        lock(&self.turns.going_on).last() == Some(&self.number)
    }

    /// Between two slices of a work, on whatever thread: while another began later, this one rests for four times as long as
    /// its slice took, so that the other gets most of the machine and this one goes on.
    pub fn slice_done(&self) {
        const REST: u32 = 4;
        const LONGEST: Duration = Duration::from_millis(200);
        thread_local! {
            static BEGAN: Cell<Option<Instant>> = const { Cell::new(None) };
        }
        let took = BEGAN.get().map_or(Duration::ZERO, |began| began.elapsed());
        if !self.is_newest() {
            std::thread::sleep((took * REST).min(LONGEST));
        }
        BEGAN.set(Some(Instant::now()));
    }
}

impl Drop for Turn<'_> {
    fn drop(&mut self) {
        lock(&self.turns.going_on).remove(&self.number);
    }
}
