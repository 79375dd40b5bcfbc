//! The tools of Colour against areas and counts that are known otherwise.

mod jobs_of;
mod shapes;

use approx::assert_relative_eq;
use jobs_of::{Shelf, at, job_of};
use rstest::rstest;
use std::f64::consts::{PI, TAU};
use varichrom_core::carve::{Pieces, refined};
use varichrom_core::colour::Colour;
use varichrom_core::job::{AlikeTo, Axis, Edit, History, Placing, Target};
use varichrom_core::mesh::facet_area;
use varichrom_core::regions::{Place, Reach, Sight, Stroke, Within};
use varichrom_demo::{
    PLAQUE_FIRST_STROKE_MM, PLAQUE_FLOOR_MM, PLAQUE_LETTERS, box_mesh, compass_coaster, gull,
    revolve, signal_tiles, stl, subdivided_sphere, tide_plaque, together,
};

const UP: [f64; 3] = [0.0, 0.0, 1.0];

fn add(key: &str) -> Edit {
    Edit::AddRegion {
        region: key.into(),
        name: key.into(),
        colour: Colour([200, 30, 30]),
        slot: None,
    }
}

/// A job of one model called `it`, with the regions `red` and `blue`.
fn job(bytes: &[u8]) -> (Shelf, History) {
    let (shelf, mut history) = job_of(&[("it", bytes)]);
    for key in ["red", "blue"] {
        history.apply(add(key), &shelf).expect("a new region");
    }
    (shelf, history)
}

fn after(bytes: &[u8], edits: &[Edit]) -> History {
    let (shelf, mut history) = job(bytes);
    for edit in edits {
        history
            .apply(edit.clone(), &shelf)
            .unwrap_or_else(|p| panic!("{p}: {edit:?}"));
    }
    history
}

fn refused(bytes: &[u8], edit: &Edit) -> (&'static str, String) {
    let (shelf, mut history) = job(bytes);
    let before = history.job().models[0].labels.clone();
    let problem = history.apply(edit.clone(), &shelf).expect_err("refused");
    assert_eq!(history.job().models[0].labels, before);
    assert!(!problem.mend.is_empty());
    ("", problem.code)
}

/// Area of a region, added up over the refined mesh.
fn area(history: &History, key: &str) -> f64 {
    let job = history.job();
    let region = job.region(key).expect("a region");
    let sum = |(index, m): (usize, &varichrom_core::job::JobModel)| -> f64 {
        let fine = refined(&m.open, &m.labels);
        (0..fine.labels.len())
            .filter(|f| job.region_of_label(index, fine.facet[*f], fine.labels[*f]) == region)
            .map(|f| facet_area(&fine.mesh.corners(f as u32)))
            .sum()
    };
    let found = job.models.iter().enumerate().map(sum).sum();
    // The job's own sum goes another way.
    let areas = job.region_areas();
    assert_relative_eq!(
        areas[region as usize],
        found,
        max_relative = 1e-9,
        epsilon = 1e-12
    );
    found
}

fn patch(region: &str, point: [f64; 3], normal: [f64; 3], crease_deg: f64) -> Edit {
    Edit::GivePatch {
        region: region.into(),
        at: at("it", point, normal),
        crease_deg,
        within: Within::Part,
        turn_deg: None,
    }
}

fn relief(point: [f64; 3], all: bool) -> Edit {
    Edit::GiveRelief {
        region: "red".into(),
        at: at("it", point, UP),
        crease_deg: 30.0,
        all,
    }
}

fn stroke(reach: Reach, path: &[[f64; 3]], radius_mm: f64, eye: [f64; 3]) -> Edit {
    Edit::GiveStroke {
        region: "red".into(),
        reach,
        stroke: Stroke {
            model: "it".into(),
            path: path.to_vec(),
            radius_mm,
            eye,
        },
    }
}

fn band(low_mm: f64, high_mm: f64) -> Edit {
    Edit::GiveBand {
        region: "red".into(),
        low_mm,
        high_mm,
        at: None,
        snap: false,
        count: 1,
        pitch_mm: 0.0,
    }
}

/// A view straight down from a height.
fn from_above(eye: [f64; 3]) -> Sight {
    Sight {
        eye,
        right: [1.0, 0.0, 0.0],
        up: [0.0, 1.0, 0.0],
    }
}

fn lasso(eye: [f64; 3], corners: &[[f64; 2]], depth: f64, through: bool) -> Edit {
    Edit::GiveLasso {
        region: "red".into(),
        outline: corners.iter().map(|c| c.map(|v| v / depth)).collect(),
        sight: from_above(eye),
        through,
    }
}

fn cube(side: f64) -> Vec<u8> {
    stl(&box_mesh([0.0; 3], [side; 3]), "cube")
}

// Bands: Archimedes and Pappus.

#[test]
fn a_band_of_a_sphere_has_the_area_of_archimedes() {
    // On the sphere and its cylinder, On the Sphere and Cylinder I: 2 π r h. The mesh is a polyhedron inside the sphere:
    // its whole area against 4 π r² says how much smaller.
    let bytes = stl(&subdivided_sphere(20.0, 6), "sphere");
    let history = after(&bytes, &[band(13.0, 19.0)]);
    let smaller = history.job().models[0].open.area_mm2() / (4.0 * PI * 400.0);
    assert_relative_eq!(
        area(&history, "red"),
        TAU * 20.0 * 6.0 * smaller,
        max_relative = 2e-4
    );
}

