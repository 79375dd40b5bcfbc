//! Printers: what kind of machine, and the settings it prints with.

use super::MachineKind;
use crate::rinse::MeltZone;
use serde::{Deserialize, Serialize};

/// A printer of some kind, and the settings it prints with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct Printer {
    /// What the maker calls it.
    pub name: String,
    /// What kind of machine it is.
    pub kind: MachineKind,
    /// Where it answers on the network, such as `http://127.0.0.1:7500`; empty if it cannot be asked.
    pub address: String,
    /// Filaments it can tell apart in one job, 1 to 12: slots of a feeder or a splicer, tools, spools put in by hand,
    /// mixtures of a mixing nozzle.
    pub slots: u8,
    /// Printable size in mm: x, y, z.
    pub bed_mm: [f64; 3],
    /// Nozzle bore in mm.
    pub nozzle_mm: f64,
    /// Width of a printed line in mm.
    pub line_width_mm: f64,
    /// Height of the first layer in mm.
    pub first_layer_mm: f64,
    /// Height of every other layer in mm.
    pub layer_mm: f64,
    /// Lines around every outline.
    pub walls: u32,
    /// Solid layers below every upward face.
    pub top_skins: u32,
    /// Solid layers above every downward face.
    pub bottom_skins: u32,
    /// Filled share of the inside, 0 to 1.
    pub infill: f64,
    /// Speed of walls and skins, mm/s.
    pub wall_speed_mm_s: f64,
    /// Speed of infill, mm/s.
    pub infill_speed_mm_s: f64,
    /// Time lost per layer to lifting and travelling, s.
    pub layer_change_s: f64,
    /// Time of a swap without its purge: cutting, pulling, loading, s.
    pub swap_s: f64,
    /// Flow while purging, mm³/s.
    pub purge_mm3_s: f64,
    /// The melt zone of the nozzle.
    pub melt: MeltZone,
    /// CIEDE2000 difference that counts as clean after a swap.
    pub tolerance: f64,
    /// Pressed out after a change of tools, mm³: a tool that stood still has oozed.
    pub prime_mm3: f64,
}

impl Default for Printer {
    /// A generic feeder printer: one 0.4 mm nozzle, four slots, 0.2 mm layers (common practice, no source).
    fn default() -> Self {
        Printer {
            name: "Four-slot feeder, one 0.4 mm nozzle".into(),
            kind: MachineKind::Feeder,
            address: String::new(),
            slots: 4,
            bed_mm: [220.0, 220.0, 240.0],
            nozzle_mm: 0.4,
            line_width_mm: 0.4,
            first_layer_mm: 0.2,
            layer_mm: 0.2,
            walls: 2,
            top_skins: 4,
            bottom_skins: 4,
            infill: 0.15,
            wall_speed_mm_s: 60.0,
            infill_speed_mm_s: 90.0,
            layer_change_s: 2.0,
            swap_s: 35.0,
            purge_mm3_s: 8.0,
            melt: MeltZone {
                volume_mm3: 48.0,
                tanks: 1,
            },
            tolerance: 2.0,
            prime_mm3: 8.0,
        }
    }
}
