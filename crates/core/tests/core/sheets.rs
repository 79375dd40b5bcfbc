//! A body divided among several surfaces at once, against formulas and a second judge of solids.

use parry3d::shape::{Shape, TriMesh};
use rstest::rstest;
use varichrom_core::geometry::facet_normal;
use varichrom_core::solids::{Meeting, SheetError, Sheets, Solid, meetings, sheets};
use varichrom_demo::{box_mesh, gull, pier_light, subdivided_sphere};

fn always(_: f64) -> bool {
    true
}

/// The surface of the first way that a facet faces.
fn facing(s: &Solid, ways: &[[f64; 3]]) -> Vec<Option<u32>> {
    let way_of = |f: usize| {
        let n = facet_normal(&s.corners(f))?;
        let is = |w: &[f64; 3]| (0..3).map(|i| n[i] * w[i]).sum::<f64>() > 0.99;
        ways.iter().position(is).map(|w| w as u32)
    };
    (0..s.mesh.facets.len()).map(way_of).collect()
}

/// Volumes of all bodies by `parry3d`, the rest last; closed, and no two share volume.
fn judged(made: &Sheets) -> Vec<f64> {
    let bodies: Vec<Solid> = made
        .parts
        .iter()
        .flatten()
        .chain([&made.rest])
        .cloned()
        .collect();
    for pair in meetings(&bodies, &|_, _| true).expect("not stopped") {
        if let Meeting::Overlap { volume_mm3, .. } = pair.meeting {
            panic!("{:?} share {volume_mm3} mm³", pair.bodies);
        }
    }
    let volume = |s: &Solid| {
        s.check().expect("closed");
        let point = |p: &[f64; 3]| parry3d::math::Vector::new(p[0], p[1], p[2]);
        let points = s.mesh.vertices.iter().map(point).collect();
        let mesh = TriMesh::new(points, s.mesh.facets.clone()).expect("a surface");
        mesh.mass_properties(1.0).mass()
    };
    bodies.iter().map(volume).collect()
}

fn assert_near(found: f64, wanted: f64, relative: f64) {
    assert!(
        (found - wanted).abs() <= relative * wanted.abs(),
        "{found} instead of {wanted}"
    );
}

/// A frustum of a pyramid between two squares, its sides at 45°.
fn frustum(side: f64, depth: f64) -> f64 {
    let (a, b) = (side * side, (side - 2.0 * depth).powi(2));
    depth / 3.0 * (a + b + (a * b).sqrt())
}

#[rstest]
#[case([1.0, 1.0, 1.0])]
#[case([1.0, 2.0, 0.8])]
#[case([3.0, 0.4, 3.0])]
fn faces_that_meet_on_edges_share_mitred_walls_at_any_depths(#[case] depths: [f64; 3]) {
    let cube = Solid::plain(box_mesh([0.0; 3], [20.0; 3]));
    let choice = facing(&cube, &[[0.0, 0.0, 1.0], [1.0, 0.0, 0.0], [0.0, -1.0, 0.0]]);
    let made = sheets(&cube, &choice, &depths, &always).expect("divided");
    let volumes = judged(&made);
    for (volume, depth) in volumes.iter().zip(depths) {
        assert_near(*volume, frustum(20.0, depth), 1e-9);
    }
    assert_near(volumes.iter().sum(), 8000.0, 1e-9);
}

#[test]
fn surfaces_on_both_sides_of_a_thin_wall_meet_within_it() {
    let plate = Solid::plain(box_mesh([0.0; 3], [30.0, 30.0, 1.0]));
    let choice = facing(&plate, &[[0.0, 0.0, 1.0], [0.0, 0.0, -1.0]]);
    let made = sheets(&plate, &choice, &[0.8, 0.8], &always).expect("divided");
    let volumes = judged(&made);
    assert_near(volumes.iter().sum(), 900.0, 1e-9);
    assert!(volumes[..2].iter().all(|v| *v > 200.0), "{volumes:?}");
}

/// Bands by height over a rounded body, several colours touching one another.
#[rstest]
#[case(Solid::plain(gull()), 3)]
#[case(Solid::plain(pier_light()), 4)]
#[case(Solid::plain(subdivided_sphere(10.0, 4)), 5)]
fn bands_of_a_rounded_body_are_closed_and_make_up_the_whole(
    #[case] body: Solid,
    #[case] bands: u32,
) {
    let b = body.bounds();
    let band_of = |f: usize| {
        let corners = body.corners(f);
        let z = corners.iter().map(|p| p[2]).sum::<f64>() / 3.0;
        let band = ((z - b.min[2]) / b.size()[2] * f64::from(bands)) as u32;
        // Half of the lowest band is left to the rest: borders of all kinds.
        (band > 0 || corners[0][0] > b.centre()[0]).then_some(band.min(bands - 1))
    };
    let choice: Vec<Option<u32>> = (0..body.mesh.facets.len()).map(band_of).collect();
    let depths: Vec<f64> = (0..bands)
        .map(|n| [0.8, 0.8, 1.2][n as usize % 3])
        .collect();
    let made = sheets(&body, &choice, &depths, &always).expect("divided");
    assert!(made.parts.iter().all(Option::is_some));
    assert_near(judged(&made).iter().sum(), body.volume_mm3(), 1e-6);
}

#[test]
fn a_stop_ends_it() {
    let cube = Solid::plain(box_mesh([0.0; 3], [20.0; 3]));
    let choice = facing(&cube, &[[0.0, 0.0, 1.0]]);
    let stopped = sheets(&cube, &choice, &[1.0], &|_| false).expect_err("stopped");
    assert_eq!(stopped, SheetError::Stopped);
}

/// Less than the least depth that is worth a floor, on a wall that is thinner still.
#[test]
fn a_skin_on_a_foil_neither_panics_nor_loses_volume() {
    let foil = Solid::plain(box_mesh([0.0; 3], [30.0, 30.0, 0.06]));
    let choice = facing(&foil, &[[0.0, 0.0, 1.0], [0.0, 0.0, -1.0]]);
    let made = sheets(&foil, &choice, &[0.02, 0.03], &always).expect("divided");
    assert_near(judged(&made).iter().sum(), 54.0, 1e-9);
}
