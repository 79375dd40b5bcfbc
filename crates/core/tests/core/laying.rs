//! Drawings, pictures and words laid on models: areas by formula, and what a cut must keep.

use crate::carving::assert_same_shape;
use crate::jobs_of::{Shelf, job_of};
use crate::judge::cases;
use proptest::prelude::*;
use rstest::rstest;
use std::f64::consts::{PI, TAU};
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::carve::refined;
use varichrom_core::colour::Colour;
use varichrom_core::drawing::{DrawingOptions, DrawingSource, LaidOn, Laying, Words};
use varichrom_core::job::{Edit, GiveEdit, History, Models, PartEdit, RegionEdit, Relief};
use varichrom_core::mesh::facet_area;
use varichrom_core::model::OpenMesh;
use varichrom_demo::{box_mesh, revolve, stl, subdivided_sphere};

/// Models by name, and drawings written out as their own content name.
struct Table(Shelf);

impl Models for Table {
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem> {
        self.0.open(content)
    }

    fn bytes(&self, content: &str) -> Result<Arc<Vec<u8>>, Problem> {
        Ok(Arc::new(content.as_bytes().to_vec()))
    }
}

/// An SVG page in mm with some shapes.
fn svg(size: [f64; 2], shapes: &str) -> DrawingSource {
    let [w, h] = size;
    DrawingSource::File {
        file: "it.svg".into(),
        content: format!(
            "<svg xmlns='http://www.w3.org/2000/svg' width='{w}mm' height='{h}mm' viewBox='0 0 {w} {h}'>{shapes}</svg>"
        ),
        options: DrawingOptions::default(),
    }
}

fn flat(at: [f64; 3], facing: [f64; 3]) -> Laying {
    Laying {
        at,
        on: LaidOn::Flat {
            facing,
            up: None,
            through: false,
        },
        turn_deg: 0.0,
        mirrored: false,
    }
}

fn around_z(at: [f64; 3]) -> Laying {
    Laying {
        at,
        on: LaidOn::Around {
            centre: [0.0; 3],
            axis: [0.0, 0.0, 1.0],
        },
        turn_deg: 0.0,
        mirrored: false,
    }
}

fn lay(drawing: DrawingSource, laying: Laying, regions: usize) -> Edit {
    Edit::Give(GiveEdit::GiveDrawing {
        drawing,
        laying,
        regions: (1..=regions).map(|n| Some(format!("r{n}"))).collect(),
        model: None,
    })
}

/// A job of one model with regions r1 to r4.
fn job(mesh: &[u8]) -> (Table, History) {
    let (shelf, mut history) = job_of(&[("it", mesh)]);
    for n in 1..=4 {
        let region = RegionEdit::AddRegion {
            region: format!("r{n}"),
            name: format!("R{n}"),
            colour: Colour([40 * n, 30, 30]),
            slot: None,
        };
        history.apply(Edit::Region(region), &shelf).expect("added");
    }
    (Table(shelf), history)
}

fn laid(mesh: &[u8], edits: &[Edit]) -> History {
    let (table, mut history) = job(mesh);
    for edit in edits {
        let applied = history.apply(edit.clone(), &table);
        applied.unwrap_or_else(|p| panic!("{p}"));
    }
    history
}

/// Area of a region, added up over the refined mesh.
fn area(history: &History, region: &str) -> f64 {
    let model = &history.job().models[0];
    let fine = refined(&model.open, &model.labels);
    let number = history.job().region(region);
    (0..fine.labels.len())
        .filter(|f| fine.labels[*f] == number)
        .map(|f| facet_area(&fine.mesh.corners(f as u32)))
        .sum()
}

fn near(found: f64, wanted: f64, relative: f64) {
    let off = (found - wanted).abs();
    assert!(off <= relative * wanted, "{found} instead of {wanted}");
}

const BLOCK: [f64; 3] = [40.0, 30.0, 20.0];

fn block() -> Vec<u8> {
    stl(&box_mesh([0.0; 3], BLOCK), "block")
}

