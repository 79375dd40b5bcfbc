//! Sliced files put right: whatever a file's style, the beads stay the same, and only what was asked for differs.

use crate::judge::cases;
use crate::print_paths::Made;
use approx::assert_relative_eq;
use proptest::prelude::*;
use rstest::rstest;
use std::collections::BTreeMap;
use std::f64::consts::PI;
use std::fmt::Write;
use varichrom_core::gcode::{
    Rewritten, Told, Wanted, joined, read, rest_of, rewritten, sliced, summary,
};
use varichrom_core::machine::{HandSwap, MachineKind, Printer};
use varichrom_core::paths::Step;

/// Filament of one square, mm.
const SQUARE_MM: f64 = 80.0 * 0.4 * 0.2 / SECTION_MM2;

pub(crate) const SECTION_MM2: f64 = 0.25 * PI * 1.75 * 1.75;

/// How a file is written.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Style {
    pub(crate) feeds_relative: bool,
    pub(crate) is_relative: bool,
    pub(crate) in_inches: bool,
    pub(crate) numbered: bool,
    /// Filament pressed out at each change, mm; none lays it beside the print.
    pub(crate) pressed_mm: Option<f64>,
}

pub(crate) const PLAIN: Style = Style {
    feeds_relative: true,
    is_relative: false,
    in_inches: false,
    numbered: false,
    pressed_mm: Some(10.0),
};

/// A writer of a file in a style.
struct Foreign {
    style: Style,
    text: String,
    at: [f64; 3],
    fed: f64,
    line: usize,
}

impl Foreign {
    fn say(&mut self, words: &str) {
        self.line += 1;
        let line = match self.style.numbered {
            true => format!("N{} {words}", self.line),
            false => words.to_string(),
        };
        match self.style.numbered {
            true => {
                let sum = line.bytes().fold(0u8, |sum, b| sum ^ b);
                writeln!(self.text, "{line}*{sum}").expect("a text");
            }
            false => writeln!(self.text, "{line}").expect("a text"),
        }
    }

    fn go(&mut self, to: [f64; 3], feed_mm: f64) {
        let unit = if self.style.in_inches { 25.4 } else { 1.0 };
        let mut words = if feed_mm > 0.0 { "G1" } else { "G0" }.to_string();
        for (axis, letter) in ["X", "Y", "Z"].iter().enumerate() {
            if (to[axis] - self.at[axis]).abs() > 1e-9 {
                let value = match self.style.is_relative {
                    true => to[axis] - self.at[axis],
                    false => to[axis],
                };
                write!(words, " {letter}{:.6}", value / unit).expect("a text");
            }
        }
        if feed_mm != 0.0 {
            self.fed += feed_mm;
            let value = match self.style.feeds_relative {
                true => feed_mm,
                false => self.fed,
            };
            write!(words, " E{:.6}", value / unit).expect("a text");
        }
        self.at = to;
        self.say(&words);
    }
}

/// Squares of 20 mm, one on the other, each slot one of its own in every layer, as another program might have sliced it.
pub(crate) fn foreign(style: Style, layers: usize, tools: u32) -> String {
    let mut f = Foreign {
        style,
        text: String::from("; made by nobody\n"),
        at: [0.0; 3],
        fed: 0.0,
        line: 0,
    };
    f.say(if style.in_inches { "G20" } else { "G21" });
    f.say("G28");
    f.say(if style.is_relative { "G91" } else { "G90" });
    f.say(if style.feeds_relative { "M83" } else { "M82" });
    f.say("M109 S210");
    f.say("G1 F1800");
    for layer in 0..layers {
        let z = 0.2 * (layer + 1) as f64;
        for turn in 0..tools {
            let tool = if layer % 2 == 0 {
                turn
            } else {
                tools - 1 - turn
            };
            let is_change = turn > 0 || layer == 0;
            if is_change && tools > 1 {
                f.say(&format!("T{tool}"));
                if let Some(mm) = style.pressed_mm.filter(|_| turn > 0 || layer == 0) {
                    f.go([5.0, 5.0, z], 0.0);
                    f.go([5.0, 5.0, z], mm);
                }
            }
            let x = 40.0 + 25.0 * f64::from(tool);
            f.go([x, 50.0, z], 0.0);
            for [dx, dy] in [[20.0, 0.0], [20.0, 20.0], [0.0, 20.0], [0.0, 0.0]] {
                f.go([x + dx, 50.0 + dy, z], 20.0 * 0.4 * 0.2 / SECTION_MM2);
            }
        }
    }
    f.text
}

