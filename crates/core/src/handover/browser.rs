//! Meshes and patches as the browser gets them: little-endian, with a versioned header (docs/wire-format.md).

use crate::carve::{Label, Labels};
use crate::mesh::{NO_FACET, corner_normals};
use crate::model::{OpenMesh, Partition};

const VERSION: u32 = 1;

/// A mesh for drawing and picking.
///
/// `VCM1`, then u32: version, vertices V, facets F, parts; then f32 positions (3 V), u32 vertex numbers (3 F),
/// u32 part of each facet (F), and a normal for every corner as three signed bytes and a zero (3 F · 4 bytes).
pub fn mesh_bytes(open: &OpenMesh) -> Vec<u8> {
    let (v, f) = (open.mesh.vertices.len(), open.mesh.facets.len());
    let mut out = Vec::with_capacity(20 + 12 * v + 28 * f);
    out.extend_from_slice(b"VCM1");
    for n in [VERSION, v as u32, f as u32, open.parts.len() as u32] {
        out.extend_from_slice(&n.to_le_bytes());
    }
    for c in open.mesh.vertices.iter().flatten() {
        out.extend_from_slice(&(*c as f32).to_le_bytes());
    }
    for n in open.mesh.facets.iter().flatten().chain(open.part_of.iter()) {
        out.extend_from_slice(&n.to_le_bytes());
    }
    for [x, y, z] in corner_normals(&open.mesh).iter().flatten() {
        out.extend_from_slice(&[*x as u8, *y as u8, *z as u8, 0]);
    }
    out
}

/// Borders are left out beyond this many: they are only drawn, and a mesh that rough is all borders.
const MOST_BORDERS: usize = 400_000;

/// The patches at one crease angle.
///
/// `VCP1`, then u32: version, facets F, patches, border edges E; then u32 patch of each facet (F), the two patches at
/// every border edge as u32 (2 E), and its two ends as f32 (6 E).
pub fn partition_bytes(open: &OpenMesh, partition: &Partition) -> Vec<u8> {
    let mut borders = Vec::new();
    'all: for (facet, across) in open.topology.across.iter().enumerate() {
        let patch = partition.patch_of[facet];
        for (side, other) in across.iter().enumerate() {
            let beyond = if *other == NO_FACET {
                u32::MAX
            } else {
                partition.patch_of[*other as usize]
            };
            if beyond == patch || (*other != NO_FACET && *other < facet as u32) {
                continue;
            }
            if borders.len() >= MOST_BORDERS {
                borders.clear();
                break 'all;
            }
            let corners = open.mesh.corners(facet as u32);
            borders.push((patch, beyond, corners[side], corners[(side + 1) % 3]));
        }
    }
    let f = partition.patch_of.len();
    let mut out = Vec::with_capacity(20 + 4 * f + 32 * borders.len());
    out.extend_from_slice(b"VCP1");
    for n in [VERSION, f as u32, partition.count, borders.len() as u32] {
        out.extend_from_slice(&n.to_le_bytes());
    }
    for n in &partition.patch_of {
        out.extend_from_slice(&n.to_le_bytes());
    }
    for (a, b, ..) in &borders {
        out.extend_from_slice(&a.to_le_bytes());
        out.extend_from_slice(&b.to_le_bytes());
    }
    for (.., from, to) in &borders {
        for c in from.iter().chain(to) {
            out.extend_from_slice(&(*c as f32).to_le_bytes());
        }
    }
    out
}

/// The divided facets of a model.
///
/// `VCD1`, then u32: version, triangles T, 0, 0; then u32 facet of each triangle (T), f32 corners (9 T), f32 shares of
/// the facet's edges from corner 0 to corners 1 and 2 at each corner (6 T), and u16 region of each triangle (T).
/// Triangles are in ascending order of their facets. `region_of`: region number of a label on a facet.
pub fn division_bytes(
    open: &OpenMesh,
    labels: &Labels,
    region_of: &dyn Fn(u32, Label) -> u16,
) -> Vec<u8> {
    let count: usize = labels.divisions().map(|(_, d)| d.triangles.len()).sum();
    let mut out = Vec::with_capacity(20 + 66 * count);
    out.extend_from_slice(b"VCD1");
    for n in [VERSION, count as u32, 0, 0] {
        out.extend_from_slice(&n.to_le_bytes());
    }
    for (facet, divided) in labels.divisions() {
        for _ in &divided.triangles {
            out.extend_from_slice(&facet.to_le_bytes());
        }
    }
    for (facet, divided) in labels.divisions() {
        let corners = open.mesh.corners(facet);
        for t in 0..divided.triangles.len() {
            for c in divided.corners(t, &corners).iter().flatten() {
                out.extend_from_slice(&(*c as f32).to_le_bytes());
            }
        }
    }
    for (_, divided) in labels.divisions() {
        for spot in divided.triangles.iter().flatten() {
            for share in divided.spots[*spot as usize].shares() {
                out.extend_from_slice(&(share as f32).to_le_bytes());
            }
        }
    }
    for (facet, divided) in labels.divisions() {
        for label in &divided.labels {
            out.extend_from_slice(&region_of(facet, *label).to_le_bytes());
        }
    }
    out
}
