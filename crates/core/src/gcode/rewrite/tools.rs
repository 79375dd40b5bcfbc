//! Calls of tools: renumbered to slots, made into pauses, or taken out for a strand.

use super::draft::{Draft, with_number};
use super::frame::Frame;
use super::halts::{Halt, Way};
use super::{Seen, StrandLength, Wanted};
use crate::Problem;
use crate::gcode::scan::{Words, bare};

/// A strand's shortest length that a joint holds, mm (common practice, no source).
const LEAST_MM: f64 = 20.0;

/// What a call of a tool becomes.
pub(super) fn select(
    draft: &mut Draft<'_>,
    (line, tool): (usize, u32),
    (from, slot): (Option<u8>, u8),
    seen: &Seen,
    frame: Frame,
    wanted: &Wanted<'_>,
) -> Result<(), Problem> {
    let profile = wanted.printer.profile();
    if (profile.splices || profile.is_by_hand) && !is_a_call_only(draft.line(line)) {
        return Err(uncertain(line));
    }
    if profile.splices {
        draft.replace(line, Vec::new(), "one strand: no word for a change");
    } else if profile.is_by_hand {
        if from.is_none_or(|f| f == slot) {
            draft.replace(line, Vec::new(), "one nozzle: nothing to call");
            return Ok(());
        }
        let halt = Halt {
            line,
            slot,
            way: Way::Pause,
            at: seen.at,
            above_mm: seen.highest_mm,
            frame,
        };
        let block = halt.block(from, wanted)?;
        draft.replace(line, block, halt.why(wanted));
    } else if u32::from(slot) != tool + 1 {
        let now = with_number(draft.line(line), 'T', &(slot - 1).to_string());
        let now = now.ok_or_else(|| uncertain(line))?;
        draft.replace(line, vec![now], format!("tool {tool} is slot {slot}"));
    }
    Ok(())
}

/// Whether a line can go without anything else going with it.
fn is_a_call_only(line: &str) -> bool {
    let mut words = Words::default();
    words.take(&bare(line)).is_ok() && words.calls_a_tool_only()
}

/// The heat of a tool by its number.
pub(super) fn heat(
    draft: &mut Draft<'_>,
    line: usize,
    tool: u32,
    wanted: &Wanted<'_>,
) -> Result<(), Problem> {
    let profile = wanted.printer.profile();
    let slot = wanted.slot(tool)?;
    // With one nozzle a tool's number at its heat says nothing, and is let be.
    if profile.splices || profile.is_by_hand || u32::from(slot) == tool + 1 {
        return Ok(());
    }
    let now = with_number(draft.line(line), 'T', &(slot - 1).to_string());
    let now = now.ok_or_else(|| uncertain(line))?;
    draft.replace(line, vec![now], format!("tool {tool} is slot {slot}"));
    Ok(())
}

pub(super) fn uncertain(line: usize) -> Problem {
    Problem::new(
        "rewrite-refused",
        "It is not certain what this line means".to_string(),
        format!("line {line}"),
        "Write one word for each number, and no tool in a comment's place.",
    )
}

/// Lengths of the strand; what is pulled back beyond what was fed belongs to no length.
pub(super) fn strand(mut lengths: Vec<StrandLength>) -> Result<Vec<StrandLength>, Problem> {
    lengths.retain(|l| l.mm.abs() > 1e-6);
    let short = lengths.iter().position(|l| l.mm < LEAST_MM);
    match short.filter(|at| at + 1 < lengths.len()) {
        None => Ok(lengths),
        Some(at) => Err(Problem::new(
            "rewrite-refused",
            format!(
                "Length {} of the strand would be {:.1} mm of slot {}, too short to be joined",
                at + 1,
                lengths[at].mm,
                lengths[at].slot
            ),
            format!("length {}", at + 1),
            "Purge more at this change, or let the machine's own loading out of the file.",
        )),
    }
}