fn printer(kind: MachineKind) -> Printer {
    Printer {
        kind,
        slots: 4,
        ..Printer::default()
    }
}

const BY_HAND: MachineKind = MachineKind::ByHand {
    how: HandSwap::AtPause,
};

fn names() -> Vec<String> {
    ["Chalk", "Rust-red", "Ink-blue", "Amber"]
        .map(String::from)
        .to_vec()
}

fn wanted<'a>(printer: &'a Printer, names: &'a [String]) -> Wanted<'a> {
    Wanted {
        printer,
        names,
        section_mm2: SECTION_MM2,
        tools: BTreeMap::new(),
        turns: Vec::new(),
        changes: Vec::new(),
        purge_mm3: None,
    }
}

fn told(text: &str) -> Vec<Told> {
    read(text)
        .expect("sound")
        .into_iter()
        .map(|l| l.told)
        .collect()
}

/// What each tool lays, in order, with what is pressed out standing.
fn laid(text: &str) -> Vec<(u8, f64)> {
    let file = sliced(text, SECTION_MM2, &Printer::default()).expect("sound");
    let mut tool = 0;
    let mut runs: Vec<(u8, f64)> = Vec::new();
    for step in &file.steps {
        match step {
            Step::Select { tool: next } => tool = *next,
            Step::Lay { mm3, .. } => match runs.last_mut().filter(|r| r.0 == tool) {
                Some(run) => run.1 += mm3,
                None => runs.push((tool, *mm3)),
            },
            _ => {}
        }
    }
    runs
}

fn styles() -> impl Strategy<Value = Style> {
    let pressed = prop_oneof![Just(None), (3.0..40.0f64).prop_map(Some)];
    (any::<[bool; 4]>(), pressed).prop_map(|(is, pressed_mm)| Style {
        feeds_relative: is[0] || is[1],
        is_relative: is[1],
        in_inches: is[2],
        numbered: is[3],
        pressed_mm,
    })
}

proptest! {
    #![proptest_config(cases(48))]

    /// Law: whatever is asked for, beads stay, and what is not named stays byte for byte.
    #[test]
    fn beads_stay_whatever_the_style(style in styles(), layers in 2..6usize, kind in 0..4usize, at in 1..2usize) {
        let kind = [MachineKind::Feeder, MachineKind::Tools, MachineKind::Splicer, BY_HAND][kind];
        let (printer, names) = (printer(kind), names());
        let text = foreign(style, layers, 4);
        let mut asked = wanted(&printer, &names);
        asked.tools = BTreeMap::from([(0, 2), (1, 1)]);
        // Where press and square together are too short for a joint, a strand is refused.
        if kind == MachineKind::Splicer && style.pressed_mm.is_none_or(|mm| mm + SQUARE_MM < 20.0) {
            prop_assert_eq!(rewritten(&text, &asked).map(|_| ()).expect_err("short").code, "rewrite-refused");
            return Ok(());
        }
        let found = rewritten(&text, &asked).expect("certain");
        let (was, now) = (laid(&text), laid(&found.text));
        let sum = |runs: &[(u8, f64)]| runs.iter().map(|r| r.1).sum::<f64>();
        prop_assert!((sum(&was) - sum(&now)).abs() < 1e-3);
        if kind == MachineKind::Feeder {
            let slots = |t: u8| if t < 2 { 1 - t } else { t };
            let is_same = was.iter().zip(&now).all(|(a, b)| slots(a.0) == b.0 && (a.1 - b.1).abs() < 1e-3);
            prop_assert!(was.len() == now.len() && is_same);
        }
        // Lines that are not told of are there as they were.
        let changed: Vec<usize> = found.differences.iter().filter(|d| d.was.is_some()).map(|d| d.line).collect();
        let kept: Vec<&str> = text.lines().enumerate().filter(|(i, _)| !changed.contains(&(i + 1))).map(|(_, l)| l).collect();
        let mut rest = found.text.lines();
        for line in kept {
            prop_assert!(rest.any(|l| l == line), "{line}");
        }
        // A change at a layer.
        let mut asked = wanted(&printer, &names);
        asked.changes = vec![(at, 3)];
        let single = foreign(style, layers, 1);
        if kind != MachineKind::Splicer {
            let found = rewritten(&single, &asked).expect("certain");
            prop_assert_eq!(found.differences.len(), 1);
            let beads = |text: &str| laid(text).iter().map(|r| r.1).sum::<f64>();
            prop_assert!((beads(&single) - beads(&found.text)).abs() < 1e-3);
        }
    }
}

