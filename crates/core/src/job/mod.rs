//! A job: models, regions, slots and printer, as a fold of edits.
//!
//! Edits are the source of truth. [`Job::apply`] is the only thing that changes a job, [`History`] keeps the edits in
//! order, and the same JSON is the undo log, the recipe and the input of the command line.

mod alike;
mod apply;
mod before;
mod blended;
mod bodies;
mod colouring;
mod contacts;
mod copying;
mod depth;
mod drawn;
mod edges_of_regions;
mod edits;
mod file_colours;
mod history;
mod kept;
mod laying;
mod loading;
mod models;
mod parts;
mod pictured;
mod placing;
mod project;
mod recipe;
mod revised;
mod spans;
mod state;
mod steps;
mod toned;
mod tried;
mod unit;

pub use colouring::Preview;
pub use contacts::Contact;
pub use depth::SoakDepth;
pub use edits::{
    AlikeTo, Axis, BandDepth, CutPlane, Depth, Edit, Fragments, GiveEdit, JobEdit, LoadEdit,
    ModelEdit, PartEdit, PlaceEdit, Placing, PlanEdit, RegionEdit, Relief, SlotEdit, Target,
};
pub use history::{Apart, History, Models};
pub use parts::{InlayFacts, MadePart, OpenPart, PartMeeting, PartMeetings, PartPair, Thickness};
pub use project::Project;
pub use recipe::{Recipe, RecipeModel};
pub use spans::PartSpan;
pub use state::{
    BASE_REGION, Job, JobModel, JobPart, LostEdit, OWN_REGION, PartGroup, Region, Tally,
};
pub use steps::{Change, Step};
pub use tried::TriedJob;
pub use unit::LengthUnit;
