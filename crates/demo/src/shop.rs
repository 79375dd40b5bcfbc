//! The shop's jobs as the demo puts them on the shelf.

use super::coaster::{COASTER_POINTS, COASTER_RADIUS_MM, compass_coaster};
use super::drawn_jobs::{
    any_colour_edits, dusk_edits, postcard_edits, shaded_edits, stacked_model,
};
use super::gull::gull;
use super::gull_job::gull_edits;
use super::pennant::{PENNANT_FILE, pennant_model};
use super::pictures::{DUSK_FILE, postcard};
use super::pier_light::{BANDS, GALLERY_MM};
use super::plaque::{PLAQUE_FIRST_STROKE_MM, PLAQUE_FLOOR_MM, tide_plaque};
use super::rack::pier_printer;
use super::tiles::TILE_TOPS_MM;
use super::{float_in_ring, pier_light, signal_tiles, stl};
use varichrom_core::colour::Colour;
use varichrom_core::job::{
    Edit, GiveEdit, ModelEdit, PartEdit, PlaceEdit, Placing, RegionEdit, SlotEdit, Target,
};
use varichrom_core::machine::Printer;
use varichrom_core::model::Place;
use varichrom_core::regions::Within;

/// One job of the demo.
pub struct DemoJob {
    /// Name on the shelf.
    pub name: &'static str,
    /// Name of its model.
    pub model: &'static str,
    /// File name of its model.
    pub file: &'static str,
    /// The file.
    pub bytes: Vec<u8>,
    /// Edits that follow the opening of the model.
    pub edits: Vec<Edit>,
    /// Files that they name besides: drawings, each under the content name of its bytes.
    pub beside: Vec<Vec<u8>>,
    /// Whether its plan is made before the demo starts.
    pub is_planned: bool,
}

fn at(model: &str, point: [f64; 3], normal: [f64; 3]) -> Place {
    Place {
        model: model.into(),
        point,
        normal,
    }
}

pub(super) fn load(spools: &[&str]) -> Vec<Edit> {
    let slots = 1u8..;
    slots
        .zip(spools)
        .map(|(slot, id)| {
            Edit::Slot(SlotEdit::LoadSlot {
                slot,
                spool: Some((*id).to_string()),
            })
        })
        .collect()
}

pub(super) fn region(key: &str, name: &str, rgb: [u8; 3], slot: u8) -> Edit {
    Edit::Region(RegionEdit::AddRegion {
        region: key.into(),
        name: name.into(),
        colour: Colour(rgb),
        slot: Some(slot),
    })
}

/// Names and colours the region that everything starts with.
pub(super) fn named(name: &str, rgb: [u8; 3]) -> [Edit; 2] {
    [
        Edit::Region(RegionEdit::RenameRegion {
            region: "base".into(),
            name: name.into(),
        }),
        Edit::Region(RegionEdit::RecolourRegion {
            region: "base".into(),
            colour: Colour(rgb),
        }),
    ]
}

/// The jobs on the demo's shelf; the pier light is coloured, loaded and planned, the
/// plaque, the coaster and the gull are coloured, the others wait.
pub fn demo_jobs() -> Vec<DemoJob> {
    vec![
        DemoJob {
            name: "Pier light, souvenir size",
            model: "Pier light",
            file: "pier-light.stl",
            bytes: stl(&pier_light(), "Pier light"),
            edits: pier_light_edits("Pier light"),
            beside: Vec::new(),
            is_planned: true,
        },
        DemoJob {
            name: "Signal tiles, set of four",
            model: "Signal tile",
            file: "signal-tiles.stl",
            bytes: stl(&signal_tiles(), "Signal tiles"),
            edits: load(&["chalk", "rust-red", "ink-blue", "amber"]),
            beside: Vec::new(),
            is_planned: false,
        },
        DemoJob {
            name: "Signal tiles, coloured in haste",
            model: "Hasty tile",
            file: "hasty-tiles.stl",
            bytes: stl(&signal_tiles(), "Signal tiles"),
            edits: hasty_edits("Hasty tile"),
            beside: Vec::new(),
            is_planned: false,
        },
        DemoJob {
            name: "Glass float in a cork ring",
            model: "Float",
            file: "float-in-ring.stl",
            bytes: stl(&float_in_ring(), "Float in a cork ring"),
            edits: load(&["tide", "cork", "chalk", "soot"]),
            beside: Vec::new(),
            is_planned: false,
        },
        DemoJob {
            name: "Tide plaque",
            model: "Plaque",
            file: "tide-plaque.stl",
            bytes: stl(&tide_plaque(), "Tide plaque"),
            edits: plaque_edits("Plaque"),
            beside: Vec::new(),
            is_planned: false,
        },
        DemoJob {
            name: "Compass-rose coaster",
            model: "Coaster",
            file: "compass-coaster.stl",
            bytes: stl(&compass_coaster(), "Compass-rose coaster"),
            edits: coaster_edits("Coaster"),
            beside: Vec::new(),
            is_planned: false,
        },
        DemoJob {
            name: "Gull on a quay stone",
            model: "Gull",
            file: "gull.stl",
            bytes: stl(&gull(), "Gull"),
            edits: gull_edits("Gull"),
            beside: Vec::new(),
            is_planned: false,
        },
        DemoJob {
            name: "Harbour pennant, face down",
            model: "Pennant",
            file: PENNANT_FILE,
            bytes: pennant_model(),
            edits: pennant_edits("Pennant"),
            beside: Vec::new(),
            is_planned: false,
        },
        DemoJob {
            name: "Postcard float",
            model: "Glass float",
            file: "glass-float.stl",
            bytes: stl(&float_in_ring(), "Float in a cork ring"),
            edits: postcard_edits("Glass float"),
            beside: vec![postcard()],
            is_planned: false,
        },
        DemoJob {
            name: "Sea-glass float, any colour",
            model: "Sea-glass float",
            file: "sea-glass-float.stl",
            bytes: stl(&float_in_ring(), "Float in a cork ring"),
            edits: any_colour_edits("Sea-glass float"),
            beside: Vec::new(),
            is_planned: false,
        },
        DemoJob {
            name: "Gull, shaded and lit",
            model: "Shaded gull",
            file: "gull.stl",
            bytes: stl(&gull(), "Gull"),
            edits: shaded_edits("Shaded gull"),
            beside: Vec::new(),
            is_planned: false,
        },
        DemoJob {
            name: "Bay at dusk, stacked",
            model: "Bay at dusk",
            file: DUSK_FILE,
            bytes: stacked_model(),
            edits: dusk_edits("Bay at dusk"),
            beside: Vec::new(),
            is_planned: false,
        },
    ]
}

