//! What a job is after its edits.

use super::depth::SoakDepth;
use super::spans::PartSpan;
use super::unit::LengthUnit;
use crate::Problem;
use crate::carve::Labels;
use crate::colour::Colour;
use crate::geometry::{Affine, Bounds};
use crate::machine::{BaseMaterial, Printer};
use crate::model::OpenMesh;
use crate::rules::{Copies, PlanRules};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use std::sync::Arc;

/// Key of the region every part starts with.
pub const BASE_REGION: &str = "base";

/// Stands for no region at all: surface given to it goes back to each part's own region.
pub const OWN_REGION: &str = "own";

/// A colour region.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Region {
    /// Lasting key.
    pub key: String,
    /// What the maker calls it.
    pub name: String,
    /// The colour wanted.
    pub colour: Colour,
    /// Slot from 1.
    pub slot: Option<u8>,
    /// Whether the program proposed the slot and nobody has confirmed it.
    pub is_proposed: bool,
    /// How much it hides of what lies behind it, 0 to 1, as the file says that it came with.
    pub opacity: f64,
    /// How far the colour goes in.
    pub depth: SoakDepth,
    /// Whether no tool takes surface from it.
    pub is_protected: bool,
    /// Deleted regions keep their number, so that labels need no renumbering.
    pub is_deleted: bool,
}

/// One part of a model, as the job sees it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct JobPart {
    /// What the maker calls it.
    pub name: String,
    /// Number of its own region.
    pub own: u16,
    /// From the file's place and size to where it stands now.
    pub map: Affine,
    /// Number by which the list of parts knows it, lasting and unique in the job; 0 before it has one.
    pub key: u32,
    /// Key of the group it is listed in.
    pub group: Option<String>,
    /// Heights whose inside belongs to another region, ascending and apart from each other.
    pub spans: Vec<PartSpan>,
    /// Whether nothing recolours, moves or cuts it.
    pub is_locked: bool,
    /// Whether it is printed at all.
    pub is_printed: bool,
    /// Slots from whose passes it is left out, ascending.
    pub skipped_passes: Vec<u8>,
    /// What it is made of on a jetting machine: the name of a base material; the usual one without.
    #[serde(default)]
    pub made_of: Option<String>,
    /// How much of what lies behind it hides on a jetting machine, 0 clear to 1 solid.
    #[serde(default = "solid")]
    pub opacity: f64,
    /// Keys of the parts that teeth hold it to.
    #[serde(default)]
    pub held_to: BTreeSet<u32>,
}

/// Hides all of what lies behind it.
pub(super) fn solid() -> f64 {
    1.0
}

impl JobPart {
    /// Whether teeth hold it to another part: both remember that, and one that was cut since remembers nothing.
    pub(crate) fn is_held_to(&self, other: &JobPart) -> bool {
        self.held_to.contains(&other.key) && other.held_to.contains(&self.key)
    }

    /// A part as it is when its file is opened.
    pub(super) fn new(name: String) -> JobPart {
        JobPart {
            name,
            own: 0,
            map: Affine::IDENTITY,
            key: 0,
            group: None,
            spans: Vec::new(),
            is_locked: false,
            is_printed: true,
            skipped_passes: Vec::new(),
            made_of: None,
            opacity: 1.0,
            held_to: BTreeSet::new(),
        }
    }
}

/// A group in the list of parts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PartGroup {
    /// Lasting key.
    pub key: String,
    /// What the maker calls it.
    pub name: String,
    /// Key of the group it lies in.
    pub inside: Option<String>,
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
    /// The mesh as the file has it, mended.
    pub base: Arc<OpenMesh>,
    /// The mesh as it stands now.
    pub open: Arc<OpenMesh>,
    /// Length that one unit of the file is taken for.
    pub unit: LengthUnit,
    /// Into how many colours its blended ones were brought together, if the file's colours were kept.
    pub colours_kept: Option<u8>,
    /// Its parts, in mesh order.
    pub parts: Vec<JobPart>,
    /// The region that covers each facet, or several on one; no label is the part's own.
    pub labels: Labels,
}

