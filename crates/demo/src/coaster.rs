//! The compass-rose coaster: a disc, a ring and the points of a rose as overlapping parts.

use super::{extrude, revolve, together};
use varichrom_core::mesh::Mesh;

/// Half of the coaster's width, mm.
pub const COASTER_RADIUS_MM: f64 = 45.0;

/// Long and short points of the rose.
pub const COASTER_POINTS: usize = 8;

/// A disc of 4 mm, a ring sunk into its edge, and eight points of a rose sunk into its top and standing 0.6 mm proud:
/// ten parts that overlap.
pub fn compass_coaster() -> Mesh {
    let r = COASTER_RADIUS_MM;
    let disc = revolve(&[(0.0, 0.0), (r, 0.0), (r, 4.0), (0.0, 4.0)], 144);
    let ring = revolve_ring(r - 7.0, r - 4.0, 3.0, 4.6, 144);
    let mut parts = vec![disc, ring];
    for point in 0..COASTER_POINTS {
        let angle = std::f64::consts::TAU * point as f64 / COASTER_POINTS as f64;
        let (long, wide) = if point % 2 == 0 {
            (34.0, 5.0)
        } else {
            (24.0, 4.0)
        };
        let turn = |p: [f64; 2]| {
            let (s, c) = angle.sin_cos();
            [c * p[0] - s * p[1], s * p[0] + c * p[1]]
        };
        // Points start a little off the middle, so that they do not touch each other.
        let outline = [[6.0, 0.0], [12.0, -wide], [long, 0.0], [12.0, wide]];
        let outline = outline.map(turn).to_vec();
        parts.push(extrude(&[outline], &[], 3.0, 4.6, None));
    }
    together(&parts)
}

/// A closed ring of rectangular section about the z axis.
fn revolve_ring(inner: f64, outer: f64, low: f64, high: f64, sides: usize) -> Mesh {
    let profile = [(inner, low), (outer, low), (outer, high), (inner, high)];
    let mut mesh = Mesh {
        vertices: Vec::new(),
        facets: Vec::new(),
    };
    for (radius, z) in profile {
        for i in 0..sides {
            let angle = std::f64::consts::TAU * i as f64 / sides as f64;
            mesh.vertices
                .push([radius * angle.cos(), radius * angle.sin(), z]);
        }
    }
    let n = sides as u32;
    for k in 0..4u32 {
        for i in 0..n {
            let (next, up) = ((i + 1) % n, (k + 1) % 4);
            let [a, b, c, d] = [k * n + i, k * n + next, up * n + next, up * n + i];
            mesh.facets.push([a, b, c]);
            mesh.facets.push([a, c, d]);
        }
    }
    mesh
}
