//! How a printer prints, setting by setting: what each is called, its unit and range, what it does and what it costs, and the ready
//! sets. What is checked, what the drawer shows and the table of docs/print-files.md come from here.

use super::settings::SETTINGS;
use super::{Printer, ReadySet};
use crate::{Problem, figure};
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

const fn number(
    [field, group, name]: [&'static str; 3],
    unit: &'static str,
    (factor, digits): (f64, u8),
    [least, most]: [f64; 2],
    [does, costs]: [&'static str; 2],
) -> PrintSetting {
    PrintSetting {
        field,
        group,
        name,
        kind: PrintSettingKind::Number {
            least,
            most,
            unit,
            factor,
            digits,
        },
        does,
        costs,
    }
}

const fn other(
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
const fn of_printer(index: usize) -> [f64; 2] {
    SETTINGS[index].range
}

const LAYERS: &str = "Layers and lines";
const WALLS: &str = "Walls";
const INSIDE: &str = "Skins and inside";
const FIRST: &str = "First layer and edges";
const SUPPORTS: &str = "What hangs";
const SPEED: &str = "Speed";
const TRAVEL: &str = "Travel";
const HEAT: &str = "Heat and air";
const WORDS: &str = "Words for the machine";

/// The one number that may be left to the plastic.
const BED: &str = "printing.bed_c";

const ONE: (f64, u8) = (1.0, 0);
const TENTH: (f64, u8) = (1.0, 1);
const HUNDREDTH: (f64, u8) = (1.0, 2);
const PERCENT: (f64, u8) = (100.0, 0);

/// All settings of how a printer prints, in the order in which they are shown.
pub const PRINT_SETTINGS: &[PrintSetting] = &[
    number(
        ["layer_mm", LAYERS, "Layer height"],
        "mm",
        HUNDREDTH,
        of_printer(7),
        [
            "How tall a layer is.",
            "Half the height takes twice the layers, and with colours side by side twice the swaps.",
        ],
    ),
    number(
        ["first_layer_mm", LAYERS, "First layer"],
        "mm",
        HUNDREDTH,
        of_printer(6),
        [
            "How tall the first layer is: a taller one forgives a bed that is not level.",
            "Nothing worth telling.",
        ],
    ),
    number(
        ["line_width_mm", LAYERS, "Line width"],
        "mm",
        HUNDREDTH,
        of_printer(5),
        [
            "How wide a bead is laid.",
            "Narrow lines show finer detail and take longer.",
        ],
    ),
    number(
        ["walls", WALLS, "Walls"],
        "lines",
        ONE,
        of_printer(8),
        [
            "Lines along every outline.",
            "Each line is plastic and time around every layer.",
        ],
    ),
    number(
        ["border_walls", WALLS, "Lines along borders"],
        "lines",
        ONE,
        of_printer(9),
        [
            "Lines on either side of a border between colours inside, so that a colour does not end on loose infill.",
            "Each is plastic on both sides of every border.",
        ],
    ),
    other(
        ["printing.walls_outside_in", WALLS, "Outer wall first"],
        PrintSettingKind::Switch,
        [
            "Lays the wall that is seen before those behind it: truer sizes.",
            "Slopes that lean out come out rougher.",
        ],
    ),
    other(
        ["printing.seam", WALLS, "Seam"],
        PrintSettingKind::Choice {
            options: &[
                ("nearest", "where the nozzle is"),
                ("behind", "at the back"),
                ("at", "at a place"),
                ("scattered", "scattered"),
            ],
        },
        [
            "Where a wall begins and ends, which leaves a mark.",
            "Anywhere but the nearest takes a little more travel.",
        ],
    ),
    number(
        ["top_skins", INSIDE, "Top skins"],
        "layers",
        ONE,
        of_printer(10),
        [
            "Solid layers below every upward face.",
            "Each is plastic and time; too few let the inside show.",
        ],
    ),
    number(
        ["bottom_skins", INSIDE, "Bottom skins"],
        "layers",
        ONE,
        of_printer(11),
        [
            "Solid layers above every downward face.",
            "Each is plastic and time.",
        ],
    ),
    other(
        ["printing.skin", INSIDE, "Skins run"],
        PrintSettingKind::Choice {
            options: &[("rows", "in rows"), ("contour", "along the edge")],
        },
        [
            "How solid layers are filled; along the edge suits flat emblems.",
            "Nothing worth telling.",
        ],
    ),
    other(
        ["printing.smooth_tops", INSIDE, "Smooth tops"],
        PrintSettingKind::Switch,
        [
            "Goes over every top once more, close row by close row, with hardly any plastic.",
            "Time: four times that of the skin.",
        ],
    ),
    number(
        ["infill", INSIDE, "Infill"],
        "%",
        PERCENT,
        of_printer(12),
        [
            "Share of the inside that is filled.",
            "More is heavier and takes longer, but takes more purge that nobody sees.",
        ],
    ),
    other(
        ["printing.sparse", INSIDE, "Infill runs"],
        PrintSettingKind::Choice {
            options: &[
                ("rows", "in rows"),
                ("contour", "along the edge"),
                ("gyroid", "as a gyroid"),
            ],
        },
        [
            "How the inside is filled; a gyroid is equally strong in all directions.",
            "A gyroid takes longer on machines that turn slowly.",
        ],
    ),
    number(
        ["printing.first_layer_width", FIRST, "Width of its lines"],
        "%",
        PERCENT,
        [0.8, 1.6],
        [
            "How wide lines of the first layer are, as a share of the line width: wide ones hold better.",
            "Small detail is lost at the bed.",
        ],
    ),
    number(
        [
            "printing.first_layer_flow",
            FIRST,
            "Plastic of the first layer",
        ],
        "%",
        PERCENT,
        [0.8, 1.2],
        [
            "How much of the due plastic the first layer gets.",
            "More presses out at the edges; less holds badly.",
        ],
    ),
    number(
        ["printing.foot_mm", FIRST, "Drawn in at the bed"],
        "mm",
        HUNDREDTH,
        [0.0, 0.5],
        [
            "By how much the first layer is drawn in, since it is pressed wide.",
            "What is narrower than twice of it is lost there.",
        ],
    ),
    number(
        ["printing.skirt_lines", FIRST, "Skirt"],
        "lines",
        ONE,
        [0.0, 50.0],
        [
            "Lines around everything that touch nothing: they show that plastic flows.",
            "A little plastic and time.",
        ],
    ),
    number(
        ["printing.skirt_gap_mm", FIRST, "Gap to the skirt"],
        "mm",
        TENTH,
        [0.0, 50.0],
        ["How far off the skirt lies.", "Room on the bed."],
    ),
    number(
        ["printing.brim_lines", FIRST, "Brim"],
        "lines",
        ONE,
        [0.0, 100.0],
        [
            "Lines that touch the print and hold it on the bed, instead of a skirt.",
            "They have to be cut off.",
        ],
    ),
    number(
        ["printing.brim_gap_mm", FIRST, "Gap to the brim"],
        "mm",
        HUNDREDTH,
        [0.0, 5.0],
        [
            "How far off the brim lies: a hair makes it come off easily.",
            "It holds less.",
        ],
    ),
    number(
        ["printing.prime_line_mm", FIRST, "Priming line"],
        "mm",
        ONE,
        [0.0, 5000.0],
        [
            "Length of the line laid before the print begins; none where it would touch the print.",
            "A little plastic.",
        ],
    ),
    number(
        [
            "printing.prime_at_mm.0",
            FIRST,
            "Priming line, from the left",
        ],
        "mm",
        ONE,
        [0.0, 5000.0],
        [
            "Where the priming line begins, from the left of the bed.",
            "Room on the bed.",
        ],
    ),
    number(
        [
            "printing.prime_at_mm.1",
            FIRST,
            "Priming line, from the front",
        ],
        "mm",
        ONE,
        [0.0, 5000.0],
        [
            "Where the priming line lies, from the front of the bed.",
            "Room on the bed.",
        ],
    ),
    other(
        ["printing.supports", SUPPORTS, "Hold up what hangs"],
        PrintSettingKind::Switch,
        [
            "Lays sparse rows from the bed or the print up to what would hang, of the first colour of each layer. Not for passes.",
            "Plastic and time, and marks where they were.",
        ],
    ),
    number(
        ["printing.support_angle_deg", SUPPORTS, "Sides may lean by"],
        "°",
        ONE,
        [10.0, 85.0],
        [
            "How far from upright a side may lean without being held.",
            "Below 45 ° nearly everything is held.",
        ],
    ),
    number(
        [
            "printing.support_gap_layers",
            SUPPORTS,
            "Free below what is held",
        ],
        "layers",
        ONE,
        [0.0, 10.0],
        [
            "Layers left free, so that supports come off.",
            "More leaves a rougher face.",
        ],
    ),
    number(
        ["printing.support_gap_mm", SUPPORTS, "Free beside the print"],
        "mm",
        HUNDREDTH,
        [0.2, 10.0],
        [
            "How far supports keep off the sides of the print.",
            "More holds less of the edge.",
        ],
    ),
    number(
        ["printing.support_share", SUPPORTS, "Filled"],
        "%",
        PERCENT,
        [0.03, 1.0],
        [
            "Share of supports that is filled; next to what they hold it is 60 %.",
            "Plastic and time.",
        ],
    ),
    number(
        ["wall_speed_mm_s", SPEED, "Walls and skins"],
        "mm/s",
        ONE,
        of_printer(13),
        [
            "How fast walls and skins are laid.",
            "Fast walls ring and round corners.",
        ],
    ),
    number(
        ["printing.outer_wall_speed", SPEED, "Outer wall"],
        "%",
        PERCENT,
        [0.1, 1.0],
        [
            "Speed of the wall that is seen, as a share of that of walls.",
            "Slow is smooth, and takes longer.",
        ],
    ),
    number(
        ["infill_speed_mm_s", SPEED, "Infill"],
        "mm/s",
        ONE,
        of_printer(14),
        [
            "How fast the inside is filled.",
            "Too fast, and it does not hold on.",
        ],
    ),
    number(
        ["printing.first_layer_mm_s", SPEED, "First layer"],
        "mm/s",
        ONE,
        [1.0, 500.0],
        [
            "How fast everything on the first layer is laid.",
            "Slow holds better.",
        ],
    ),
    number(
        [
            "printing.island_mm_s",
            SPEED,
            "Small islands of the first layer",
        ],
        "mm/s",
        ONE,
        [1.0, 500.0],
        [
            "How fast islands under 20 mm² on the first layer are laid.",
            "Slow holds better.",
        ],
    ),
    number(
        ["printing.bridge_mm_s", SPEED, "Bridges"],
        "mm/s",
        ONE,
        [1.0, 500.0],
        [
            "How fast rows that hang between two sides are laid.",
            "Slow ones sag, fast ones tear: try.",
        ],
    ),
    number(
        ["printing.least_layer_s", SPEED, "Least time of a layer"],
        "s",
        ONE,
        [0.0, 600.0],
        [
            "What would be done sooner is slowed down, so that it sets.",
            "Tips and small parts take longer.",
        ],
    ),
    number(
        ["printing.most_flow_mm3_s", SPEED, "Most plastic a second"],
        "mm³/s",
        TENTH,
        [0.5, 200.0],
        [
            "What would need more is slowed down.",
            "More than the nozzle melts leaves gaps.",
        ],
    ),
    number(
        ["printing.acceleration_mm_s2", SPEED, "Acceleration"],
        "mm/s²",
        ONE,
        [50.0, 50_000.0],
        [
            "How fast the machine gets up to speed; what it takes into account for time.",
            "The time is only as true as this.",
        ],
    ),
    number(
        ["printing.junction_mm", SPEED, "Corners may be cut by"],
        "mm",
        (1.0, 3),
        [0.001, 0.5],
        [
            "How far the machine's path may be off in a corner, which sets its speed there; taken into account for time.",
            "The time is only as true as this.",
        ],
    ),
    number(
        ["printing.travel_mm_s", TRAVEL, "Speed"],
        "mm/s",
        ONE,
        [1.0, 500.0],
        [
            "How fast the nozzle goes without laying anything.",
            "Fast ones shake the machine.",
        ],
    ),
    other(
        ["printing.stays_inside", TRAVEL, "Stays inside"],
        PrintSettingKind::Switch,
        [
            "Goes around holes and bays over what is printed, if that is no more than three times as far; then nothing is pulled back.",
            "Longer ways, but fewer strings and marks.",
        ],
    ),
    number(
        ["printing.short_travel_mm", TRAVEL, "Short travel"],
        "mm",
        TENTH,
        [0.0, 50.0],
        [
            "Travel up to this length goes without pulling back.",
            "Too long a one leaves strings.",
        ],
    ),
    number(
        ["printing.retract_mm", TRAVEL, "Pulled back"],
        "mm",
        TENTH,
        [0.0, 15.0],
        [
            "Filament pulled back before travel.",
            "Too much grinds filament, too little strings.",
        ],
    ),
    number(
        ["printing.retract_mm_s", TRAVEL, "Pulled back at"],
        "mm/s",
        ONE,
        [1.0, 200.0],
        [
            "How fast filament is pulled back and given back.",
            "Nothing worth telling.",
        ],
    ),
    number(
        ["printing.wipe_mm", TRAVEL, "Wipe"],
        "mm",
        TENTH,
        [0.0, 10.0],
        [
            "How far the nozzle goes on along what it has just laid, once it has pulled back.",
            "A little time.",
        ],
    ),
    number(
        ["printing.lift_mm", TRAVEL, "Lift"],
        "mm",
        HUNDREDTH,
        [0.0, 10.0],
        [
            "How high the nozzle is lifted for travel that pulls back.",
            "Time at every such travel.",
        ],
    ),
    number(
        ["printing.lift_from_mm", TRAVEL, "Lift from"],
        "mm",
        ONE,
        [0.0, 5000.0],
        [
            "Below this height nothing is lifted.",
            "Nothing worth telling.",
        ],
    ),
    number(
        ["printing.lift_to_mm", TRAVEL, "Lift up to"],
        "mm",
        ONE,
        [0.0, 5000.0],
        [
            "Above this height nothing is lifted.",
            "Nothing worth telling.",
        ],
    ),
    other(
        [
            "printing.lift_over_colours",
            TRAVEL,
            "Lift only over other colours",
        ],
        PrintSettingKind::Switch,
        [
            "Lifts only where the way leads over another colour that is laid already in this layer, so that it is not smeared.",
            "Less time than lifting everywhere.",
        ],
    ),
    number(
        [BED, HEAT, "Bed"],
        "°C",
        ONE,
        [0.0, 150.0],
        [
            "Temperature of the bed.",
            "Each plastic has its own; PLA 60, PETG 75, ABS 100.",
        ],
    ),
    number(
        [
            "printing.standby_c",
            HEAT,
            "A tool that stands is cooler by",
        ],
        "°C",
        ONE,
        [0.0, 150.0],
        [
            "By how much a tool is cooled while another prints.",
            "It has to be heated again, but oozes less.",
        ],
    ),
    number(
        ["printing.fan", HEAT, "Fan"],
        "%",
        PERCENT,
        [0.0, 1.0],
        [
            "How fast the fan runs.",
            "Plastics that shrink crack in much air.",
        ],
    ),
    number(
        ["printing.fan_from_layer", HEAT, "Fan from layer"],
        "",
        ONE,
        [1.0, 1000.0],
        [
            "The first layer that the fan runs on.",
            "Early air makes the first layer come off.",
        ],
    ),
    number(
        ["printing.bridge_fan", HEAT, "Fan over bridges"],
        "%",
        PERCENT,
        [0.0, 1.0],
        [
            "How fast the fan runs while rows hang between two sides.",
            "Nothing worth telling.",
        ],
    ),
    other(
        ["printing.pause_word", WORDS, "Pause"],
        PrintSettingKind::Word,
        [
            "The printer's word for waiting until a person goes on.",
            "Nothing.",
        ],
    ),
    other(
        ["printing.passages.start", WORDS, "After the start"],
        PrintSettingKind::Text,
        [
            "Lines put in when nozzle and bed are hot and all axes are found, before anything is laid.",
            "What they do is yours to answer for; moves are looked over with the rest.",
        ],
    ),
    other(
        ["printing.passages.layer", WORDS, "At every layer"],
        PrintSettingKind::Text,
        ["Lines put in when a layer begins.", "As above."],
    ),
    other(
        ["printing.passages.swap", WORDS, "After every swap"],
        PrintSettingKind::Text,
        [
            "Lines put in when another filament is in, before it is purged.",
            "As above.",
        ],
    ),
    other(
        ["printing.passages.end", WORDS, "Before the end"],
        PrintSettingKind::Text,
        [
            "Lines put in after the last bead, while everything is still hot.",
            "As above.",
        ],
    ),
];

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
    PRINT_SETTINGS
        .iter()
        .filter(|s| s.field.starts_with("printing."))
        .try_for_each(|s| s.check(told.pointer(&pointer(s.field)).unwrap_or(&Value::Null)))
}

/// A printer that prints as another did: settings from that one, what the machine is from this one.
pub fn with_habit(printer: &Printer, habit: &Printer) -> Printer {
    Printer {
        layer_mm: habit.layer_mm,
        first_layer_mm: habit.first_layer_mm,
        line_width_mm: habit.line_width_mm,
        walls: habit.walls,
        border_walls: habit.border_walls,
        top_skins: habit.top_skins,
        bottom_skins: habit.bottom_skins,
        infill: habit.infill,
        wall_speed_mm_s: habit.wall_speed_mm_s,
        infill_speed_mm_s: habit.infill_speed_mm_s,
        printing: habit.printing.clone(),
        ..printer.clone()
    }
}

impl ReadySet {
    /// All of them.
    pub const ALL: [ReadySet; 3] = [ReadySet::Quick, ReadySet::Standard, ReadySet::Fine];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            ReadySet::Quick => "Quick",
            ReadySet::Standard => "Standard",
            ReadySet::Fine => "Fine",
        }
    }

    /// What it is for.
    pub fn does(self) -> &'static str {
        match self {
            ReadySet::Quick => "Tall layers and fast walls: to try a part tonight.",
            ReadySet::Standard => "Layers half as tall as the nozzle is wide.",
            ReadySet::Fine => "Low layers, slow walls: for what stands on a shelf.",
        }
    }

    /// A printer that prints that way: what the machine is stays, and words, temperatures and the seam as well.
    ///
    /// Figures are common practice, no source.
    pub fn of(self, printer: &Printer) -> Printer {
        let usual = Printer::default();
        let nozzle = printer.nozzle_mm;
        // To a hundredth of a mm, as it is typed.
        let mm = |share: f64| (100.0 * share * nozzle).round() / 100.0;
        let mut set = Printer {
            layer_mm: mm(0.5),
            first_layer_mm: mm(0.5),
            line_width_mm: mm(1.0),
            walls: usual.walls,
            border_walls: usual.border_walls,
            top_skins: usual.top_skins,
            bottom_skins: usual.bottom_skins,
            infill: usual.infill,
            wall_speed_mm_s: usual.wall_speed_mm_s,
            infill_speed_mm_s: usual.infill_speed_mm_s,
            ..printer.clone()
        };
        let kept = &printer.printing;
        *set.printing = super::Printing {
            ready: self,
            seam: kept.seam,
            prime_at_mm: kept.prime_at_mm,
            bin_at_mm: kept.bin_at_mm,
            bed_c: kept.bed_c,
            standby_c: kept.standby_c,
            acceleration_mm_s2: kept.acceleration_mm_s2,
            junction_mm: kept.junction_mm,
            retract_mm: kept.retract_mm,
            retract_mm_s: kept.retract_mm_s,
            travel_mm_s: kept.travel_mm_s,
            most_flow_mm3_s: kept.most_flow_mm3_s,
            pause_word: kept.pause_word.clone(),
            passages: kept.passages.clone(),
            ..super::Printing::default()
        };
        match self {
            ReadySet::Standard => {}
            ReadySet::Quick => {
                (set.layer_mm, set.first_layer_mm) = (mm(0.7), mm(0.7));
                (set.top_skins, set.bottom_skins) = (3, 3);
                set.infill = 0.1;
                (set.wall_speed_mm_s, set.infill_speed_mm_s) = (80.0, 120.0);
                set.printing.outer_wall_speed = 0.9;
                set.printing.first_layer_mm_s = 25.0;
            }
            ReadySet::Fine => {
                set.layer_mm = mm(0.3);
                set.walls = 3;
                (set.top_skins, set.bottom_skins) = (7, 6);
                (set.wall_speed_mm_s, set.infill_speed_mm_s) = (45.0, 70.0);
                set.printing.outer_wall_speed = 0.6;
                set.printing.first_layer_mm_s = 18.0;
            }
        }
        set
    }
}
