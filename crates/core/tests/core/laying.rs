//! Drawings and pictures laid on models: areas by formula, and what a cut must keep.

use crate::carving::assert_same_shape;
use crate::jobs_of::job_of;
use crate::judge::cases;
use crate::laid_jobs::*;
use proptest::prelude::*;
use rstest::rstest;
use std::f64::consts::{PI, TAU};
use varichrom_core::carve::refined;
use varichrom_core::colour::Colour;
use varichrom_core::drawing::{DrawingSource, Eye, LaidOn, Laying};
use varichrom_core::job::{Edit, GiveEdit, History, RegionEdit};
use varichrom_demo::{box_mesh, revolve, stl, subdivided_sphere};

#[rstest]
#[case::top([20.0, 15.0, 20.0], [0.0, 0.0, 1.0])]
#[case::front([20.0, 0.0, 10.0], [0.0, -1.0, 0.0])]
#[case::right([40.0, 15.0, 10.0], [1.0, 0.0, 0.0])]
#[case::bed([20.0, 15.0, 0.0], [0.0, 0.0, -1.0])]
fn colours_on_a_flat_face_have_the_areas_they_are_drawn_with(
    #[case] at: [f64; 3],
    #[case] facing: [f64; 3],
) {
    let history = laid(
        &block(),
        &[lay(svg([20.0, 20.0], SPOT), flat(at, facing), 2)],
    );
    assert_same_shape(&history);
    let round = PI * 25.0;
    near(area(&history, "r1"), 256.0 - round, 1e-3);
    near(area(&history, "r2"), round, 1e-3);
}

/// Discs one within the other, whose outlines meet the lines of any grid in their corners.
#[rstest]
#[case(4.0, 0.8, 0.4)]
#[case(8.0, 0.5, 0.25)]
#[case(6.0, 1.0, 0.5)]
fn every_ring_of_an_eye_has_its_area(#[case] high: f64, #[case] iris: f64, #[case] pupil: f64) {
    let eye = Eye {
        width_mm: 1.5 * high,
        height_mm: high,
        iris,
        pupil,
        look: [0.0; 2],
    };
    let top = flat([20.0, 15.0, 20.0], [0.0, 0.0, 1.0]);
    let history = laid(&block(), &[lay(DrawingSource::Eye { eye }, top, 3)]);
    assert_same_shape(&history);
    let disc = |share: f64| 0.25 * PI * (share * high).powi(2);
    let white = 0.25 * PI * 1.5 * high * high;
    // Of 128 corners: less than a disc by 0.04 %.
    near(area(&history, "r3"), disc(pupil), 1e-3);
    near(area(&history, "r2"), disc(iris) - disc(pupil), 1e-3);
    near(area(&history, "r1"), white - disc(iris), 1e-3);
}

/// Tiles in as many colours as go round, so that every border lies on a line of the lattice: an SVG, and how many tiles each
/// colour has, the fewest first.
fn lattice(across: usize) -> (DrawingSource, Vec<f64>) {
    let colours = 1 + across.min(3);
    let colour = |at: usize| (at % across + 2 * (at / across)) % colours;
    let tile = |at: usize| {
        let (column, row, grey) = (at % across, at / across, 40 * (colour(at) + 1));
        format!(
            "<rect x='{column}' y='{row}' width='1' height='1' fill='rgb({grey},{grey},{grey})'/>"
        )
    };
    let tiles: String = (0..across * across).map(tile).collect();
    let mut counted = vec![0.0; colours];
    for at in 0..across * across {
        counted[colour(at)] += 1.0;
    }
    counted.retain(|c| *c > 0.0);
    counted.sort_by(f64::total_cmp);
    (svg([across as f64; 2], &tiles), counted)
}

#[rstest]
#[case::straight(0.0)]
#[case::turned(30.0)]
#[case::a_quarter(90.0)]
fn every_tile_of_a_lattice_has_its_area(#[case] turn_deg: f64) {
    for across in 1..=9 {
        let (tiles, counted) = lattice(across);
        let mut laying = flat([20.0, 15.0, 20.0], [0.0, 0.0, 1.0]);
        laying.turn_deg = turn_deg;
        let history = laid(&block(), &[lay(tiles, laying, counted.len())]);
        assert_same_shape(&history);
        for (is, wanted) in areas(&history, counted.len()).iter().zip(&counted) {
            near(*is, *wanted, 1e-6);
        }
    }
}

#[rstest]
fn every_tile_of_a_lattice_wound_around_has_its_area() {
    for across in [4, 6, 9] {
        let (tiles, counted) = lattice(across);
        let around = around_z([0.0, -12.0, 15.0]);
        let history = laid(&tube(12.0, 30.0, 360), &[lay(tiles, around, counted.len())]);
        assert_same_shape(&history);
        for (is, wanted) in areas(&history, counted.len()).iter().zip(&counted) {
            near(*is, *wanted, 2e-3);
        }
    }
}

