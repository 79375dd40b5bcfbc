//! Print files as they are written: read back, looked over, altered so that they would do harm; and what settings do to them.

use crate::print_paths::{Made, demo};
use approx::assert_relative_eq;
use proptest::prelude::*;
use rstest::rstest;
use std::collections::BTreeSet;
use varichrom_core::Problem;
use varichrom_core::gcode::{Allowed, Standing, Told, check_written, read, sliced, summary};
use varichrom_core::handover::{MovesOf, PrintFiles, moves_bytes};
use varichrom_core::machine::{
    HandSwap, MachineKind, PrintSettingKind, Printer, ReadySet, file_stem, print_settings,
    with_habit,
};
use varichrom_core::paths::Step;
use varichrom_core::rinse::FILAMENT_MM2;

fn looked_over(files: &PrintFiles, printer: &Printer, texts: &[String]) -> Result<(), Problem> {
    assert_eq!(files.files.len(), texts.len());
    let allowed = Allowed {
        printer,
        hottest_c: 260.0,
    };
    let mut standing = Standing::default();
    texts
        .iter()
        .try_for_each(|text| check_written(text, &allowed, &mut standing))
}

#[rstest]
#[case("Tide plaque", MachineKind::Feeder)]
#[case("Signal tiles", MachineKind::Tools)]
#[case("Compass-rose", MachineKind::ByHand { how: HandSwap::AtPause })]
fn a_file_read_back_goes_where_the_steps_go_and_feeds_what_they_feed(
    #[case] name: &str,
    #[case] kind: MachineKind,
) {
    let made = Made::demo(name, kind);
    for file in &made.files().files {
        let moves = file.steps.iter().filter_map(|s| match s {
            Step::Lay { to, .. } | Step::Travel { to, .. } => Some(*to),
            _ => None,
        });
        let lines = read(&file.text).expect("our own");
        let told = lines.iter().filter_map(|l| match l.told {
            Told::Move { to, .. } => Some(to),
            _ => None,
        });
        // Places as they change, so that moves up and down and of filament alone do not count.
        let mut places: Vec<[f64; 2]> = told.map(|to| [to[0], to[1]]).collect();
        places.dedup();
        let mut steps: Vec<[f64; 2]> = moves
            .map(|to| to.map(|c| (1e3 * c).round() / 1e3))
            .collect();
        steps.dedup();
        // Before the first move it is where it woke up.
        let from = places.iter().position(|p| *p == steps[0]).expect("begins");
        assert_eq!(places[from..].len(), steps.len());
        for (a, b) in places[from..].iter().zip(&steps) {
            assert!((a[0] - b[0]).abs() < 1e-9 && (a[1] - b[1]).abs() < 1e-9);
        }
        let fed: f64 = lines
            .iter()
            .map(|l| match l.told {
                Told::Move { feed_mm, .. } => feed_mm,
                _ => 0.0,
            })
            .sum();
        // All spools of the demo are of one strength.
        const SECTION_MM2: f64 = std::f64::consts::PI / 4.0 * 1.75 * 1.75;
        let mut due = 0.0;
        for step in &file.steps {
            match step {
                Step::Lay { mm3, .. } | Step::Press { mm3, .. } => due += mm3 / SECTION_MM2,
                Step::Pull { mm, .. } => due -= mm,
                Step::Push { mm, .. } => due += mm,
                _ => {}
            }
        }
        assert_relative_eq!(fed, due, epsilon = 2e-5);
    }
}