#[test]
fn four_tools_become_a_strand_of_the_lengths_that_are_fed() {
    let (printer, names) = (printer(MachineKind::Splicer), names());
    let style = Style {
        pressed_mm: Some(30.0),
        feeds_relative: false,
        ..PLAIN
    };
    let text = foreign(style, 3, 4);
    let found = rewritten(&text, &wanted(&printer, &names)).expect("certain");
    assert!(!found.text.lines().any(|l| l.starts_with('T')));
    // By another way: filament between the words of the file as it was.
    let mut lengths: Vec<(u32, f64)> = Vec::new();
    let mut tool = 0;
    for t in told(&text) {
        match t {
            Told::Select(next) => tool = next,
            Told::Move { feed_mm, .. } => match lengths.last_mut().filter(|l| l.0 == tool) {
                Some(last) => last.1 += feed_mm,
                None if feed_mm != 0.0 => lengths.push((tool, feed_mm)),
                None => {}
            },
            _ => {}
        }
    }
    assert_eq!(lengths.len(), 10);
    assert_eq!(found.splices.len(), lengths.len());
    for (splice, (tool, mm)) in found.splices.iter().zip(&lengths) {
        assert_eq!(u32::from(splice.slot), tool + 1);
        assert_relative_eq!(splice.mm, mm, epsilon = 1e-4);
    }
}

#[rstest]
fn tools_become_pauses_that_name_the_spool(#[values(true, false)] feeds_relative: bool) {
    let (printer, names) = (printer(BY_HAND), names());
    let style = Style {
        feeds_relative,
        ..PLAIN
    };
    let text = foreign(style, 2, 3);
    let found = rewritten(&text, &wanted(&printer, &names)).expect("certain");
    let file = summary(&found.text, 1.75).expect("sound");
    let texts: Vec<&str> = file.pauses.iter().map(|p| p.text.as_str()).collect();
    // Red and blue in the first layer, blue stays, red and chalk in the second.
    assert_eq!(
        texts,
        [
            "Put in Rust-red",
            "Put in Ink-blue",
            "Put in Rust-red",
            "Put in Chalk"
        ]
    );
    assert!(file.changes.is_empty());
    // At each pause the nozzle is off the print and above it.
    let mut at = [0.0; 3];
    for t in told(&found.text) {
        match t {
            Told::Move { to, .. } => at = to,
            // The squares lie between 50 and 70 mm.
            Told::Pause(_) => assert!(at[2] > 2.0 && at[1] < 45.0, "{at:?}"),
            _ => {}
        }
    }
}

