//! Settings that decide what is laid: layers, walls, skins, inside, first layer.

use super::rows::*;
use super::{PrintSetting, PrintSettingKind};

/// In the order in which they are shown.
pub(super) const SETTINGS: &[PrintSetting] = &[
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
];
