//! What travels to the browser. Generated into TypeScript; numbers of regions index the label buffers.

mod colour;
mod drawing;
mod export;
mod intake;
mod laying;
mod load;
mod parts;
mod plan;
mod rehearsal;
mod release;
mod runs;
mod sending;
mod sliced;
mod stacking;
mod status;

pub(crate) use colour::{
    Desk, LeftOut, Palette, Palettes, PreviewView, Replayed, Stand, StepsView, StrayView,
};
pub(crate) use drawing::{DrawingView, DrawnBodies, DrawnBody, InkView, NoteView, ThinView};
pub(crate) use intake::{
    AddModels, Arrangement, Assemble, MendPreview, ReviseModel, StagedState, StagedView,
};
pub(crate) use laying::{AskFlat, FlatInk, FlatView, GivenDrawing, InkTaker, LayDrawing};
pub(crate) use load::{
    AskMixture, Asked, ChangePrinters, ChangeRack, GreyView, JobRun, LoadView, MixtureView,
    OwnPrinter, PrinterChange, PrintersView, RackChange, RackImported, RackView, SetPrinterKey,
    SpoolUse, UsualSpool,
};
pub(crate) use parts::{
    BodiesView, BodySum, BodyView, MeetingsView, OpenPartView, PairView, TriedPart, TriedParts,
    TryParts,
};
pub(crate) use plan::{
    AskCalibration, BeadView, BeadsView, DepthsView, HangingRun, KnownTime, MovesFile, MovesView,
    PrintSettingView, PrintSettingsView, ReadySetView, SearchState, SetChange, SetPrinting,
    SheetView, SlotBeadsView, SnagFacets, SnagsView, TriedWay, WaysView,
};
pub(crate) use rehearsal::{BeginRehearsal, LetGoWrong, RehearsalView, RehearsedSlot, SetSpeed};
pub(crate) use release::{CareView, Look, People, ReleaseState, ReleaseView, Said, WaitingJob};
pub(crate) use runs::{AboutRun, NotePrinted, RunView};
pub(crate) use sending::{SendPrint, SentView};
pub(crate) use sliced::{
    AboutFile, FileJob, KeptFile, KeptFileView, MadeFile, RewriteFiles, RewrittenView, SayOfFile,
};
pub(crate) use stacking::{ReadWedge, StackedSpool, StackedTone, StackedView, WedgeView};
pub(crate) use status::StatusView;

pub use export::export_types;

use serde::{Deserialize, Serialize};
use ts_rs::TS;
use utoipa::ToSchema;
use varichrom_core::advice::CheckedPlan;
use varichrom_core::advice::intake::SizeDoubt;
use varichrom_core::colour::Colour;
use varichrom_core::job::{Change, LengthUnit, LostEdit, SoakDepth};
use varichrom_core::layers::LayerDrawing;
use varichrom_core::machine::{Printer, Profile, Spool};
use varichrom_core::mesh::Defect;
use varichrom_core::plan::Bill;
use varichrom_core::rules::{Copies, PlanRules};

/// A job on the shelf.
#[derive(Default, Debug, Clone, PartialEq, Serialize, Deserialize, TS, ToSchema)]
pub struct JobSummary {
    /// Number of the job.
    pub id: i32,
    /// Its name.
    pub name: String,
    /// Facets in all models.
    pub facets: usize,
    /// Parts in all models.
    pub parts: usize,
    /// Size in mm.
    pub size_mm: [f64; 3],
    /// Colours of its regions.
    pub colours: Vec<Colour>,
    /// Swaps of its last plan.
    pub swaps: Option<usize>,
    /// Printing time of its last plan, s.
    pub time_s: Option<f64>,
    /// Ids of the spools that are loaded, with the grams its last plan takes of them.
    #[serde(default)]
    pub spools: Vec<(String, Option<f64>)>,
    /// Why it cannot be opened, if it cannot: a newer version made it.
    #[serde(default)]
    pub trouble: Option<String>,
    /// Share of the filament that does not end up in the model by its last plan.
    #[serde(default)]
    pub wasted_share: Option<f64>,
    /// Words by which it is found again.
    #[serde(default)]
    pub tags: Vec<String>,
    /// Whether it is put away.
    #[serde(default)]
    pub is_archived: bool,
    /// How often it was printed.
    #[serde(default)]
    pub runs: i32,
    /// When it was changed last, seconds since 1970.
    #[serde(default)]
    #[ts(type = "number")]
    pub changed_s: i64,
    /// How far it is.
    #[serde(default)]
    pub stands: Standing,
}

/// How far a job is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, TS, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Standing {
    /// It was opened.
    #[default]
    Open,
    /// It has several colours.
    Coloured,
    /// Spools are loaded for it.
    Loaded,
    /// It is planned.
    Planned,
    /// It may be printed as it stands.
    Released,
    /// It was printed.
    Printed,
}

