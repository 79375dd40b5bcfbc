//! Dividing and joining closed bodies, against formulas, identities and a second judge of solids.

use parry3d::shape::{Shape, TriMesh};
use proptest::prelude::*;
use rstest::rstest;
use std::f64::consts::PI;
use varichrom_core::carve::Labels;
use varichrom_core::geometry::{Bounds, facet_normal};
use varichrom_core::mesh::Mesh;
use varichrom_core::model::OpenMesh;
use varichrom_core::solids::{
    InlayError, InlayOptions, Meeting, Plane, SheetDepth, SheetError, Solid, Wanted, boolean,
    cut_by_plane, inlay, meetings, sheet, split_shells, straight_through,
};
use varichrom_demo::{box_mesh, gull, revolve, subdivided_sphere, tide_plaque, together};

fn solid(mesh: &Mesh) -> Solid {
    Solid::plain(mesh.clone())
}

fn cube(size: f64) -> Solid {
    solid(&box_mesh([0.0; 3], [size; 3]))
}

fn always(_: f64) -> bool {
    true
}

/// Facets that face a direction.
fn facing(s: &Solid, way: [f64; 3]) -> Vec<bool> {
    (0..s.mesh.facets.len())
        .map(|f| {
            facet_normal(&s.corners(f))
                .is_some_and(|n| (0..3).map(|i| n[i] * way[i]).sum::<f64>() > 0.99)
        })
        .collect()
}

/// Volume by `parry3d`, and closedness by its reading of the surface as an oriented solid.
fn judged(s: &Solid) -> f64 {
    s.check().unwrap();
    let points = s
        .mesh
        .vertices
        .iter()
        .map(|p| parry3d::math::Vector::new(p[0], p[1], p[2]));
    let mesh = TriMesh::new(points.collect(), s.mesh.facets.clone()).unwrap();
    mesh.mass_properties(1.0).mass()
}

fn assert_near(found: f64, wanted: f64, relative: f64) {
    assert!(
        (found - wanted).abs() <= relative * wanted.abs(),
        "{found} instead of {wanted}"
    );
}

/// Euler's number of a surface: vertices − edges + facets.
fn euler(s: &Solid) -> i64 {
    s.mesh.vertices.len() as i64 - s.mesh.facets.len() as i64 * 3 / 2 + s.mesh.facets.len() as i64
}

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

#[test]
fn a_plane_halves_a_sphere_and_cuts_caps() {
    let ball = solid(&subdivided_sphere(10.0, 5));
    for height in [0.0, 3.0, -7.5] {
        let plane = Plane {
            normal: [0.0, 0.0, 1.0],
            offset: height,
        };
        let halves = cut_by_plane(&ball, &plane).unwrap();
        // Cap of height h: π h² (3R − h) / 3 (Archimedes).
        let h = 10.0 - height;
        assert_near(judged(&halves.above), PI * h * h * (30.0 - h) / 3.0, 5e-3);
        assert_near(
            judged(&halves.above) + judged(&halves.below),
            ball.volume_mm3(),
            1e-9,
        );
    }
    let beside = Plane {
        normal: [0.0, 0.0, 1.0],
        offset: 10.5,
    };
    assert!(cut_by_plane(&ball, &beside).is_err());
}

#[test]
fn a_plane_through_a_step_leaves_no_sheets() {
    // Two boxes joined into a stair; the plane lies in the tread.
    let stair = boolean(
        &solid(&box_mesh([0.0; 3], [10.0, 10.0, 5.0])),
        &solid(&box_mesh([0.0; 3], [5.0, 10.0, 10.0])),
        Wanted::United,
    )
    .unwrap();
    assert_near(judged(&stair), 750.0, 1e-9);
    let halves = cut_by_plane(
        &stair,
        &Plane {
            normal: [0.0, 0.0, 1.0],
            offset: 5.0,
        },
    )
    .unwrap();
    assert_near(judged(&halves.above), 250.0, 1e-9);
    assert_near(judged(&halves.below), 500.0, 1e-9);
    // Box of 5 × 10 × 5 and of 10 × 10 × 5: nothing folded in between.
    assert_near(halves.above.area_mm2(), 2.0 * (50.0 + 25.0 + 50.0), 1e-9);
    assert_near(halves.below.area_mm2(), 2.0 * (100.0 + 50.0 + 50.0), 1e-9);
}

#[test]
fn shells_come_apart_with_their_cavities() {
    let mut inside = box_mesh([2.0; 3], [4.0; 3]);
    for f in &mut inside.facets {
        f.swap(1, 2);
    }
    let all = together(&[
        box_mesh([0.0; 3], [6.0; 3]),
        inside,
        box_mesh([10.0, 0.0, 0.0], [12.0, 2.0, 2.0]),
    ]);
    let bodies = split_shells(&solid(&all));
    let volumes: Vec<f64> = bodies.iter().map(judged).collect();
    assert_eq!(volumes.len(), 2);
    assert_near(volumes[0], 216.0 - 8.0, 1e-9);
    assert_near(volumes[1], 8.0, 1e-9);
}

