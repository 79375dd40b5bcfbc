//! Bodies from drawings: closed, apart, of the volume of their area and thickness, and open in a second reader.

use approx::assert_relative_eq;
use rstest::rstest;
use varichrom_core::colour::Colour;
use varichrom_core::drawing::{
    Base, Body, DrawingOptions, Drawn, Eyelet, Fate, Flat, Flatwork, Outline, Said, Side,
    SvgOptions, bodies_threemf, read_svg,
};
use varichrom_core::model::OpenMesh;
use varichrom_core::solids::{Meeting, Solid, meetings};

/// A pennant: a field, a panel on it, a disc on that, and a star with holes of its own colour's.
fn pennant() -> Flat {
    let text = r##"<svg xmlns="http://www.w3.org/2000/svg" width="72mm" height="44mm" viewBox="0 0 72 44">
        <path id="field" fill="#203550" d="M0 0 L72 18 L72 26 L0 44 Z"/>
        <path id="panel" fill="#eee6d4" d="M4 5 L50 16 L50 28 L4 39 Z"/>
        <circle id="disc" cx="18" cy="22" r="10" fill="#c8442f"/>
        <path id="star" fill="#d8a030" d="M18 14 L20 20 L26 20 L21 24 L23 30 L18 26 L13 30 L15 24 L10 20 L16 20 Z"/></svg>"##;
    read_svg(text.as_bytes(), &SvgOptions::default(), &|_| true).expect("a drawing")
}

/// Closed, and no two share space.
fn assert_apart(bodies: &[Body]) {
    for body in bodies {
        assert!(body.is_closed(), "{} is open", body.name);
        let height = body.span_mm[1] - body.span_mm[0];
        assert_relative_eq!(
            body.volume_mm3(),
            body.area_mm2 * height,
            max_relative = 1e-6
        );
    }
    let solids: Vec<Solid> = bodies
        .iter()
        .map(|b| Solid::plain(b.mesh.clone()))
        .collect();
    for pair in meetings(&solids, &|_, _| true).expect("not stopped") {
        let names = pair.bodies.map(|p| &bodies[p].name);
        assert!(
            matches!(pair.meeting, Meeting::Touch { .. }),
            "{names:?}: {:?}",
            pair.meeting
        );
    }
}

fn number(flat: &Flat, name: &str) -> usize {
    flat.inks
        .iter()
        .position(|i| i.name == name)
        .expect("a colour")
}

#[test]
fn every_colour_is_a_closed_body_beside_the_others() {
    let flat = pennant();
    let bodies = Flatwork::plain(4, 0.4).bodies(&flat).expect("bodies");
    let names: Vec<&str> = bodies.iter().map(|b| b.name.as_str()).collect();
    assert_eq!(names, ["field", "panel", "disc", "star"]);
    assert_apart(&bodies);
    let all: f64 = bodies.iter().map(Body::volume_mm3).sum();
    // A trapezium of 44 and 8, 72 wide.
    assert_relative_eq!(all, 0.4 * 26.0 * 72.0, max_relative = 1e-5);
}

#[test]
fn a_plate_a_rim_and_an_eyelet_lie_around_and_below() {
    let flat = pennant();
    let (field, star) = (number(&flat, "field"), number(&flat, "star"));
    let mut work = Flatwork::plain(4, 0.4);
    work.base = Some(Base {
        ink: field,
        thickness_mm: 0.6,
        margin_mm: 1.0,
    });
    work.outline = Some(Outline {
        ink: field,
        width_mm: 1.0,
    });
    work.eyelet = Some(Eyelet {
        at: [-3.0, 42.0],
        hole_mm: 4.0,
        ring_mm: 2.0,
        ink: star,
    });
    let bodies = work.bodies(&flat).expect("bodies");
    assert_apart(&bodies);
    let plate = bodies
        .iter()
        .find(|b| b.name == "Base plate")
        .expect("a plate");
    assert_eq!(plate.span_mm, [0.0, 0.6]);
    assert_eq!(plate.colour, flat.inks[field].colour);
    assert!(
        bodies
            .iter()
            .all(|b| b.name == "Base plate" || b.span_mm == [0.6, 1.0])
    );
    // Nothing is where the eyelet's hole is.
    for body in &bodies {
        let near = body
            .mesh
            .vertices
            .iter()
            .filter(|v| (v[0] + 3.0).hypot(v[1] - 42.0) < 1.99);
        assert_eq!(near.count(), 0, "{}", body.name);
    }
}

