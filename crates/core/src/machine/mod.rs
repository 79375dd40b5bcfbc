//! Printers, spools and materials.

mod check;

use crate::colour::{Colour, Hiding, Pigment};
use crate::rinse::{FILAMENT_MM2, MeltZone};
use serde::{Deserialize, Serialize};

/// A printer with one nozzle and a feeder of several slots, and the settings it prints with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct Printer {
    /// What the maker calls it.
    pub name: String,
    /// Slots of the feeder, 1 to 12.
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
}

impl Default for Printer {
    /// A generic feeder printer: one 0.4 mm nozzle, four slots, 0.2 mm layers (common practice, no source).
    fn default() -> Self {
        Printer {
            name: "Four-slot feeder, one 0.4 mm nozzle".into(),
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
        }
    }
}

/// A spool on the rack.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct Spool {
    /// Stable name for edits and recipes, such as `chalk-pla`.
    pub id: String,
    /// What the maker calls it.
    pub name: String,
    /// Colour of the printed plastic.
    pub colour: Colour,
    /// Material, such as PLA.
    pub material: String,
    /// Density in g/cm³.
    pub density_g_cm3: f64,
    /// Price per kilogram, in the maker's currency.
    pub price_per_kg: f64,
    /// Grams left.
    pub left_g: f64,
    /// Tinting strength; 1 is ordinary.
    #[serde(default = "one")]
    pub tinting: f64,
    /// How well it hides: luminance of a layer of 1 mm on black as a share of that on white, above 0 and below 1.
    #[serde(default = "usual_opacity")]
    pub opacity: f64,
}

/// Opacity of an ordinary opaque filament (common practice, no source).
fn usual_opacity() -> f64 {
    0.92
}

fn one() -> f64 {
    1.0
}

impl Spool {
    /// The spool's filament as a pigment.
    pub fn pigment(&self) -> Pigment {
        Pigment {
            colour: self.colour,
            tinting: self.tinting,
        }
    }

    /// The spool's filament as a layer over something else.
    pub fn hiding(&self) -> Hiding {
        Hiding {
            colour: self.colour,
            opacity: self.opacity,
        }
    }

    /// Grams of a volume in mm³.
    pub fn grams(&self, mm3: f64) -> f64 {
        mm3 * self.density_g_cm3 / 1000.0
    }

    /// Price of a number of grams.
    pub fn price(&self, grams: f64) -> f64 {
        grams * self.price_per_kg / 1000.0
    }
}

/// Length in mm of 1.75 mm filament that holds a volume in mm³.
pub fn filament_mm(mm3: f64) -> f64 {
    mm3 / FILAMENT_MM2
}