#[test]
fn a_band_of_a_cone_and_of_a_torus_have_the_areas_of_pappus() {
    // Pappus: length of the turned line times the way of its middle. The pyramid of n sides has that of the cone with
    // the radius and slant of its flat sides.
    let n = 90.0;
    let cone = stl(
        &revolve(&[(0.0, 0.0), (12.0, 0.0), (0.0, 30.0)], 90),
        "cone",
    );
    let history = after(&cone, &[band(10.0, 20.0)]);
    let (flat, side) = ((PI / n).cos(), 2.0 * n * (PI / n).sin());
    let slant = (10.0f64.powi(2) + (4.0 * flat).powi(2)).sqrt();
    assert_relative_eq!(
        area(&history, "red"),
        slant * side * 6.0,
        max_relative = 1e-9
    );

    // Torus of radii 20 and 6 in 240 by 120 parts, cut from 2 below to 3 above its middle: two strips.
    let (big, small, parts) = (20.0, 6.0, 240usize);
    let ring = |i: usize| {
        let a = TAU * i as f64 / 120.0;
        (big + small * a.cos(), small * a.sin())
    };
    let mut torus = varichrom_core::mesh::Mesh {
        vertices: vec![],
        facets: vec![],
    };
    for i in 0..120 {
        let (r, z) = ring(i);
        for j in 0..parts {
            let a = TAU * j as f64 / parts as f64;
            torus.vertices.push([r * a.cos(), r * a.sin(), z]);
        }
    }
    let id = |i: usize, j: usize| ((i % 120) * parts + j % parts) as u32;
    for i in 0..120 {
        for j in 0..parts {
            torus
                .facets
                .push([id(i, j), id(i, j + 1), id(i + 1, j + 1)]);
            torus
                .facets
                .push([id(i, j), id(i + 1, j + 1), id(i + 1, j)]);
        }
    }
    let history = after(&stl(&torus, "torus"), &[band(4.0, 9.0)]);
    let angle = |z: f64| (z / small).asin();
    let (a0, a1) = (angle(-2.0), angle(3.0));
    // Length of both arcs times the way of their middles: the cosine terms cancel between outside and inside.
    let exact = 2.0 * TAU * big * small * (a1 - a0);
    assert_relative_eq!(area(&history, "red"), exact, max_relative = 1e-3);
}

#[test]
fn bands_snap_to_layers_stack_and_keep_to_a_part() {
    let two = together(&[
        box_mesh([0.0; 3], [10.0, 10.0, 20.0]),
        box_mesh([20.0, 0.0, 0.0], [30.0, 10.0, 20.0]),
    ]);
    let bytes = stl(&two, "two");
    let edit = |at: Option<Place>, snap: bool, count: u32, pitch_mm: f64| Edit::GiveBand {
        region: "red".into(),
        low_mm: 3.07,
        high_mm: 5.13,
        at,
        snap,
        count,
        pitch_mm,
    };
    let sides = |history: &History| area(history, "red") / 40.0;
    // Both boxes, the heights as typed.
    assert_relative_eq!(
        sides(&after(&bytes, &[edit(None, false, 1, 0.0)])),
        2.0 * 2.06,
        max_relative = 1e-9
    );
    // One of them, snapped to layers of 0.2 mm after a first one of 0.24.
    let on = at("it", [5.0, 0.0, 10.0], [0.0, -1.0, 0.0]);
    let (shelf, mut history) = job(&bytes);
    let printer = varichrom_core::machine::Printer {
        first_layer_mm: 0.24,
        layer_mm: 0.2,
        ..Default::default()
    };
    history
        .apply(Edit::SetPrinter { printer }, &shelf)
        .expect("a printer");
    history
        .apply(edit(Some(on.clone()), true, 1, 0.0), &shelf)
        .expect("a band");
    assert_relative_eq!(sides(&history), 5.04 - 3.04, max_relative = 1e-9);
    // A stack of four: 3.07 + 4 n, the last cut off by nothing.
    assert_relative_eq!(
        sides(&after(&bytes, &[edit(Some(on), false, 4, 4.0)])),
        4.0 * 2.06,
        max_relative = 1e-9
    );
}

// Strokes: circle, capsule, cap.

#[rstest]
#[case(0.4)]
#[case(2.0)]
#[case(7.5)]
fn a_dab_on_two_huge_triangles_is_a_disc_and_a_stroke_a_capsule(#[case] radius: f64) {
    let plate = stl(&box_mesh([-50.0, -50.0, 0.0], [50.0, 50.0, 3.0]), "plate");
    let eye = [0.0, 0.0, 300.0];
    let disc = after(
        &plate,
        &[stroke(Reach::Dab, &[[3.0, 4.0, 3.0]], radius, eye)],
    );
    // The border may be off by the tolerance all around.
    let slack = 0.05 * TAU * radius;
    assert!((area(&disc, "red") - PI * radius * radius).abs() < slack);
    let path: Vec<[f64; 3]> = (0..200)
        .map(|i| [f64::from(i) * 0.1 - 10.0, 4.0, 3.0])
        .collect();
    let line = after(&plate, &[stroke(Reach::Dab, &path, radius, eye)]);
    let exact = PI * radius * radius + 2.0 * radius * 19.9;
    assert!((area(&line, "red") - exact).abs() < slack + 0.05 * 2.0 * 19.9);
}

