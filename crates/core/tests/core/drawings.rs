//! Drawings and pictures laid flat, set against a general renderer, counted pixels, formulas and a second k-means.

use crate::judge::cases;
use approx::assert_relative_eq;
use image::{ImageFormat, Rgba, RgbaImage};
use proptest::prelude::*;
use rstest::rstest;
use std::f64::consts::PI;
use std::io::Cursor;
use varichrom_core::colour::Colour;
use varichrom_core::drawing::{
    DrawingOptions, Flat, PictureOptions, SvgOptions, read_drawing, read_picture, read_svg,
    thickened, thin_places,
};
use varichrom_core::shapes::Area;

const ON: &(dyn Fn(f64) -> bool + Sync) = &|_| true;

fn svg(text: &str) -> Flat {
    read_svg(text.as_bytes(), &SvgOptions::default(), ON).expect("a drawing")
}

fn png(picture: &RgbaImage) -> Vec<u8> {
    let mut bytes = Cursor::new(Vec::new());
    picture
        .write_to(&mut bytes, ImageFormat::Png)
        .expect("written");
    bytes.into_inner()
}

fn mm2(flat: &Flat, colour: &str) -> f64 {
    let colour: Colour = colour.parse().expect("a colour");
    let of = flat.inks.iter().find(|i| i.colour == colour);
    of.map_or(0.0, |i| i.area.mm2())
}

/// Every point has one colour: nothing lies over anything else, and all together make the whole.
fn assert_one_colour_each(flat: &Flat, off_mm2: f64) {
    for (a, x) in flat.inks.iter().enumerate() {
        for y in &flat.inks[a + 1..] {
            let both = x.area.and(&y.area).mm2();
            assert!(both <= off_mm2, "{} over {}: {both} mm²", x.name, y.name);
        }
    }
    let sum: f64 = flat.inks.iter().map(|i| i.area.mm2()).sum();
    assert!((sum - flat.section().mm2()).abs() <= off_mm2);
}

#[test]
fn what_paints_over_what_is_resolved() {
    let flat = svg(
        r##"<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30">
        <rect id="field" width="40" height="30" fill="#203550"/>
        <circle id="disc" cx="20" cy="15" r="10" fill="#c8442f"/>
        <rect id="bar" x="0" y="13" width="40" height="4" fill="#203550"/>
    </svg>"##,
    );
    assert_eq!(flat.size_mm, [40.0, 30.0]);
    assert!(flat.notes.is_empty(), "{:?}", flat.notes);
    // A circle without a band of height 4 through its middle.
    let band = 2.0 * (100.0 * (0.2f64).asin() + 2.0 * 96f64.sqrt());
    assert_relative_eq!(
        mm2(&flat, "#c8442f"),
        PI * 100.0 - band,
        max_relative = 1e-3
    );
    assert_one_colour_each(&flat, 1e-3);
    assert_relative_eq!(flat.section().mm2(), 1200.0, max_relative = 1e-6);
    let names: Vec<&str> = flat.inks.iter().map(|i| i.name.as_str()).collect();
    assert_eq!(names, ["field", "disc"]);
}

const SHAPES: &str = r##"<g transform="translate(4 3) rotate(12)">
    <path fill="#d8a030" fill-rule="evenodd" d="M5 2 L9 14 L-1 6 L11 6 L1 14 Z"/>
    <path fill="none" stroke="#207050" stroke-width="1.4" stroke-linejoin="round" d="M14 3 q6 10 12 0 t8 6"/>
    <path fill="none" stroke="#203550" stroke-width="0.8" stroke-dasharray="2 1.2" stroke-linecap="round" d="M12 14 L34 16"/></g>"##;
