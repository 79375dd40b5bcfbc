//! What is laid around the first layer: brim, skirt, priming line.

use super::bead::{Bead, BeadKind};
use crate::machine::Printer;
use crate::shapes::Area;

/// What is laid beside something keeps so far off it, mm.
const BESIDE_MM: f64 = 1.0;

/// A brim around the first layer of a piece, from outside in.
pub(super) fn brim(ground: &Area, printer: &Printer) -> Vec<Bead> {
    let printing = &printer.printing;
    around(
        ground,
        BeadKind::Brim,
        printing.brim_lines,
        printing.brim_gap_mm,
        printer,
    )
}

/// A skirt around a box.
pub(super) fn skirt((low, high): ([f64; 2], [f64; 2]), printer: &Printer) -> Vec<Bead> {
    let printing = &printer.printing;
    // A brim shows as well that plastic flows.
    if printing.brim_lines > 0 {
        return Vec::new();
    }
    let all = Area::rectangle(low, high);
    around(
        &all,
        BeadKind::Skirt,
        printing.skirt_lines,
        printing.skirt_gap_mm,
        printer,
    )
}

fn around(area: &Area, kind: BeadKind, lines: u32, gap_mm: f64, printer: &Printer) -> Vec<Bead> {
    let line_mm = printer.line_width_mm;
    let ring = |r: &Vec<[f64; 2]>| Bead::even(kind, r, line_mm, true);
    (0..lines)
        .rev()
        .flat_map(|line| {
            let off = gap_mm + (f64::from(line) + 0.5) * line_mm;
            let rings = area.offset(off).rings_mm();
            rings.iter().map(ring).collect::<Vec<_>>()
        })
        .collect()
}

/// The priming line, in the bed's frame; none if it would touch anything that is laid on the bed: `low` and `high` of all that.
pub(super) fn prime(printer: &Printer, low: [f64; 2], high: [f64; 2]) -> Option<Bead> {
    let [left, front] = printer.printing.prime_at_mm;
    // As far from the right as the usual one from the left.
    const RIGHT_MM: f64 = 5.0;
    let room = printer.bed_mm[0] - left - RIGHT_MM;
    let long = printer.printing.prime_line_mm.min(room);
    let line_mm = printer.line_width_mm;
    let reach = 0.5 * line_mm + BESIDE_MM;
    let is_clear = low[1] > front + reach
        || high[1] < front - reach
        || low[0] > left + long + reach
        || high[0] < left - reach;
    (long > 0.0 && front < printer.bed_mm[1] && is_clear).then(|| {
        let ends = [[left, front], [left + long, front]];
        Bead::even(BeadKind::Prime, &ends, line_mm, false)
    })
}