/// Areas of r1 and those after it, the least first.
fn areas(history: &History, count: usize) -> Vec<f64> {
    let mut areas: Vec<f64> = (1..=count)
        .map(|n| area(history, &format!("r{n}")))
        .collect();
    areas.sort_by(f64::total_cmp);
    areas
}

#[rstest]
fn what_reaches_over_an_edge_ends_there_and_what_hides_keeps_what_is_behind() {
    // Half of it hangs over the right edge of the top.
    let over = lay(
        svg([20.0, 20.0], SPOT),
        flat([40.0, 15.0, 20.0], [0.0, 0.0, 1.0]),
        2,
    );
    let history = laid(&block(), &[over]);
    assert_same_shape(&history);
    near(area(&history, "r1") + area(&history, "r2"), 128.0, 1e-3);
    // A plate before half of a wall.
    let (table, mut history) = {
        let wall = stl(&box_mesh([0.0; 3], [40.0, 5.0, 40.0]), "wall");
        let plate = stl(&box_mesh([20.0, -10.0, 0.0], [40.0, -8.0, 40.0]), "plate");
        let (shelf, mut history) = job_of(&[("it", &wall), ("plate", &plate)]);
        let region = RegionEdit::AddRegion {
            region: "r1".into(),
            name: "R1".into(),
            colour: Colour([9, 9, 9]),
            slot: None,
        };
        history.apply(Edit::Region(region), &shelf).expect("added");
        (Table(shelf), history)
    };
    let strip = "<rect x='0' y='0' width='30' height='10' fill='black'/>";
    let at = flat([20.0, 0.0, 20.0], [0.0, -1.0, 0.0]);
    history
        .apply(lay(svg([30.0, 10.0], strip), at, 1), &table)
        .expect("laid");
    // All of it, on one or the other.
    let all = history.job().region_areas();
    let number = usize::from(history.job().region("r1").expect("there"));
    near(all[number], 300.0, 0.2);
    assert!(area(&history, "r1") < 200.0);
}

#[rstest]
fn through_reaches_both_sides_and_mirrored_is_the_other_way_round() {
    let mut through = flat([20.0, 15.0, 20.0], [0.0, 0.0, 1.0]);
    through.on = LaidOn::Flat {
        facing: [0.0, 0.0, 1.0],
        up: None,
        through: true,
    };
    let history = laid(&block(), &[lay(svg([20.0, 20.0], SPOT), through, 2)]);
    assert_same_shape(&history);
    near(area(&history, "r2"), 2.0 * PI * 25.0, 1e-3);
    let corner = "<rect x='0' y='0' width='20' height='20' fill='#eee'/><rect x='0' y='0' width='4' height='4' fill='black'/>";
    for (mirrored, turn_deg, wanted) in [
        (false, 0.0, [11.0, 24.0]),
        (true, 0.0, [29.0, 24.0]),
        (false, 90.0, [11.0, 6.0]),
        (true, 90.0, [11.0, 24.0]),
    ] {
        let laying = Laying {
            turn_deg,
            mirrored,
            ..flat([20.0, 15.0, 20.0], [0.0, 0.0, 1.0])
        };
        let history = laid(&block(), &[lay(svg([20.0, 20.0], corner), laying, 2)]);
        let model = &history.job().models[0];
        let [x, y] = wanted;
        let fine = refined(&model.open, &model.labels);
        let black = history.job().region("r2");
        let inside = (0..fine.labels.len()).filter(|f| fine.labels[*f] == black);
        let corners = inside.flat_map(|f| fine.mesh.corners(f as u32));
        for p in corners {
            let off = [(p[0] - x).abs(), (p[1] - y).abs()];
            assert!(
                off[0] < 3.01 && off[1] < 3.01,
                "{mirrored} {turn_deg}: {p:?}"
            );
        }
    }
}

#[rstest]
#[case::coarse(4)]
#[case::fine(6)]
fn a_disc_thrown_on_a_sphere_is_a_cap(#[case] splits: u32) {
    let (r, disc) = (20.0, 8.0);
    let ball = stl(&subdivided_sphere(r, splits), "ball");
    let round = format!("<circle cx='10' cy='10' r='{disc}' fill='black'/>");
    for facing in [[0.0, 0.0, 1.0], [1.0, -2.0, 0.5]] {
        let at = facing.map(|c: f64| c * 20.0);
        let history = laid(
            &ball,
            &[lay(svg([20.0, 20.0], &round), flat(at, facing), 1)],
        );
        assert_same_shape(&history);
        // Area of a spherical cap: 2 pi r h (any book of formulae).
        let cap = TAU * r * (r - (r * r - disc * disc).sqrt());
        near(area(&history, "r1"), cap, 4e-3);
    }
}