const CLIPS: &str = r##"<defs><clipPath id="c"><circle cx="12" cy="12" r="8"/></clipPath>
    <clipPath id="d" clip-path="url(#c)"><rect x="2" y="8" width="20" height="20" transform="skewX(10)"/></clipPath></defs>
    <rect width="40" height="25" fill="#eeeeee"/><g clip-path="url(#d)"><rect width="40" height="25" fill="#a02050"/>
    <ellipse cx="14" cy="14" rx="6" ry="3" fill="#2050a0"/></g><use href="#e" x="20" y="2"/><g id="e"><path d="M22 4 h6 v6 z" fill="#30a020"/></g>"##;
const TINTS: &str = r##"<rect width="20" height="25" fill="#204080"/><circle cx="20" cy="12" r="9" fill="#e0c040" fill-opacity="0.5"/>
    <g opacity="0.25"><rect x="5" y="5" width="10" height="10" fill="#ff0000"/></g>"##;
const WORDS: &str = r##"<rect width="40" height="25" fill="#ffffff"/><text x="3" y="16" font-size="12" fill="#401060">Pier 7</text>"##;
const NESTED: &str = r##"<svg x="5" y="5" width="20" height="15" viewBox="0 0 100 50"><rect width="200" height="100" fill="#806020"/></svg>
    <symbol id="s" viewBox="0 0 10 10"><path d="M0 0 L10 0 L5 10 Z" fill="#008080"/></symbol><use href="#s" x="28" y="3" width="9" height="9"/>"##;

#[rstest]
#[case::shapes_and_strokes(SHAPES)]
#[case::clips_and_copies(CLIPS)]
#[case::tints(TINTS)]
#[case::words(WORDS)]
#[case::nested(NESTED)]
fn a_drawing_is_what_a_general_renderer_shows(#[case] inside: &str) {
    let text = format!(
        r#"<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="25mm" viewBox="0 0 40 25">{inside}</svg>"#
    );
    let flat = svg(&text);
    assert_one_colour_each(&flat, 5e-3);
    // Rendered at 20 pixels to the mm, on white.
    const PER_MM: f64 = 20.0;
    let mut options = resvg::usvg::Options::default();
    let font = include_bytes!("../../fonts/DejaVuSans-Bold.ttf");
    options.fontdb_mut().load_font_data(font.to_vec());
    options.font_family = "DejaVu Sans".into();
    options.fontdb_mut().set_serif_family("DejaVu Sans");
    let tree = resvg::usvg::Tree::from_str(&text, &options).expect("a drawing");
    let (w, h) = ((40.0 * PER_MM) as u32, (25.0 * PER_MM) as u32);
    let mut pixels = resvg::tiny_skia::Pixmap::new(w, h).expect("a picture");
    pixels.fill(resvg::tiny_skia::Color::WHITE);
    let scale = (PER_MM * 25.4 / 96.0) as f32;
    let at = resvg::tiny_skia::Transform::from_scale(scale, scale);
    resvg::render(&tree, at, &mut pixels.as_mut());
    let mut differing = 0;
    for y in 0..h {
        for x in 0..w {
            let shown = pixels.pixel(x, y).expect("a pixel");
            let p = [
                (f64::from(x) + 0.5) / PER_MM,
                25.0 - (f64::from(y) + 0.5) / PER_MM,
            ];
            let own = flat.inks.iter().find(|i| i.area.holds(p));
            let own = own.map_or([255; 3], |i| i.colour.0);
            let shown = [shown.red(), shown.green(), shown.blue()];
            // Where an edge goes through a pixel the renderer mixes: half of such pixels' difference is the edge's place.
            let off = (0..3).map(|i| own[i].abs_diff(shown[i])).max().unwrap_or(0);
            differing += usize::from(off > 128);
        }
    }
    let share = f64::from(differing as u32) / f64::from(w * h);
    assert!(share < 0.005, "{:.2} % differ", 100.0 * share);
}