#[rstest]
#[case(1.5)]
#[case(6.0)]
fn a_dab_on_a_sphere_is_a_cap(#[case] radius: f64) {
    // The ball around a point of the sphere cuts off a cap of area π d², whatever the sphere (Archimedes).
    let bytes = stl(&subdivided_sphere(20.0, 6), "sphere");
    let history = after(
        &bytes,
        &[stroke(
            Reach::Dab,
            &[[0.0, 0.0, 20.0]],
            radius,
            [0.0, 0.0, 200.0],
        )],
    );
    let slack = 0.05 * TAU * radius + 1e-3 * PI * radius * radius;
    assert!((area(&history, "red") - PI * radius * radius).abs() < slack);
}

#[test]
fn a_dab_stays_on_the_side_that_is_seen_and_a_dip_does_not() {
    // A wall of 1 mm, painted from above with 3 mm: the underside is within reach.
    let wall = stl(&box_mesh([-20.0, -20.0, 0.0], [20.0, 20.0, 1.0]), "wall");
    let (path, eye) = ([[0.0, 0.0, 1.0]], [0.0, 0.0, 100.0]);
    let dab = after(&wall, &[stroke(Reach::Dab, &path, 3.0, eye)]);
    let dip = after(&wall, &[stroke(Reach::Dip, &path, 3.0, eye)]);
    assert!((area(&dab, "red") - PI * 9.0).abs() < 1.0);
    assert!((area(&dip, "red") - PI * (9.0 + 8.0)).abs() < 2.0);
}

#[rstest]
#[case::off_the_model(stroke(Reach::Dab, &[[50.0, 50.0, 50.0]], 2.0, [0.0, 0.0, 100.0]), "stroke-off-the-mesh")]
#[case::no_radius(stroke(Reach::Dab, &[[5.0, 5.0, 10.0]], 0.0, [0.0, 0.0, 100.0]), "radius-out-of-range")]
#[case::absurd_radius(stroke(Reach::Dip, &[[5.0, 5.0, 10.0]], 1e9, [0.0, 0.0, 100.0]), "radius-out-of-range")]
#[case::no_number(stroke(Reach::Dip, &[[f64::NAN, 5.0, 10.0]], 1.0, [0.0, 0.0, 100.0]), "stroke-not-a-number")]
#[case::no_points(stroke(Reach::Dip, &[], 1.0, [0.0, 0.0, 100.0]), "stroke-length")]
#[case::band_above(band(30.0, 40.0), "band-outside")]
#[case::band_below(band(-5.0, -1.0), "band-outside")]
#[case::flat_band(band(5.0, 5.0), "band-empty")]
#[case::crease(patch("red", [5.0, 5.0, 10.0], UP, 120.0), "crease-out-of-range")]
#[case::bow_tie(lasso([5.0, 5.0, 100.0], &[[-3.0, -3.0], [3.0, 3.0], [3.0, -3.0], [-3.0, 3.0]], 90.0, false), "lasso-crosses-itself")]
#[case::no_area(lasso([5.0, 5.0, 100.0], &[[-3.0, -3.0], [3.0, 3.0]], 90.0, false), "lasso-empty")]
#[case::no_twin(Edit::GiveAlike { region: "red".into(), at: at("it", [5.0, 5.0, 10.0], UP), to: AlikeTo::Parts, crease_deg: 30.0 }, "alike-none")]
#[case::no_edge(Edit::GrowRegion { region: "red".into(), by_mm: 1.0 }, "region-without-edge")]
#[case::no_step(Edit::GrowRegion { region: "red".into(), by_mm: 0.0 }, "step-out-of-range")]
#[case::no_region(Edit::GiveRest { region: "green".into() }, "region-unknown")]
#[case::no_facet(Edit::GiveFacets { region: "red".into(), at: vec![], flat: false }, "facets-none")]
#[case::no_strays(Edit::GiveStrays { smaller_mm2: 4.0, narrower_mm: 0.4 }, "strays-none")]
#[case::all_of_its_part(Edit::GiveStray { at: at("it", [5.0, 5.0, 10.0], UP) }, "stray-alone")]
fn what_cannot_be_done_is_refused_and_changes_nothing(#[case] edit: Edit, #[case] code: &str) {
    assert_eq!(refused(&cube(10.0), &edit).1, code);
}

// Lasso.

#[test]
fn a_lasso_takes_its_outline_on_the_plane_it_is_seen_on() {
    let plate = stl(&box_mesh([-50.0, -50.0, 0.0], [50.0, 50.0, 3.0]), "plate");
    let square = [[-7.0, -7.0], [7.0, -7.0], [7.0, 7.0], [-7.0, 7.0]];
    let eye = [4.0, -3.0, 103.0];
    let seen = after(&plate, &[lasso(eye, &square, 100.0, false)]);
    assert_relative_eq!(area(&seen, "red"), 196.0, max_relative = 2e-3);
    // Right through: the far side is larger by the depths squared.
    let through = after(&plate, &[lasso(eye, &square, 100.0, true)]);
    assert_relative_eq!(
        area(&through, "red"),
        196.0 * (1.0 + 1.03f64.powi(2)),
        max_relative = 2e-3
    );
    // A circle of 200 corners.
    let circle: Vec<[f64; 2]> = (0..200)
        .map(|i| TAU * f64::from(i) / 200.0)
        .map(|a| [9.0 * a.cos(), 9.0 * a.sin()])
        .collect();
    let round = after(&plate, &[lasso(eye, &circle, 100.0, false)]);
    assert_relative_eq!(area(&round, "red"), 81.0 * PI, max_relative = 5e-3);
}

