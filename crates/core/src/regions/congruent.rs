//! Alike parts: which parts of a mesh are moved, turned or mirrored copies of another, facet by facet.

use crate::geometry::{self, Affine};
use crate::mesh::{cross, dot, facet_area, length, normalised, sub};
use crate::model::OpenMesh;
use std::collections::HashMap;

/// A part that is a copy of another.
pub struct Twin {
    /// Number of the part.
    pub part: u32,
    /// For each facet of the original, in ascending order: the copy's facet, and which of its corners each corner of
    /// the original has become.
    pub facets: Vec<(u32, [u8; 3])>,
    /// Whether it is mirrored.
    pub is_mirrored: bool,
}

/// How far a corner may lie from its image, as a share of the part's size.
const SLACK: f64 = 1e-4;

/// Ways of laying one part on another that are tried before giving up.
const MOST_TRIES: usize = 20_000;

struct PartShape {
    facets: Vec<u32>,
    vertices: Vec<u32>,
    middle: [f64; 3],
}

/// Parts of the mesh `on` that are copies of a part of `from`, in order; the part itself is left out if both are the same
/// mesh. A copy that fits in several ways is taken unmirrored before mirrored, and with the least turn.
///
/// Only copies with the same facets are found; one whose surface is divided otherwise is not.
pub fn congruent_parts(
    (from, part): (&OpenMesh, u32),
    on: &OpenMesh,
    is_same_mesh: bool,
) -> Vec<Twin> {
    let original = &from.parts[part as usize];
    let near = |a: f64, b: f64| (a - b).abs() <= 1e-4 * a.abs().max(b.abs()).max(1e-9);
    let like: Vec<u32> = (0..on.parts.len() as u32)
        .filter(|p| !is_same_mesh || *p != part)
        .filter(|p| {
            let other = &on.parts[*p as usize];
            other.facets == original.facets
                && near(other.measures.area_mm2, original.measures.area_mm2)
                && near(
                    other.measures.volume_mm3.abs(),
                    original.measures.volume_mm3.abs(),
                )
        })
        .collect();
    if like.is_empty() {
        return Vec::new();
    }
    let Some(first) = shapes_of(from, &[part]).pop() else {
        return Vec::new();
    };
    like.iter()
        .zip(shapes_of(on, &like))
        .filter_map(|(number, shape)| laid_on((from, &first), (on, &shape), *number))
        .collect()
}

fn shapes_of(open: &OpenMesh, parts: &[u32]) -> Vec<PartShape> {
    let mut at = vec![usize::MAX; open.parts.len()];
    for (i, p) in parts.iter().enumerate() {
        at[*p as usize] = i;
    }
    let mut facets: Vec<Vec<u32>> = vec![Vec::new(); parts.len()];
    for (facet, p) in open.part_of.iter().enumerate() {
        if let Some(list) = facets.get_mut(at[*p as usize]) {
            list.push(facet as u32);
        }
    }
    facets
        .into_iter()
        .map(|facets| {
            let mut vertices: Vec<u32> = facets
                .iter()
                .flat_map(|f| open.mesh.facets[*f as usize])
                .collect();
            vertices.sort_unstable();
            vertices.dedup();
            let mut sum = [0.0; 3];
            for v in &vertices {
                let p = open.mesh.vertices[*v as usize];
                sum = [0, 1, 2].map(|i| sum[i] + p[i]);
            }
            let middle = sum.map(|c| c / vertices.len().max(1) as f64);
            PartShape {
                facets,
                vertices,
                middle,
            }
        })
        .collect()
}

/// What a facet is told by, whatever way its part is turned: area, distance from the part's middle, edge lengths.
fn mark(open: &OpenMesh, facet: u32, middle: [f64; 3]) -> [f64; 5] {
    let c = open.mesh.corners(facet);
    let centre = geometry::middle(&c);
    let mut edges = [0, 1, 2].map(|k: usize| length(sub(c[(k + 1) % 3], c[k])));
    edges.sort_by(f64::total_cmp);
    [
        facet_area(&c).sqrt(),
        length(sub(centre, middle)),
        edges[0],
        edges[1],
        edges[2],
    ]
}

/// Axes of a facet with its corners taken in some order; none for a facet without area.
fn frame(c: [[f64; 3]; 3]) -> Option<[[f64; 3]; 3]> {
    let x = normalised(sub(c[1], c[0]))?;
    let z = normalised(cross(x, sub(c[2], c[0])))?;
    Some([x, cross(z, x), z])
}

