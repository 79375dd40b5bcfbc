//! The conforming cut: what it must leave as it was, and where it must run.

use crate::jobs_of::{at, job_of};
use crate::judge::cases;
use parry3d::shape::{Shape, TriMesh};
use proptest::prelude::*;
use rstest::rstest;
use std::collections::HashMap;
use varichrom_core::carve::{LEAST_ALTITUDE_MM, Refined, TOLERANCE_MM, refined};
use varichrom_core::colour::Colour;
use varichrom_core::job::{Edit, GiveEdit, History, RegionEdit};
use varichrom_core::mesh::{Mesh, cross, dot, length, sub};
use varichrom_core::regions::{Reach, Stroke};
use varichrom_demo::{box_mesh, revolve, stl, subdivided_sphere};

/// Shape kept, relative.
const KEPT: f64 = 1e-6;

fn red() -> Edit {
    Edit::Region(RegionEdit::AddRegion {
        region: "red".into(),
        name: "Red".into(),
        colour: Colour([200, 30, 30]),
        slot: None,
    })
}

fn stroke(path: &[[f64; 3]], radius_mm: f64, eye: [f64; 3], reach: Reach) -> Edit {
    Edit::Give(GiveEdit::GiveStroke {
        region: "red".into(),
        reach,
        stroke: Stroke {
            model: "it".into(),
            path: path.to_vec(),
            radius_mm,
            eye,
        },
    })
}

fn band(low_mm: f64, high_mm: f64) -> Edit {
    Edit::band("red", [low_mm, high_mm], None, None)
}

/// A job of one model called `it`, with a red region.
fn painted(mesh: &[u8], edits: &[Edit]) -> History {
    let (shelf, mut history) = job_of(&[("it", mesh)]);
    history.apply(red(), &shelf).expect("a new region");
    for edit in edits {
        history
            .apply(edit.clone(), &shelf)
            .unwrap_or_else(|p| panic!("{p}"));
    }
    history
}

fn fine(history: &History) -> Refined {
    let model = &history.job().models[0];
    refined(&model.open, &model.labels)
}

fn altitude([a, b, c]: [[f64; 3]; 3]) -> f64 {
    let sides = [sub(b, a), sub(c, b), sub(a, c)];
    let longest = sides.map(length).into_iter().fold(0.0, f64::max);
    length(cross(sides[0], sides[2])) / longest
}

/// Red area by adding up the facets of the refined mesh.
fn red_area(history: &History) -> f64 {
    let fine = fine(history);
    let red = history.job().region("red");
    (0..fine.labels.len())
        .filter(|f| fine.labels[*f] == red)
        .map(|f| varichrom_core::mesh::facet_area(&fine.mesh.corners(f as u32)))
        .sum()
}

/// Everything a cut must keep.
fn assert_kept(history: &History) {
    assert_same_shape(history);
    let model = &history.job().models[0];
    let fine = fine(history);
    for (number, facet) in fine.facet.iter().enumerate() {
        if model.labels.division(*facet).is_some() {
            let low = altitude(fine.mesh.corners(number as u32));
            assert!(low >= LEAST_ALTITUDE_MM * 0.999, "facet {facet}: {low}");
        }
    }
}

/// Still closed, of the same volume and area, checked on the refined mesh with `parry3d`'s mass properties as second opinion.
pub(crate) fn assert_same_shape(history: &History) {
    let model = &history.job().models[0];
    let fine = fine(history);
    // Every edge has exactly one facet on each side, running the other way: closed, no T-junctions.
    if model.open.is_closed() {
        let mut edges: HashMap<(u32, u32), i32> = HashMap::new();
        for f in &fine.mesh.facets {
            for k in 0..3 {
                *edges.entry((f[k], f[(k + 1) % 3])).or_default() += 1;
            }
        }
        for ((a, b), n) in &edges {
            assert_eq!((*n, edges.get(&(*b, *a))), (1, Some(&1)), "edge {a} {b}");
        }
        let solid = |mesh: &Mesh| {
            let points = mesh.vertices.iter();
            let points = points.map(|v| parry3d::math::Vector::new(v[0], v[1], v[2]));
            let shape = TriMesh::new(points.collect(), mesh.facets.clone()).expect("sound");
            shape.mass_properties(1.0).mass()
        };
        let (before, after) = (solid(&model.open.mesh), solid(&fine.mesh));
        assert!(
            (after - before).abs() <= KEPT * before.abs(),
            "{before} {after}"
        );
    }
    let area = |mesh: &Mesh| -> f64 {
        let count = mesh.facets.len() as u32;
        (0..count)
            .map(|f| varichrom_core::mesh::facet_area(&mesh.corners(f)))
            .sum()
    };
    let (before, after) = (area(&model.open.mesh), area(&fine.mesh));
    assert!((after - before).abs() <= KEPT * before, "{before} {after}");
}