#[test]
fn a_lasso_leaves_what_is_hidden() {
    // A smaller plate hovers over a larger one and hides its middle.
    let two = together(&[
        subdivided_plate(40.0, 0.0, 40),
        subdivided_plate(10.0, 10.0, 10),
    ]);
    let square = [[-20.0, -20.0], [20.0, -20.0], [20.0, 20.0], [-20.0, 20.0]];
    let history = after(
        &stl(&two, "two"),
        &[lasso([0.0, 0.0, 2000.0], &square, 2000.0, false)],
    );
    // Without the hidden square of 10 mm, and the one above it: about the same again.
    assert_relative_eq!(area(&history, "red"), 1600.0, max_relative = 0.03);
}

/// A plate of n × n squares, 1 mm thick.
fn subdivided_plate(side: f64, z: f64, n: usize) -> varichrom_core::mesh::Mesh {
    let mut mesh = varichrom_core::mesh::Mesh {
        vertices: vec![],
        facets: vec![],
    };
    let m = n + 1;
    for level in [z, z + 1.0] {
        for y in 0..m {
            for x in 0..m {
                let at = |i: usize| side * (i as f64 / n as f64 - 0.5);
                mesh.vertices.push([at(x), at(y), level]);
            }
        }
    }
    let id = |x: usize, y: usize, level: usize| (level * m * m + y * m + x) as u32;
    for y in 0..n {
        for x in 0..n {
            for (level, turned) in [(0, true), (1, false)] {
                let q = [
                    id(x, y, level),
                    id(x + 1, y, level),
                    id(x + 1, y + 1, level),
                    id(x, y + 1, level),
                ];
                let (a, b) = ([q[0], q[1], q[2]], [q[0], q[2], q[3]]);
                for f in [a, b] {
                    mesh.facets
                        .push(if turned { [f[0], f[2], f[1]] } else { f });
                }
            }
        }
    }
    for i in 0..n {
        let sides = [
            [id(i, 0, 0), id(i + 1, 0, 0), id(i + 1, 0, 1), id(i, 0, 1)],
            [id(n, i, 0), id(n, i + 1, 0), id(n, i + 1, 1), id(n, i, 1)],
            [id(i + 1, n, 0), id(i, n, 0), id(i, n, 1), id(i + 1, n, 1)],
            [id(0, i + 1, 0), id(0, i, 0), id(0, i, 1), id(0, i + 1, 1)],
        ];
        for q in sides {
            mesh.facets.push([q[0], q[1], q[2]]);
            mesh.facets.push([q[0], q[2], q[3]]);
        }
    }
    mesh
}

// Patches: dihedral angles of the Platonic solids, prisms, a chamfered box.

#[test]
fn patches_of_the_platonic_solids_join_at_their_dihedral_angles() {
    // Turn between faces = 180° − dihedral angle (table of the regular polyhedra).
    let turns = [109.471_221, 90.0, 70.528_779, 63.434_949, 41.810_315];
    for ((name, mesh, faces, _, whole), turn) in shapes::platonic(20.0).into_iter().zip(turns) {
        let bytes = stl(&mesh, name);
        let open = shapes::open(&mesh);
        let count = |deg: f64| open.creases().partition(&open.topology, deg).count;
        if turn < 90.0 {
            assert_eq!(
                (count(turn - 0.1), count(turn + 0.1)),
                (faces as u32, 1),
                "{name}"
            );
        } else {
            assert_eq!(count(90.0 - 0.1), faces as u32, "{name}");
        }
        // One patch is one face: its share of the whole area.
        let [a, b, c] = open.mesh.corners(0);
        let middle = [0, 1, 2].map(|i| (a[i] + b[i] + c[i]) / 3.0);
        let normal = varichrom_core::mesh::facet_normal(&[a, b, c]).expect("a face");
        let history = after(
            &bytes,
            &[patch("red", middle, normal, (turn - 1.0).min(89.0))],
        );
        assert_relative_eq!(
            area(&history, "red"),
            whole / faces as f64,
            max_relative = 1e-6
        );
    }
}

#[test]
fn a_limit_of_turn_stops_a_rounded_edge() {
    // A cylinder of 90 sides turns by 4° at each: from one side, 45° is 11 sides each way.
    let bytes = stl(
        &revolve(&[(0.0, 0.0), (10.0, 0.0), (10.0, 30.0), (0.0, 30.0)], 90),
        "rod",
    );
    let half = PI / 90.0;
    let out = [half.cos(), half.sin(), 0.0];
    let r = 10.0 * half.cos();
    let limited = Edit::GivePatch {
        region: "red".into(),
        at: at("it", [r * out[0], r * out[1], 12.0], out),
        crease_deg: 10.0,
        within: Within::Part,
        turn_deg: Some(45.0),
    };
    let side = 2.0 * 10.0 * half.sin() * 30.0;
    assert_relative_eq!(
        area(&after(&bytes, std::slice::from_ref(&limited)), "red"),
        23.0 * side,
        max_relative = 1e-5
    );
    let free = patch("red", [r * out[0], r * out[1], 12.0], out, 10.0);
    assert_relative_eq!(
        area(&after(&bytes, &[free]), "red"),
        90.0 * side,
        max_relative = 1e-5
    );
}

