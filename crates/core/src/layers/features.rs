//! What of a surface can be nearest to a point: the inside of a facet, an edge, a corner.

use super::body::Body;
use super::grid::LayerHeights;
use super::index::Buckets;
use super::zone::{MARGIN, Zone, beyond, edge};
use crate::geometry::{dot, facet_normal, sub};
use crate::mesh::Mesh;
use rayon::prelude::*;

/// Layers that are looked up together.
pub(super) const SLAB: usize = 12;

/// What can be nearest.
#[derive(Clone, Copy)]
enum Feature {
    Facet(u32),
    /// The edge of a facet on a side, 0 to 2; found with the lower of its facets.
    Edge(u32, u8),
    /// A vertex, by its place among the corners.
    Corner(u32),
}

/// All that can be nearest on a body, by slab of [`SLAB`] layers.
pub(super) struct Features {
    all: Vec<Feature>,
    by_slab: Buckets,
    /// Vertices that are corners, and where the facets around each begin.
    corners: Vec<(u32, u32)>,
    around: Vec<u32>,
    reach: f64,
}

impl Features {
    /// All features of a body that can be nearest to a point of a layer within `reach` mm.
    ///
    /// # Cost
    /// n log n in the body's facets, and linear in the slabs that each zone meets.
    pub(super) fn of(body: &Body, facets: &[u32], heights: &LayerHeights, reach: f64) -> Features {
        let mesh = &body.open.mesh;
        let fans = by_vertex(mesh, facets);
        let mut corners = Vec::new();
        let mut around = Vec::new();
        let fans: Vec<&[(u32, u32)]> = fans.chunk_by(|a, b| a.0 == b.0).collect();
        let is_kept: Vec<bool> = fans.par_iter().map(|fan| is_corner(body, fan)).collect();
        for (fan, _) in fans.iter().zip(is_kept).filter(|(_, is_kept)| *is_kept) {
            corners.push((fan[0].0, around.len() as u32));
            around.extend(fan.iter().map(|f| f.1));
        }
        let edges: Vec<Feature> = facets
            .par_iter()
            .flat_map_iter(|f| (0..3u8).map(|side| (*f, side)))
            .filter(|(f, side)| is_edge(body, *f, *side))
            .map(|(f, side)| Feature::Edge(f, side))
            .collect();
        let mut all: Vec<Feature> = facets.iter().map(|f| Feature::Facet(*f)).collect();
        all.extend(edges);
        all.extend((0..corners.len() as u32).map(Feature::Corner));
        let mut features = Features {
            all,
            by_slab: Buckets::default(),
            corners,
            around,
            reach,
        };
        let ranges = features
            .all
            .par_iter()
            .map(|feature| {
                let [low, high] = features.heights_of(body, *feature);
                let layers = heights.cut_by(low + body.shift[2], high + body.shift[2]);
                if layers.is_empty() {
                    return 0..0;
                }
                layers.start / SLAB..(layers.end - 1) / SLAB + 1
            })
            .collect::<Vec<_>>();
        features.by_slab = Buckets::new(heights.spans.len().div_ceil(SLAB), &ranges);
        features
    }

    /// Lowest and highest place of a feature's zone, at most, in the body's frame.
    fn heights_of(&self, body: &Body, feature: Feature) -> [f64; 2] {
        let mesh = &body.open.mesh;
        let far = (1.0 + MARGIN) * self.reach;
        let around = |z: &[f64], by: f64| {
            let low = z.iter().fold(f64::INFINITY, |a, b| a.min(*b));
            let high = z.iter().fold(f64::NEG_INFINITY, |a, b| a.max(*b));
            [low - by, high + by]
        };
        match feature {
            Feature::Facet(facet) => {
                let corners = mesh.corners(facet);
                let level = facet_normal(&corners).map_or(1.0, |n| n[2].abs());
                let z = corners.map(|c| c[2]);
                around(&z, (level + MARGIN) * self.reach)
            }
            Feature::Edge(facet, side) => {
                let (from, to) = edge(body, facet, side);
                around(&[from[2], to[2]], far)
            }
            Feature::Corner(at) => {
                let vertex = self.corners[at as usize].0;
                around(&[mesh.vertices[vertex as usize][2]], far)
            }
        }
    }

