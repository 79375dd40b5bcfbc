//! Spools and what is made of them: the rack's files, mixtures of feeds, greys.

use crate::judge::cases;
use crate::part_jobs::{near, near_share};
use proptest::prelude::*;
use rstest::rstest;
use varichrom_core::advice::load::PrinterReport;
use varichrom_core::colour::{
    Colour, Pigment, blend, difference, greys, nearest_mixture, shares_with,
};
use varichrom_core::machine::{
    MATERIALS, Spool, bonds, rack_from_csv, rack_from_json, rack_to_csv, rack_to_json,
};
use varichrom_demo::rack;

#[test]
fn a_metre_of_filament_weighs_what_the_handbook_says() {
    let spool = Spool::usual(Colour([0; 3]), "PLA", false);
    // 1.75 mm PLA at 1.24 g/cm³: 2.98 g a metre, by π/4 d² ρ.
    near_share(spool.grams_of_length(1000.0), 2.98, 0.01);
    // The cross-section of 1.75 mm filament: π/4 · 1.75².
    near_share(spool.section_mm2(), 2.405, 2e-4);
    for material in MATERIALS {
        assert!((0.8..1.5).contains(&material.density_g_cm3) && !material.source.is_empty());
        assert_eq!(bonds(material.name, material.name), Some(true));
    }
    assert_eq!(
        (bonds("pla", "PETG"), bonds("PLA", "wool")),
        (Some(false), None)
    );
}

proptest! {
    #![proptest_config(cases(96))]
    #[test]
    fn shares_always_sum_to_the_whole_and_none_falls_below_the_least(
        shares in prop::collection::vec(0.0..1.0f64, 2..6),
        index in 0..6usize,
        share in -0.5..1.5f64,
        least in 0.0..0.1f64,
    ) {
        let index = index % shares.len();
        let least = (least * 200.0).round() / 200.0;
        let found = shares_with(&shares, index, share, least);
        prop_assert!((found.iter().sum::<f64>() - 1.0).abs() < 1e-9);
        // Half a percent of rounding lies with the largest of the others.
        prop_assert!(found.iter().all(|s| *s >= least - 0.0051), "{found:?}");
        let most = 1.0 - least * (shares.len() - 1) as f64;
        prop_assert!((found[index] - share.clamp(least, most)).abs() <= 0.0026);
    }

    #[test]
    fn no_mixture_on_a_grid_comes_nearer_than_the_one_that_is_found(
        feeds in prop::array::uniform3(prop::array::uniform3(8u8..248)),
        wanted in prop::array::uniform3(0u8..=255),
    ) {
        let feeds = feeds.map(|c| Pigment {
            colour: Colour(c),
            tinting: 1.0,
        });
        let wanted = Colour(wanted);
        let found = nearest_mixture(&feeds, wanted, 0.02);
        prop_assert!((found.shares.iter().sum::<f64>() - 1.0).abs() < 1e-9);
        prop_assert!(found.shares.iter().all(|s| *s >= 0.02 - 1e-9));
        // Every mixture of half percents there is.
        let mut least = f64::INFINITY;
        for i in 4..=192 {
            for j in 4..=196 - i {
                let (a, b) = (f64::from(i) / 200.0, f64::from(j) / 200.0);
                let parts = [(feeds[0], a), (feeds[1], b), (feeds[2], 1.0 - a - b)];
                least = least.min(difference(blend(&parts), wanted.linear()));
            }
        }
        prop_assert!(found.difference <= least + 1e-9, "{} against {least}", found.difference);
    }
}

#[test]
fn the_rack_comes_back_from_its_files_as_it_was() {
    let rack = rack();
    assert_eq!(rack_from_csv(rack_to_csv(&rack).as_bytes()).unwrap(), rack);
    assert_eq!(
        rack_from_json(rack_to_json(&rack).as_bytes()).unwrap(),
        rack
    );
    let few = "material,colour,name,id\nPETG,#102030,\"Night, blue\",night\n";
    let spools = rack_from_csv(few.as_bytes()).unwrap();
    assert_eq!(spools[0].name, "Night, blue");
    near(spools[0].density_g_cm3, 1.27);
}

#[rstest]
#[case("id,name,colour\na,A,#ffffff\n", "line 1")]
#[case("id,name,colour,material,weight\na,A,#ffffff,PLA,3\n", "line 1")]
#[case("id,name,colour,material\na,=2+2,#ffffff,PLA\n", "line 2, column name")]
#[case(
    "id,name,colour,material\na,@SUM(A1),#ffffff,PLA\n",
    "line 2, column name"
)]
#[case("id,name,colour,material\na,A,white,PLA\n", "line 2, column colour")]
#[case(
    "id,name,colour,material,left_g\na,A,#ffffff,PLA,-5\n",
    "line 2, left_g"
)]
#[case(
    "id,name,colour,material,left_g\na,A,#ffffff,PLA,many\n",
    "line 2, column left_g"
)]
#[case(
    "id,name,colour,material,nozzle_low_c,nozzle_high_c\na,A,#ffffff,PLA,230,200\n",
    "line 2, nozzle_c"
)]
#[case(
    "id,name,colour,material\na,A,#ffffff,PLA\na,B,#000000,PLA\n",
    "line 3"
)]
#[case(
    "id,name,colour,material\na,\"A,#ffffff,PLA\n",
    "line 2, column colour"
)]
#[case("\u{0}\u{1}", "line 1")]
fn a_bad_table_is_refused_with_its_line(#[case] table: &str, #[case] place: &str) {
    let refused = rack_from_csv(table.as_bytes()).unwrap_err();
    assert_eq!(refused.place.as_deref(), Some(place), "{refused:?}");
    assert!(!refused.mend.is_empty());
}

proptest! {
    #[test]
    fn no_bytes_make_the_rack_s_readers_panic(bytes in prop::collection::vec(any::<u8>(), 0..400)) {
        let _ = rack_from_csv(&bytes);
        let _ = rack_from_json(&bytes);
        let _ = PrinterReport::from_json(&bytes);
    }
}

#[test]
fn greys_keep_the_lightness_and_name_what_falls_together() {
    let colours = ["#c7452f", "#3d6f8c", "#f0e8d8"].map(|c| c.parse::<Colour>().unwrap());
    let found = greys(&colours, 4.0);
    for (colour, (grey, _)) in colours.iter().zip(&found) {
        let [r, g, b] = grey.0;
        assert!(r == g && g == b);
        // Half a step of an 8-bit grey is about a quarter of a point of lightness.
        assert!((grey.lab()[0] - colour.lab()[0]).abs() < 0.3);
    }
    // Red and blue differ plainly in colour, but hardly in lightness.
    assert!(difference(colours[0].linear(), colours[1].linear()) > 30.0);
    assert_eq!(
        (&found[0].1[..], &found[1].1[..], &found[2].1[..]),
        (&[1][..], &[0][..], &[][..])
    );
}
