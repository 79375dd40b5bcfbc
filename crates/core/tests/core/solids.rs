//! A region that becomes a body of its own, against formulas and a second judge of solids.

use crate::judge::{always, area, assert_near, cube, euler, facing, judged, solid};
use rstest::rstest;
use std::f64::consts::PI;
use varichrom_core::geometry::facet_normal;
use varichrom_core::mesh::Mesh;
use varichrom_core::solids::{SheetDepth, SheetError, sheet, straight_through};
use varichrom_demo::{box_mesh, gull, revolve, subdivided_sphere};

#[rstest]
#[case(0.8)]
#[case(2.0)]
fn the_top_of_a_cube_becomes_a_lid_with_mitred_walls(#[case] depth: f64) {
    let cube = cube(20.0);
    let made = sheet(
        &cube,
        &facing(&cube, [0.0, 0.0, 1.0]),
        SheetDepth::Everywhere(depth),
        &always,
    )
    .unwrap();
    // A frustum of a pyramid: h/3 (A + a + √(A a)), its sides at 45°.
    let (a, b) = (20.0f64 * 20.0, (20.0 - 2.0 * depth).powi(2));
    let frustum = depth / 3.0 * (a + b + (a * b).sqrt());
    assert_near(judged(&made.part), frustum, 1e-9);
    assert_near(judged(&made.part) + judged(&made.rest), 8000.0, 1e-9);
    assert_eq!((euler(&made.part), euler(&made.rest)), (2, 2));
}

#[test]
fn three_faces_around_a_corner_become_one_part() {
    let cube = cube(20.0);
    let ways = [[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]];
    let picks: Vec<Vec<bool>> = ways.iter().map(|w| facing(&cube, *w)).collect();
    let chosen: Vec<bool> = (0..12).map(|f| picks.iter().any(|p| p[f])).collect();
    let made = sheet(&cube, &chosen, SheetDepth::Everywhere(1.0), &always).unwrap();
    // At a distance t below the faces there are three squares of 20 − 2t: mitred towards the other faces, and meeting
    // one another. 3 ∫ (20 − 2t)² dt from 0 to 1 = (20³ − 18³) / 2.
    assert_near(judged(&made.part), (8000.0 - 5832.0) / 2.0, 1e-9);
    assert_near(judged(&made.part) + judged(&made.rest), 8000.0, 1e-9);
}

#[test]
fn all_of_a_sphere_becomes_a_shell() {
    let ball = solid(&subdivided_sphere(10.0, 4));
    let made = sheet(
        &ball,
        &vec![true; ball.mesh.facets.len()],
        SheetDepth::Everywhere(1.0),
        &always,
    )
    .unwrap();
    // 4/3 π (R³ − r³); the polyhedron lies inside the sphere by under half a percent.
    assert_near(judged(&made.part), 4.0 / 3.0 * PI * (1000.0 - 729.0), 6e-3);
    assert_near(judged(&made.rest), 4.0 / 3.0 * PI * 729.0, 6e-3);
    assert_near(
        judged(&made.part) + judged(&made.rest),
        ball.volume_mm3(),
        1e-9,
    );
}

#[test]
fn the_side_of_a_cylinder_becomes_a_tube_with_mitred_ends() {
    let sides = 180;
    let rod = solid(&revolve(
        &[(0.0, 0.0), (10.0, 0.0), (10.0, 20.0), (0.0, 20.0)],
        sides,
    ));
    let chosen: Vec<bool> = (0..rod.mesh.facets.len())
        .map(|f| facet_normal(&rod.corners(f)).is_some_and(|n| n[2].abs() < 0.5))
        .collect();
    let made = sheet(&rod, &chosen, SheetDepth::Everywhere(2.0), &always).unwrap();
    // Cylinder less its core and two mitred ends: π R² L − 2 · π h/3 (R² + R r + r²) − π r² (L − 2h).
    let (r, s, h, l) = (10.0f64, 8.0f64, 2.0, 20.0);
    let ends = 2.0 * PI * h / 3.0 * (r * r + r * s + s * s);
    let tube = PI * r * r * l - ends - PI * s * s * (l - 2.0 * h);
    assert_near(judged(&made.part), tube, 1e-3);
    assert_near(
        judged(&made.part) + judged(&made.rest),
        rod.volume_mm3(),
        1e-9,
    );
}

