//! Which way a surface moves when it goes in by some depth: every vertex to where all planes around it, moved in by
//! their depths, meet; smoothly in between.

use super::solid::Solid;
use crate::geometry::{
    closest_point, dot, eigen, facet_area, facet_normal, length, normalised, sub,
};
use crate::mesh::{NO_FACET, Topology};
use rayon::prelude::*;

/// A body's surface, ready to be moved.
pub(super) struct Surface<'a> {
    solid: &'a Solid,
    normals: Vec<[f64; 3]>,
    areas: Vec<f64>,
    topology: Topology,
    /// Facets around each vertex.
    starts: Vec<u32>,
    around: Vec<u32>,
}

/// One flat face near a vertex: facets that face the same way count together, however many they are.
struct Face {
    normal: [f64; 3],
    depth: f64,
    area: f64,
    distance: f64,
}

/// What a thread reuses from vertex to vertex.
#[derive(Default)]
struct Looked {
    faces: Vec<Face>,
    seen: Vec<u32>,
    /// For each facet, the look that saw it last.
    stamps: Vec<u32>,
    stamp: u32,
}

/// A face that a vertex lies on.
struct Plane {
    /// Normal of its largest facet, and then of all of them by area.
    first: [f64; 3],
    normal: [f64; 3],
    depth: f64,
    weight: f64,
}

