//! Shade, light, edges and speckles: what a vertex sees of the sky by formula, and what is taken.

use crate::carving::assert_same_shape;
use crate::jobs_of::{Shelf, job_of};
use crate::laid_jobs::area;
use rstest::rstest;
use std::f64::consts::PI;
use varichrom_core::colour::Colour;
use varichrom_core::job::{Edit, GiveEdit, History, RegionEdit};
use varichrom_core::mesh::{Mesh, normalised};
use varichrom_core::model::OpenMesh;
use varichrom_core::regions::{Tone, sky, tone_values};
use varichrom_demo::{box_mesh, revolve, stl, subdivided_sphere};

fn open(mesh: &Mesh) -> OpenMesh {
    OpenMesh::from_bytes(&stl(mesh, "it")).expect("sound")
}

/// A square in z 0 divided into small ones, with one wall along its right edge.
fn floor_and_wall(height: f64) -> Mesh {
    const N: u32 = 40;
    const SIDE: f64 = 40.0;
    let mut mesh = Mesh {
        vertices: Vec::new(),
        facets: Vec::new(),
    };
    for y in 0..=N {
        for x in 0..=N {
            let p = [x, y].map(|v| SIDE * f64::from(v) / f64::from(N));
            mesh.vertices.push([p[0], p[1], 0.0]);
        }
    }
    let at = |x: u32, y: u32| y * (N + 1) + x;
    for y in 0..N {
        for x in 0..N {
            mesh.facets.push([at(x, y), at(x + 1, y), at(x + 1, y + 1)]);
            mesh.facets.push([at(x, y), at(x + 1, y + 1), at(x, y + 1)]);
        }
    }
    // Much longer than the floor, so that its ends do not count.
    let first = mesh.vertices.len() as u32;
    for (y, z) in [
        (-4000.0, 0.0),
        (4000.0, 0.0),
        (4000.0, height),
        (-4000.0, height),
    ] {
        mesh.vertices.push([SIDE, y, z]);
    }
    mesh.facets.push([first, first + 2, first + 1]);
    mesh.facets.push([first, first + 3, first + 2]);
    mesh
}

#[rstest]
fn a_ball_sees_all_of_the_sky_and_a_floor_by_a_wall_what_the_wall_leaves() {
    let ball = open(&subdivided_sphere(10.0, 3));
    let normals: Vec<_> = ball
        .mesh
        .vertices
        .iter()
        .map(|v| normalised(*v).expect("out"))
        .collect();
    let seen = sky(&ball, &normals, 0.0, &|| true).expect("not stopped");
    assert!(seen.iter().all(|s| *s == 1.0));
    let height = 10.0;
    let mesh = floor_and_wall(height);
    let wall = open(&mesh);
    let up = vec![[0.0, 0.0, 1.0]; wall.mesh.vertices.len()];
    let seen = sky(&wall, &up, 0.0, &|| true).expect("not stopped");
    for (v, s) in wall.mesh.vertices.iter().zip(&seen) {
        let off = 40.0 - v[0];
        // Near the rim of the floor values are drawn towards fewer neighbours.
        if v[2] > 0.0 || off < 2.0 || !(3.0..37.0).contains(&v[1]) || v[0] < 3.0 {
            continue;
        }
        // View factor from a small floor to an endless wall beside it: half of 1 - cos of the angle up to its top (Howell, "A Catalog
        // of Radiation Heat Transfer Configuration Factors", B-3, from memory).
        let hidden = 0.5 * (1.0 - off / off.hypot(height));
        assert!(
            (1.0 - s - hidden).abs() < 0.04,
            "{off}: {s} instead of {}",
            1.0 - hidden
        );
    }
}

#[rstest]
fn the_bottom_of_a_cup_sees_its_mouth() {
    // A cup of 10 mm inner radius and 12 mm depth: r² / (r² + h²) of the sky (the same catalogue, B-12, from memory).
    let profile = [
        (0.0, 0.0),
        (14.0, 0.0),
        (14.0, 14.0),
        (10.0, 14.0),
        (10.0, 2.0),
        (5.0, 2.0),
        (0.0, 2.0),
    ];
    let cup = open(&revolve(&profile, 96));
    let normals = vec![[0.0, 0.0, 1.0]; cup.mesh.vertices.len()];
    let seen = sky(&cup, &normals, 0.0, &|| true).expect("not stopped");
    let bottom = (0..seen.len())
        .filter(|v| {
            let [x, y, z] = cup.mesh.vertices[*v];
            x.hypot(y) < 1e-6 && (z - 2.0).abs() < 1e-6
        })
        .map(|v| seen[v]);
    let wanted = 100.0 / (100.0 + 144.0);
    for s in bottom {
        // Evened out with the ring of 5 mm around it, which sees a little less.
        assert!((s - wanted).abs() < 0.05, "{s} instead of {wanted}");
    }
    // What is near enough to count is nearer than the reach.
    let near = sky(&cup, &normals, 3.0, &|| true).expect("not stopped");
    let middle = (0..near.len()).filter(|v| {
        let [x, y, z] = cup.mesh.vertices[*v];
        x.hypot(y) < 1e-6 && (z - 2.0).abs() < 1e-6
    });
    assert!(middle.map(|v| near[v]).all(|s| s > 0.95));
    assert!(sky(&cup, &normals, 0.0, &|| false).is_none());
}