fn letters() -> (Solid, Vec<bool>) {
    let open = OpenMesh::from_bytes(&varichrom_demo::stl(&tide_plaque(), "plaque")).unwrap();
    let labels = Labels::plain(open.part_of.len());
    let floor = (0..open.part_of.len() as u32)
        .find(|f| {
            let c = open.mesh.corners(*f);
            c.iter()
                .all(|p| (p[2] - varichrom_demo::PLAQUE_FLOOR_MM).abs() < 1e-6)
        })
        .unwrap();
    let relief = open.creases().relief(&open, floor, 30.0, true);
    let mut chosen = vec![false; open.part_of.len()];
    for f in relief {
        chosen[f as usize] = true;
    }
    (Solid::of_part(&open, &labels, 0).0, chosen)
}

#[test]
fn lettering_is_filled_flush_and_a_thin_fill_raises_the_floor() {
    let (plaque, chosen) = letters();
    let options = InlayOptions {
        thickness_mm: None,
        clearance_mm: 0.0,
    };
    let whole = inlay(&plaque, &chosen, &options).unwrap();
    let flat = facing(&whole.fill, [0.0, 0.0, 1.0]);
    let top: f64 = (0..flat.len())
        .filter(|f| flat[*f])
        .map(|f| area(&whole.fill, f))
        .sum();
    // Upright walls: the volume is that of a prism.
    assert_near(judged(&whole.fill), top * whole.pocket_mm, 1e-6);
    assert_eq!(
        split_shells(&whole.fill).len(),
        varichrom_demo::PLAQUE_LETTERS
    );
    assert!(whole.body.mesh == plaque.mesh);
    let is_inner = |f: usize| whole.body.faces[f].is_inner;
    assert!((0..chosen.len()).all(|f| is_inner(f) == chosen[f]));

    let thin = InlayOptions {
        thickness_mm: Some(0.4),
        clearance_mm: 0.0,
    };
    let thin = inlay(&plaque, &chosen, &thin).unwrap();
    assert_near(judged(&thin.fill), top * 0.4, 1e-6);
    assert_near(
        judged(&thin.fill) + judged(&thin.body),
        plaque.volume_mm3() + judged(&whole.fill),
        1e-9,
    );

    let loose = InlayOptions {
        thickness_mm: None,
        clearance_mm: 0.05,
    };
    let loose = inlay(&plaque, &chosen, &loose).unwrap();
    let lost = judged(&whole.fill) - judged(&loose.fill);
    let walls: f64 = whole.fill.area_mm2() - 2.0 * top;
    assert!(
        lost > 0.03 * walls && lost < 0.06 * walls,
        "{lost} of {walls}"
    );
}

fn area(s: &Solid, f: usize) -> f64 {
    varichrom_core::geometry::facet_area(&s.corners(f))
}

#[test]
fn what_stands_out_is_no_pocket() {
    let cube = cube(10.0);
    let chosen: Vec<bool> = facing(&cube, [0.0, 0.0, -1.0]).iter().map(|f| !f).collect();
    let options = InlayOptions {
        thickness_mm: None,
        clearance_mm: 0.0,
    };
    assert_eq!(
        inlay(&cube, &chosen, &options).unwrap_err(),
        InlayError::NotSunken
    );
}

#[test]
fn a_ball_in_a_box_keeps_its_wall_and_boxes_tell_touching_from_sharing() {
    let ball = solid(&subdivided_sphere(8.0, 4)).shifted([10.0; 3]);
    let bodies = vec![
        cube(20.0),
        ball,
        cube(20.0).shifted([20.0, 5.0, 0.0]),
        cube(20.0).shifted([5.0, 5.0, 15.0]),
    ];
    let found = meetings(&bodies, &|_, _| true).unwrap();
    let of = |a: usize, b: usize| {
        let mut pairs = found.iter().filter(move |p| p.bodies == [a, b]);
        pairs.next().map(|p| p.meeting.clone())
    };
    // A sphere of 16 mm in a box of 20 mm: 2 mm all round (CHECKS of the issue).
    match of(0, 1) {
        Some(Meeting::Encloses { wall_mm, .. }) => assert_near(wall_mm, 2.0, 1e-6),
        other => panic!("{other:?}"),
    }
    match of(0, 2) {
        Some(Meeting::Touch { area_mm2 }) => assert_near(area_mm2, 15.0 * 20.0, 1e-9),
        other => panic!("{other:?}"),
    }
    match of(0, 3) {
        Some(Meeting::Overlap { volume_mm3, .. }) => {
            assert_near(volume_mm3, 15.0 * 15.0 * 5.0, 1e-9)
        }
        other => panic!("{other:?}"),
    }
}

