//! What is found by shape, against counts and areas that are known otherwise.

use crate::jobs_of::at;
use approx::assert_relative_eq;
use rstest::rstest;
use std::f64::consts::{PI, TAU};
use varichrom_core::carve::Pieces;
use varichrom_core::job::{AlikeTo, Edit, GiveEdit, History};
use varichrom_core::mesh::facet_area;
use varichrom_core::regions::{Reach, Within};
use varichrom_demo::{
    PLAQUE_FIRST_STROKE_MM, PLAQUE_FLOOR_MM, PLAQUE_LETTERS, box_mesh, compass_coaster, gull,
    revolve, signal_tiles, stl, tide_plaque, together,
};

use crate::painting::*;

// Patches: dihedral angles of the Platonic solids, prisms, a chamfered box.

#[test]
fn patches_of_the_platonic_solids_join_at_their_dihedral_angles() {
    // Turn between faces = 180° − dihedral angle (table of the regular polyhedra).
    let turns = [109.471_221, 90.0, 70.528_779, 63.434_949, 41.810_315];
    for ((name, mesh, faces, _, whole), turn) in
        crate::shapes::platonic(20.0).into_iter().zip(turns)
    {
        let bytes = stl(&mesh, name);
        let open = crate::shapes::open(&mesh);
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

#[rstest]
#[case(3)]
#[case(6)]
#[case(24)]
fn a_prism_has_a_patch_for_each_side_until_the_sides_join(#[case] sides: usize) {
    // By hand: sides turn by 360°/n into each other and by 90° into both ends.
    let mesh = revolve(&[(0.0, 0.0), (10.0, 0.0), (10.0, 12.0), (0.0, 12.0)], sides);
    let open = crate::shapes::open(&mesh);
    let count = |deg: f64| open.creases().partition(&open.topology, deg).count;
    let turn = 360.0 / sides as f64;
    assert_eq!(count((turn - 0.1).min(89.0)), sides as u32 + 2);
    if turn < 89.0 {
        assert_eq!(count(turn + 0.1), 3);
    }
}

#[test]
fn a_chamfered_box_has_26_patches_then_7_then_one() {
    // By hand: 6 faces, 12 chamfers at 45° to them, 8 corners at acos(2/√6) = 35.26° to the chamfers. Faces and
    // corners meet in points only.
    let mut corners = Vec::new();
    for bits in 0..8u32 {
        let sign = |i: u32| if bits >> i & 1 == 1 { -1.0 } else { 1.0 };
        for long in 0..3u32 {
            let at = |i: u32| sign(i) * if i == long { 10.0 } else { 8.0 };
            corners.push([at(0), at(1), at(2)]);
        }
    }
    let open = crate::shapes::open(&crate::shapes::convex(&corners));
    let count = |deg: f64| open.creases().partition(&open.topology, deg).count;
    assert_eq!([35.2, 35.3, 44.9, 45.1].map(count), [26, 7, 7, 1]);
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
    let limited = Edit::Give(GiveEdit::GivePatch {
        region: "red".into(),
        at: at("it", [r * out[0], r * out[1], 12.0], out),
        crease_deg: 10.0,
        within: Within::Part,
        turn_deg: Some(45.0),
    });
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
    let blue = Edit::band("blue", [1.0, 3.0], None, None);
    let inside = Edit::Give(GiveEdit::GivePatch {
        region: "red".into(),
        at: at("it", [20.0, 0.0, 3.5], [0.0, -1.0, 0.0]),
        crease_deg: 30.0,
        within: Within::Region,
        turn_deg: None,
    });
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
    let edit = |within| {
        Edit::Give(GiveEdit::GivePatch {
            region: "red".into(),
            at: at("it", [5.0, 5.0, 5.0], UP),
            crease_deg: 30.0,
            within,
            turn_deg: None,
        })
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
    let open = crate::shapes::open(&mesh);
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
        let mut mesh = crate::shapes::convex(&corners);
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
    let alike = Edit::Give(GiveEdit::GiveAlike {
        region: "red".into(),
        at: at("it", [4.0, 2.0, 0.0], [0.0, 0.0, -1.0]),
        to: AlikeTo::Parts,
        crease_deg: 30.0,
    });
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
        let near = open.tree().nearest(p, 1.0).expect("a surface");
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
    let top = |x: f64| {
        Edit::Give(GiveEdit::GiveAlike {
            region: "red".into(),
            at: at("it", [x, 0.0, 4.6], UP),
            to: AlikeTo::Patches,
            crease_deg: 30.0,
        })
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
    let open = crate::shapes::open(&mesh);
    assert_eq!(open.parts.len(), 10);
    assert!(open.is_closed());
    let twins = varichrom_core::regions::congruent_parts((&open, 2), &open, true);
    assert_eq!(twins.iter().map(|t| t.part).collect::<Vec<_>>(), [4, 6, 8]);
}

#[test]
fn the_gull_is_one_closed_dense_shell_without_edges() {
    let mesh = gull();
    let open = crate::shapes::open(&mesh);
    assert!(
        open.mesh.facets.len() >= 60_000,
        "{}",
        open.mesh.facets.len()
    );
    assert_eq!(open.parts.len(), 1);
    assert!(open.is_closed());
    assert!(open.mesh.bounds().min[2].abs() < 0.02);
}
