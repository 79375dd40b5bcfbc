//! Rehearsals: colours against the closed form of the tanks, print files of all kinds run through, and each trouble caught.

use crate::judge::cases;
use crate::print_paths::{Made, demo};
use approx::assert_relative_eq;
use proptest::prelude::*;
use rstest::rstest;
use std::sync::Arc;
use varichrom_core::colour::{Pigment, difference, mix};
use varichrom_core::handover::{
    PrintFiles, RewriteAsked, opened_file, rehearsal_setup, rehearsal_setup_of_file, slot_names,
    text_to_rehearse,
};
use varichrom_core::machine::{HandSwap, MachineKind, Printer};
use varichrom_core::rehearsal::{
    Answer, Held, Melt, Rehearsal, Setup, Status, Trouble, TroubleKind, Verdict,
};
use varichrom_core::rinse::MeltZone;
use varichrom_demo::rack;

fn pigment(hex: &str, tinting: f64) -> Pigment {
    Pigment {
        colour: hex.parse().expect("a colour"),
        tinting,
    }
}

proptest! {
    /// Law: what leaves the nozzle is the closed form of tanks in series (Levenspiel, ch. 14), however finely it is fed.
    #[test]
    fn what_leaves_the_nozzle_is_the_closed_form(
        tanks in 1..5u32, volume in 20.0..80.0f64, fed in 1.0..300.0f64, cuts in 1..40usize,
    ) {
        let zone = MeltZone { volume_mm3: volume, tanks };
        let sources = [pigment("#eee7d6", 1.0), pigment("#21364e", 1.2)];
        let mut melt = Melt::full_of(zone, &[(0, 1.0)], 2);
        for _ in 0..cuts {
            melt.feed(fed / cuts as f64, &[(1, 1.0)]);
        }
        let residual = zone.residual(fed);
        let due = mix(sources[0], sources[1], residual);
        // Stepped by a twentieth of a tank: within half a difference that anybody sees.
        prop_assert!(difference(melt.colour(&sources), due) < 0.5, "{residual}");
    }

    /// What is pulled back and given back leaves nothing behind and changes nothing.
    #[test]
    fn pulled_back_is_made_up_for(pull in 0.1..5.0f64, fed in 0.1..50.0f64) {
        let zone = MeltZone { volume_mm3: 48.0, tanks: 1 };
        let mut melt = Melt::full_of(zone, &[(0, 1.0)], 2);
        melt.pull(pull);
        prop_assert_eq!(melt.feed(pull, &[(1, 1.0)]), 0.0);
        prop_assert!((melt.feed(fed, &[(1, 1.0)]) - fed).abs() < 1e-9);
    }
}

struct Stage {
    made: Arc<Made>,
    files: Arc<PrintFiles>,
    text: String,
}

impl Stage {
    fn of(name: &str, kind: MachineKind) -> Stage {
        let made = Made::demo(name, kind);
        let files = made.files();
        let text = text_to_rehearse(&files, &slot_names(&made.job, &rack()));
        Stage { made, files, text }
    }

    fn rehearsal(&self, troubles: Vec<Trouble>) -> Rehearsal {
        Rehearsal::new(&self.text, self.setup(troubles)).expect("our own")
    }

    fn setup(&self, troubles: Vec<Trouble>) -> Setup {
        let job = (&self.made.job, &rack()[..]);
        rehearsal_setup(job, &self.made.plan, &self.files, troubles)
    }

    fn verdict(&self, troubles: Vec<Trouble>) -> Verdict {
        let mut rehearsal = self.rehearsal(troubles);
        rehearsal.run_through();
        rehearsal.verdict()
    }
}

const PASSES: MachineKind = MachineKind::ByHand {
    how: HandSwap::PassPerColour,
};
const BY_HAND: MachineKind = MachineKind::ByHand {
    how: HandSwap::AtPause,
};

