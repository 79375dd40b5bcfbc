//! Which colour is nearest deep inside: against a survey that looks at every cell, by edits as at once, and in the drawing.

use crate::judge::cases;
use crate::right_through::{settings, volumes};
use crate::shapes::{bodies, open};
use approx::assert_relative_eq;
use proptest::prelude::*;
use rstest::rstest;
use std::sync::Arc;
use varichrom_core::carve::Labels;
use varichrom_core::layers::{CellKind, Claims, LayerShare, Touched, draw_layer, label, survey};
use varichrom_core::mesh::Mesh;
use varichrom_core::plan::Planner;
use varichrom_demo::{box_mesh, subdivided_sphere};

fn claims<'a>(labels: &'a Labels, soak_mm: Vec<f64>) -> Claims<'a> {
    Claims {
        labels: vec![labels],
        own: vec![0],
        skipped: Vec::new(),
        spans: Vec::new(),
        soak_mm,
        slot_of: Vec::new(),
    }
}

/// Shares of each region of all layers, with regions right through and a survey as deep as told, against one that reaches
/// everywhere.
pub(crate) fn assert_same_as_everywhere(
    mesh: &Mesh,
    labels: &Labels,
    reach_mm: f64,
    regions: usize,
) {
    let open = Arc::new(open(mesh));
    let near = survey(bodies(&open), settings(), reach_mm, &|_| true).expect("done");
    let far = survey(bodies(&open), settings(), 100.0, &|_| true).expect("done");
    let through = label(&near, &claims(labels, vec![f64::INFINITY; regions]));
    let deep = label(&far, &claims(labels, vec![1e3; regions]));
    let cell = near.grid.cell_mm2();
    for (a, b) in through.iter().zip(&deep) {
        for (x, y) in a.regions.iter().zip(&b.regions) {
            // Deep inside a border goes along cells, half of which are off by half a cell: by chance to either side.
            let most = 0.03 * (x.area_mm2 + y.area_mm2) + 100.0 * cell;
            assert!(
                (x.area_mm2 - y.area_mm2).abs() < most,
                "{} mm: {} or {}",
                a.z0_mm,
                x.area_mm2,
                y.area_mm2
            );
        }
    }
    let sum = |layers: &[LayerShare]| volumes(layers).iter().sum::<f64>();
    assert_relative_eq!(sum(&through), sum(&deep), max_relative = 1e-4);
}

#[rstest]
#[case::coarse(4.0, 4, [0.0; 3])]
// Corners are rounded the more the further out they lie.
#[case::fine_and_far_out(2.0, 5, [230.0, -410.0, 0.0])]
fn the_nearest_surface_deep_inside_is_found_by_squares_as_cell_by_cell(
    #[case] radius: f64,
    #[case] splits: u32,
    #[case] shift: [f64; 3],
) {
    let mut mesh = subdivided_sphere(radius, splits);
    let octant = |f: &[u32; 3]| {
        let [x, y, z] = mesh.vertices[f[0] as usize];
        1 + u16::from(x > 0.3) + 2 * u16::from(y > -0.7) + 4 * u16::from(z > 1.1)
    };
    let labels = Labels::of(mesh.facets.iter().map(|f| Some(octant(f))).collect());
    for v in &mut mesh.vertices {
        *v = [0, 1, 2].map(|i| v[i] + shift[i]);
    }
    assert_same_as_everywhere(&mesh, &labels, 0.8, 9);
}

proptest! {
    #![proptest_config(cases(24))]

    #[test]
    fn any_colours_right_through_share_out_the_same(
        seed in prop::collection::vec(0u16..4, 12..13),
        size in prop::array::uniform3(3.0..14.0f64),
    ) {
        let mesh = box_mesh([0.0; 3], size);
        let labels = Labels::of(seed.iter().map(|s| (*s > 0).then_some(*s)).collect());
        assert_same_as_everywhere(&mesh, &labels, 0.4, 4);
    }

    #[test]
    fn an_edit_divides_anew_what_it_changes(dabs in prop::collection::vec((0u32..320, 1u16..4), 1..5)) {
        let open = Arc::new(open(&subdivided_sphere(6.0, 2)));
        let mut planner = Planner::default();
        let mut facets = vec![None; open.mesh.facets.len()];
        let shape = || varichrom_core::layers::Shape {
            bodies: bodies(&open),
            settings: settings(),
            reach_mm: 0.8,
        };
        for (facet, region) in dabs {
            let low = open.mesh.bounds().min[2];
            facets[facet as usize] = Some(region);
            let z = open.mesh.corners(facet).map(|c| c[2] - low);
            let span = (z[0].min(z[1]).min(z[2]), z[0].max(z[1]).max(z[2]));
            planner.touch(Touched::Heights(span));
            // Every other look is made elsewhere, of the job as it was before the next dab.
            if facet % 2 == 0 && planner.survey().is_some() {
                let mut lent = planner.lend();
                let before = Labels::of(facets.clone());
                let claims = claims(&before, vec![f64::INFINITY; 4]);
                lent.prepare_depths(&claims, &|| true).expect("nobody stops it");
                facets[(facet as usize + 7) % 320] = Some(3);
                planner.touch(Touched::Heights((0.0, 100.0)));
                planner.take_back(lent);
                prop_assert!(planner.is_prepared(&claims));
            }
            let labels = Labels::of(facets.clone());
            let claims = claims(&labels, vec![f64::INFINITY; 4]);
            let shares = planner.advance(shape(), &claims, &|_| true).expect("done");
            let survey = planner.survey().expect("surveyed");
            prop_assert!(*shares == label(survey, &claims));
        }
    }
}

#[test]
fn a_drawn_layer_shows_what_goes_right_through() {
    let mesh = subdivided_sphere(8.0, 4);
    let half = |f: &[u32; 3]| Some(1 + u16::from(mesh.vertices[f[0] as usize][0] > 0.0));
    let labels = Labels::of(mesh.facets.iter().map(half).collect());
    let open = Arc::new(open(&mesh));
    let found = survey(bodies(&open), settings(), 0.8, &|_| true).expect("done");
    let drawn = draw_layer(&found, &claims(&labels, vec![f64::INFINITY; 3]), 40).expect("a layer");
    let of = |region: u16| {
        let runs = drawn
            .runs
            .iter()
            .filter(|r| r.region == region && r.kind != CellKind::Empty);
        runs.map(|r| r.count).sum::<u32>()
    };
    assert!(of(0) == 0);
    let (left, right) = (f64::from(of(1)), f64::from(of(2)));
    assert!((left / right - 1.0).abs() < 0.05, "{left} to {right}");
}
