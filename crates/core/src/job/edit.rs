//! The edits: everything that changes a job.

use super::loading::LoadEdit;
use super::parts::PartEdit;
use super::placing::{Placing, Target};
use super::plan_edit::PlanEdit;
use super::unit::LengthUnit;
use crate::colour::Colour;
use crate::machine::Printer;
use crate::model::{Mending, Place};
use crate::regions::{Reach, Sight, Stroke, Within};
use serde::{Deserialize, Serialize};

/// What Alike looks for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub enum AlikeTo {
    /// Copies of the part, turned or mirrored ones too.
    Parts,
    /// Patches of the same make.
    Patches,
}

fn is_default<T: Default + PartialEq>(value: &T) -> bool {
    *value == T::default()
}

fn one() -> u32 {
    1
}

fn is_one(count: &u32) -> bool {
    *count == 1
}

/// One change of a job. Surface is named by position, never by facet number, so edits replay on a revised mesh.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "edit", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub enum Edit {
    /// Brings a model in.
    OpenModel {
        /// Name of the model in this job, unique.
        model: String,
        /// File it came from.
        file: String,
        /// Where its bytes are kept: a content hash in the store, or a file beside a recipe.
        content: String,
    },
    /// Makes regions of the colours that a model's file brings. Done again, it starts from the file anew.
    KeepColours {
        /// Which model.
        model: String,
        /// Into how many colours those that vary over facets are brought together, 1 to 16.
        most: u8,
    },
    /// Takes a model out of the job.
    RemoveModel {
        /// Which.
        model: String,
    },
    /// Gives a model another name.
    RenameModel {
        /// Which.
        model: String,
        /// The new name, unique.
        name: String,
    },
    /// Replaces a model by a new version of it: everything before is done again on the new one.
    ReviseModel {
        /// Which.
        model: String,
        /// File of the new version.
        file: String,
        /// Where its bytes are kept.
        content: String,
    },
    /// Says what a file's unit stands for; the models are scaled about the origin.
    SetUnits {
        /// Which model; left out, all of them.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        model: Option<String>,
        /// The unit.
        unit: LengthUnit,
    },
    /// Moves, turns, scales or mirrors models or parts.
    Place {
        /// What is placed.
        target: Target,
        /// How.
        placing: Placing,
    },
    /// Stands the models side by side on the bed, in rows from left to right and from front to back, in place of their
    /// shared coordinates.
    SetApart {
        /// Gap between two, mm.
        spacing_mm: f64,
    },
    /// Mends a model.
    Mend {
        /// Which.
        model: String,
        /// What to mend.
        mending: Mending,
    },
    /// Prints several pieces of everything, in a grid.
    SetCopies {
        /// From left to right.
        across: u32,
        /// From front to back.
        along: u32,
        /// Gap between two, mm.
        spacing_mm: f64,
    },
    /// Prints as many pieces as the bed holds.
    FillBed {
        /// Gap between two, mm.
        spacing_mm: f64,
    },
    /// Renames the job.
    RenameJob {
        /// The new name.
        name: String,
    },
    /// Renames the part at a place.
    RenamePart {
        /// Anywhere on the part.
        at: Place,
        /// The new name.
        name: String,
    },
    /// Adds a colour region.
    AddRegion {
        /// Key by which other edits name it, unique and lasting.
        region: String,
        /// What the maker calls it.
        name: String,
        /// The colour wanted.
        colour: Colour,
        /// Slot it prints from, counted from 1. Left out: the first slot no region uses, if there is one.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        slot: Option<u8>,
    },
    /// Renames a region.
    RenameRegion {
        /// Which.
        region: String,
        /// The new name.
        name: String,
    },
    /// Changes the colour wanted for a region.
    RecolourRegion {
        /// Which.
        region: String,
        /// The new colour.
        colour: Colour,
    },
    /// Deletes a region; its surface goes back to each part's own region.
    DeleteRegion {
        /// Which.
        region: String,
    },
    /// Sets how far a region's colour goes in below the surface.
    SetSoak {
        /// Which.
        region: String,
        /// Depth in mm.
        soak_mm: f64,
    },
    /// Gives a region a slot, or takes it away.
    AssignSlot {
        /// Which.
        region: String,
        /// Slot from 1, or none.
        slot: Option<u8>,
    },
    /// Puts a spool of the rack into a slot, or empties it.
    LoadSlot {
        /// Slot from 1.
        slot: u8,
        /// The spool's id, or none.
        spool: Option<String>,
    },
    /// Gives the patch at a place to a region. In this and all edits that give surface away, the region `own` stands for
    /// taking it back to each part's own.
    GivePatch {
        /// Which region.
        region: String,
        /// Anywhere on the patch.
        at: Place,
        /// Crease angle in degrees, 1 to 90.
        crease_deg: f64,
        /// How far it may go.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<Within>"))]
        within: Within,
        /// Furthest turn from the facet at the place, degrees.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        turn_deg: Option<f64>,
    },
    /// Gives a raised or sunken face with its walls to a region.
    GiveRelief {
        /// Which region.
        region: String,
        /// Anywhere on the face.
        at: Place,
        /// Crease angle in degrees, 1 to 90.
        crease_deg: f64,
        /// Also every other relief of the part at the same height.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        all: bool,
    },
    /// Gives what a stroke passes over to a region.
    GiveStroke {
        /// Which region.
        region: String,
        /// Only what is seen, or everything inside.
        reach: Reach,
        /// The stroke.
        stroke: Stroke,
    },
    /// Gives single facets to a region.
    GiveFacets {
        /// Which region.
        region: String,
        /// A place on each.
        at: Vec<Place>,
        /// Whether a flat face of many facets counts as one.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        flat: bool,
    },
    /// Gives everything between two heights to a region.
    GiveBand {
        /// Which region.
        region: String,
        /// One height above the bed, mm.
        low_mm: f64,
        /// The other.
        high_mm: f64,
        /// A place on the part it is kept to; left out, all parts.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        at: Option<Place>,
        /// Whether both heights move to the nearest border between layers.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        snap: bool,
        /// How many bands, one above the other; 1 if left out.
        #[serde(default = "one", skip_serializing_if = "is_one")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<u32>"))]
        count: u32,
        /// From one band to the next, mm.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<f64>"))]
        pitch_mm: f64,
        /// Key of the region whose surface alone is given; left out, all surface.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        only: Option<String>,
    },
    /// Gives what lies inside an outline on the screen to a region.
    GiveLasso {
        /// Which region.
        region: String,
        /// Corners of the outline as seen from the eye: how far to the right and up for each mm forward.
        outline: Vec<[f64; 2]>,
        /// From where it was drawn.
        sight: Sight,
        /// Whether it goes right through, or takes only what is seen.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        through: bool,
    },
    /// Repeats a choice on what is alike.
    GiveAlike {
        /// Which region.
        region: String,
        /// On the part whose share of the region is repeated on its copies, or on the patch whose likes are given.
        at: Place,
        /// What is alike.
        to: AlikeTo,
        /// Crease angle of patches in degrees, 1 to 90.
        crease_deg: f64,
    },
    /// Moves a region's edge outward over its neighbours, or inward by a negative distance.
    GrowRegion {
        /// Which.
        region: String,
        /// How far, mm.
        by_mm: f64,
    },
    /// Smooths a region's edge: notches and teeth narrower than twice the distance go.
    SmoothRegion {
        /// Which.
        region: String,
        /// Distance, mm.
        by_mm: f64,
    },
    /// Exchanges a region's surface with that of the first region, which has whatever no other was given.
    InvertRegion {
        /// Which.
        region: String,
    },
    /// Gives all surface of the first region, which is whatever no other was given, to one.
    GiveRest {
        /// Which region.
        region: String,
    },
    /// Takes all surface and all parts back to the first region.
    ClearColours {},
    /// Protects a region: no tool takes surface from it.
    ProtectRegion {
        /// Which.
        region: String,
        /// Whether it is protected from now on.
        is_protected: bool,
    },
    /// Gives the spot at a place to the region it has the longest border with.
    GiveStray {
        /// Anywhere on the spot.
        at: Place,
    },
    /// Gives all small spots to the regions they have the longest border with.
    GiveStrays {
        /// Those smaller than this, mm².
        smaller_mm2: f64,
        /// And those narrower than this, mm.
        narrower_mm: f64,
    },
    /// Puts other numbers into an earlier edit: everything is done again with it.
    ChangeEdit {
        /// Which edit of the job, from 1.
        number: u32,
        /// What it is from now on; of the same kind.
        #[cfg_attr(feature = "wire", schema(no_recursion))]
        to: Box<Edit>,
    },
    /// Gives the whole part at a place to a region, which becomes the part's own.
    GivePart {
        /// Which region.
        region: String,
        /// Anywhere on the part.
        at: Place,
    },
    /// Joins regions, slots and spools.
    Load(LoadEdit),
    /// Divides, joins, fills or lists parts.
    Part(PartEdit),
    /// Says how the job is planned.
    Plan(PlanEdit),
    /// Several edits that are one step: done together, undone together, all or none.
    Several {
        /// What they do together, in plain words.
        what: String,
        /// The edits, in order. Models are opened, renamed and taken out by edits of their own.
        #[cfg_attr(feature = "wire", schema(no_recursion))]
        edits: Vec<Edit>,
    },
    /// Chooses or changes the printer.
    SetPrinter {
        /// The printer with its settings.
        printer: Printer,
    },
}

