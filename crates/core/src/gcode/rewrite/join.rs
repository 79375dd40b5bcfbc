//! Passes joined into one file: between them the nozzle lifts, and the spool is changed.

use super::draft::{Difference, Draft};
use super::frame::Frame;
use super::halts::{Halt, Way};
use super::{Rewritten, Seen, Wanted, check_same_beads};
use crate::Problem;
use crate::gcode::reader::{Line, Reader, Told};
use crate::gcode::standing::Standing;
use crate::gcode::written::{Allowed, check_written};

/// Words that end a print: motors off, end of the program.
const ENDS: [&str; 4] = ["M84", "M18", "M2", "M30"];

/// Files of one slot each as one file, in order, looked over as it is written: a person changes the spool in between, or the machine does. `parts`: text and slot of each.
///
/// # Errors
/// Those of [`super::super::read`], with the number of the file; `rewrite-refused`; `print-refused` where the nozzle would meet what
/// earlier files laid, with the line of the joined file.
pub fn joined(parts: &[(&str, u8)], wanted: &Wanted<'_>) -> Result<Rewritten, Problem> {
    let mut all = Rewritten {
        text: String::new(),
        differences: Vec::new(),
        splices: Vec::new(),
        begins: None,
        turns: Vec::new(),
        left: Vec::new(),
    };
    let kind = wanted.printer.profile();
    if kind.splices {
        return Err(Problem::new(
            "rewrite-refused",
            "Passes are joined by changing spools, and this printer gets one strand".to_string(),
            "printer",
            "Choose a printer whose spools are changed.",
        ));
    }
    let way = match kind.is_by_hand {
        true => Way::Pause,
        false => Way::Call,
    };
    let (mut seen, mut slot, mut hottest_c) = (Seen::default(), None, 0.0f64);
    for (number, (text, next)) in parts.iter().enumerate() {
        let in_file = |p: Problem| Problem {
            place: Some(format!(
                "file {}, {}",
                number + 1,
                p.place.unwrap_or_default()
            )),
            ..p
        };
        let lines: Vec<Line> = Reader::new(text)
            .collect::<Result<_, _>>()
            .map_err(in_file)?;
        let mut draft = Draft::of(text);
        if number > 0 {
            let halt = Halt {
                line: 1,
                slot: *next,
                way,
                at: [
                    seen.at[0],
                    seen.at[1],
                    f64::max(seen.at[2], seen.highest_mm),
                ],
                above_mm: seen.highest_mm,
                frame: Frame::of(&Reader::new(text)),
            };
            let mut block = vec!["G21".to_string(), "G92 E0".into()];
            block.extend(halt.block(slot, wanted)?);
            draft.before(
                1,
                block,
                format!("file {}: {}", number + 1, halt.why(wanted)),
            );
        }
        let feeds = |l: &&Line| matches!(l.told, Told::Move { feed_mm, .. } if feed_mm > 0.0);
        if let Some(first) = lines
            .iter()
            .find(feeds)
            .filter(|_| number == 0 && way == Way::Call)
        {
            // Not before the nozzle is warm: what changes spools feeds them as well.
            let call = vec![format!("T{}", next.saturating_sub(1))];
            draft.before(
                first.number,
                call,
                format!("file 1: {}", wanted.name(*next)),
            );
        }
        match (way, number) {
            (Way::Pause, 0) => all.begins = Some(*next),
            (Way::Pause, _) => all.turns.push(*next),
            (Way::Call, _) => {}
        }
        let waits = lines.iter().filter(|l| matches!(l.told, Told::Pause(_)));
        all.turns.extend(waits.map(|_| *next));
        let last = lines.iter().rposition(|l| l.told.lays()).unwrap_or(0);
        for (index, line) in lines.iter().enumerate() {
            let is_over = index > last && number + 1 < parts.len();
            let why = match &line.told {
                Told::Home(_) if number > 0 || is_over => "no zero is looked for over a print",
                Told::Other(word) if word == "G29" && number > 0 => {
                    "nothing is probed over a print"
                }
                Told::Other(word) if is_over && ENDS.contains(&word.as_str()) => {
                    "the print goes on"
                }
                Told::Heat { c, .. } | Told::Bed { c, .. } if is_over && *c == 0.0 => {
                    "it stays warm"
                }
                Told::Select(_) => {
                    return Err(in_file(Problem::new(
                        "rewrite-refused",
                        "This file calls tools of its own".to_string(),
                        format!("line {}", line.number),
                        "Join files of one colour each.",
                    )));
                }
                _ => {
                    if let Told::Heat { c, .. } = line.told {
                        hottest_c = hottest_c.max(c);
                    }
                    seen.after(line);
                    continue;
                }
            };
            draft.replace(line.number, Vec::new(), why);
        }
        slot = Some(*next);
        let above: usize = parts[..number]
            .iter()
            .map(|(text, _)| text.lines().count())
            .sum();
        let (text, differences) = draft.finish();
        all.text += &text;
        all.differences
            .extend(differences.into_iter().map(|d| Difference {
                line: d.line + above,
                ..d
            }));
    }
    let before: String = parts
        .iter()
        .map(|(text, _)| format!("G21\nG90\nM82\nG92 E0\n{text}\n"))
        .collect();
    check_same_beads(&before, &all.text)?;
    let allowed = Allowed {
        printer: wanted.printer,
        hottest_c,
    };
    check_written(&all.text, &allowed, &mut Standing::default())?;
    Ok(all)
}