#[test]
fn a_patch_inside_one_region_stops_at_its_border() {
    let plate = stl(&box_mesh([0.0; 3], [40.0, 20.0, 4.0]), "plate");
    let blue = Edit::GiveBand {
        region: "blue".into(),
        low_mm: 1.0,
        high_mm: 3.0,
        at: None,
        snap: false,
        count: 1,
        pitch_mm: 0.0,
    };
    let inside = Edit::GivePatch {
        region: "red".into(),
        at: at("it", [20.0, 0.0, 3.5], [0.0, -1.0, 0.0]),
        crease_deg: 30.0,
        within: Within::Region,
        turn_deg: None,
    };
    let history = after(&plate, &[blue, inside]);
    assert_relative_eq!(area(&history, "red"), 40.0, max_relative = 1e-9);
    assert_relative_eq!(area(&history, "blue"), 2.0 * 120.0, max_relative = 1e-9);
}

#[test]
fn everywhere_goes_on_over_parts_that_touch() {
    let halves = together(&[
        box_mesh([0.0; 3], [10.0, 10.0, 5.0]),
        box_mesh([10.0, 0.0, 0.0], [25.0, 10.0, 5.0]),
    ]);
    let edit = |within| Edit::GivePatch {
        region: "red".into(),
        at: at("it", [5.0, 5.0, 5.0], UP),
        crease_deg: 30.0,
        within,
        turn_deg: None,
    };
    let bytes = stl(&halves, "halves");
    assert_relative_eq!(
        area(&after(&bytes, &[edit(Within::Part)]), "red"),
        100.0,
        max_relative = 1e-9
    );
    assert_relative_eq!(
        area(&after(&bytes, &[edit(Within::Everywhere)]), "red"),
        250.0,
        max_relative = 1e-9
    );
}

// Relief.

#[test]
fn relief_takes_a_letter_with_its_walls_and_a_whole_word_in_one_click() {
    let mesh = tide_plaque();
    let open = shapes::open(&mesh);
    assert!(open.is_closed());
    assert_eq!(open.defects, []);
    // Counted on the mesh: floors look up at the floor's height, walls stand upright above it.
    let bytes = stl(&mesh, "plaque");
    let [x, y] = PLAQUE_FIRST_STROKE_MM;
    let (mut floors, mut walls) = (0.0, 0.0);
    for f in 0..open.mesh.facets.len() as u32 {
        let c = open.mesh.corners(f);
        let n = varichrom_core::mesh::facet_normal(&c).expect("a facet");
        let low = c.iter().map(|p| p[2]).fold(f64::INFINITY, f64::min);
        if n[2] > 0.9 && low < PLAQUE_FLOOR_MM + 1e-5 {
            floors += facet_area(&c);
        } else if n[2].abs() < 0.1 && low > PLAQUE_FLOOR_MM - 1e-5 {
            walls += facet_area(&c);
        }
    }
    let whole = after(&bytes, &[relief([x, y, PLAQUE_FLOOR_MM], true)]);
    assert_relative_eq!(area(&whole, "red"), floors + walls, max_relative = 1e-9);
    let floors_of = |history: &History| {
        let model = &history.job().models[0];
        let partition = model.open.creases().partition(&model.open.topology, 30.0);
        let mut found: Vec<u32> = (0..model.labels.len() as u32)
            .filter(|f| model.labels.whole(*f).flatten().is_some())
            .filter(|f| {
                varichrom_core::mesh::facet_normal(&model.open.mesh.corners(*f))
                    .is_some_and(|n| n[2] > 0.9)
            })
            .map(|f| partition.patch_of[f as usize])
            .collect();
        found.sort_unstable();
        found.dedup();
        found.len()
    };
    assert_eq!(floors_of(&whole), PLAQUE_LETTERS);
    let one = after(&bytes, &[relief([x, y, PLAQUE_FLOOR_MM], false)]);
    assert_eq!(floors_of(&one), 1);
    let cell = 1.2f64;
    let cells = 5.0 + 1.0 + 1.0 + 4.0 + 2.0 + 2.0 + 5.0;
    // Around the G: every cell has four sides, less two for each of the 19 joints between its cells.
    let sides = 4.0 * cells - 2.0 * 19.0;
    assert_relative_eq!(
        area(&one, "red"),
        cells * cell * cell + sides * cell * 0.8,
        max_relative = 5e-3
    );
}

