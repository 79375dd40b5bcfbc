//! PLY (Turk, 1994), binary: facets with colours, coordinates in double precision.

use super::objects::listed;
use super::threemf_write::Package;

/// One mesh of all parts, a colour for each facet. Units are mm, which a comment says; parts are told apart by nothing but not being joined.
pub fn write_ply(package: &Package<'_>) -> Vec<u8> {
    let objects = listed(package);
    let vertices: usize = objects.iter().map(|o| o.vertices.len()).sum();
    let facets: usize = objects.iter().map(|o| o.facets.len()).sum();
    let mut out = format!(
        "ply\nformat binary_little_endian 1.0\ncomment units: mm\nelement vertex {vertices}\nproperty double x\nproperty double y\n\
         property double z\nelement face {facets}\nproperty list uchar int vertex_indices\nproperty uchar red\nproperty uchar green\n\
         property uchar blue\nend_header\n"
    )
    .into_bytes();
    out.reserve(24 * vertices + 16 * facets);
    for c in objects.iter().flat_map(|o| &o.vertices).flatten() {
        out.extend(c.to_le_bytes());
    }
    let mut first = 0u32;
    for object in &objects {
        for (facet, region) in &object.facets {
            out.push(3);
            for v in facet {
                out.extend((v + first).to_le_bytes());
            }
            out.extend(package.regions[*region].colour.0);
        }
        first += object.vertices.len() as u32;
    }
    out
}