#[rstest]
#[case("M0")]
#[case("M600")]
#[case("M25")]
#[case("PAUSE")]
fn whatever_the_pause_word_a_file_by_hand_is_written_and_its_pauses_are_read(#[case] word: &str) {
    let mut job = demo(
        "Tide plaque",
        MachineKind::ByHand {
            how: HandSwap::AtPause,
        },
    );
    job.printer.printing.pause_word = word.into();
    let made = Made::of(job);
    let files = made.files();
    let text = &files.files[0].text;
    let file = sliced(text, FILAMENT_MM2, &made.job.printer).expect("our own");
    let asked = file.steps.iter().filter_map(|s| match s {
        Step::Prompt { words, .. } => Some(words.as_str()),
        _ => None,
    });
    let asked: Vec<&str> = asked.collect();
    assert_eq!(asked.len(), made.plan.swaps.len());
    assert!(asked.iter().all(|w| w.starts_with("Load ")), "{asked:?}");
}

/// Faults planted in a sound file, each of which would harm a printer or a print.
#[rstest]
#[case::cold("M109", "; M109", "cold")]
#[case::never_homed("G28", "; G28", "knows where it is")]
#[case::too_hot("M109 S", "M109 S9", "hotter")]
#[case::off_the_bed("G0 X", "G0 X-", "off the bed")]
#[case::above_the_machine("G0 Z", "G0 Z99", "off the bed")]
#[case::below_the_bed("G0 Z", "G0 Z-", "off the bed")]
#[case::an_arc_that_is_none("G0 X", "G2 X", "arc")]
#[case::off_the_bed_behind_another_code("G0 X", "G90 G0 X-", "off the bed")]
#[case::off_the_bed_by_the_way_of_going_so_far("G0 X", "X-", "off the bed")]
#[case::half_a_word("G1 X", "G1 X E", "no number")]
fn planted_faults_are_refused(#[case] word: &str, #[case] planted: &str, #[case] why: &str) {
    let made = Made::demo("Signal tiles", MachineKind::Feeder);
    let files = made.files();
    let texts: Vec<String> = files.files.iter().map(|f| f.text.clone()).collect();
    looked_over(&files, &made.job.printer, &texts).expect("sound as it is");
    // All of them, since a single one may be made up for by the next.
    let altered: Vec<String> = texts.iter().map(|t| t.replace(word, planted)).collect();
    let refused = looked_over(&files, &made.job.printer, &altered).expect_err(planted);
    assert!(refused.message.contains(why), "{}", refused.message);
    let place = refused.place.expect("a place");
    assert!(place.starts_with("line "), "{place}");
}

#[test]
fn a_pass_that_does_not_rise_above_what_stands_is_refused() {
    let kind = MachineKind::ByHand {
        how: HandSwap::PassPerColour,
    };
    let made = Made::demo("Tide plaque", kind);
    let files = made.files();
    assert!(files.files.len() > 1, "several passes");
    let mut texts: Vec<String> = files.files.iter().map(|f| f.text.clone()).collect();
    looked_over(&files, &made.job.printer, &texts).expect("sound as it is");
    // Without its ways up the second pass stays where the first layer of it is.
    let low = made.plan.layers[0].z1_mm;
    let second = texts[1].lines().map(|line| match line.starts_with("G0 Z") {
        true => format!("G0 Z{low}"),
        false => line.to_string(),
    });
    texts[1] = second.collect::<Vec<_>>().join("\n");
    let refused = looked_over(&files, &made.job.printer, &texts).expect_err("low");
    assert!(
        refused.message.contains("through what stands"),
        "{}",
        refused.message
    );
    // Nor may a pass look for its height where the first one stands.
    let mut texts: Vec<String> = files.files.iter().map(|f| f.text.clone()).collect();
    texts[1] = texts[1].replace("G28 X Y", "G28");
    let refused = looked_over(&files, &made.job.printer, &texts).expect_err("homes");
    assert!(
        refused.message.contains("look for its height"),
        "{}",
        refused.message
    );
}