/// A body wholly inside another is shared whole, leaves nothing of itself, and adds nothing.
#[test]
fn a_box_inside_a_ball_is_shared_whole_and_leaves_nothing() {
    let inner = solid(&box_mesh([0.0; 3], [1.0; 3]));
    let ball = solid(&subdivided_sphere(5.0, 3));
    let volume = |a: &Solid, b: &Solid, wanted| boolean(a, b, wanted).unwrap().volume_mm3();
    assert_near(volume(&inner, &ball, Wanted::Shared), 1.0, 1e-9);
    assert_eq!(volume(&inner, &ball, Wanted::Without), 0.0);
    assert_near(
        volume(&inner, &ball, Wanted::United),
        ball.volume_mm3(),
        1e-9,
    );
    assert_near(
        volume(&ball, &inner, Wanted::Without),
        ball.volume_mm3() - 1.0,
        1e-9,
    );
    let apart = inner.shifted([20.0, 0.0, 0.0]);
    assert_eq!(volume(&apart, &ball, Wanted::Shared), 0.0);
}

/// Balls that are mirror images meet edge to edge, where no facet passes through another's inside.
#[test]
fn mirrored_balls_share_two_caps() {
    let ball = solid(&subdivided_sphere(5.0, 5));
    let found = meetings(&[ball.clone(), ball.shifted([9.5, 0.0, 0.0])], &|_, _| true).unwrap();
    let Meeting::Overlap { volume_mm3, .. } = found[0].meeting else {
        panic!("{:?}", found[0].meeting);
    };
    // Two caps of height h = 0.25: 2 π h² (3 R − h) / 3. The facets lie inside the sphere by up to 0.3 % of h.
    let h = 0.25;
    assert_near(volume_mm3, 2.0 * PI * h * h * (15.0 - h) / 3.0, 0.02);
}

fn boxes() -> impl Strategy<Value = ([f64; 3], [f64; 3])> {
    let at = -6.0..6.0f64;
    let size = 1.0..12.0f64;
    (
        [at.clone(), at.clone(), at],
        [size.clone(), size.clone(), size],
    )
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    #[test]
    fn inclusion_and_exclusion_hold((low, size) in boxes(), shift in [-8.0..8.0f64, -8.0..8.0, -8.0..8.0]) {
        let a = solid(&box_mesh(low, [low[0] + size[0], low[1] + size[1], low[2] + size[2]]));
        let b = solid(&subdivided_sphere(5.0, 3)).shifted(shift);
        let both = boolean(&a, &b, Wanted::Shared).unwrap().volume_mm3();
        let first = boolean(&a, &b, Wanted::Without).unwrap().volume_mm3();
        let union = boolean(&a, &b, Wanted::United).unwrap().volume_mm3();
        prop_assert!((first + both - a.volume_mm3()).abs() < 1e-6 * a.volume_mm3());
        prop_assert!((union + both - a.volume_mm3() - b.volume_mm3()).abs() < 1e-6 * union);
    }

    #[test]
    fn boxes_that_meet_are_those_a_comparison_of_all_finds(
        boxes in prop::collection::vec(boxes(), 0..40),
        within in 0.0..2.0f64,
    ) {
        let boxes: Vec<Bounds> = boxes
            .iter()
            .map(|(low, size)| Bounds { min: *low, max: [0, 1, 2].map(|i| low[i] + size[i]) })
            .collect();
        let mut all = Vec::new();
        for i in 0..boxes.len() {
            all.extend((i + 1..boxes.len()).filter(|j| boxes[i].meets(&boxes[*j], within)).map(|j| [i, j]));
        }
        prop_assert_eq!(Bounds::meeting(&boxes, within), all);
    }

    #[test]
    fn a_cut_by_any_plane_keeps_all_volume(n in [-1.0..1.0f64, -1.0..1.0, 0.1..1.0], offset in -5.0..5.0f64) {
        let l = (n[0] * n[0] + n[1] * n[1] + n[2] * n[2]).sqrt();
        let body = solid(&subdivided_sphere(6.0, 3));
        let halves = cut_by_plane(&body, &Plane { normal: n.map(|c| c / l), offset }).unwrap();
        prop_assert!(halves.above.check().is_ok() && halves.below.check().is_ok());
        let sum = halves.above.volume_mm3() + halves.below.volume_mm3();
        prop_assert!((sum - body.volume_mm3()).abs() < 1e-9 * sum);
    }
}
