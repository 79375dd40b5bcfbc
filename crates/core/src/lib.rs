//! The rules and the computation of Varichrom, with no interface code, no I/O, no clock and no randomness.
//!
//! Modules depend one way: problem, limits, geometry → shapes → mesh, colour → formats → model → carve → regions → solids → layers → rinse, machine, order →
//! rules → plan → paths → gcode → rehearsal; plan, job → advice → handover; `cargo xtask check` fails where they do not.
//! Geometry is `f64` in millimetres, z up; facets are counter-clockwise seen from outside. Every result is
//! deterministic: the same input gives the same bytes, and parallel work gives what serial work would.

#![warn(
    missing_docs,
    clippy::unwrap_used,
    clippy::match_wildcard_for_single_variants
)]
#![cfg_attr(test, allow(clippy::unwrap_used))]

pub mod advice;
pub mod carve;
pub mod colour;
pub mod drawing;
pub mod formats;
pub mod gcode;
pub mod geometry;
pub mod handover;
pub mod job;
pub mod layers;
pub mod limits;
pub mod machine;
pub mod mesh;
pub mod model;
pub mod order;
pub mod paths;
pub mod plan;
pub mod problem;
pub mod regions;
pub mod rehearsal;
pub mod rinse;
pub mod rules;
pub mod shapes;
pub mod solids;

pub use problem::{Problem, ProblemSort, counted, figure};

/// Whether a field is as it is when it is left out.
pub(crate) fn is_default<T: Default + PartialEq>(value: &T) -> bool {
    *value == T::default()
}