#[rstest]
#[case("Tide plaque", MachineKind::Feeder)]
#[case("Tide plaque", MachineKind::Tools)]
#[case("Tide plaque", MachineKind::Splicer)]
#[case("Tide plaque", BY_HAND)]
#[case("Tide plaque", PASSES)]
#[case("Signal tiles, set", MachineKind::Feeder)]
#[case::begins_with_another_slot_than_the_first("Gull", MachineKind::Feeder)]
fn our_own_files_run_as_planned_without_a_stain(#[case] name: &str, #[case] kind: MachineKind) {
    let stage = Stage::of(name, kind);
    let verdict = stage.verdict(Vec::new());
    assert_eq!(verdict.touched, 0, "{verdict:?}");
    assert_eq!(verdict.swaps, verdict.swaps_planned, "{verdict:?}");
    assert_eq!(verdict.swaps_as_planned, verdict.swaps_planned);
    assert!(verdict.is_good, "{verdict:?}");
    assert_relative_eq!(verdict.time_s, verdict.planned_s, max_relative = 0.02);
    // Plastic that left the slots is that of the plan.
    let bill = &stage.made.plan.bill;
    let used: f64 = verdict.used_g.iter().sum();
    // All spools of the demo's plaque are PLA; what is pressed out by hand is not in the file.
    const G_PER_MM3: f64 = 1.24e-3;
    let hand_mm3 = stage.made.plan.swaps.iter().map(|s| s.split.hand_mm3);
    let by_hand = G_PER_MM3 * hand_mm3.sum::<f64>();
    assert_relative_eq!(
        used,
        bill.model_g + bill.purge_g + bill.tower_g - by_hand,
        max_relative = 0.05
    );
}

/// Of our own files nothing is believed but moves and words: rehearsed as anybody's, they come to the same.
#[rstest]
#[case(MachineKind::Feeder)]
#[case(MachineKind::Tools)]
#[case(MachineKind::Splicer)]
#[case(BY_HAND)]
fn a_file_from_elsewhere_is_rehearsed_by_its_moves_alone(#[case] kind: MachineKind) {
    let stage = Stage::of("Tide plaque", kind);
    let own = stage.verdict(Vec::new());
    let (job, rack) = (&stage.made.job, rack());
    let is_by_hand = job.printer.profile().is_by_hand;
    let swaps = &stage.made.plan.swaps;
    let asked = RewriteAsked {
        tools: swaps
            .first()
            .map(|s| (0, s.from))
            .filter(|_| is_by_hand)
            .into_iter()
            .collect(),
        turns: match is_by_hand {
            true => swaps.iter().map(|s| s.to).collect(),
            false => Vec::new(),
        },
        ..RewriteAsked::default()
    };
    let verdict = |text: &str| {
        let told = (&asked, &stage.files.strand[..]);
        let opened = opened_file((job, &rack), None, text, told).expect("our own");
        let setup = rehearsal_setup_of_file((job, &rack), &opened, told, Vec::new());
        let mut rehearsal = Rehearsal::new(text, setup).expect("our own");
        rehearsal.run_through();
        rehearsal.verdict()
    };
    let found = verdict(&stage.text);
    assert_eq!(found.touched, 0);
    assert_eq!(found.swaps, own.swaps);
    assert_eq!(found.swaps_as_planned, found.swaps_planned);
    assert!(found.is_good, "{found:?}");
    assert_eq!(found.ran_out, own.ran_out);
    for (a, b) in found.used_g.iter().zip(&own.used_g) {
        assert_relative_eq!(a, b, epsilon = 0.02);
    }
    if kind == MachineKind::Feeder {
        // Changed so that it presses nothing out: that shows, and where.
        let mut purges = false;
        let without: Vec<&str> = stage
            .text
            .lines()
            .filter(|line| {
                purges = match *line {
                    "; tower" => true,
                    l if l.starts_with(';') => false,
                    _ => purges,
                };
                !(purges && line.starts_with("G1 X"))
            })
            .collect();
        assert!(
            without.len() < stage.text.lines().count(),
            "nothing was taken out"
        );
        let stained = verdict(&(without.join("\n") + "\n"));
        assert!(stained.stained_layers > 0, "{stained:?}");
    }
}

