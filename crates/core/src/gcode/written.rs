//! Looks over a file as it is written, not the plan of it: heights, bed, heat, and whether the nozzle would meet what stands.

use super::reader::{Line, Told, read};
use crate::Problem;
use crate::machine::Printer;
use rustc_hash::FxHashMap;

/// Side of a cell of the height map, mm: less than half of what beads are apart.
const CELL_MM: f64 = 0.15;

/// Cells on a side of a tile.
const TILE: i32 = 64;

/// How far below what stands a nozzle may be without touching it, mm: what rounding can do.
const HAIR_MM: f64 = 0.01;

/// A nozzle this cold melts nothing, °C (common practice, no source).
const MELTS_C: f64 = 150.0;

/// What has been laid so far, as heights over the bed.
#[derive(Default)]
pub struct Standing {
    tiles: FxHashMap<[i32; 2], Vec<f32>>,
}

impl Standing {
    fn cell(p: [f64; 2]) -> ([i32; 2], usize) {
        let c = p.map(|v| (v / CELL_MM).floor() as i32);
        let inner = c.map(|v| v.rem_euclid(TILE));
        (
            c.map(|v| v.div_euclid(TILE)),
            (inner[1] * TILE + inner[0]) as usize,
        )
    }

    fn height(&self, p: [f64; 2]) -> f64 {
        let (tile, cell) = Standing::cell(p);
        self.tiles.get(&tile).map_or(0.0, |t| f64::from(t[cell]))
    }

    fn raise(&mut self, p: [f64; 2], z: f64) {
        let (tile, cell) = Standing::cell(p);
        let tile = self.tiles.entry(tile);
        let tile = tile.or_insert_with(|| vec![0.0; (TILE * TILE) as usize]);
        tile[cell] = tile[cell].max(z as f32);
    }
}

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
    let lines = read(text)?;
    let bed = allowed.printer.bed_mm;
    let mut at: [Option<f64>; 3] = [None; 3];
    // A pass knows its height from the one before.
    let mut found = [false, false, !standing.tiles.is_empty()];
    let has_tools = !allowed.printer.profile().rinses;
    // On one nozzle all tools share its heat.
    let heater = |tool: u32| if has_tools { tool } else { 0 };
    let (mut tool, mut warm): (u32, FxHashMap<u32, f64>) = (0, FxHashMap::default());
    let mut laid: Vec<([f64; 2], f64)> = Vec::new();
    for Line { number, told } in &lines {
        let refuse = |message: String, mend: &str| {
            Err(Problem::new(
                "print-refused",
                message,
                format!("line {number} of the file"),
                mend,
            ))
        };
        match told {
            Told::Move { to, feed_mm, .. } => {
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
                if *feed_mm > 0.0 && warm.get(&heater(tool)).is_none_or(|c| *c < MELTS_C) {
                    return refuse(
                        "A move would feed filament while the nozzle is cold".into(),
                        "Leave heating to Varichrom, or heat before you feed in a passage of your own.",
                    );
                }
                let from = [0, 1, 2].map(|i| at[i].unwrap_or(to[i]));
                let length = (to[0] - from[0]).hypot(to[1] - from[1]);
                let knows = at.iter().all(Option::is_some);
                if length > 0.0 && *feed_mm > 0.0 && !(knows && found == [true; 3]) {
                    return refuse(
                        "Plastic would be laid before the printer knows where it is".into(),
                        "Let the file find the zero of all axes first.",
                    );
                }
                let steps = (length / (0.7 * CELL_MM)).ceil().max(1.0) as usize;
                let lays = *feed_mm > 0.0 && length > 0.0;
                // What this stretch lays is not in its own way.
                if lays || (knows && length > 0.0) {
                    for step in 0..=steps {
                        let t = step as f64 / steps as f64;
                        let p = [0, 1].map(|i| from[i] + t * (to[i] - from[i]));
                        let z = from[2] + t * (to[2] - from[2]);
                        if standing.height(p) > z + HAIR_MM {
                            return refuse(
                                format!(
                                    "The nozzle would go at {:.2} mm through what stands {:.2} mm high at {:.1}, {:.1}",
                                    z,
                                    standing.height(p),
                                    p[0],
                                    p[1]
                                ),
                                "Print it in one file, or let colours change layer by layer.",
                            );
                        }
                        if lays {
                            laid.push((p, z));
                        }
                    }
                }
                for (p, z) in laid.drain(..) {
                    standing.raise(p, z);
                }
                at = to.map(Some);
            }
            Told::Bow => {
                return refuse(
                    "Bows (G2, G3) cannot be looked over".into(),
                    "Write them as straight moves.",
                );
            }
            Told::Select(t) => tool = *t,
            Told::Heat { tool: of, c, .. } => {
                if *c > allowed.hottest_c + 0.5 {
                    return refuse(
                        format!(
                            "{c:.0} °C is hotter than any filament of this print allows, {:.0} °C",
                            allowed.hottest_c
                        ),
                        "Lower it, or correct the spool's temperatures.",
                    );
                }
                warm.insert(heater(of.unwrap_or(tool)), *c);
            }
            Told::Home(which) => {
                for (axis, _) in which.iter().enumerate().filter(|(_, is)| **is) {
                    if axis == 2 && standing.tiles.values().flatten().any(|z| *z > 0.0) {
                        return refuse(
                            "The printer would look for its height where the print stands".into(),
                            "Take G28 Z out of your passage.",
                        );
                    }
                    (at[axis], found[axis]) = (Some(0.0), true);
                }
            }
            Told::Bed { .. } | Told::Fan(_) | Told::Say(_) | Told::Other(_) => {}
        }
    }
    Ok(())
}