#[test]
fn a_gradient_is_its_mean_or_steps_of_it() {
    let text = r##"<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="10mm" viewBox="0 0 40 10">
        <defs><linearGradient id="g"><stop offset="0" stop-color="#000000"/><stop offset="1" stop-color="#ffffff"/></linearGradient>
        <radialGradient id="r"><stop offset="0" stop-color="#ff0000"/><stop offset="1" stop-color="#0000ff"/></radialGradient></defs>
        <rect width="30" height="10" fill="url(#g)"/><circle cx="35" cy="5" r="4" fill="url(#r)"/></svg>"##;
    let mean = svg(text);
    assert_eq!(mean.inks.len(), 2);
    // Half of the light.
    assert_eq!(mean.inks[0].colour, Colour::from_linear([0.5; 3]));
    let stepped = SvgOptions {
        steps: 4,
        ..SvgOptions::default()
    };
    let flat = read_svg(text.as_bytes(), &stepped, ON).expect("a drawing");
    assert_eq!(flat.inks.len(), 8);
    let grey = |i: &&varichrom_core::drawing::Ink| i.colour.0[0] == i.colour.0[2];
    for step in flat.inks.iter().filter(grey) {
        assert_relative_eq!(step.area.mm2(), 75.0, max_relative = 1e-4);
    }
    // Rings of equal width: 1, 3, 5 and 7 sixteenths of the disc.
    let mut rings: Vec<f64> = flat
        .inks
        .iter()
        .filter(|i| !grey(i))
        .map(|i| i.area.mm2() / PI)
        .collect();
    rings.sort_by(f64::total_cmp);
    for (ring, wanted) in rings.iter().zip([1.0, 3.0, 5.0, 7.0]) {
        assert_relative_eq!(*ring, wanted, max_relative = 2e-3);
    }
}

#[rstest]
#[case::not_one(b"solid block", "drawing-unknown")]
#[case::cut_off(
    b"<svg xmlns='http://www.w3.org/2000/svg' width='4mm'><rect",
    "svg-broken"
)]
#[case::nothing_in_it(
    b"<svg xmlns='http://www.w3.org/2000/svg' width='40mm' height='4mm'/>",
    "drawing-empty"
)]
#[case::outside(b"<svg xmlns='http://www.w3.org/2000/svg' width='40mm' height='40mm'><rect x='900' y='900' width='5' height='5'/></svg>", "drawing-empty")]
#[case::no_size(b"<svg xmlns='http://www.w3.org/2000/svg' width='0' height='0'><rect width='5' height='5'/></svg>", "svg-broken")]
#[case::tiny(b"<svg xmlns='http://www.w3.org/2000/svg' width='0.02mm' height='0.02mm'><rect width='5' height='5'/></svg>", "drawing-size")]
#[case::huge(b"<svg xmlns='http://www.w3.org/2000/svg' width='900000mm' height='4mm'><rect width='5' height='5'/></svg>", "drawing-size")]
#[case::high(b"<svg xmlns='http://www.w3.org/2000/svg' width='10mm' height='90000mm'><rect width='5' height='5'/></svg>", "drawing-size")]
#[case::entities(b"<!DOCTYPE svg [<!ENTITY a 'aaaaaaaaaa'><!ENTITY b '&a;&a;&a;&a;&a;&a;&a;&a;'><!ENTITY c '&b;&b;&b;&b;&b;&b;&b;&b;'><!ENTITY d '&c;&c;&c;&c;&c;&c;&c;&c;'><!ENTITY e '&d;&d;&d;&d;&d;&d;&d;&d;'><!ENTITY f '&e;&e;&e;&e;&e;&e;&e;&e;'><!ENTITY g '&f;&f;&f;&f;&f;&f;&f;&f;'><!ENTITY h '&g;&g;&g;&g;&g;&g;&g;&g;'>]><svg xmlns='http://www.w3.org/2000/svg' width='4mm' height='4mm'><text>&h;&h;&h;&h;&h;&h;&h;&h;&h;&h;</text></svg>", "svg-broken")]
#[case::not_a_picture(b"\x89PNG\r\n\x1a\nnothing", "picture-broken")]
fn what_cannot_be_read_says_so(#[case] bytes: &[u8], #[case] code: &str) {
    let refused = read_drawing(bytes, &DrawingOptions::default(), ON).expect_err("no drawing");
    assert_eq!(refused.code, code, "{refused:?}");
    assert!(!refused.mend.is_empty());
}

