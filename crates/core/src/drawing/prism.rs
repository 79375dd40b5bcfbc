//! Closed bodies of one height over an area.

use crate::mesh::Mesh;
use crate::shapes::Area;
use crate::solids::lid;

/// How far corners that meet others are cut off, so that no two bodies hang together by an edge, mm.
const APART_MM: f64 = 0.002;

/// The body over an area between two heights, mm, and what it covers: closed, its facets turned outward. Islands that meet in a
/// point are parted there.
///
/// # Cost
/// n log n in corners.
pub fn prism(area: &Area, between: [f64; 2]) -> (Mesh, Area) {
    let mut mesh = Mesh {
        vertices: Vec::new(),
        facets: Vec::new(),
    };
    let mut covered = Vec::new();
    for island in area.clone().islands() {
        if add(&mut mesh, &island, between) {
            covered.push(island);
            continue;
        }
        // Opened it may stand out a little at its tips, where its neighbours are.
        for part in island.opened(APART_MM).and(&island).islands() {
            if add(&mut mesh, &part, between) {
                covered.push(part);
            }
        }
    }
    (mesh, Area::union(&covered))
}

/// Adds the body over an island; not if a corner of it lies on another.
fn add(mesh: &mut Mesh, island: &Area, [low, high]: [f64; 2]) -> bool {
    let rings = island.rings_mm();
    let corners: Vec<[f64; 3]> = rings.iter().flatten().map(|p| [p[0], p[1], 0.0]).collect();
    let mut edges = Vec::with_capacity(corners.len());
    let mut start = 0;
    for ring in &rings {
        let n = ring.len() as u32;
        edges.extend((0..n).map(|k| (start + k, start + (k + 1) % n)));
        start += n;
    }
    let Some(top) = lid(&corners, &edges, [0.0, 0.0, 1.0]) else {
        return false;
    };
    let first = mesh.vertices.len() as u32;
    let up = corners.len() as u32;
    for z in [low, high] {
        mesh.vertices
            .extend(corners.iter().map(|p| [p[0], p[1], z]));
    }
    for [a, b, c] in top.into_iter().map(|t| t.map(|v| v + first)) {
        mesh.facets.push([a + up, b + up, c + up]);
        mesh.facets.push([a, c, b]);
    }
    for (p, q) in edges.into_iter().map(|(p, q)| (p + first, q + first)) {
        mesh.facets.push([p, q, q + up]);
        mesh.facets.push([p, q + up, p + up]);
    }
    true
}