impl Edit {
    /// Gives one band, as typed, to a region: on the part at a place or on all, of one region's surface or of all.
    pub fn band(
        region: &str,
        [low_mm, high_mm]: [f64; 2],
        at: Option<Place>,
        only: Option<&str>,
    ) -> Edit {
        Edit::GiveBand {
            region: region.into(),
            low_mm,
            high_mm,
            at,
            snap: false,
            count: 1,
            pitch_mm: 0.0,
            only: only.map(Into::into),
        }
    }

    /// Content names of the files that it opens.
    pub fn contents(&self) -> Vec<&str> {
        match self {
            Edit::OpenModel { content, .. } | Edit::ReviseModel { content, .. } => vec![content],
            Edit::Several { edits, .. } => edits.iter().flat_map(Edit::contents).collect(),
            Edit::ChangeEdit { to, .. } => to.contents(),
            _ => Vec::new(),
        }
    }

    /// Ids of the spools it puts in.
    pub fn spools(&self) -> Vec<&str> {
        match self {
            Edit::LoadSlot { spool, .. } => spool.iter().map(String::as_str).collect(),
            Edit::Load(LoadEdit::Bay { spools, .. }) => {
                spools.values().flatten().map(String::as_str).collect()
            }
            Edit::Several { edits, .. } => edits.iter().flat_map(Edit::spools).collect(),
            _ => Vec::new(),
        }
    }

