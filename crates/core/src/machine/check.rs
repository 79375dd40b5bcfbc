//! Values of printers and spools that cannot be worked with.

use super::rack_files::is_formula;
use super::settings::{SETTINGS, Setting};
use super::{BaseMaterial, MachineKind, Printer, Printing, Seam, Spool};
use crate::{Problem, figure};

fn range(field: &str, words: &str, value: f64, low: f64, high: f64) -> Result<(), Problem> {
    if value.is_finite() && (low..=high).contains(&value) {
        return Ok(());
    }
    Err(Problem::new(
        "value-out-of-range",
        format!("{} cannot be {words}", figure(value)),
        field,
        format!("Type a value from {} to {}.", figure(low), figure(high)),
    ))
}

impl Printer {
    /// The first value that is outside its range, as a problem that names the field and the range.
    pub fn check(&self) -> Result<(), Problem> {
        for setting in &SETTINGS {
            let Setting {
                unit,
                factor,
                range,
                ..
            } = setting;
            let shown = |v: f64| {
                format!("{} {unit}", figure(factor * v))
                    .trim_end()
                    .to_string()
            };
            let value = (setting.read)(self);
            if value.is_finite() && (range[0]..=range[1]).contains(&value) {
                continue;
            }
            let words = setting.words.split([';', ':']).next().unwrap_or_default();
            return Err(Problem::new(
                "value-out-of-range",
                format!("{} cannot be the {words}", shown(value)),
                setting.field,
                format!(
                    "Type a value from {} to {}.",
                    shown(range[0]),
                    shown(range[1])
                ),
            ));
        }
        if let MachineKind::Mixing { feeds, least_share } = self.kind {
            let most = 0.9 / f64::from(feeds);
            range(
                "least_share",
                "the least share of a feed",
                least_share,
                0.0,
                most,
            )?;
        }
        BaseMaterial::check(&self.materials)?;
        if self.sheet.chars().count() > 60 || self.sheet.contains(char::is_control) {
            return Err(Problem::new(
                "text-unusable",
                "The sheet on the bed cannot be called this",
                "sheet",
                "Use up to 60 letters and digits.",
            ));
        }
        super::print_settings::check(self)?;
        self.printing.check()?;
        let is_address = self.address.is_empty()
            || (self.address.len() <= 200
                && self
                    .address
                    .strip_prefix("http://")
                    .is_some_and(|rest| !rest.is_empty() && !rest.contains(char::is_whitespace)));
        if !is_address {
            return Err(Problem::new(
                "address-unusable",
                "This address cannot be asked",
                "address",
                "Write it like http://127.0.0.1:7500, or leave it empty.",
            ));
        }
        Ok(())
    }
}

impl Printing {
    /// The same for what of how it prints is no number of its own.
    fn check(&self) -> Result<(), Problem> {
        self.passages.check()?;
        super::file_names::check(&self.file_name)?;
        for place in self.bin_at_mm.into_iter().flatten() {
            range("bin_at_mm", "a place of the bin", place, 0.0, 5000.0)?;
        }
        if let Seam::At { at } = self.seam {
            for place in at {
                range("seam", "a place of the seam", place, -10_000.0, 10_000.0)?;
            }
        }
        let is_word = (2..=40).contains(&self.pause_word.len())
            && self
                .pause_word
                .starts_with(|c: char| c.is_ascii_alphabetic())
            && self
                .pause_word
                .chars()
                .all(|c| c.is_ascii_alphanumeric() || c == '_');
        match is_word {
            true => Ok(()),
            false => Err(Problem::new(
                "pause-word-unusable",
                "This is no word that a printer knows",
                "pause_word",
                "Type the printer's word for a pause, such as M0.",
            )),
        }
    }
}

impl Spool {
    /// The first value that is outside its range, as a problem that names the field and the range.
    pub fn check(&self) -> Result<(), Problem> {
        if self.id.trim().is_empty() || self.name.trim().is_empty() {
            return Err(Problem::new(
                "name-empty",
                "A spool needs a name",
                "name",
                "Type a name.",
            ));
        }
        for (field, text) in [
            ("id", &self.id),
            ("name", &self.name),
            ("material", &self.material),
        ] {
            if is_formula(text) || text.chars().count() > 100 || text.contains(char::is_control) {
                return Err(Problem::new(
                    "text-unusable",
                    format!("The {field} of a spool cannot be this"),
                    field,
                    "Use up to 100 letters and digits; do not begin with =, +, - or @.",
                ));
            }
        }
        if self.material.trim().is_empty() {
            return Err(Problem::new(
                "material-empty",
                "A spool needs a material",
                "material",
                "Type one, such as PLA.",
            ));
        }
        for degrees in self.nozzle_c {
            range(
                "nozzle_c",
                "a nozzle temperature in °C",
                degrees,
                100.0,
                500.0,
            )?;
        }
        if self.nozzle_c[0] > self.nozzle_c[1] {
            let [low, high] = self.nozzle_c;
            return Err(Problem::new(
                "temperatures-upside-down",
                format!(
                    "The lowest temperature, {} °C, is above the highest, {} °C",
                    figure(low),
                    figure(high)
                ),
                "nozzle_c",
                "Swap the two.",
            ));
        }
        range(
            "diameter_mm",
            "the diameter of filament in mm",
            self.diameter_mm,
            0.5,
            5.0,
        )?;
        range(
            "density_g_cm3",
            "the density of plastic in g/cm³",
            self.density_g_cm3,
            0.5,
            10.0,
        )?;
        range(
            "price_per_kg",
            "the price of a kilogram",
            self.price_per_kg,
            0.0,
            100_000.0,
        )?;
        range(
            "left_g",
            "the grams left on a spool",
            self.left_g,
            0.0,
            100_000.0,
        )?;
        range("tinting", "the tinting strength", self.tinting, 0.01, 100.0)?;
        range(
            "opacity",
            "the opacity as a share of 1",
            self.opacity,
            0.02,
            0.9999,
        )
    }
}
