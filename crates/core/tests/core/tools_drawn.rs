//! What is drawn by hand or typed, against areas that are known otherwise.

use crate::jobs_of::at;
use approx::assert_relative_eq;
use rstest::rstest;
use std::f64::consts::{PI, TAU};
use varichrom_core::job::{AlikeTo, BandDepth, Edit, GiveEdit, History, SlotEdit};
use varichrom_core::model::Place;
use varichrom_core::regions::Reach;
use varichrom_demo::{box_mesh, revolve, stl, subdivided_sphere, together};

use crate::painting::*;

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
    let edit = |at: Option<Place>, snap: bool, count: u32, pitch_mm: f64| {
        Edit::Give(GiveEdit::GiveBand {
            region: "red".into(),
            low_mm: 3.07,
            high_mm: 5.13,
            at,
            snap,
            count,
            pitch_mm,
            only: None,
            depth: BandDepth::Skin,
        })
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
        .apply(Edit::Slot(SlotEdit::SetPrinter { printer }), &shelf)
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
#[case::no_twin(Edit::Give(GiveEdit::GiveAlike { region: "red".into(), at: at("it", [5.0, 5.0, 10.0], UP), to: AlikeTo::Parts, crease_deg: 30.0 }), "alike-none")]
#[case::no_edge(Edit::Give(GiveEdit::GrowRegion { region: "red".into(), by_mm: 1.0 }), "region-without-edge")]
#[case::no_step(Edit::Give(GiveEdit::GrowRegion { region: "red".into(), by_mm: 0.0 }), "step-out-of-range")]
#[case::no_region(Edit::Give(GiveEdit::GiveRest { region: "green".into() }), "region-unknown")]
#[case::no_facet(Edit::Give(GiveEdit::GiveFacets { region: "red".into(), at: vec![], flat: false }), "facets-none")]
#[case::no_strays(Edit::Give(GiveEdit::GiveStrays { smaller_mm2: 4.0, narrower_mm: 0.4 }), "strays-none")]
#[case::all_of_its_part(Edit::Give(GiveEdit::GiveStray { at: at("it", [5.0, 5.0, 10.0], UP) }), "stray-alone")]
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