#[rstest]
#[case(true, 10.0)]
#[case(false, 10.0)]
#[case(false, 45.0)]
fn purge_that_is_pressed_out_becomes_what_is_needed(#[case] feeds_relative: bool, #[case] mm: f64) {
    let (printer, names) = (printer(MachineKind::Feeder), names());
    let style = Style {
        feeds_relative,
        pressed_mm: Some(mm),
        ..PLAIN
    };
    let text = foreign(style, 3, 2);
    let mut asked = wanted(&printer, &names);
    asked.purge_mm3 = Some(BTreeMap::from([((1, 2), 60.0), ((2, 1), 144.0)]));
    let found = rewritten(&text, &asked).expect("certain");
    let purges: Vec<f64> = summary(&found.text, 1.75)
        .expect("sound")
        .changes
        .iter()
        .map(|c| c.purge_mm3)
        .collect();
    for (purge, due) in purges.iter().zip([60.0, 144.0, 60.0]) {
        assert_relative_eq!(*purge, due, epsilon = 1e-3);
    }
    // What is laid into a tower stays, and is said.
    let laid = foreign(
        Style {
            pressed_mm: None,
            ..style
        },
        3,
        2,
    );
    let found = rewritten(&laid, &asked).expect("certain");
    assert!(found.differences.is_empty());
    assert_eq!(found.left.len(), 3);
}

#[test]
fn pauses_of_the_file_say_what_is_put_in() {
    let (printer, names) = (printer(BY_HAND), names());
    let text = "G28\nG90\nM83\nM104 S210\nG1 X10 Y10 Z0.2 F3000\nG1 X20 E1\nM600\nG1 X10 E1\nM0 anything\nG1 X20 E1\n";
    let mut asked = wanted(&printer, &names);
    let left = rewritten(text, &asked).expect("certain").left;
    assert_eq!(left.len(), 2, "{left:?}");
    asked.turns = vec![2, 4];
    let found = rewritten(text, &asked).expect("certain");
    let pauses = summary(&found.text, 1.75).expect("sound").pauses;
    assert_eq!(
        pauses.iter().map(|p| p.text.as_str()).collect::<Vec<_>>(),
        ["Put in Rust-red", "Put in Amber"]
    );
    assert!(found.text.contains("\nM0 Put in Amber\n") && found.left.is_empty());
    // A check sum counts the letters of its line: that stays as it is, and the maker is told.
    let summed = text.replace("M0 anything\n", "N7 M0 anything*41\n");
    let found = rewritten(&summed, &asked).expect("certain");
    assert!(found.text.contains("\nN7 M0 anything*41\n"));
    assert!(found.left[0].contains("anything"), "{:?}", found.left);
}

#[test]
fn passes_are_joined_bead_by_bead_or_refused_where_the_nozzle_would_meet_what_stands() {
    let made = Made::demo(
        "Tide plaque",
        MachineKind::ByHand {
            how: HandSwap::PassPerColour,
        },
    );
    let files = made.files().files.clone();
    assert!(files.len() > 1, "passes");
    let names = names();
    let printer = Printer {
        kind: BY_HAND,
        slots: 4,
        ..made.job.printer.clone()
    };
    let wanted = wanted(&printer, &names);
    let parts: Vec<(&str, u8)> = files
        .iter()
        .map(|f| (f.text.as_str(), f.slot.expect("of a pass")))
        .collect();
    let all: Rewritten = joined(&parts, &wanted).expect("sound");
    let beads = |text: &str| -> Vec<[f64; 2]> {
        let file = sliced(text, SECTION_MM2, &printer).expect("sound");
        let laid = file.steps.iter().filter_map(|s| match s {
            Step::Lay { to, .. } => Some(*to),
            _ => None,
        });
        laid.collect()
    };
    let apart: Vec<[f64; 2]> = parts.iter().flat_map(|(text, _)| beads(text)).collect();
    assert_eq!(beads(&all.text), apart);
    assert_eq!(
        summary(&all.text, 1.75).expect("sound").pauses.len(),
        files.len() - 1
    );
    // A second pass without its ways up runs into the first.
    let low = made.plan.layers[0].z1_mm;
    let low: String = parts[1]
        .0
        .lines()
        .map(|line| match line.starts_with("G0 Z") {
            true => format!("G0 Z{low}\n"),
            false => format!("{line}\n"),
        })
        .collect();
    let hit = joined(&[parts[0], (&low, parts[1].1)], &wanted).expect_err("hits");
    assert!(
        ["print-refused", "rewrite-refused"].contains(&hit.code.as_str()),
        "{hit}"
    );
}

