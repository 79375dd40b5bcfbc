//! The edits: everything that changes a job, by family. Each family has its own words, says where it is and what it touches; no
//! arm catches what is not named, so that a new edit does not compile before it has all of that and is obeyed.

mod give;
mod job;
mod load;
mod model;
mod part;
mod place;
mod plan;
mod region;
#[cfg(feature = "wire")]
mod schema;
mod slot;
mod wire;

pub use give::{AlikeTo, BandDepth, GiveEdit};
pub use job::JobEdit;
pub use load::LoadEdit;
pub use model::ModelEdit;
pub use part::{CutPlane, Depth, Fragments, PartEdit, Relief};
pub use place::{Axis, PlaceEdit, Placing, Target};
pub use plan::PlanEdit;
pub use region::RegionEdit;
pub use slot::SlotEdit;

use super::depth::SoakDepth;
use crate::is_default;
use crate::model::Place;
use serde::Serialize;

/// One change of a job. Surface is named by position, never by facet number, so edits replay on a revised mesh.
///
/// As JSON it is an object whose `edit` says what it is.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[serde(tag = "edit", rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS))]
pub enum Edit {
    /// Joins regions, slots and spools.
    Load(LoadEdit),
    /// Divides, joins, fills or lists parts.
    Part(PartEdit),
    /// Says how the job is planned.
    Plan(PlanEdit),
    /// Brings models in, changes or names them.
    #[serde(untagged)]
    Model(ModelEdit),
    /// Changes the list of regions, or gives them whole parts.
    #[serde(untagged)]
    Region(RegionEdit),
    /// Gives surface to a region.
    #[serde(untagged)]
    Give(GiveEdit),
    /// Moves, turns, scales or repeats what is printed.
    #[serde(untagged)]
    Place(PlaceEdit),
    /// Changes one slot, or the printer.
    #[serde(untagged)]
    Slot(SlotEdit),
    /// Changes the job itself, or its edits.
    #[serde(untagged)]
    Job(JobEdit),
}

/// What an edit changes of what the layers are divided by.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Touches {
    /// Nothing.
    Nothing,
    /// Which region has which surface.
    Surface,
    /// How deep regions go.
    Depths,
    /// Anything.
    Everything,
}

impl Touches {
    /// What several edits change together.
    fn all(edits: &[Edit]) -> Touches {
        let mut all = Touches::Nothing;
        for edit in edits {
            match edit.touches() {
                Touches::Nothing => {}
                other if all == Touches::Nothing || all == other => all = other,
                Touches::Surface | Touches::Depths | Touches::Everything => {
                    return Touches::Everything;
                }
            }
        }
        all
    }
}

impl Edit {
    /// Whether it is about the edits before it, which are all done again: another file of a model, other numbers of a step.
    pub(super) fn takes_all_before(&self) -> bool {
        matches!(
            self,
            Edit::Model(ModelEdit::ReviseModel { .. })
                | Edit::Job(JobEdit::ChangeEdit { .. } | JobEdit::LeaveOut { .. })
        )
    }

    /// Gives one band, as typed, to a region: on the part at a place or on all, of one region's surface or of all.
    pub fn band(
        region: &str,
        [low_mm, high_mm]: [f64; 2],
        at: Option<Place>,
        only: Option<&str>,
    ) -> Edit {
        Edit::Give(GiveEdit::GiveBand {
            region: region.into(),
            low_mm,
            high_mm,
            at,
            snap: false,
            count: 1,
            pitch_mm: 0.0,
            only: only.map(Into::into),
            depth: BandDepth::Skin,
        })
    }

    /// Lets a region's colour go in so far.
    pub fn soak(region: &str, depth: SoakDepth) -> Edit {
        let (soak_mm, layers) = match depth {
            SoakDepth::Mm { mm } => (Some(mm), None),
            SoakDepth::Layers { layers } => (None, Some(layers)),
            SoakDepth::Through => (None, None),
        };
        Edit::Region(RegionEdit::SetSoak {
            region: region.into(),
            soak_mm,
            layers,
            through: depth.is_through(),
        })
    }

    /// What its JSON calls it, with what that calls the kind within, if it has one.
    pub(super) fn kind(&self) -> (&'static str, &'static str) {
        match self {
            Edit::Load(edit) => ("load", edit.into()),
            Edit::Part(edit) => ("part", edit.into()),
            Edit::Plan(edit) => ("plan", edit.into()),
            Edit::Model(edit) => (edit.into(), ""),
            Edit::Region(edit) => (edit.into(), ""),
            Edit::Give(edit) => (edit.into(), ""),
            Edit::Place(edit) => (edit.into(), ""),
            Edit::Slot(edit) => (edit.into(), ""),
            Edit::Job(edit) => (edit.into(), ""),
        }
    }

