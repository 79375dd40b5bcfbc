//! What is pressed out at a change, made as much as is needed.

use super::Wanted;
use super::draft::{Draft, with_number};
use super::frame::number;
use crate::Problem;
use crate::gcode::reader::{Reader, Told};
use std::collections::BTreeMap;

/// Less is no purge but rounding, mm³.
const LEAST_MM3: f64 = 1.0;

/// A push of filament where the nozzle stands.
struct Push {
    line: usize,
    mm: f64,
    /// As the file writes it, and what it means, mm.
    feed_mm: f64,
    is_relative: bool,
    unit_mm: f64,
}

/// Changes lengths that are pressed out standing; what is laid into a tower stays.
pub(super) fn press_out(
    text: &str,
    draft: &mut Draft<'_>,
    due: &BTreeMap<(u8, u8), f64>,
    wanted: &Wanted<'_>,
    left: &mut Vec<String>,
) -> Result<(), Problem> {
    let mut reader = Reader::new(text);
    let (mut slot, mut change): (Option<u8>, Option<(u8, u8)>) = (None, None);
    // Since something was laid.
    let (mut net_mm, mut pushes): (f64, Vec<Push>) = (0.0, Vec::new());
    while let Some(line) = reader.next() {
        let line = line?;
        match line.told {
            Told::Select(tool) => {
                let to = wanted.slot(tool)?;
                if let Some(from) = slot.replace(to).filter(|from| *from != to) {
                    change = Some((from, to));
                    pushes.clear();
                }
            }
            Told::Move { feed_mm, .. } => {
                if !line.told.lays() {
                    net_mm += feed_mm;
                    if feed_mm > 0.0 {
                        pushes.push(Push {
                            line: line.number,
                            mm: feed_mm,
                            feed_mm: reader.state().feed_mm,
                            is_relative: reader.state().modes.feeds_relative,
                            unit_mm: reader.state().modes.unit_mm,
                        });
                    }
                    continue;
                }
                if let Some(pair) = change.take()
                    && let Some(mm3) = due.get(&pair)
                {
                    let mm = mm3 / wanted.section_mm2 - net_mm;
                    one_change(draft, &pushes, (net_mm, mm), pair, wanted, left);
                }
                net_mm = 0.0;
                pushes.clear();
            }
            _ => {}
        }
    }
    Ok(())
}

fn one_change(
    draft: &mut Draft<'_>,
    pushes: &[Push],
    (net_mm, more_mm): (f64, f64),
    (from, to): (u8, u8),
    wanted: &Wanted<'_>,
    left: &mut Vec<String>,
) {
    let longest = pushes.iter().max_by(|a, b| a.mm.total_cmp(&b.mm));
    let Some(push) = longest.filter(|_| net_mm * wanted.section_mm2 > LEAST_MM3) else {
        left.push(format!(
            "change from slot {from} to {to}: its purge is laid, not pressed out, and stays as it is"
        ));
        return;
    };
    if more_mm.abs() * wanted.section_mm2 < LEAST_MM3 {
        return;
    }
    let line = push.line;
    let as_written = |mm: f64| number(mm / push.unit_mm);
    let value = match push.is_relative {
        true => push.mm + more_mm,
        false => push.feed_mm + more_mm,
    };
    let now = match push.mm + more_mm > 0.0 {
        true => with_number(draft.line(line), 'E', &as_written(value)),
        false => None,
    };
    let Some(now) = now else {
        left.push(format!(
            "line {line}: what is pressed out here cannot be made {:.1} mm",
            net_mm + more_mm
        ));
        return;
    };
    let mut lines = vec![now];
    if !push.is_relative {
        // What follows counts on from where it did.
        lines.push(format!("G92 E{}", as_written(push.feed_mm)));
    }
    draft.replace(
        line,
        lines,
        format!(
            "slot {from} to {to} needs {:.1} mm pressed out, not {net_mm:.1} mm",
            net_mm + more_mm
        ),
    );
}
