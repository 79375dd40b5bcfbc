//! How many connections there are at a time, in all and from one address.

use crate::lock::lock;
use std::collections::HashMap;
use std::net::IpAddr;
use std::sync::{Arc, Mutex, MutexGuard};

/// Most connections from one address: fifty people behind one proxy with a few tabs each.
const MOST_FROM_ONE: usize = 400;
/// Most connections in all.
const MOST: usize = 2_000;
/// File handles that the server needs for itself: database, files on their way, printers that are asked.
const OWN_HANDLES: usize = 96;

/// The connections that are open.
#[derive(Clone)]
pub(super) struct Connections {
    by_address: Arc<Mutex<HashMap<IpAddr, usize>>>,
    most: usize,
}

/// The place of one connection; free again when dropped.
pub(super) struct Place {
    connections: Connections,
    peer: IpAddr,
}

impl Connections {
    pub(super) fn new() -> Connections {
        let handles = file_handles();
        Connections {
            by_address: Arc::default(),
            most: MOST.min(handles.saturating_sub(OWN_HANDLES).max(16)),
        }
    }

    fn held(&self) -> MutexGuard<'_, HashMap<IpAddr, usize>> {
        lock(&self.by_address)
    }

    /// A place for a connection, if there is room. One address never takes the last tenth.
    pub(super) fn place(&self, peer: IpAddr) -> Option<Place> {
        let mut all = self.held();
        let sum: usize = all.values().sum();
        let of_one = all.entry(peer).or_default();
        let is_full = sum >= self.most || *of_one >= MOST_FROM_ONE.min(self.most * 9 / 10);
        if !is_full {
            *of_one += 1;
            return Some(Place {
                connections: self.clone(),
                peer,
            });
        }
        if *of_one == 0 {
            all.remove(&peer);
        }
        None
    }
}

impl Place {
    pub(super) fn peer(&self) -> IpAddr {
        self.peer
    }
}

impl Drop for Place {
    fn drop(&mut self) {
        let mut all = self.connections.held();
        if let Some(count) = all.get_mut(&self.peer) {
            *count -= 1;
            if *count == 0 {
                all.remove(&self.peer);
            }
        }
    }
}

/// File handles this process may have, after asking for as many as it is allowed.
#[cfg(unix)]
fn file_handles() -> usize {
    use rustix::process::{Resource, Rlimit, getrlimit, setrlimit};
    let now = getrlimit(Resource::Nofile);
    let wanted = (MOST + OWN_HANDLES) as u64;
    let most = now.maximum.unwrap_or(wanted).min(wanted);
    let current = now.current.unwrap_or(wanted);
    let raised = Rlimit {
        current: Some(most),
        maximum: now.maximum,
    };
    match current < most && setrlimit(Resource::Nofile, raised).is_ok() {
        true => most as usize,
        false => current as usize,
    }
}

/// Where there is no such limit.
#[cfg(not(unix))]
fn file_handles() -> usize {
    MOST + OWN_HANDLES
}
