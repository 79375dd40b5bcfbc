//! Relief: a raised or sunken face with its walls, down to the surface around it.

use crate::mesh::{NO_FACET, dot, facet_normal, length, normalised, sub};
use crate::model::{Creases, OpenMesh, Partition};

/// A raised or sunken face, measured.
struct Face {
    /// Unit mean normal.
    normal: [f64; 3],
    /// Height of its middle along the normal, mm.
    level: f64,
    /// Whether its border mostly falls away from it.
    is_raised: bool,
    area: f64,
}

/// Turn from the face from which a facet counts as wall, as a cosine.
const WALL: f64 = 0.93;

impl Creases {
    /// The relief around a facet, ascending: its patch at the crease angle with the walls down (or up) to where the
    /// surface bends back. With `all`, every relief of the same part whose face looks the same way at the same height.
    /// Linear in the mesh with `all`, else in the relief apart from one byte a facet.
    pub fn relief(&self, open: &OpenMesh, seed: u32, crease_deg: f64, all: bool) -> Vec<u32> {
        let patch = self.flood(&open.topology, seed, crease_deg);
        let mut taken = vec![false; open.mesh.facets.len()];
        let mut belongs = taken.clone();
        let Some(face) = measure(open, &patch, &mut belongs) else {
            return patch;
        };
        self.take(open, &patch, &face, crease_deg, &mut taken);
        if all {
            let partition = self.partition(&open.topology, crease_deg);
            let own = partition.patch_of[seed as usize];
            let part = open.part_of[seed as usize];
            for (number, facets) in level_patches(open, &partition, &face, part) {
                if number == own {
                    continue;
                }
                if let Some(other) = measure(open, &facets, &mut belongs)
                    && other.is_raised == face.is_raised
                    && is_level(&face, &other)
                {
                    self.take(open, &facets, &other, crease_deg, &mut taken);
                }
            }
        }
        (0..taken.len() as u32)
            .filter(|f| taken[*f as usize])
            .collect()
    }

    /// Whether the face at a facet is raised rather than sunken. Linear in its patch apart from one byte a facet.
    pub fn is_raised(&self, open: &OpenMesh, seed: u32, crease_deg: f64) -> bool {
        let patch = self.flood(&open.topology, seed, crease_deg);
        let face = measure(open, &patch, &mut vec![false; open.mesh.facets.len()]);
        face.is_some_and(|f| f.is_raised)
    }

    /// Marks a patch and its walls.
    fn take(
        &self,
        open: &OpenMesh,
        patch: &[u32],
        face: &Face,
        crease_deg: f64,
        taken: &mut [bool],
    ) {
        let limit = Self::limit(crease_deg);
        let mut waiting: Vec<u32> = Vec::new();
        for facet in patch {
            taken[*facet as usize] = true;
        }
        // A wall goes away from the face, and stands steep to it.
        let is_wall = |f: u32| {
            facet_normal(&open.mesh.corners(f)).is_none_or(|n| dot(n, face.normal).abs() < WALL)
        };
        let falls = |facet: u32, side: usize| bend(open, facet, side) < 0.0;
        for facet in patch {
            for (side, other) in open.topology.across[*facet as usize]
                .into_iter()
                .enumerate()
            {
                if other != NO_FACET
                    && !taken[other as usize]
                    && falls(*facet, side) == face.is_raised
                    && is_wall(other)
                {
                    taken[other as usize] = true;
                    waiting.push(other);
                }
            }
        }
        while let Some(facet) = waiting.pop() {
            for (side, other) in open.topology.across[facet as usize].into_iter().enumerate() {
                if other == NO_FACET || taken[other as usize] || !is_wall(other) {
                    continue;
                }
                // Along the wall, or over an edge that bends the way the face's own border does.
                let is_sharp = self.cosine(facet, side) < limit;
                if is_sharp
                    && falls(facet, side) != face.is_raised
                    && !is_upright(open, facet, side, face)
                {
                    continue;
                }
                taken[other as usize] = true;
                waiting.push(other);
            }
        }
    }
}

/// Whether an edge runs along the face's normal: a corner between two walls.
fn is_upright(open: &OpenMesh, facet: u32, side: usize, face: &Face) -> bool {
    let c = open.mesh.corners(facet);
    let along = normalised(sub(c[(side + 1) % 3], c[side]));
    along.is_some_and(|d| dot(d, face.normal).abs() > 0.7)
}

