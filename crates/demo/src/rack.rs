//! The shop's spools and printers. All names, prices and grams are invented.

use varichrom_core::advice::load::{PrinterReport, ReportedPlace, ReportedSpool};
use varichrom_core::colour::Colour;
use varichrom_core::machine::{Printer, Spool};

/// Thirteen invented spools: their plastics' values are those of the core's table.
pub fn rack() -> Vec<Spool> {
    let spool = |id: &str, name: &str, rgb: [u8; 3], material: &str, price: f64, left: f64| Spool {
        id: id.into(),
        name: name.into(),
        price_per_kg: price,
        left_g: left,
        opacity: 0.92,
        ..Spool::usual(Colour(rgb), material, false)
    };
    let mut rack = vec![
        spool("chalk", "Chalk PLA", [0xee, 0xe7, 0xd6], "PLA", 21.0, 412.0),
        spool(
            "rust-red",
            "Rust-red PLA",
            [0xc7, 0x45, 0x2f],
            "PLA",
            23.5,
            96.0,
        ),
        spool(
            "ink-blue",
            "Ink-blue PLA",
            [0x21, 0x36, 0x4e],
            "PLA",
            23.5,
            700.0,
        ),
        spool(
            "amber",
            "Lamp amber PETG",
            [0xd9, 0xa3, 0x41],
            "PETG",
            27.0,
            231.0,
        ),
        spool(
            "moss",
            "Moss green PLA",
            [0x5b, 0x7b, 0x3a],
            "PLA",
            22.0,
            55.0,
        ),
        spool(
            "soot",
            "Soot black PLA",
            [0x17, 0x17, 0x18],
            "PLA",
            20.0,
            310.0,
        ),
        spool(
            "cork",
            "Cork brown PLA",
            [0xa8, 0x78, 0x4c],
            "PLA",
            24.0,
            528.0,
        ),
        spool(
            "tide",
            "Tide-pool teal PLA",
            [0x3d, 0x8c, 0x8a],
            "PLA",
            24.0,
            164.0,
        ),
        spool(
            "slate",
            "Slate grey PLA",
            [0x8a, 0x93, 0x9b],
            "PLA",
            21.5,
            380.0,
        ),
        spool(
            "buoy",
            "Buoy orange PLA",
            [0xe2, 0x6a, 0x2c],
            "PLA",
            23.5,
            12.0,
        ),
        spool(
            "fender",
            "Fender black TPU",
            [0x24, 0x24, 0x26],
            "TPU",
            34.0,
            420.0,
        ),
        // Bought when the shop was out of chalk: nearly the same.
        spool(
            "limewash",
            "Limewash PLA",
            [0xec, 0xe4, 0xd1],
            "PLA",
            19.5,
            845.0,
        ),
    ];
    rack.push(Spool {
        id: "sea-glass".into(),
        name: "Sea-glass clear PETG".into(),
        price_per_kg: 29.0,
        left_g: 640.0,
        ..Spool::usual(Colour([0xb9, 0xd8, 0xd0]), "PETG", true)
    });
    rack
}

/// Where the stand-in answers unless it is told otherwise.
const STAND_IN: &str = "http://127.0.0.1:7500";

/// The printer of the pier light: the generic feeder, at the address of the stand-in.
pub(super) fn pier_printer() -> Printer {
    Printer {
        address: STAND_IN.into(),
        ..Printer::default()
    }
}

/// One printer of each kind, with its id. The feeder is at the address of the stand-in.
pub fn printers() -> Vec<(String, Printer)> {
    let ids = ["feeder", "twin", "by-hand", "splicer", "mixer"];
    let mut all: Vec<(String, Printer)> = ids
        .iter()
        .map(ToString::to_string)
        .zip(Printer::examples())
        .collect();
    all[0].1 = pier_printer();
    all
}

/// What the stand-in says unless it is told otherwise: the feeder, holding what the pier light asks for.
pub fn printer_report() -> PrinterReport {
    let rack = rack();
    let places = (1u8..).zip(&rack[..4]).map(|(place, spool)| ReportedPlace {
        place,
        spool: Some(ReportedSpool {
            name: spool.name.clone(),
            colour: spool.colour,
            material: spool.material.clone(),
            left_g: Some(spool.left_g),
        }),
    });
    let printer = Printer::default();
    PrinterReport {
        name: "Quay feeder".into(),
        kind: "feeder".into(),
        nozzle_mm: printer.nozzle_mm,
        bed_mm: printer.bed_mm,
        sheet: Some("smooth".into()),
        places: places.collect(),
    }
}
