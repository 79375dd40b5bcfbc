//! Models as they are opened: a mesh looked over once, with what its file says; mended, placed, cut into patches, and facets
//! found again by place.

mod defect_places;
mod mend;
mod open;
mod parted;
mod patches;
mod place;
mod placed;

pub use defect_places::DefectPlace;
pub use mend::{MendReport, Mended, Mending};
pub use open::OpenMesh;
pub use parted::bodies_of;
pub use patches::{Creases, Partition, Patch};
pub(crate) use place::spots;
pub use place::{Namer, Place, PlaceError, namers};
