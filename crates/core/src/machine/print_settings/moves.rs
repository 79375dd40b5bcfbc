//! Settings that decide what holds it up and how it is laid: supports, speeds, travel, heat, words.

use super::rows::*;
use super::{PrintSetting, PrintSettingKind};

/// In the order in which they are shown.
pub(super) const SETTINGS: &[PrintSetting] = &[
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
        ["printing.file_name", WORDS, "Name of the file"],
        PrintSettingKind::Word,
        [
            "How print files are called: {job}, {revision}, {machine}, {printer} and {date} stand for what they say.",
            "Nothing. Passes get their number and slot behind it.",
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
