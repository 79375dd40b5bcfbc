//! Finding a facet again by where it is: edits name places, never facet numbers.

use crate::mesh::{OpenMesh, dot, facet_normal, length, normalised};
use serde::{Deserialize, Serialize};

/// A place on a model's surface.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct Place {
    /// Name of the model in the job.
    pub model: String,
    /// A point on the surface, in mm of the model's file.
    pub point: [f64; 3],
    /// The outward direction there; tells the two sides of a thin wall or an edge apart.
    pub normal: [f64; 3],
}

/// Why a place is not on the mesh.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum PlaceError {
    /// A coordinate is not finite, or the normal has no direction.
    #[error("the point or its normal is not usable numbers")]
    NotANumber,
    /// No surface near the point.
    #[error("the point {0:?} is not on the model's surface")]
    OffTheMesh([f64; 3]),
}

/// How far from the surface a seed may lie, in mm: well under a line's width, well over what 32-bit floats lose.
const REACH_MM: f64 = 0.1;

impl Place {
    /// The facet at this place: of those at the least distance, the one that faces most like the normal (then the
    /// lowest number).
    ///
    /// # Errors
    /// [`PlaceError::OffTheMesh`] if no surface lies within 0.1 mm (or 10⁻⁴ of the model's size, if larger).
    pub fn facet(&self, open: &OpenMesh) -> Result<u32, PlaceError> {
        let finite = self.point.iter().chain(&self.normal).all(|c| c.is_finite());
        let Some(normal) = normalised(self.normal).filter(|_| finite) else {
            return Err(PlaceError::NotANumber);
        };
        let size = length(open.mesh.bounds().size());
        let reach = REACH_MM.max(1e-4 * size);
        let nearest = open
            .tree()
            .nearest(self.point, reach, None)
            .ok_or(PlaceError::OffTheMesh(self.point))?;
        let tie = 1e-6 * size.max(1.0);
        let likeness =
            |f: &u32| facet_normal(&open.mesh.corners(*f)).map_or(-2.0, |n| dot(n, normal));
        let mut best = nearest.facet;
        for facet in open
            .tree()
            .within(self.point, nearest.distance2.sqrt() + tie)
        {
            if likeness(&facet) > likeness(&best) + 1e-9 {
                best = facet;
            }
        }
        Ok(best)
    }
}