#[test]
fn own_lines_are_put_in_with_their_values_and_nothing_is_taken_for_granted_after_them() {
    let mut job = demo("Tide plaque", MachineKind::Feeder);
    let passages = &mut job.printer.printing.passages;
    passages.start = "; {spool} at {nozzle_c} on {bed_c}".into();
    passages.layer = "M117 {layer} of {layers} at {z}".into();
    passages.swap = "G0 X1 Y1 Z60\n; from {from_slot} to {slot}, tool {tool}".into();
    passages.end = "M300".into();
    let made = Made::of(job);
    let files = made.files();
    let text = &files.files[0].text;
    let layers = made.plan.layers.len();
    assert!(
        text.contains(&format!("M117 1 of {layers} at 0.24")),
        "layer"
    );
    assert_eq!(text.matches("M117 ").count(), layers);
    assert!(text.contains("at 205 on 60"), "start");
    let swap = &made.plan.swaps[0];
    let said = format!("; from {} to {}, tool {}", swap.from, swap.to, swap.to - 1);
    assert!(text.contains(&said), "{said}");
    // After a passage the units are set again, and the next move goes to a height first.
    let after = text.split("; from ").nth(1).expect("a swap");
    let rest: Vec<&str> = after.lines().skip(1).take(4).collect();
    assert_eq!(rest[..3], ["G21", "G90", "M83"]);
    assert!(
        rest[3].starts_with("G1 E") || rest[3].starts_with("G0 Z"),
        "{rest:?}"
    );
}

#[rstest]
#[case("M117 {nobody}", "{nobody}")]
#[case("G1 X{", "{")]
#[case("ok\nG1 X}", "}")]
fn values_that_nobody_knows_are_refused_with_their_place(#[case] text: &str, #[case] what: &str) {
    let mut printer = Printer::default();
    printer.printing.passages.layer = text.into();
    let refused = printer.check().expect_err("unknown");
    assert!(refused.message.contains(what), "{}", refused.message);
    let place = refused.place.expect("a place");
    assert!(place.starts_with("passages.layer, line"), "{place}");
}

#[test]
fn moves_come_to_the_plastic_that_was_planned() {
    for name in ["Pier light", "Tide plaque"] {
        let made = Made::demo(name, MachineKind::Feeder);
        let files = made.files();
        let figure = |of| *files.figures.iter().find(|f| f.of == of).expect("there");
        for of in [MovesOf::Model, MovesOf::Purge] {
            let f = figure(of);
            // What is laid around the first layer is in the moves alone.
            let extra = if of == MovesOf::Purge { 0.3 } else { 0.0 };
            let planned = f.planned.expect("planned");
            assert!(
                f.moves > 0.97 * planned && f.moves < 1.03 * planned + extra,
                "{name}: {} g of {planned} g",
                f.moves
            );
        }
        let parts = [
            MovesOf::Laying,
            MovesOf::Swaps,
            MovesOf::Travel,
            MovesOf::Start,
        ];
        let sum: f64 = parts.map(|of| figure(of).moves).iter().sum();
        assert_relative_eq!(sum, figure(MovesOf::Time).moves, max_relative = 1e-12);
        let by_files: f64 = files.files.iter().map(|f| f.pace.sum()).sum();
        assert_relative_eq!(sum, by_files, max_relative = 1e-9);
        let bytes = moves_bytes(&files);
        let u32_at = |at: usize| u32::from_le_bytes(bytes[at..at + 4].try_into().expect("four"));
        assert_eq!(&bytes[..4], b"VCV1");
        let (count, layers) = (u32_at(8) as usize, u32_at(12) as usize);
        assert_eq!(layers, made.plan.layers.len());
        assert_eq!(bytes.len(), 20 + 20 * layers + 22 * count);
    }
}

