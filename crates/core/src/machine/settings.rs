//! Every number of a printer: what it is called, in which unit it is shown, and from where to where it may go. What is checked,
//! what a refusal says and the table of docs/recipes.md come from here.

use super::Printer;
use super::profile::MOST_SLOTS;

/// One number of a printer.
pub struct Setting {
    /// Field in JSON.
    pub field: &'static str,
    /// What it is, as the maker reads it.
    pub words: &'static str,
    /// Unit it is shown in.
    pub unit: &'static str,
    /// How much of that unit one is.
    pub factor: f64,
    /// Least and most, as it is stored.
    pub range: [f64; 2],
    /// Its value.
    pub read: fn(&Printer) -> f64,
}

const fn setting(
    field: &'static str,
    words: &'static str,
    unit: &'static str,
    range: [f64; 2],
    read: fn(&Printer) -> f64,
) -> Setting {
    Setting {
        field,
        words,
        unit,
        factor: 1.0,
        range,
        read,
    }
}

/// All numbers of a printer.
pub const SETTINGS: [Setting; 37] = [
    setting(
        "slots",
        "number of slots",
        "",
        [1.0, MOST_SLOTS as f64],
        |p| f64::from(p.slots),
    ),
    setting("bed_mm", "width of the bed", "mm", [10.0, 5000.0], |p| {
        p.bed_mm[0]
    }),
    setting("bed_mm", "depth of the bed", "mm", [10.0, 5000.0], |p| {
        p.bed_mm[1]
    }),
    setting(
        "bed_mm",
        "height the printer reaches",
        "mm",
        [10.0, 5000.0],
        |p| p.bed_mm[2],
    ),
    setting("nozzle_mm", "nozzle bore", "mm", [0.1, 3.0], |p| {
        p.nozzle_mm
    }),
    setting("line_width_mm", "line width", "mm", [0.1, 5.0], |p| {
        p.line_width_mm
    }),
    setting(
        "first_layer_mm",
        "height of the first layer",
        "mm",
        [0.02, 3.0],
        |p| p.first_layer_mm,
    ),
    setting("layer_mm", "layer height", "mm", [0.02, 3.0], |p| {
        p.layer_mm
    }),
    setting("walls", "number of walls", "", [0.0, 50.0], |p| {
        f64::from(p.walls)
    }),
    setting(
        "border_walls",
        "number of lines along borders between colours",
        "",
        [0.0, 10.0],
        |p| f64::from(p.border_walls),
    ),
    setting("top_skins", "number of top skins", "", [0.0, 100.0], |p| {
        f64::from(p.top_skins)
    }),
    setting(
        "bottom_skins",
        "number of bottom skins",
        "",
        [0.0, 100.0],
        |p| f64::from(p.bottom_skins),
    ),
    Setting {
        factor: 100.0,
        ..setting("infill", "infill", "%", [0.0, 1.0], |p| p.infill)
    },
    setting(
        "wall_speed_mm_s",
        "speed of walls",
        "mm/s",
        [1.0, 2000.0],
        |p| p.wall_speed_mm_s,
    ),
    setting(
        "infill_speed_mm_s",
        "speed of infill",
        "mm/s",
        [1.0, 2000.0],
        |p| p.infill_speed_mm_s,
    ),
    setting(
        "layer_change_s",
        "time lost on each layer",
        "s",
        [0.0, 600.0],
        |p| p.layer_change_s,
    ),
    setting("swap_s", "swap time", "s", [0.0, 3600.0], |p| p.swap_s),
    setting(
        "purge_mm3_s",
        "flow when purging",
        "mm³/s",
        [0.1, 500.0],
        |p| p.purge_mm3_s,
    ),
    setting("melt.volume_mm3", "melt zone", "mm³", [1.0, 2000.0], |p| {
        p.melt.volume_mm3
    }),
    setting(
        "melt.tanks",
        "number of tanks in series",
        "",
        [1.0, 50.0],
        |p| f64::from(p.melt.tanks),
    ),
    setting(
        "tolerance",
        "difference that counts as clean",
        "ΔE",
        [0.1, 50.0],
        |p| p.tolerance,
    ),
    setting(
        "least_flush_mm3",
        "least that a swap purges; half the melt zone if left out",
        "mm³",
        [0.0, 2000.0],
        Printer::least_flush,
    ),
    setting(
        "prime_mm3",
        "amount pressed out after a change of tools",
        "mm³",
        [0.0, 2000.0],
        |p| p.prime_mm3,
    ),
    setting(
        "ooze_mm3_min",
        "ooze of a tool that stands hot",
        "mm³/min",
        [0.0, 100.0],
        |p| p.ooze_mm3_min,
    ),
    setting(
        "holds",
        "number of spools held at a time; 0 for one in every slot",
        "",
        [0.0, MOST_SLOTS as f64],
        |p| f64::from(p.holds),
    ),
    setting(
        "reload_s",
        "time to put another spool in",
        "s",
        [0.0, 3600.0],
        |p| p.reload_s,
    ),
    setting(
        "heat_c_s",
        "speed of heating and cooling",
        "°C/s",
        [0.05, 100.0],
        |p| p.heat_c_s,
    ),
    setting(
        "duct_radius_mm",
        "reach of the duct around the nozzle",
        "mm",
        [0.0, 500.0],
        |p| p.duct_radius_mm,
    ),
    setting(
        "duct_above_mm",
        "height of the duct above the nozzle's tip",
        "mm",
        [0.1, 500.0],
        |p| p.duct_above_mm,
    ),
    setting(
        "head_radius_mm",
        "reach of the head around the nozzle",
        "mm",
        [0.0, 1000.0],
        |p| p.head_radius_mm,
    ),
    setting(
        "head_above_mm",
        "height of the head above the nozzle's tip",
        "mm",
        [0.1, 1000.0],
        |p| p.head_above_mm,
    ),
    setting(
        "rails_above_mm",
        "height of the rails above the nozzle's tip",
        "mm",
        [0.1, 5000.0],
        |p| p.rails_above_mm,
    ),
    setting(
        "bin_cm3",
        "volume of the bin that takes purge; 0 if nobody knows",
        "cm³",
        [0.0, 100_000.0],
        |p| p.bin_cm3,
    ),
    setting("start_s", "time before a start", "s", [0.0, 7200.0], |p| {
        p.start_s
    }),
    setting(
        "time_factor",
        "pace: real time over the time of speeds and volumes",
        "×",
        [0.2, 10.0],
        |p| p.time_factor,
    ),
    setting(
        "kind.feeds",
        "number of feeds of a mixing nozzle",
        "",
        [2.0, 6.0],
        |p| match p.kind {
            super::MachineKind::Mixing { feeds, .. } => f64::from(feeds),
            _ => 2.0,
        },
    ),
    setting(
        "rinses",
        "number of measured rinses",
        "",
        [0.0, 50.0],
        |p| p.rinses.len() as f64,
    ),
];

/// The table of docs/recipes.md.
pub fn settings_table() -> String {
    let usual = Printer::default();
    let number = |n: f64| format!("{}", (1e6 * n).round() / 1e6);
    let mut text =
        String::from("| field | what | from | to | if left out |\n|---|---|---|---|---|\n");
    for s in SETTINGS
        .iter()
        .filter(|s| s.field != "kind.feeds" && s.field != "rinses")
    {
        let unit = if s.unit.is_empty() || s.factor != 1.0 {
            String::new()
        } else {
            format!(" {}", s.unit)
        };
        text += &format!(
            "| `{}` | {} | {} | {}{unit} | {} |\n",
            s.field,
            s.words,
            number(s.range[0]),
            number(s.range[1]),
            number((s.read)(&usual))
        );
    }
    text
}
