//! Places at which a person, a feeder or a tool changes colour: what is written there.

use super::Wanted;
use super::draft::Draft;
use crate::Problem;
use crate::gcode::reader::{Modes, Reader, Told};
use crate::gcode::words::plain;

/// How far above what stands the nozzle goes, mm.
const CLEAR_MM: f64 = 2.0;

/// Where it waits, from the edges of the bed, mm.
const FROM_EDGE_MM: f64 = 10.0;

/// How a colour is changed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Way {
    /// A person does it.
    Pause,
    /// A word does it.
    Call,
}

/// A change that is written.
pub(super) struct Halt {
    /// Line before which it stands, or which it replaces.
    pub(super) line: usize,
    /// Slot that is put in.
    pub(super) slot: u8,
    pub(super) way: Way,
    /// Where the nozzle is, mm.
    pub(super) at: [f64; 3],
    /// How high anything was laid so far, mm.
    pub(super) above_mm: f64,
    /// How numbers are meant there.
    pub(super) frame: Frame,
}

/// How numbers are meant at a place of a text.
#[derive(Debug, Clone, Copy)]
pub(super) struct Frame {
    modes: Modes,
    /// What stands for zero, mm.
    zero: [f64; 3],
    /// What the machine calls the filament fed so far, mm.
    feed_mm: f64,
}

impl Frame {
    pub(super) fn of(reader: &Reader<'_>) -> Frame {
        Frame {
            modes: reader.modes(),
            zero: reader.zero(),
            feed_mm: reader.feed_mm(),
        }
    }
}

impl Halt {
    /// Where the changes that are asked for by layer go: before the first move of the layer's own height after all that lies below it.
    pub(super) fn places(text: &str, wanted: &Wanted<'_>) -> Result<Vec<Halt>, Problem> {
        let mut due = wanted.changes.clone();
        due.sort_unstable();
        if due.is_empty() {
            return Ok(Vec::new());
        }
        let way = match wanted.printer.profile().is_by_hand {
            true => Way::Pause,
            false => Way::Call,
        };
        let mut halts = Vec::new();
        let mut tops: Vec<f64> = Vec::new();
        let mut due = due.into_iter().peekable();
        let mut reader = Reader::new(text);
        loop {
            let before = Frame::of(&reader);
            let Some(line) = reader.next() else {
                break;
            };
            let line = line?;
            let Told::Move {
                from, to, feed_mm, ..
            } = line.told
            else {
                continue;
            };
            let lays = feed_mm > 0.0 && (from[0], from[1]) != (to[0], to[1]);
            if !lays || tops.last().is_some_and(|z| (to[2] - z).abs() < 1e-6) {
                continue;
            }
            if tops.last().is_some_and(|z| to[2] < *z) {
                return Err(refused(
                    line.number,
                    "What is printed one after another has no layers that go through all of it",
                ));
            }
            // A lift on the way is no layer: what is laid while it rises belongs below.
            if from[2] != to[2] && !tops.is_empty() {
                continue;
            }
            tops.push(to[2]);
            while let Some((_, slot)) = due.next_if(|(layer, _)| *layer + 1 == tops.len()) {
                halts.push(Halt {
                    line: line.number,
                    slot,
                    way,
                    at: from,
                    above_mm: f64::max(from[2], tops[tops.len().saturating_sub(2)]),
                    frame: before,
                });
            }
        }
        match due.next() {
            None => Ok(halts),
            Some((layer, _)) => Err(Problem::new(
                "rewrite-refused",
                format!(
                    "There is no layer {}: the file has {}",
                    layer + 1,
                    tops.len()
                ),
                format!("layer {}", layer + 1),
                "Name a layer that the file prints.",
            )),
        }
    }

    pub(super) fn why(&self, wanted: &Wanted<'_>) -> String {
        format!("{} from here on", wanted.name(self.slot))
    }

