//! Closed shells from outlines: turned, drawn up, boxed.

use varichrom_core::mesh::Mesh;

/// A solid turned about the z axis.
///
/// `profile`: points (radius, z) from the axis at the bottom to the axis at the top, radii above 0 in between.
/// `sides` ≥ 3 facets around.
pub fn revolve(profile: &[(f64, f64)], sides: usize) -> Mesh {
    let mut vertices = Vec::new();
    let mut rings: Vec<Vec<u32>> = Vec::new();
    for &(radius, z) in profile {
        let count = if radius == 0.0 { 1 } else { sides };
        let first = vertices.len() as u32;
        for i in 0..count {
            let angle = std::f64::consts::TAU * i as f64 / sides as f64;
            vertices.push([radius * angle.cos(), radius * angle.sin(), z]);
        }
        rings.push((0..sides).map(|i| first + (i % count) as u32).collect());
    }
    let mut facets = Vec::new();
    for pair in rings.windows(2) {
        for i in 0..sides {
            let next = (i + 1) % sides;
            let (a, b, c, d) = (pair[0][i], pair[0][next], pair[1][next], pair[1][i]);
            if a != b {
                facets.push([a, b, c]);
            }
            if c != d {
                facets.push([a, c, d]);
            }
        }
    }
    Mesh { vertices, facets }
}

/// An axis-aligned box of 12 facets.
pub fn box_mesh(min: [f64; 3], max: [f64; 3]) -> Mesh {
    let outline = [
        [min[0], min[1]],
        [max[0], min[1]],
        [max[0], max[1]],
        [min[0], max[1]],
    ];
    extrude(&[outline.to_vec()], &[], min[2], max[2], None)
}

/// A flat plate with straight walls, and on it, if asked for, devices raised to another height: one fused shell.
///
/// `outline`: the plate's border, counter-clockwise. `devices`: borders inside it, counter-clockwise, apart from one
/// another; they stand from the plate's top up to `raised`.
pub fn extrude(
    outline: &[Vec<[f64; 2]>],
    devices: &[Vec<[f64; 2]>],
    bottom: f64,
    top: f64,
    raised: Option<f64>,
) -> Mesh {
    let mut mesh = Mesh {
        vertices: Vec::new(),
        facets: Vec::new(),
    };
    let ring = |mesh: &mut Mesh, points: &[[f64; 2]], z: f64| -> Vec<u32> {
        let first = mesh.vertices.len() as u32;
        mesh.vertices.extend(points.iter().map(|p| [p[0], p[1], z]));
        (first..mesh.vertices.len() as u32).collect()
    };
    let border = &outline[0];
    let low = ring(&mut mesh, border, bottom);
    let high = ring(&mut mesh, border, top);
    wall_between(&mut mesh, &low, &high);
    fill(&mut mesh, Plane::Down, (border, &low), &[]);
    let feet: Vec<(&[[f64; 2]], Vec<u32>)> = devices
        .iter()
        .map(|d| (&d[..], ring(&mut mesh, d, top)))
        .collect();
    let holes: Vec<(&[[f64; 2]], &[u32])> = feet.iter().map(|(p, ids)| (*p, &ids[..])).collect();
    fill(&mut mesh, Plane::Up, (border, &high), &holes);
    if let Some(raised) = raised {
        for (points, foot) in &feet {
            let head = ring(&mut mesh, points, raised);
            wall_between(&mut mesh, foot, &head);
            fill(&mut mesh, Plane::Up, (points, &head), &[]);
        }
    }
    mesh
}

/// A wall from one ring of vertices to another above it, facing outward for rings that go counter-clockwise.
pub(super) fn wall_between(mesh: &mut Mesh, low: &[u32], high: &[u32]) {
    for i in 0..low.len() {
        let next = (i + 1) % low.len();
        mesh.facets.push([low[i], low[next], high[next]]);
        mesh.facets.push([low[i], high[next], high[i]]);
    }
}

/// Which way a flat face looks.
#[derive(Clone, Copy, PartialEq)]
pub(super) enum Plane {
    Up,
    Down,
}

/// Fills a border with holes in it; each is given by its points and their vertices.
pub(super) fn fill(
    mesh: &mut Mesh,
    way: Plane,
    (border, ids): (&[[f64; 2]], &[u32]),
    holes: &[(&[[f64; 2]], &[u32])],
) {
    let mut points: Vec<[f64; 2]> = border.to_vec();
    let mut all = ids.to_vec();
    let mut starts = Vec::new();
    for (hole, hole_ids) in holes {
        starts.push(points.len());
        points.extend_from_slice(hole);
        all.extend_from_slice(hole_ids);
    }
    let mut triangles: Vec<usize> = Vec::new();
    earcut::Earcut::new().earcut(points.iter().copied(), &starts, &mut triangles);
    for t in triangles.chunks_exact(3) {
        let (a, b, c) = (points[t[0]], points[t[1]], points[t[2]]);
        let is_ccw = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]) > 0.0;
        let f = [all[t[0]], all[t[1]], all[t[2]]];
        mesh.facets.push(if is_ccw == (way == Plane::Up) {
            f
        } else {
            [f[0], f[2], f[1]]
        });
    }
}
