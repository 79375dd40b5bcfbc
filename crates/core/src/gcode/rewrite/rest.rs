//! The rest of a file, after a jam or a power cut.

use super::halts::number;
use crate::Problem;
use crate::gcode::reader::{Reader, Told};
use crate::machine::Printer;
use std::fmt::Write;

/// How far above what stands the nozzle goes, mm.
const CLEAR_MM: f64 = 2.0;

/// What of a file was set before a line.
#[derive(Default)]
struct Before {
    nozzle: Vec<(Option<u32>, f64)>,
    bed_c: Option<f64>,
    tool: Option<u32>,
    fan: Option<f64>,
    at: [f64; 3],
    highest_mm: f64,
}

/// A file that goes on from a line: heat, zero of the axes that can be found beside a print, tool, place and modes as they were. After a power
/// cut nobody knows the height any more: the printer waits until a person has brought the nozzle down to the print, and takes that for
/// the height that was reached.
///
/// # Errors
/// Those of [`super::super::read`]; `rest-empty` if nothing is left.
pub fn rest_of(
    text: &str,
    from_line: usize,
    printer: &Printer,
    is_height_lost: bool,
) -> Result<String, Problem> {
    let mut before = Before::default();
    let mut reader = Reader::new(text);
    let mut modes = reader.modes();
    let (mut zero, mut feed_mm) = (reader.zero(), reader.feed_mm());
    for line in reader.by_ref() {
        let line = line?;
        if line.number >= from_line {
            break;
        }
        match line.told {
            Told::Move {
                from, to, feed_mm, ..
            } => {
                before.at = to;
                if feed_mm > 0.0 && (from[0], from[1]) != (to[0], to[1]) {
                    before.highest_mm = before.highest_mm.max(to[2]);
                }
            }
            Told::Select(tool) => before.tool = Some(tool),
            Told::Heat { tool, c, .. } => {
                before.nozzle.retain(|(of, _)| *of != tool);
                before.nozzle.push((tool, c));
            }
            Told::Bed { c, .. } => before.bed_c = Some(c),
            Told::Fan(share) => before.fan = Some(share),
            _ => {}
        }
    }
    // Modes as they were just before: read again up to there.
    let mut again = Reader::new(text);
    while let Some(Ok(line)) = again.next() {
        if line.number >= from_line {
            break;
        }
        (modes, zero, feed_mm) = (again.modes(), again.zero(), again.feed_mm());
    }
    let rest: Vec<&str> = text.lines().skip(from_line.saturating_sub(1)).collect();
    if rest.iter().all(|l| l.trim().is_empty()) {
        return Err(Problem::new(
            "rest-empty",
            "Nothing is left of this file",
            format!("line {from_line}"),
            "It is printed.",
        ));
    }
    let mut out = String::with_capacity(text.len());
    let _ = writeln!(out, "; the rest from line {from_line}\nG21\nG90\nM83");
    if let Some(c) = before.bed_c {
        let _ = writeln!(out, "M140 S{}\nM190 S{}", c.round(), c.round());
    }
    for (tool, c) in &before.nozzle {
        let tool = tool.map_or(String::new(), |t| format!(" T{t}"));
        let _ = writeln!(out, "M109{tool} S{}", c.round());
    }
    let up = (before.highest_mm.max(before.at[2]) + CLEAR_MM).min(printer.bed_mm[2]);
    if is_height_lost {
        let _ = writeln!(
            out,
            "G28 X Y\nM117 Bring the nozzle down to the top of the print, then go on\n{} Bring the nozzle down to the top of the print\nG92 Z{}",
            printer.printing.pause_word,
            number(before.highest_mm)
        );
    }
    let _ = writeln!(out, "G0 Z{} F600", number(up));
    if let Some(tool) = before.tool {
        let _ = writeln!(out, "T{tool}");
    }
    if let Some(share) = before.fan {
        let _ = writeln!(out, "M106 S{}", (255.0 * share).round());
    }
    let [x, y, z] = before.at;
    let _ = writeln!(
        out,
        "G0 X{} Y{} F6000\nG0 Z{} F600",
        number(x),
        number(y),
        number(z)
    );
    if zero != [0.0; 3] {
        let told = [0, 1, 2].map(|i| number(before.at[i] - zero[i]));
        let _ = writeln!(out, "G92 X{} Y{} Z{}", told[0], told[1], told[2]);
    }
    if modes.unit_mm != 1.0 {
        out.push_str("G20\n");
    }
    if modes.is_relative {
        out.push_str("G91\n");
    }
    out.push_str(if modes.feeds_relative {
        "M83\n"
    } else {
        "M82\n"
    });
    if !modes.feeds_relative {
        let _ = writeln!(out, "G92 E{}", number(feed_mm / modes.unit_mm));
    }
    if modes.speed_mm_min > 0.0 {
        let _ = writeln!(out, "G1 F{}", number(modes.speed_mm_min / modes.unit_mm));
    }
    for line in rest {
        out.push_str(line);
        out.push('\n');
    }
    Ok(out)
}