fn job(mesh: &Mesh) -> (Shelf, History) {
    let (shelf, mut history) = job_of(&[("it", &stl(mesh, "it"))]);
    for region in ["shade", "dots"] {
        let add = RegionEdit::AddRegion {
            region: region.into(),
            name: region.into(),
            colour: Colour([20, 20, 60]),
            slot: None,
        };
        history.apply(Edit::Region(add), &shelf).expect("added");
    }
    (shelf, history)
}

fn tone(tone: Tone, strength: f64) -> Edit {
    Edit::Give(GiveEdit::GiveTone {
        region: "shade".into(),
        tone,
        strength,
        reach_mm: 10.0,
        only: None,
        model: None,
    })
}

#[rstest]
#[case(0.25)]
#[case(0.5)]
fn light_on_a_ball_is_a_cap_that_grows_with_its_strength(#[case] strength: f64) {
    let (shelf, mut history) = job(&subdivided_sphere(10.0, 5));
    history
        .apply(tone(Tone::Light, strength), &shelf)
        .expect("given");
    assert_same_shape(&history);
    // Values run evenly with the height, so the cap has that share of the ball (Archimedes).
    let wanted = strength * 4.0 * PI * 100.0;
    let found = area(&history, "shade");
    assert!(
        (found - wanted).abs() < 0.01 * wanted,
        "{found} instead of {wanted}"
    );
}

#[rstest]
fn edges_of_a_rounded_thing_are_taken_before_its_flats_and_recesses_last() {
    let profile = [
        (0.0, 0.0),
        (13.0, 0.0),
        (14.0, 0.0),
        (14.0, 1.0),
        (14.0, 13.0),
        (14.0, 14.0),
        (13.0, 14.0),
        (11.0, 14.0),
        (10.0, 14.0),
        (10.0, 13.0),
        (10.0, 3.0),
        (10.0, 2.0),
        (9.0, 2.0),
        (8.0, 2.0),
        (0.0, 2.0),
    ];
    let cup = open(&revolve(&profile, 96));
    let edges = tone_values(&cup, Tone::Edges, 2.0, &|| true).expect("not stopped");
    let mean = |is: &dyn Fn([f64; 3]) -> bool| {
        let of: Vec<f64> = (0..edges.len())
            .filter(|v| is(cup.mesh.vertices[*v]))
            .map(|v| edges[v])
            .collect();
        of.iter().sum::<f64>() / of.len() as f64
    };
    let rim = mean(&|p| p[2] > 13.9 && p[0].hypot(p[1]) > 13.9);
    let corner = mean(&|p| (p[2] - 2.0).abs() < 0.1 && p[0].hypot(p[1]) > 9.9);
    assert!(rim > 0.52 && corner < 0.48, "{rim} {corner}");
}

#[rstest]
fn a_box_has_no_recesses_and_says_so() {
    let (shelf, mut history) = job(&box_mesh([0.0; 3], [20.0, 20.0, 20.0]));
    let refused = history
        .apply(tone(Tone::Shade, 0.4), &shelf)
        .expect_err("none");
    assert_eq!(refused.code, "tone-nothing");
}

#[rstest]
#[case::ball(subdivided_sphere(20.0, 4))]
#[case::block(box_mesh([0.0; 3], [40.0, 30.0, 20.0]))]
fn speckles_cover_about_their_share_and_are_the_same_again(#[case] mesh: Mesh) {
    let speckles = |seed: u32| {
        Edit::Give(GiveEdit::GiveSpeckles {
            region: "dots".into(),
            width_mm: 1.5,
            share: 0.12,
            seed,
            only: None,
            model: None,
        })
    };
    let (shelf, mut history) = job(&mesh);
    history.apply(speckles(3), &shelf).expect("given");
    assert_same_shape(&history);
    let whole: f64 = history.job().region_areas().iter().sum();
    let share = area(&history, "dots") / whole;
    assert!((0.09..0.15).contains(&share), "{share}");
    let (_, mut again) = job(&mesh);
    again.apply(speckles(3), &shelf).expect("given");
    assert_eq!(again.job().models[0].labels, history.job().models[0].labels);
    let (_, mut other) = job(&mesh);
    other.apply(speckles(4), &shelf).expect("given");
    assert_ne!(other.job().models[0].labels, history.job().models[0].labels);
}
