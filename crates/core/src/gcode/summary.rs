//! What a print file holds, whoever wrote it: layers, tools, changes, pauses and time, from its moves alone. No comment is believed.

use super::sliced::{Sliced, sliced};
use crate::Problem;
use crate::machine::Printer;
use crate::paths::{Step, pace};
use serde::Serialize;
use std::collections::BTreeMap;

/// What a print file holds.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Summary {
    /// By height, ascending.
    pub layers: Vec<SummaryLayer>,
    /// By number of the tool.
    #[cfg_attr(feature = "wire", ts(type = "Record<string, SummaryTool>"))]
    pub tools: BTreeMap<u8, SummaryTool>,
    /// In order.
    pub changes: Vec<SummaryChange>,
    /// In order.
    pub pauses: Vec<SummaryPause>,
    /// How long the moves take on the printer, with its time for every change; what a person needs at a pause is not in it, s.
    pub time_s: f64,
    /// Words that say nothing to this reader, with how often they stand; they are never guessed at.
    pub unknown_words: BTreeMap<String, usize>,
}

/// What is laid at one height.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct SummaryLayer {
    /// Height of the nozzle, mm.
    pub z_mm: f64,
    /// Plastic by tool, mm³.
    #[cfg_attr(feature = "wire", ts(type = "Record<string, number>"))]
    pub mm3: BTreeMap<u8, f64>,
}

/// What one tool feeds.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct SummaryTool {
    /// Plastic, mm³.
    pub mm3: f64,
    /// Filament, mm.
    pub mm: f64,
}

/// A change of tools.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct SummaryChange {
    /// Layer, from 0; none before anything is laid.
    pub layer: Option<usize>,
    /// From which tool.
    pub from: u8,
    /// To which.
    pub to: u8,
    /// What is pressed out, or laid where all changes lay something, before the print goes on, mm³.
    pub purge_mm3: f64,
}

/// A wait for a person.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct SummaryPause {
    /// Layer, from 0; none before anything is laid.
    pub layer: Option<usize>,
    /// What was last said to the person.
    pub text: String,
}

/// What a text holds, on a usual printer. `filament_mm`: diameter of the filament.
///
/// # Errors
/// Those of [`super::read`].
///
/// # Cost
/// Linear in the text, n log n in heights.
pub fn summary(text: &str, filament_mm: f64) -> Result<Summary, Problem> {
    let section_mm2 = 0.25 * std::f64::consts::PI * filament_mm * filament_mm;
    let usual = Printer {
        start_s: 0.0,
        ..Printer::default()
    };
    Ok(sliced(text, section_mm2, &usual)?.summary(section_mm2, &usual))
}

impl Summary {
    /// Numbers of the tools that are called, or tool 0 if none is.
    pub fn tools_called(&self) -> Vec<u8> {
        self.tools.keys().copied().collect()
    }
}

impl Sliced {
    /// What it holds.
    pub fn summary(&self, section_mm2: f64, printer: &Printer) -> Summary {
        let layer = |z: &f64| SummaryLayer {
            z_mm: *z,
            mm3: BTreeMap::new(),
        };
        let mut found = Summary {
            layers: self.heights_mm.iter().map(layer).collect(),
            tools: BTreeMap::new(),
            changes: Vec::new(),
            pauses: Vec::new(),
            time_s: 0.0,
            unknown_words: self.unknown_words.clone(),
        };
        let (mut tool, mut layer, mut has_tool) = (0, None, false);
        for step in &self.steps {
            let mm3 = match step {
                Step::Layer { index, .. } => {
                    layer = Some(*index);
                    continue;
                }
                Step::Lay { mm3, .. } => {
                    let laid = layer.and_then(|l| found.layers.get_mut(l));
                    if let Some(laid) = laid {
                        *laid.mm3.entry(tool).or_default() += mm3;
                    }
                    *mm3
                }
                Step::Pull { mm, .. } => -mm * section_mm2,
                Step::Push { mm, .. } => mm * section_mm2,
                Step::Press { mm3, .. } => *mm3,
                Step::Select { tool: to } => {
                    // The first one takes nothing away, and no tool is called twice in a row.
                    if has_tool {
                        found.changes.push(SummaryChange {
                            layer,
                            from: tool,
                            to: *to,
                            purge_mm3: 0.0,
                        });
                    }
                    (tool, has_tool) = (*to, true);
                    continue;
                }
                Step::Prompt { words, .. } => {
                    let text = words.clone();
                    found.pauses.push(SummaryPause { layer, text });
                    continue;
                }
                _ => continue,
            };
            let sum = found.tools.entry(tool).or_default();
            sum.mm3 += mm3;
            sum.mm += mm3 / section_mm2;
        }
        purges(&self.steps, section_mm2, &mut found.changes);
        let (_, all) = pace(&self.steps, printer);
        let waits: f64 = self.steps.iter().map(wait_s).sum();
        // The first tool is there already.
        let first_s = if has_tool { printer.swap_s } else { 0.0 };
        found.time_s = all.sum() - waits - first_s;
        found
    }
}

