//! The edits: everything that changes a job.

use super::placing::{Placing, Target};
use super::unit::LengthUnit;
use crate::colour::Colour;
use crate::machine::Printer;
use crate::mesh::Mending;
use crate::regions::Place;
use serde::{Deserialize, Serialize};

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
    /// Gives the patch at a place to a region.
    GivePatch {
        /// Which region.
        region: String,
        /// Anywhere on the patch.
        at: Place,
        /// Crease angle in degrees, 1 to 90.
        crease_deg: f64,
    },
    /// Gives the whole part at a place to a region, which becomes the part's own.
    GivePart {
        /// Which region.
        region: String,
        /// Anywhere on the part.
        at: Place,
    },
    /// Chooses or changes the printer.
    SetPrinter {
        /// The printer with its settings.
        printer: Printer,
    },
}

impl Edit {
    /// The place it names, if it names one.
    pub fn place(&self) -> Option<&Place> {
        match self {
            Edit::RenamePart { at, .. }
            | Edit::GivePatch { at, .. }
            | Edit::GivePart { at, .. } => Some(at),
            Edit::Place { target, placing } => match (target, placing) {
                (_, Placing::FaceDown { at } | Placing::FaceUp { at }) => Some(at),
                (Target::Part { at }, _) => Some(at),
                _ => None,
            },
            _ => None,
        }
    }

    /// What it does, in plain words.
    pub fn in_words(&self) -> String {
        match self {
            Edit::OpenModel { model, .. } => format!("Open {model}"),
            Edit::KeepColours { model, .. } => format!("Keep the colours of {model}"),
            Edit::RemoveModel { model } => format!("Take out {model}"),
            Edit::RenameModel { model, name } => format!("Rename {model} to {name}"),
            Edit::ReviseModel { model, file, .. } => format!("Replace {model} by {file}"),
            Edit::SetUnits { unit, .. } => format!("Read the file in {}", unit.names()[1]),
            Edit::Place { placing, .. } => match placing {
                Placing::Move { .. } => "Move".into(),
                Placing::Turn { degrees, .. } => format!("Turn by {degrees}°"),
                Placing::Stretch { .. } => "Stretch".into(),
                Placing::Size { mm, .. } => format!("Scale to {mm} mm"),
                Placing::Mirror { .. } => "Mirror".into(),
                Placing::FaceDown { .. } => "Lay a face down".into(),
                Placing::FaceUp { .. } => "Turn a face up".into(),
                Placing::Centre => "Centre on the bed".into(),
                Placing::Drop => "Drop to the bed".into(),
                Placing::CentreOn { .. } => "Centre on another".into(),
                Placing::Home => "Put back where the file has it".into(),
            },
            Edit::SetApart { .. } => "Stand the models side by side".into(),
            Edit::Mend { model, .. } => format!("Mend {model}"),
            Edit::SetCopies { across, along, .. } => format!("Print {} pieces", across * along),
            Edit::FillBed { .. } => "Fill the bed with pieces".into(),
            Edit::RenameJob { name } => format!("Name the job {name}"),
            Edit::RenamePart { name, .. } => format!("Name a part {name}"),
            Edit::AddRegion { name, .. } => format!("Add region {name}"),
            Edit::RenameRegion { name, .. } => format!("Name a region {name}"),
            Edit::RecolourRegion { region, colour } => format!("Colour region {region} {colour}"),
            Edit::DeleteRegion { region } => format!("Delete region {region}"),
            Edit::SetSoak { region, soak_mm } => format!("Let region {region} soak {soak_mm} mm"),
            Edit::AssignSlot { region, .. } => format!("Give region {region} a slot"),
            Edit::LoadSlot { slot, .. } => format!("Load slot {slot}"),
            Edit::GivePatch { region, .. } => format!("Give a patch to region {region}"),
            Edit::GivePart { region, .. } => format!("Give a part to region {region}"),
            Edit::SetPrinter { printer } => format!("Set the printer {}", printer.name),
        }
    }
}