/// A square with a round spot in it: two colours that share a border.
const SPOT: &str = "<rect x='2' y='2' width='16' height='16' fill='#c03020'/><circle cx='10' cy='10' r='5' fill='#2030c0'/>";

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

#[rstest]
fn words_are_as_high_as_they_are_typed_and_stand_where_they_are_laid() {
    // H has no overhang: its height is a capital's.
    let words = |text: &str| Words::plain(text, 8.0);
    let h = words("H").flat(None).expect("set");
    near(h.size_mm[1], 8.0, 2e-3);
    let source = DrawingSource::Words { words: words("HI") };
    let area_drawn: f64 = words("HI").flat(None).expect("set").inks[0].area.mm2();
    let history = laid(
        &block(),
        &[lay(source, flat([20.0, 15.0, 20.0], [0.0, 0.0, 1.0]), 1)],
    );
    assert_same_shape(&history);
    near(area(&history, "r1"), area_drawn, 1e-6);
}

#[rstest]
fn letters_may_be_colours_of_their_own_and_words_may_stand_on_an_arc() {
    let mut words = Words::plain("Grindle Quay", 6.0);
    words.by_letter = true;
    let flat = words.flat(None).expect("set");
    let names: Vec<&str> = flat.inks.iter().map(|i| i.name.as_str()).collect();
    assert_eq!(
        names,
        ["G", "r", "i", "n", "d", "l", "e", "Q", "u", "a", "y"]
    );
    // From left to right.
    let lefts: Vec<f64> = flat
        .inks
        .iter()
        .map(|i| i.area.bounds().expect("ink").0[0])
        .collect();
    assert!(lefts.is_sorted(), "{lefts:?}");
    for arc in [20.0, -20.0] {
        words.arc_mm = Some(arc);
        let bent = words.flat(None).expect("set");
        let total =
            |f: &varichrom_core::drawing::Flat| f.inks.iter().map(|i| i.area.mm2()).sum::<f64>();
        near(total(&bent), total(&flat), 5e-3);
        let middle = |n: usize| {
            let (low, high) = bent.inks[n].area.bounds().expect("ink");
            0.5 * (low[1] + high[1])
        };
        // The middle of the words is the top of the arch, or the bottom.
        let rise = middle(6) - 0.5 * (middle(0) + middle(10));
        assert!(rise * arc > 0.0 && rise.abs() > 2.0, "{rise}");
    }
}

#[rstest]
#[case::nothing("  \n ", 6.0, "words-empty")]
#[case::small("Quay", 0.1, "letters-out-of-range")]
#[case::no_font("Quay \u{1F6A2}\u{10FFFE}", 6.0, "words-letters")]
#[case::endless(&"Quay ".repeat(200), 6.0, "words-long")]
#[case::too_long(&"M".repeat(390), 100.0, "drawing-size")]
fn words_that_cannot_be_set_are_refused(#[case] text: &str, #[case] high: f64, #[case] code: &str) {
    let refused = Words::plain(text, high).flat(None).expect_err("refused");
    assert_eq!(refused.code, code, "{refused}");
}

#[rstest]
fn right_to_left_words_run_from_the_right_and_a_broken_font_is_told() {
    // Alef is drawn to the right of bet.
    let mut words = Words::plain("\u{5d0}\u{5d1}", 6.0);
    words.by_letter = true;
    let flat = words.flat(None).expect("set");
    let left = |n: usize| flat.inks[n].area.bounds().expect("ink").0[0];
    assert!(left(0) > left(1));
    let refused = words.flat(Some(b"no font at all")).expect_err("broken");
    assert_eq!(refused.code, "font-broken");
}

/// A square of two facets whose corners are black on the left and white on the right.
const RAMP: &str = "ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\n\
    property uchar red\nproperty uchar green\nproperty uchar blue\nelement face 2\nproperty list uchar int vertex_indices\nend_header\n\
    0 0 0 0 0 0\n20 0 0 255 255 255\n20 10 0 255 255 255\n0 10 0 0 0 0\n3 0 1 2\n3 0 2 3\n";

