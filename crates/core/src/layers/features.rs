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
    /// All features of a body that can be nearest to a point of a layer within `reach` mm. Faces made by cuts are none.
    ///
    /// # Cost
    /// Linear in the body's facets (n log n if its vertices are far apart in the mesh), and in the slabs that each zone meets.
    pub(super) fn of(body: &Body, facets: &[u32], heights: &LayerHeights, reach: f64) -> Features {
        let mesh = &body.open.mesh;
        let surface: Vec<u32> = (facets.iter().copied())
            .filter(|f| !body.open.is_inner(*f))
            .collect();
        let facets = &surface[..];
        let ids = vertices(mesh, facets);
        let fans = Buckets::new(
            ids.len(),
            facets.iter().flat_map(|f| {
                let places = mesh.facets[*f as usize].map(|v| ids.place(v));
                places.map(|place| (place, *f))
            }),
        );
        let is_one: Vec<bool> = (0..ids.len())
            .into_par_iter()
            .map(|place| is_corner(body, ids.at(place), fans.of(place)))
            .collect();
        let mut corners = Vec::new();
        let mut around = Vec::new();
        for place in (0..ids.len()).filter(|place| is_one[*place]) {
            corners.push((ids.at(place), around.len() as u32));
            around.extend_from_slice(fans.of(place));
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
        let slabs = (0u32..).zip(&ranges);
        features.by_slab = Buckets::new(
            heights.spans.len().div_ceil(SLAB),
            slabs.flat_map(|(at, range)| range.clone().map(move |slab| (slab, at))),
        );
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

/// The vertices of a body, numbered in a row.
enum Vertices {
    /// They lie close together: from which on, and how many.
    Row(u32, usize),
    /// They are few among many, which must not cost: of one mesh there may be hundreds of bodies.
    List(Vec<u32>),
}

fn vertices(mesh: &Mesh, facets: &[u32]) -> Vertices {
    let all = || facets.iter().flat_map(|f| mesh.facets[*f as usize]);
    let Some((low, high)) = all().min().zip(all().max()) else {
        return Vertices::List(Vec::new());
    };
    let span = (high - low) as usize + 1;
    if span <= 4 * facets.len() {
        return Vertices::Row(low, span);
    }
    let mut list: Vec<u32> = all().collect();
    list.sort_unstable();
    list.dedup();
    Vertices::List(list)
}

impl Vertices {
    fn len(&self) -> usize {
        match self {
            Vertices::Row(_, count) => *count,
            Vertices::List(list) => list.len(),
        }
    }

    fn at(&self, place: usize) -> u32 {
        match self {
            Vertices::Row(first, _) => first + place as u32,
            Vertices::List(list) => list[place],
        }
    }

    /// Where a vertex of the body is.
    fn place(&self, vertex: u32) -> usize {
        match self {
            Vertices::Row(first, _) => (vertex - first) as usize,
            Vertices::List(list) => list.partition_point(|v| *v < vertex),
        }
    }
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

/// Whether a vertex needs a zone of its own, given the facets around it.
///
/// The cone leans from a facet by no more than the others around the vertex do: going the way it leans, the surface has to fall
/// away as fast. No two lean from one another by more than twice what they lean from the first.
fn is_corner(body: &Body, vertex: u32, around: &[u32]) -> bool {
    around.iter().any(|facet| {
        let ids = body.open.mesh.facets[*facet as usize];
        let is_open = (0..3u8).any(|side| {
            let ends = [ids[side as usize], ids[(side as usize + 1) % 3]];
            ends.contains(&vertex) && beyond(body, *facet, side).is_none()
        });
        is_open || !is_flat(body, around[0], *facet)
    })
}
