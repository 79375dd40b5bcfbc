//! Binary STL out: shape only, no colour, no parts, no units.

use crate::mesh::{Mesh, facet_normal};

/// A binary STL file of the chosen facets: 84 + 50 n bytes, corners rounded to 32-bit floats.
///
/// `facets`: indices into the mesh, in the order to be written. The header begins with `label`, never with the
/// word that marks a text file.
pub fn write_stl(mesh: &Mesh, facets: impl ExactSizeIterator<Item = u32>, label: &str) -> Vec<u8> {
    let mut out = Vec::with_capacity(84 + 50 * facets.len());
    let mut header = [b' '; 80];
    let title = format!("binary STL, mm: {label}");
    let length = title.len().min(80);
    header[..length].copy_from_slice(&title.as_bytes()[..length]);
    out.extend_from_slice(&header);
    out.extend_from_slice(&(facets.len() as u32).to_le_bytes());
    for facet in facets {
        let corners = mesh.corners(facet);
        let normal = facet_normal(&corners).unwrap_or([0.0; 3]);
        for value in normal.iter().chain(corners.iter().flatten()) {
            out.extend_from_slice(&(*value as f32).to_le_bytes());
        }
        out.extend_from_slice(&[0, 0]);
    }
    out
}