#[test]
fn every_setting_of_the_table_is_a_field_and_keeps_within_its_range() {
    let usual = Printer::default();
    let mut fields = BTreeSet::new();
    for setting in print_settings() {
        assert!(fields.insert(setting.field), "{} twice", setting.field);
        let value = setting.value(&usual);
        assert!(
            !value.is_null() || setting.field == "printing.bed_c",
            "{}",
            setting.field
        );
        let same = setting.set(&usual, value.clone()).expect("its own value");
        assert_eq!(same, usual, "{}", setting.field);
        assert!(setting.does.ends_with('.') && setting.costs.ends_with('.'));
        if let PrintSettingKind::Number { least, most, .. } = setting.kind {
            let value = value.as_f64().unwrap_or(60.0);
            assert!((least..=most).contains(&value), "{}", setting.field);
            let beyond = setting.set(&usual, (2.0 * most + 1.0).round().into());
            let refused = beyond.and_then(|p| p.check());
            assert!(refused.is_err(), "{} has no end", setting.field);
        }
    }
    assert_eq!(ReadySet::Standard.of(&usual), usual);
    for set in ReadySet::ALL {
        for nozzle_mm in [0.25, 0.4, 0.8] {
            let printer = Printer {
                nozzle_mm,
                ..Printer::default()
            };
            let made = set.of(&printer);
            made.check().expect("sound");
            // Once taken, it has nothing more to change.
            assert_eq!(set.of(&made), made);
            assert_eq!(with_habit(&printer, &made), made);
        }
    }
}

#[rstest]
#[case(true)]
#[case(false)]
fn travel_without_pulling_back_stays_over_what_is_printed(#[case] stays: bool) {
    let mut job = demo("Compass-rose", MachineKind::Feeder);
    job.printer.printing.stays_inside = stays;
    let made = Made::of(job);
    let faces = made.planner.faces(&made.job.claims()).expect("surveyed");
    let sections: Vec<_> = faces.iter().map(|f| f.section.offset(-0.05)).collect();
    let files = made.files();
    let short = made.job.printer.printing.short_travel_mm;
    let (mut at, mut layer, mut pulled, mut inside) = ([0.0; 2], None, true, 0);
    for step in &files.files[0].steps {
        match step {
            Step::Layer { index, .. } => layer = Some(*index),
            Step::Pull { .. } => pulled = true,
            Step::Push { .. } => pulled = false,
            Step::Lay { to, .. } => at = *to,
            Step::Travel { to, .. } => {
                let on_print =
                    |t: f64| [0, 1].map(|i| at[i] + t * (to[i] - at[i]) - files.shift[i]);
                let length = (to[0] - at[0]).hypot(to[1] - at[1]);
                if let Some(layer) = layer.filter(|_| !pulled && length > short) {
                    inside += 1;
                    for step in 0..=20 {
                        let p = on_print(f64::from(step) / 20.0);
                        assert!(sections[layer].holds(p), "layer {layer}: {p:?}");
                    }
                }
                at = *to;
            }
            _ => {}
        }
    }
    assert_eq!(inside > 100, stays, "{inside} ways inside");
}

#[test]
fn a_spool_put_in_on_the_way_is_asked_for_and_its_place_is_the_tool() {
    let mut job = demo("Pier light", MachineKind::Feeder);
    job.printer.holds = 3;
    let made = Made::of(job);
    assert!(!made.plan.reloads.is_empty(), "fewer places than colours");
    let files = made.files();
    let text = &files.files[0].text;
    for reload in &made.plan.reloads {
        assert!(text.contains(&format!("into place {} instead of", reload.place)));
    }
    let tools: BTreeSet<u32> = read(text)
        .expect("our own")
        .iter()
        .filter_map(|l| match l.told {
            Told::Select(tool) => Some(tool),
            _ => None,
        })
        .collect();
    assert!(tools.iter().all(|t| *t < 3), "{tools:?}");
    let asked = files.files[0]
        .steps
        .iter()
        .filter(|s| matches!(s, Step::Prompt { .. }));
    assert_eq!(asked.count(), made.plan.reloads.len());
}