/// The colours of the drawing, a slot each.
fn pennant_edits(model: &str) -> Vec<Edit> {
    let mut edits = load(&["ink-blue", "chalk", "rust-red", "cork"]);
    edits.push(Edit::Model(ModelEdit::KeepColours {
        model: model.into(),
        most: 4,
    }));
    edits
}

/// The plaque's lettering as flush inlays, in one click.
fn plaque_edits(model: &str) -> Vec<Edit> {
    let [x, y] = PLAQUE_FIRST_STROKE_MM;
    let mut edits = vec![Edit::Slot(SlotEdit::SetPrinter {
        printer: Printer {
            // As it was set for another plaque: it cuts this one's lettering into layers and a rest.
            first_layer_mm: 0.24,
            ..Printer::default()
        },
    })];
    edits.extend(load(&["tide", "chalk", "soot", "amber"]));
    edits.extend(named("Plate", [0x3d, 0x8c, 0x8a]));
    edits.extend([
        region("lettering", "Lettering", [0xee, 0xe7, 0xd6], 2),
        Edit::Part(PartEdit::Inlay {
            region: "lettering".into(),
            at: at(model, [x, y, PLAQUE_FLOOR_MM], [0.0, 0.0, 1.0]),
            crease_deg: 30.0,
            all: true,
            layers: None,
            clearance_mm: 0.0,
            alike: false,
        }),
    ]);
    edits
}

/// Tiles with everything that costs swaps for nothing: tops without their walls, a tile that is a hair taller, a second
/// spool of nearly the same colour, a line too thin to print, and a first layer that cuts no height into whole layers.
fn hasty_edits(model: &str) -> Vec<Edit> {
    let up = [0.0, 0.0, 1.0];
    let mut edits = vec![Edit::Slot(SlotEdit::SetPrinter {
        printer: Printer {
            first_layer_mm: 0.26,
            ..Printer::default()
        },
    })];
    edits.extend(load(&["chalk", "rust-red", "limewash", "soot"]));
    edits.extend(named("Plates", [0xee, 0xe7, 0xd6]));
    let foot = |x: f64, y: f64| at(model, [x, y, 0.0], [0.0, 0.0, -1.0]);
    edits.extend([
        region("devices", "Devices", [0xc7, 0x45, 0x2f], 2),
        region("other-plate", "The other plate", [0xec, 0xe4, 0xd1], 3),
        region("line", "Waterline", [0x17, 0x17, 0x18], 4),
        Edit::Region(RegionEdit::GivePart {
            region: "other-plate".into(),
            at: foot(10.0, 46.0),
        }),
        Edit::Give(GiveEdit::GiveFacets {
            region: "devices".into(),
            at: TILE_TOPS_MM.map(|top| at(model, top, up)).to_vec(),
            flat: true,
        }),
        Edit::band("line", [1.2, 1.45], Some(foot(15.0, 15.0)), None),
        Edit::Place(PlaceEdit::Place {
            target: Target::Part {
                at: foot(46.0, 46.0),
            },
            placing: Placing::Stretch {
                factors: [1.0, 1.0, 3.75 / 3.4],
            },
        }),
    ]);
    edits
}

