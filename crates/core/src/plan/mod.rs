//! The plan: order, swaps, reloads, purge, tower and bill of a print.

mod bill;
mod build;
mod causes;
mod cautions;
mod depths;
mod filament;
mod known_time;
mod order_rules;
mod ordering;
mod pairs;
mod passes;
mod places;
mod prices;
mod print;
mod sheet;
mod snags;
mod tower;
mod trial;
mod types;
mod ways;

pub use build::plan;
pub use depths::{DepthChoices, DepthCost, depth_choices};
pub use filament::Filament;
pub use known_time::timed_printer;
pub use sheet::{SheetItem, SheetLine, bill_sheet};
pub use snags::{Snag, SnagSort};
pub use trial::{Saving, Trial, Tried};
pub use types::{
    Bill, Caution, PairRinse, Plan, PlanLayer, PlanReload, Proof, PurgeSplit, RegionTotal,
    SlotNeed, Swap, SwapCause, Times, Tower,
};
pub use ways::{Way, WayFigures, WayGroup, ways};
