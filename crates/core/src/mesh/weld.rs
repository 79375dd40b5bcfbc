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

/// The facets over welded vertices: equal positions become one vertex, vertices no facet uses are dropped. Numbered in
/// order of first use; the facets keep their order and number. −0 counts as 0.
///
/// `pieces`: first facets of pieces that must not grow together, ascending; empty if everything may.
///
/// # Cost
/// Linear, as for [`weld`].
pub(crate) fn weld_indexed(vertices: &[[f64; 3]], facets: &[[u32; 3]], pieces: &[u32]) -> Mesh {
    let mut slots = (vertices.len() * 2).next_power_of_two().max(16);
    while slots * 6 < vertices.len() * 8 {
        slots *= 2;
    }
    let mut table = vec![FREE; slots];
    let mut welded = vec![FREE; vertices.len()];
    let mut found: Vec<[f64; 3]> = Vec::with_capacity(vertices.len());
    let mut pieces = pieces.iter().copied().peekable();
    // Vertices found before this piece began belong to others.
    let mut own = 0u32;
    let mut out = Vec::with_capacity(facets.len());
    for (index, facet) in facets.iter().enumerate() {
        while pieces.next_if(|first| *first as usize <= index).is_some() {
            own = found.len() as u32;
        }
        out.push(facet.map(|v| {
            let known = welded[v as usize];
            if known != FREE && known >= own {
                return known;
            }
            let position = vertices[v as usize].map(|c| c + 0.0);
            let mut at = hash_wide(&position) & (slots - 1);
            let id = loop {
                let id = table[at];
                if id == FREE {
                    let id = found.len() as u32;
                    found.push(position);
                    // A vertex that several pieces use counts once for each.
                    if found.len() * 8 > slots * 6 {
                        slots *= 2;
                        table = rehash_wide(&found, slots);
                    } else {
                        table[at] = id;
                    }
                    break id;
                }
                if id >= own && found[id as usize] == position {
                    break id;
                }
                at = (at + 1) & (slots - 1);
            };
            welded[v as usize] = id;
            id
        }));
    }
    Mesh {
        vertices: found,
        facets: out,
    }
}

fn rehash_wide(found: &[[f64; 3]], slots: usize) -> Vec<u32> {
    let mut table = vec![FREE; slots];
    for (id, position) in found.iter().enumerate() {
        let mut at = hash_wide(position) & (slots - 1);
        while table[at] != FREE {
            at = (at + 1) & (slots - 1);
        }
        table[at] = id as u32;
    }
    table
}

fn hash_wide(position: &[f64; 3]) -> usize {
    let mixed = position.iter().fold(0u64, |h, c| {
        (h.rotate_left(23) ^ c.to_bits()).wrapping_mul(0x9E37_79B9_7F4A_7C15)
    });
    let folded = (mixed ^ (mixed >> 32)).wrapping_mul(0xD6E8_FEB8_6659_FD93);
    (folded >> 29) as usize
}

/// Multiply-and-fold of the three bit patterns; the constants are odd 64-bit numbers with mixed bits.
fn hash(corner: &[f32; 3]) -> usize {
    let xy = u64::from(corner[0].to_bits()) | (u64::from(corner[1].to_bits()) << 32);
    let z = u64::from(corner[2].to_bits());
    let mixed = (xy ^ z.wrapping_mul(0x9E37_79B9_7F4A_7C15)).wrapping_mul(0xD6E8_FEB8_6659_FD93);
    let folded = (mixed ^ (mixed >> 32)).wrapping_mul(0xD6E8_FEB8_6659_FD93);
    (folded >> 29) as usize
}
