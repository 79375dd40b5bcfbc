//! The order of slots in every layer, and who sits in the feeder when colours outnumber its places.
//!
//! Nothing here knows meshes, filaments or printers: slots are numbers from 0, costs are numbers.

mod exact;
mod joint;
mod plain;
mod reloads;
mod turns;

pub use exact::{MOST_SLOTS_IN_A_LAYER, least_cost_order};
pub use joint::{Joint, MOST_STEPS, ReloadWeight, least_with_reloads};
pub use plain::{cost_of, greedy_order, number_order};
pub use reloads::{Reload, Reloads, fewest_reloads};
pub use turns::{CostTable, Order, OrderError, Turn};
