//! Values of printers and spools that cannot be worked with.

use super::kind::MOST_SLOTS;
use super::rack_files::is_formula;
use super::{MachineKind, Printer, Spool};
use crate::Problem;

fn range(field: &str, value: f64, low: f64, high: f64) -> Result<(), Problem> {
    if value.is_finite() && (low..=high).contains(&value) {
        return Ok(());
    }
    Err(Problem::new(
        "value-out-of-range",
        format!("{value} is outside what {field} can be"),
        field,
        format!("Type a value from {low} to {high}."),
    ))
}

impl Printer {
    /// The first value that is outside its range, as a problem that names the field and the range.
    pub fn check(&self) -> Result<(), Problem> {
        range("slots", f64::from(self.slots), 1.0, f64::from(MOST_SLOTS))?;
        for (axis, size) in ["x", "y", "z"].iter().zip(self.bed_mm) {
            range(&format!("bed size {axis}"), size, 10.0, 5000.0)?;
        }
        range("nozzle_mm", self.nozzle_mm, 0.1, 3.0)?;
        range("line_width_mm", self.line_width_mm, 0.1, 5.0)?;
        range("first_layer_mm", self.first_layer_mm, 0.02, 3.0)?;
        range("layer_mm", self.layer_mm, 0.02, 3.0)?;
        range("walls", f64::from(self.walls), 0.0, 50.0)?;
        range("top_skins", f64::from(self.top_skins), 0.0, 100.0)?;
        range("bottom_skins", f64::from(self.bottom_skins), 0.0, 100.0)?;
        range("infill", self.infill, 0.0, 1.0)?;
        range("wall_speed_mm_s", self.wall_speed_mm_s, 1.0, 2000.0)?;
        range("infill_speed_mm_s", self.infill_speed_mm_s, 1.0, 2000.0)?;
        range("layer_change_s", self.layer_change_s, 0.0, 600.0)?;
        range("swap_s", self.swap_s, 0.0, 3600.0)?;
        range("purge_mm3_s", self.purge_mm3_s, 0.1, 500.0)?;
        range("melt volume_mm3", self.melt.volume_mm3, 1.0, 2000.0)?;
        range("melt tanks", f64::from(self.melt.tanks), 1.0, 50.0)?;
        range("tolerance", self.tolerance, 0.1, 50.0)?;
        range("prime_mm3", self.prime_mm3, 0.0, 2000.0)?;
        range("ooze_mm3_min", self.ooze_mm3_min, 0.0, 100.0)?;
        range("holds", f64::from(self.holds), 0.0, 16.0)?;
        range("reload_s", self.reload_s, 0.0, 3600.0)?;
        range("heat_c_s", self.heat_c_s, 0.05, 100.0)?;
        range("start_s", self.start_s, 0.0, 7200.0)?;
        range("time_factor", self.time_factor, 0.2, 10.0)?;
        if self.rinses.len() > 50 {
            range("measured rinses", self.rinses.len() as f64, 0.0, 50.0)?;
        }
        if let MachineKind::Mixing { feeds, least_share } = self.kind {
            range("feeds", f64::from(feeds), 2.0, 6.0)?;
            range("least_share", least_share, 0.0, 0.9 / f64::from(feeds))?;
        }
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
            range("the nozzle temperature", degrees, 100.0, 500.0)?;
        }
        if self.nozzle_c[0] > self.nozzle_c[1] {
            let [low, high] = self.nozzle_c;
            return Err(Problem::new(
                "temperatures-upside-down",
                format!("The lowest temperature, {low} °C, is above the highest, {high} °C"),
                "nozzle_c",
                "Swap the two.",
            ));
        }
        range("diameter_mm", self.diameter_mm, 0.5, 5.0)?;
        range("density_g_cm3", self.density_g_cm3, 0.5, 10.0)?;
        range("price_per_kg", self.price_per_kg, 0.0, 100_000.0)?;
        range("left_g", self.left_g, 0.0, 100_000.0)?;
        range("tinting", self.tinting, 0.01, 100.0)?;
        range("opacity", self.opacity, 0.02, 0.9999)
    }
}
