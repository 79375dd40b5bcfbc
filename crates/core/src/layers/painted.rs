//! The surface of one body as it is painted.

use super::body::Body;
use super::label::Claims;
use super::survey::Survey;
use crate::carve::{Labels, shares_at};

/// The surface of a body, in the body's frame, with its regions.
#[derive(Clone, Copy)]
pub(super) struct Painted<'a> {
    pub(super) body: &'a Body,
    pub(super) labels: &'a Labels,
    /// Whose is what has no label.
    pub(super) own: u16,
}

impl<'a> Painted<'a> {
    pub(super) fn of(survey: &'a Survey, claims: &Claims<'a>, body: usize) -> Painted<'a> {
        Painted {
            body: &survey.bodies[body],
            labels: claims.labels[body],
            own: claims.own[body],
        }
    }

    /// Whether a facet of the mesh is surface of the body.
    pub(super) fn counts(&self, facet: u32) -> bool {
        let open = &self.body.open;
        open.part_of[facet as usize] == self.body.part && !open.is_inner(facet)
    }

    /// Whose a facet is that is not divided.
    pub(super) fn whole(&self, facet: u32) -> Option<u16> {
        let label = self.labels.whole(facet)?;
        Some(label.unwrap_or(self.own))
    }

    /// Whose a point of a facet is.
    pub(super) fn region_at(&self, facet: u32, q: [f64; 3]) -> u16 {
        self.whole(facet).unwrap_or_else(|| {
            let corners = self.body.open.mesh.corners(facet);
            let label = self.labels.at(facet, shares_at(q, &corners));
            label.unwrap_or(self.own)
        })
    }
}
