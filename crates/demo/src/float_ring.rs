//! The glass float held inside a cork ring: two parts.

use super::{revolve, together};
use varichrom_core::mesh::Mesh;

/// Radius of the float, mm.
const FLOAT_MM: f64 = 14.0;
/// Radius of the ring's middle line, and of its section, mm.
const RING_MM: (f64, f64) = (19.2, 6.0);

/// A sphere in a torus, 0.4 mm apart at the nearest, both standing on z = 0 by a small flat.
pub fn float_in_ring() -> Mesh {
    let flat = 0.35;
    let sphere: Vec<(f64, f64)> = (0..=64)
        .map(|i| {
            let angle = (-90.0 + 180.0 * f64::from(i) / 64.0).to_radians();
            let radius = if i == 0 || i == 64 {
                0.0
            } else {
                FLOAT_MM * angle.cos()
            };
            (radius, (FLOAT_MM + FLOAT_MM * angle.sin() - flat).max(0.0))
        })
        .collect();
    together(&[
        revolve(&sphere, 128),
        torus(RING_MM.0, RING_MM.1, flat, 160, 72),
    ])
}

fn torus(major: f64, minor: f64, flat: f64, around: usize, section: usize) -> Mesh {
    let mut vertices = Vec::new();
    for i in 0..around {
        let a = std::f64::consts::TAU * i as f64 / around as f64;
        for j in 0..section {
            let b = std::f64::consts::TAU * j as f64 / section as f64;
            let radius = major + minor * b.cos();
            let z = (minor + minor * b.sin() - flat).max(0.0);
            vertices.push([radius * a.cos(), radius * a.sin(), z]);
        }
    }
    let id = |i: usize, j: usize| ((i % around) * section + j % section) as u32;
    let mut facets = Vec::new();
    for i in 0..around {
        for j in 0..section {
            let (a, b, c, d) = (id(i, j), id(i + 1, j), id(i + 1, j + 1), id(i, j + 1));
            facets.extend([[a, b, c], [a, c, d]]);
        }
    }
    Mesh { vertices, facets }
}