/// Where a job lies on the shelf.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct Shelving {
    /// Words by which it is found again.
    pub tags: Vec<String>,
    /// Whether it is put away.
    pub is_archived: bool,
}

/// A job as the stages show it.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub struct JobView {
    /// Number of the job.
    pub id: i32,
    /// Its name.
    pub name: String,
    /// Counts every change, and never falls; a plan and labels belong to one revision.
    pub revision: u32,
    /// Whether there is an edit to undo.
    pub can_undo: bool,
    /// Number of the newest step that is applied.
    pub step: u32,
    /// Whether there is an edit to redo.
    pub can_redo: bool,
    /// The models.
    pub models: Vec<ModelView>,
    /// Keys of all parts in the order of the list, the highest first.
    pub part_order: Vec<u32>,
    /// Groups in the list of parts.
    pub groups: Vec<GroupView>,
    /// The regions that are not deleted.
    pub regions: Vec<RegionView>,
    /// What the printer is called and what it can do.
    pub machine: Profile,
    /// The slots.
    pub slots: Vec<SlotView>,
    /// Where spools are put: the slots again, or the feeds of a mixing nozzle.
    pub places: Vec<PlaceView>,
    /// The printer.
    pub printer: Printer,
    /// How it is planned.
    pub rules: PlanRules,
    /// Lowest corner of the box around everything, mm.
    pub low_mm: [f64; 3],
    /// Size of everything, one piece, mm.
    pub size_mm: [f64; 3],
    /// How many pieces are printed at once.
    pub copies: Copies,
    /// Where they stand, each moved from the place of one alone, mm.
    pub copy_shifts: Vec<[f64; 2]>,
    /// How many pieces the bed holds at the present gap, across and along.
    pub most_copies: [u32; 2],
    /// Changes at a layer.
    pub changes: Vec<Change>,
    /// Edits that the last replacement of a model lost.
    pub lost: Vec<LostEdit>,
}

/// A model of a job.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub struct ModelView {
    /// Name in the job.
    pub name: String,
    /// File it came from.
    pub file: String,
    /// Whether it was made of a drawing, which can be changed.
    pub is_drawn: bool,
    /// Format by content.
    pub format: String,
    /// Changes whenever the mesh is another: a mesh once fetched is good as long as this stays.
    pub mesh_key: String,
    /// What the file's unit is taken for.
    pub unit: LengthUnit,
    /// The unit the file itself states.
    pub stated_unit: Option<LengthUnit>,
    /// Size in the file's own numbers, before anything was done.
    pub file_size: [f64; 3],
    /// Whether it was moved, turned, scaled or mirrored.
    pub is_placed: bool,
    /// What is odd about its size.
    pub doubt: Option<SizeDoubt>,
    /// Colours that the file brought; 0 if none.
    pub file_colours: usize,
    /// Whether colours vary over facets, so that their number can be chosen.
    pub has_blends: bool,
    /// Into how many colours they were brought together, if they were kept.
    pub colours_kept: Option<u8>,
    /// What the file carried besides the shape, in words.
    pub carried: Vec<String>,
    /// What it held and could not be taken over, in words.
    pub left_out: Vec<String>,
    /// What files of its format cannot say, in words; empty if nothing.
    pub cannot_say: String,
    /// Title, author and the like.
    pub metadata: Vec<(String, String)>,
    /// Lowest corner of the box around it, mm.
    pub low_mm: [f64; 3],
    /// Size in mm.
    pub size_mm: [f64; 3],
    /// Facets.
    pub facets: usize,
    /// Vertices after welding.
    pub vertices: usize,
    /// Whether every part is closed.
    pub closed: bool,
    /// Volume in mm³.
    pub volume_mm3: f64,
    /// Area in mm².
    pub area_mm2: f64,
    /// What is wrong with it.
    pub defects: Vec<Defect>,
    /// Its parts.
    pub parts: Vec<PartView>,
}

/// A part of a model.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub struct PartView {
    /// Its name.
    pub name: String,
    /// Facets.
    pub facets: u32,
    /// Whether it is closed.
    pub closed: bool,
    /// Size in mm.
    pub size_mm: [f64; 3],
    /// Volume in mm³.
    pub volume_mm3: f64,
    /// Middle of the box around it, mm.
    pub centre_mm: [f64; 3],
    /// Number of its own region.
    pub own: u16,
    /// A point on it and the outward direction there, for edits that name it.
    pub point: [f64; 3],
    /// Outward direction at the point.
    pub normal: [f64; 3],
    /// Names of parts it encloses; of many the first few.
    pub encloses: Vec<String>,
    /// How many parts it encloses.
    pub enclosed_count: usize,
    /// How many parts enclose it.
    pub enclosed_by: u32,
    /// Number by which the list knows it.
    pub key: u32,
    /// Key of the group it is listed in.
    pub group: Option<String>,
    /// Whether nothing recolours, moves or cuts it.
    pub is_locked: bool,
    /// Whether it is printed.
    pub is_printed: bool,
    /// Slots from whose passes it is left out.
    pub skipped_passes: Vec<u8>,
    /// The base material it is made of on a jetting machine; the usual one without.
    pub made_of: Option<String>,
    /// How much of what lies behind it hides there, 0 to 1.
    pub opacity: f64,
}