#[rstest]
fn blended_corners_become_regions_whose_borders_run_straight_across_facets() {
    let (shelf, mut history) = job_of(&[("it", RAMP.as_bytes())]);
    let keep = varichrom_core::job::ModelEdit::KeepColours {
        model: "it".into(),
        most: 2,
    };
    history.apply(Edit::Model(keep), &shelf).expect("kept");
    let job = history.job();
    let areas = job.region_areas();
    let live: Vec<(u16, [f64; 3])> = job
        .live_regions()
        .filter(|(n, _)| areas[usize::from(*n)] > 0.0)
        .map(|(n, r)| (n, r.colour.lab()))
        .collect();
    assert_eq!(live.len(), 2);
    // Lightness runs from 0 to 100 over 20 mm: the border is where both are equally far.
    let border = 20.0 * 0.5 * (live[0].1[0] + live[1].1[0]) / 100.0;
    let dark = if live[0].1[0] < live[1].1[0] {
        live[0].0
    } else {
        live[1].0
    };
    near(areas[usize::from(dark)], 10.0 * border, 1e-3);
    let model = &job.models[0];
    let fine = refined(&model.open, &model.labels);
    for (f, label) in fine.labels.iter().enumerate() {
        let own = label.unwrap_or(model.parts[0].own) == dark;
        for p in fine.mesh.corners(f as u32) {
            let side = p[0] - border;
            assert!(
                if own { side < 0.02 } else { side > -0.02 },
                "{p:?} beyond {border}"
            );
        }
    }
}

#[rstest]
#[case::raised(Relief::Raised { mm: 1.2 }, 1.2)]
#[case::sunken(Relief::Sunken { mm: 0.8 }, -0.8)]
#[case::through(Relief::Through, -20.0)]
fn words_as_relief_add_or_take_their_area_times_their_height(
    #[case] relief: Relief,
    #[case] high: f64,
    #[values(0.0, 33.0)] turn_deg: f64,
) {
    let (table, mut history) = job(&block());
    let words = Words::plain("Quay", 8.0);
    let drawn: f64 = words.flat(None).expect("set").inks[0].area.mm2();
    let at = [20.0, 15.0, 20.0];
    let stamp = Edit::Part(PartEdit::Stamp {
        at: crate::jobs_of::at("it", [1.0, 1.0, 20.0], [0.0, 0.0, 1.0]),
        drawing: DrawingSource::Words { words },
        laying: Laying {
            turn_deg,
            ..flat(at, [0.0, 0.0, 1.0])
        },
        regions: vec![Some("r1".into())],
        relief,
    });
    history
        .apply(stamp.clone(), &table)
        .unwrap_or_else(|p| panic!("{p}"));
    let open = &history.job().models[0].open;
    assert!(open.is_closed());
    near(open.volume_mm3(), 24_000.0 + drawn * high, 1e-6);
    // What can be seen of it: the tops and the walls, or the floors and the walls.
    let found = area(&history, "r1");
    let floor = if matches!(relief, Relief::Through) {
        0.0
    } else {
        drawn
    };
    assert!(found > floor + 0.5 * high.abs() * drawn.sqrt(), "{found}");
    // Undone and done again it is the same.
    let volume = open.volume_mm3();
    history.undo(&table).expect("undone");
    near(history.job().models[0].open.volume_mm3(), 24_000.0, 1e-12);
    history.redo(&table).expect("redone");
    assert_eq!(history.job().models[0].open.volume_mm3(), volume);
    // Beside the part there is nothing to stamp.
    let Edit::Part(PartEdit::Stamp {
        mut laying,
        drawing,
        regions,
        at,
        ..
    }) = stamp
    else {
        unreachable!()
    };
    laying.at[0] += 300.0;
    let beside = Edit::Part(PartEdit::Stamp {
        at,
        drawing,
        laying,
        regions,
        relief,
    });
    let before = history.job().models[0].open.volume_mm3();
    let refused = history.apply(beside, &table).expect_err("beside");
    assert!(
        ["laying-misses", "relief-hangs"].contains(&refused.code.as_str()),
        "{refused}"
    );
    assert_eq!(history.job().models[0].open.volume_mm3(), before);
}
