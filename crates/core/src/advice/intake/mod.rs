//! What a maker wants to know about a model that comes in: what it is, whether it has the right size, whether it can
//! be split, and which way of colouring suits it.

mod routes;
mod size;

pub use routes::{Route, RouteKind, Split, split};
pub use size::{SizeDoubt, size_doubt};
