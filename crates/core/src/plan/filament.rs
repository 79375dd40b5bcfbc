//! What a slot prints with.

use crate::colour::{Colour, Hiding, Pigment, blend};
use crate::machine::{Printer, Spool, bed_c};
use crate::rinse::FILAMENT_MM2;

/// What a slot prints with.
#[derive(Debug, Clone, PartialEq)]
pub struct Filament {
    /// Colour and strength.
    pub pigment: Pigment,
    /// How it covers what lies below.
    pub hiding: Hiding,
    /// Plastic it is of, and its nozzle temperatures, °C; none for a slot without a spool and for mixtures.
    pub(super) plastic: Option<(String, [f64; 2])>,
    density_g_cm3: f64,
    price_per_kg: f64,
    section_mm2: f64,
}

/// Density of PLA in g/cm³, for a slot without a spool (NatureWorks Ingeo 4043D data sheet: 1.24; from memory).
const UNKNOWN_DENSITY: f64 = 1.24;

/// Opacity of a slot without a spool: an ordinary opaque filament (common practice, no source).
const UNKNOWN_OPACITY: f64 = 0.92;

impl Filament {
    /// Stands in for a spool that is not there: of a colour, at no price.
    pub(crate) fn unknown(colour: Colour) -> Filament {
        Filament {
            pigment: Pigment {
                colour,
                tinting: 1.0,
            },
            hiding: Hiding {
                colour,
                opacity: UNKNOWN_OPACITY,
            },
            plastic: None,
            density_g_cm3: UNKNOWN_DENSITY,
            price_per_kg: 0.0,
            section_mm2: FILAMENT_MM2,
        }
    }

    /// What a spool prints.
    pub(crate) fn of(spool: &Spool) -> Filament {
        Filament {
            pigment: spool.pigment(),
            hiding: spool.hiding(),
            plastic: Some((spool.material.to_uppercase(), spool.nozzle_c)),
            density_g_cm3: spool.density_g_cm3,
            price_per_kg: spool.price_per_kg,
            section_mm2: spool.section_mm2(),
        }
    }

    /// Several spools by shares of volume that sum to 1.
    pub(crate) fn mixed(parts: &[(&Spool, f64)]) -> Filament {
        let sum =
            |of: &dyn Fn(&Spool) -> f64| -> f64 { parts.iter().map(|(s, w)| w * of(s)).sum() };
        let pigments: Vec<(Pigment, f64)> = parts.iter().map(|(s, w)| (s.pigment(), *w)).collect();
        let colour = Colour::from_linear(blend(&pigments));
        let density_g_cm3 = sum(&|s| s.density_g_cm3);
        Filament {
            pigment: Pigment {
                colour,
                tinting: sum(&|s| s.tinting),
            },
            hiding: Hiding {
                colour,
                opacity: sum(&|s| s.opacity),
            },
            plastic: None,
            density_g_cm3,
            // By mass, not by volume.
            price_per_kg: sum(&|s| s.density_g_cm3 * s.price_per_kg) / density_g_cm3,
            section_mm2: sum(&Spool::section_mm2),
        }
    }

    /// Whether the walls and skins that a printer makes of it, so many times over, hide a colour behind them.
    pub(crate) fn hides(&self, behind: Colour, printer: &Printer, times: f64) -> bool {
        let skins = printer.top_skins.min(printer.bottom_skins);
        let skin_mm = f64::from(skins) * printer.layer_mm;
        let thick_mm = skin_mm.min(f64::from(printer.walls) * printer.line_width_mm);
        let least_mm = self.hiding.least_mm(behind, printer.tolerance);
        least_mm.is_some_and(|mm| mm <= times * thick_mm)
    }

    /// Grams of a volume in mm³.
    pub fn grams(&self, mm3: f64) -> f64 {
        mm3 * self.density_g_cm3 / 1000.0
    }

    /// Temperature of the nozzle, °C: the middle of what its spool says, or of PLA where nothing is known.
    pub fn nozzle_c(&self) -> f64 {
        const UNKNOWN_C: f64 = 205.0;
        let known = self.plastic.as_ref().map(|(_, c)| 0.5 * (c[0] + c[1]));
        known.unwrap_or(UNKNOWN_C)
    }

    /// By how much a nozzle that has printed another is heated or cooled before it prints this one, °C; none for less than is worth a
    /// wait.
    pub(crate) fn wait_c(&self, before: &Filament) -> f64 {
        const WORTH_C: f64 = 0.5;
        let c = (self.nozzle_c() - before.nozzle_c()).abs();
        if c > WORTH_C { c } else { 0.0 }
    }

    /// The hottest it may be, °C: what its spool says, or its own where nothing is known.
    pub fn hottest_c(&self) -> f64 {
        let known = self.plastic.as_ref().map(|(_, c)| c[1]);
        known.unwrap_or_else(|| self.nozzle_c())
    }

    /// Temperature of the bed, °C: what is known of its plastic, or that of PLA.
    pub fn bed_c(&self) -> f64 {
        bed_c(self.plastic.as_ref().map_or("", |(name, _)| name))
    }

    /// Section of its filament, mm².
    pub fn section_mm2(&self) -> f64 {
        self.section_mm2
    }

    pub(super) fn price(&self, grams: f64) -> f64 {
        grams * self.price_per_kg / 1000.0
    }

    /// Length of filament that holds a volume in mm³, mm.
    pub(crate) fn length_mm(&self, mm3: f64) -> f64 {
        mm3 / self.section_mm2
    }

    /// Volume of a length of filament, mm³.
    pub(super) fn volume_mm3(&self, mm: f64) -> f64 {
        mm * self.section_mm2
    }
}
