//! Vectors, boxes, affine maps and polygons in space: what every other module stands on.

mod affine;
mod eigen;
mod polygon;
mod rings;
mod vectors;

pub use affine::Affine;
pub(crate) use eigen::eigen;
pub(crate) use polygon::triangles;
pub(crate) use rings::{area_vector, rings};
pub(crate) use vectors::turn;
pub use vectors::{
    Bounds, across_normal, closest_point, cross, dot, facet_area, facet_normal, length, middle,
    normalised, sub,
};
