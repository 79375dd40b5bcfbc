//! Shapes that VRML97 tells by their measures, as facets.
//!
//! Source: ISO/IEC 14772-1, sections 6.7 (Box), 6.12 (Cone), 6.14 (Cylinder), 6.17 (ElevationGrid), 6.18 (Extrusion), 6.41
//! (Sphere). Round ones are divided into 48 sides, at a millimetre-sized part less than a line's width off the circle.

use super::FORMAT;
use super::parse::Node;
use crate::Problem;
use crate::formats::text::bad_line;
use crate::geometry::{Affine, cross, dot, length, normalised, sub, triangles};
use std::f64::consts::TAU;

/// A surface of its own.
#[derive(Default)]
pub(super) struct Solid {
    pub(super) vertices: Vec<[f64; 3]>,
    pub(super) facets: Vec<[u32; 3]>,
}

const SIDES: u32 = 48;

/// Most corners of a grid or an extrusion.
const MOST_CORNERS: usize = 5_000_000;

/// The facets of a shape told by measures; none for a node of another kind.
pub(super) fn shape_of(node: &Node) -> Option<Result<Solid, Problem>> {
    let number = |field: &str, usual: f64| node.exactly::<1>(field).map_or(usual, |[n]| n);
    let is_on = |field: &str| node.truth(field).unwrap_or(true);
    Some(match node.kind.as_str() {
        "Box" => Ok(cuboid(node.exactly("size").unwrap_or([2.0; 3]))),
        "Sphere" => Ok(sphere(number("radius", 1.0))),
        "Cylinder" => {
            let (r, h) = (number("radius", 1.0), 0.5 * number("height", 2.0));
            let profile = [
                (0.0, -h, is_on("bottom")),
                (r, -h, is_on("side")),
                (r, h, is_on("top")),
                (0.0, h, false),
            ];
            Ok(turned(&profile))
        }
        "Cone" => {
            let (r, h) = (number("bottomRadius", 1.0), 0.5 * number("height", 2.0));
            Ok(turned(&[
                (0.0, -h, is_on("bottom")),
                (r, -h, is_on("side")),
                (0.0, h, false),
            ]))
        }
        "ElevationGrid" => grid(node),
        "Extrusion" => extrusion(node),
        _ => return None,
    })
}

fn cuboid(size: [f64; 3]) -> Solid {
    let corner = |n: u32| {
        [0, 1, 2].map(|i| {
            if n >> i & 1 == 1 {
                0.5 * size[i]
            } else {
                -0.5 * size[i]
            }
        })
    };
    let quads = [
        [0, 2, 3, 1],
        [4, 5, 7, 6],
        [0, 1, 5, 4],
        [2, 6, 7, 3],
        [0, 4, 6, 2],
        [1, 3, 7, 5],
    ];
    Solid {
        vertices: (0..8).map(corner).collect(),
        facets: quads
            .iter()
            .flat_map(|[a, b, c, d]| [[*a, *b, *c], [*a, *c, *d]])
            .collect(),
    }
}

fn sphere(radius: f64) -> Solid {
    let rings = SIDES / 2;
    let at = |n: u32| {
        let (sin, cos) = (0.5 * TAU * f64::from(n) / f64::from(rings)).sin_cos();
        let r = if n == 0 || n == rings {
            0.0
        } else {
            radius * sin
        };
        (r, -radius * cos, n < rings)
    };
    turned(&(0..=rings).map(at).collect::<Vec<_>>())
}

/// A profile of radius and height, from below, turned about the y axis; each place says whether the stretch after it is there.
fn turned(profile: &[(f64, f64, bool)]) -> Solid {
    let mut solid = Solid::default();
    let mut rows: Vec<Vec<u32>> = Vec::new();
    for (r, y, _) in profile {
        let first = solid.vertices.len() as u32;
        if *r == 0.0 {
            solid.vertices.push([0.0, *y, 0.0]);
            rows.push(vec![first; SIDES as usize]);
            continue;
        }
        for side in 0..SIDES {
            let (sin, cos) = (TAU * f64::from(side) / f64::from(SIDES)).sin_cos();
            solid.vertices.push([r * cos, *y, -r * sin]);
        }
        rows.push((first..first + SIDES).collect());
    }
    for (pair, (_, _, is_there)) in rows.windows(2).zip(profile) {
        for side in (0..SIDES as usize).filter(|_| *is_there) {
            let next = (side + 1) % SIDES as usize;
            let quad = [pair[0][side], pair[0][next], pair[1][next], pair[1][side]];
            add_quad(&mut solid.facets, quad);
        }
    }
    solid
}