/// The coaster's parts: the disc, its ring, and the points by their make, named, in groups, and cut out of the disc
/// they overlap.
fn coaster_edits(model: &str) -> Vec<Edit> {
    let mut edits = load(&["cork", "ink-blue", "rust-red", "chalk"]);
    edits.extend(named("Disc", [0xa8, 0x78, 0x4c]));
    edits.extend([
        region("long", "Long points", [0xc7, 0x45, 0x2f], 3),
        region("short", "Short points", [0xee, 0xe7, 0xd6], 4),
        region("ring", "Ring", [0x21, 0x36, 0x4e], 2),
    ]);
    let up = [0.0, 0.0, 1.0];
    let disc = at(model, [0.0, 0.0, 0.0], [0.0, 0.0, -1.0]);
    let ring = at(model, [COASTER_RADIUS_MM - 5.5, 0.0, 4.6], up);
    let winds = [
        "East",
        "North-east",
        "North",
        "North-west",
        "West",
        "South-west",
        "South",
        "South-east",
    ];
    let points: Vec<Place> = (0..COASTER_POINTS)
        .map(|point| {
            let angle = std::f64::consts::TAU * point as f64 / COASTER_POINTS as f64;
            let (s, c) = angle.sin_cos();
            at(model, [15.0 * c, 15.0 * s, 4.6], up)
        })
        .collect();
    let rename = |at: &Place, name: &str| {
        Edit::Model(ModelEdit::RenamePart {
            at: at.clone(),
            name: name.into(),
        })
    };
    let give = |at: &Place, region: &str| {
        Edit::Region(RegionEdit::GivePart {
            region: region.into(),
            at: at.clone(),
        })
    };
    edits.extend([
        rename(&disc, "Disc"),
        rename(&ring, "Ring"),
        give(&ring, "ring"),
    ]);
    for (number, point) in points.iter().enumerate() {
        let region = if number % 2 == 0 { "long" } else { "short" };
        edits.extend([rename(point, winds[number]), give(point, region)]);
    }
    let group = |at: Vec<Place>, group: &str, name: &str| {
        Edit::Part(PartEdit::Group {
            at,
            group: group.into(),
            name: name.into(),
        })
    };
    let long = points.iter().step_by(2).cloned().collect();
    let short = points.iter().skip(1).step_by(2).cloned().collect();
    edits.extend([
        group(long, "long", "Long points"),
        group(short, "short", "Short points"),
    ]);
    edits.push(group(points.clone(), "rose", "Rose"));
    for keep in points.iter().chain([&ring]) {
        edits.push(Edit::Part(PartEdit::CutOverlap {
            keep: keep.clone(),
            from: disc.clone(),
        }));
    }
    edits
}

/// Colours the pier light: bands and roof red, gallery blue, lantern amber, each by the patches at 30°.
fn pier_light_edits(model: &str) -> Vec<Edit> {
    let mut edits = vec![Edit::Slot(SlotEdit::SetPrinter {
        printer: pier_printer(),
    })];
    edits.extend(load(&["chalk", "rust-red", "ink-blue", "amber"]));
    edits.extend(named("Tower, plain", [0xee, 0xe7, 0xd6]));
    edits.extend([
        region("bands", "Day bands", [0xc7, 0x45, 0x2f], 2),
        region("gallery", "Gallery rail", [0x21, 0x36, 0x4e], 3),
        region("lantern", "Lantern glass", [0xd9, 0xa3, 0x41], 4),
    ]);
    let angle = std::f64::consts::PI / 240.0;
    let out = [angle.cos(), angle.sin(), 0.0];
    let mut give = |region: &str, radius: f64, z: f64, normal: [f64; 3]| {
        // The middle of a flat side lies nearer the axis than its corners.
        let r = radius * angle.cos();
        edits.push(Edit::Give(GiveEdit::GivePatch {
            region: region.into(),
            at: at(model, [r * out[0], r * out[1], z], normal),
            crease_deg: 30.0,
            within: Within::Part,
            turn_deg: None,
        }));
    };
    let up = [0.0, 0.0, 1.0];
    let down = [0.0, 0.0, -1.0];
    for (low, high) in BANDS {
        let z = 0.5 * (low + high);
        let tower = |z: f64| 14.0 - 5.2 * (z - 3.0) / (GALLERY_MM - 3.0);
        give("bands", tower(z) + 0.5, z, out);
        give("bands", tower(low) + 0.25, low, down);
        give("bands", tower(high) + 0.25, high, up);
    }
    give("gallery", 13.6, 34.0, out);
    give("gallery", 14.2, 35.6, out);
    give("gallery", 13.6, 36.2, up);
    give("gallery", 13.0, 35.8, [-out[0], -out[1], 0.0]);
    give("gallery", 11.0, 35.4, up);
    give("gallery", 13.9, 35.0, down);
    give("lantern", 6.0, 40.0, out);
    give("bands", 8.2, 45.8, out);
    give("bands", 4.5, 49.9, [0.7 * out[0], 0.7 * out[1], 0.7]);
    edits
}
