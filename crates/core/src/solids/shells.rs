//! A body as its separate shells, each outer one with the cavities inside it.

use super::solid::Solid;
use crate::mesh::bodies_of;

/// The bodies of which a body consists, by lowest facet. A body of one shell, with any cavities, comes back alone.
///
/// # Cost
/// Linear, plus a few rays for each shell that may lie within another.
pub fn split_shells(solid: &Solid) -> Vec<Solid> {
    let (body_of, count) = bodies_of(&solid.mesh());
    let mut facets: Vec<Vec<u32>> = vec![Vec::new(); count];
    for (facet, body) in body_of.iter().enumerate() {
        facets[*body as usize].push(facet as u32);
    }
    facets.iter().map(|f| solid.only(f)).collect()
}