/// A tube of many sides around z.
fn tube(radius: f64, height: f64, sides: usize) -> Vec<u8> {
    let profile = [(0.0, 0.0), (radius, 0.0), (radius, height), (0.0, height)];
    stl(&revolve(&profile, sides), "tube")
}

#[rstest]
#[case::in_front([0.0, -12.0, 15.0])]
#[case::over_the_seam([-12.0, 0.0, 15.0])]
fn what_is_wound_around_a_cylinder_keeps_its_area(#[case] at: [f64; 3]) {
    let history = laid(
        &tube(12.0, 30.0, 360),
        &[lay(svg([20.0, 20.0], SPOT), around_z(at), 2)],
    );
    assert_same_shape(&history);
    let round = PI * 25.0;
    near(area(&history, "r1"), 256.0 - round, 2e-3);
    near(area(&history, "r2"), round, 2e-3);
}

#[rstest]
fn a_label_longer_than_once_around_covers_all_of_it_and_the_lids_stay() {
    let band = "<rect x='0' y='0' width='90' height='10' fill='black'/>";
    let laying = around_z([0.0, -12.0, 15.0]);
    let history = laid(
        &tube(12.0, 30.0, 120),
        &[lay(svg([90.0, 10.0], band), laying, 1)],
    );
    assert_same_shape(&history);
    // A prism of 120 sides.
    let side = 2.0 * 12.0 * (PI / 120.0).sin();
    near(area(&history, "r1"), 120.0 * side * 10.0, 1e-3);
}

#[rstest]
fn a_coarse_box_can_be_wound_around() {
    // Four walls at right angles: what is wound is narrower where the wall is near.
    let cube = stl(&box_mesh([-10.0, -10.0, 0.0], [10.0, 10.0, 20.0]), "cube");
    let band = "<rect x='0' y='0' width='100' height='6' fill='black'/>";
    let history = laid(
        &cube,
        &[lay(
            svg([100.0, 6.0], band),
            around_z([0.0, -10.0, 10.0]),
            1,
        )],
    );
    assert_same_shape(&history);
    near(area(&history, "r1"), 80.0 * 6.0, 1e-3);
}

#[rstest]
fn laid_again_the_newer_wins_and_borders_of_before_stay_where_they_are_seen() {
    let first = lay(
        svg([20.0, 20.0], SPOT),
        flat([20.0, 15.0, 20.0], [0.0, 0.0, 1.0]),
        2,
    );
    let bar = "<rect x='0' y='0' width='30' height='4' fill='green'/>";
    let second = Edit::Give(GiveEdit::GiveDrawing {
        drawing: svg([30.0, 4.0], bar),
        laying: flat([20.0, 15.0, 20.0], [0.0, 0.0, 1.0]),
        regions: vec![Some("r3".into())],
        model: Some("it".into()),
    });
    let history = laid(&block(), &[first, second]);
    assert_same_shape(&history);
    // A strip through the middle of a circle: 2 (x sqrt(r² - x²) + r² asin(x / r)) for half its width x.
    let strip = 2.0 * (2.0 * 21f64.sqrt() + 25.0 * (2.0f64 / 5.0).asin());
    near(area(&history, "r3"), 120.0, 1e-3);
    near(area(&history, "r2"), PI * 25.0 - strip, 1e-3);
    near(
        area(&history, "r1"),
        256.0 - PI * 25.0 - (64.0 - strip),
        1e-3,
    );
}

#[rstest]
fn colours_that_share_a_region_have_no_border_and_those_left_out_change_nothing() {
    let at = flat([20.0, 15.0, 20.0], [0.0, 0.0, 1.0]);
    let edit = |regions: Vec<Option<&str>>| {
        Edit::Give(GiveEdit::GiveDrawing {
            drawing: svg([20.0, 20.0], SPOT),
            laying: at.clone(),
            regions: regions.into_iter().map(|r| r.map(String::from)).collect(),
            model: None,
        })
    };
    let pieces = |history: &History| {
        let labels = &history.job().models[0].labels;
        labels
            .divisions()
            .map(|(_, d)| d.triangles.len())
            .sum::<usize>()
    };
    let both = laid(&block(), &[edit(vec![Some("r1"), Some("r1")])]);
    near(area(&both, "r1"), 256.0, 1e-6);
    assert!(
        pieces(&both) < 30,
        "{} triangles for a square",
        pieces(&both)
    );
    let one = laid(&block(), &[edit(vec![None, Some("r2")])]);
    near(area(&one, "r2"), PI * 25.0, 1e-3);
    let (table, mut history) = job(&block());
    for regions in [
        vec![],
        vec![None, None],
        vec![Some("r1"), Some("r2"), Some("r3")],
    ] {
        let refused = history
            .apply(edit(regions), &table)
            .expect_err("nothing to give");
        assert_eq!(refused.code, "laying-colours");
    }
}