#[test]
fn a_million_elements_and_a_picture_of_a_gigapixel_are_refused_quickly() {
    let many = "<g/>".repeat(1_000_000);
    let text =
        format!("<svg xmlns='http://www.w3.org/2000/svg' width='4mm' height='4mm'>{many}</svg>");
    let refused =
        read_drawing(text.as_bytes(), &DrawingOptions::default(), ON).expect_err("too many");
    assert_eq!(refused.code, "svg-too-large");
    // A copy of copies of copies.
    let mut copies = String::from("<g id='a0'><rect width='1' height='1'/></g>");
    for k in 1..9 {
        let of = format!("<use href='#a{}'/>", k - 1).repeat(10);
        copies.push_str(&format!("<g id='a{k}'>{of}</g>"));
    }
    let text =
        format!("<svg xmlns='http://www.w3.org/2000/svg' width='4mm' height='4mm'>{copies}</svg>");
    let refused =
        read_drawing(text.as_bytes(), &DrawingOptions::default(), ON).expect_err("too many");
    assert!(
        ["svg-too-large", "svg-broken"].contains(&refused.code.as_str()),
        "{refused:?}"
    );
    // The head of a picture is believed before any of it is unpacked.
    let mut bytes = png(&RgbaImage::from_pixel(4, 4, Rgba([9, 9, 9, 255])));
    bytes[16..20].copy_from_slice(&40_000u32.to_be_bytes());
    bytes[20..24].copy_from_slice(&40_000u32.to_be_bytes());
    let refused = read_drawing(&bytes, &DrawingOptions::default(), ON).expect_err("too large");
    assert!(refused.code.starts_with("picture-"), "{refused:?}");
}

#[test]
fn nothing_outside_is_ever_fetched_and_what_is_left_out_is_said() {
    let dir = tempfile::tempdir().expect("a folder");
    let inner = dir.path().join("inner.svg");
    std::fs::write(&inner, "<svg xmlns='http://www.w3.org/2000/svg' width='9' height='9'><rect width='9' height='9' fill='red'/></svg>").expect("written");
    let text = format!(
        r##"<svg xmlns="http://www.w3.org/2000/svg" width="100" height="50"><script>alert(1)</script>
        <image href="{}" width="50" height="50"/><image href="http://127.0.0.1:9/x.png" width="50" height="50"/>
        <filter id="f"><feGaussianBlur stdDeviation="2"/></filter>
        <rect width="20" height="20" fill="#123456" filter="url(#f)"/><text y="40" font-family="Elsewhere">A&#x1F3C6;</text></svg>"##,
        inner.display()
    );
    let flat = svg(&text);
    assert!(flat.inks.iter().all(|i| i.colour != Colour([255, 0, 0])));
    let told: Vec<&str> = flat.notes.iter().map(|n| n.message.as_str()).collect();
    let said = |what: &str| told.iter().any(|t| t.contains(what));
    for what in ["in pixels", "Filters", "Text is set in", "Some letters"] {
        assert!(said(what), "{what}: {told:?}");
    }
}

/// A picture of a disc and a ring on a field.
fn roundels() -> RgbaImage {
    RgbaImage::from_fn(400, 300, |x, y| {
        let r = f64::from(x).hypot(0.0) - 200.0;
        let d = r.hypot(f64::from(y) - 150.0);
        match d {
            d if d < 60.0 => Rgba([200, 60, 40, 255]),
            d if d < 100.0 => Rgba([240, 230, 210, 255]),
            _ => Rgba([30, 50, 80, 255]),
        }
    })
}

