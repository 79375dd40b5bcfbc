//! The plan: order, swaps, reloads, purge, tower and bill of a print. It knows what is to be printed as a [`Task`], and no job.

mod bill;
mod build;
mod causes;
mod estimate;
mod filament;
mod known_time;
mod limits;
mod order_rules;
mod ordering;
mod pairs;
mod passes;
mod places;
mod planner;
mod prices;
mod print;
mod sheet;
mod task;
mod thin;
mod tower;
mod types;

pub use build::plan;
pub(crate) use build::plan_of;
pub use estimate::{Estimate, estimate, purge_floor_mm3};
pub use filament::Filament;
pub use known_time::timed_printer;
pub use limits::check_extent;
pub use planner::Planner;
pub(crate) use prices::Prices;
pub use prices::purges_of_pairs;
pub(crate) use print::{Print, dot_mm2};
pub use sheet::{SheetItem, SheetLine, bill_sheet};
pub use task::{Task, TaskRegion};
pub use types::{
    Bill, PairRinse, Plan, PlanLayer, PlanReload, Proof, PurgeSplit, RegionTotal, SlotNeed, Swap,
    SwapCause, ThinTotal, Times, Tower,
};
