//! Places at which a person, a feeder or a tool changes colour: what is written there.

use super::Wanted;
use super::draft::Draft;
use super::frame::Frame;
use crate::Problem;
use crate::gcode::reader::{Reader, Told};
use crate::gcode::words::plain;
use crate::machine::{CLEAR_MM, bin, park};

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
        while let Some(line) = reader.next() {
            let line = line?;
            let Told::Move { from, to, .. } = line.told else {
                continue;
            };
            if !line.told.lays() || tops.last().is_some_and(|z| (to[2] - z).abs() < 1e-6) {
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
                    frame: Frame::before(&reader),
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
        let (frame, printer) = (&self.frame, wanted.printer);
        let up = f64::max(self.at[2], self.above_mm) + CLEAR_MM;
        if up > printer.bed_mm[2] {
            return Err(refused(
                self.line,
                "There is no room above the print to lift the nozzle at this change",
            ));
        }
        let aside = match self.way {
            Way::Pause => park(printer),
            Way::Call => {
                let [x0, y0, x1, y1] = bin(printer);
                [0.5 * (x0 + x1), 0.5 * (y0 + y1)]
            }
        };
        let printing = &printer.printing;
        let goes = frame.mm(60.0 * printing.travel_mm_s);
        let pull = frame.mm(printing.retract_mm);
        let pulls = frame.mm(60.0 * printing.retract_mm_s);
        let go =
            |[x, y]: [f64; 2]| format!("G0 X{} Y{} F{goes}", frame.place(0, x), frame.place(1, y));
        let rise = |z: f64| format!("G0 Z{} F{goes}", frame.place(2, z));
        let mut lines = vec![
            "G90".to_string(),
            "M83".into(),
            format!("G1 E-{pull} F{pulls}"),
            rise(up),
            go(aside),
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
                lines.push(format!("{} {words}", printing.pause_word));
            }
            Way::Call => {
                lines.push(format!("T{}", self.slot - 1));
                if let Some(length) = purge {
                    let flow = printer.purge_mm3_s / wanted.section_mm2;
                    lines.push(format!(
                        "G1 E{} F{}",
                        frame.mm(length),
                        frame.mm(60.0 * flow)
                    ));
                }
            }
        }
        let [x, y, z] = self.at;
        lines.extend([go([x, y]), rise(z), format!("G1 E{pull} F{pulls}")]);
        lines.extend(frame.again());
        Ok(lines)
    }

    fn purge_mm3(&self, from: Option<u8>, wanted: &Wanted<'_>) -> Option<f64> {
        let due = wanted.purge_mm3.as_ref()?;
        due.get(&(from.unwrap_or(1), self.slot))
            .copied()
            .filter(|mm3| *mm3 > 0.0)
    }
}

/// A pause of the file's own says what is put in, instead of what it says itself. False where its words are left, so that a machine may
/// show them as well.
pub(super) fn name_pause(
    draft: &mut Draft<'_>,
    (line, own): (usize, &str),
    slot: u8,
    wanted: &Wanted<'_>,
) -> Result<bool, Problem> {
    if slot == 0 || slot > wanted.printer.slots {
        return Err(Problem::new(
            "rewrite-refused",
            format!("There is no slot {slot}"),
            "turns",
            "Name a slot of the printer.",
        ));
    }
    let words = format!("Put in {}", plain(&wanted.name(slot)));
    let why = format!("this pause is for slot {slot}");
    draft.before(line, vec![format!("M117 {words}")], why.clone());
    if own.is_empty() {
        return Ok(true);
    }
    let was = draft.line(line);
    // Not where a check sum counts the letters, or numbers stand between the words.
    let can = was.matches(own).count() == 1 && !was.contains('*');
    if can {
        draft.replace(line, vec![was.replacen(own, &words, 1)], why);
    }
    Ok(can)
}

fn refused(line: usize, message: &str) -> Problem {
    Problem::new(
        "rewrite-refused",
        message.to_string(),
        format!("line {line}"),
        "Slice it for this printer instead.",
    )
}
