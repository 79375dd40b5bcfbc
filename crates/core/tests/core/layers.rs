//! The ownership rule against formulas, and the laws of labelled layers.

use crate::judge::cases;
use crate::shapes::bodies;
use approx::{assert_abs_diff_eq, assert_relative_eq};
use proptest::prelude::*;
use rstest::rstest;
use std::f64::consts::PI;
use std::sync::Arc;
use varichrom_core::carve::Labels;
use varichrom_core::layers::{Claims, LayerHeights, LayerShare, Settings, label, survey};
use varichrom_core::machine::Printer;
use varichrom_core::mesh::Mesh;
use varichrom_core::model::OpenMesh;
use varichrom_demo::{box_mesh, float_in_ring, pier_light, revolve, subdivided_sphere, together};

fn settings() -> Settings {
    Settings::from(&Printer::default())
}

/// Layers of a mesh with region 1 on the facets chosen and region 0 as every part's own.
fn layers(mesh: &Mesh, soak: f64, chosen: impl Fn(&OpenMesh, u32) -> bool) -> Vec<LayerShare> {
    let open = Arc::new(crate::shapes::open(mesh));
    let bodies = bodies(&open);
    let count = bodies.len();
    let found = survey(bodies, settings(), soak, &|_| true).expect("not stopped");
    let facets = 0..open.mesh.facets.len() as u32;
    let labels = Labels::of(facets.map(|f| chosen(&open, f).then_some(1)).collect());
    label(
        &found,
        &Claims {
            labels: vec![&labels; count],
            own: vec![0; count],
            skipped: Vec::new(),
            spans: Vec::new(),
            soak_mm: vec![0.8, soak],
            slot_of: Vec::new(),
        },
    )
}

fn area(layer: &LayerShare) -> f64 {
    layer.unprinted_mm2() + layer.regions.iter().map(|r| r.area_mm2).sum::<f64>()
}

fn middle(layer: &LayerShare) -> f64 {
    0.5 * (layer.z0_mm + layer.z1_mm)
}

/// Height of a facet's middle, in the mesh's frame.
fn facet_z(open: &OpenMesh, facet: u32) -> f64 {
    open.mesh.corners(facet).iter().map(|c| c[2]).sum::<f64>() / 3.0
}

/// A regular polygon of n sides inscribed in a circle covers n/2 · sin(2π/n) of r².
fn polygon(radius: f64, sides: f64) -> f64 {
    0.5 * sides * radius * radius * (2.0 * PI / sides).sin()
}

#[test]
fn cylinder_cone_and_sphere_have_the_areas_of_the_formulas() {
    let cylinder = revolve(&[(0.0, 0.0), (10.0, 0.0), (10.0, 12.0), (0.0, 12.0)], 360);
    let found = layers(&cylinder, 0.8, |_, _| false);
    assert_eq!(found.len(), 60);
    for layer in &found {
        assert_relative_eq!(area(layer), polygon(10.0, 360.0), max_relative = 1e-5);
    }
    let cone = revolve(&[(0.0, 0.0), (10.0, 0.0), (0.0, 20.0)], 360);
    for layer in layers(&cone, 0.8, |_, _| false) {
        let radius = 10.0 * (1.0 - middle(&layer) / 20.0);
        assert_abs_diff_eq!(area(&layer), polygon(radius, 360.0), epsilon = 2e-3);
    }
    for layer in layers(&subdivided_sphere(10.0, 6), 0.8, |_, _| false) {
        let h = middle(&layer) - 10.0;
        // The facets' sagitta takes at most 0.1 % off the disc.
        assert_abs_diff_eq!(area(&layer), PI * (100.0 - h * h), epsilon = 0.3);
    }
}

#[test]
fn a_flat_top_soaks_in_a_whole_number_of_layers() {
    let top = |open: &OpenMesh, f: u32| facet_z(open, f) > 9.99;
    for (soak, expected) in [(0.2, 1), (0.4, 2), (0.8, 4), (0.75, 4), (1.0, 5)] {
        let found = layers(&box_mesh([0.0; 3], [20.0, 20.0, 10.0]), soak, top);
        let coloured: Vec<bool> = found
            .iter()
            .map(|l| l.regions[1].area_mm2 > 100.0)
            .collect();
        assert_eq!(
            coloured.iter().filter(|c| **c).count(),
            expected,
            "soak {soak}"
        );
        assert!(coloured.ends_with(&vec![true; expected]));
    }
}

