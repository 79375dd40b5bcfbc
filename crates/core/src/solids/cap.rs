//! Lids: closed loops of edges filled with facets that use every one of their vertices and no others.

use crate::geometry::{across_normal, dot, sub};
use spade::{ConstrainedDelaunayTriangulation, Point2, Triangulation};
use std::collections::HashMap;

/// Facets that fill loops of edges, facing along `normal`. Every directed edge of `edges` is run once by a facet, so
/// the lid closes a surface that runs each of them the other way. Loops lie about in a plane across `normal`; holes run
/// clockwise seen against it.
///
/// Returns none if the loops cross one another in that plane.
///
/// # Cost
/// n log n in the edges.
///
/// # Source
/// Constrained Delaunay triangulation by the `spade` crate; inside is told by winding, edge by edge.
pub(crate) fn lid(
    vertices: &[[f64; 3]],
    edges: &[(u32, u32)],
    normal: [f64; 3],
) -> Option<Vec<[u32; 3]>> {
    let [x, y] = across_normal(normal)?;
    let origin = vertices[edges.first()?.0 as usize];
    let mut triangulation = ConstrainedDelaunayTriangulation::<Point2<f64>>::new();
    let mut handles = HashMap::new();
    let mut numbers = HashMap::new();
    for (a, b) in edges {
        for v in [*a, *b] {
            if handles.contains_key(&v) {
                continue;
            }
            let from = sub(vertices[v as usize], origin);
            let handle = triangulation
                .insert(Point2::new(dot(from, x), dot(from, y)))
                .ok()?;
            // Two corners over one another: the lid would leave a gap.
            if numbers.insert(handle, v).is_some() {
                return None;
            }
            handles.insert(v, handle);
        }
    }
    // How often each edge is run from left to right minus from right to left.
    let mut runs: HashMap<_, i32> = HashMap::new();
    for (a, b) in edges {
        let (from, to) = (handles[a], handles[b]);
        if !triangulation.can_add_constraint(from, to) {
            return None;
        }
        triangulation.add_constraint(from, to);
        *runs.entry((from, to)).or_default() += 1;
        *runs.entry((to, from)).or_default() -= 1;
    }
    // From outside inward: crossing an edge changes the winding number by how it is run.
    let outer = triangulation.outer_face().fix();
    let mut winding = HashMap::from([(outer, 0i32)]);
    let mut waiting: Vec<_> = triangulation.convex_hull().map(|e| e.fix()).collect();
    let mut found = Vec::new();
    while let Some(edge) = waiting.pop() {
        // The edge's own face is known; what lies across it follows.
        let edge = triangulation.directed_edge(edge);
        let known = winding[&edge.face().fix()];
        let across = edge.rev();
        let face = across.face();
        if winding.contains_key(&face.fix()) {
            continue;
        }
        let run = |e: (_, _)| runs.get(&e).copied().unwrap_or(0);
        let here = known + run((across.from().fix(), across.to().fix()));
        winding.insert(face.fix(), here);
        if here > 0 {
            let corner =
                |e: spade::handles::DirectedEdgeHandle<'_, _, _, _, _>| numbers[&e.from().fix()];
            found.push([corner(across), corner(across.next()), corner(across.prev())]);
        }
        waiting.push(across.next().fix());
        waiting.push(across.prev().fix());
    }
    // The walk follows the triangulation's own order; the facets are put in one that does not depend on it.
    for f in &mut found {
        let low = (0..3).min_by_key(|i| f[*i]).unwrap_or(0);
        f.rotate_left(low);
    }
    found.sort_unstable();
    Some(found)
}