    /// Visits the zones that meet a slab, one after the other.
    pub(super) fn each_in(&self, body: &Body, slab: usize, mut visit: impl FnMut(&Zone)) {
        let mut zone = Zone::default();
        for at in self.by_slab.of(slab) {
            zone.clear();
            let has_one = match self.all[*at as usize] {
                Feature::Facet(facet) => zone.prism(body, facet, self.reach),
                Feature::Edge(facet, side) => zone.wedge(body, facet, side, self.reach),
                Feature::Corner(at) => {
                    let (vertex, first) = self.corners[at as usize];
                    let next = self.corners.get(at as usize + 1);
                    let last = next.map_or(self.around.len(), |c| c.1 as usize);
                    zone.cone(body, vertex, &self.around[first as usize..last], self.reach);
                    true
                }
            };
            if has_one {
                visit(&zone);
            }
        }
    }
}

/// Each vertex of some facets with each facet around it, in order.
fn by_vertex(mesh: &Mesh, facets: &[u32]) -> Vec<(u32, u32)> {
    let vertices = || facets.iter().flat_map(|f| mesh.facets[*f as usize]);
    let low = vertices().min().unwrap_or(0);
    let span = (vertices().max().unwrap_or(0) - low) as usize + 1;
    if span > 4 * facets.len() {
        // Of hundreds of bodies of one mesh none may cost as much as the whole mesh.
        let mut all: Vec<(u32, u32)> = facets
            .par_iter()
            .flat_map_iter(|f| mesh.facets[*f as usize].map(|v| (v, *f)))
            .collect();
        all.par_sort_unstable();
        return all;
    }
    let mut fill = vec![0u32; span + 1];
    for vertex in vertices() {
        fill[(vertex - low) as usize + 1] += 1;
    }
    for v in 1..fill.len() {
        fill[v] += fill[v - 1];
    }
    let mut all = vec![(0, 0); 3 * facets.len()];
    for facet in facets {
        for vertex in mesh.facets[*facet as usize] {
            let at = &mut fill[(vertex - low) as usize];
            all[*at as usize] = (vertex, *facet);
            *at += 1;
        }
    }
    all
}

/// Whether an edge needs a zone of its own; each is asked for from the lower of its facets.
fn is_edge(body: &Body, facet: u32, side: u8) -> bool {
    let Some(other) = beyond(body, facet, side) else {
        return true;
    };
    if other < facet {
        return false;
    }
    let (ids, beside) = (
        body.open.mesh.facets[facet as usize],
        body.open.mesh.facets[other as usize],
    );
    let (from, to) = (ids[side as usize], ids[(side as usize + 1) % 3]);
    // Where one of the two is turned over, like normals mean a fold.
    let is_turned = !(0..3).any(|i| beside[i] == to && beside[(i + 1) % 3] == from);
    is_turned || !is_flat(body, facet, other)
}

/// Whether two facets are so flat to one another that the margins of their prisms cover what lies between them.
fn is_flat(body: &Body, a: u32, b: u32) -> bool {
    let normal = |f: u32| facet_normal(&body.open.mesh.corners(f));
    normal(a).zip(normal(b)).is_some_and(|(a, b)| {
        // Of small angles the cosine says little.
        let apart = sub(a, b);
        dot(apart, apart) <= (0.48 * MARGIN).powi(2)
    })
}

/// Whether a vertex needs a zone of its own, given with each facet around it.
///
/// The cone leans from a facet by no more than the others around the vertex do: going the way it leans, the surface has to fall
/// away as fast. No two lean from one another by more than twice what they lean from the first.
fn is_corner(body: &Body, fan: &[(u32, u32)]) -> bool {
    fan.iter().any(|(vertex, facet)| {
        let ids = body.open.mesh.facets[*facet as usize];
        let is_open = (0..3u8).any(|side| {
            let ends = [ids[side as usize], ids[(side as usize + 1) % 3]];
            ends.contains(vertex) && beyond(body, *facet, side).is_none()
        });
        is_open || !is_flat(body, fan[0].1, *facet)
    })
}
