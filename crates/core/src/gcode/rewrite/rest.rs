//! The rest of a file, after a jam or a power cut.

use super::Seen;
use super::frame::{Frame, number};
use crate::Problem;
use crate::gcode::reader::{Reader, Told};
use crate::machine::{CLEAR_MM, Printer};
use std::fmt::Write;

/// What of a machine was set before a line.
#[derive(Default)]
struct Set {
    nozzle: Vec<(Option<u32>, f64)>,
    bed_c: Option<f64>,
    tool: Option<u32>,
    fan: Option<f64>,
}

impl Set {
    fn after(&mut self, told: &Told) {
        match *told {
            Told::Select(tool) => self.tool = Some(tool),
            Told::Heat { tool, c, .. } => {
                self.nozzle.retain(|(of, _)| *of != tool);
                self.nozzle.push((tool, c));
            }
            Told::Bed { c, .. } => self.bed_c = Some(c),
            Told::Fan(share) => self.fan = Some(share),
            _ => {}
        }
    }
}

/// A file that goes on from a line: heat, tool, fan, place and modes as they were. After a power cut nobody knows the height any more:
/// the printer finds the zero of the other axes, waits until a person has brought the nozzle down to the print, and takes that for the
/// height that was reached.
///
/// # Errors
/// Those of [`super::super::read`]; `rest-empty` if nothing is left.
pub fn rest_of(
    text: &str,
    from_line: usize,
    printer: &Printer,
    is_height_lost: bool,
) -> Result<String, Problem> {
    let (mut seen, mut set) = (Seen::default(), Set::default());
    let done = from_line.saturating_sub(1);
    let done: usize = text.split_inclusive('\n').take(done).map(str::len).sum();
    let (done, rest) = text.split_at(done);
    let mut reader = Reader::new(done);
    for line in reader.by_ref() {
        let line = line?;
        seen.after(&line);
        set.after(&line.told);
    }
    // Lines that tell a machine nothing may still say how numbers are meant, down to the last of them.
    let frame = Frame::of(&reader);
    if rest.trim().is_empty() {
        return Err(Problem::new(
            "rest-empty",
            "Nothing is left of this file",
            format!("line {from_line}"),
            "It is printed.",
        ));
    }
    let mut lines = vec![
        format!("; the rest from line {from_line}"),
        "G21".into(),
        "G90".into(),
        "M83".into(),
    ];
    if let Some(c) = set.bed_c {
        lines.push(format!("M190 S{}", c.round()));
    }
    for (tool, c) in &set.nozzle {
        let tool = tool.map_or(String::new(), |t| format!(" T{t}"));
        lines.push(format!("M109{tool} S{}", c.round()));
    }
    if is_height_lost {
        const ASKS: &str = "Bring the nozzle down to the top of the print, then go on";
        lines.extend([
            "G28 X Y".into(),
            format!("M117 {ASKS}"),
            format!("{} {ASKS}", printer.printing.pause_word),
            format!("G92 Z{}", number(seen.highest_mm)),
        ]);
    }
    let up = (seen.highest_mm.max(seen.at[2]) + CLEAR_MM).min(printer.bed_mm[2]);
    lines.push(format!("G0 Z{} F600", number(up)));
    lines.extend(set.tool.map(|tool| format!("T{tool}")));
    lines.extend(
        set.fan
            .map(|share| format!("M106 S{}", (255.0 * share).round())),
    );
    let [x, y, z] = seen.at;
    lines.push(format!("G0 X{} Y{} F6000", number(x), number(y)));
    lines.push(format!("G0 Z{} F600", number(z)));
    lines.push(frame.unit().into());
    if frame.zero != [0.0; 3] {
        let [x, y, z] = [0, 1, 2].map(|axis| frame.place(axis, seen.at[axis]));
        lines.push(format!("G92 X{x} Y{y} Z{z}"));
    }
    lines.extend(frame.again());
    let mut out = String::with_capacity(text.len());
    for line in lines.iter().map(String::as_str).chain(rest.lines()) {
        let _ = writeln!(out, "{line}");
    }
    Ok(out)
}