#[test]
fn traced_areas_are_those_of_the_counted_pixels() {
    let picture = roundels();
    let options = PictureOptions {
        width_mm: Some(80.0),
        ..PictureOptions::default()
    };
    let flat = read_picture(&png(&picture), &options, ON).expect("a picture");
    assert_eq!(flat.size_mm, [80.0, 60.0]);
    assert_eq!(flat.inks.len(), 3);
    for ink in &flat.inks {
        let [r, g, b] = ink.colour.0;
        let count = picture.pixels().filter(|p| p.0 == [r, g, b, 255]).count();
        let counted = count as f64 * 0.2 * 0.2;
        assert_relative_eq!(ink.area.mm2(), counted, max_relative = 2e-3);
    }
    assert_one_colour_each(&flat, 1e-9);
    // The corners of the page are corners.
    assert_relative_eq!(flat.section().mm2(), 4800.0, max_relative = 1e-9);
}

#[test]
fn a_picture_is_brought_to_the_colours_at_hand_and_may_be_taken_lighter() {
    let [soot, chalk, rust] = [[20, 20, 20], [250, 245, 235], [190, 50, 40]].map(Colour);
    let read = |palette: Vec<Colour>, brightness: f64, contrast: f64| {
        let options = PictureOptions {
            palette: Some(palette),
            brightness,
            contrast,
            ..PictureOptions::default()
        };
        read_picture(&png(&roundels()), &options, ON).expect("a picture")
    };
    let colours = |flat: &Flat| flat.inks.iter().map(|i| i.colour).collect::<Vec<_>>();
    // The field is dark blue: nearest to soot of the three.
    assert_eq!(
        colours(&read(vec![chalk, soot, rust], 0.0, 0.0)),
        [soot, chalk, rust]
    );
    assert_eq!(colours(&read(vec![chalk, soot], 0.0, 0.0)), [soot, chalk]);
    // So light that all of it is pale; so much contrast that nothing between is left.
    assert_eq!(colours(&read(vec![chalk, soot], 0.9, 0.0)), [chalk]);
    let harsh = read(vec![chalk, soot, Colour([128, 128, 128])], 0.0, 1.0);
    assert_eq!(colours(&harsh)[0], soot);
    // A drawing likewise, and what comes to be the same is one area.
    let drawn = svg(
        r##"<svg xmlns="http://www.w3.org/2000/svg" width="20mm" height="10mm" viewBox="0 0 20 10">
        <rect width="10" height="10" fill="#222"/><rect x="10" width="10" height="10" fill="#333"/></svg>"##,
    );
    let brought = drawn.brought_to(&[soot, chalk]);
    assert_eq!(colours(&brought), [soot]);
    assert_eq!(brought.inks[0].area.clone().islands().len(), 1);
}

#[test]
fn specks_are_given_to_what_is_around_them() {
    let mut picture = roundels();
    for k in 0..40 {
        picture.put_pixel(7 * k + 3, 11, Rgba([200, 60, 40, 255]));
    }
    let flat = read_picture(&png(&picture), &PictureOptions::default(), ON).expect("a picture");
    let red = flat
        .inks
        .iter()
        .find(|i| i.colour == Colour([200, 60, 40]))
        .expect("red");
    assert_eq!(red.area.clone().islands().len(), 1);
}

