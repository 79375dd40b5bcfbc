//! The gull: a figurine without an edge to hold on to.

use varichrom_core::mesh::Mesh;

/// A ball of a blend: middle, radii along the axes, and turn about the z axis and tilt of its x axis, in radians.
struct Ball {
    middle: [f64; 3],
    radii: [f64; 3],
    tilt: f64,
    yaw: f64,
}

const fn ball(middle: [f64; 3], radii: [f64; 3], tilt: f64, yaw: f64) -> Ball {
    Ball {
        middle,
        radii,
        tilt,
        yaw,
    }
}

/// Body, breast, neck, head, beak, tail, wings, feet and the stone it stands on; x forward, mm.
const BALLS: [Ball; 12] = [
    ball([0.0, 0.0, 24.0], [19.0, 10.0, 10.5], -0.22, 0.0),
    ball([9.0, 0.0, 27.0], [10.0, 8.5, 9.0], -0.5, 0.0),
    ball([14.5, 0.0, 36.0], [5.2, 5.0, 8.0], -0.2, 0.0),
    ball([16.5, 0.0, 43.5], [6.4, 5.4, 5.6], 0.0, 0.0),
    ball([24.5, 0.0, 42.4], [6.0, 1.9, 2.0], 0.12, 0.0),
    ball([-19.0, 0.0, 23.0], [11.0, 5.5, 2.6], -0.12, 0.0),
    ball([-3.0, 8.6, 26.5], [17.5, 3.2, 7.0], -0.16, -0.12),
    ball([-3.0, -8.6, 26.5], [17.5, 3.2, 7.0], -0.16, 0.12),
    ball([3.0, 4.0, 11.5], [2.2, 2.2, 9.0], 0.0, 0.0),
    ball([3.0, -4.0, 11.5], [2.2, 2.2, 9.0], 0.0, 0.0),
    ball([1.0, 0.0, 3.5], [17.0, 13.0, 6.0], 0.0, 0.2),
    ball([-7.0, 3.0, 3.0], [12.0, 12.5, 5.0], 0.0, -0.3),
];

/// Below 0 inside, about in mm: a smooth union of all balls.
fn blend(p: [f64; 3]) -> f64 {
    const SOFT_MM: f64 = 1.4;
    let mut sum = 0.0;
    for b in &BALLS {
        let d = [0, 1, 2].map(|i| p[i] - b.middle[i]);
        let (s, c) = b.yaw.sin_cos();
        let d = [c * d[0] + s * d[1], -s * d[0] + c * d[1], d[2]];
        let (s, c) = b.tilt.sin_cos();
        let d = [c * d[0] - s * d[2], d[1], s * d[0] + c * d[2]];
        let q = [0, 1, 2].map(|i| d[i] / b.radii[i]);
        let k = (q[0] * q[0] + q[1] * q[1] + q[2] * q[2]).sqrt();
        let steep = [0, 1, 2].map(|i| q[i] / b.radii[i]);
        let g = (steep[0] * steep[0] + steep[1] * steep[1] + steep[2] * steep[2]).sqrt();
        let distance = if k > 0.0 {
            (k - 1.0) * k / g.max(1e-9)
        } else {
            -b.radii[1]
        };
        sum += (-distance / SOFT_MM).exp();
    }
    -SOFT_MM * sum.ln()
}

/// Side of a cell, mm: gives about 77 000 facets.
const STEP_MM: f64 = 0.8;

