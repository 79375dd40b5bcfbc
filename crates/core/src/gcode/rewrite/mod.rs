//! Sliced files put right: tools renumbered, pauses that say what to put in, purge as it is needed, a change put in, passes joined, a
//! strand instead of tools. Done only where the meaning is certain; every line that is not touched stays as it is.

mod draft;
mod frame;
mod halts;
mod join;
mod purge;
mod rest;
mod tools;

pub use draft::{Difference, difference_text};
pub use join::joined;
pub use rest::rest_of;

use super::reader::{Line, Reader, Told, check_is_text};
use crate::Problem;
use crate::machine::Printer;
use draft::Draft;
use frame::Frame;
use halts::{Halt, Way};
use serde::Serialize;
use std::collections::BTreeMap;

/// What a file is to become.
#[derive(Debug, Clone)]
pub struct Wanted<'a> {
    /// The printer that it is for.
    pub printer: &'a Printer,
    /// What a person calls what is in each slot, from slot 1 on.
    pub names: &'a [String],
    /// Section of the filament, mm².
    pub section_mm2: f64,
    /// Slot of each tool of the file; one that is not named here is the slot after its number.
    pub tools: BTreeMap<u32, u8>,
    /// Slot that is put in at each pause of the file, in order; empty where tools say it.
    pub turns: Vec<u8>,
    /// Changes that are put in: from which layer on, from 0, and which slot.
    pub changes: Vec<(usize, u8)>,
    /// What a change from slot to slot is to press out, mm³; none to leave it as it is.
    pub purge_mm3: Option<BTreeMap<(u8, u8), f64>>,
}

/// A file put right.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Rewritten {
    /// All of it.
    #[serde(skip)]
    pub text: String,
    /// What differs from the file as it was.
    pub differences: Vec<Difference>,
    /// The strand from the nozzle on, for a machine that joins one; else none.
    pub splices: Vec<StrandLength>,
    /// Slot that is in at first, where spools are changed by hand and the file says it.
    pub begins: Option<u8>,
    /// Slot that is put in at each wait for a person, in order, as far as it was said.
    pub turns: Vec<u8>,
    /// What was left as it is because its meaning is not certain, in words.
    pub left: Vec<String>,
}

/// A length of a strand.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct StrandLength {
    /// Slot that it comes from, from 1.
    pub slot: u8,
    /// Length, mm.
    pub mm: f64,
}

impl Wanted<'_> {
    /// Slot of a tool.
    fn slot(&self, tool: u32) -> Result<u8, Problem> {
        let slot = match self.tools.get(&tool) {
            Some(slot) => u32::from(*slot),
            None => tool.saturating_add(1),
        };
        match u8::try_from(slot) {
            Ok(slot) if slot >= 1 && slot <= self.printer.slots => Ok(slot),
            _ => Err(Problem::new(
                "rewrite-refused",
                format!(
                    "The file calls tool {tool}, and the printer has {} slots",
                    self.printer.slots
                ),
                format!("tool {tool}"),
                "Say which slot stands for it.",
            )),
        }
    }

    /// What a person calls a slot.
    fn name(&self, slot: u8) -> String {
        let name = self.names.get(usize::from(slot) - 1).map(String::as_str);
        match name.filter(|n| !n.is_empty()) {
            Some(name) => name.to_string(),
            None => format!("{} {slot}", self.printer.profile().slot_word),
        }
    }
}

