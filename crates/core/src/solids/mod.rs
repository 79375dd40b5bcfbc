//! Closed parts: dividing them by shells, planes and regions, filling pockets, and what two of them share.
//!
//! Every operation takes closed bodies and returns closed bodies, or refuses and says where.

mod boolean;
mod cap;
mod capped;
mod crossing;
mod depth;
mod floor;
mod inlay;
mod laid;
mod overlap;
mod plane;
mod prism;
mod sheet;
mod shells;
mod solid;
mod teeth;
mod walls;

pub use boolean::{BooleanError, Wanted, boolean};
pub(crate) use cap::lid;
pub use capped::capped;
pub use inlay::{Inlay, InlayError, InlayOptions, inlay, narrowest, walls_moved};
pub use overlap::{Meeting, Pair, meetings};
pub use plane::{CutError, Halves, Plane, cut_by_plane};
pub use prism::{ThroughError, straight_through};
pub use sheet::{Sheet, SheetDepth, SheetError, Sheets, sheet, sheets};
pub use shells::split_shells;
pub use solid::{Face, Flaw, Solid};
pub use teeth::{Interlocked, Joint, TeethError, TeethForm, Tooth, interlocked};
