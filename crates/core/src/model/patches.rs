//! Patches: facets that hang together until the surface turns by more than the crease angle.

use super::OpenMesh;
use crate::mesh::{Mesh, NO_FACET, Topology, facet_area, facet_normal, length, sub};
use rayon::prelude::*;

/// The turn of the surface at every edge, kept as its cosine.
pub struct Creases {
    /// Cosine of the turn across edges 0→1, 1→2, 2→0 of each facet; −2 where no facet lies across.
    cosines: Vec<[f32; 3]>,
}

/// A cut of a mesh's surface into patches at one crease angle.
#[derive(Debug, Clone, PartialEq)]
pub struct Partition {
    /// Patch of each facet. Patches are numbered by lowest facet.
    pub patch_of: Vec<u32>,
    /// Number of patches.
    pub count: u32,
}

/// What one patch amounts to.
#[derive(Debug, Clone, PartialEq)]
pub struct Patch {
    /// Facets in it.
    pub facets: u32,
    /// Its area in mm².
    pub area_mm2: f64,
    /// Its unit normal if it is flat: area vector as long as the area is large, within 10⁻⁶.
    pub normal: Option<[f64; 3]>,
    /// Patches across its border, ascending.
    pub neighbours: Vec<u32>,
}

/// Slack on the crease angle, so that a surface that turns by exactly the angle asked for belongs together although
/// its corners were rounded to 32-bit floats.
const SLACK_DEG: f64 = 0.01;

impl Creases {
    /// The turns of a mesh; linear. A facet without area has no direction of its own: it counts as flat with the
    /// facet across its longest edge and as a sharp edge to the others, so that it joins nothing that its
    /// neighbours do not.
    pub fn of(mesh: &Mesh, topology: &Topology) -> Creases {
        let normals: Vec<Option<[f32; 3]>> = (0..mesh.facets.len() as u32)
            .into_par_iter()
            .map(|f| facet_normal(&mesh.corners(f)).map(|n| n.map(|c| c as f32)))
            .collect();
        let longest = |f: usize| {
            let c = mesh.corners(f as u32);
            let lengths = [0, 1, 2].map(|i| length(sub(c[(i + 1) % 3], c[i])));
            (0..3)
                .max_by(|a, b| lengths[*a].total_cmp(&lengths[*b]))
                .unwrap_or(0)
        };
        let leans_on = |flat: usize, other: usize| {
            normals[flat].is_none() && topology.across[flat][longest(flat)] == other as u32
        };
        let cosines = (0..mesh.facets.len())
            .into_par_iter()
            .map(|f| {
                topology.across[f].map(|other| {
                    if other == NO_FACET {
                        return -2.0;
                    }
                    match (normals[f], normals[other as usize]) {
                        (Some(a), Some(b)) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2],
                        _ if leans_on(f, other as usize) || leans_on(other as usize, f) => 1.0,
                        _ => -1.0,
                    }
                })
            })
            .collect();
        Creases { cosines }
    }

    /// The smallest cosine that still belongs together at this angle.
    pub(crate) fn limit(crease_deg: f64) -> f32 {
        (crease_deg + SLACK_DEG).min(180.0).to_radians().cos() as f32
    }

    /// Cosine of the turn across one side of a facet; −2 where no facet lies across.
    pub(crate) fn cosine(&self, facet: u32, side: usize) -> f32 {
        self.cosines[facet as usize][side]
    }

    /// The facets of the patch around `seed`, ascending. Costs what the patch has, not what the mesh has,
    /// apart from one bit per facet.
    pub fn flood(&self, topology: &Topology, seed: u32, crease_deg: f64) -> Vec<u32> {
        let limit = Self::limit(crease_deg);
        let mut seen = vec![false; self.cosines.len()];
        seen[seed as usize] = true;
        let mut patch = vec![seed];
        let mut next = 0;
        while let Some(&facet) = patch.get(next) {
            next += 1;
            for (side, other) in topology.across[facet as usize].into_iter().enumerate() {
                if self.cosines[facet as usize][side] >= limit && !seen[other as usize] {
                    seen[other as usize] = true;
                    patch.push(other);
                }
            }
        }
        patch.sort_unstable();
        patch
    }

    /// All patches at a crease angle in degrees; linear.
    pub fn partition(&self, topology: &Topology, crease_deg: f64) -> Partition {
        const NONE: u32 = u32::MAX;
        let limit = Self::limit(crease_deg);
        let mut patch_of = vec![NONE; self.cosines.len()];
        let mut count = 0;
        let mut stack: Vec<u32> = Vec::new();
        for seed in 0..patch_of.len() {
            if patch_of[seed] != NONE {
                continue;
            }
            patch_of[seed] = count;
            stack.push(seed as u32);
            while let Some(facet) = stack.pop() {
                let cosines = self.cosines[facet as usize];
                let across = topology.across[facet as usize];
                for side in 0..3 {
                    if cosines[side] >= limit && patch_of[across[side] as usize] == NONE {
                        patch_of[across[side] as usize] = count;
                        stack.push(across[side]);
                    }
                }
            }
            count += 1;
        }
        Partition { patch_of, count }
    }
}

impl Partition {
    /// Facets, area, normal and neighbours of every patch, in patch order.
    pub fn describe(&self, open: &OpenMesh) -> Vec<Patch> {
        let mut sums = vec![([0.0f64; 3], 0.0f64, 0u32); self.count as usize];
        let mut borders: Vec<(u32, u32)> = Vec::new();
        for (facet, patch) in self.patch_of.iter().enumerate() {
            let corners = open.mesh.corners(facet as u32);
            let area = facet_area(&corners);
            let sum = &mut sums[*patch as usize];
            if let Some(n) = facet_normal(&corners) {
                for i in 0..3 {
                    sum.0[i] += n[i] * area;
                }
            }
            sum.1 += area;
            sum.2 += 1;
            for other in open.topology.across[facet] {
                if other != NO_FACET && self.patch_of[other as usize] != *patch {
                    borders.push((*patch, self.patch_of[other as usize]));
                }
            }
        }
        borders.sort_unstable();
        borders.dedup();
        sums.into_iter()
            .enumerate()
            .map(|(index, (vector, area_mm2, facets))| {
                let l = length(vector);
                let first = borders.partition_point(|b| b.0 < index as u32);
                Patch {
                    facets,
                    area_mm2,
                    normal: (area_mm2 > 0.0 && l > area_mm2 * (1.0 - 1e-6))
                        .then(|| vector.map(|c| c / l)),
                    neighbours: borders[first..]
                        .iter()
                        .take_while(|b| b.0 == index as u32)
                        .map(|b| b.1)
                        .collect(),
                }
            })
            .collect()
    }
}