    /// The lines: up, aside, wait or call, press out, back; nothing that was set before is set otherwise afterwards.
    pub(super) fn block(
        &self,
        from: Option<u8>,
        wanted: &Wanted<'_>,
    ) -> Result<Vec<String>, Problem> {
        let Frame {
            modes,
            zero,
            feed_mm,
        } = self.frame;
        let (unit_mm, printer) = (modes.unit_mm, wanted.printer);
        let up = f64::max(self.at[2], self.above_mm) + CLEAR_MM;
        if up > printer.bed_mm[2] {
            return Err(refused(
                self.line,
                "There is no room above the print to lift the nozzle at this change",
            ));
        }
        let told = |axis: usize, mm: f64| number((mm - zero[axis]) / unit_mm);
        let mm = |mm: f64| number(mm / unit_mm);
        let edge = [0, 1].map(|i| printer.bed_mm[i] - FROM_EDGE_MM);
        let aside = printer.printing.bin_at_mm.unwrap_or(edge);
        let goes = mm(60.0 * printer.printing.travel_mm_s);
        let (pull, pulls) = (
            mm(printer.printing.retract_mm),
            mm(60.0 * printer.printing.retract_mm_s),
        );
        let mut lines = vec![
            "G90".to_string(),
            "M83".into(),
            format!("G1 E-{pull} F{pulls}"),
            format!("G0 Z{} F{goes}", told(2, up)),
            format!("G0 X{} Y{}", told(0, aside[0]), told(1, aside[1])),
        ];
        let purge = self
            .purge_mm3(from, wanted)
            .map(|mm3| mm3 / wanted.section_mm2);
        match self.way {
            Way::Pause => {
                let mut words = format!("Put in {}", plain(&wanted.name(self.slot)));
                if let Some(length) = purge {
                    words += &format!(", press out {length:.0} mm");
                }
                lines.push(format!("M117 {words}"));
                lines.push(format!("{} {words}", printer.printing.pause_word));
            }
            Way::Call => {
                lines.push(format!("T{}", self.slot - 1));
                if let Some(length) = purge {
                    let flow = printer.purge_mm3_s / wanted.section_mm2;
                    lines.push(format!("G1 E{} F{}", mm(length), mm(60.0 * flow)));
                }
            }
        }
        lines.extend([
            format!(
                "G0 X{} Y{} F{goes}",
                told(0, self.at[0]),
                told(1, self.at[1])
            ),
            format!("G0 Z{}", told(2, self.at[2])),
            format!("G1 E{pull} F{pulls}"),
        ]);
        if modes.is_relative {
            lines.push("G91".into());
        }
        lines.push(if modes.feeds_relative { "M83" } else { "M82" }.into());
        if !modes.feeds_relative {
            lines.push(format!("G92 E{}", mm(feed_mm)));
        }
        if modes.speed_mm_min > 0.0 {
            lines.push(format!("G1 F{}", mm(modes.speed_mm_min)));
        }
        Ok(lines)
    }

    fn purge_mm3(&self, from: Option<u8>, wanted: &Wanted<'_>) -> Option<f64> {
        let due = wanted.purge_mm3.as_ref()?;
        due.get(&(from.unwrap_or(1), self.slot))
            .copied()
            .filter(|mm3| *mm3 > 0.0)
    }
}

/// A pause of the file's own says what is put in.
pub(super) fn name_pause(
    draft: &mut Draft<'_>,
    line: usize,
    slot: u8,
    wanted: &Wanted<'_>,
) -> Result<(), Problem> {
    if slot == 0 || slot > wanted.printer.slots {
        return Err(Problem::new(
            "rewrite-refused",
            format!("There is no slot {slot}"),
            "turns",
            "Name a slot of the printer.",
        ));
    }
    let words = format!("M117 Put in {}", plain(&wanted.name(slot)));
    draft.before(line, vec![words], format!("this pause is for slot {slot}"));
    Ok(())
}

fn refused(line: usize, message: &str) -> Problem {
    Problem::new(
        "rewrite-refused",
        message.to_string(),
        format!("line {line}"),
        "Slice it for this printer instead.",
    )
}

/// A number to 10⁻⁷, without needless zeros: fine enough in inches as well.
pub(super) fn number(value: f64) -> String {
    let text = format!("{value:.7}");
    let text = text.trim_end_matches('0').trim_end_matches('.');
    match text {
        "-0" | "" => "0".into(),
        text => text.to_string(),
    }
}