#[rstest]
#[case(TroubleKind::RunOut)]
#[case(TroubleKind::Jam)]
#[case(TroubleKind::WrongSpool)]
#[case(TroubleKind::LostSteps)]
#[case(TroubleKind::PowerCut)]
fn each_trouble_is_caught(#[case] kind: TroubleKind) {
    let stage = Stage::of("Tide plaque", MachineKind::Feeder);
    let good = stage.verdict(Vec::new());
    assert!(good.is_good);
    let trouble = Trouble {
        kind,
        layer: 2,
        slot: None,
    };
    let mut rehearsal = stage.rehearsal(vec![trouble]);
    rehearsal.run_to(f64::INFINITY);
    match kind {
        TroubleKind::RunOut | TroubleKind::Jam => {
            let Status::Waits(stands) = rehearsal.status().clone() else {
                panic!("it should stand: {:?}", rehearsal.status());
            };
            assert!(!stands.is_planned);
            rehearsal.run_through();
        }
        TroubleKind::PowerCut => assert_eq!(*rehearsal.status(), Status::Dead),
        TroubleKind::WrongSpool | TroubleKind::LostSteps => {}
    }
    let verdict = rehearsal.verdict();
    match kind {
        TroubleKind::RunOut => {
            assert_eq!(verdict.ran_out.len(), 1);
            // Somebody came and put in a spool of the same.
            assert!(verdict.is_good && verdict.time_s > good.time_s);
        }
        TroubleKind::Jam => assert!(verdict.missing_mm > 10.0 && !verdict.is_good),
        TroubleKind::WrongSpool => {
            let worst = verdict.worst.expect("in sight");
            assert!(worst.delta_e > 10.0 && worst.layer >= 2, "{worst:?}");
            assert!(verdict.stained_layers > 0);
        }
        TroubleKind::LostSteps => assert!(verdict.aside_mm > 1.0 && !verdict.is_good),
        TroubleKind::PowerCut => assert!(!verdict.is_good && verdict.time_s < good.time_s),
    }
}

#[test]
fn too_little_purge_shows_and_says_where() {
    let stage = Stage::of("Pier light", MachineKind::Feeder);
    let clean = stage.verdict(Vec::new());
    assert_eq!(clean.stained_layers, 0, "{clean:?}");
    // The same file with the tower's purge taken out: lines of it are travelled instead of laid.
    let [[x0, y0], [x1, y1]] = stage.setup(Vec::new()).aside[0];
    let mut at = [0.0; 2];
    let word = |line: &str, letter: char| {
        line.split(' ')
            .find_map(|w| w.strip_prefix(letter)?.parse::<f64>().ok())
    };
    let lines = stage.text.lines().map(|line| {
        for (axis, letter) in ['X', 'Y'].into_iter().enumerate() {
            if let Some(mm) = word(line, letter).filter(|_| line.starts_with('G')) {
                at[axis] = mm;
            }
        }
        let is_tower = at[0] >= x0 && at[0] <= x1 && at[1] >= y0 && at[1] <= y1;
        match line
            .find(" E")
            .filter(|_| is_tower && line.starts_with("G1 X"))
        {
            Some(from) => line[..from].to_string(),
            None => line.to_string(),
        }
    });
    let text: String = lines.map(|l| l + "\n").collect();
    let mut rehearsal = Rehearsal::new(&text, stage.setup(Vec::new())).expect("words");
    rehearsal.run_through();
    let verdict = rehearsal.verdict();
    let worst = verdict.worst.expect("stains");
    assert!(
        worst.delta_e > 5.0 && verdict.stained_layers > 10,
        "{worst:?}"
    );
    assert!(!verdict.is_good);
}

