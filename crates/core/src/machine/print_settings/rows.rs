//! How a row of the table of settings is written: groups, units, ranges.

use super::{PrintSetting, PrintSettingKind};
use crate::machine::settings::SETTINGS;

pub(super) const fn number(
    names: [&'static str; 3],
    unit: &'static str,
    (factor, digits): (f64, u8),
    [least, most]: [f64; 2],
    told: [&'static str; 2],
) -> PrintSetting {
    let kind = PrintSettingKind::Number {
        least,
        most,
        unit,
        factor,
        digits,
    };
    other(names, kind, told)
}

pub(super) const fn other(
    [field, group, name]: [&'static str; 3],
    kind: PrintSettingKind,
    [does, costs]: [&'static str; 2],
) -> PrintSetting {
    PrintSetting {
        field,
        group,
        name,
        kind,
        does,
        costs,
    }
}

/// The range of a number of the printer that stands in [`SETTINGS`].
pub(super) const fn of_printer(index: usize) -> [f64; 2] {
    SETTINGS[index].range
}

pub(super) const LAYERS: &str = "Layers and lines";
pub(super) const WALLS: &str = "Walls";
pub(super) const INSIDE: &str = "Skins and inside";
pub(super) const FIRST: &str = "First layer and edges";
pub(super) const SUPPORTS: &str = "What hangs";
pub(super) const SPEED: &str = "Speed";
pub(super) const TRAVEL: &str = "Travel";
pub(super) const HEAT: &str = "Heat and air";
pub(super) const WORDS: &str = "Words for the machine";

/// The one number that may be left to the plastic.
pub(super) const BED: &str = "printing.bed_c";

pub(super) const ONE: (f64, u8) = (1.0, 0);
pub(super) const TENTH: (f64, u8) = (1.0, 1);
pub(super) const HUNDREDTH: (f64, u8) = (1.0, 2);
pub(super) const PERCENT: (f64, u8) = (100.0, 0);