/// A text put right.
///
/// # Errors
/// Those of [`super::read`]; `rewrite-refused` where what is asked for is not certain, or would change what is laid.
///
/// # Cost
/// Linear in the text.
pub fn rewritten(text: &str, wanted: &Wanted<'_>) -> Result<Rewritten, Problem> {
    check_is_text(text)?;
    let mut draft = Draft::of(text);
    let mut left = Vec::new();
    let kind = wanted.printer.profile();
    let mut seen = Seen::default();
    let halts = Halt::places(text, wanted)?;
    let mut halts = halts.into_iter().peekable();
    let mut reader = Reader::new(text);
    let mut splices: Vec<StrandLength> = Vec::new();
    let (mut begins, mut turns) = (None, Vec::new());
    while let Some(line) = reader.next() {
        let line = line?;
        if let Some(halt) = halts.next_if(|h| h.line == line.number) {
            let from = seen.slot;
            seen.slot = Some(halt.slot);
            if !kind.splices {
                let block = halt.block(from, wanted)?;
                draft.before(line.number, block, halt.why(wanted));
                if halt.way == Way::Pause {
                    turns.push(halt.slot);
                }
            }
        }
        match &line.told {
            Told::Select(tool) => {
                let slot = wanted.slot(*tool)?;
                let from = seen.slot.replace(slot);
                match from {
                    None if kind.is_by_hand => begins = Some(slot),
                    Some(from) if kind.is_by_hand && from != slot => turns.push(slot),
                    _ => {}
                }
                tools::select(
                    &mut draft,
                    (line.number, *tool),
                    (from, slot),
                    &seen,
                    Frame::before(&reader),
                    wanted,
                )?;
            }
            Told::Heat {
                tool: Some(tool), ..
            } => {
                tools::heat(&mut draft, line.number, *tool, wanted)?;
            }
            Told::Pause(own) => {
                match wanted.turns.get(seen.pauses) {
                    Some(slot) => {
                        seen.slot = Some(*slot);
                        let at = (line.number, own.as_str());
                        if !halts::name_pause(&mut draft, at, *slot, wanted)? {
                            left.push(format!(
                                "line {}: this pause says \"{own}\" as well",
                                line.number
                            ));
                        }
                    }
                    None if kind.is_by_hand && wanted.changes.is_empty() => left.push(format!(
                        "line {}: nothing says what is put in at this pause",
                        line.number
                    )),
                    None => {}
                }
                // Where nothing was said, what was in goes on.
                turns.push(seen.slot.unwrap_or(1));
                seen.pauses += 1;
            }
            Told::Move { feed_mm, .. } => {
                let slot = seen.slot.unwrap_or(1);
                match splices.last_mut().filter(|s| s.slot == slot) {
                    Some(last) => last.mm += feed_mm,
                    None => splices.push(StrandLength { slot, mm: *feed_mm }),
                }
            }
            _ => {}
        }
        seen.after(&line);
    }
    if let Some(purge) = &wanted.purge_mm3 {
        purge::press_out(text, &mut draft, purge, wanted, &mut left)?;
    }
    let (text_now, differences) = draft.finish();
    check_same_beads(text, &text_now)?;
    let splices = match kind.splices {
        true => tools::strand(splices)?,
        false => Vec::new(),
    };
    Ok(Rewritten {
        text: text_now,
        differences,
        splices,
        begins,
        turns,
        left,
    })
}

/// What has gone before in a text.
#[derive(Default)]
struct Seen {
    slot: Option<u8>,
    pauses: usize,
    at: [f64; 3],
    /// The highest that anything was laid, mm.
    highest_mm: f64,
}

impl Seen {
    fn after(&mut self, line: &Line) {
        match line.told {
            Told::Move { to, .. } => {
                self.at = to;
                if line.told.lays() {
                    self.highest_mm = self.highest_mm.max(to[2]);
                }
            }
            Told::Home(which) => {
                for axis in (0..3).filter(|a| which[*a]) {
                    self.at[axis] = 0.0;
                }
            }
            _ => {}
        }
    }
}

/// One bead: where it begins, where it ends and how much of filament it takes, mm.
type Laid = ([[f64; 3]; 2], f64);

/// All beads of a text.
fn beads(text: &str) -> Result<Vec<Laid>, Problem> {
    let laid = |line: Result<Line, Problem>| match line.map(|l| l.told) {
        Ok(told) => match told {
            Told::Move {
                from, to, feed_mm, ..
            } if told.lays() => Some(Ok(([from, to], feed_mm))),
            _ => None,
        },
        Err(problem) => Some(Err(problem)),
    };
    Reader::new(text).filter_map(laid).collect()
}

/// What is laid has to be the same as before, bead by bead.
fn check_same_beads(was: &str, now: &str) -> Result<(), Problem> {
    let (was, now) = rayon::join(|| beads(was), || beads(now));
    let (was, now) = (was?, now?);
    let is_same = |(a, b): (&Laid, &Laid)| {
        let places = a.0.as_flattened().iter().zip(b.0.as_flattened());
        places.into_iter().all(|(a, b)| (a - b).abs() < 1e-6) && (a.1 - b.1).abs() < 5e-5
    };
    match was.len() == now.len() && was.iter().zip(&now).all(is_same) {
        true => Ok(()),
        false => Err(Problem::new(
            "rewrite-refused",
            "Put right like this, the file would lay something else than before".to_string(),
            "file",
            "Ask for less, or slice it anew.",
        )),
    }
}