/// Two facets, or one where two corners are the same.
fn add_quad(facets: &mut Vec<[u32; 3]>, [a, b, c, d]: [u32; 4]) {
    for [p, q, r] in [[a, b, c], [a, c, d]] {
        if p != q && q != r && r != p {
            facets.push([p, q, r]);
        }
    }
}

fn bad(node: &Node, what: &str) -> Problem {
    bad_line(FORMAT, node.line, what)
}

fn grid(node: &Node) -> Result<Solid, Problem> {
    let count = |field: &str| node.exactly::<1>(field).map_or(0.0, |[n]| n);
    let (across, along) = (count("xDimension"), count("zDimension"));
    let step = |field: &str| node.exactly::<1>(field).map_or(1.0, |[n]| n);
    let (dx, dz) = (step("xSpacing"), step("zSpacing"));
    let heights = node.numbers("height").unwrap_or(&[]);
    if !(across >= 2.0 && along >= 2.0 && across * along <= MOST_CORNERS as f64) {
        return Err(bad(node, "a grid needs two to some millions of places"));
    }
    let (nx, nz) = (across as usize, along as usize);
    if heights.len() != nx * nz {
        let what = format!(
            "the grid has {} heights for {} places",
            heights.len(),
            nx * nz
        );
        return Err(bad(node, &what));
    }
    let mut solid = Solid::default();
    for (at, y) in heights.iter().enumerate() {
        solid
            .vertices
            .push([dx * (at % nx) as f64, *y, dz * (at / nx) as f64]);
    }
    let is_turned = !node.truth("ccw").unwrap_or(true);
    for z in 0..nz - 1 {
        for x in 0..nx - 1 {
            let at = |x: usize, z: usize| (z * nx + x) as u32;
            let mut quad = [at(x, z), at(x, z + 1), at(x + 1, z + 1), at(x + 1, z)];
            if is_turned {
                quad.swap(1, 3);
            }
            add_quad(&mut solid.facets, quad);
        }
    }
    Ok(solid)
}

/// A cross-section pushed along a spine (section 6.18): at each place it stands across the spine, scaled and turned.
fn extrusion(node: &Node) -> Result<Solid, Problem> {
    let flat = node.numbers("crossSection");
    let usual = [1.0, 1.0, 1.0, -1.0, -1.0, -1.0, -1.0, 1.0, 1.0, 1.0];
    let (section, rest) = flat.unwrap_or(&usual).as_chunks::<2>();
    let (spine, more) = node
        .numbers("spine")
        .unwrap_or(&[0.0, 0.0, 0.0, 0.0, 1.0, 0.0])
        .as_chunks::<3>();
    let (scales, odd) = node
        .numbers("scale")
        .unwrap_or(&[1.0, 1.0])
        .as_chunks::<2>();
    let (turns, over) = node
        .numbers("orientation")
        .unwrap_or(&[0.0, 0.0, 1.0, 0.0])
        .as_chunks::<4>();
    let has_rest = !(rest.is_empty() && more.is_empty() && odd.is_empty() && over.is_empty());
    if has_rest || section.len() < 2 || spine.len() < 2 || scales.is_empty() || turns.is_empty() {
        return Err(bad(
            node,
            "an extrusion needs a section and a spine of two places or more",
        ));
    }
    if section.len() * spine.len() > MOST_CORNERS {
        return Err(bad(
            node,
            "the extrusion has more than five million corners",
        ));
    }
    let is_ring = section.first() == section.last();
    let is_loop = spine.first() == spine.last();
    let corners = if is_ring {
        section.len() - 1
    } else {
        section.len()
    };
    let places = if is_loop {
        spine.len() - 1
    } else {
        spine.len()
    };
    let frames = frames(spine, is_loop);
    let mut solid = Solid::default();
    for at in 0..places {
        let [x, y, z] = frames[at];
        let [sx, sz] = scales[at.min(scales.len() - 1)];
        let [ax, ay, az, angle] = turns[at.min(turns.len() - 1)];
        let turn =
            normalised([ax, ay, az]).map_or(Affine::IDENTITY, |axis| Affine::turn(axis, angle));
        for [u, v] in &section[..corners] {
            let [a, b, c] = turn.apply([u * sx, 0.0, v * sz]);
            let p = [0, 1, 2].map(|i| spine[at][i] + a * x[i] + b * y[i] + c * z[i]);
            solid.vertices.push(p);
        }
    }
    let n = corners as u32;
    let is_turned = !node.truth("ccw").unwrap_or(true);
    let mut facets = Vec::new();
    for at in 0..spine.len() - 1 {
        let (low, high) = ((at % places) as u32 * n, ((at + 1) % places) as u32 * n);
        for side in 0..section.len() as u32 - 1 {
            let next = (side + 1) % n;
            add_quad(
                &mut facets,
                [low + side, low + next, high + next, high + side],
            );
        }
    }
    for (field, first, is_end) in [
        ("beginCap", 0, false),
        ("endCap", (places as u32 - 1) * n, true),
    ] {
        if is_loop || corners < 3 || !node.truth(field).unwrap_or(true) {
            continue;
        }
        let ring: Vec<[f64; 3]> = (0..n)
            .map(|c| solid.vertices[(first + c) as usize])
            .collect();
        let mut cut = Vec::new();
        triangles(&ring, &mut cut);
        for [a, b, c] in cut.iter().map(|t| t.map(|i| first + i as u32)) {
            facets.push(if is_end { [a, b, c] } else { [a, c, b] });
        }
    }
    // Seen from outside, sections run clockwise about the spine by the standard's drawing.
    solid.facets = facets
        .into_iter()
        .map(|[a, b, c]| if is_turned { [a, c, b] } else { [a, b, c] })
        .collect();
    if let Some(volume) = enclosed(&solid).filter(|v| (*v < 0.0) != is_turned) {
        let _ = volume;
        solid.facets.iter_mut().for_each(|f| f.swap(1, 2));
    }
    Ok(solid)
}