#[rstest]
fn what_misses_the_model_is_refused() {
    let (table, mut history) = job(&block());
    let beside = lay(
        svg([20.0, 20.0], SPOT),
        flat([200.0, 15.0, 20.0], [0.0, 0.0, 1.0]),
        2,
    );
    let refused = history.apply(beside, &table).expect_err("beside");
    assert_eq!(refused.code, "laying-misses");
    let no_plane = lay(
        svg([20.0, 20.0], SPOT),
        flat([20.0, 15.0, 20.0], [0.0; 3]),
        2,
    );
    assert_eq!(
        history.apply(no_plane, &table).expect_err("none").code,
        "laying-axes"
    );
    let on_axis = lay(svg([20.0, 20.0], SPOT), around_z([0.0, 0.0, 15.0]), 2);
    assert_eq!(
        history.apply(on_axis, &table).expect_err("on it").code,
        "laying-place"
    );
}

proptest! {
    #![proptest_config(cases(24))]
    /// However it lies: the shape is kept, and no colour has more surface than it is drawn with on what faces it.
    #[test]
    fn wherever_it_lies_the_shape_is_kept(
        at in prop::array::uniform2(-5.0..45.0f64),
        turn_deg in -180.0..180.0f64,
        mirrored: bool,
        tilt in -0.6..0.6f64,
        again in -10.0..10.0f64,
    ) {
        let (table, mut history) = job(&block());
        let facing = [tilt, -0.3 * tilt, 1.0];
        for (shift, number) in [(0.0, 2), (again, 4)] {
            let mut laying = flat([at[0] + shift, at[1], 20.0], facing);
            laying.turn_deg = turn_deg + shift;
            laying.mirrored = mirrored;
            let regions = match number {
                2 => vec![Some("r1".to_string()), Some("r2".into())],
                _ => vec![Some("r3".to_string()), Some("r4".into())],
            };
            let edit = Edit::Give(GiveEdit::GiveDrawing {
                drawing: svg([20.0, 20.0], SPOT),
                laying,
                regions,
                model: None,
            });
            if let Err(refused) = history.apply(edit, &table) {
                prop_assert_eq!(refused.code.as_str(), "laying-misses");
            }
        }
        assert_same_shape(&history);
    }

    /// Surface covered by a drawing is told by the drawing's own areas, place by place.
    #[test]
    fn every_place_has_the_colour_that_falls_on_it(
        seed in prop::array::uniform8(0.0..1.0f64),
        turn_deg in -180.0..180.0f64,
    ) {
        let ball = stl(&subdivided_sphere(20.0, 3), "ball");
        let laying = Laying { turn_deg, ..flat([0.0, 0.0, 20.0], [0.0, 0.0, 1.0]) };
        let history = laid(&ball, &[lay(svg([20.0, 20.0], SPOT), laying, 2)]);
        let model = &history.job().models[0];
        let (sin, cos) = turn_deg.to_radians().sin_cos();
        for [u, v] in [[seed[0], seed[1]], [seed[2], seed[3]], [seed[4], seed[5]], [seed[6], seed[7]]] {
            let (x, y) = (24.0 * u - 12.0, 24.0 * v - 12.0);
            let hits = model.open.tree().hits([x, y, 100.0], [0.0, 0.0, -1.0]);
            let (far, facet) = hits.into_iter().min_by(|a, b| a.0.total_cmp(&b.0)).expect("on the ball");
            let p = [x, y, 100.0 - far];
            let shares = shares_at(&model.open.mesh.corners(facet), p);
            let label = model.labels.at(facet, shares);
            // Turned back, from the middle of the page.
            let (px, py) = (cos * x + sin * y, cos * y - sin * x);
            let spot = px.hypot(py) - 5.0;
            let square = px.abs().max(py.abs()) - 8.0;
            // Next to a border it may be either.
            if spot.abs() < 0.02 || square.abs() < 0.02 {
                continue;
            }
            let wanted = match (spot < 0.0, square < 0.0) {
                (true, _) => history.job().region("r2"),
                (_, true) => history.job().region("r1"),
                _ => None,
            };
            prop_assert_eq!(label, wanted, "at {:?}", p);
        }
    }
}

/// Shares of the edges from corner 0 to corners 1 and 2.
fn shares_at([a, b, c]: &[[f64; 3]; 3], p: [f64; 3]) -> [f64; 2] {
    use varichrom_core::mesh::{cross, dot, sub};
    let n = cross(sub(*b, *a), sub(*c, *a));
    let whole = dot(n, n);
    let d = sub(p, *a);
    [
        dot(n, cross(d, sub(*c, *a))) / whole,
        dot(n, cross(sub(*b, *a), d)) / whole,
    ]
}