/// Ends of the lines between red and the rest.
fn red_border(history: &History) -> Vec<[[f64; 3]; 2]> {
    let fine = fine(history);
    let red = history.job().region("red");
    let mut side: HashMap<(u32, u32), bool> = HashMap::new();
    let mut lines = Vec::new();
    for (number, f) in fine.mesh.facets.iter().enumerate() {
        let is_red = fine.labels[number] == red;
        for k in 0..3 {
            let (a, b) = (f[k], f[(k + 1) % 3]);
            match side.get(&(b, a)) {
                Some(other) if *other != is_red => {
                    lines.push([a, b].map(|v| fine.mesh.vertices[v as usize]));
                }
                _ => {
                    side.insert((a, b), is_red);
                }
            }
        }
    }
    lines
}

fn bunny() -> Vec<u8> {
    include_bytes!("data/bunny.stl").to_vec()
}

fn machine_parts() -> Vec<(&'static str, Vec<u8>)> {
    let cylinder = revolve(&[(0.0, 0.0), (8.0, 0.0), (8.0, 60.0), (0.0, 60.0)], 180);
    vec![
        ("box", stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "box")),
        ("needles", stl(&cylinder, "cylinder")),
        ("sphere", stl(&subdivided_sphere(12.0, 4), "sphere")),
        ("bunny", bunny()),
    ]
}

#[rstest]
fn a_cut_keeps_the_shape(#[values(0, 1, 2, 3)] part: usize, #[values(0.3, 2.0, 9.0)] radius: f64) {
    let (name, bytes) = &machine_parts()[part];
    let (_, plain) = job_of(&[("it", bytes)]);
    let bounds = plain.job().bounds();
    let open = plain.job().models[0].open.clone();
    // A path over the surface: nearest points to a slanting line through the box around the model.
    let scale = bounds.size().into_iter().fold(0.0, f64::max) / 40.0;
    let on_surface = |t: f64| {
        let p = [0, 1, 2].map(|i| bounds.min[i] + (0.2 + 0.6 * t) * bounds.size()[i]);
        let near = open.tree().nearest([p[0], p[1], bounds.max[2] + 1.0], 1e9);
        near.expect("a surface").point
    };
    let path: Vec<[f64; 3]> = (0..40).map(|i| on_surface(f64::from(i) / 39.0)).collect();
    let eye = [
        bounds.centre()[0],
        bounds.min[1] - 50.0 * scale,
        bounds.max[2] + 200.0 * scale,
    ];
    for reach in [Reach::Dab, Reach::Dip] {
        let history = painted(bytes, &[stroke(&path, radius * scale, eye, reach)]);
        assert_kept(&history);
        assert!(red_area(&history) > 0.0, "{name}");
        // The border lies on the tube around the path, unless it follows an edge to what is not seen.
        if reach == Reach::Dip {
            let tube = varichrom_core::regions::PathField::along(&path, radius * scale);
            for line in red_border(&history) {
                let middle = [0, 1, 2].map(|i| 0.5 * (line[0][i] + line[1][i]));
                for p in [line[0], middle, line[1]] {
                    let off = varichrom_core::carve::Field::at(&tube, p).abs();
                    assert!(off <= TOLERANCE_MM, "{name} {off} at {p:?}");
                }
            }
        }
    }
}

