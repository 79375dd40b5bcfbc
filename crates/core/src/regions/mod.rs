//! What selects facets by shape: the turn of the surface at each edge, the patches it makes, and finding a facet
//! again by position.

mod patches;
mod place;

pub use patches::{Creases, Partition, Patch};
pub use place::{Place, PlaceError};
