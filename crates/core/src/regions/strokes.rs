//! Dab and dip: strokes over the surface.

use super::paths::{PathField, facets_along};
use crate::mesh::{NO_FACET, dot, facet_normal, normalised, sub};
use crate::model::OpenMesh;
use serde::{Deserialize, Serialize};
use std::collections::HashMap;

/// A stroke over one model.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Stroke {
    /// Name of the model in the job.
    pub model: String,
    /// Points it passes over, on the surface, mm.
    pub path: Vec<[f64; 3]>,
    /// How far it reaches, mm.
    pub radius_mm: f64,
    /// From where it was drawn, mm: what is turned away from there is not seen.
    pub eye: [f64; 3],
}

/// How a stroke takes surface.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Reach {
    /// The surface that is seen, as far as it hangs together with the stroke.
    Dab,
    /// Everything inside, seen or not.
    Dip,
}

impl Stroke {
    /// The facets a stroke may take something of, ascending; empty if no point of it lies on the surface. Costs what
    /// lies around the stroke.
    pub(crate) fn facets(&self, open: &OpenMesh, field: &PathField, reach: Reach) -> Vec<u32> {
        let tree = open.tree();
        let near = 0.1f64.max(1e-4 * crate::mesh::length(open.bounds().size()));
        let seeds: Vec<u32> = self
            .path
            .iter()
            .filter_map(|p| self.facet_under(open, *p, near))
            .collect();
        if seeds.is_empty() {
            return Vec::new();
        }
        let around = facets_along(tree, &self.path, self.radius_mm);
        match reach {
            Reach::Dip => around,
            Reach::Dab => self.seen(open, field, &around, &seeds),
        }
    }

    /// The facet a point of the path lies on: of those at the same distance the one that most faces the eye.
    fn facet_under(&self, open: &OpenMesh, p: [f64; 3], reach: f64) -> Option<u32> {
        let nearest = open.tree().nearest(p, reach)?;
        let view = normalised(sub(self.eye, p))?;
        let facing = |f: &u32| facet_normal(&open.mesh.corners(*f)).map_or(-2.0, |n| dot(n, view));
        let among = open
            .tree()
            .within(p, nearest.distance2.sqrt() + 1e-5 * reach.max(1.0));
        among
            .into_iter()
            .max_by(|a, b| facing(a).total_cmp(&facing(b)).then(b.cmp(a)))
            .or(Some(nearest.facet))
    }

    /// Those that face the eye and hang together with the seeds inside the stroke.
    fn seen(&self, open: &OpenMesh, field: &PathField, around: &[u32], seeds: &[u32]) -> Vec<u32> {
        let faces = |f: u32| {
            let corners = open.mesh.corners(f);
            facet_normal(&corners).is_none_or(|n| dot(n, sub(self.eye, corners[0])) > 0.0)
        };
        let mut state: HashMap<u32, bool> = around.iter().map(|f| (*f, false)).collect();
        let mut waiting: Vec<u32> = Vec::new();
        for seed in seeds {
            if let Some(taken) = state.get_mut(seed)
                && !*taken
                && faces(*seed)
            {
                *taken = true;
                waiting.push(*seed);
            }
        }
        while let Some(facet) = waiting.pop() {
            let corners = open.mesh.corners(facet);
            for (k, other) in open.topology.across[facet as usize].into_iter().enumerate() {
                if other == NO_FACET || state.get(&other) != Some(&false) || !faces(other) {
                    continue;
                }
                if field.meets(corners[k], corners[(k + 1) % 3]) {
                    state.insert(other, true);
                    waiting.push(other);
                }
            }
        }
        let mut taken: Vec<u32> = state
            .into_iter()
            .filter_map(|(f, is_taken)| is_taken.then_some(f))
            .collect();
        taken.sort_unstable();
        taken
    }
}
