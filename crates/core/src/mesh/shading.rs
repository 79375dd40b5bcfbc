//! Normals for drawing only: round surfaces look round, edges stay sharp.

use super::Mesh;
use crate::geometry::{cross, dot, facet_normal, normalised, sub};
use rayon::prelude::*;

/// Turn beyond which two facets are not smoothed into each other.
const SHARP_COSINE: f64 = 0.82;

/// A normal for each corner of each facet, as signed bytes of a unit vector: the area-weighted mean over the facets
/// at that vertex that face within 35° of this one. Linear for meshes whose vertices have few facets.
pub fn corner_normals(mesh: &Mesh) -> Vec<[[i8; 3]; 3]> {
    let mut starts = vec![0u32; mesh.vertices.len() + 1];
    for v in mesh.facets.iter().flatten() {
        starts[*v as usize + 1] += 1;
    }
    for i in 1..starts.len() {
        starts[i] += starts[i - 1];
    }
    let mut fill = starts.clone();
    let mut around = vec![0u32; 3 * mesh.facets.len()];
    for (facet, ids) in mesh.facets.iter().enumerate() {
        for v in ids {
            around[fill[*v as usize] as usize] = facet as u32;
            fill[*v as usize] += 1;
        }
    }
    let areas: Vec<[f64; 3]> = (0..mesh.facets.len() as u32)
        .into_par_iter()
        .map(|f| {
            let [a, b, c] = mesh.corners(f);
            cross(sub(b, a), sub(c, a))
        })
        .collect();
    // A vertex where thousands of facets meet would make this quadratic; the first few are enough to look right.
    const MOST_AROUND: usize = 64;
    (0..mesh.facets.len())
        .into_par_iter()
        .map(|f| {
            let own = facet_normal(&mesh.corners(f as u32)).unwrap_or([0.0, 0.0, 1.0]);
            mesh.facets[f].map(|v| {
                let range = starts[v as usize] as usize..starts[v as usize + 1] as usize;
                let mut sum = own.map(|c| c * 1e-12);
                for other in around[range].iter().take(MOST_AROUND) {
                    let n = areas[*other as usize];
                    if dot(n, own) > SHARP_COSINE * dot(n, n).sqrt() {
                        sum = [sum[0] + n[0], sum[1] + n[1], sum[2] + n[2]];
                    }
                }
                normalised(sum)
                    .unwrap_or(own)
                    .map(|c| (c * 127.0).round() as i8)
            })
        })
        .collect()
}