#[test]
fn labels_away_from_a_cut_stay_and_undo_brings_the_same_mesh_back() {
    let bytes = bunny();
    let (shelf, mut history) = job_of(&[("it", &bytes)]);
    history.apply(red(), &shelf).expect("new");
    let bounds = history.job().bounds();
    let mid = 0.5 * bounds.size()[2];
    history
        .apply(band(mid, mid + 0.2 * bounds.size()[2]), &shelf)
        .expect("a band");
    let before = history.job().models[0].labels.clone();
    let top = history.job().models[0]
        .open
        .tree()
        .nearest([bounds.centre()[0], bounds.centre()[1], 1e4], 1e9)
        .expect("a surface")
        .point;
    let radius = 0.04 * bounds.size()[2];
    let dab = stroke(&[top], radius, [top[0], top[1], 1e4], Reach::Dab);
    history.apply(dab, &shelf).expect("a dab");
    let after = &history.job().models[0].labels;
    let open = &history.job().models[0].open;
    let mut touched = 0;
    for facet in 0..after.len() as u32 {
        let far = open
            .mesh
            .corners(facet)
            .iter()
            .all(|c| length(sub(*c, top)) > 4.0 * radius);
        if far {
            assert_eq!(before.held(facet), after.held(facet));
        } else if before.held(facet) != after.held(facet) {
            touched += 1;
        }
    }
    assert!(touched > 0);
    history.undo(&shelf).expect("one step back");
    assert_eq!(history.job().models[0].labels, before);
}

#[test]
fn new_facets_grow_with_the_border_not_with_the_mesh() {
    let added = |splits: u32, radius: f64| {
        let bytes = stl(&subdivided_sphere(20.0, splits), "sphere");
        let dab = stroke(&[[0.0, 0.0, 20.0]], radius, [0.0, 0.0, 200.0], Reach::Dab);
        let history = painted(&bytes, &[dab]);
        fine(&history).mesh.facets.len() - 20 * 4usize.pow(splits)
    };
    // Sixteen times the facets have four times the edges for the border to cross.
    let (coarse, dense) = (added(4, 4.0), added(6, 4.0));
    assert!(dense < 6 * coarse.max(300), "{coarse} {dense}");
    // Two huge triangles: twice the border, about twice the facets.
    let plate = stl(
        &box_mesh([-100.0, -100.0, 0.0], [100.0, 100.0, 3.0]),
        "plate",
    );
    let on_plate = |length: f64| {
        let path = [[-0.5 * length, 1.0, 3.0], [0.5 * length, 1.0, 3.0]];
        let history = painted(&plate, &[stroke(&path, 2.0, [0.0, 0.0, 300.0], Reach::Dab)]);
        fine(&history).mesh.facets.len()
    };
    let (short, long) = (on_plate(40.0), on_plate(80.0));
    assert!(long < 3 * short, "{short} {long}");
    assert!(long < 6000, "{long}");
}

/// How far a point is from the nearest of some lines, mm.
fn distance(p: [f64; 3], lines: &[[[f64; 3]; 2]]) -> f64 {
    let from = |[a, b]: &[[f64; 3]; 2]| {
        let (ab, ap) = (sub(*b, *a), sub(p, *a));
        let t = dot(ab, ap) / dot(ab, ab).max(1e-300);
        let t = t.clamp(0.0, 1.0);
        length(sub(p, [0, 1, 2].map(|i| a[i] + t * ab[i])))
    };
    lines.iter().map(from).fold(f64::INFINITY, f64::min)
}

