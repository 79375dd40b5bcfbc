//! What a job is after its edits.

use crate::colour::Colour;
use crate::machine::Printer;
use crate::mesh::OpenMesh;
use std::sync::Arc;

/// Key of the region every part starts with.
pub const BASE_REGION: &str = "base";

/// Soak depth of a new region in mm: two walls of 0.4 mm (common practice, no source).
pub const DEFAULT_SOAK_MM: f64 = 0.8;

/// A colour region.
#[derive(Debug, Clone, PartialEq)]
pub struct Region {
    /// Lasting key.
    pub key: String,
    /// What the maker calls it.
    pub name: String,
    /// The colour wanted.
    pub colour: Colour,
    /// Slot from 1.
    pub slot: Option<u8>,
    /// How far the colour goes in, mm.
    pub soak_mm: f64,
    /// Deleted regions keep their number, so that labels need no renumbering.
    pub is_deleted: bool,
}

/// One part of a model, as the job sees it.
#[derive(Debug, Clone, PartialEq)]
pub struct JobPart {
    /// What the maker calls it.
    pub name: String,
    /// Number of its own region.
    pub own: u16,
}

/// One model of a job.
#[derive(Clone)]
pub struct JobModel {
    /// Unique name in the job.
    pub name: String,
    /// File it came from.
    pub file: String,
    /// Where its bytes are kept.
    pub content: String,
    /// The opened mesh.
    pub open: Arc<OpenMesh>,
    /// Its parts, in mesh order.
    pub parts: Vec<JobPart>,
    /// For each facet the number of the region that covers it; `None` is the part's own.
    pub facet_region: Vec<Option<u16>>,
}

/// A job: the fold of its edits.
#[derive(Clone)]
pub struct Job {
    /// Name on the shelf.
    pub name: String,
    /// Models, in the order they came.
    pub models: Vec<JobModel>,
    /// Regions by number, deleted ones included.
    pub regions: Vec<Region>,
    /// Spool id in each slot of the printer.
    pub slots: Vec<Option<String>>,
    /// The printer.
    pub printer: Printer,
}

impl Default for Job {
    fn default() -> Self {
        let printer = Printer::default();
        Job {
            name: String::new(),
            models: Vec::new(),
            regions: vec![Region {
                key: BASE_REGION.into(),
                name: "Plain".into(),
                colour: Colour([0xd8, 0xd6, 0xcf]),
                slot: Some(1),
                soak_mm: DEFAULT_SOAK_MM,
                is_deleted: false,
            }],
            slots: vec![None; printer.slots as usize],
            printer,
        }
    }
}

impl Job {
    /// Number of the region with this key, if it exists and is not deleted.
    pub fn region(&self, key: &str) -> Option<u16> {
        self.regions
            .iter()
            .position(|r| !r.is_deleted && r.key == key)
            .map(|i| i as u16)
    }

    /// Index of the model with this name.
    pub fn model(&self, name: &str) -> Option<usize> {
        self.models.iter().position(|m| m.name == name)
    }

    /// Regions that are not deleted, with their numbers.
    pub fn live_regions(&self) -> impl Iterator<Item = (u16, &Region)> {
        self.regions
            .iter()
            .enumerate()
            .filter(|(_, r)| !r.is_deleted)
            .map(|(i, r)| (i as u16, r))
    }

    /// Region number of a facet, its part's own where nothing covers it.
    pub fn region_of_facet(&self, model: usize, facet: u32) -> u16 {
        let m = &self.models[model];
        m.facet_region[facet as usize]
            .unwrap_or_else(|| m.parts[m.open.part_of[facet as usize] as usize].own)
    }
}