#[test]
fn relief_takes_a_raised_disc_with_its_wall_and_no_more() {
    let bytes = stl(&signal_tiles(), "tiles");
    // The first tile's disc: 96 sides of radius 8, 1 mm high.
    let history = after(&bytes, &[relief([15.0, 15.0, 3.4], false)]);
    let n = 96.0;
    let disc = 0.5 * n * 64.0 * (TAU / n).sin();
    let wall = 2.0 * n * 8.0 * (PI / n).sin();
    assert_relative_eq!(area(&history, "red"), disc + wall, max_relative = 1e-5);
    // All at this height stays on the tile.
    let all = after(&bytes, &[relief([15.0, 15.0, 3.4], true)]);
    assert_relative_eq!(area(&all, "red"), disc + wall, max_relative = 1e-5);
}

// Alike.

#[test]
fn alike_parts_get_the_same_turned_and_mirrored() {
    // A block without symmetry, a turned copy, a mirrored one, and another block.
    let wedge = |shift: [f64; 3], map: fn([f64; 3]) -> [f64; 3], is_mirrored: bool| {
        let corners = [
            [0.0, 0.0, 0.0],
            [10.0, 0.0, 0.0],
            [8.0, 5.0, 0.0],
            [0.0, 7.0, 0.0],
            [1.0, 1.0, 4.0],
            [6.0, 1.0, 6.0],
            [5.0, 4.0, 3.0],
            [1.0, 5.0, 5.0],
        ];
        let mut mesh = shapes::convex(&corners);
        for v in &mut mesh.vertices {
            let p = map(*v);
            *v = [0, 1, 2].map(|i| p[i] + shift[i]);
        }
        if is_mirrored {
            mesh.facets.iter_mut().for_each(|f| f.swap(1, 2));
        }
        mesh
    };
    let all = together(&[
        wedge([0.0; 3], |p| p, false),
        wedge([40.0, 0.0, 0.0], |[x, y, z]| [-y, x, z], false),
        wedge([0.0, 40.0, 0.0], |[x, y, z]| [-x, y, z], true),
        box_mesh([60.0, 60.0, 0.0], [70.0, 65.0, 5.0]),
    ]);
    let bytes = stl(&all, "wedges");
    let dab = stroke(
        Reach::Dip,
        &[[4.0, 0.1, 0.0], [4.0, 3.0, 0.0]],
        1.3,
        [4.0, -50.0, 2.0],
    );
    let one = after(&bytes, std::slice::from_ref(&dab));
    let alike = Edit::GiveAlike {
        region: "red".into(),
        at: at("it", [4.0, 2.0, 0.0], [0.0, 0.0, -1.0]),
        to: AlikeTo::Parts,
        crease_deg: 30.0,
    };
    assert_eq!(one.job().preview(&alike).expect("a preview").count, 2);
    let three = after(&bytes, &[dab, alike]);
    assert!(area(&one, "red") > 5.0);
    assert_relative_eq!(
        area(&three, "red"),
        3.0 * area(&one, "red"),
        max_relative = 1e-6
    );
    // What the copies got is closed and in its place: turned by 90° about z, the stroke runs along y.
    let model = &three.job().models[0];
    let open = &model.open;
    let red = three.job().region("red");
    let pieces = Pieces::of(open, &model.labels);
    let label_at = |p: [f64; 3]| {
        let near = open.tree().nearest(p, 1.0, None).expect("a surface");
        pieces.label(pieces.at(near.facet, near.point))
    };
    assert_eq!(label_at([40.0 - 2.0, 4.0, 0.0]), red);
    assert_eq!(label_at([-4.0, 42.0, 0.0]), red);
    assert_eq!(label_at([65.0, 62.0, 0.0]), None);
}

#[test]
fn alike_patches_are_those_of_the_same_make() {
    // The coaster's rose: four long points and four short ones; their tops are of two makes.
    let bytes = stl(&compass_coaster(), "coaster");
    let top = |x: f64| Edit::GiveAlike {
        region: "red".into(),
        at: at("it", [x, 0.0, 4.6], UP),
        to: AlikeTo::Patches,
        crease_deg: 30.0,
    };
    let history = after(&bytes, &[top(20.0)]);
    // A rhomb of 28 by 10 mm has half their product.
    assert_relative_eq!(
        area(&history, "red"),
        2.0 * 4.0 * 140.0,
        max_relative = 1e-5
    );
}

#[test]
fn the_coaster_has_ten_parts_and_its_long_points_are_twins() {
    let mesh = compass_coaster();
    let open = shapes::open(&mesh);
    assert_eq!(open.parts.len(), 10);
    assert!(open.is_closed());
    let twins = varichrom_core::regions::congruent_parts(&open, 2);
    assert_eq!(twins.iter().map(|t| t.part).collect::<Vec<_>>(), [4, 6, 8]);
}

#[test]
fn the_gull_is_one_closed_dense_shell_without_edges() {
    let mesh = gull();
    let open = shapes::open(&mesh);
    assert!(
        open.mesh.facets.len() >= 60_000,
        "{}",
        open.mesh.facets.len()
    );
    assert_eq!(open.parts.len(), 1);
    assert!(open.is_closed());
    assert!(open.mesh.bounds().min[2].abs() < 0.02);
}

// Growing, shrinking, smoothing; rest, invert, protect, erase, strays.