impl<'a> Surface<'a> {
    pub(super) fn of(solid: &'a Solid, topology: Topology) -> Surface<'a> {
        let count = solid.mesh.facets.len();
        let corners: Vec<_> = (0..count).map(|f| solid.corners(f)).collect();
        let normals = corners.iter().map(|c| facet_normal(c).unwrap_or([0.0; 3]));
        let mut starts = vec![0u32; solid.mesh.vertices.len() + 1];
        for v in solid.mesh.facets.iter().flatten() {
            starts[*v as usize + 1] += 1;
        }
        for i in 1..starts.len() {
            starts[i] += starts[i - 1];
        }
        let mut fill = starts.clone();
        let mut around = vec![0u32; 3 * count];
        for (f, ids) in solid.mesh.facets.iter().enumerate() {
            for v in ids {
                around[fill[*v as usize] as usize] = f as u32;
                fill[*v as usize] += 1;
            }
        }
        Surface {
            solid,
            normals: normals.collect(),
            areas: corners.iter().map(facet_area).collect(),
            topology,
            starts,
            around,
        }
    }

    /// Which facet lies across each edge.
    pub(super) fn topology(&self) -> &Topology {
        &self.topology
    }

    fn around(&self, vertex: u32) -> &[u32] {
        let v = vertex as usize;
        &self.around[self.starts[v] as usize..self.starts[v + 1] as usize]
    }

    /// By how much each of some vertices moves so that every facet goes in by its depth, mm.
    ///
    /// A vertex on a flat face away from its edges goes straight in. On an edge it goes to where both faces meet, so a
    /// border there runs midway between them, as the ownership rule has it. In between, the way turns from one to the
    /// other slowly enough that a face does not fold as long as it is wide enough.
    ///
    /// # Cost
    /// Vertices times the facets within two and a half depths, at most a few hundred.
    pub(super) fn ways(
        &self,
        vertices: &[u32],
        depth_of: &(dyn Fn(u32) -> f64 + Sync),
    ) -> Vec<[f64; 3]> {
        vertices
            .par_iter()
            .map_init(Looked::default, |looked, v| self.way(*v, depth_of, looked))
            .collect()
    }

    fn way(
        &self,
        vertex: u32,
        depth_of: &(dyn Fn(u32) -> f64 + Sync),
        looked: &mut Looked,
    ) -> [f64; 3] {
        let deepest = self
            .around(vertex)
            .iter()
            .map(|f| depth_of(*f))
            .fold(0.0, f64::max);
        if deepest <= 0.0 {
            return [0.0; 3];
        }
        self.look_around(vertex, REACH * deepest, depth_of, looked);
        let faces = &looked.faces;
        let mut smooth = [0.0; 3];
        let mut whole = 0.0;
        for face in faces.iter() {
            whole += face.area;
            for i in 0..3 {
                smooth[i] += face.area * face.depth / deepest * face.normal[i];
            }
        }
        // The faces the vertex lies on: facets around it that hardly turn from one another. Each weighs what faces its
        // way nearby; a sliver among large facets says little about where the surface lies.
        let mut planes: Vec<Plane> = Vec::new();
        let mut own = self.around(vertex).to_vec();
        own.sort_by(|a, b| {
            let area = |f: &u32| self.areas[*f as usize];
            area(b).total_cmp(&area(a)).then(a.cmp(b))
        });
        for f in own {
            let (n, depth) = (self.normals[f as usize], depth_of(f));
            let area = self.areas[f as usize];
            let like = |p: &&mut Plane| p.depth == depth && dot(p.first, n) > ONE_FACE;
            match planes.iter_mut().find(like) {
                Some(plane) => (0..3).for_each(|i| plane.normal[i] += area * n[i]),
                None => planes.push(Plane {
                    first: n,
                    normal: n.map(|c| c * area.max(1e-12)),
                    depth,
                    weight: 0.0,
                }),
            }
        }
        planes.retain_mut(|plane| {
            let Some(normal) = normalised(plane.normal) else {
                return false;
            };
            plane.normal = normal;
            let like = |f: &&Face| f.depth == plane.depth && dot(f.normal, normal) > ONE_FACE;
            plane.weight = faces.iter().filter(like).map(|f| f.area).sum();
            plane.weight > FLAT_SHARE * whole
        });
        let mut start = [0.0; 3];
        if let Some(n) = normalised(smooth) {
            let (mut along, mut wanted) = (0.0, 0.0);
            for plane in &planes {
                along += plane.weight * dot(plane.normal, n).max(0.0);
                wanted += plane.weight * plane.depth;
            }
            if planes.is_empty() {
                (along, wanted) = (1.0, deepest);
            }
            let reach = wanted / along.max(1e-3 * wanted / deepest);
            start = n.map(|c| -c * reach.min(LONGEST * deepest));
        }
        nearest_on_planes(start, &planes)
    }

    /// The flat faces within some distance of a vertex along the surface, each with a weight in place of its area that
    /// falls to nothing at that distance.
    fn look_around(
        &self,
        vertex: u32,
        reach: f64,
        depth_of: &(dyn Fn(u32) -> f64 + Sync),
        looked: &mut Looked,
    ) {
        const MOST: usize = 320;
        let Looked {
            faces,
            seen,
            stamps,
            stamp,
        } = looked;
        faces.clear();
        seen.clear();
        stamps.resize(self.solid.mesh.facets.len(), 0);
        *stamp += 1;
        let mut note = |facet: u32, seen: &mut Vec<u32>| {
            if stamps[facet as usize] != *stamp {
                stamps[facet as usize] = *stamp;
                seen.push(facet);
            }
        };
        let p = self.solid.mesh.vertices[vertex as usize];
        for facet in self.around(vertex) {
            note(*facet, seen);
        }
        let mut reach = reach;
        let mut next = 0;
        while next < seen.len() {
            let facet = seen[next];
            next += 1;
            let corners = self.solid.corners(facet as usize);
            let d = length(sub(p, closest_point(p, &corners)));
            if d >= reach {
                continue;
            }
            if seen.len() >= MOST {
                // So many tiny facets: a smaller surrounding says as much.
                reach = reach.min(d.max(1e-6));
            }
            let (n, depth) = (self.normals[facet as usize], depth_of(facet));
            let area = self.areas[facet as usize];
            match faces
                .iter_mut()
                .find(|g| dot(g.normal, n) > SAME_FACE && g.depth == depth)
            {
                Some(face) => {
                    face.area += area;
                    face.distance = face.distance.min(d);
                }
                None => faces.push(Face {
                    normal: n,
                    depth,
                    area,
                    distance: d,
                }),
            }
            for other in self.topology.across[facet as usize] {
                if other != NO_FACET && seen.len() < 2 * MOST {
                    note(other, seen);
                }
            }
        }
        // A face that fills the surrounding weighs the same however far it goes on beyond.
        let most = 0.5 * reach * reach;
        for face in faces.iter_mut() {
            face.area = face.area.min(most) * (1.0 - face.distance / reach).max(0.0);
        }
    }
}

/// Cosine of the turn up to which two facets count as one flat face: about half a degree.
const SAME_FACE: f64 = 0.99996;

/// Cosine of the turn up to which facets at a vertex count as one face there, 15°: a surface that turns less is curved,
/// not creased.
const ONE_FACE: f64 = 0.966;

/// How far around a vertex the surface counts, in depths. Over that way a face turns from its mitred edge to straight in:
/// at a right angle the way along it shrinks to three fifths, and only a sharper edge or a narrower face folds.
const REACH: f64 = 2.5;

/// Share of the surroundings from which a face counts as flat.
const FLAT_SHARE: f64 = 0.08;

/// A vertex at a sharp tip goes in no further than this many depths.
const LONGEST: f64 = 4.0;

/// The point nearest to `start` on all the planes n · x = −depth, as far as the planes differ enough to say.
fn nearest_on_planes(start: [f64; 3], planes: &[Plane]) -> [f64; 3] {
    let mut matrix = [[0.0; 3]; 3];
    let mut miss = [0.0; 3];
    for plane in planes {
        let (n, weight) = (plane.normal, plane.weight);
        let left = -plane.depth - dot(n, start);
        for i in 0..3 {
            miss[i] += weight * left * n[i];
            for k in 0..3 {
                matrix[i][k] += weight * n[i] * n[k];
            }
        }
    }
    let (values, vectors) = eigen(matrix);
    let largest = values.iter().copied().fold(0.0, f64::max);
    let mut out = start;
    for (value, vector) in values.iter().zip(vectors) {
        // Directions in which the planes hardly differ would only blow up the noise of a curved surface.
        if *value > 0.03 * largest && largest > 0.0 {
            let by = dot(vector, miss) / value;
            for i in 0..3 {
                out[i] += by * vector[i];
            }
        }
    }
    out
}