/// How the surface bends across an edge: below 0 it falls away, above 0 it rises.
fn bend(open: &OpenMesh, facet: u32, side: usize) -> f64 {
    let corners = open.mesh.corners(facet);
    let other = open.topology.across[facet as usize][side];
    let Some(n) = facet_normal(&corners).filter(|_| other != NO_FACET) else {
        return 0.0;
    };
    let beyond = open.mesh.corners(other);
    // The corner furthest from the facet's plane is the one off the edge.
    let heights = beyond.map(|p| dot(n, sub(p, corners[side])));
    let height = heights
        .into_iter()
        .max_by(|a, b| a.abs().total_cmp(&b.abs()));
    height.unwrap_or(0.0)
}

/// `belongs`: false for every facet, before and after.
fn measure(open: &OpenMesh, patch: &[u32], belongs: &mut [bool]) -> Option<Face> {
    let mut vector = [0.0; 3];
    let mut middle = [0.0; 3];
    let mut area = 0.0;
    for facet in patch {
        let corners = open.mesh.corners(*facet);
        let a = open.facet_areas()[*facet as usize];
        let n = facet_normal(&corners).unwrap_or([0.0; 3]);
        for i in 0..3 {
            vector[i] += a * n[i];
            middle[i] += a * (corners[0][i] + corners[1][i] + corners[2][i]) / 3.0;
        }
        area += a;
    }
    let normal = normalised(vector)?;
    let middle = middle.map(|c| c / area.max(1e-300));
    for facet in patch {
        belongs[*facet as usize] = true;
    }
    let mut falling = 0.0;
    for facet in patch {
        for (side, other) in open.topology.across[*facet as usize]
            .into_iter()
            .enumerate()
        {
            if other == NO_FACET || belongs[other as usize] {
                continue;
            }
            let c = open.mesh.corners(*facet);
            let span = length(sub(c[(side + 1) % 3], c[side]));
            falling -= span * bend(open, *facet, side).signum();
        }
    }
    for facet in patch {
        belongs[*facet as usize] = false;
    }
    Some(Face {
        normal,
        level: dot(middle, normal),
        is_raised: falling >= 0.0,
        area,
    })
}

/// Turn between two faces up to which they look the same way, as a cosine.
const SAME_WAY: f64 = 0.998;

fn is_level(face: &Face, other: &Face) -> bool {
    // A fifth of a usual layer.
    const LEVEL_MM: f64 = 0.04;
    let slack = LEVEL_MM.max(1e-3 * face.area.sqrt());
    dot(face.normal, other.normal) > SAME_WAY && (face.level - other.level).abs() < slack
}

/// Patches of a part whose facets all lie about level with a face, with their facets.
fn level_patches(
    open: &OpenMesh,
    partition: &Partition,
    face: &Face,
    part: u32,
) -> Vec<(u32, Vec<u32>)> {
    let count = partition.count as usize;
    let mut sums = vec![([0.0f64; 3], [0.0f64; 3], 0.0f64); count];
    for (facet, patch) in partition.patch_of.iter().enumerate() {
        if open.part_of[facet] != part {
            continue;
        }
        let corners = open.mesh.corners(facet as u32);
        let a = open.facet_areas()[facet];
        let Some(n) = facet_normal(&corners) else {
            continue;
        };
        let sum = &mut sums[*patch as usize];
        for i in 0..3 {
            sum.0[i] += a * n[i];
            sum.1[i] += a * (corners[0][i] + corners[1][i] + corners[2][i]) / 3.0;
        }
        sum.2 += a;
    }
    let mut chosen: Vec<(u32, Vec<u32>)> = Vec::new();
    let mut place = vec![usize::MAX; count];
    for (patch, (vector, middle, area)) in sums.iter().enumerate() {
        let Some(normal) = normalised(*vector).filter(|_| *area > 0.0) else {
            continue;
        };
        let level = dot(middle.map(|c| c / area), normal);
        let other = Face {
            normal,
            level,
            is_raised: face.is_raised,
            area: *area,
        };
        if is_level(face, &other) {
            place[patch] = chosen.len();
            chosen.push((patch as u32, Vec::new()));
        }
    }
    for (facet, patch) in partition.patch_of.iter().enumerate() {
        if let Some((_, facets)) = chosen.get_mut(place[*patch as usize]) {
            facets.push(facet as u32);
        }
    }
    chosen
}
