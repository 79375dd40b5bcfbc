//! Shades by stacking: the order against every order there is, bodies by volume, and a wedge that is read back.

use image::{GrayImage, ImageFormat, Luma};
use rstest::rstest;
use std::io::Cursor;
use varichrom_core::colour::{Colour, Hiding, difference};
use varichrom_core::drawing::{
    StackSpool, Stacking, WedgeStep, best_stack, calibrated, stacked, wedge,
};

fn spool(name: &str, colour: [u8; 3], opacity: f64) -> StackSpool {
    StackSpool {
        name: name.into(),
        colour: Colour(colour),
        opacity,
    }
}

fn stacking(spools: Vec<StackSpool>, most_layers: u32) -> Stacking {
    Stacking {
        spools,
        in_order: false,
        first_layer_mm: 0.2,
        layer_mm: 0.08,
        base_layers: 3,
        most_layers,
    }
}

fn three() -> Vec<StackSpool> {
    vec![
        spool("Chalk", [235, 232, 225], 0.72),
        spool("Ink", [24, 26, 34], 0.93),
        spool("Brick", [168, 62, 44], 0.8),
    ]
}

/// Every order and every number of layers, by the public laws of layers alone.
fn brute_force(wanted: &[([f64; 3], f64)], of: &Stacking) -> f64 {
    fn go(
        wanted: &[([f64; 3], f64)],
        of: &Stacking,
        used: &[usize],
        (top, layers): ([f64; 3], u32),
        seen: &[[f64; 3]],
        best: &mut f64,
    ) {
        if used.len() == of.spools.len() {
            let whole: f64 = wanted.iter().map(|w| w.1).sum();
            let far = |c: [f64; 3]| {
                seen.iter()
                    .map(|s| difference(c, *s))
                    .fold(f64::INFINITY, f64::min)
            };
            let cost = wanted.iter().map(|(c, w)| w * far(*c)).sum::<f64>() / whole;
            *best = best.min(cost);
            return;
        }
        for (next, spool) in of.spools.iter().enumerate() {
            if used.contains(&next) {
                continue;
            }
            let hides = Hiding {
                colour: spool.colour,
                opacity: spool.opacity,
            };
            let mut used = used.to_vec();
            used.push(next);
            let mut seen = seen.to_vec();
            if used.len() == 1 {
                let mm = of.first_layer_mm + f64::from(of.base_layers - 1) * of.layer_mm;
                let top = hides.over(top, mm);
                seen.push(top);
                go(wanted, of, &used, (top, 0), &seen, best);
                continue;
            }
            let (mut top, mut layers) = (top, layers);
            while layers < of.most_layers {
                top = hides.over(top, of.layer_mm);
                layers += 1;
                seen.push(top);
                go(wanted, of, &used, (top, layers), &seen, best);
            }
        }
    }
    let mut best = f64::INFINITY;
    // A table of which a fifth of the light comes back.
    go(wanted, of, &[], ([0.2; 3], 0), &[], &mut best);
    best
}

#[rstest]
#[case::two(2, 6)]
#[case::three(3, 5)]
fn the_order_is_the_best_there_is(#[case] spools: usize, #[case] layers: u32) {
    let wanted: Vec<([f64; 3], f64)> = [
        ([230, 225, 215], 5.0),
        ([150, 120, 110], 2.0),
        ([90, 40, 36], 3.0),
        ([40, 40, 46], 1.0),
        ([170, 70, 50], 2.5),
    ]
    .map(|(c, w)| (Colour(c).linear(), w))
    .to_vec();
    let of = stacking(three()[..spools].to_vec(), layers);
    let found = best_stack(&wanted, &of);
    let wanted_cost = brute_force(&wanted, &of);
    assert!(
        (found.mean - wanted_cost).abs() < 1e-9,
        "{} instead of {wanted_cost}",
        found.mean
    );
    // One swap less than spools, each at one height.
    assert_eq!(found.order.len(), spools);
    assert!(found.tops.is_sorted_by(|a, b| a < b), "{:?}", found.tops);
    // In a given order it is no better.
    for order in [[0, 1, 2], [2, 1, 0], [1, 0, 2]] {
        if order.iter().any(|n| *n >= spools) {
            continue;
        }
        let fixed = Stacking {
            in_order: true,
            spools: order.map(|n| of.spools[n].clone()).to_vec(),
            ..of.clone()
        };
        assert!(best_stack(&wanted, &fixed).mean >= found.mean - 1e-9);
    }
}

/// A ramp from black to white, 64 by 16 pixels.
fn ramp() -> Vec<u8> {
    let picture = GrayImage::from_fn(64, 16, |x, _| Luma([(x * 255 / 63) as u8]));
    let mut out = Cursor::new(Vec::new());
    picture
        .write_to(&mut out, ImageFormat::Png)
        .expect("written");
    out.into_inner()
}

