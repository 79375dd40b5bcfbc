//! Layers that must be true in every corner: parts that lie flush, faces on the middle of a layer, slivers, faces made by cuts.

use crate::judge::cases;
use approx::{assert_abs_diff_eq, assert_relative_eq};
use proptest::prelude::*;
use rstest::rstest;
use std::f64::consts::PI;
use std::sync::Arc;
use varichrom_core::carve::Labels;
use varichrom_core::layers::{
    Body, CellKind, Claims, LayerShare, Settings, draw_layer, label, survey,
};
use varichrom_core::machine::Printer;
use varichrom_core::mesh::Mesh;
use varichrom_core::model::OpenMesh;
use varichrom_core::solids::{Plane, Solid, cut_by_plane};
use varichrom_demo::{box_mesh, revolve};

/// Bodies of separate files as they stand, the first highest.
fn stacked(meshes: &[Mesh]) -> Vec<Body> {
    let body = |(model, mesh): (usize, &Mesh)| Body {
        model,
        open: Arc::new(crate::shapes::open(mesh)),
        part: 0,
        shift: [0.0; 3],
    };
    meshes.iter().enumerate().map(body).collect()
}

/// Layers of bodies that each have a region of their own, in order.
fn own_regions(bodies: &[Body], settings: Settings) -> Vec<LayerShare> {
    let found = survey(bodies.to_vec(), settings, 0.8, &|_| true).expect("not stopped");
    let none: Vec<Labels> = bodies
        .iter()
        .map(|b| Labels::plain(b.open.mesh.facets.len()))
        .collect();
    label(
        &found,
        &Claims {
            labels: none.iter().collect(),
            own: (0..bodies.len() as u16).collect(),
            skipped: Vec::new(),
            spans: Vec::new(),
            soak_mm: vec![0.8; bodies.len()],
            slot_of: Vec::new(),
        },
    )
}

/// Layers of one mesh of one part, with region 1 on the facets chosen.
fn painted(
    open: &Arc<OpenMesh>,
    settings: Settings,
    soak_mm: f64,
    chosen: impl Fn([[f64; 3]; 3]) -> bool,
) -> Vec<LayerShare> {
    let found =
        survey(crate::shapes::bodies(open), settings, soak_mm, &|_| true).expect("not stopped");
    let labels = labels(open, chosen);
    label(&found, &claims(&labels, soak_mm))
}

fn labels(open: &OpenMesh, chosen: impl Fn([[f64; 3]; 3]) -> bool) -> Labels {
    let facets = 0..open.mesh.facets.len() as u32;
    let chosen = |f| chosen(open.mesh.corners(f)).then_some(1);
    Labels::of(facets.map(chosen).collect())
}

fn claims(labels: &Labels, soak_mm: f64) -> Claims<'_> {
    Claims {
        labels: vec![labels],
        own: vec![0],
        skipped: Vec::new(),
        spans: Vec::new(),
        soak_mm: vec![soak_mm; 2],
        slot_of: Vec::new(),
    }
}

fn prints(layers: &[LayerShare], region: usize) -> Vec<usize> {
    let has = |l: &usize| layers[*l].regions[region].area_mm2 > 0.0;
    (0..layers.len()).filter(has).collect()
}

fn cylinder(low: f64, high: f64, sides: usize) -> Mesh {
    revolve(&[(0.0, low), (10.0, low), (10.0, high), (0.0, high)], sides)
}

#[rstest]
#[case::of_the_same_facets(72, 72)]
#[case::of_other_facets(72, 90)]
fn a_band_flush_on_a_cylinder_gives_no_phantom_slots(#[case] inner: usize, #[case] outer: usize) {
    let bodies = stacked(&[cylinder(4.0, 6.0, outer), cylinder(0.0, 10.0, inner)]);
    let found = own_regions(&bodies, Settings::from(&Printer::default()));
    let all: Vec<usize> = (0..50).collect();
    assert_eq!(prints(&found, 0), all[20..30]);
    assert_eq!(prints(&found, 1), [&all[..20], &all[30..]].concat());
    for layer in &found[20..30] {
        let area: f64 = layer.regions.iter().map(|r| r.area_mm2).sum();
        assert_relative_eq!(area, PI * 100.0, max_relative = 3e-3);
    }
}

