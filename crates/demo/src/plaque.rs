//! The tide plaque: a plate with sunken lettering.

use super::letters::{Outline, outlines, twice_area};
use super::solids::{Plane, fill, wall_between};
use varichrom_core::mesh::Mesh;

/// What it says, line by line.
pub const PLAQUE_LINES: [&str; 2] = ["GRINDLE QUAY", "HIGH TIDE"];

/// Letters on it.
pub const PLAQUE_LETTERS: usize = 19;

const SIZE_MM: [f64; 3] = [100.0, 42.0, 4.0];
const DEPTH_MM: f64 = 0.8;
/// Side of a letter's cell, mm; two lines of a usual nozzle fit.
const CELL_MM: f64 = 1.2;

/// Height of the letters' floor, mm.
pub const PLAQUE_FLOOR_MM: f64 = SIZE_MM[2] - DEPTH_MM;

/// A place inside the first letter's strokes, seen from above, mm.
pub const PLAQUE_FIRST_STROKE_MM: [f64; 2] = [8.5 + 0.5 * CELL_MM, 23.0 + 3.5 * CELL_MM];

/// The plaque, lying on z = 0: one closed shell with [`PLAQUE_LETTERS`] sunken letters.
pub fn tide_plaque() -> Mesh {
    let mut loops: Vec<Outline> = Vec::new();
    for (line, text) in PLAQUE_LINES.iter().enumerate() {
        let pitch = 6.0 * CELL_MM;
        let (x0, y0) = if line == 0 { (8.5, 23.0) } else { (18.0, 9.0) };
        for (i, letter) in text.chars().enumerate() {
            loops.extend(outlines(letter, [x0 + i as f64 * pitch, y0], CELL_MM));
        }
    }
    let [w, d, top] = SIZE_MM;
    let border: Outline = vec![[0.0, 0.0], [w, 0.0], [w, d], [0.0, d]];
    let floor = PLAQUE_FLOOR_MM;
    let mut mesh = Mesh {
        vertices: Vec::new(),
        facets: Vec::new(),
    };
    let low = ring(&mut mesh, &border, 0.0);
    let high = ring(&mut mesh, &border, top);
    let (outer, inner): (Vec<Outline>, Vec<Outline>) =
        loops.into_iter().partition(|l| twice_area(l) > 0.0);
    let mut rings = |loops: &[Outline], z: f64| -> Vec<Vec<u32>> {
        loops.iter().map(|l| ring(&mut mesh, l, z)).collect()
    };
    let (outer_rim, outer_foot) = (rings(&outer, top), rings(&outer, floor));
    let (inner_rim, inner_foot) = (rings(&inner, top), rings(&inner, floor));
    wall_between(&mut mesh, &low, &high);
    fill(&mut mesh, Plane::Down, (&border, &low), &[]);
    let holes: Vec<(&[[f64; 2]], &[u32])> = outer
        .iter()
        .zip(&outer_rim)
        .map(|(l, ids)| (&l[..], &ids[..]))
        .collect();
    fill(&mut mesh, Plane::Up, (&border, &high), &holes);
    for (o, (rim, foot)) in outer.iter().zip(outer_rim.iter().zip(&outer_foot)) {
        // Walls face into the letter.
        wall_between(&mut mesh, rim, foot);
        let islands: Vec<(&[[f64; 2]], &[u32])> = inner
            .iter()
            .zip(&inner_foot)
            .filter(|(l, _)| is_within(l, o))
            .map(|(l, ids)| (&l[..], &ids[..]))
            .collect();
        fill(&mut mesh, Plane::Up, (o, foot), &islands);
    }
    for (l, (rim, foot)) in inner.iter().zip(inner_rim.iter().zip(&inner_foot)) {
        wall_between(&mut mesh, rim, foot);
        fill(&mut mesh, Plane::Up, (l, rim), &[]);
    }
    mesh
}

/// New vertices along an outline at a height.
fn ring(mesh: &mut Mesh, points: &[[f64; 2]], z: f64) -> Vec<u32> {
    let first = mesh.vertices.len() as u32;
    mesh.vertices.extend(points.iter().map(|p| [p[0], p[1], z]));
    (first..mesh.vertices.len() as u32).collect()
}

/// Whether an outline lies inside another that it does not touch: its first corner decides.
fn is_within(l: &[[f64; 2]], o: &[[f64; 2]]) -> bool {
    let [x, y] = l[0];
    let n = o.len();
    let crossed = (0..n).filter(|i| {
        let (a, b) = (o[*i], o[(i + 1) % n]);
        (a[1] > y) != (b[1] > y) && x < a[0] + (y - a[1]) / (b[1] - a[1]) * (b[0] - a[0])
    });
    crossed.count() % 2 == 1
}