    /// What it does, in plain words. `name_of` gives what the maker calls a region of some key.
    pub fn in_words(&self, name_of: &dyn Fn(&str) -> String) -> String {
        match self {
            Edit::Load(edit) => edit.in_words(name_of),
            Edit::Part(edit) => edit.in_words(name_of),
            Edit::Plan(edit) => edit.in_words(name_of),
            Edit::Model(edit) => edit.in_words(),
            Edit::Region(edit) => edit.in_words(name_of),
            Edit::Give(edit) => edit.in_words(name_of),
            Edit::Place(edit) => edit.in_words(),
            Edit::Slot(edit) => edit.in_words(name_of),
            Edit::Job(edit) => edit.in_words(name_of),
        }
    }

    /// The place it names, if it names one.
    pub fn place(&self) -> Option<&Place> {
        match self {
            Edit::Part(edit) => edit.place(),
            Edit::Model(edit) => edit.place(),
            Edit::Region(edit) => edit.place(),
            Edit::Give(edit) => edit.place(),
            Edit::Place(edit) => edit.place(),
            Edit::Job(JobEdit::Several { edits, .. }) => edits.iter().find_map(Edit::place),
            Edit::Load(_) | Edit::Plan(_) | Edit::Slot(_) => None,
            Edit::Job(
                JobEdit::RenameJob { .. } | JobEdit::ChangeEdit { .. } | JobEdit::LeaveOut { .. },
            ) => None,
        }
    }

    /// A point of where it was done, mm, if it was done somewhere.
    pub fn point(&self) -> Option<[f64; 3]> {
        if let Edit::Give(GiveEdit::GiveStroke { stroke, .. }) = self {
            return stroke.path.first().copied();
        }
        self.place().map(|place| place.point)
    }

    /// What it changes of what the layers are divided by.
    pub(super) fn touches(&self) -> Touches {
        match self {
            Edit::Load(edit) => edit.touches(),
            Edit::Part(edit) => edit.touches(),
            Edit::Plan(edit) => edit.touches(),
            Edit::Model(edit) => edit.touches(),
            Edit::Region(edit) => edit.touches(),
            Edit::Give(edit) => edit.touches(),
            Edit::Place(edit) => edit.touches(),
            Edit::Slot(edit) => edit.touches(),
            Edit::Job(JobEdit::RenameJob { .. }) => Touches::Nothing,
            Edit::Job(JobEdit::Several { edits, .. }) => Touches::all(edits),
            Edit::Job(JobEdit::ChangeEdit { .. } | JobEdit::LeaveOut { .. }) => Touches::Everything,
        }
    }

    /// Whether it does no more than colour surface.
    pub fn is_colouring(&self) -> bool {
        self.touches() == Touches::Surface
    }

    /// Whether what it overwrites are whole meshes or all labels, not labels of single facets.
    pub(super) fn makes_anew(&self) -> bool {
        match self {
            Edit::Model(edit) => edit.makes_anew(),
            Edit::Part(edit) => edit.makes_bodies(),
            Edit::Region(edit) => matches!(edit, RegionEdit::ClearColours {}),
            Edit::Load(_) | Edit::Plan(_) | Edit::Give(_) => false,
            Edit::Place(_) | Edit::Slot(_) | Edit::Job(_) => false,
        }
    }

    /// Whether it may be one of several edits.
    pub(super) fn goes_with_others(&self) -> bool {
        match self {
            Edit::Model(edit) => edit.goes_with_others(),
            Edit::Job(edit) => matches!(edit, JobEdit::RenameJob { .. }),
            Edit::Load(_) | Edit::Part(_) | Edit::Plan(_) | Edit::Region(_) => true,
            Edit::Give(_) | Edit::Place(_) | Edit::Slot(_) => true,
        }
    }

    /// Content names of the files that it opens.
    pub fn contents(&self) -> Vec<&str> {
        match self {
            Edit::Model(edit) => edit.content().into_iter().collect(),
            Edit::Job(JobEdit::Several { edits, .. }) => {
                edits.iter().flat_map(Edit::contents).collect()
            }
            Edit::Job(JobEdit::ChangeEdit { to, .. }) => to.contents(),
            Edit::Job(JobEdit::RenameJob { .. } | JobEdit::LeaveOut { .. }) => Vec::new(),
            Edit::Load(_) | Edit::Plan(_) | Edit::Region(_) => Vec::new(),
            Edit::Give(edit) => edit.contents(),
            Edit::Part(edit) => edit.contents(),
            Edit::Place(_) | Edit::Slot(_) => Vec::new(),
        }
    }

    /// Ids of the spools it puts in.
    pub fn spools(&self) -> Vec<&str> {
        match self {
            Edit::Slot(edit) => edit.spool().into_iter().collect(),
            Edit::Load(edit) => edit.spools(),
            Edit::Job(JobEdit::Several { edits, .. }) => {
                edits.iter().flat_map(Edit::spools).collect()
            }
            Edit::Job(JobEdit::ChangeEdit { to, .. }) => to.spools(),
            Edit::Job(JobEdit::RenameJob { .. } | JobEdit::LeaveOut { .. }) => Vec::new(),
            Edit::Part(_) | Edit::Plan(_) | Edit::Model(_) | Edit::Region(_) => Vec::new(),
            Edit::Give(_) | Edit::Place(_) => Vec::new(),
        }
    }
}
