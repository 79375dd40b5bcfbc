//! Everything that looks at a job and a plan together: what should be known of it, and whatever tries or proposes an edit.

mod bands;
mod between_layers;
mod cautions;
mod checked;
mod deep;
mod depths;
pub mod intake;
mod listed;
pub mod load;
mod poses;
mod snags;
mod takers;
mod task;
mod trial;
mod unprinted;
mod way_figures;
mod ways;

pub use cautions::Caution;
pub use checked::{CheckedPlan, check_extent, checked_plan, planned};
pub use deep::DepthChoice;
pub use depths::{DepthChoices, DepthCost, Depths};
pub use listed::{Advice, AdviceFigures};
pub use poses::{Pose, pose_ways, poses};
pub use snags::{Snag, SnagSort};
pub use task::{filament_in_slot, task};
pub use trial::{Saving, Trial, Tried};
pub use unprinted::{UnprintedPart, WhyUnprinted};
pub use way_figures::{CutDepth, WayFigures};
pub use ways::{Way, WayGroup};