#[test]
fn two_identical_bodies_print_once() {
    let bodies = stacked(&[cylinder(0.0, 10.0, 64), cylinder(0.0, 10.0, 64)]);
    let found = own_regions(&bodies, Settings::from(&Printer::default()));
    assert_eq!(prints(&found, 1), [0usize; 0]);
    let section = 0.5 * 64.0 * 100.0 * (2.0 * PI / 64.0).sin();
    for layer in &found {
        assert_relative_eq!(layer.regions[0].area_mm2, section, max_relative = 1e-5);
        assert_abs_diff_eq!(layer.unprinted_mm2(), 0.0, epsilon = 1e-3);
    }
}

#[test]
fn what_several_higher_parts_cover_is_taken_as_shapes() {
    // Three boxes turned about so that all their edges run through cells: areas by inclusion and exclusion.
    let bodies = stacked(&[
        box_mesh([0.05, 0.05, 0.0], [6.13, 6.13, 2.0]),
        box_mesh([3.07, 3.07, 0.0], [9.19, 9.19, 2.0]),
        box_mesh([1.11, 1.11, 0.0], [8.03, 8.03, 2.0]),
    ]);
    let found = own_regions(&bodies, Settings::from(&Printer::default()));
    let square = |a: f64| a * a;
    let (first, second, third) = (square(6.08), square(6.12), square(6.92));
    let shared = square(6.13 - 3.07);
    let covered = square(6.13 - 1.11) + square(8.03 - 3.07) - shared;
    for layer in &found {
        let areas: Vec<f64> = layer.regions.iter().map(|r| r.area_mm2).collect();
        assert_abs_diff_eq!(areas[0], first, epsilon = 1e-4);
        assert_abs_diff_eq!(areas[1], second - shared, epsilon = 1e-4);
        assert_abs_diff_eq!(areas[2], third - covered, epsilon = 1e-4);
    }
}

/// A raised accent of its own on a plate, with how many layers it prints.
fn accent_layers(plate_mm: f64, accent_mm: f64, first_mm: f64, noise_mm: f64) -> usize {
    let top = plate_mm + accent_mm;
    let bodies = stacked(&[
        box_mesh([2.0, 2.0, plate_mm + noise_mm], [6.0, 6.0, top + noise_mm]),
        box_mesh([0.0, 0.0, 0.0], [8.0, 8.0, plate_mm + noise_mm]),
    ]);
    let settings = Settings {
        first_layer_mm: first_mm,
        ..Settings::from(&Printer::default())
    };
    prints(&own_regions(&bodies, settings), 0).len()
}

#[rstest]
fn an_accent_prints_its_thickness_over_the_layer_whatever_it_stands_on(
    #[values(0.2, 0.24, 0.3, 0.35)] first_mm: f64,
    #[values(1.0, 2.0, 3.0, 4.0, 5.0, 7.0, 10.0, 25.0)] plate_mm: f64,
    #[values(1, 2, 3, 4)] layers: usize,
) {
    let found = accent_layers(plate_mm, 0.2 * layers as f64, first_mm, 0.0);
    assert_eq!(found, layers);
}

#[rstest]
fn a_painted_top_soaks_whole_layers_on_any_height(
    #[values(0.2, 0.3)] first_mm: f64,
    #[values(1, 2, 3)] layers: usize,
    #[values(3.0, 4.0)] tall_mm: f64,
) {
    let open = Arc::new(crate::shapes::open(&box_mesh(
        [0.0; 3],
        [20.0, 20.0, tall_mm],
    )));
    let settings = Settings {
        first_layer_mm: first_mm,
        ..Settings::from(&Printer::default())
    };
    let soak_mm = 0.2 * layers as f64;
    let found = painted(&open, settings, soak_mm, |c| {
        c.iter().all(|p| p[2] > tall_mm - 0.01)
    });
    assert_eq!(prints(&found, 1).len(), layers);
}

proptest! {
    #![proptest_config(cases(24))]

    #[test]
    fn shifts_below_the_noise_change_nothing(
        plate in 1u32..12, layers in 1usize..4, noise in -4e-5..4e-5f64,
    ) {
        let exact = accent_layers(f64::from(plate), 0.2 * layers as f64, 0.3, 0.0);
        let off = accent_layers(f64::from(plate), 0.2 * layers as f64, 0.3, noise);
        prop_assert_eq!(exact, off);
    }
}

