//! The plan: order, swaps, tower and bill of a print.

mod bill;
mod build;
mod causes;
mod depths;
mod tower;
mod types;

pub use build::{Filament, plan};
pub use depths::{DepthChoices, DepthCost, depth_choices};
pub use types::{
    Bill, PairRinse, Plan, PlanLayer, RegionTotal, Swap, SwapCause, Tower, Yardsticks,
};
