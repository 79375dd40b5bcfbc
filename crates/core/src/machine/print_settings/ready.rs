//! Ready sets, and how the maker had it last.

use crate::machine::{Printer, Printing, ReadySet};

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
        let nozzle = printer.nozzle_mm;
        // To a hundredth of a mm, as it is typed.
        let mm = |share: f64| (100.0 * share * nozzle).round() / 100.0;
        let mut set = Printer {
            layer_mm: mm(0.5),
            first_layer_mm: mm(0.5),
            line_width_mm: mm(1.0),
            ..with_habit(printer, &Printer::default())
        };
        let kept = &printer.printing;
        *set.printing = Printing {
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
            file_name: kept.file_name.clone(),
            passages: kept.passages.clone(),
            ..Printing::default()
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
