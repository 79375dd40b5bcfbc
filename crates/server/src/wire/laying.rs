//! Drawings and words laid on models.

use serde::{Deserialize, Serialize};
use ts_rs::TS;
use utoipa::ToSchema;
use varichrom_core::colour::Colour;
use varichrom_core::drawing::{DrawingOptions, Eye, Laying, Words};
use varichrom_core::job::Relief;

/// A drawing to be laid.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(tag = "is", rename_all = "kebab-case", deny_unknown_fields)]
pub(crate) enum GivenDrawing {
    /// One that was sent in.
    Staged {
        /// Its number there.
        staged: u32,
        /// How it is read.
        options: DrawingOptions,
    },
    /// One that a step of the job laid before.
    Kept {
        /// Name of the file.
        file: String,
        /// Name of its content.
        content: String,
        /// How it is read.
        options: DrawingOptions,
    },
    /// Typed words.
    Words {
        /// How they are set.
        words: Words,
        /// Number of a font file that was sent in, to be set in.
        #[serde(default)]
        #[ts(optional)]
        font: Option<u32>,
    },
    /// An eye.
    Eye {
        /// How it looks.
        eye: Eye,
    },
}

/// Asks how a drawing comes out flat.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct AskFlat {
    /// The drawing.
    pub(crate) drawing: GivenDrawing,
}

/// A drawing laid flat.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct FlatView {
    /// What it is called.
    pub(crate) name: String,
    /// Width and height of its page, mm.
    pub(crate) size_mm: [f64; 2],
    /// Its colours, in their order.
    pub(crate) inks: Vec<FlatInk>,
    /// Places that are thinner than a line.
    pub(crate) thin: usize,
    /// How wide a line is, mm.
    pub(crate) line_mm: f64,
    /// What was left out or taken otherwise than it was meant.
    pub(crate) notes: Vec<String>,
}

/// A colour of a drawing laid flat.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct FlatInk {
    /// What it is called.
    pub(crate) name: String,
    /// The colour.
    pub(crate) colour: Colour,
    /// Where it is, mm².
    pub(crate) area_mm2: f64,
    /// Its outline as path data, mm, y up; none where it has too many corners to be shown.
    pub(crate) path: Option<String>,
}

/// Who gets the surface below a colour of a drawing.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(tag = "to", rename_all = "kebab-case", deny_unknown_fields)]
pub(crate) enum InkTaker {
    /// A new region of its name and colour.
    New,
    /// A region that there is.
    Region {
        /// Its key.
        region: String,
    },
    /// Nobody: the surface stays as it is.
    Nobody,
}

/// Lays a drawing on the models of a job.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct LayDrawing {
    /// The drawing.
    pub(crate) drawing: GivenDrawing,
    /// Where and how it lies.
    pub(crate) laying: Laying,
    /// Who gets each of its colours, in their order.
    pub(crate) inks: Vec<InkTaker>,
    /// Name of the model it is kept to; all of them without.
    #[serde(default)]
    #[ts(optional)]
    pub(crate) model: Option<String>,
    /// Which way it becomes a relief of a flat face, and how far; colour on the surface without.
    #[serde(default)]
    #[ts(optional)]
    pub(crate) relief: Option<Relief>,
    /// Number of the step, from 1, that laid it before and that this takes the place of.
    #[serde(default)]
    #[ts(optional)]
    pub(crate) instead_of: Option<u32>,
}