impl JobModel {
    /// The mesh with its parts at other places; the base itself if nothing moves.
    pub(super) fn mesh_placed(&self, maps: &[Affine]) -> Arc<OpenMesh> {
        if maps.iter().all(|m| *m == Affine::IDENTITY) {
            return self.base.clone();
        }
        Arc::new(self.base.placed(maps))
    }

    pub(super) fn maps(&self) -> Vec<Affine> {
        self.parts.iter().map(|p| p.map).collect()
    }
}

/// An edit that no longer found its place when a model was replaced.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct LostEdit {
    /// Which edit of the job, from 1.
    pub number: u32,
    /// What it was, in plain words.
    pub what: String,
    /// Where it was, in mm; none for an edit without a place.
    pub at: Option<[f64; 3]>,
    /// Why it is lost.
    pub why: Problem,
}

impl PartialEq for JobModel {
    /// The same in all that an edit can change, meshes by their facets.
    fn eq(&self, other: &JobModel) -> bool {
        let same = |a: &Arc<OpenMesh>, b: &Arc<OpenMesh>| {
            Arc::ptr_eq(a, b) || (a.mesh == b.mesh && a.part_of == b.part_of)
        };
        let JobModel {
            name,
            file,
            content,
            base,
            open,
            unit,
            colours_kept,
            parts,
            labels,
        } = self;
        *name == other.name
            && *file == other.file
            && *content == other.content
            && *unit == other.unit
            && *colours_kept == other.colours_kept
            && *parts == other.parts
            && *labels == other.labels
            && same(base, &other.base)
            && same(open, &other.open)
    }
}

/// What one region has of a job's surface.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Tally {
    /// Facets, wholly or in part.
    pub facets: usize,
    /// Area, mm².
    pub area_mm2: f64,
}

/// A job: the fold of its edits. What is written of it leaves its models out; see [`Job::kept`].
#[derive(Clone, PartialEq, Serialize, Deserialize)]
pub struct Job {
    /// Name on the shelf.
    pub name: String,
    /// Models, in the order they came.
    #[serde(skip)]
    pub models: Vec<JobModel>,
    /// Keys of all parts in the order of the list: where two overlap, the one higher up wins.
    pub order: Vec<u32>,
    /// Groups in the list of parts.
    pub groups: Vec<PartGroup>,
    /// The highest key a part has had.
    pub last_part: u32,
    /// Regions by number, deleted ones included.
    pub regions: Vec<Region>,
    /// Spool id in each slot of the printer.
    pub slots: Vec<Option<String>>,
    /// Spool id in each feed of a mixing nozzle; none for other printers.
    pub feeds: Vec<Option<String>>,
    /// Shares of the feeds for each slot of a mixing nozzle, where they were set.
    pub mixtures: Vec<Option<Vec<f64>>>,
    /// For each spool's slot or feed its place in the machine, from 1.
    pub places: Vec<u8>,
    /// The printer.
    pub printer: Printer,
    /// How it is planned.
    pub rules: PlanRules,
    /// How many pieces are printed at once.
    pub copies: Copies,
    /// Edits that the last replacement of a model lost.
    pub lost: Vec<LostEdit>,
}