/// A group in the list of parts.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub struct GroupView {
    /// Lasting key.
    pub key: String,
    /// Its name.
    pub name: String,
    /// Key of the group it lies in.
    pub inside: Option<String>,
}

/// A region.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub struct RegionView {
    /// Lasting key.
    pub key: String,
    /// Number in the label buffers.
    pub number: u16,
    /// Its name.
    pub name: String,
    /// The colour wanted.
    pub colour: Colour,
    /// Slot from 1.
    pub slot: Option<u8>,
    /// Whether the slot was proposed and is not confirmed.
    pub is_proposed: bool,
    /// How far its colour goes in.
    pub depth: SoakDepth,
    /// Whether no tool takes surface from it.
    pub is_protected: bool,
    /// Facets it covers, wholly or in part.
    pub facets: usize,
    /// Share of the whole surface, 0 to 1.
    pub surface_share: f64,
}

/// A place of the machine that takes a spool: a slot, or a feed of a mixing nozzle.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub struct PlaceView {
    /// Number in the job, from 1.
    pub place: u8,
    /// Number in the machine, from 1.
    pub machine_place: u8,
    /// The spool, if one is loaded and still on the rack.
    pub spool: Option<Spool>,
}

/// A slot with what is in it.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub struct SlotView {
    /// From 1.
    pub slot: u8,
    /// The spool, if one is loaded and still on the rack.
    pub spool: Option<Spool>,
    /// What it prints as: the spool's colour, a mixture's, or a stand-in.
    pub colour: Colour,
    /// Of a mixing nozzle, the share of each feed.
    pub shares: Option<Vec<f64>>,
}

/// A plan, or how far it is.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
#[serde(tag = "state", rename_all = "kebab-case")]
pub enum PlanView {
    /// Being worked out.
    Working {
        /// Revision it is for.
        revision: u32,
        /// Finished share, 0 to 1.
        done: f64,
    },
    /// Stopped on request; any edit or a call to start sets it going again.
    Stopped {
        /// Revision it was for.
        revision: u32,
    },
    /// Could not be made.
    Failed {
        /// Revision it was for.
        revision: u32,
        /// Why.
        problem: varichrom_core::Problem,
    },
    /// Ready.
    Ready {
        /// Revision it is for.
        revision: u32,
        /// The plan.
        plan: Box<CheckedPlan>,
        /// What the last change did to the bill: new less old; none for the first plan.
        change: Option<BillChange>,
        /// Time by the moves, s, once they are made.
        moves_s: Option<f64>,
    },
}

/// What a change did to the bill, new less old.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, TS, ToSchema)]
pub struct BillChange {
    /// Time, s.
    pub time_s: f64,
    /// Swaps.
    pub swaps: i32,
    /// Model, g.
    pub model_g: f64,
    /// Purge, g.
    pub purge_g: f64,
    /// Tower, g.
    pub tower_g: f64,
    /// Cost.
    pub cost: f64,
    /// Wasted share, in points from −1 to 1.
    pub wasted_share: f64,
}

impl BillChange {
    /// The change from one bill to another.
    pub(crate) fn between(old: &Bill, new: &Bill) -> BillChange {
        let count = |n: usize| i32::try_from(n).unwrap_or(i32::MAX);
        BillChange {
            time_s: new.time_s - old.time_s,
            swaps: count(new.swaps) - count(old.swaps),
            model_g: new.model_g - old.model_g,
            purge_g: new.purge_g - old.purge_g,
            tower_g: new.tower_g - old.tower_g,
            cost: new.cost - old.cost,
            wasted_share: new.wasted_share - old.wasted_share,
        }
    }
}

/// A layer's drawing with the revision it belongs to. Regions are numbers as in [`RegionView`].
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub struct LayerView {
    /// Revision it is for.
    pub revision: u32,
    /// The drawing.
    pub drawing: LayerDrawing,
}

/// Something happened to a job; sent to every open tab.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
#[serde(tag = "event", rename_all = "kebab-case")]
pub enum JobEvent {
    /// The job was changed.
    Changed {
        /// Its new revision.
        revision: u32,
    },
    /// Something was said of it before it is printed, or ticked off.
    Looked,
    /// A print file from elsewhere was kept with it, said something of, or forgotten.
    Sliced,
    /// A long edit got on; it ends with its answer, and with `changed` if it was made.
    Editing {
        /// Finished share.
        done: f64,
    },
    /// Its plan got on or was finished.
    Plan {
        /// Revision it is for.
        revision: u32,
        /// Finished share; 1 when ready, stopped or failed.
        done: f64,
    },
}
