//! A body as its separate shells, each outer one with the cavities inside it.

use super::solid::Solid;
use crate::model::bodies_of;

/// The bodies of which a body consists, by lowest facet. A body of one shell, with any cavities, comes back alone.
///
/// # Cost
/// Linear, plus a few rays for each shell that may lie within another.
pub fn split_shells(solid: &Solid) -> Vec<Solid> {
    let (body_of, count) = bodies_of(&solid.mesh);
    solid.parted(&body_of, count)
}