impl Default for Job {
    fn default() -> Self {
        let printer = Printer::default();
        Job {
            name: String::new(),
            models: Vec::new(),
            order: Vec::new(),
            groups: Vec::new(),
            last_part: 0,
            regions: vec![Region {
                key: BASE_REGION.into(),
                name: "Plain".into(),
                colour: Colour([0xd8, 0xd6, 0xcf]),
                slot: Some(1),
                is_proposed: false,
                depth: SoakDepth::default(),
                is_protected: false,
                opacity: 1.0,
                is_deleted: false,
            }],
            slots: vec![None; printer.slots as usize],
            feeds: Vec::new(),
            mixtures: vec![None; printer.slots as usize],
            places: (1..=printer.slots).collect(),
            printer,
            rules: PlanRules::default(),
            copies: Copies {
                across: 1,
                along: 1,
                spacing_mm: 5.0,
            },
            lost: Vec::new(),
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

    /// The box around everything, one copy, in mm.
    pub fn bounds(&self) -> Bounds {
        let mut all = Bounds::EMPTY;
        for part in self.models.iter().flat_map(|m| &m.open.parts) {
            all.join(&part.measures.bounds);
        }
        all
    }

    /// Regions that are not deleted, with their numbers.
    pub fn live_regions(&self) -> impl Iterator<Item = (u16, &Region)> {
        self.regions
            .iter()
            .enumerate()
            .filter(|(_, r)| !r.is_deleted)
            .map(|(i, r)| (i as u16, r))
    }

    /// Slot, from 1, that a region prints from: its own, or the first region's if it has none. On a jetting machine all print together.
    pub fn slot_of(&self, region: u16) -> u8 {
        if self.printer.profile().jets {
            return 1;
        }
        let own = self.regions[region as usize].slot;
        own.or(self.regions[0].slot).unwrap_or(1)
    }

    /// What a part is made of on a jetting machine: a base material of the printer; none if it has none of that name.
    pub fn made_of(&self, part: &JobPart) -> Option<&BaseMaterial> {
        let all = &self.printer.materials;
        match &part.made_of {
            Some(name) => all.iter().find(|m| m.name == *name),
            None => all.first(),
        }
    }

    /// What the maker calls a region; its key if there is none.
    pub fn name_of(&self, region: &str) -> String {
        let number = self.region(region);
        number.map_or(region.to_string(), |n| {
            self.regions[n as usize].name.clone()
        })
    }

    /// What each region has of the surface of all models, by region number.
    ///
    /// # Cost
    /// Linear in facets, on all threads; the sums do not depend on how many there are.
    pub fn region_tallies(&self) -> Vec<Tally> {
        self.region_tallies_where(|_, _| true)
    }

    /// As [`Job::region_tallies`], over the facets of a model that count.
    pub(crate) fn region_tallies_where(
        &self,
        counts: impl Fn(usize, u32) -> bool + Sync,
    ) -> Vec<Tally> {
        const CHUNK: u32 = 1 << 16;
        let none = || vec![Tally::default(); self.regions.len()];
        let mut sums = none();
        for (index, model) in self.models.iter().enumerate() {
            let areas = model.open.facet_areas();
            let part_of = &model.open.part_of;
            let count = model.labels.len() as u32;
            let tallied = |chunk: u32| {
                let mut tallies = none();
                // The facet that each region counted last: several triangles of one count once.
                let mut last = vec![u32::MAX; tallies.len()];
                let facets = chunk * CHUNK..count.min((chunk + 1) * CHUNK);
                model.labels.each_of(facets, |facet, share, label| {
                    if !counts(index, facet) {
                        return;
                    }
                    let own = || model.parts[part_of[facet as usize] as usize].own;
                    let region = label.unwrap_or_else(own) as usize;
                    tallies[region].facets += usize::from(last[region] != facet);
                    tallies[region].area_mm2 += share * areas[facet as usize];
                    last[region] = facet;
                });
                tallies
            };
            let chunks: Vec<Vec<Tally>> = (0..count.div_ceil(CHUNK))
                .into_par_iter()
                .map(tallied)
                .collect();
            for chunk in chunks {
                for (sum, tally) in sums.iter_mut().zip(chunk) {
                    sum.facets += tally.facets;
                    sum.area_mm2 += tally.area_mm2;
                }
            }
        }
        sums
    }

    /// Area of each region's surface on all models, in mm², by region number; see [`Job::region_tallies`].
    pub fn region_areas(&self) -> Vec<f64> {
        self.region_tallies().iter().map(|t| t.area_mm2).collect()
    }

    /// The region that covers most of a facet.
    pub fn region_of_facet(&self, model: usize, facet: u32) -> u16 {
        let labels = &self.models[model].labels;
        let label = match labels.division(facet) {
            Some(divided) => divided.main_label(),
            None => labels.whole(facet).flatten(),
        };
        self.region_of_label(model, facet, label)
    }
}
