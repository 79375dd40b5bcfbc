//! How a printer prints, setting by setting: what each is called, its unit and range, what it does and what it costs, and the ready
//! sets. What is checked and what the drawer shows come from here.

mod moves;
mod ready;
mod rows;
mod shape;

pub use ready::with_habit;

use super::Printer;
use crate::{Problem, figure};
use rows::BED;
use serde::Serialize;
use serde_json::{Value, json};

/// What a setting is set to.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[serde(tag = "is", rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum PrintSettingKind {
    /// A number from one value to another, as it is stored.
    Number {
        /// Least.
        least: f64,
        /// Most.
        most: f64,
        /// Unit it is shown in.
        unit: &'static str,
        /// How much of that unit one is.
        factor: f64,
        /// Digits behind the point that it is shown with.
        digits: u8,
    },
    /// One of a few.
    Choice {
        /// Each as it is stored, and in words.
        options: &'static [(&'static str, &'static str)],
    },
    /// On or off.
    Switch,
    /// One word.
    Word,
    /// Lines of text.
    Text,
}

/// One setting.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct PrintSetting {
    /// Field of the printer in JSON; `printing.` before those of how it prints.
    pub field: &'static str,
    /// What it belongs to.
    pub group: &'static str,
    /// What it is called.
    pub name: &'static str,
    /// What it is set to.
    pub kind: PrintSettingKind,
    /// What it does.
    pub does: &'static str,
    /// What more of it costs.
    pub costs: &'static str,
}

/// All settings of how a printer prints, in the order in which they are shown.
pub fn print_settings() -> impl Iterator<Item = &'static PrintSetting> {
    shape::SETTINGS.iter().chain(moves::SETTINGS)
}

/// Where a field stands in the JSON of a printer.
fn pointer(field: &str) -> String {
    format!("/{}", field.replace('.', "/"))
}

/// A printer as JSON with all its fields.
fn told(printer: &Printer) -> Value {
    let mut told = json!(printer);
    told["printing"] = json!(printer.printing);
    told
}

impl PrintSetting {
    /// Its value.
    pub fn value(&self, printer: &Printer) -> Value {
        told(printer)
            .pointer(&pointer(self.field))
            .cloned()
            .unwrap_or_default()
    }

    /// A printer with another value; checked when it is put to use.
    ///
    /// # Errors
    /// `value-unusable` for what the field cannot hold.
    pub fn set(&self, printer: &Printer, value: Value) -> Result<Printer, Problem> {
        let mut told = told(printer);
        if let Some(place) = told.pointer_mut(&pointer(self.field)) {
            *place = value;
        } else {
            // Left out as long as it is left to the plastic.
            let name = self.field.trim_start_matches("printing.");
            told["printing"][name] = value;
        }
        serde_json::from_value(told).map_err(|_| {
            Problem::new(
                "value-unusable",
                format!("“{}” cannot be set to this", self.name),
                self.field,
                "Choose another value.",
            )
        })
    }

    /// A value in words, with its unit.
    pub fn shown(&self, value: &Value) -> String {
        match (self.kind, value) {
            (_, Value::Null) => "by the plastic".into(),
            (PrintSettingKind::Number { unit, factor, .. }, value) => {
                let number = value.as_f64().unwrap_or_default();
                let rounded = (1e6 * factor * number).round() / 1e6;
                format!("{} {unit}", figure(rounded)).trim_end().to_string()
            }
            (PrintSettingKind::Switch, Value::Bool(is_on)) => {
                if *is_on { "on" } else { "off" }.into()
            }
            (PrintSettingKind::Choice { options }, value) => {
                let key = value
                    .get("is")
                    .unwrap_or(value)
                    .as_str()
                    .unwrap_or_default();
                let found = options.iter().find(|(k, _)| *k == key);
                found.map_or(key, |(_, words)| words).to_string()
            }
            (_, value) => value.as_str().unwrap_or_default().to_string(),
        }
    }

    /// Checks a value.
    fn check(&self, value: &Value) -> Result<(), Problem> {
        let PrintSettingKind::Number {
            least,
            most,
            unit,
            factor,
            ..
        } = self.kind
        else {
            return Ok(());
        };
        // What is no number has none in JSON; only the bed may be left to the plastic.
        let is_left = value.is_null() && self.field == BED;
        let value = value.as_f64().unwrap_or(f64::NAN);
        if is_left || (least..=most).contains(&value) {
            return Ok(());
        }
        let shown = |v: f64| {
            let unit = if unit == "lines" || unit == "layers" {
                ""
            } else {
                unit
            };
            format!("{} {unit}", figure(factor * v))
                .trim_end()
                .to_string()
        };
        Err(Problem::new(
            "value-out-of-range",
            format!(
                "{} cannot be “{}” ({})",
                shown(value),
                self.name,
                self.group
            ),
            self.field.trim_start_matches("printing."),
            format!("Type a value from {} to {}.", shown(least), shown(most)),
        ))
    }
}

/// Checks how a printer prints.
pub(super) fn check(printer: &Printer) -> Result<(), Problem> {
    let told = told(printer);
    print_settings()
        .filter(|s| s.field.starts_with("printing."))
        .try_for_each(|s| s.check(told.pointer(&pointer(s.field)).unwrap_or(&Value::Null)))
}
