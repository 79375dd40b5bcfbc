//! What a server does by itself from time to time: puts aside what nobody uses, forgets what nobody took, and keeps a copy.

use super::workshop::Workshop;
use std::sync::Arc;
use std::time::Duration;

/// Jobs that nobody used for so long are put aside.
const IDLE: Duration = Duration::from_secs(600);
/// Files on their way in are forgotten after so long.
const WAITED: Duration = Duration::from_secs(3600);
/// Time between two rounds.
const ROUND: Duration = Duration::from_secs(20);

/// A line of `/proc` that says KiB, as bytes; none where there is no such file or line.
fn kib(file: &str, key: &str) -> Option<u64> {
    let text = std::fs::read_to_string(file).ok()?;
    let line = text.lines().find_map(|l| l.strip_prefix(key))?;
    let kib: u64 = line.split_whitespace().next()?.parse().ok()?;
    Some(kib * 1024)
}

/// Memory that this process holds at the moment, bytes; none where it cannot be told.
pub(super) fn resident() -> Option<u64> {
    kib("/proc/self/status", "VmRSS:")
}

/// Memory that jobs may take before those that nobody uses are put aside: half of what the machine has.
pub(super) fn budget() -> Option<u64> {
    kib("/proc/meminfo", "MemTotal:").map(|all| all / 2)
}

impl Workshop {
    /// One round.
    fn keep_up(&self) {
        self.put_aside(IDLE);
        self.forget_staged(WAITED);
        if let Err(e) = self.empty_bin() {
            tracing::warn!("the bin could not be emptied: {e}");
        }
        if let Err(e) = self.daily_copy() {
            tracing::warn!("no copy of today could be made: {e}");
        }
    }

    /// Rounds for as long as the workshop stands.
    pub(crate) async fn upkeep(self: Arc<Self>) {
        loop {
            let workshop = self.clone();
            // A round that fails is made up for by the next.
            let _ = tokio::task::spawn_blocking(move || workshop.keep_up()).await;
            tokio::time::sleep(ROUND).await;
        }
    }
}
