//! Kinds of machines, with an example of each.

use super::{BaseMaterial, Printer};
use crate::rinse::MeltZone;
use serde::{Deserialize, Serialize};

/// When a maker swaps by hand.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum HandSwap {
    /// The printer pauses and waits.
    #[default]
    AtPause,
    /// Each colour is a print of its own on the same bed.
    PassPerColour,
}

/// What kind of machine a printer is.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
#[serde(tag = "is", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum MachineKind {
    /// One nozzle; a feeder puts in one of several filaments.
    #[default]
    Feeder,
    /// A nozzle for each filament: two extruders, or a tool changer.
    Tools,
    /// One nozzle; the maker swaps.
    ByHand {
        /// When.
        how: HandSwap,
    },
    /// One nozzle, fed with one strand that is joined from lengths of several filaments.
    Splicer,
    /// One nozzle that melts several filaments together.
    Mixing {
        /// Filaments that go in, 2 to 6.
        feeds: u8,
        /// The least share of each in any mixture, 0 to 0.2: a feed that stands still clogs.
        least_share: f64,
    },
    /// Lays drops of any colour side by side; nothing is swapped, and what a part is made of is chosen part by part.
    Jetting {
        /// Whether it has a single colour and prints greys of it.
        is_grey: bool,
    },
}

impl Printer {
    /// A ready example of each kind, with generic values (common practice, no source).
    pub fn examples() -> Vec<Printer> {
        let feeder = Printer::default();
        vec![
            feeder.clone(),
            Printer {
                name: "Two extruders, 0.4 mm".into(),
                kind: MachineKind::Tools,
                slots: 2,
                swap_s: 12.0,
                ..feeder.clone()
            },
            Printer {
                name: "One nozzle, swaps by hand".into(),
                kind: MachineKind::ByHand {
                    how: HandSwap::AtPause,
                },
                // A person has to come, pull, load and press out.
                swap_s: 180.0,
                ..feeder.clone()
            },
            Printer {
                name: "Splicer of four strands".into(),
                kind: MachineKind::Splicer,
                swap_s: 0.0,
                ..feeder.clone()
            },
            Printer {
                name: "Mixing nozzle with three feeds".into(),
                kind: MachineKind::Mixing {
                    feeds: 3,
                    least_share: 0.02,
                },
                slots: 8,
                swap_s: 1.0,
                melt: MeltZone {
                    volume_mm3: 70.0,
                    tanks: 1,
                },
                ..feeder.clone()
            },
            Printer {
                name: "Jetting machine, any colour".into(),
                kind: MachineKind::Jetting { is_grey: false },
                bed_mm: [250.0, 250.0, 200.0],
                nozzle_mm: 0.2,
                line_width_mm: 0.2,
                first_layer_mm: 0.1,
                layer_mm: 0.1,
                infill: 1.0,
                swap_s: 0.0,
                materials: BaseMaterial::usual(),
                ..feeder
            },
        ]
    }
}
