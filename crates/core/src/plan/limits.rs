//! How large a print may be to be planned: told before the work begins, instead of going on for ever.

use crate::Problem;
use crate::geometry::Bounds;
use crate::layers::PrintGrid;
use crate::machine::Printer;

/// Most layers of a print: two metres of 0.1 mm.
const MOST_LAYERS: f64 = 20_000.0;

/// Most cells in all layers together; 2 000 layers over a bed of 450 mm square are about as many.
const MOST_CELLS: f64 = 4e9;

/// Whether a print is of a size that can be planned; `footprint` is the box around it, mm.
///
/// # Errors
/// `plan-too-large`, with the layers it would take.
pub fn check_extent(footprint: &Bounds, printer: &Printer) -> Result<(), Problem> {
    let size = footprint.size();
    if !size.iter().all(|s| s.is_finite()) {
        return Ok(());
    }
    let layers = (size[2] / printer.layer_mm).ceil();
    let grid = PrintGrid::over(footprint, printer.line_width_mm);
    let cells = layers * grid.cells[0] as f64 * grid.cells[1] as f64;
    if layers <= MOST_LAYERS && cells <= MOST_CELLS {
        return Ok(());
    }
    let message = if layers > MOST_LAYERS {
        format!(
            "The print is {:.0} mm tall: {layers:.0} layers; up to {MOST_LAYERS:.0} are planned",
            size[2]
        )
    } else {
        format!(
            "The print is {:.0} by {:.0} by {:.0} mm: {:.1} thousand million places to look at in {layers:.0} layers; up to {:.0} are planned",
            size[0],
            size[1],
            size[2],
            cells / 1e9,
            MOST_CELLS / 1e9
        )
    };
    Err(Problem::new(
        "plan-too-large",
        message,
        "size",
        "Look at its unit and size in Intake, or print thicker layers.",
    ))
}