#[test]
fn with_its_face_on_the_bed_it_is_mirrored_and_filled_from_above() {
    let flat = pennant();
    let (field, star) = (number(&flat, "field"), number(&flat, "star"));
    let mut work = Flatwork::plain(4, 0.4);
    work.inks[star].thickness_mm = 0.2;
    work.base = Some(Base {
        ink: field,
        thickness_mm: 0.6,
        margin_mm: 2.0,
    });
    work.side = Side::Bed;
    let bodies = work.bodies(&flat).expect("bodies");
    assert_apart(&bodies);
    let panel = bodies
        .iter()
        .find(|b| b.name == "panel")
        .expect("the panel");
    let left = panel
        .mesh
        .vertices
        .iter()
        .map(|v| v[0])
        .fold(f64::INFINITY, f64::min);
    assert_relative_eq!(left, 72.0 - 50.0, epsilon = 1e-4);
    assert!(
        bodies
            .iter()
            .all(|b| b.span_mm[0] >= 0.0 && b.span_mm[1] <= 1.0)
    );
    // Together they are a slab: all that the plate covers, from the bed to its top.
    let plate = bodies
        .iter()
        .find(|b| b.name == "Base plate")
        .expect("a plate");
    let all: f64 = bodies.iter().map(Body::volume_mm3).sum();
    assert_relative_eq!(all, plate.area_mm2, max_relative = 1e-3);
}

#[test]
fn colours_are_joined_left_out_and_cut_through() {
    let flat = pennant();
    let n = |name: &str| number(&flat, name);
    let volume = |work: &Flatwork, name: &str| {
        let bodies = work.bodies(&flat).expect("bodies");
        assert_apart(&bodies);
        bodies
            .iter()
            .find(|b| b.name == name)
            .map_or(0.0, Body::volume_mm3)
    };
    let plain = Flatwork::plain(4, 1.0);
    let (disc, star) = (volume(&plain, "disc"), volume(&plain, "star"));
    let mut joined = plain.clone();
    joined.inks[n("star")].fate = Fate::Joins { with: n("disc") };
    assert_relative_eq!(volume(&joined, "disc"), disc + star, max_relative = 1e-6);
    assert_eq!(volume(&joined, "star"), 0.0);
    let mut cut = plain.clone();
    cut.base = Some(Base {
        ink: n("field"),
        thickness_mm: 1.0,
        margin_mm: 0.0,
    });
    let whole = volume(&cut, "Base plate");
    cut.inks[n("star")].fate = Fate::LeftOut;
    assert_relative_eq!(volume(&cut, "Base plate"), whole, max_relative = 1e-9);
    cut.inks[n("star")].fate = Fate::Hole;
    assert_relative_eq!(
        volume(&cut, "Base plate"),
        whole - star,
        max_relative = 1e-6
    );
}

#[rstest]
#[case::no_thickness(|w: &mut Flatwork| w.inks[0].thickness_mm = 0.0, "flatwork-range")]
#[case::no_number(|w: &mut Flatwork| w.inks[0].thickness_mm = f64::NAN, "flatwork-range")]
#[case::itself(|w: &mut Flatwork| w.inks[0].fate = Fate::Joins { with: 0 }, "flatwork-ink")]
#[case::nobody(|w: &mut Flatwork| w.inks[0].fate = Fate::Joins { with: 9 }, "flatwork-ink")]
#[case::round_about(|w: &mut Flatwork| { w.inks[0].fate = Fate::Joins { with: 1 }; w.inks[1].fate = Fate::Joins { with: 0 } }, "flatwork-ink")]
#[case::nothing_left(|w: &mut Flatwork| w.inks.iter_mut().for_each(|i| i.fate = Fate::LeftOut), "flatwork-nothing")]
#[case::all_hole(|w: &mut Flatwork| w.eyelet = Some(Eyelet { at: [36.0, 22.0], hole_mm: 200.0, ring_mm: 0.0, ink: 0 }), "flatwork-nothing")]
#[case::too_few(|w: &mut Flatwork| { w.inks.pop(); }, "flatwork-ink")]
fn what_cannot_be_made_says_so(#[case] change: fn(&mut Flatwork), #[case] code: &str) {
    let mut work = Flatwork::plain(4, 0.4);
    change(&mut work);
    assert_eq!(work.bodies(&pennant()).expect_err("refused").code, code);
}

