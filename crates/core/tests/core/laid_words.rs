//! Words laid on models and as relief, and colours that blend from corner to corner.

use crate::carving::assert_same_shape;
use crate::jobs_of::job_of;
use crate::laid_jobs::*;
use rstest::rstest;
use varichrom_core::carve::refined;
use varichrom_core::drawing::{DrawingSource, Laying, Words};
use varichrom_core::job::{Edit, PartEdit, Relief};

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

#[rstest]
fn a_single_letter_that_hangs_over_an_edge_is_refused() {
    let (table, mut history) = job(&block());
    let stamp = |text: &str| {
        // Laid so that the middle is near the right edge: the last letter is beyond it.
        let words = Words::plain(text, 8.0);
        let wide = words.flat(None).expect("set").size_mm[0];
        Edit::Part(PartEdit::Stamp {
            at: crate::jobs_of::at("it", [1.0, 1.0, 20.0], [0.0, 0.0, 1.0]),
            drawing: DrawingSource::Words { words },
            laying: flat([40.0 - 0.3 * wide, 15.0, 20.0], [0.0, 0.0, 1.0]),
            regions: vec![Some("r1".into())],
            relief: Relief::Raised { mm: 1.0 },
        })
    };
    let refused = history
        .apply(stamp("I I I I I"), &table)
        .expect_err("hangs");
    assert_eq!(refused.code, "relief-hangs", "{refused}");
    assert!(refused.message.contains("Of the 5 pieces"), "{refused}");
    // One that is held by most of itself stands.
    history.apply(stamp("M"), &table).expect("stands");
}