#[test]
fn a_coloured_wall_is_as_thick_as_it_soaks() {
    let side = |open: &OpenMesh, f: u32| {
        open.mesh
            .corners(f)
            .iter()
            .all(|c| (c[0].hypot(c[1]) - 10.0).abs() < 1e-3)
    };
    let cylinder = revolve(&[(0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0)], 360);
    let found = layers(&cylinder, 0.8, side);
    // In the middle of the height the wall is nearer than top and bottom: a ring 0.8 mm wide.
    let ring = PI * (100.0 - 9.2 * 9.2);
    for layer in &found[10..40] {
        assert_relative_eq!(layer.regions[1].area_mm2, ring, max_relative = 4e-3);
    }
    // 0.1 mm below the uncoloured top only the outermost 0.1 mm is nearer to the wall than to the top: less than half a line.
    let [_, _, third, second, last] = &found[45..] else {
        panic!("five layers");
    };
    assert_eq!(last.regions[1].area_mm2, 0.0);
    assert_eq!((last.too_thin[0].region, last.too_thin[0].to), (1, Some(0)));
    // Below it the ring is wider by a layer each: that prints.
    for (layer, wide) in [(second, 0.3), (third, 0.5)] {
        let ring = PI * (100.0 - (10.0f64 - wide).powi(2));
        assert_relative_eq!(layer.regions[1].area_mm2, ring, max_relative = 0.02);
    }
}

#[test]
fn the_two_halves_of_a_sphere_meet_in_the_middle() {
    let upper = |open: &OpenMesh, f: u32| facet_z(open, f) > 0.0;
    let found = layers(&subdivided_sphere(10.0, 5), 20.0, upper);
    let volume = |r: usize| {
        found
            .iter()
            .map(|l| l.regions[r].area_mm2 * 0.2)
            .sum::<f64>()
    };
    assert_relative_eq!(volume(0), volume(1), max_relative = 0.01);
    assert!(found[..48].iter().all(|l| l.regions[1].area_mm2 < 1e-6));
    assert!(found[52..].iter().all(|l| l.regions[0].area_mm2 < 1e-6));
}

#[test]
fn where_parts_overlap_the_earlier_one_wins() {
    let a = box_mesh([0.0; 3], [10.0, 10.0, 4.0]);
    let b = box_mesh([5.0, 0.0, 0.0], [15.0, 10.0, 4.0]);
    let open = Arc::new(crate::shapes::open(&together(&[a, b])));
    let mut order = bodies(&open);
    for (first, shares) in [(0u16, [100.0, 50.0]), (1, [50.0, 100.0])] {
        let found = survey(order.clone(), settings(), 0.8, &|_| true).expect("not stopped");
        let none = Labels::plain(24);
        let own = order.iter().map(|b| b.part as u16).collect();
        let claims = Claims {
            labels: vec![&none; 2],
            own,
            skipped: Vec::new(),
            spans: Vec::new(),
            soak_mm: vec![0.8, 0.8],
            slot_of: Vec::new(),
        };
        for layer in label(&found, &claims) {
            assert_abs_diff_eq!(layer.regions[0].area_mm2, shares[0], epsilon = 1e-3);
            assert_abs_diff_eq!(layer.regions[1].area_mm2, shares[1], epsilon = 1e-3);
        }
        assert_eq!(order[0].part as u16, first);
        order.reverse();
    }
}

#[test]
fn neighbouring_parts_leave_nothing_out() {
    let open = Arc::new(crate::shapes::open(&float_in_ring()));
    let found = survey(bodies(&open), settings(), 0.8, &|_| true).expect("not stopped");
    let none = Labels::plain(open.mesh.facets.len());
    let claims = Claims {
        labels: vec![&none; 2],
        own: vec![0, 1],
        skipped: Vec::new(),
        spans: Vec::new(),
        soak_mm: vec![0.8; 2],
        slot_of: Vec::new(),
    };
    let volume = |r: usize| {
        label(&found, &claims)
            .iter()
            .map(|l| l.regions[r].area_mm2 * 0.2)
            .sum::<f64>()
    };
    for part in 0..2 {
        let exact = open.parts[part].measures.volume_mm3;
        assert_relative_eq!(volume(part), exact, max_relative = 2e-3);
    }
}

