//! What hangs beside the nozzle, and what stands on the bed: files in which it would be hit.

use rstest::rstest;
use std::fmt::Write;
use varichrom_core::colour::Pigment;
use varichrom_core::gcode::{Allowed, Standing, check_written};
use varichrom_core::machine::Printer;
use varichrom_core::rehearsal::{Held, Rehearsal, Setup};

/// A file that lays a square of 10 mm from the bed up to a height, its front left corner at 80, 80, and then a line on the bed as far
/// to the right of it as told, between lifts.
fn beside(high_mm: f64, off_mm: f64) -> String {
    let mut text = "G21\nG90\nM83\nG28\nM109 S210\nG0 X80 Y80 Z5\n".to_string();
    let layers = (high_mm / 0.2).round() as usize;
    for layer in 1..=layers {
        let z = 0.2 * layer as f64;
        writeln!(text, "G0 X80 Y80 Z{z:.2}").expect("text");
        for (x, y) in [(90, 80), (90, 90), (80, 90), (80, 80)] {
            writeln!(text, "G1 X{x} Y{y} E0.3 F1800").expect("text");
        }
    }
    let (up, x) = (high_mm + 60.0, 90.0 + off_mm);
    writeln!(
        text,
        "G0 Z{up}\nG0 X{x} Y80\nG0 Z0.2\nG1 Y90 E0.3\nG0 Z{up}"
    )
    .expect("text");
    text
}

fn looked_over(text: &str, printer: &Printer) -> Result<(), String> {
    let allowed = Allowed {
        printer,
        hottest_c: 260.0,
    };
    check_written(text, &allowed, &mut Standing::default()).map_err(|p| {
        assert_eq!(p.code, "print-refused");
        p.message
    })
}

#[rstest]
// 12 mm stand higher than the head hangs, 8 mm: it reaches 35 mm.
#[case::the_head_beside_it(12.0, 20.0, Some("the head"))]
#[case::the_head_just_beside_it(12.0, 33.0, Some("the head"))]
#[case::further_than_it_reaches(12.0, 38.0, None)]
// 5 mm stand higher than the duct, 2 mm, that reaches 10 mm.
#[case::the_duct(5.0, 8.0, Some("the duct"))]
#[case::beside_the_duct(5.0, 13.0, None)]
#[case::lower_than_all_of_it(1.8, 3.0, None)]
#[case::the_rails_however_far(45.0, 110.0, Some("a rail"))]
#[case::below_the_rails(39.0, 110.0, None)]
fn what_hangs_beside_the_nozzle_hits_what_stands_or_not(
    #[case] high_mm: f64,
    #[case] off_mm: f64,
    #[case] hit: Option<&str>,
) {
    let printer = Printer::default();
    let text = beside(high_mm, off_mm);
    let found = looked_over(&text, &printer);
    match hit {
        Some(what) => {
            let message = found.expect_err("hits");
            assert!(message.contains(what), "{message}");
        }
        None => found.expect("misses"),
    }
    // A rehearsal comes to the same.
    let held = Held {
        name: "anything".into(),
        pigment: Pigment {
            colour: "#c7452f".parse().expect("a colour"),
            tinting: 1.0,
        },
        left_mm3: None,
        section_mm2: 2.4,
        g_per_mm3: 1.24e-3,
    };
    let setup = Setup::of(printer.clone(), vec![held]);
    let mut rehearsal = Rehearsal::new(&text, setup).expect("read");
    rehearsal.run_through();
    assert_eq!(rehearsal.verdict().touched > 0, hit.is_some());
    // A printer with nothing beside its nozzle hits nothing.
    let bare = Printer {
        duct_radius_mm: 0.0,
        head_radius_mm: 0.0,
        rails_above_mm: 240.0,
        ..printer
    };
    looked_over(&text, &bare).expect("nothing hangs there");
}

/// Straight down onto what stands, or beside it: no move goes along there.
#[rstest]
#[case::onto_it("85", "85", 5.0, Some("The nozzle"))]
#[case::beside_it("93", "85", 0.2, Some("the duct"))]
#[case::far_off("200", "85", 0.2, None)]
fn down_is_a_way_too(
    #[case] x: &str,
    #[case] y: &str,
    #[case] z_mm: f64,
    #[case] hit: Option<&str>,
) {
    let up = beside(12.0, 120.0);
    let text = format!("{up}G0 X{x} Y{y}\nG0 Z{z_mm}\nG0 Z80\n");
    let filled = text.replace(
        "G0 X80 Y80 Z12.00",
        "G1 X80 Y80 Z12.00\nG1 X90 Y90 E0.5\nG0 X80 Y80",
    );
    let found = looked_over(&filled, &Printer::default());
    match hit {
        Some(what) => {
            let message = found.expect_err("hits");
            assert!(message.contains(what), "{message}");
        }
        None => found.expect("misses"),
    }
}

#[test]
fn while_a_print_grows_evenly_nothing_hangs_too_low() {
    // Two squares side by side, layer by layer: each is higher than the other by a layer at most.
    let mut text = "G21\nG90\nM83\nG28\nM109 S210\n".to_string();
    for layer in 1..=100 {
        let z = 0.2 * f64::from(layer);
        for x in [80, 95] {
            writeln!(text, "G0 X{x} Y80 Z{:.2}\nG0 Z{z:.2}", z + 0.4).expect("text");
            writeln!(text, "G1 X{} E0.3 F1800\nG0 Z{:.2}", x + 10, z + 0.4).expect("text");
        }
    }
    looked_over(&text, &Printer::default()).expect("sound");
}
