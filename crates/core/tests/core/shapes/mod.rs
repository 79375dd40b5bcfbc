//! Meshes that several tests use.

use std::sync::Arc;
use varichrom_core::layers::Body;
use varichrom_core::mesh::{DefectKind, Mesh};
use varichrom_core::model::OpenMesh;

/// A mesh from corner lists.
pub(crate) fn mesh(vertices: &[[f64; 3]], facets: &[[u32; 3]]) -> Mesh {
    Mesh {
        vertices: vertices.to_vec(),
        facets: facets.to_vec(),
    }
}

/// Opens a mesh through binary STL, as a file from the wild would come in.
pub(crate) fn open(mesh: &Mesh) -> OpenMesh {
    OpenMesh::from_bytes(&varichrom_demo::stl(mesh, "test")).expect("the test's own STL is sound")
}

/// How many defects of a kind a mesh has.
pub(crate) fn count(open: &OpenMesh, kind: DefectKind) -> u32 {
    let found = open.defects.iter().find(|d| d.kind == kind);
    found.map_or(0, |d| d.count)
}

/// Every part of a mesh as a body, standing on the bed.
pub(crate) fn bodies(open: &Arc<OpenMesh>) -> Vec<Body> {
    let low = open.mesh.bounds().min[2];
    (0..open.parts.len() as u32)
        .map(|part| Body {
            model: 0,
            open: open.clone(),
            part,
            shift: [0.0, 0.0, -low],
        })
        .collect()
}

/// The convex solid of some points, by trying every plane through three of them: slow and obvious.
pub(crate) fn convex(points: &[[f64; 3]]) -> Mesh {
    use varichrom_core::mesh::{cross, dot, normalised, sub};
    let n = points.len();
    let mut facets = Vec::new();
    let mut seen: Vec<Vec<usize>> = Vec::new();
    for a in 0..n {
        for b in a + 1..n {
            for c in b + 1..n {
                let normal = cross(sub(points[b], points[a]), sub(points[c], points[a]));
                let Some(normal) = normalised(normal) else {
                    continue;
                };
                let side = |p: &[f64; 3]| dot(sub(*p, points[a]), normal);
                let is_low = points.iter().all(|p| side(p) < 1e-9);
                let is_high = points.iter().all(|p| side(p) > -1e-9);
                if !is_low && !is_high {
                    continue;
                }
                let out = if is_low { normal } else { normal.map(|v| -v) };
                let mut face: Vec<usize> =
                    (0..n).filter(|i| side(&points[*i]).abs() < 1e-9).collect();
                if seen.contains(&face) {
                    continue;
                }
                seen.push(face.clone());
                // Around the face's middle, counter-clockwise from outside.
                let k = face.len() as f64;
                let middle = [0, 1, 2].map(|i| face.iter().map(|f| points[*f][i]).sum::<f64>() / k);
                let x = normalised(sub(points[face[0]], middle)).expect("a corner off the middle");
                let y = cross(out, x);
                let angle = |f: &usize| {
                    let v = sub(points[*f], middle);
                    dot(v, y).atan2(dot(v, x))
                };
                face.sort_by(|p, q| angle(p).total_cmp(&angle(q)));
                for i in 1..face.len() - 1 {
                    facets.push([face[0] as u32, face[i] as u32, face[i + 1] as u32]);
                }
            }
        }
    }
    mesh(points, &facets)
}

/// The five Platonic solids of edge length `edge`: name, mesh, faces, volume, area.
/// Volumes and areas: the textbook formulas for regular polyhedra.
pub(crate) fn platonic(edge: f64) -> Vec<(&'static str, Mesh, usize, f64, f64)> {
    let s5 = 5f64.sqrt();
    let phi = (1.0 + s5) / 2.0;
    let scaled = |points: Vec<[f64; 3]>, natural: f64| -> Mesh {
        convex(
            &points
                .iter()
                .map(|p| p.map(|c| c * edge / natural))
                .collect::<Vec<_>>(),
        )
    };
    let signs = |n: usize| {
        (0..1u32 << n)
            .map(move |bits| [0, 1, 2].map(|i| if bits >> i & 1 == 1 { -1.0 } else { 1.0 }))
    };
    let cube: Vec<[f64; 3]> = signs(3).collect();
    let tetrahedron = vec![
        [1.0, 1.0, 1.0],
        [1.0, -1.0, -1.0],
        [-1.0, 1.0, -1.0],
        [-1.0, -1.0, 1.0],
    ];
    let octahedron: Vec<[f64; 3]> = (0..3)
        .flat_map(|axis| [1.0, -1.0].map(|s| [0, 1, 2].map(|i| if i == axis { s } else { 0.0 })))
        .collect();
    let cyclic = |f: &dyn Fn(f64, f64) -> [f64; 3]| -> Vec<[f64; 3]> {
        signs(2)
            .flat_map(|s| {
                let [x, y, z] = f(s[0], s[1]);
                [[x, y, z], [y, z, x], [z, x, y]]
            })
            .collect()
    };
    let icosahedron = cyclic(&|a, b| [0.0, a, b * phi]);
    let mut dodecahedron = cube.clone();
    dodecahedron.extend(cyclic(&|a, b| [0.0, a / phi, b * phi]));
    let (a2, a3) = (edge * edge, edge * edge * edge);
    vec![
        (
            "tetrahedron",
            scaled(tetrahedron, 8f64.sqrt()),
            4,
            a3 / (6.0 * 2f64.sqrt()),
            3f64.sqrt() * a2,
        ),
        ("cube", scaled(cube, 2.0), 6, a3, 6.0 * a2),
        (
            "octahedron",
            scaled(octahedron, 2f64.sqrt()),
            8,
            2f64.sqrt() / 3.0 * a3,
            2.0 * 3f64.sqrt() * a2,
        ),
        (
            "dodecahedron",
            scaled(dodecahedron, 2.0 / phi),
            12,
            (15.0 + 7.0 * s5) / 4.0 * a3,
            3.0 * (25.0 + 10.0 * s5).sqrt() * a2,
        ),
        (
            "icosahedron",
            scaled(icosahedron, 2.0),
            20,
            5.0 * (3.0 + s5) / 12.0 * a3,
            5.0 * 3f64.sqrt() * a2,
        ),
    ]
}
