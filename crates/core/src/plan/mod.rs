//! The plan: order, swaps, reloads, purge, tower and bill of a print.

mod bill;
mod build;
mod causes;
mod cautions;
mod depths;
mod filament;
mod known_time;
mod limits;
mod order_rules;
mod ordering;
mod pairs;
mod passes;
mod places;
mod prices;
mod print;
mod sheet;
mod snags;
mod thin;
mod tower;
mod trial;
mod types;
mod unprinted;
mod ways;

pub use build::plan;
pub use depths::{DepthChoices, DepthCost, depth_choices};
pub use filament::Filament;
pub use known_time::timed_printer;
pub use limits::check_extent;
pub use sheet::{SheetItem, SheetLine, bill_sheet};
pub use snags::{Snag, SnagSort};
pub use trial::{Saving, Trial, Tried};
pub use types::{
    Bill, Caution, PairRinse, Plan, PlanLayer, PlanReload, Proof, PurgeSplit, RegionTotal,
    SlotNeed, Swap, SwapCause, ThinTotal, Times, Tower, UnprintedPart, WhyUnprinted,
};
pub use ways::{Way, WayFigures, WayGroup, ways};
