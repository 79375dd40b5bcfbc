//! The plan: order, swaps, tower and bill of a print.

mod bill;
mod build;
mod causes;
mod tower;
mod types;

pub use build::{Filament, plan};
pub use types::{
    Bill, PairRinse, Plan, PlanLayer, RegionTotal, Swap, SwapCause, Tower, Yardsticks,
};