#[test]
fn a_wrong_answer_at_a_pause_is_seen_and_stopping_stops() {
    let stage = Stage::of("Tide plaque", BY_HAND);
    let mut rehearsal = stage.rehearsal(Vec::new());
    rehearsal.run_to(f64::INFINITY);
    let Status::Waits(stands) = rehearsal.status().clone() else {
        panic!("a pause");
    };
    let asked = stands.slot.expect("a slot");
    rehearsal.answer(Answer::Use {
        slot: asked % 3 + 1,
    });
    rehearsal.run_to(f64::INFINITY);
    assert!(rehearsal.verdict().swaps_as_planned < rehearsal.verdict().swaps);
    rehearsal.answer(Answer::Stop);
    assert_eq!(*rehearsal.status(), Status::Stopped);
    let before = rehearsal.file_s();
    rehearsal.run_to(f64::INFINITY);
    assert_eq!(rehearsal.file_s(), before);
}

/// Run in bits it comes to the same as run at once.
#[test]
fn watching_changes_nothing() {
    let stage = Stage::of("Signal tiles, set", MachineKind::Feeder);
    let at_once = stage.verdict(Vec::new());
    let mut watched = stage.rehearsal(Vec::new());
    let mut s = 0.0;
    while *watched.status() == Status::Running {
        s += 17.3;
        watched.run_to(s);
    }
    assert_eq!(watched.verdict(), at_once);
}

/// A nozzle that mixes, with a feed that nothing is in: nothing is certain of its colours, and nothing breaks.
#[test]
fn a_mixing_nozzle_is_rehearsed_even_with_an_empty_feed() {
    let mixing = MachineKind::Mixing {
        feeds: 4,
        least_share: 0.05,
    };
    let mut job = demo("Tide plaque", mixing);
    job.feeds = vec![
        Some("chalk".into()),
        None,
        Some("ink-blue".into()),
        Some("rust-red".into()),
    ];
    let made = Made::of(job);
    let files = made.files();
    let text = text_to_rehearse(&files, &slot_names(&made.job, &rack()));
    let stage = Stage {
        made: Arc::new(made),
        files,
        text,
    };
    let verdict = stage.verdict(Vec::new());
    assert_eq!(verdict.swaps, verdict.swaps_planned, "{verdict:?}");
    assert_eq!(verdict.stained_layers, 0, "{verdict:?}");
    for kind in [TroubleKind::RunOut, TroubleKind::WrongSpool] {
        let mut rehearsal = stage.rehearsal(vec![Trouble {
            kind,
            layer: 1,
            slot: Some(0),
        }]);
        rehearsal.run_to(f64::INFINITY);
        rehearsal.answer(Answer::Use { slot: 200 });
        rehearsal.run_through();
        let _ = rehearsal.verdict();
    }
}

proptest! {
    #![proptest_config(cases(64))]

    /// Any text that can be read can be rehearsed, whatever goes wrong on the way.
    #[test]
    fn no_text_breaks_a_rehearsal(text in "([GMT][0-9]{1,3}|[XYZEF]-?[0-9]{1,3}|\n| ){0,120}", layer in 0..3usize, slot in any::<u8>()) {
        let kinds = [TroubleKind::RunOut, TroubleKind::Jam, TroubleKind::WrongSpool, TroubleKind::LostSteps];
        let troubles = kinds.map(|kind| Trouble { kind, layer, slot: Some(slot) });
        let printer = Printer::default();
        let held = Held {
            name: "anything".into(),
            pigment: pigment("#c7452f", 1.0),
            left_mm3: Some(50.0),
            section_mm2: 2.4,
            g_per_mm3: 1.24e-3,
        };
        let slots = vec![held; usize::from(printer.slots)];
        let setup = Setup {
            places: vec![1],
            swaps: vec![2, 1],
            troubles: troubles.to_vec(),
            ..Setup::of(printer, slots)
        };
        if let Ok(mut rehearsal) = Rehearsal::new(&text, setup) {
            rehearsal.run_through();
            let _ = rehearsal.in_nozzle();
            let _ = rehearsal.verdict();
        }
    }
}
