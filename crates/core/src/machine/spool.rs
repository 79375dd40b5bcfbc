//! Spools on the rack.

use super::material::Material;
use crate::colour::{Colour, Hiding, Pigment};
use serde::{Deserialize, Serialize};

/// A spool on the rack.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
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
    /// Nozzle temperatures it is printed at, °C: lowest and highest.
    #[serde(default = "usual_nozzle_c")]
    pub nozzle_c: [f64; 2],
    /// Diameter of the filament, mm.
    #[serde(default = "usual_diameter_mm")]
    pub diameter_mm: f64,
    /// Whether light goes through it, so that only a part of its own shows its colour.
    #[serde(default)]
    pub is_translucent: bool,
    /// Whether it is off the rack for now.
    #[serde(default)]
    pub is_archived: bool,
}

/// Opacity of an ordinary opaque filament (common practice, no source).
const OPAQUE: f64 = 0.92;

/// Of one that lets light through (common practice, no source).
const TRANSLUCENT: f64 = 0.45;

fn one() -> f64 {
    1.0
}

fn usual_opacity() -> f64 {
    OPAQUE
}

/// Those of PLA.
fn usual_nozzle_c() -> [f64; 2] {
    [190.0, 220.0]
}

fn usual_diameter_mm() -> f64 {
    1.75
}

impl Spool {
    /// The values that are usual for a colour and a plastic; name, price and grams are the maker's. A plastic that is
    /// not known gets the density and the temperatures of PLA.
    ///
    /// Opaque filaments hide the better the darker they are, and tint others more, because dark pigments absorb at any
    /// depth; translucent ones hold about half as much pigment (common practice, no source).
    pub fn usual(colour: Colour, material: &str, is_translucent: bool) -> Spool {
        let known = Material::named(material);
        let lightness = colour.lab()[0] / 100.0;
        let opacity = if is_translucent {
            TRANSLUCENT
        } else {
            0.98 - 0.1 * lightness
        };
        let round = |v: f64| (v * 100.0).round() / 100.0;
        Spool {
            id: String::new(),
            name: String::new(),
            colour,
            material: known.map_or(material.trim(), |m| m.name).to_string(),
            density_g_cm3: known.map_or(1.24, |m| m.density_g_cm3),
            price_per_kg: 0.0,
            left_g: 1000.0,
            tinting: if is_translucent { 0.5 } else { 1.0 },
            opacity: round(opacity),
            nozzle_c: known.map_or_else(usual_nozzle_c, |m| m.nozzle_c),
            diameter_mm: usual_diameter_mm(),
            is_translucent,
            is_archived: false,
        }
    }

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

    /// Grams of a length of its filament in mm.
    pub fn grams_of_length(&self, mm: f64) -> f64 {
        self.grams(mm * self.section_mm2())
    }

    /// Cross-section of its filament, mm².
    pub fn section_mm2(&self) -> f64 {
        0.25 * std::f64::consts::PI * self.diameter_mm * self.diameter_mm
    }

    /// Why its colour or its plastic cannot be had as a colour on the surface of another part; none if it can.
    pub fn needs_own_part(&self) -> Option<&'static str> {
        if self.is_translucent {
            Some("light goes through it, so what lies below shows")
        } else if Material::named(&self.material).is_some_and(|m| m.is_rubbery) {
            Some("it bends, which a skin on something stiff does not")
        } else {
            None
        }
    }
}