#[rstest]
#[case("Pier light", MachineKind::Feeder)]
#[case("Tide plaque", MachineKind::Feeder)]
#[case("Tide plaque", MachineKind::ByHand { how: HandSwap::AtPause })]
fn what_a_file_holds_is_read_from_its_moves_alone(#[case] name: &str, #[case] kind: MachineKind) {
    let made = Made::demo(name, kind);
    let files = made.files();
    // Without a single comment.
    let bare: Vec<&str> = files.files[0]
        .text
        .lines()
        .map(|l| l.split(';').next().unwrap_or(""))
        .collect();
    let found = summary(&bare.join("\n"), 1.75).expect("our own");
    // The very tip of the pier light is narrower than any bead.
    let (layers, planned) = (found.layers.len(), made.plan.layers.len());
    assert!(
        (planned - 1..=planned).contains(&layers),
        "{layers} of {planned}"
    );
    for layer in &found.layers {
        let mut all = made.plan.layers.iter();
        assert!(
            all.any(|p| (layer.z_mm - p.z1_mm).abs() < 2e-3),
            "{} mm",
            layer.z_mm
        );
    }
    assert!(found.unknown_words.is_empty(), "{:?}", found.unknown_words);
    let fed: f64 = found.tools.values().map(|t| t.mm3).sum();
    let steps = files.files[0].steps.iter();
    let laid: f64 = steps
        .map(|s| match s {
            Step::Lay { mm3, .. } | Step::Press { mm3, .. } => *mm3,
            _ => 0.0,
        })
        .sum();
    // Up to what is pulled back in the end.
    let fed_short = made.job.printer.printing.retract_mm * 2.41;
    assert!(
        (fed + fed_short - laid).abs() < 0.1 || (fed - laid).abs() < 0.1,
        "{fed} of {laid} mm³"
    );
    match kind {
        MachineKind::Feeder => {
            assert_eq!(found.changes.len(), made.plan.swaps.len());
            for (change, swap) in found.changes.iter().zip(&made.plan.swaps) {
                assert_eq!((change.from + 1, change.to + 1), (swap.from, swap.to));
                let due = swap.split.tower_mm3;
                assert!(
                    (change.purge_mm3 - due).abs() < 0.02 * due + 2.5,
                    "{} of {due}",
                    change.purge_mm3
                );
            }
        }
        _ => {
            assert_eq!(found.pauses.len(), made.plan.swaps.len());
            assert!(found.pauses.iter().all(|p| p.text.starts_with("Load ")));
        }
    }
    let pace = files.files[0].pace;
    // Without the start, which a file does not tell.
    let moving = pace.moving_s
        + pace.heating_s
        + if matches!(kind, MachineKind::Feeder) {
            pace.changing_s
        } else {
            0.0
        };
    assert_relative_eq!(found.time_s, moving, max_relative = 0.02);
}

proptest! {
    /// Law: whatever a pattern and what stands for its values hold, a name is one that every file system takes.
    #[test]
    fn names_of_print_files_are_names(pattern in "[a-zA-Z0-9 ./{}\\\\-]{1,60}|\\{job\\}.*", job in ".{0,40}") {
        let name = file_stem(&pattern, &|_| job.clone());
        prop_assert!(!name.is_empty() && name.len() <= 100);
        prop_assert!(name.chars().all(|c| c.is_ascii_alphanumeric() || "-_.".contains(c)), "{name}");
        prop_assert!(name.starts_with(|c: char| c.is_ascii_alphanumeric()));
        prop_assert!(!name.ends_with(['.', '-']));
    }
}

#[rstest]
#[case("{job}-{date}", true)]
#[case("plain", true)]
#[case("", false)]
#[case("{spool}", false)]
#[case("{job", false)]
fn a_pattern_of_names_is_checked(#[case] pattern: &str, #[case] is_fine: bool) {
    let mut printer = Printer::default();
    printer.printing.file_name = pattern.into();
    let found = printer.check();
    assert_eq!(found.is_ok(), is_fine);
    if let Err(problem) = found {
        assert_eq!(problem.code, "file-name-unusable");
    }
}