#[test]
fn a_side_painted_thinner_than_half_a_line_costs_nothing() {
    let open = Arc::new(crate::shapes::open(&box_mesh([0.0; 3], [20.0, 20.0, 4.8])));
    let side = |c: [[f64; 3]; 3]| c.iter().all(|p| p[0] < 0.01);
    let found = painted(&open, Settings::from(&Printer::default()), 0.05, side);
    assert_eq!(prints(&found, 1), [0usize; 0]);
    for layer in &found[1..23] {
        let thin = layer.too_thin[0];
        assert_eq!((thin.region, thin.to), (1, Some(0)));
        assert_relative_eq!(thin.area_mm2, 20.0 * 0.05, max_relative = 0.05);
        assert_abs_diff_eq!(layer.regions[0].area_mm2, 400.0, epsilon = 1e-3);
    }
}

#[rstest]
#[case::thin(0.15, None)]
#[case::not_so_thin(0.2, None)]
// Next to the bottom and the top, 0.3 mm away, a cell of 0.21 mm that the soak and the other face end in is the face's.
#[case::six_tenths_and_more(0.28, Some(2..22))]
fn a_strip_prints_from_six_tenths_of_a_line_on(
    #[case] soak_mm: f64,
    #[case] printed: Option<std::ops::Range<usize>>,
) {
    let settings = Settings {
        line_width_mm: 0.42,
        ..Settings::from(&Printer::default())
    };
    let open = Arc::new(crate::shapes::open(&box_mesh([0.0; 3], [20.0, 20.0, 4.8])));
    let side = |c: [[f64; 3]; 3]| c.iter().all(|p| p[0] < 0.01);
    let found = prints(&painted(&open, settings, soak_mm, side), 1);
    let printed: Vec<usize> = printed.into_iter().flatten().collect();
    assert_eq!(found, printed);
}

#[rstest]
fn a_strip_is_measured_whatever_way_it_runs(
    #[values(0.0, 13.0, 30.0, 45.0, 61.0)] degrees: f64,
    #[values(0.12, 0.2, 0.3, 0.4)] wide_mm: f64,
) {
    // A wall standing alone: thinner than 0.6 lines of 0.42 mm nobody can print it.
    let (sin, cos) = degrees.to_radians().sin_cos();
    let mut wall = box_mesh([0.0, 0.0, 0.0], [12.0, wide_mm, 2.0]);
    for p in &mut wall.vertices {
        *p = [p[0] * cos - p[1] * sin, p[0] * sin + p[1] * cos, p[2]];
    }
    let settings = Settings {
        line_width_mm: 0.42,
        ..Settings::from(&Printer::default())
    };
    let found = own_regions(&stacked(&[wall]), settings);
    let area = 12.0 * wide_mm;
    for layer in &found {
        let printed = layer.regions[0].area_mm2;
        assert_relative_eq!(printed + layer.unprinted_mm2(), area, max_relative = 1e-4);
        let is_printed = printed > 0.9 * area;
        assert_eq!(is_printed, wide_mm > 0.252, "{printed} of {area}");
        assert!(is_printed || printed < 0.03 * area, "{printed} of {area}");
    }
}

#[test]
fn a_wall_of_a_hair_is_not_printed_and_drawn_as_such() {
    let bodies = stacked(&[box_mesh([0.0; 3], [20.0, 0.03, 5.0])]);
    let found = own_regions(&bodies, Settings::from(&Printer::default()));
    assert_eq!(prints(&found, 0), [0usize; 0]);
    assert!(found.iter().all(|l| l.too_thin[0].to.is_none()));
    let seen = survey(bodies, Settings::from(&Printer::default()), 0.8, &|_| true).expect("done");
    let none = Labels::plain(12);
    let drawing = draw_layer(&seen, &claims(&none, 0.8), 3).expect("a layer");
    let kinds: Vec<CellKind> = drawing.runs.iter().map(|r| r.kind).collect();
    assert!(kinds.contains(&CellKind::Unprinted));
    assert!(
        kinds
            .iter()
            .all(|k| matches!(k, CellKind::Empty | CellKind::Unprinted))
    );
}

