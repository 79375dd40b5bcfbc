//! Jobs with pictures and paint: a postcard on a float, a gull that is shaded and lit, and a bay stacked of three spools.

use super::gull_job::gull_edits;
use super::pictures::{DUSK_FILE, POSTCARD_FILE, dusk, postcard};
use super::shop::{load, named, region};
use sha2::{Digest, Sha256};
use varichrom_core::colour::Colour;
use varichrom_core::drawing::{
    DrawingOptions, DrawingSource, Drawn, Flatwork, LaidOn, Laying, Said, StackSpool, Stacking,
};
use varichrom_core::job::{Edit, GiveEdit, ModelEdit, PartEdit, RegionEdit, SlotEdit};
use varichrom_core::machine::Printer;
use varichrom_core::model::Place;
use varichrom_core::regions::Tone;

/// The name under which a store keeps bytes.
fn content_name(bytes: &[u8]) -> String {
    use std::fmt::Write;
    Sha256::digest(bytes)
        .iter()
        .fold(String::new(), |mut out, b| {
            let _ = write!(out, "{b:02x}");
            out
        })
}

/// A file that edits of the demo name besides their model, by its content name.
pub fn file_beside(content: &str) -> Option<Vec<u8>> {
    let postcard = postcard();
    (content_name(&postcard) == content).then_some(postcard)
}

/// The postcard wound around the float, in the colours of four spools.
pub(super) fn postcard_edits(model: &str) -> Vec<Edit> {
    let mut edits = load(&["chalk", "ink-blue", "amber", "rust-red"]);
    edits.extend(named("Float and ring", [0xee, 0xe7, 0xd6]));
    edits.extend([
        region("sea", "Sea and sails", [0x21, 0x36, 0x4e], 2),
        region("sun", "Sun", [0xd9, 0xa3, 0x41], 3),
        region("hull", "Hull", [0xc7, 0x45, 0x2f], 4),
    ]);
    let options = DrawingOptions {
        width_mm: Some(31.0),
        ..DrawingOptions::default()
    };
    // As many as it has, the largest first: sky, sea, sun, hull.
    edits.push(Edit::Give(GiveEdit::GiveDrawing {
        drawing: DrawingSource::File {
            file: POSTCARD_FILE.into(),
            content: content_name(&postcard()),
            options,
        },
        laying: Laying {
            at: [0.0, -13.0, 21.2],
            on: LaidOn::Around {
                centre: [0.0; 3],
                axis: [0.0, 0.0, 1.0],
            },
            turn_deg: 0.0,
            mirrored: false,
        },
        regions: ["base", "sea", "sun", "hull"]
            .map(|r| Some(r.to_string()))
            .to_vec(),
        model: Some(model.into()),
    }));
    edits
}

/// The gull as it is painted, then darker where it lies deep and lighter where it looks up.
pub(super) fn shaded_edits(model: &str) -> Vec<Edit> {
    let mut edits = gull_edits(model);
    edits.extend([
        region("shade", "Shade", [0x8a, 0x93, 0x9b], 2),
        region("light", "Light", [0xee, 0xe7, 0xd6], 1),
    ]);
    let tone = |region: &str, tone: Tone, strength: f64, only: &str| {
        Edit::Give(GiveEdit::GiveTone {
            region: region.into(),
            tone,
            strength,
            reach_mm: 12.0,
            only: Some(only.into()),
            model: None,
        })
    };
    edits.extend([
        tone("shade", Tone::Shade, 0.74, "base"),
        tone("light", Tone::Light, 0.06, "mantle"),
    ]);
    edits
}

/// The float clear and the ring of cork with flecks in it, for a machine that prints any colour.
pub(super) fn any_colour_edits(model: &str) -> Vec<Edit> {
    let jetting = Printer::examples().into_iter().find(|p| p.profile().jets);
    let mut edits: Vec<Edit> = jetting
        .map(|printer| Edit::Slot(SlotEdit::SetPrinter { printer }))
        .into_iter()
        .collect();
    edits.extend(named("Cork", [0xa8, 0x78, 0x4c]));
    let region = |key: &str, name: &str, rgb: [u8; 3]| {
        Edit::Region(RegionEdit::AddRegion {
            region: key.into(),
            name: name.into(),
            colour: Colour(rgb),
            slot: None,
        })
    };
    let float = || Place {
        model: model.into(),
        point: [0.0, -13.99, 13.65],
        normal: [0.0, -1.0, 0.0],
    };
    edits.extend([
        region("glass", "Sea glass", [0x9c, 0xd3, 0xc4]),
        region("flecks", "Flecks", [0x6b, 0x45, 0x27]),
        Edit::Region(RegionEdit::GivePart {
            region: "glass".into(),
            at: float(),
        }),
        Edit::Part(PartEdit::MadeOf {
            at: float(),
            material: Some("Clear".into()),
            opacity: 0.35,
        }),
        Edit::Give(GiveEdit::GiveSpeckles {
            region: "flecks".into(),
            width_mm: 2.2,
            share: 0.12,
            seed: 7,
            only: Some("base".into()),
            model: None,
        }),
    ]);
    edits
}

/// The bay at dusk in three spools, light over dark.
pub(super) fn stacked_model() -> Vec<u8> {
    let spool = |name: &str, colour: [u8; 3]| StackSpool {
        name: name.into(),
        colour: Colour(colour),
        opacity: 0.92,
    };
    let drawn = Drawn {
        bytes: dusk(),
        said: Said {
            file: DUSK_FILE.into(),
            options: DrawingOptions {
                width_mm: Some(90.0),
                ..DrawingOptions::default()
            },
            work: Flatwork::plain(4, 0.4),
            stacking: Some(Stacking {
                spools: vec![
                    spool("Soot black PLA", [0x17, 0x17, 0x18]),
                    spool("Slate grey PLA", [0x8a, 0x93, 0x9b]),
                    spool("Chalk PLA", [0xee, 0xe7, 0xd6]),
                ],
                in_order: false,
                first_layer_mm: 0.2,
                layer_mm: 0.08,
                base_layers: 4,
                most_layers: 12,
            }),
        },
    };
    let flat = drawn.flat(&|_| true).expect("a picture");
    drawn.model(&flat).expect("a model")
}

/// Thin layers, and a slot for each spool of the stack.
pub(super) fn dusk_edits(model: &str) -> Vec<Edit> {
    let mut edits = vec![Edit::Slot(SlotEdit::SetPrinter {
        printer: Printer {
            layer_mm: 0.08,
            ..Printer::default()
        },
    })];
    edits.extend(load(&["soot", "slate", "chalk"]));
    edits.push(Edit::Model(ModelEdit::KeepColours {
        model: model.into(),
        most: 3,
    }));
    // Chalk shows most, so it is the first region; the others follow in the order of the stack.
    let slot = |region: &str, slot: u8| {
        Edit::Slot(SlotEdit::AssignSlot {
            region: region.into(),
            slot: Some(slot),
        })
    };
    edits.extend([
        slot("base", 3),
        slot("Bay at dusk colour 1", 2),
        slot("Bay at dusk colour 2", 1),
    ]);
    edits
}