fn wait_s(step: &Step) -> f64 {
    match step {
        Step::Prompt { seconds, .. } => *seconds,
        _ => 0.0,
    }
}

/// What each change purges: all that is pressed out, and all that is laid within the box in which every change begins to lay, until
/// something is laid outside of it.
fn purges(steps: &[Step], section_mm2: f64, changes: &mut [SummaryChange]) {
    let purge_box = PurgeBox::after(steps, is_call);
    let (mut number, mut is_purging, mut pressed) = (0, false, 0.0);
    let mut at = [0.0; 2];
    for step in after_first_tool(steps) {
        match step {
            Step::Select { .. } => (number, is_purging, pressed) = (number + 1, true, 0.0),
            // Given back and pulled back come to nothing in the end.
            Step::Pull { mm, .. } if is_purging => pressed -= mm * section_mm2,
            Step::Push { mm, .. } if is_purging => pressed += mm * section_mm2,
            Step::Press { mm3, .. } if is_purging => pressed += mm3,
            Step::Travel { to, .. } => at = *to,
            Step::Lay { to, mm3, .. } => {
                if is_purging {
                    is_purging = purge_box.holds(at) && purge_box.holds(*to);
                    let change = &mut changes[number - 1];
                    change.purge_mm3 += f64::max(std::mem::take(&mut pressed), 0.0);
                    if is_purging {
                        change.purge_mm3 += mm3;
                    }
                }
                at = *to;
            }
            _ => {}
        }
    }
}

/// Low and high corner of the place in which every change of slots begins to lay, mm, if it stands alone; none where that is the print
/// itself. `steps`: with the slot that each stretch comes from.
pub fn purge_place(steps: &[Step]) -> Option<[[f64; 2]; 2]> {
    let is_change = |s: &Step| matches!(s, Step::Slot { .. });
    let found = PurgeBox::after(steps, is_change);
    let mut at = [0.0; 2];
    let crosses = |step: &Step| match step {
        Step::Travel { to, .. } => {
            at = *to;
            false
        }
        Step::Lay { to, .. } => {
            let from = std::mem::replace(&mut at, *to);
            found.holds(from) != found.holds(*to)
        }
        _ => false,
    };
    let is_alone = !steps.iter().any(crosses);
    let PurgeBox { low, high } = found;
    (is_alone && low[0] <= high[0]).then_some([low, high])
}

/// What comes after the first tool is there: from then on every call of one is a change.
fn after_first_tool(steps: &[Step]) -> &[Step] {
    after_first(steps, is_call)
}

fn is_call(step: &Step) -> bool {
    matches!(step, Step::Select { .. })
}

fn after_first(steps: &[Step], is_change: fn(&Step) -> bool) -> &[Step] {
    let first = steps.iter().position(is_change);
    &steps[first.map_or(steps.len(), |at| at + 1)..]
}

/// Around the first stretches after each change, as far as they hang together.
struct PurgeBox {
    low: [f64; 2],
    high: [f64; 2],
}

impl PurgeBox {
    fn after(steps: &[Step], is_change: fn(&Step) -> bool) -> PurgeBox {
        let mut found = PurgeBox {
            low: [f64::INFINITY; 2],
            high: [f64::NEG_INFINITY; 2],
        };
        let (mut is_first, mut has_laid) = (false, false);
        let mut at = [0.0; 2];
        for step in after_first(steps, is_change) {
            match step {
                _ if is_change(step) => (is_first, has_laid) = (true, false),
                Step::Travel { to, .. } => {
                    if has_laid {
                        is_first = false;
                    }
                    at = *to;
                }
                Step::Lay { to, .. } => {
                    if is_first {
                        has_laid = true;
                        for i in 0..2 {
                            found.low[i] = found.low[i].min(at[i]).min(to[i]);
                            found.high[i] = found.high[i].max(at[i]).max(to[i]);
                        }
                    }
                    at = *to;
                }
                _ => {}
            }
        }
        if found.is_of_the_print(steps) {
            // Nothing that all changes begin with: what they lay is the print.
            found.low = [f64::INFINITY; 2];
        }
        found
    }

    /// Whether most of all that is laid lies within it: then it is no place for purge.
    fn is_of_the_print(&self, steps: &[Step]) -> bool {
        let (mut inside, mut all, mut at) = (0.0, 0.0, [0.0; 2]);
        for step in steps {
            match step {
                Step::Travel { to, .. } => at = *to,
                Step::Lay { to, mm3, .. } => {
                    all += mm3;
                    if self.holds(at) && self.holds(*to) {
                        inside += mm3;
                    }
                    at = *to;
                }
                _ => {}
            }
        }
        // A tower may well hold more than a small print; never nearly all.
        inside > 0.95 * all
    }

    fn holds(&self, p: [f64; 2]) -> bool {
        const BESIDE_MM: f64 = 1.0;
        (0..2).all(|i| p[i] >= self.low[i] - BESIDE_MM && p[i] <= self.high[i] + BESIDE_MM)
    }
}