fn laid_on(
    (from, a): (&OpenMesh, &PartShape),
    (on, b): (&OpenMesh, &PartShape),
    part: u32,
) -> Option<Twin> {
    let size = a
        .vertices
        .iter()
        .map(|v| length(sub(from.mesh.vertices[*v as usize], a.middle)))
        .fold(0.0, f64::max);
    let slack = (SLACK * size).max(1e-9);
    let places = Places::of(on, b, slack);
    // The facet whose mark is rarest says most; marks are compared to a few slacks.
    let marks: Vec<[f64; 5]> = a.facets.iter().map(|f| mark(from, *f, a.middle)).collect();
    let step = 8.0 * slack;
    let rough = |m: &[f64; 5]| m.map(|v| (v / step).round() as i64);
    let mut count: HashMap<[i64; 5], u32> = HashMap::new();
    for m in &marks {
        *count.entry(rough(m)).or_default() += 1;
    }
    let reference = (0..a.facets.len())
        .filter(|i| marks[*i][0] * marks[*i][0] > slack * slack)
        .min_by_key(|i| (count[&rough(&marks[*i])], *i))?;
    let wanted = marks[reference];
    let from_frame = frame(from.mesh.corners(a.facets[reference]))?;
    let mut ways: Vec<(bool, f64, [[f64; 3]; 3])> = Vec::new();
    for facet in &b.facets {
        let m = mark(on, *facet, b.middle);
        if (0..5).any(|i| (m[i] - wanted[i]).abs() > 2.0 * step) {
            continue;
        }
        let c = on.mesh.corners(*facet);
        for turn in 0..3 {
            for is_mirrored in [false, true] {
                let corner = |k: usize| c[(turn + if is_mirrored { 3 - k } else { k }) % 3];
                let Some(mut to) = frame([corner(0), corner(1), corner(2)]) else {
                    continue;
                };
                if is_mirrored {
                    to[2] = to[2].map(|v| -v);
                }
                // Rows of the map: where each axis of space goes.
                let map = [0, 1, 2].map(|i| {
                    [0, 1, 2].map(|j| (0..3).map(|k| from_frame[k][i] * to[k][j]).sum::<f64>())
                });
                let trace = map[0][0] + map[1][1] + map[2][2];
                ways.push((is_mirrored, -trace, map));
            }
        }
    }
    ways.sort_by(|p, q| p.0.cmp(&q.0).then(p.1.total_cmp(&q.1)));
    ways.truncate(MOST_TRIES);
    ways.into_iter().find_map(|(is_mirrored, _, rows)| {
        let turned = Affine([rows[0], rows[1], rows[2], [0.0; 3]]);
        let start = turned.apply(a.middle);
        let shift = sub(b.middle, start);
        let map = turned.then(&Affine::shift(shift));
        let facets = matched((from, a), (on, b), &map, &places)?;
        Some(Twin {
            part,
            facets,
            is_mirrored,
        })
    })
}

/// Vertices of a part by place.
struct Places {
    cell: f64,
    vertices: HashMap<[i64; 3], Vec<(u32, [f64; 3])>>,
    slack: f64,
}

impl Places {
    fn of(open: &OpenMesh, shape: &PartShape, slack: f64) -> Places {
        let cell = 4.0 * slack;
        let mut vertices: HashMap<[i64; 3], Vec<(u32, [f64; 3])>> = HashMap::new();
        for v in &shape.vertices {
            let p = open.mesh.vertices[*v as usize];
            let key = p.map(|c| (c / cell).floor() as i64);
            vertices.entry(key).or_default().push((*v, p));
        }
        Places {
            cell,
            vertices,
            slack,
        }
    }

    fn at(&self, p: [f64; 3]) -> Option<u32> {
        let span = |i: usize| {
            let low = ((p[i] - self.slack) / self.cell).floor() as i64;
            let high = ((p[i] + self.slack) / self.cell).floor() as i64;
            low..=high
        };
        let mut best: Option<(f64, u32)> = None;
        for x in span(0) {
            for y in span(1) {
                for z in span(2) {
                    for (v, q) in self.vertices.get(&[x, y, z]).into_iter().flatten() {
                        let d = sub(*q, p);
                        let d2 = dot(d, d);
                        if d2 <= self.slack * self.slack && best.is_none_or(|b| (d2, *v) < b) {
                            best = Some((d2, *v));
                        }
                    }
                }
            }
        }
        best.map(|b| b.1)
    }
}

/// The facets of `b` that those of `a` become, if every corner finds its place.
fn matched(
    (from, a): (&OpenMesh, &PartShape),
    (on, b): (&OpenMesh, &PartShape),
    map: &Affine,
    places: &Places,
) -> Option<Vec<(u32, [u8; 3])>> {
    let mut image: HashMap<u32, u32> = HashMap::with_capacity(a.vertices.len());
    for v in &a.vertices {
        image.insert(*v, places.at(map.apply(from.mesh.vertices[*v as usize]))?);
    }
    let sorted = |mut ids: [u32; 3]| {
        ids.sort_unstable();
        ids
    };
    let by_corners: HashMap<[u32; 3], u32> = b
        .facets
        .iter()
        .map(|f| (sorted(on.mesh.facets[*f as usize]), *f))
        .collect();
    a.facets
        .iter()
        .map(|f| {
            let ids = from.mesh.facets[*f as usize].map(|v| image[&v]);
            let facet = *by_corners.get(&sorted(ids))?;
            let theirs = on.mesh.facets[facet as usize];
            let mut order = [0u8; 3];
            for k in 0..3 {
                order[k] = theirs.iter().position(|v| *v == ids[k])? as u8;
            }
            Some((facet, order))
        })
        .collect()
}
