//! Print files from elsewhere on a job's printer: our own against their own plan, foreign ones with faults planted, and a strand against
//! the tools that it was made of.

use crate::judge::cases;
use crate::print_paths::Made;
use crate::rewriting::{PLAIN, SECTION_MM2, Style, foreign};
use approx::assert_relative_eq;
use proptest::prelude::*;
use rstest::rstest;
use std::collections::BTreeMap;
use varichrom_core::advice::load::Level;
use varichrom_core::handover::{FileReport, OpenedFile, RewriteAsked, opened_file, rewritten_for};
use varichrom_core::job::Job;
use varichrom_core::machine::{HandSwap, MachineKind, Printer};
use varichrom_demo::rack;

fn opened(job: &Job, text: &str, asked: &RewriteAsked) -> OpenedFile {
    opened_file((job, &rack()), None, text, (asked, &[])).expect("can be read")
}

/// A job without models on a printer with three spools of one plastic.
fn loaded(kind: MachineKind) -> Job {
    let spools = ["chalk", "rust-red", "ink-blue"].map(|s| Some(s.to_string()));
    Job {
        printer: Printer {
            kind,
            slots: 4,
            ..Printer::default()
        },
        slots: spools.into_iter().chain([None]).collect(),
        ..Job::default()
    }
}

fn finding<'a>(
    report: &'a FileReport,
    code: &str,
) -> Option<&'a varichrom_core::handover::FileFinding> {
    report.findings.iter().find(|f| f.code == code)
}

#[rstest]
#[case("Tide plaque", MachineKind::Feeder)]
#[case("Tide plaque", MachineKind::Tools)]
#[case::ends_with_a_layer_of_nothing("Pier light", MachineKind::Feeder)]
fn our_own_file_is_as_its_plan_says(#[case] name: &str, #[case] kind: MachineKind) {
    let made = Made::demo(name, kind);
    let files = made.files();
    let [file] = &files.files[..] else {
        panic!("one file");
    };
    let asked = RewriteAsked::default();
    let plan = Some(&made.plan);
    let found = opened_file((&made.job, &rack()), plan, &file.text, (&asked, &[]));
    let report = found.expect("our own").report;
    assert!(
        report.findings.iter().all(|f| f.level != Level::Wrong),
        "{:?}",
        report.findings
    );
    assert!(
        finding(&report, "as-planned").is_some(),
        "{:?}",
        report.findings
    );
    assert!(finding(&report, "changes-differ").is_none());
    assert_eq!(report.changes.len(), made.plan.swaps.len());
    assert_relative_eq!(report.time_s, file.pace.sum(), max_relative = 0.01);
    let grams: f64 = report.slots.iter().map(|s| s.grams).sum();
    let bill = &made.plan.bill;
    assert_relative_eq!(
        grams,
        bill.model_g + bill.purge_g + bill.tower_g,
        max_relative = 0.05
    );
    // Against the plan of another job it is not.
    let other = Made::demo("Signal tiles, set", kind);
    let found = opened_file(
        (&made.job, &rack()),
        Some(&other.plan),
        &file.text,
        (&asked, &[]),
    );
    let report = found.expect("our own").report;
    assert!(finding(&report, "as-planned").is_none());
    assert!(finding(&report, "layers-differ").is_some());
}

/// Text of a foreign file with three tools, and what is done to it.
fn with_fault(fault: &str) -> (Job, String) {
    let mut job = loaded(MachineKind::Feeder);
    let mut text = foreign(PLAIN, 4, 3);
    match fault {
        "hot" => text = text.replace("M109 S210", "M109 S265"),
        "cold" => text = text.replace("M109 S210", "M109 S170"),
        "off" => text = text.replace("G1 X", "G1 X1").replace("G0 X", "G0 X1"),
        "four" => text = foreign(PLAIN, 4, 4),
        "five" => text = foreign(PLAIN, 4, 5),
        "by-hand" => {
            job.printer.kind = MachineKind::ByHand {
                how: HandSwap::AtPause,
            }
        }
        "strand" => job.printer.kind = MachineKind::Splicer,
        "word" => text += "M9999 S1\n",
        "pause" => text += "M600\n",
        _ => {}
    }
    (job, text)
}

#[rstest]
#[case("none", None, Level::Fine)]
#[case("hot", Some("heat-off"), Level::Wrong)]
#[case("cold", Some("heat-off"), Level::Look)]
#[case("off", Some("file-harms"), Level::Wrong)]
#[case("four", Some("slot-empty"), Level::Look)]
#[case("five", Some("slots-beyond"), Level::Wrong)]
#[case("by-hand", Some("tools-called"), Level::Wrong)]
#[case("strand", Some("tools-called"), Level::Wrong)]
#[case("word", Some("words-unknown"), Level::Look)]
#[case("pause", Some("pauses-untold"), Level::Look)]
fn what_is_wrong_with_a_file_is_said(
    #[case] fault: &str,
    #[case] code: Option<&str>,
    #[case] level: Level,
) {
    let (job, text) = with_fault(fault);
    let report = opened(&job, &text, &RewriteAsked::default()).report;
    let said: Vec<(&str, Level)> = report.findings.iter().map(|f| (f.code, f.level)).collect();
    match code {
        Some(code) => assert!(said.contains(&(code, level)), "{said:?}"),
        // 10 mm of filament are too little for these colours on this printer.
        None => assert!(
            said.iter()
                .all(|(c, l)| *l == Level::Fine || *c == "purge-short")
        ),
    }
    assert!(
        report
            .findings
            .is_sorted_by_key(|f| [Level::Wrong, Level::Look, Level::Fine]
                .iter()
                .position(|l| *l == f.level)),
        "{said:?}"
    );
}