#[rstest]
fn a_ramp_in_two_spools_has_more_tones_than_spools() {
    let of = stacking(
        vec![
            spool("Ink", [24, 26, 34], 0.95),
            spool("Chalk", [235, 232, 225], 0.7),
        ],
        10,
    );
    let found = stacked(&ramp(), Some(64.0), 0.0, &of, &|_| true).expect("stacked");
    let used = found.areas.iter().filter(|a| a.mm2() > 1.0).count();
    assert!(used > 4, "{used} tones");
    // Together they cover the picture once.
    let covered: f64 = found.areas.iter().map(|a| a.mm2()).sum();
    assert!((covered - 64.0 * 16.0).abs() < 1e-3 * covered, "{covered}");
    let bodies = found.bodies(&of);
    let mut volume = 0.0;
    for body in &bodies {
        assert!(body.is_closed(), "{} is open", body.name);
        volume += body.volume_mm3();
    }
    let tops = found
        .stack
        .tones
        .iter()
        .map(|t| 0.2 + f64::from(t.layers - 1) * 0.08);
    let wanted: f64 = tops.zip(&found.areas).map(|(top, a)| top * a.mm2()).sum();
    assert!(
        (volume - wanted).abs() < 1e-3 * wanted,
        "{volume} instead of {wanted}"
    );
    // No spool comes twice on the way up.
    let mut last = 0.0;
    for spool in &found.stack.order {
        let colour = of.spools[*spool].colour;
        let own: Vec<_> = bodies.iter().filter(|b| b.colour == colour).collect();
        assert!(own.iter().all(|b| b.span_mm[0] >= last - 1e-9));
        last = own.iter().map(|b| b.span_mm[1]).fold(last, f64::max);
    }
    // What is predicted differs from what is wanted by what is said.
    let pairs = found.wanted.iter().zip(&found.predicted);
    let far: Vec<f64> = pairs
        .map(|(a, b)| difference(a.linear(), b.linear()))
        .collect();
    let mean = far.iter().sum::<f64>() / far.len() as f64;
    assert!(
        (mean - found.mean_difference).abs() < 0.5,
        "{mean} and {}",
        found.mean_difference
    );
    // Only two tones of plain spools would be further off.
    let plain = |c: &Colour| {
        let of = of
            .spools
            .iter()
            .map(|s| difference(c.linear(), s.colour.linear()));
        of.fold(f64::INFINITY, f64::min)
    };
    let two = found.wanted.iter().map(plain).sum::<f64>() / found.wanted.len() as f64;
    assert!(
        found.mean_difference < 0.6 * two,
        "{} and {two}",
        found.mean_difference
    );
}

#[rstest]
#[case::clear(0.3)]
#[case::usual(0.85)]
#[case::dense(0.995)]
fn a_wedge_gives_the_opacity_it_was_printed_with(#[case] opacity: f64) {
    let (ground, thick) = (Colour([30, 30, 34]), Colour([226, 180, 60]));
    let hides = Hiding {
        colour: thick,
        opacity,
    };
    let step = |layers: u32| {
        let mm = f64::from(layers) * 0.08;
        let colour = Colour::from_linear(hides.over(ground.linear(), mm));
        WedgeStep { layers, colour }
    };
    let mut steps = vec![WedgeStep {
        layers: 0,
        colour: ground,
    }];
    steps.extend((1..=8).map(step));
    let found = calibrated(thick, 0.08, &steps).expect("read");
    // Colours are read as bytes.
    assert!(found.mean_difference < 0.5, "{found:?}");
    assert!((found.opacity - opacity).abs() < 0.02, "{found:?}");
    assert_eq!(
        calibrated(thick, 0.08, &steps[..2])
            .expect_err("too few")
            .code,
        "wedge-steps"
    );
    assert_eq!(
        calibrated(thick, 0.08, &steps[1..])
            .expect_err("no base")
            .code,
        "wedge-steps"
    );
}

#[rstest]
fn a_wedge_is_a_stair_of_one_spool_on_another() {
    let of = stacking(three()[..2].to_vec(), 8);
    let bodies = wedge(&of).expect("made");
    assert!(bodies.iter().all(|b| b.is_closed()));
    // Base of 9 steps of 12 by 12 mm, then 8, 7 … 1 steps of one layer.
    let volume: f64 = bodies.iter().map(|b| b.volume_mm3()).sum();
    let wanted = 144.0 * (9.0 * 0.36 + 36.0 * 0.08);
    assert!(
        (volume - wanted).abs() < 1e-6 * wanted,
        "{volume} instead of {wanted}"
    );
    assert_eq!(
        wedge(&stacking(three(), 8)).expect_err("three").code,
        "stack-spools"
    );
}

#[rstest]
#[case::one_spool(|s: &mut Stacking| s.spools.truncate(1), "stack-spools")]
#[case::thick(|s: &mut Stacking| s.layer_mm = 3.0, "stack-out-of-range")]
#[case::no_number(|s: &mut Stacking| s.first_layer_mm = f64::NAN, "stack-out-of-range")]
#[case::no_base(|s: &mut Stacking| s.base_layers = 0, "stack-out-of-range")]
#[case::too_few(|s: &mut Stacking| s.most_layers = 1, "stack-out-of-range")]
fn what_cannot_be_stacked_is_refused(#[case] change: fn(&mut Stacking), #[case] code: &str) {
    let mut of = stacking(three(), 8);
    change(&mut of);
    let refused = stacked(&ramp(), None, 0.5, &of, &|_| true)
        .err()
        .expect("refused");
    assert_eq!(refused.code, code, "{refused}");
}
