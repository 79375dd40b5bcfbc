//! What is to be planned, told without the job that it comes from.

use super::filament::Filament;
use crate::geometry::Bounds;
use crate::machine::Printer;
use crate::rules::{Copies, PlanRules};

/// What is to be planned, besides the layers.
#[derive(Debug, Clone, PartialEq)]
pub struct Task {
    /// By number, as the layers have them.
    pub regions: Vec<TaskRegion>,
    /// What each slot prints with, from slot 1 up.
    pub filaments: Vec<Filament>,
    /// The printer.
    pub printer: Printer,
    /// What is asked of the plan.
    pub rules: PlanRules,
    /// Pieces printed at once.
    pub pieces: Copies,
    /// The box around one piece, mm, where the layers have it; empty if nothing is printed.
    pub footprint: Bounds,
}

/// A region as a plan sees it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct TaskRegion {
    /// Lasting key.
    pub key: String,
    /// What the maker calls it.
    pub name: String,
    /// Slot that it prints from, from 1.
    pub slot: u8,
    /// Whether it is there; deleted ones keep their number.
    pub is_live: bool,
}

impl Task {
    /// Regions that are there, with their numbers.
    pub(crate) fn live_regions(&self) -> impl Iterator<Item = (u16, &TaskRegion)> {
        let all = self.regions.iter().enumerate().filter(|(_, r)| r.is_live);
        all.map(|(n, r)| (n as u16, r))
    }

    /// Number of the region with a key.
    pub(crate) fn region(&self, key: &str) -> Option<u16> {
        let at = self.regions.iter().position(|r| r.is_live && r.key == key);
        at.map(|n| n as u16)
    }

    /// What the maker calls a region; its key if there is none.
    pub(crate) fn name_of(&self, key: &str) -> String {
        let number = self.region(key);
        number.map_or_else(|| key.into(), |n| self.regions[n as usize].name.clone())
    }
}