/// Facets of 1.4 mm, larger than an arc of these radii shows its bend over and smaller, a border with corners, and a small
/// spot beside it.
#[rstest]
fn an_edge_moves_by_its_distance_everywhere(
    #[values(0.2, 0.6, 1.0, 2.0, 3.5)] by: f64,
    #[values(1.0, -1.0)] way: f64,
) {
    let on = |x: f64, y: f64| [x, y, (40.0f64.powi(2) - x * x - y * y).sqrt()];
    let zigzag: Vec<[f64; 3]> = [(-16.0, -6.0), (-4.0, 8.0), (4.0, -8.0), (16.0, 6.0)]
        .map(|(x, y)| on(x, y))
        .to_vec();
    let eye = [0.0, 0.0, 200.0];
    let ball = stl(&subdivided_sphere(40.0, 5), "ball");
    let before = [
        stroke(&zigzag, 4.0, eye, Reach::Dab),
        stroke(&[on(14.0, -12.0)], 4.0, eye, Reach::Dab),
    ];
    let was = red_border(&painted(&ball, &before));
    let step = Edit::Give(GiveEdit::GrowRegion {
        region: "red".into(),
        by_mm: way * by,
    });
    let is = red_border(&painted(&ball, &[&before[..], &[step]].concat()));
    assert!(is.len() > 20, "{} lines", is.len());
    let places = is.iter().flat_map(|[a, b]| {
        (0..=8).map(|n| [0, 1, 2].map(|i| a[i] + f64::from(n) / 8.0 * (b[i] - a[i])))
    });
    let off: Vec<f64> = places.map(|p| (distance(p, &was) - by).abs()).collect();
    // Where a facet would become lower than the least altitude the border follows an edge close by.
    let beyond = off.iter().filter(|o| **o > TOLERANCE_MM).count();
    let most = off.iter().copied().fold(0.0, f64::max);
    assert!(most < 1.5 * TOLERANCE_MM, "{most} mm off");
    assert!(
        100 * beyond <= off.len(),
        "{beyond} of {} places",
        off.len()
    );
}

#[test]
fn erasing_a_stroke_makes_its_facets_whole_again() {
    let plate = stl(&box_mesh([-50.0, -50.0, 0.0], [50.0, 50.0, 3.0]), "plate");
    let dab = stroke(&[[3.0, 4.0, 3.0]], 2.0, [0.0, 0.0, 300.0], Reach::Dab);
    let Edit::Give(GiveEdit::GiveStroke {
        reach,
        stroke: mut wide,
        ..
    }) = dab.clone()
    else {
        unreachable!()
    };
    wide.radius_mm = 4.0;
    let erase = Edit::Give(GiveEdit::GiveStroke {
        region: "own".into(),
        reach,
        stroke: wide,
    });
    let history = painted(&plate, &[dab, erase]);
    assert_eq!(fine(&history).mesh.facets.len(), 12);
    assert_eq!(red_area(&history), 0.0);
}

#[test]
fn a_patch_over_a_painted_face_takes_it_all() {
    let plate = stl(&box_mesh([0.0; 3], [30.0, 20.0, 5.0]), "plate");
    let dab = stroke(&[[10.0, 10.0, 5.0]], 2.0, [10.0, 10.0, 300.0], Reach::Dab);
    let patch = Edit::Give(GiveEdit::GivePatch {
        region: "red".into(),
        at: at("it", [1.0, 1.0, 5.0], [0.0, 0.0, 1.0]),
        crease_deg: 30.0,
        within: Default::default(),
        turn_deg: None,
    });
    let history = painted(&plate, &[dab, patch]);
    assert!((red_area(&history) - 600.0).abs() < 1e-9);
    assert_eq!(fine(&history).mesh.facets.len(), 12);
}

proptest! {
    #![proptest_config(cases(12))]

    /// Any strokes one over the other keep shape, area and closedness, and can be walked back.
    #[test]
    fn strokes_over_strokes_keep_the_shape(
        strokes in prop::collection::vec((0.0..40.0f64, 0.0..30.0f64, 0.0..40.0f64, 0.0..30.0f64, 0.2..6.0f64, any::<bool>()), 1..6)
    ) {
        let bytes = stl(&box_mesh([0.0; 3], [40.0, 30.0, 8.0]), "box");
        let (shelf, mut history) = job_of(&[("it", &bytes)]);
        history.apply(red(), &shelf).expect("new");
        let mut states = Vec::new();
        for (x0, y0, x1, y1, radius, is_erased) in strokes {
            states.push(history.job().models[0].labels.clone());
            let mut edit = stroke(&[[x0, y0, 8.0], [x1, y1, 8.0]], radius, [20.0, 15.0, 200.0], Reach::Dip);
            if let Edit::Give(GiveEdit::GiveStroke { region, .. }) = &mut edit && is_erased {
                *region = "own".into();
            }
            history.apply(edit, &shelf).expect("on the plate");
            assert_kept(&history);
        }
        for state in states.iter().rev() {
            history.undo(&shelf).expect("a step back");
            prop_assert_eq!(&history.job().models[0].labels, state);
        }
    }
}