#[test]
fn two_colours_of_a_thin_wall_print_as_the_one_line_that_fits() {
    // 0.4 mm: each half is less than half a line, both together are one.
    let open = Arc::new(crate::shapes::open(&box_mesh([0.0; 3], [20.0, 0.4, 5.0])));
    let front = |c: [[f64; 3]; 3]| c.iter().all(|p| p[1] < 0.01);
    let found = painted(&open, Settings::from(&Printer::default()), 0.8, front);
    for layer in &found {
        assert_abs_diff_eq!(layer.unprinted_mm2(), 0.0, epsilon = 1e-6);
        let printed: Vec<f64> = layer.regions.iter().map(|r| r.area_mm2).collect();
        assert_abs_diff_eq!(printed[0] + printed[1], 8.0, epsilon = 1e-3);
        assert!(printed.contains(&0.0), "{printed:?}");
    }
}

#[test]
fn what_one_slot_prints_is_not_told_apart() {
    // A strip of 0.05 mm beside its own slot's colour is no sliver.
    let open = Arc::new(crate::shapes::open(&box_mesh([0.0; 3], [20.0, 20.0, 4.8])));
    let found = survey(
        crate::shapes::bodies(&open),
        Settings::from(&Printer::default()),
        0.05,
        &|_| true,
    );
    let labels = labels(&open, |c| c.iter().all(|p| p[0] < 0.01));
    let mut claims = claims(&labels, 0.05);
    claims.slot_of = vec![0, 0];
    // In the lowest and the highest layer bed and top are as near.
    for layer in &label(&found.expect("done"), &claims)[1..23] {
        assert!(layer.too_thin.is_empty());
        assert!(layer.regions[1].area_mm2 > 0.5);
    }
}

#[test]
fn faces_made_by_a_cut_carry_no_soak() {
    let whole = box_mesh([0.0; 3], [20.0, 20.0, 10.0]);
    let plane = Plane {
        normal: [1.0, 0.0, 0.0],
        offset: 10.0,
    };
    let halves = cut_by_plane(&Solid::plain(whole.clone()), &plane).expect("it cuts");
    let bodies: Vec<Body> = [halves.above, halves.below]
        .into_iter()
        .enumerate()
        .map(|(model, half)| Body {
            model,
            open: Arc::new(
                OpenMesh::of_parts(
                    half.mesh.clone(),
                    &[half.mesh.facets.len() as u32],
                    Arc::new(varichrom_core::formats::Origin::plain("test")),
                )
                .with_inner(half.faces.iter().map(|f| f.is_inner).collect()),
            ),
            part: 0,
            shift: [0.0; 3],
        })
        .collect();
    assert!(bodies.iter().all(|b| b.open.is_closed()));
    let settings = Settings::from(&Printer::default());
    let red_of = |bodies: &[Body]| {
        let found = survey(bodies.to_vec(), settings, 0.8, &|_| true).expect("not stopped");
        let red: Vec<Labels> = bodies.iter().map(|b| labels(&b.open, |_| true)).collect();
        let layers = label(
            &found,
            &Claims {
                labels: red.iter().collect(),
                own: vec![0; bodies.len()],
                skipped: Vec::new(),
                spans: Vec::new(),
                soak_mm: vec![0.8; 2],
                slot_of: Vec::new(),
            },
        );
        layers
            .iter()
            .map(|l| l.regions[1].area_mm2)
            .collect::<Vec<f64>>()
    };
    let uncut = red_of(&stacked(&[whole]));
    for (cut, uncut) in red_of(&bodies).iter().zip(uncut) {
        assert_abs_diff_eq!(*cut, uncut, epsilon = 0.05);
    }
}

#[test]
fn a_peg_of_less_than_a_bead_goes_to_what_is_around_it() {
    // A line is 0.4 mm wide: 0.16 mm² make a bead as long as wide.
    for (side, prints_own) in [(0.39, false), (0.45, true)] {
        let bodies = stacked(&[
            box_mesh([5.0, 5.0, 0.0], [5.0 + side, 5.0 + side, 2.0]),
            box_mesh([0.0; 3], [12.0, 9.0, 2.0]),
        ]);
        let found = own_regions(&bodies, Settings::from(&Printer::default()));
        assert_eq!(prints(&found, 0).is_empty(), !prints_own, "{side}");
        for layer in &found {
            let area: f64 = layer.regions.iter().map(|r| r.area_mm2).sum();
            assert_abs_diff_eq!(area, 108.0, epsilon = 1e-3);
        }
    }
}
