//! Calibration recovers the melt zone its rinses were made with, noise added, and refuses what no zone fits.

use crate::judge::cases;
use approx::assert_relative_eq;
use proptest::prelude::*;
use varichrom_core::colour::{Colour, Pigment};
use varichrom_core::rinse::{FILAMENT_MM2, Measured, MeltZone, NoFit, calibrate, purge_mm3};

const NOW: MeltZone = MeltZone {
    volume_mm3: 48.0,
    tanks: 1,
};

const COLOURS: [(Colour, Colour); 5] = [
    (Colour([0x10, 0x10, 0x10]), Colour([0xf4, 0xf4, 0xf0])),
    (Colour([0xf4, 0xf4, 0xf0]), Colour([0x10, 0x10, 0x10])),
    (Colour([0xc7, 0x45, 0x2f]), Colour([0xee, 0xe7, 0xd6])),
    (Colour([0xee, 0xe7, 0xd6]), Colour([0x21, 0x36, 0x4e])),
    (Colour([0xd9, 0xa3, 0x41]), Colour([0xc7, 0x45, 0x2f])),
];

/// The rinse that a nozzle would show, with its length off by a factor.
fn measured(zone: MeltZone, (from, to): (Colour, Colour), off: f64) -> Measured {
    let pigment = |colour| Pigment {
        colour,
        tinting: 1.0,
    };
    let mm3 = purge_mm3(zone, pigment(from), pigment(to), 2.0);
    Measured {
        from,
        to,
        clean_mm: off * mm3 / FILAMENT_MM2,
        tolerance: 2.0,
    }
}

proptest! {
    #![proptest_config(cases(120))]

    #[test]
    fn rinses_without_noise_give_the_zone_back(volume_mm3 in 20.0..120.0f64, tanks in 1u32..9) {
        let zone = MeltZone { volume_mm3, tanks };
        let rinses: Vec<Measured> = COLOURS.iter().map(|c| measured(zone, *c, 1.0)).collect();
        let fit = calibrate(&rinses, NOW).expect("made by one zone");
        prop_assert_eq!(fit.melt.tanks, tanks);
        prop_assert!((fit.melt.volume_mm3 / volume_mm3 - 1.0).abs() < 1e-6);
        prop_assert!(fit.error_share < 1e-6 && fit.is_tanks_fitted);
    }

    #[test]
    fn five_per_cent_of_noise_moves_the_lengths_by_no_more(
        volume_mm3 in 20.0..120.0f64,
        tanks in 1u32..5,
        noise in prop::array::uniform5(-0.05..0.05f64),
    ) {
        let zone = MeltZone { volume_mm3, tanks };
        let rinses: Vec<Measured> =
            COLOURS.iter().zip(noise).map(|(c, n)| measured(zone, *c, 1.0 + n)).collect();
        let fit = calibrate(&rinses, NOW).expect("nearly made by one zone");
        // The true zone has a mean error of five per cent at most, so the best one has too.
        prop_assert!(fit.error_share <= 0.0501);
        for (rinse, colours) in fit.points.iter().zip(COLOURS) {
            let truth = measured(zone, colours, 1.0).clean_mm;
            prop_assert!((rinse.fitted_mm / truth - 1.0).abs() < 0.12, "{} {truth}", rinse.fitted_mm);
        }
    }
}

#[test]
fn one_rinse_fits_the_volume_and_leaves_the_tanks() {
    let white = Colour([0xf4, 0xf4, 0xf0]);
    let black = Colour([0x10, 0x10, 0x10]);
    let rinse = Measured {
        from: black,
        to: white,
        clean_mm: 180.0,
        tolerance: 2.0,
    };
    let fit = calibrate(std::slice::from_ref(&rinse), NOW).expect("one always fits");
    assert_eq!(fit.melt.tanks, 1);
    assert!(!fit.is_tanks_fitted);
    assert_relative_eq!(fit.points[0].fitted_mm, 180.0, max_relative = 1e-6);
    // Common practice, no source: 150 to 200 mm are pressed out by hand, and Vm of usual nozzles is 45 to 50 mm³.
    assert!(
        (45.0..55.0).contains(&fit.melt.volume_mm3),
        "{:?}",
        fit.melt
    );
    let last = fit.curve.last().expect("a curve");
    assert!(last[0] > 180.0 && last[1] < fit.points[0].share);
}

#[test]
fn what_no_zone_fits_is_refused_with_the_rinse_that_is_off() {
    let honest = measured(NOW, COLOURS[0], 1.0);
    let tall = measured(NOW, COLOURS[1], 40.0);
    let refused = calibrate(&[honest.clone(), tall, honest.clone()], NOW);
    assert!(
        matches!(refused, Err(NoFit::Contradiction { worst: 2, .. })),
        "{refused:?}"
    );
    assert_eq!(calibrate(&[], NOW), Err(NoFit::Nothing));
    let alike = Measured {
        to: honest.from,
        ..honest.clone()
    };
    assert_eq!(
        calibrate(&[honest.clone(), alike], NOW),
        Err(NoFit::Alike(2))
    );
    for (clean_mm, tolerance) in [(0.0, 2.0), (f64::NAN, 2.0), (100.0, 0.0), (-5.0, 2.0)] {
        let bad = Measured {
            clean_mm,
            tolerance,
            ..honest.clone()
        };
        assert_eq!(calibrate(&[bad], NOW), Err(NoFit::Value(1)));
    }
    let long = Measured {
        clean_mm: 9999.0,
        ..honest
    };
    assert!(matches!(calibrate(&[long], NOW), Err(NoFit::Size(_))));
}