#[test]
fn solid_skins_and_walls_count_and_the_rest_is_infill() {
    let found = layers(&box_mesh([0.0; 3], [20.0, 20.0, 10.0]), 0.8, |_, _| false);
    let solid = |i: usize| found[i].regions[0].solid_mm2;
    // Four layers at the foot and at the top are solid; between, two lines of 0.4 mm all round.
    for layer in [0, 3, 46, 49] {
        assert_relative_eq!(solid(layer), 400.0, max_relative = 1e-6);
    }
    for layer in [4, 20, 45] {
        assert_relative_eq!(solid(layer), 400.0 - 18.4 * 18.4, max_relative = 1e-2);
    }
}

#[test]
fn an_open_box_still_gives_whole_layers() {
    let mut holed = box_mesh([0.0; 3], [10.0, 10.0, 10.0]);
    // One of the two facets of a side is missing: the gap is bridged straight.
    holed.facets.remove(0);
    for layer in layers(&holed, 0.8, |_, _| false) {
        assert_relative_eq!(area(&layer), 100.0, max_relative = 1e-3);
    }
}

#[rstest]
#[case(10.0, 0.2, 0.2, 50)]
// On the middle counts as above: the layer that is cut there still prints.
#[case(10.0, 0.3, 0.2, 50)]
#[case(0.05, 0.2, 0.2, 0)]
#[case(0.15, 0.2, 0.2, 1)]
fn layers_fill_the_height(
    #[case] height: f64,
    #[case] first: f64,
    #[case] rest: f64,
    #[case] expected: usize,
) {
    let heights = LayerHeights::new(height, first, rest);
    assert_eq!(heights.spans.len(), expected);
    assert!(
        heights
            .spans
            .windows(2)
            .all(|w| (w[0].1 - w[1].0).abs() < 1e-12)
    );
}

#[test]
fn parallel_gives_what_one_thread_gives_and_stopping_stops() {
    let open = Arc::new(crate::shapes::open(&pier_light()));
    let run = || survey(bodies(&open), settings(), 0.8, &|_| true).expect("not stopped");
    let none = Labels::of(vec![Some(0); open.mesh.facets.len()]);
    let claims = Claims {
        labels: vec![&none],
        own: vec![0],
        skipped: Vec::new(),
        spans: Vec::new(),
        soak_mm: vec![0.8],
        slot_of: Vec::new(),
    };
    let one = rayon::ThreadPoolBuilder::new()
        .num_threads(1)
        .build()
        .expect("a pool");
    assert_eq!(
        label(&run(), &claims),
        one.install(|| label(&run(), &claims))
    );
    assert!(survey(bodies(&open), settings(), 0.8, &|share| share < 0.3).is_err());
}

proptest! {
    #![proptest_config(cases(24))]

    #[test]
    fn regions_of_a_layer_sum_to_the_layer(
        soak in 0.1..4.0f64, cut in 0.1..0.9f64, radius in 3.0..12.0f64, sides in 3usize..40,
    ) {
        let profile = [(0.0, 0.0), (radius, 0.0), (radius * 0.7, 4.0), (radius * 0.9, 8.0), (0.0, 8.0)];
        let solid = revolve(&profile, sides);
        let upper = |open: &OpenMesh, f: u32| facet_z(open, f) > 8.0 * cut;
        let coloured = layers(&solid, soak, upper);
        let plain = layers(&solid, 0.8, |_, _| false);
        for (a, b) in coloured.iter().zip(&plain) {
            prop_assert!((area(a) - area(b)).abs() <= 1e-4 * area(b).max(1.0));
            for share in &a.regions {
                prop_assert!(share.area_mm2 >= 0.0 && share.solid_mm2 <= share.area_mm2 + 1e-6);
            }
        }
        // Deeper soak never gives a region less.
        let deeper = layers(&solid, soak + 0.5, upper);
        for (a, b) in coloured.iter().zip(&deeper) {
            prop_assert!(b.regions[1].area_mm2 >= a.regions[1].area_mm2 - 1e-4);
        }
    }
}