#[test]
fn a_disc_grows_and_shrinks_by_the_distance() {
    let plate = stl(&box_mesh([-50.0, -50.0, 0.0], [50.0, 50.0, 3.0]), "plate");
    let dab = stroke(Reach::Dab, &[[3.0, 4.0, 3.0]], 5.0, [0.0, 0.0, 300.0]);
    let step = |by_mm: f64| Edit::GrowRegion {
        region: "red".into(),
        by_mm,
    };
    let grown = area(&after(&plate, &[dab.clone(), step(2.0)]), "red");
    assert!((grown - 49.0 * PI).abs() < 0.1 * TAU * 7.0, "{grown}");
    let shrunk = area(&after(&plate, &[dab.clone(), step(-2.0)]), "red");
    assert!((shrunk - 9.0 * PI).abs() < 0.1 * TAU * 3.0, "{shrunk}");
    // Smoothing leaves a disc as it is, within the tolerance of each cut, and takes a thin tail off it.
    let tail = stroke(
        Reach::Dab,
        &[[3.0, 4.0, 3.0], [15.0, 4.0, 3.0]],
        0.5,
        [0.0, 0.0, 300.0],
    );
    let smooth = Edit::SmoothRegion {
        region: "red".into(),
        by_mm: 1.0,
    };
    let smoothed = area(&after(&plate, &[dab, tail, smooth]), "red");
    assert!(
        (smoothed - 25.0 * PI).abs() < 3.0,
        "{smoothed} {}",
        25.0 * PI
    );
}

#[test]
fn rest_invert_erase_and_clear_do_what_they_say() {
    let bytes = cube(10.0);
    let top = patch("red", [5.0, 5.0, 10.0], UP, 30.0);
    let front = patch("blue", [5.0, 0.0, 5.0], [0.0, -1.0, 0.0], 30.0);
    let on = |edits: &[Edit]| {
        let mut all = vec![top.clone(), front.clone()];
        all.extend(edits.iter().cloned());
        let history = after(&bytes, &all);
        [
            area(&history, "red"),
            area(&history, "blue"),
            area(&history, "base"),
        ]
    };
    assert_eq!(on(&[]), [100.0, 100.0, 400.0]);
    assert_eq!(
        on(&[Edit::GiveRest {
            region: "red".into()
        }]),
        [500.0, 100.0, 0.0]
    );
    assert_eq!(
        on(&[Edit::InvertRegion {
            region: "red".into()
        }]),
        [400.0, 100.0, 100.0]
    );
    assert_eq!(on(&[Edit::ClearColours {}]), [0.0, 0.0, 600.0]);
    let erase = patch("own", [5.0, 5.0, 10.0], UP, 30.0);
    assert_eq!(on(&[erase]), [0.0, 100.0, 500.0]);
    // A protected region loses nothing to any tool.
    let protect = Edit::ProtectRegion {
        region: "red".into(),
        is_protected: true,
    };
    let over = band(0.0, 20.0);
    let Edit::GiveBand {
        low_mm,
        high_mm,
        at,
        snap,
        count,
        pitch_mm,
        ..
    } = over
    else {
        unreachable!()
    };
    let over = Edit::GiveBand {
        region: "blue".into(),
        low_mm,
        high_mm,
        at,
        snap,
        count,
        pitch_mm,
    };
    assert_eq!(on(&[protect, over]), [100.0, 500.0, 0.0]);
}

#[test]
fn strays_are_found_told_apart_and_given_to_their_neighbours() {
    let plate = stl(&box_mesh([-50.0, -50.0, 0.0], [50.0, 50.0, 3.0]), "plate");
    let eye = [0.0, 0.0, 300.0];
    let big = stroke(Reach::Dab, &[[0.0, 0.0, 3.0]], 20.0, eye);
    let spot = |region: &str, x: f64, radius: f64| {
        let mut edit = stroke(Reach::Dab, &[[x, 0.0, 3.0]], radius, eye);
        if let Edit::GiveStroke { region: r, .. } = &mut edit {
            *r = region.into();
        }
        edit
    };
    // A hole of another colour in red, a missed spot in red, a red island outside.
    let edits = [
        big,
        spot("blue", 5.0, 0.8),
        spot("own", -5.0, 0.7),
        spot("red", 35.0, 0.9),
    ];
    let (shelf, mut history) = job(&plate);
    for edit in edits {
        history.apply(edit, &shelf).expect("on the plate");
    }
    let before = area(&history, "red");
    let strays = &history.job().strays(4.0, 0.3).expect("sizes")[0];
    let kinds: Vec<String> = strays.iter().map(|s| format!("{:?}", s.kind)).collect();
    assert_eq!(kinds, ["Uncoloured", "Hole", "Hole"]);
    for (stray, radius) in strays.iter().zip([0.7f64, 0.8, 0.9]) {
        assert!((stray.area_mm2 - PI * radius * radius).abs() < 0.05 * TAU * radius);
    }
    history
        .apply(
            Edit::GiveStray {
                at: at("it", [-5.0, 0.0, 3.0], UP),
            },
            &shelf,
        )
        .expect("one");
    assert_eq!(history.job().strays(4.0, 0.3).expect("sizes")[0].len(), 2);
    history
        .apply(
            Edit::GiveStrays {
                smaller_mm2: 4.0,
                narrower_mm: 0.3,
            },
            &shelf,
        )
        .expect("all");
    assert_eq!(history.job().strays(4.0, 0.3).expect("sizes")[0].len(), 0);
    assert_eq!(area(&history, "blue"), 0.0);
    let spots = PI * (0.49 + 0.64 - 0.81);
    assert!((area(&history, "red") - before - spots).abs() < 0.6);
}

