//! Looks over a file as it is written, not the plan of it: heights, bed, heat, and whether the nozzle would meet what stands.

use super::reader::{Line, Reader, Told, check_is_text};
use super::standing::Standing;
use crate::Problem;
use crate::machine::Printer;
use rustc_hash::FxHashMap;

/// How far a move may end off the bed, mm: what rounding can do.
const HAIR_MM: f64 = 0.01;

/// A nozzle this cold melts nothing, °C (common practice, no source).
pub const MELTS_C: f64 = 150.0;

/// What a printer and its filaments allow.
pub struct Allowed<'a> {
    /// The printer.
    pub printer: &'a Printer,
    /// The hottest that any filament of the print is printed at, °C.
    pub hottest_c: f64,
}

/// Refuses a file that would do harm. `standing`: what earlier files of the same print have laid, to which this one's is added.
///
/// # Errors
/// `print-refused` with the line, and what to do; `gcode-unreadable`.
///
/// # Cost
/// Linear in the length of the moves.
pub fn check_written(
    text: &str,
    allowed: &Allowed<'_>,
    standing: &mut Standing,
) -> Result<(), Problem> {
    check_is_text(text)?;
    let (bed, head) = (allowed.printer.bed_mm, allowed.printer.head());
    // Whether it is known where the nozzle is: axis by axis after looking for zero, altogether after the first move.
    let (mut homed, mut has_moved) = ([false; 3], false);
    // A pass knows its height from the one before.
    let mut found = [false, false, standing.highest_mm() > 0.0];
    let has_tools = !allowed.printer.profile().rinses;
    // On one nozzle all tools share its heat.
    let heater = |tool: u32| if has_tools { tool } else { 0 };
    let (mut tool, mut warm): (u32, FxHashMap<u32, f64>) = (0, FxHashMap::default());
    for line in Reader::new(text) {
        let Line { number, told } = line?;
        let refuse = |message: String, mend: &str| {
            Err(Problem::new(
                "print-refused",
                message,
                format!("line {number} of the file"),
                mend,
            ))
        };
        match told {
            Told::Move {
                from, to, feed_mm, ..
            } => {
                let is_on = (0..3)
                    .all(|i| to[i].is_finite() && to[i] >= -HAIR_MM && to[i] <= bed[i] + HAIR_MM);
                if !is_on {
                    return refuse(
                        format!(
                            "A move would go to {:.1}, {:.1}, {:.1} mm, off the bed of {:.0} by {:.0} by {:.0} mm",
                            to[0], to[1], to[2], bed[0], bed[1], bed[2]
                        ),
                        "Print fewer pieces, a narrower brim, or turn the model.",
                    );
                }
                if feed_mm > 0.0 && warm.get(&heater(tool)).is_none_or(|c| *c < MELTS_C) {
                    return refuse(
                        "A move would feed filament while the nozzle is cold".into(),
                        "Leave heating to Varichrom, or heat before you feed in a passage of your own.",
                    );
                }
                let knows = has_moved || homed == [true; 3];
                let from = [0, 1, 2].map(|i| match has_moved || homed[i] {
                    true => from[i],
                    false => to[i],
                });
                let length = (to[0] - from[0]).hypot(to[1] - from[1]);
                if length > 0.0 && feed_mm > 0.0 && !(knows && found == [true; 3]) {
                    return refuse(
                        "Plastic would be laid before the printer knows where it is".into(),
                        "Let the file find the zero of all axes first.",
                    );
                }
                let lays = feed_mm > 0.0 && length > 0.0;
                let ([x0, y0, _], [x1, y1, _]) = (from, to);
                // What this stretch lays is not in its own way, and straight up nothing is.
                if lays || (knows && (length > 0.0 || to[2] < from[2])) {
                    let z = [from[2], to[2]];
                    if let Some((p, high)) = standing.meets([x0, y0], [x1, y1], z) {
                        return refuse(
                            format!(
                                "The nozzle would go at {:.2} mm through what stands {high:.2} mm high at {:.1}, {:.1}",
                                z[0].min(z[1]),
                                p[0],
                                p[1]
                            ),
                            "Print it in one file, or let colours change layer by layer.",
                        );
                    }
                    if let Some(met) = standing.meets_head([x0, y0], [x1, y1], z, &head) {
                        return refuse(
                            format!(
                                "At {:.1} mm {} would meet what stands {:.1} mm high at {:.0}, {:.0}",
                                z[0].min(z[1]),
                                met.what,
                                met.high_mm,
                                met.at[0],
                                met.at[1]
                            ),
                            "Print it in one file, keep what stands further apart, or correct the size of the head (Load).",
                        );
                    }
                    if lays {
                        standing.lay([x0, y0], [x1, y1], z);
                    }
                }
                has_moved = true;
            }
            Told::Select(t) => tool = t,
            Told::Heat { tool: of, c, .. } => {
                if c > allowed.hottest_c + 0.5 {
                    return refuse(
                        format!(
                            "{c:.0} °C is hotter than any filament of this print allows, {:.0} °C",
                            allowed.hottest_c
                        ),
                        "Lower it, or correct the spool's temperatures.",
                    );
                }
                warm.insert(heater(of.unwrap_or(tool)), c);
            }
            Told::Home(which) => {
                for (axis, _) in which.iter().enumerate().filter(|(_, is)| **is) {
                    if axis == 2 && standing.highest_mm() > 0.0 {
                        return refuse(
                            "The printer would look for its height where the print stands".into(),
                            "Take G28 Z out of your passage.",
                        );
                    }
                    (homed[axis], found[axis]) = (true, true);
                }
            }
            Told::Bed { .. }
            | Told::Fan(_)
            | Told::Say(_)
            | Told::Pause(_)
            | Told::Dwell(_)
            | Told::OwnPull { .. }
            | Told::Other(_) => {}
        }
    }
    Ok(())
}