/// A star of which tips touch, and a hole that touches the outline: no two walls are one.
#[test]
fn what_meets_in_a_point_is_parted_there() {
    let text = r##"<svg xmlns="http://www.w3.org/2000/svg" width="20mm" height="20mm" viewBox="0 0 20 20">
        <path fill="#203550" fill-rule="evenodd" d="M0 0 H10 V10 H0 Z M10 10 H20 V20 H10 Z M12 12 L14 10 L16 12 L14 14 Z M2 2 L8 2 L8 8 Z M4 4 L6 4 L6 6 Z"/></svg>"##;
    let flat = read_svg(text.as_bytes(), &SvgOptions::default(), &|_| true).expect("a drawing");
    let bodies = Flatwork::plain(1, 2.0).bodies(&flat).expect("bodies");
    assert!(bodies[0].is_closed());
    let mut places: Vec<[u64; 3]> = bodies[0]
        .mesh
        .vertices
        .iter()
        .map(|v| v.map(f64::to_bits))
        .collect();
    let count = places.len();
    places.sort_unstable();
    places.dedup();
    assert_eq!(places.len(), count, "two corners at one place");
}

#[test]
fn the_package_opens_with_names_and_colours() {
    let flat = pennant();
    let bodies = Flatwork::plain(4, 0.4).bodies(&flat).expect("bodies");
    let bytes = bodies_threemf("Pennant", &bodies).expect("written");
    let read = lib3mf::Model::from_reader(std::io::Cursor::new(bytes)).expect("a second reader");
    let names: Vec<String> = read
        .resources
        .objects
        .iter()
        .filter_map(|o| o.name.clone())
        .collect();
    assert_eq!(names[..4], ["field", "panel", "disc", "star"]);
    let colours = &read.resources.color_groups[0].colors;
    let wanted: Vec<Colour> = bodies.iter().map(|b| b.colour).collect();
    let found: Vec<Colour> = colours.iter().map(|c| Colour([c.0, c.1, c.2])).collect();
    assert_eq!(found, wanted);
}

#[test]
fn a_drawing_stays_with_the_model_that_is_made_of_it() {
    let text = r##"<svg xmlns="http://www.w3.org/2000/svg" width="20mm" height="20mm" viewBox="0 0 20 20"><rect id="tile" width="20" height="10" fill="#203550"/></svg>"##;
    let drawn = Drawn {
        bytes: text.as_bytes().to_vec(),
        said: Said {
            file: "tile.svg".into(),
            options: DrawingOptions::default(),
            work: Flatwork::plain(1, 0.6),
            stacking: None,
        },
    };
    let flat = drawn.flat(&|_| true).expect("a drawing");
    let model = drawn.model(&flat).expect("a model");
    assert_eq!(
        model,
        drawn.model(&flat).expect("a model"),
        "the same bytes"
    );
    let open = OpenMesh::from_bytes(&model).expect("it opens as a model");
    assert_relative_eq!(open.volume_mm3(), 120.0, max_relative = 1e-6);
    assert_eq!(open.parts.len(), 1);
    assert_eq!(Drawn::of(&model), Some(drawn));
    assert_eq!(Drawn::of(text.as_bytes()), None);
}

#[test]
fn what_was_said_of_a_colour_goes_on_with_it_in_another_drawing() {
    let flat = pennant();
    let n = |flat: &Flat, name: &str| number(flat, name);
    let mut work = Flatwork::plain(4, 0.4);
    work.inks[n(&flat, "star")].fate = Fate::Joins {
        with: n(&flat, "disc"),
    };
    work.inks[n(&flat, "panel")].thickness_mm = 0.8;
    work.base = Some(Base {
        ink: n(&flat, "disc"),
        thickness_mm: 1.0,
        margin_mm: 0.0,
    });
    // The disc is now the largest, the field is gone, and something is new.
    let text = r##"<svg xmlns="http://www.w3.org/2000/svg" width="72mm" height="44mm" viewBox="0 0 72 44">
        <circle id="disc" cx="22" cy="22" r="20" fill="#c8442f"/><rect id="panel" x="50" width="20" height="20" fill="#eee6d4"/>
        <rect id="star" x="50" y="25" width="9" height="9" fill="#d8a030"/><rect id="new" x="60" y="25" width="9" height="9" fill="#111111"/></svg>"##;
    let other = read_svg(text.as_bytes(), &SvgOptions::default(), &|_| true).expect("a drawing");
    let moved = work.moved(&flat, &other);
    moved.check(4).expect("it can be made");
    assert_eq!(n(&other, "disc"), 0);
    assert_eq!(moved.inks[n(&other, "star")].fate, Fate::Joins { with: 0 });
    assert_eq!(moved.inks[n(&other, "panel")].thickness_mm, 0.8);
    assert_eq!(moved.inks[n(&other, "new")].fate, Fate::Body);
    assert_eq!(moved.base.expect("a plate").ink, 0);
    // Where the colour that another joined is gone, it is a body again.
    let alone = Flat {
        inks: vec![other.inks[n(&other, "star")].clone()],
        ..other.clone()
    };
    assert_eq!(work.moved(&flat, &alone).inks[0].fate, Fate::Body);
}
