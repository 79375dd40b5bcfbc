//! A sphere for large inputs: an icosahedron's facets split in four, again and again.

use std::collections::HashMap;
use varichrom_core::mesh::Mesh;

/// A sphere of 20 · 4ⁿ facets, from an icosahedron.
///
/// `splits` = 7 gives 327 680 facets, 8 gives 1 310 720.
pub fn subdivided_sphere(radius: f64, splits: u32) -> Mesh {
    let t = (1.0 + 5f64.sqrt()) / 2.0;
    let unit = |p: [f64; 3]| {
        let l = (p[0] * p[0] + p[1] * p[1] + p[2] * p[2]).sqrt();
        p.map(|c| c / l)
    };
    let mut points: Vec<[f64; 3]> = [
        [-1.0, t, 0.0],
        [1.0, t, 0.0],
        [-1.0, -t, 0.0],
        [1.0, -t, 0.0],
        [0.0, -1.0, t],
        [0.0, 1.0, t],
        [0.0, -1.0, -t],
        [0.0, 1.0, -t],
        [t, 0.0, -1.0],
        [t, 0.0, 1.0],
        [-t, 0.0, -1.0],
        [-t, 0.0, 1.0],
    ]
    .map(unit)
    .to_vec();
    let mut facets: Vec<[u32; 3]> = vec![
        [0, 11, 5],
        [0, 5, 1],
        [0, 1, 7],
        [0, 7, 10],
        [0, 10, 11],
        [1, 5, 9],
        [5, 11, 4],
        [11, 10, 2],
        [10, 7, 6],
        [7, 1, 8],
        [3, 9, 4],
        [3, 4, 2],
        [3, 2, 6],
        [3, 6, 8],
        [3, 8, 9],
        [4, 9, 5],
        [2, 4, 11],
        [6, 2, 10],
        [8, 6, 7],
        [9, 8, 1],
    ];
    for _ in 0..splits {
        let mut middles: HashMap<(u32, u32), u32> = HashMap::with_capacity(facets.len() * 2);
        let mut next = Vec::with_capacity(facets.len() * 4);
        for [a, b, c] in facets {
            let mut middle = |p: u32, q: u32| {
                *middles.entry((p.min(q), p.max(q))).or_insert_with(|| {
                    let (p, q) = (points[p as usize], points[q as usize]);
                    points.push(unit([p[0] + q[0], p[1] + q[1], p[2] + q[2]]));
                    points.len() as u32 - 1
                })
            };
            let (ab, bc, ca) = (middle(a, b), middle(b, c), middle(c, a));
            next.extend([[a, ab, ca], [ab, b, bc], [ca, bc, c], [ab, bc, ca]]);
        }
        facets = next;
    }
    let vertices = points.into_iter().map(|p| p.map(|c| c * radius)).collect();
    Mesh { vertices, facets }
}