#[test]
fn colours_are_put_together_as_well_as_a_second_k_means_does_it() {
    // Three soft colours with noise, the same in every run.
    let mut state = 7u32;
    let mut noise = || {
        state = state.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
        (state >> 24) as i32 % 24 - 12
    };
    let soft = [[190, 70, 50], [60, 90, 140], [225, 215, 190], [40, 120, 70]];
    let picture = RgbaImage::from_fn(120, 80, |x, y| {
        let of: [i32; 3] = soft[((x / 30 + y / 40) % 4) as usize];
        let [r, g, b] = of.map(|c| (c + noise()).clamp(0, 255) as u8);
        Rgba([r, g, b, 255])
    });
    let options = PictureOptions {
        specks_mm2: 0.0,
        ..PictureOptions::default()
    };
    let flat = read_picture(&png(&picture), &options, ON).expect("a picture");
    let seen: Vec<palette::Lab> = picture
        .pixels()
        .map(|p| {
            let [r, g, b, _] = p.0;
            palette::IntoColor::into_color(palette::Srgb::new(r, g, b).into_format::<f32>())
        })
        .collect();
    let off = |centres: &[palette::Lab]| -> f64 {
        let far = |a: &palette::Lab, b: &palette::Lab| {
            f64::from((a.l - b.l).powi(2) + (a.a - b.a).powi(2) + (a.b - b.b).powi(2))
        };
        let nearest = |p: &palette::Lab| {
            centres
                .iter()
                .map(|c| far(p, c))
                .fold(f64::INFINITY, f64::min)
        };
        seen.iter().map(nearest).sum::<f64>() / seen.len() as f64
    };
    let second = kmeans_colors::get_kmeans_hamerly(4, 40, 1e-3, false, &seen, 3);
    let ours: Vec<palette::Lab> = flat
        .inks
        .iter()
        .map(|i| {
            let [r, g, b] = i.colour.0;
            palette::IntoColor::into_color(palette::Srgb::new(r, g, b).into_format::<f32>())
        })
        .collect();
    assert_eq!(ours.len(), 4);
    assert!(
        off(&ours) < 1.05 * off(&second.centroids),
        "{} for {}",
        off(&ours),
        off(&second.centroids)
    );
}

proptest! {
    #![proptest_config(cases(48))]

    /// However pixels lie, each place has one colour, and between them there is no gap.
    #[test]
    fn traced_borders_leave_neither_gap_nor_overlap(
        (w, h, cells) in (2usize..14, 2usize..14).prop_flat_map(|(w, h)| {
            (Just(w), Just(h), proptest::collection::vec(0u8..4, w * h))
        }),
        smooth in 0.0..4.0f64,
    ) {
        let tone = |n: u8| Rgba([60 * n, 255 - 60 * n, 40, 255]);
        let picture = RgbaImage::from_fn(w as u32, h as u32, |x, y| tone(cells[y as usize * w + x as usize]));
        let options = PictureOptions {
            width_mm: Some(w as f64),
            specks_mm2: 0.0,
            smooth_mm: smooth,
            ..PictureOptions::default()
        };
        let flat = read_picture(&png(&picture), &options, ON).expect("a picture");
        for (a, x) in flat.inks.iter().enumerate() {
            prop_assert!(!x.area.is_empty());
            for y in &flat.inks[a + 1..] {
                prop_assert!(x.area.and(&y.area).mm2() < 1e-9);
            }
        }
        let all = flat.section();
        prop_assert_eq!(all.rings().count(), 1, "a gap");
        let sum: f64 = flat.inks.iter().map(|i| i.area.mm2()).sum();
        prop_assert!((sum - all.mm2()).abs() < 1e-9);
        // Nothing is pulled away from its pixels: the middle of each is of its colour, or of a neighbour where borders were straightened.
        prop_assert!(sum > 0.9 * (w * h) as f64 - 2.0);
    }
}