#[test]
fn a_spool_that_is_too_short_is_said() {
    let mut rack = rack();
    let chalk = rack.iter_mut().find(|s| s.id == "chalk").expect("there");
    chalk.left_g = 0.01;
    let job = loaded(MachineKind::Feeder);
    let asked = RewriteAsked::default();
    let text = foreign(PLAIN, 4, 3);
    let report = opened_file((&job, &rack), None, &text, (&asked, &[]));
    let report = report.expect("can be read").report;
    let short = finding(&report, "spool-short").expect("said");
    assert!(short.message.contains("Chalk PLA"), "{short:?}");
}

#[test]
fn slots_stand_for_tools_and_pauses() {
    let job = loaded(MachineKind::Feeder);
    let asked = RewriteAsked {
        tools: BTreeMap::from([(0, 3), (2, 1)]),
        ..RewriteAsked::default()
    };
    let report = opened(&job, &foreign(PLAIN, 2, 3), &asked).report;
    assert_eq!(report.layers[0].order, [3, 2, 1]);
    assert_eq!(report.layers[1].order, [1, 2, 3]);
    let changes: Vec<(usize, u8, u8)> = report
        .changes
        .iter()
        .map(|c| (c.layer, c.from, c.to))
        .collect();
    assert_eq!(changes, [(0, 3, 2), (0, 2, 1), (1, 1, 2), (1, 2, 3)]);
    // Each square is as much as the other, 80 mm of 0.4 by 0.2.
    let areas = &report.layers[0].areas_mm2;
    assert!(areas.values().all(|a| (a - 32.0).abs() < 0.01), "{areas:?}");
    // A pause belongs to the layer that goes on after it.
    let one = foreign(PLAIN, 3, 1);
    let at = one.find(" Z0.4").expect("a second layer");
    let line = one[..at].rfind('\n').expect("a line") + 1;
    let paused = format!("{}M600\n{}", &one[..line], &one[line..]);
    let turned = RewriteAsked {
        turns: vec![2],
        ..RewriteAsked::default()
    };
    let report = opened(&job, &paused, &turned).report;
    let orders: Vec<&[u8]> = report.layers.iter().map(|l| &l.order[..]).collect();
    assert_eq!(orders, [[1], [2], [2]]);
    assert_eq!(
        (report.changes[0].layer, report.pauses[0].layer),
        (1, Some(1))
    );
    assert!(report.changes[0].is_by_hand);
}

proptest! {
    #![proptest_config(cases(24))]

    /// Law: a file for one strand prints each layer from the slots that the tools stood for which it was made of.
    #[test]
    fn a_strand_prints_what_the_tools_did(layers in 1..6usize, tools in 2..4u32, pressed in 20.0..60.0f64) {
        let style = Style { pressed_mm: Some(pressed), ..PLAIN };
        let text = foreign(style, layers, tools);
        let asked = RewriteAsked::default();
        let tooled = opened(&loaded(MachineKind::Feeder), &text, &asked);
        let strand = loaded(MachineKind::Splicer);
        let made = rewritten_for((&strand, &rack()), None, std::slice::from_ref(&text), &asked).expect("certain");
        let splices: Vec<(u8, f64)> = made.splices.iter().map(|s| (s.slot, s.mm)).collect();
        let found = opened_file((&strand, &rack()), None, &made.text, (&asked, &splices)).expect("ours");
        let changes = |f: &OpenedFile| f.report.changes.iter().map(|c| (c.layer, c.from, c.to)).collect::<Vec<_>>();
        prop_assert_eq!(changes(&tooled), changes(&found));
        for (a, b) in tooled.report.layers.iter().zip(&found.report.layers) {
            prop_assert_eq!(&a.order, &b.order);
            for (slot, area) in &a.areas_mm2 {
                prop_assert!((area - b.areas_mm2[slot]).abs() < 1e-6 * area);
            }
        }
        // And where a person changes the spool, at the pauses that it was given.
        let hand = loaded(MachineKind::ByHand { how: HandSwap::AtPause });
        let made = rewritten_for((&hand, &rack()), None, std::slice::from_ref(&text), &asked).expect("certain");
        let told = RewriteAsked {
            tools: made.begins.into_iter().map(|slot| (0, slot)).collect(),
            turns: made.turns.clone(),
            ..RewriteAsked::default()
        };
        let paused = opened(&hand, &made.text, &told);
        prop_assert_eq!(changes(&tooled), changes(&paused));
        prop_assert!(paused.report.changes.iter().all(|c| c.is_by_hand));
        // The lengths are all that is fed.
        let fed: f64 = splices.iter().map(|(_, mm)| mm).sum();
        let squares = layers as f64 * f64::from(tools) * 80.0 * 0.4 * 0.2 / SECTION_MM2;
        prop_assert!(fed >= squares - 1e-3);
    }
}
