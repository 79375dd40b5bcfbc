//! Edits of models and of what they and their parts are called.

use super::super::unit::LengthUnit;
use super::Touches;
use crate::model::{Mending, Place};
use serde::{Deserialize, Serialize};
use strum::{IntoStaticStr, VariantNames};

/// A change of the models.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, IntoStaticStr, VariantNames)]
#[serde(tag = "edit", rename_all = "kebab-case", deny_unknown_fields)]
#[strum(serialize_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum ModelEdit {
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
    /// Stands copies of a model on the bed, coloured like it: models of their own, each at a free place.
    CopyModel {
        /// Which.
        model: String,
        /// How many more.
        count: u32,
        /// Gap between two, mm.
        spacing_mm: f64,
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
    /// Mends a model.
    Mend {
        /// Which.
        model: String,
        /// What to mend.
        mending: Mending,
    },
    /// Renames the part at a place.
    RenamePart {
        /// Anywhere on the part.
        at: Place,
        /// The new name.
        name: String,
    },
}

impl ModelEdit {
    /// The place it names.
    pub(super) fn place(&self) -> Option<&Place> {
        match self {
            ModelEdit::RenamePart { at, .. } => Some(at),
            ModelEdit::OpenModel { .. }
            | ModelEdit::KeepColours { .. }
            | ModelEdit::CopyModel { .. }
            | ModelEdit::RemoveModel { .. }
            | ModelEdit::RenameModel { .. }
            | ModelEdit::ReviseModel { .. }
            | ModelEdit::SetUnits { .. }
            | ModelEdit::Mend { .. } => None,
        }
    }

    /// Where the file is kept that it opens.
    pub(super) fn content(&self) -> Option<&str> {
        match self {
            ModelEdit::OpenModel { content, .. } | ModelEdit::ReviseModel { content, .. } => {
                Some(content)
            }
            ModelEdit::KeepColours { .. }
            | ModelEdit::CopyModel { .. }
            | ModelEdit::RemoveModel { .. }
            | ModelEdit::RenameModel { .. }
            | ModelEdit::SetUnits { .. }
            | ModelEdit::Mend { .. }
            | ModelEdit::RenamePart { .. } => None,
        }
    }

    /// Whether what it overwrites are whole meshes or all labels.
    pub(in crate::job) fn makes_anew(&self) -> bool {
        match self {
            ModelEdit::Mend { .. } | ModelEdit::RemoveModel { .. } => true,
            ModelEdit::OpenModel { .. }
            | ModelEdit::CopyModel { .. }
            | ModelEdit::KeepColours { .. }
            | ModelEdit::RenameModel { .. }
            | ModelEdit::ReviseModel { .. }
            | ModelEdit::SetUnits { .. }
            | ModelEdit::RenamePart { .. } => false,
        }
    }

    /// Whether it may be one of several edits.
    pub(super) fn goes_with_others(&self) -> bool {
        match self {
            ModelEdit::OpenModel { .. }
            | ModelEdit::CopyModel { .. }
            | ModelEdit::RemoveModel { .. }
            | ModelEdit::RenameModel { .. }
            | ModelEdit::ReviseModel { .. } => false,
            ModelEdit::KeepColours { .. }
            | ModelEdit::SetUnits { .. }
            | ModelEdit::Mend { .. }
            | ModelEdit::RenamePart { .. } => true,
        }
    }

    /// What it touches of what the layers are divided by.
    pub(super) fn touches(&self) -> Touches {
        match self {
            ModelEdit::RenameModel { .. } | ModelEdit::RenamePart { .. } => Touches::Nothing,
            ModelEdit::OpenModel { .. }
            | ModelEdit::CopyModel { .. }
            | ModelEdit::KeepColours { .. }
            | ModelEdit::RemoveModel { .. }
            | ModelEdit::ReviseModel { .. }
            | ModelEdit::SetUnits { .. }
            | ModelEdit::Mend { .. } => Touches::Everything,
        }
    }

    /// What it does, in plain words.
    pub(super) fn in_words(&self) -> String {
        match self {
            ModelEdit::OpenModel { model, .. } => format!("Open {model}"),
            ModelEdit::KeepColours { model, .. } => format!("Keep the colours of {model}"),
            ModelEdit::CopyModel { model, count, .. } => {
                format!("Stand {count} more of {model} on the bed")
            }
            ModelEdit::RemoveModel { model } => format!("Take out {model}"),
            ModelEdit::RenameModel { model, name } => format!("Rename {model} to {name}"),
            ModelEdit::ReviseModel { model, file, .. } => format!("Replace {model} by {file}"),
            ModelEdit::SetUnits { unit, .. } => format!("Read the file in {}", unit.names()[1]),
            ModelEdit::Mend { model, .. } => format!("Mend {model}"),
            ModelEdit::RenamePart { name, .. } => format!("Name a part {name}"),
        }
    }
}
