//! Names for parts that an edit makes.

use crate::job::state::Job;
use std::collections::{HashMap, HashSet};

/// The names that parts have, and those given out since.
pub(super) struct Names {
    taken: HashSet<String>,
    /// The last number tried after each name.
    last: HashMap<String, u32>,
}

impl Names {
    pub(super) fn of(job: &Job) -> Names {
        let parts = job.models.iter().flat_map(|m| &m.parts);
        Names {
            taken: parts.map(|p| p.name.clone()).collect(),
            last: HashMap::new(),
        }
    }

    /// A name itself if no part has it, else with a number.
    pub(super) fn fresh(&mut self, name: &str) -> String {
        if self.taken.insert(name.to_string()) {
            return name.to_string();
        }
        self.numbered(name)
    }

    /// A name with the first number from 2 that no part has it with.
    pub(super) fn numbered(&mut self, name: &str) -> String {
        let number = self.last.entry(name.to_string()).or_insert(1);
        loop {
            *number += 1;
            let candidate = format!("{name} {number}");
            if self.taken.insert(candidate.clone()) {
                return candidate;
            }
        }
    }
}