#[test]
fn what_is_too_thin_is_found_where_it_is_and_thickened() {
    let flat = svg(
        r##"<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30">
        <rect width="40" height="30" fill="#eeeeee"/>
        <rect x="5" y="10" width="20" height="0.3" fill="#203550"/>
        <path d="M28 5 L36 5 L32 25 Z" fill="#c8442f"/></svg>"##,
    );
    let found = thin_places(&flat, 0.45);
    let bar = found
        .iter()
        .find(|p| flat.inks[p.ink].colour == Colour([0x20, 0x35, 0x50]))
        .expect("the bar");
    assert_relative_eq!(bar.width_mm, 0.3, epsilon = 0.02);
    assert!(
        (bar.at[1] - 19.85).abs() < 0.1 && bar.at[0] > 5.0 && bar.at[0] < 25.0,
        "{bar:?}"
    );
    assert_eq!(
        found
            .iter()
            .filter(|p| flat.inks[p.ink].colour == Colour([0xee; 3]))
            .count(),
        0
    );
    // Along a curve rounding leaves slivers that are nobody's fault; a hairline that stands alone is somebody's.
    let round = svg(
        r##"<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30">
        <rect width="40" height="20" fill="#203550"/><circle cx="20" cy="10" r="9" fill="#c8442f"/>
        <rect y="25" width="40" height="0.01" fill="#111111"/></svg>"##,
    );
    let found = thin_places(&round, 0.45);
    let colours: Vec<Colour> = found.iter().map(|p| round.inks[p.ink].colour).collect();
    assert_eq!(colours, [Colour([0x11; 3])], "{found:?}");
    let thick = thickened(flat.clone(), 0.45);
    assert_one_colour_each(&thick, 1e-3);
    assert_relative_eq!(
        thick.section().mm2(),
        flat.section().mm2(),
        max_relative = 1e-6
    );
    assert_relative_eq!(mm2(&thick, "#203550"), 20.15 * 0.45, max_relative = 0.02);
    let left = thin_places(&thick, 0.44);
    assert!(
        left.iter()
            .all(|p| thick.inks[p.ink].colour != Colour([0x20, 0x35, 0x50])),
        "{left:?}"
    );
}

/// Waves with round ends, as thin all along: their outline comes so near to itself that the search for its middle once gave up with a
/// panic.
#[test]
fn thin_waves_with_round_ends_are_found() {
    let flat = svg(
        r##"<svg xmlns="http://www.w3.org/2000/svg" width="72mm" height="44mm" viewBox="0 0 72 44">
        <path fill="#eee7d6" d="M3.6 4.8 L50 16.4 V27.6 L3.6 39.2 Z"/>
        <g fill="none" stroke="#203550" stroke-width="0.31" stroke-linecap="round">
        <path d="M33.5 20.2 q2.7 -3 5.4 0 t5.4 0"/><path d="M33.5 24.4 q2.7 -3 5.4 0 t5.4 0"/></g></svg>"##,
    );
    let found = thin_places(&flat, 0.45);
    assert_eq!(found.len(), 2, "{found:?}");
    for place in found {
        assert_relative_eq!(place.width_mm, 0.31, max_relative = 0.1);
    }
}

#[test]
fn colours_are_put_together_by_how_little_is_seen_of_it() {
    let text = r##"<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="10mm" viewBox="0 0 40 10">
        <rect width="20" height="10" fill="#203550"/><rect x="20" width="10" height="10" fill="#213651"/>
        <rect x="30" width="10" height="10" fill="#d8a030"/></svg>"##;
    let options = SvgOptions {
        colours: Some(2),
        ..SvgOptions::default()
    };
    let flat = read_svg(text.as_bytes(), &options, ON).expect("a drawing");
    assert_relative_eq!(mm2(&flat, "#203550"), 300.0, max_relative = 1e-9);
    assert_relative_eq!(mm2(&flat, "#d8a030"), 100.0, max_relative = 1e-9);
}

#[test]
fn a_map_of_thousands_of_shapes_is_laid_flat() {
    // Fields over fields over fields.
    let mut text = String::from(
        r##"<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="200mm" viewBox="0 0 200 200"><rect width="200" height="200" fill="#88aa66"/>"##,
    );
    for k in 0..2000u32 {
        let (x, y) = ((k * 37) % 193, (k * 71) % 191);
        let tone = 40 + (k % 5) * 40;
        text.push_str(&format!(
            r##"<circle cx="{x}" cy="{y}" r="{}" fill="#{tone:02x}40{tone:02x}"/>"##,
            1 + k % 6
        ));
    }
    text.push_str("</svg>");
    let flat = svg(&text);
    assert_eq!(flat.inks.len(), 6);
    assert_one_colour_each(&flat, 0.05);
    let all: Area = flat.section();
    assert_relative_eq!(all.mm2(), 40_000.0, max_relative = 1e-6);
}
