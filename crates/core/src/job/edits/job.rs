//! Edits of the job as a whole, and of its other edits.

use super::Edit;
use serde::{Deserialize, Serialize};
use strum::{IntoStaticStr, VariantNames};

/// A change of the job itself, or of its edits.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, IntoStaticStr, VariantNames)]
#[serde(tag = "edit", rename_all = "kebab-case", deny_unknown_fields)]
#[strum(serialize_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum JobEdit {
    /// Renames the job.
    RenameJob {
        /// The new name.
        name: String,
    },
    /// Several edits that are one step: done together, undone together, all or none.
    Several {
        /// What they do together, in plain words.
        what: String,
        /// The edits, in order. Models are opened, renamed and taken out by edits of their own.
        #[cfg_attr(feature = "wire", schema(no_recursion))]
        edits: Vec<Edit>,
    },
    /// Puts other numbers into an earlier edit: everything is done again with it.
    ChangeEdit {
        /// Which edit of the job, from 1.
        number: u32,
        /// What it is from now on; of the same kind.
        #[cfg_attr(feature = "wire", schema(no_recursion))]
        to: Box<Edit>,
    },
    /// Takes an earlier edit out: everything else is done again without it.
    LeaveOut {
        /// Which edit of the job, from 1.
        number: u32,
    },
}

impl JobEdit {
    /// What it does, in plain words.
    pub(super) fn in_words(&self, name_of: &dyn Fn(&str) -> String) -> String {
        match self {
            JobEdit::RenameJob { name } => format!("Name the job {name}"),
            JobEdit::Several { what, .. } => what.clone(),
            JobEdit::ChangeEdit { number, to } => {
                format!("Change step {number}: {}", to.in_words(name_of))
            }
            JobEdit::LeaveOut { number } => format!("Take step {number} out"),
        }
    }
}
