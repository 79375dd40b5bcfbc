//! The plan: order, swaps, tower and bill of a print.

mod bill;
mod build;
mod causes;
mod depths;
mod filament;
mod tower;
mod types;

pub use build::plan;
pub use depths::{DepthChoices, DepthCost, depth_choices};
pub use filament::Filament;
pub use types::{
    Bill, PairRinse, Plan, PlanLayer, RegionTotal, SlotNeed, Swap, SwapCause, Tower, Yardsticks,
};