#[test]
fn a_spot_on_a_flat_face_goes_straight_in() {
    // A plate whose top has a square of its own facets in the middle.
    let plate = solid(&plate_with_square(30.0, 10.0, 4.0));
    let chosen: Vec<bool> = (0..plate.mesh.facets.len())
        .map(|f| {
            plate
                .corners(f)
                .iter()
                .all(|p| p[2] == 4.0 && p[0].abs() <= 5.0 && p[1].abs() <= 5.0)
        })
        .collect();
    let made = sheet(&plate, &chosen, SheetDepth::Everywhere(1.5), &always).unwrap();
    assert_near(judged(&made.part), 10.0 * 10.0 * 1.5, 1e-9);
    assert_near(judged(&made.rest), 30.0 * 30.0 * 4.0 - 150.0, 1e-9);
    // As deep as the plate is thick there is nothing left below it: just less works.
    let SheetError::Folds { deepest_mm, .. } =
        sheet(&plate, &chosen, SheetDepth::Everywhere(4.0), &always).unwrap_err()
    else {
        panic!("it should fold");
    };
    assert!((3.9..4.0).contains(&deepest_mm.unwrap()), "{deepest_mm:?}");
    let through = straight_through(&plate, &chosen, &always).unwrap();
    assert_near(judged(&through.part), 400.0, 1e-6);
    assert_near(judged(&through.rest), 3200.0, 1e-6);
}

/// A square plate from z = 0 with a square of its own facets in the middle of its top.
fn plate_with_square(side: f64, inner: f64, height: f64) -> Mesh {
    let ring = |r: f64, z: f64| [[-r, -r, z], [r, -r, z], [r, r, z], [-r, r, z]];
    let mut vertices = Vec::new();
    for (r, z) in [
        (side / 2.0, 0.0),
        (side / 2.0, height),
        (inner / 2.0, height),
    ] {
        vertices.extend(ring(r, z));
    }
    let mut facets = vec![[0, 2, 1], [0, 3, 2], [8, 9, 10], [8, 10, 11]];
    for low in [0u32, 4] {
        for i in 0..4 {
            let j = (i + 1) % 4;
            facets.push([low + i, low + j, low + 4 + j]);
            facets.push([low + i, low + 4 + j, low + 4 + i]);
        }
    }
    Mesh { vertices, facets }
}

#[test]
fn two_squares_that_touch_at_a_corner_are_told_where() {
    // A block whose top is four squares about the middle; two opposite ones are chosen.
    let mut block = box_mesh([-10.0, -10.0, 0.0], [10.0, 10.0, 5.0]);
    block
        .facets
        .retain(|f| f.iter().any(|v| block.vertices[*v as usize][2] == 0.0));
    let first = block.vertices.len() as u32;
    let ring = [
        [-10.0, -10.0],
        [0.0, -10.0],
        [10.0, -10.0],
        [10.0, 0.0],
        [10.0, 10.0],
        [0.0, 10.0],
        [-10.0, 10.0],
        [-10.0, 0.0],
    ];
    block.vertices.extend(ring.map(|[x, y]| [x, y, 5.0]));
    block.vertices.push([0.0, 0.0, 5.0]);
    for i in 0..8 {
        block
            .facets
            .push([first + i, first + (i + 1) % 8, first + 8]);
    }
    let open = block;
    let whole = solid(&open);
    // The sides do not have the new corners: the block is open there, and that is said first.
    assert!(matches!(
        sheet(
            &whole,
            &vec![true; whole.mesh.facets.len()],
            SheetDepth::Everywhere(1.0),
            &always,
        ),
        Err(SheetError::NotClosed(_))
    ));
    // A double pyramid over the same ring is closed.
    let mut bipyramid = Mesh {
        vertices: ring.map(|[x, y]| [x, y, 5.0]).to_vec(),
        facets: Vec::new(),
    };
    bipyramid
        .vertices
        .extend([[0.0, 0.0, 9.0], [0.0, 0.0, 0.0]]);
    for i in 0..8 {
        bipyramid.facets.push([i, (i + 1) % 8, 8]);
        bipyramid.facets.push([(i + 1) % 8, i, 9]);
    }
    let whole = solid(&bipyramid);
    let chosen: Vec<bool> = (0..16).map(|f| f == 0 || f == 8).collect();
    let found = sheet(&whole, &chosen, SheetDepth::Everywhere(0.5), &always).unwrap_err();
    assert_eq!(found, SheetError::TouchesAtPoint([0.0, 0.0, 9.0]));
}

#[test]
fn the_gull_s_upper_half_goes_as_deep_as_it_can_in_each_place() {
    let bird = solid(&gull());
    let b = bird.bounds();
    let middle = b.centre();
    let level = middle[2] + 0.2 * (b.max[2] - middle[2]);
    let chosen: Vec<bool> = (0..bird.mesh.facets.len())
        .map(|f| bird.corners(f).iter().all(|p| p[2] > level))
        .collect();
    let surface: f64 = (0..chosen.len())
        .filter(|f| chosen[*f])
        .map(|f| area(&bird, f))
        .sum();
    let made = sheet(&bird, &chosen, SheetDepth::UpTo(0.8), &always).unwrap();
    assert_near(
        judged(&made.part) + judged(&made.rest),
        bird.volume_mm3(),
        1e-6,
    );
    // Mostly at full depth, nowhere deeper: a sheet over a rounded body is a little less than its surface times depth.
    let full = 0.8 * surface;
    let share = made.part.volume_mm3() / full;
    assert!((0.75..1.0).contains(&share), "{share}");
}
