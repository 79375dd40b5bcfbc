//! What travels for the Load stage: rack, printers, checks, mixtures.

use serde::{Deserialize, Serialize};
use ts_rs::TS;
use utoipa::ToSchema;
use varichrom_core::Problem;
use varichrom_core::advice::load::{LoadCheck, PrinterReport, SpoolNeed};
use varichrom_core::colour::Colour;
use varichrom_core::machine::{Abilities, KindChoice, Material, Printer, Spool};

/// The rack.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct RackView {
    /// Counts every change.
    pub revision: u32,
    /// Spools in the maker's order, archived ones included.
    pub spools: Vec<Spool>,
    /// Plastics that are known.
    pub materials: Vec<Material>,
    /// What jobs took from spools or will take, the newest first.
    pub uses: Vec<SpoolUse>,
}

/// What one job takes from one spool.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct SpoolUse {
    /// Id of the spool.
    pub spool: String,
    /// Name of the job.
    pub job: String,
    /// How much, g; none before the job was planned.
    pub grams: Option<f64>,
    /// When it was printed, seconds since 1970; none if it is yet to be.
    #[ts(type = "number | null")]
    pub printed_at_s: Option<i64>,
    /// Which run of the job it was, if it can be taken back.
    pub run: Option<JobRun>,
}

/// One of the times a job was noted as printed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, TS, ToSchema)]
pub(crate) struct JobRun {
    /// Number of the job.
    pub job: i32,
    /// Which time, from 1.
    pub run: u32,
}

/// Changes of the rack, all or none.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct ChangeRack {
    /// The revision of the rack that they were made for; with another one they are refused with 409.
    pub revision: u32,
    /// The changes, in order.
    pub changes: Vec<RackChange>,
}

/// One change of the rack.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(tag = "do", rename_all = "kebab-case", deny_unknown_fields)]
pub(crate) enum RackChange {
    /// A new spool at its end.
    Add {
        /// The spool.
        spool: Spool,
    },
    /// Other values for some fields of a spool; the others stay as they are.
    Change {
        /// Id of the spool.
        id: String,
        /// The fields.
        #[ts(type = "Partial<Spool>")]
        #[schema(value_type = Object)]
        fields: serde_json::Map<String, serde_json::Value>,
    },
    /// Takes a spool that no job has loaded off the rack.
    Remove {
        /// Id of the spool.
        id: String,
    },
}

/// A spool whose usual values are asked for.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct UsualSpool {
    /// Its colour.
    pub colour: Colour,
    /// Its plastic.
    pub material: String,
    /// Whether light goes through it.
    pub is_translucent: bool,
}

/// How a rack file came in.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct RackImported {
    /// Spools that are new.
    pub added: usize,
    /// Spools that were there and are as the file has them now.
    pub replaced: usize,
}

/// A printer of the maker's.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct OwnPrinter {
    /// Lasting id.
    pub id: String,
    /// The printer.
    pub printer: Printer,
}

/// The maker's printers.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct PrintersView {
    /// Counts every change.
    pub revision: u32,
    /// In the maker's order.
    pub printers: Vec<OwnPrinter>,
    /// What each kind is called, with a ready example.
    pub examples: Vec<Printer>,
}

/// Changes of the printers, all or none. Jobs keep theirs as they are.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct ChangePrinters {
    /// The revision that they were made for; with another one they are refused with 409.
    pub revision: u32,
    /// The changes, in order.
    pub changes: Vec<PrinterChange>,
}

/// One change of the printers.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(tag = "do", rename_all = "kebab-case", deny_unknown_fields)]
pub(crate) enum PrinterChange {
    /// A new one.
    Add {
        /// Lasting id.
        id: String,
        /// The printer.
        printer: Printer,
    },
    /// Other settings for one.
    Change {
        /// Its id.
        id: String,
        /// The printer.
        printer: Printer,
    },
    /// Takes one off.
    Remove {
        /// Its id.
        id: String,
    },
}

/// What the printer said when it was asked last.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
#[serde(tag = "state", rename_all = "kebab-case")]
pub(crate) enum Asked {
    /// It was not asked.
    Never,
    /// It answered.
    Answered {
        /// What.
        report: PrinterReport,
    },
    /// It did not, or not with anything usable.
    Failed {
        /// Why.
        problem: Problem,
    },
}

/// What a region becomes on a machine that prints greys.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct GreyView {
    /// Key of the region.
    pub region: String,
    /// Its grey.
    pub grey: Colour,
    /// How light it is, 0 to 100 (CIELAB L*).
    pub lightness: f64,
    /// Names of the regions it falls together with.
    pub like: Vec<String>,
}

/// Everything that Load shows besides the job.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct LoadView {
    /// How often the job was noted as printed.
    pub runs: u32,
    /// Revision of the job it is for.
    pub revision: u32,
    /// Whether grams are known: the plan of this revision is there.
    pub is_planned: bool,
    /// Whether contacts between parts are still being looked for.
    pub is_looking: bool,
    /// What the printer can do.
    pub abilities: Abilities,
    /// The kinds of machines to choose from.
    pub kinds: Vec<KindChoice>,
    /// Grams from each slot or feed.
    pub needs: Vec<SpoolNeed>,
    /// What was checked, the worst first.
    pub checks: Vec<LoadCheck>,
    /// What the printer said.
    pub asked: Asked,
    /// The regions as greys.
    pub greys: Vec<GreyView>,
    /// Whether a key is kept for the printer's address. The key itself never comes back.
    pub has_key: bool,
}

/// What a printer wants to hear before it answers.
#[derive(Clone, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct SetPrinterKey {
    /// The key; none to forget it.
    pub key: Option<String>,
}

/// Which mixture is looked for.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(tag = "by", rename_all = "kebab-case", deny_unknown_fields)]
pub(crate) enum AskMixture {
    /// The one that comes nearest to a colour.
    Colour {
        /// Which.
        colour: Colour,
    },
    /// One with a share set, the others following.
    Share {
        /// Shares so far.
        shares: Vec<f64>,
        /// Which is set, from 0.
        index: usize,
        /// To what.
        share: f64,
    },
}

/// A mixture.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct MixtureView {
    /// Share of each feed; they sum to 1.
    pub shares: Vec<f64>,
    /// What comes out.
    pub colour: Colour,
    /// CIEDE2000 difference to the colour that was asked for.
    pub difference: Option<f64>,
}
