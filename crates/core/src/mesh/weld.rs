//! Joining equal corners of loose facets into shared vertices.

use super::Mesh;

const FREE: u32 = u32::MAX;

/// A mesh whose equal corners are one vertex. Vertices are numbered in order of first use; the facets keep their
/// order and number. Corners are equal when all three coordinates are, with −0 taken as 0.
///
/// `corners`: finite, in mm.
///
/// # Cost
/// Linear: one open-addressing table of `u32`, no allocation per corner.
pub fn weld(corners: &[[[f32; 3]; 3]]) -> Mesh {
    // A closed mesh has half as many vertices as facets; the table grows when the mesh is looser than that.
    let mut slots = (corners.len() + 16).next_power_of_two();
    let mut table = vec![FREE; slots];
    let mut found: Vec<[f32; 3]> = Vec::with_capacity(corners.len() / 2 + 8);
    let mut facets = Vec::with_capacity(corners.len());
    for facet in corners {
        let ids = facet.map(|corner| {
            let corner = corner.map(|c| c + 0.0);
            let mut at = hash(&corner) & (slots - 1);
            loop {
                let id = table[at];
                if id == FREE {
                    table[at] = found.len() as u32;
                    found.push(corner);
                    return found.len() as u32 - 1;
                }
                if found[id as usize] == corner {
                    return id;
                }
                at = (at + 1) & (slots - 1);
            }
        });
        facets.push(ids);
        if found.len() * 8 > slots * 6 {
            slots *= 2;
            table = rehash(&found, slots);
        }
    }
    let vertices = found.iter().map(|v| v.map(f64::from)).collect();
    Mesh { vertices, facets }
}

fn rehash(found: &[[f32; 3]], slots: usize) -> Vec<u32> {
    let mut table = vec![FREE; slots];
    for (id, corner) in found.iter().enumerate() {
        let mut at = hash(corner) & (slots - 1);
        while table[at] != FREE {
            at = (at + 1) & (slots - 1);
        }
        table[at] = id as u32;
    }
    table
}

/// Multiply-and-fold of the three bit patterns; the constants are odd 64-bit numbers with mixed bits.
fn hash(corner: &[f32; 3]) -> usize {
    let xy = u64::from(corner[0].to_bits()) | (u64::from(corner[1].to_bits()) << 32);
    let z = u64::from(corner[2].to_bits());
    let mixed = (xy ^ z.wrapping_mul(0x9E37_79B9_7F4A_7C15)).wrapping_mul(0xD6E8_FEB8_6659_FD93);
    let folded = (mixed ^ (mixed >> 32)).wrapping_mul(0xD6E8_FEB8_6659_FD93);
    (folded >> 29) as usize
}