/// The gull on its stone, standing on z = 0: one closed smooth shell of more than 60 000 facets.
///
/// The surface is walked in cells of two tetrahedra kinds (marching tetrahedra on the body-centred grid of each cube cut
/// in six), so it is closed by construction; the foot is cut off flat by closing the blend below z = 0.
pub fn gull() -> Mesh {
    let low = [-33.0, -17.0, -STEP_MM];
    let high = [34.0, 17.0, 52.0];
    let count = [0, 1, 2].map(|i| ((high[i] - low[i]) / STEP_MM).ceil() as usize + 1);
    let place = |i: [usize; 3]| [0, 1, 2].map(|k| low[k] + i[k] as f64 * STEP_MM);
    let index = |i: [usize; 3]| (i[2] * count[1] + i[1]) * count[0] + i[0];
    let mut values = vec![0.0; count[0] * count[1] * count[2]];
    for z in 0..count[2] {
        for y in 0..count[1] {
            for x in 0..count[0] {
                let p = place([x, y, z]);
                // Cut off by the bed: inside only above z = 0.
                values[index([x, y, z])] = blend(p).max(-p[2]);
            }
        }
    }
    let mut mesh = Mesh {
        vertices: Vec::new(),
        facets: Vec::new(),
    };
    let mut on_edge: std::collections::HashMap<(usize, usize), u32> = Default::default();
    // A cube as six tetrahedra around its long diagonal.
    const TETRAHEDRA: [[usize; 4]; 6] = [
        [0, 1, 3, 7],
        [0, 3, 2, 7],
        [0, 2, 6, 7],
        [0, 6, 4, 7],
        [0, 4, 5, 7],
        [0, 5, 1, 7],
    ];
    for z in 0..count[2] - 1 {
        for y in 0..count[1] - 1 {
            for x in 0..count[0] - 1 {
                let corner = |c: usize| [x + (c & 1), y + (c >> 1 & 1), z + (c >> 2)];
                for t in TETRAHEDRA {
                    let at = t.map(|c| index(corner(c)));
                    let where_at = t.map(|c| place(corner(c)));
                    let mut cut = |a: usize, b: usize| {
                        let (a, b) = if at[a] < at[b] { (a, b) } else { (b, a) };
                        *on_edge.entry((at[a], at[b])).or_insert_with(|| {
                            let (f, g) = (values[at[a]], values[at[b]]);
                            // Off the corners, so that no facet is without area.
                            let s = (f / (f - g)).clamp(0.02, 0.98);
                            let (p, q) = (where_at[a], where_at[b]);
                            mesh.vertices
                                .push([0, 1, 2].map(|i| p[i] + s * (q[i] - p[i])));
                            mesh.vertices.len() as u32 - 1
                        })
                    };
                    let inside: Vec<usize> = (0..4).filter(|i| values[at[*i]] < 0.0).collect();
                    let outside: Vec<usize> = (0..4).filter(|i| values[at[*i]] >= 0.0).collect();
                    let new: Vec<[u32; 3]> = match inside[..] {
                        [a] => vec![[0, 1, 2].map(|i| cut(a, outside[i]))],
                        [a, b] => {
                            let (c, d) = (outside[0], outside[1]);
                            let quad = [cut(a, c), cut(b, c), cut(b, d), cut(a, d)];
                            vec![[quad[0], quad[1], quad[2]], [quad[0], quad[2], quad[3]]]
                        }
                        [_, _, _] => vec![[0, 1, 2].map(|i| cut(inside[i], outside[0]))],
                        _ => continue,
                    };
                    let out = {
                        let sum = |set: &[usize]| {
                            let n = set.len() as f64;
                            [0, 1, 2].map(|k| set.iter().map(|i| where_at[*i][k]).sum::<f64>() / n)
                        };
                        let (i, o) = (sum(&inside), sum(&outside));
                        [0, 1, 2].map(|k| o[k] - i[k])
                    };
                    for f in new {
                        let [a, b, c] = f.map(|v| mesh.vertices[v as usize]);
                        let (u, v) = (
                            [0, 1, 2].map(|k| b[k] - a[k]),
                            [0, 1, 2].map(|k| c[k] - a[k]),
                        );
                        let n = [
                            u[1] * v[2] - u[2] * v[1],
                            u[2] * v[0] - u[0] * v[2],
                            u[0] * v[1] - u[1] * v[0],
                        ];
                        let faces_out = n[0] * out[0] + n[1] * out[1] + n[2] * out[2] > 0.0;
                        mesh.facets
                            .push(if faces_out { f } else { [f[0], f[2], f[1]] });
                    }
                }
            }
        }
    }
    mesh
}
