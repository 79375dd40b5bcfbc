//! Places beside the print, and how long a way there takes.

use super::Printer;

/// Height above everything that stands at which things are done that take a while, mm.
pub const CLEAR_MM: f64 = 2.0;

/// Speed of going up and down, mm/s (common practice, no source).
pub const LIFT_MM_S: f64 = 10.0;

/// The box of the bed into which plastic is pressed, where there is a bin: where the maker says, or the back right corner; low and
/// high corner, mm.
pub fn bin(printer: &Printer) -> [f64; 4] {
    const SIDE_MM: f64 = 10.0;
    let corner = [0, 1].map(|i| printer.bed_mm[i] - SIDE_MM - 2.0);
    let [x, y] = printer.printing.bin_at_mm.unwrap_or(corner);
    [x, y, x + SIDE_MM, y + SIDE_MM]
}

/// Where a person can reach the nozzle: in the middle of the front, mm.
pub fn park(printer: &Printer) -> [f64; 2] {
    [0.5 * printer.bed_mm[0], 5.0]
}

/// Time of going to a place so far away and back, each time lifted, s.
pub fn there_and_back_s(printer: &Printer, far_mm: f64) -> f64 {
    let printing = &printer.printing;
    let way_s = printing.leg_s(far_mm, 0.0, printing.travel_mm_s);
    2.0 * (way_s + 2.0 * CLEAR_MM / LIFT_MM_S)
}