/// Volume that the facets go round, if they are closed enough for it to say which way they face.
fn enclosed(solid: &Solid) -> Option<f64> {
    let origin = *solid.vertices.first()?;
    let six: f64 = (solid.facets.iter())
        .map(|f| {
            let [a, b, c] = f.map(|v| sub(solid.vertices[v as usize], origin));
            dot(a, cross(b, c))
        })
        .sum();
    (six != 0.0).then_some(six / 6.0)
}

/// At each place of a spine the directions of the section's x, of the spine, and of the section's z.
fn frames(spine: &[[f64; 3]], is_loop: bool) -> Vec<[[f64; 3]; 3]> {
    let n = spine.len();
    let tangent = |i: usize| {
        let (before, after) = match (i, is_loop) {
            (0, false) => (0, 1),
            (0, true) => (n - 2, 1),
            (i, true) if i == n - 1 => (n - 2, 1),
            (i, false) if i == n - 1 => (n - 2, n - 1),
            (i, _) => (i - 1, i + 1),
        };
        normalised(sub(spine[after], spine[before]))
    };
    let bend = |i: usize| {
        let (before, after) = match i {
            0 if is_loop => (n - 2, 1),
            0 => return None,
            i if i == n - 1 && is_loop => (n - 2, 1),
            i if i == n - 1 => return None,
            i => (i - 1, i + 1),
        };
        normalised(cross(
            sub(spine[after], spine[i]),
            sub(spine[before], spine[i]),
        ))
    };
    let first_y = (0..n).find_map(tangent).unwrap_or([0.0, 1.0, 0.0]);
    // A straight spine stands as the y axis would be turned onto it.
    let straight = || {
        let up = [0.0, 1.0, 0.0];
        let axis = cross(up, first_y);
        match normalised(axis) {
            Some(about) => {
                Affine::turn(about, length(axis).atan2(dot(up, first_y))).apply([0.0, 0.0, 1.0])
            }
            None if first_y[1] < 0.0 => [0.0, 0.0, -1.0],
            None => [0.0, 0.0, 1.0],
        }
    };
    let mut last_z = (0..n).find_map(bend).unwrap_or_else(straight);
    let mut last_y = first_y;
    (0..n)
        .map(|i| {
            let y = tangent(i).unwrap_or(last_y);
            let mut z = bend(i).unwrap_or(last_z);
            if dot(z, last_z) < 0.0 {
                z = z.map(|c| -c);
            }
            (last_y, last_z) = (y, z);
            [cross(y, z), y, z]
        })
        .collect()
}
