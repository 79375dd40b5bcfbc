//! Print files from elsewhere, kept with a job.

use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;
use utoipa::ToSchema;
use varichrom_core::gcode::{Difference, StrandLength};
use varichrom_core::handover::FileReport;

/// A print file that is kept with a job.
#[derive(Debug, Clone, Serialize, TS, ToSchema)]
pub(crate) struct KeptFile {
    /// Its number.
    pub id: i32,
    /// Its name.
    pub name: String,
    /// How long it is, bytes.
    pub bytes: usize,
    /// What a person said of it, and where it comes from.
    #[serde(flatten)]
    pub about: AboutFile,
}

/// What is known of a kept file beside its text.
#[derive(Debug, Clone, Default, Serialize, Deserialize, TS, ToSchema)]
#[serde(default)]
pub(crate) struct AboutFile {
    /// Slot of each tool that is not the one after its number.
    #[ts(type = "Record<string, number>")]
    pub tools: BTreeMap<u32, u8>,
    /// Slot that each pause is for, in order.
    pub turns: Vec<u8>,
    /// What it was made of here; none if it came from elsewhere.
    pub made: Option<MadeFile>,
}

/// How a file was made of others.
#[derive(Debug, Clone, Serialize, Deserialize, TS, ToSchema)]
pub(crate) struct MadeFile {
    /// Names of the files that it was made of.
    pub of: Vec<String>,
    /// Places at which it differs.
    pub differences: usize,
    /// What was left as it is, in words.
    pub left: Vec<String>,
    /// The strand from the nozzle on, where tools became one.
    pub splices: Vec<KeptLength>,
}

/// A length of a strand.
#[derive(Debug, Clone, Copy, Serialize, Deserialize, TS, ToSchema)]
pub(crate) struct KeptLength {
    /// Slot that it comes from, from 1.
    pub slot: u8,
    /// Length, mm.
    pub mm: f64,
}

impl From<StrandLength> for KeptLength {
    fn from(s: StrandLength) -> KeptLength {
        KeptLength {
            slot: s.slot,
            mm: s.mm,
        }
    }
}

/// What a person says of a file.
#[derive(Debug, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct SayOfFile {
    /// Slot of each tool that is not the one after its number.
    #[ts(type = "Record<string, number>")]
    pub tools: BTreeMap<u32, u8>,
    /// Slot that each pause is for, in order.
    pub turns: Vec<u8>,
}

/// A kept file, read.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct KeptFileView {
    /// Itself.
    pub file: KeptFile,
    /// What it is called at a printer that it is sent to.
    pub sent_as: String,
    /// Revision of the job that it is set against.
    pub revision: u32,
    /// What it comes to.
    pub report: FileReport,
}

/// What is to be made of files.
#[derive(Debug, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct RewriteFiles {
    /// Their numbers; several are passes that are joined in this order.
    pub files: Vec<i32>,
    /// Slot of each pass, where there are several.
    #[serde(default)]
    pub slots: Vec<u8>,
    /// Changes of colour that are put in.
    #[serde(default)]
    pub changes: Vec<ChangeAt>,
    /// Whether a file of one colour gets the changes of the job's plan.
    #[serde(default)]
    pub as_planned: bool,
    /// Whether purge is made what the printer's melt zone needs.
    #[serde(default)]
    pub purge: bool,
}

/// A change of colour at a layer.
#[derive(Debug, Clone, Copy, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct ChangeAt {
    /// From this layer on, from 0.
    pub layer: usize,
    /// Which slot, from 1.
    pub slot: u8,
}

/// A file that was made of others.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct RewrittenView {
    /// It is kept beside them.
    pub file: KeptFile,
    /// The first places at which it differs; all are in its text of differences.
    pub differences: Vec<Difference>,
}

/// A job that was made for a print file.
#[derive(Debug, Serialize, TS, ToSchema)]
pub(crate) struct FileJob {
    /// Number of the job.
    pub job: i32,
    /// Number of the file.
    pub file: i32,
}