    /// The place it names, if it names one.
    pub fn place(&self) -> Option<&Place> {
        match self {
            Edit::RenamePart { at, .. }
            | Edit::GivePatch { at, .. }
            | Edit::GiveRelief { at, .. }
            | Edit::GiveAlike { at, .. }
            | Edit::GiveStray { at }
            | Edit::GivePart { at, .. } => Some(at),
            Edit::GiveBand { at, .. } => at.as_ref(),
            Edit::Part(part) => part.place(),
            Edit::Several { edits, .. } => edits.iter().find_map(Edit::place),
            Edit::GiveFacets { at, .. } => at.first(),
            Edit::Place { target, placing } => match (target, placing) {
                (_, Placing::FaceDown { at } | Placing::FaceUp { at }) => Some(at),
                (Target::Part { at }, _) => Some(at),
                _ => None,
            },
            _ => None,
        }
    }

    /// A point of where it was done, mm, if it was done somewhere.
    pub fn point(&self) -> Option<[f64; 3]> {
        match self {
            Edit::GiveStroke { stroke, .. } => stroke.path.first().copied(),
            other => other.place().map(|p| p.point),
        }
    }

    /// Whether it leaves everything as it is that layers are divided by.
    pub(super) fn keeps_layers(&self) -> bool {
        match self {
            Edit::Plan(plan) => !matches!(plan, PlanEdit::Depth { .. }),
            Edit::RenameJob { .. }
            | Edit::RenameRegion { .. }
            | Edit::RecolourRegion { .. }
            | Edit::LoadSlot { .. }
            | Edit::SetCopies { .. }
            | Edit::FillBed { .. } => true,
            Edit::Several { edits, .. } => edits.iter().all(Edit::keeps_layers),
            _ => false,
        }
    }

    /// Whether it may be one of several edits.
    pub(super) fn goes_with_others(&self) -> bool {
        !matches!(
            self,
            Edit::OpenModel { .. }
                | Edit::RemoveModel { .. }
                | Edit::RenameModel { .. }
                | Edit::ReviseModel { .. }
                | Edit::ChangeEdit { .. }
                | Edit::Several { .. }
        )
    }

    /// Whether it does no more than colour surface.
    pub fn is_colouring(&self) -> bool {
        if let Edit::Several { edits, .. } = self {
            return edits.iter().all(Edit::is_colouring);
        }
        self.region_given().is_some()
            || matches!(self, Edit::GiveStray { .. } | Edit::GiveStrays { .. })
    }

    /// Key of the region it gives surface to.
    pub(super) fn region_given(&self) -> Option<&str> {
        match self {
            Edit::GivePatch { region, .. }
            | Edit::GiveRelief { region, .. }
            | Edit::GiveStroke { region, .. }
            | Edit::GiveFacets { region, .. }
            | Edit::GiveBand { region, .. }
            | Edit::GiveLasso { region, .. }
            | Edit::GiveAlike { region, .. }
            | Edit::GrowRegion { region, .. }
            | Edit::SmoothRegion { region, .. }
            | Edit::InvertRegion { region }
            | Edit::GiveRest { region } => Some(region),
            _ => None,
        }
    }
}