#[test]
fn many_facets_of_a_flat_face_act_as_one() {
    let bytes = stl(&subdivided_plate(20.0, 0.0, 40), "plate");
    let facet = |flat| Edit::GiveFacets {
        region: "red".into(),
        at: vec![at("it", [0.1, 0.2, 1.0], UP)],
        flat,
    };
    assert_relative_eq!(
        area(&after(&bytes, &[facet(false)]), "red"),
        0.125,
        max_relative = 1e-5
    );
    assert_relative_eq!(
        area(&after(&bytes, &[facet(true)]), "red"),
        400.0,
        max_relative = 1e-5
    );
}

// Placing, mending and history with divided facets.

#[test]
fn borders_go_with_the_model_when_it_is_placed() {
    let plate = stl(&box_mesh([-50.0, -30.0, 0.0], [50.0, 30.0, 3.0]), "plate");
    let dab = stroke(Reach::Dab, &[[30.0, 4.0, 3.0]], 5.0, [0.0, 0.0, 300.0]);
    let (shelf, mut history) = job(&plate);
    history.apply(dab, &shelf).expect("a dab");
    let before = area(&history, "red");
    let place = |placing| Edit::Place {
        target: Target::Everything,
        placing,
    };
    let states: Vec<_> = [
        place(Placing::Mirror { axis: Axis::X }),
        place(Placing::Turn {
            axis: Axis::Z,
            degrees: 30.0,
        }),
        place(Placing::Size {
            axis: Axis::X,
            mm: 50.0,
            alone: false,
        }),
    ]
    .into_iter()
    .map(|edit| {
        let state = history.job().models[0].labels.clone();
        history.apply(edit, &shelf).expect("placed");
        state
    })
    .collect();
    let size = history.job().bounds().size();
    let factor = size[0] / (100.0 * 30f64.to_radians().cos() + 60.0 * 30f64.to_radians().sin());
    assert_relative_eq!(
        area(&history, "red"),
        before * factor * factor,
        max_relative = 1e-6
    );
    // The spot at x = 30 is at x = −30 after mirroring, then turned and scaled.
    let (s, c) = 30f64.to_radians().sin_cos();
    let foot = [
        factor * (-30.0 * c - 4.0 * s),
        factor * (-30.0 * s + 4.0 * c),
    ];
    let model = &history.job().models[0];
    let pieces = Pieces::of(&model.open, &model.labels);
    let top = model.open.mesh.bounds().max[2];
    let near = model
        .open
        .tree()
        .nearest([foot[0], foot[1], top], 1.0, None)
        .expect("on it");
    assert_eq!(
        pieces.label(pieces.at(near.facet, near.point)),
        history.job().region("red")
    );
    for state in states.iter().rev() {
        history.undo(&shelf).expect("back");
        assert_eq!(history.job().models[0].labels, *state);
    }
}

#[test]
fn an_edits_numbers_can_be_changed_and_everything_after_is_done_again() {
    let plate = stl(&box_mesh([-50.0, -50.0, 0.0], [50.0, 50.0, 20.0]), "block");
    let (shelf, mut history) = job(&plate);
    history.apply(band(5.0, 10.0), &shelf).expect("a band");
    let dab = stroke(Reach::Dab, &[[0.0, -50.0, 15.0]], 2.0, [0.0, -300.0, 15.0]);
    history.apply(dab.clone(), &shelf).expect("a dab");
    let before = area(&history, "red");
    let number = history.head() as u32 - 1;
    let change = |to: Edit| Edit::ChangeEdit {
        number,
        to: Box::new(to),
    };
    history
        .apply(change(band(5.0, 8.0)), &shelf)
        .expect("changed");
    assert_relative_eq!(
        before - area(&history, "red"),
        2.0 * 400.0,
        max_relative = 1e-4
    );
    let steps = history.steps();
    assert_eq!(steps.len(), number as usize + 2);
    assert!(steps[number as usize - 1].is_changed);
    assert_eq!(
        steps[number as usize - 1].what,
        "Band from 5.00 to 8.00 mm to red"
    );
    // Another kind, a step that is none, and numbers that cannot be used are refused.
    for (edit, code) in [
        (change(dab), "step-of-another-kind"),
        (
            Edit::ChangeEdit {
                number: 99,
                to: Box::new(band(1.0, 2.0)),
            },
            "step-unknown",
        ),
        (change(band(90.0, 95.0)), "band-outside"),
    ] {
        assert_eq!(history.apply(edit, &shelf).expect_err("refused").code, code);
    }
    assert!(history.undo(&shelf).expect("back"));
    assert_relative_eq!(area(&history, "red"), before, max_relative = 1e-12);
    assert!(!history.steps()[number as usize - 1].is_changed);
    // The recipe of a changed job gives the same job.
    history.redo(&shelf).expect("again");
    let recipe = history.recipe(&[]);
    let mut edits: Vec<Edit> = vec![Edit::OpenModel {
        model: "it".into(),
        file: "it.stl".into(),
        content: "it".into(),
    }];
    edits.extend(recipe.edits);
    let count = edits.len();
    let again = History::replay(edits, count, &shelf).expect("replayed");
    assert_eq!(again.job().models[0].labels, history.job().models[0].labels);
}