#[rstest]
#[case("T9\nG1 X1 E1\n", "tool 9")]
#[case("G1 X1 Y1 Z0.2 E1\n", "layer 8")]
#[case("T0\nG1 X1 E1\nT1 X2 G0\nG1 X9 E1\n", "line 3")]
fn what_is_not_certain_is_refused_with_its_place(#[case] text: &str, #[case] place: &str) {
    let (printer, names) = (printer(BY_HAND), names());
    let mut asked = wanted(&printer, &names);
    if place.starts_with("layer") {
        asked.changes = vec![(7, 2)];
    }
    let refused = rewritten(text, &asked).expect_err("uncertain");
    assert_eq!(refused.code, "rewrite-refused");
    let at = refused.place.expect("a place");
    assert!(at == place, "{at}");
}

/// All beads of a text: where they end, and how much filament they take.
fn all_beads(text: &str) -> Vec<([f64; 3], f64)> {
    let laid = told(text).into_iter().filter_map(|t| match t {
        Told::Move { to, feed_mm, .. } if t.lays() => Some((to, feed_mm)),
        _ => None,
    });
    laid.collect()
}

/// Between two lines that tell a machine something, others may say how numbers are meant.
#[test]
fn a_change_put_in_after_lines_that_only_say_how_numbers_are_meant_leaves_all_where_it_was() {
    let (printer, names) = (printer(BY_HAND), names());
    let text = "G28\nG90\nM83\nM104 S210\nG0 X10 Y10 Z0.2 F3000\nG1 X20 E1\nG0 X10 Z0.4\nG91\nG1 X10 E1\nG1 X-10 E1\n";
    let asked = Wanted {
        changes: vec![(1, 2)],
        ..wanted(&printer, &names)
    };
    let found = rewritten(text, &asked).expect("certain");
    assert_eq!(all_beads(&found.text), all_beads(text));
    for line in 1..text.lines().count() {
        let rest = rest_of(text, line, &printer, false).expect("something is left");
        let all = all_beads(text);
        let after = all_beads(&rest);
        assert_eq!(
            after[..],
            all[all.len() - after.len()..],
            "from line {line}"
        );
    }
}

proptest! {
    #![proptest_config(cases(48))]

    /// Law: the rest of a file lays just what the file would have laid from there on, whatever its style.
    #[test]
    fn the_rest_of_a_file_lays_what_is_left(style in styles(), share in 0.05..0.95f64, is_lost in any::<bool>()) {
        let printer = printer(MachineKind::Feeder);
        let text = foreign(style, 4, 3);
        let line = (share * text.lines().count() as f64) as usize;
        let rest = rest_of(&text, line, &printer, is_lost).expect("something is left");
        let head: String = text.lines().take(line - 1).map(|l| format!("{l}\n")).collect();
        let (all, before, after) = (all_beads(&text), all_beads(&head), all_beads(&rest));
        prop_assert_eq!(all.len(), before.len() + after.len());
        // Where the height is lost, the nozzle stands on the print when the file is told how high that is: all is counted from there.
        let low = if is_lost { all[before.len()].0[2] - after[0].0[2] } else { 0.0 };
        let after = after.into_iter().map(|([x, y, z], mm)| ([x, y, z + low], mm));
        for (a, b) in all[before.len()..].iter().zip(after) {
            prop_assert!((0..3).all(|i| (a.0[i] - b.0[i]).abs() < 1e-5) && (a.1 - b.1).abs() < 1e-4, "{a:?} {b:?}");
        }
        prop_assert_eq!(rest.contains("G92 Z"), is_lost);
    }
}

proptest! {
    /// Any text is read or refused, never more.
    #[test]
    fn no_text_breaks_the_reader(text in "[GMTXYZEFIJRSPN0-9 .+;()*\n-]{0,200}") {
        if let Ok(file) = sliced(&text, SECTION_MM2, &Printer::default()) {
            let _ = file.summary(SECTION_MM2, &Printer::default());
        }
        let (printer, names) = (printer(BY_HAND), names());
        let _ = rewritten(&text, &wanted(&printer, &names));
    }
}
