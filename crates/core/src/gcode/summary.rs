//! What a print file holds, whoever wrote it: layers, tools, changes, pauses and time, from its moves alone. No comment is believed.

use super::reader::{Line, Told, read};
use crate::Problem;
use crate::machine::Printer;
use crate::paths::{BeadKind, Step, pace};
use serde::Serialize;
use std::collections::BTreeMap;

/// What a print file holds.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Summary {
    /// By height, ascending.
    pub layers: Vec<SummaryLayer>,
    /// By number of the tool.
    pub tools: BTreeMap<u32, SummaryTool>,
    /// In order.
    pub changes: Vec<SummaryChange>,
    /// In order.
    pub pauses: Vec<SummaryPause>,
    /// How long the moves take, s; on a usual printer's acceleration, with its time for every change.
    pub time_s: f64,
    /// Words that say nothing to this reader, with how often they stand; they are never guessed at.
    pub unknown_words: BTreeMap<String, usize>,
}

/// What is laid at one height.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct SummaryLayer {
    /// Height of the nozzle, mm.
    pub z_mm: f64,
    /// Plastic by tool, mm³.
    pub mm3: BTreeMap<u32, f64>,
}

/// What one tool feeds.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
pub struct SummaryTool {
    /// Plastic, mm³.
    pub mm3: f64,
    /// Filament, mm.
    pub mm: f64,
}

/// A change of tools.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct SummaryChange {
    /// Layer, from 0; none before anything is laid.
    pub layer: Option<usize>,
    /// From which tool.
    pub from: u32,
    /// To which.
    pub to: u32,
    /// What is pressed out, or laid where all changes lay something, before the print goes on, mm³.
    pub purge_mm3: f64,
}

/// A wait for a person.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct SummaryPause {
    /// Layer, from 0; none before anything is laid.
    pub layer: Option<usize>,
    /// What was last said to the person.
    pub text: String,
}

/// Words that make a printer wait for a person: RS-274's own, and those that open firmware documents.
const PAUSES: [&str; 6] = ["M0", "M1", "M25", "M226", "M600", "M601"];

/// Words that this reader does not act on, but knows not to move or feed anything.
const HARMLESS: [&str; 24] = [
    "G4", "G17", "G29", "M17", "M18", "M73", "M75", "M76", "M77", "M84", "M105", "M110", "M115",
    "M116", "M163", "M164", "M201", "M203", "M204", "M205", "M220", "M221", "M400", "M900",
];

/// A stretch that lays something.
struct Laid {
    /// Of the line.
    tool: u32,
    from: [f64; 2],
    to: [f64; 2],
    z_um: i64,
    mm3: f64,
}

/// Something in order of the file.
enum Event {
    Laid(Laid),
    /// Fed without going anywhere, mm³, below 0 where it is pulled back.
    Pressed(f64),
    Travelled,
    Changed {
        from: u32,
        to: u32,
    },
    Waits(String),
}

/// What a text holds. `filament_mm`: diameter of the filament.
///
/// # Errors
/// `gcode-unreadable` with the line.
///
/// # Cost
/// Linear in the text, n log n in heights.
pub fn summary(text: &str, filament_mm: f64) -> Result<Summary, Problem> {
    let lines = read(text)?;
    let section_mm2 = 0.25 * std::f64::consts::PI * filament_mm * filament_mm;
    let (events, unknown_words) = events(&lines, section_mm2);
    let mut heights: Vec<i64> = events.iter().filter_map(Event::height).collect();
    heights.sort_unstable();
    heights.dedup();
    let layer_of = |z: i64| heights.binary_search(&z).ok();
    let mut layers: Vec<SummaryLayer> = heights
        .iter()
        .map(|z| SummaryLayer {
            z_mm: *z as f64 / 1000.0,
            mm3: BTreeMap::new(),
        })
        .collect();
    let mut tools: BTreeMap<u32, SummaryTool> = BTreeMap::new();
    let (mut tool, mut layer) = (0, None);
    let (mut changes, mut pauses) = (Vec::new(), Vec::new());
    for event in &events {
        let mm3 = match event {
            Event::Laid(laid) => {
                layer = layer_of(laid.z_um);
                if let Some(layer) = layer {
                    *layers[layer].mm3.entry(laid.tool).or_default() += laid.mm3;
                }
                tool = laid.tool;
                laid.mm3
            }
            Event::Pressed(mm3) => *mm3,
            Event::Changed { from, to } => {
                tool = *to;
                changes.push(SummaryChange {
                    layer,
                    from: *from,
                    to: *to,
                    purge_mm3: 0.0,
                });
                continue;
            }
            Event::Waits(text) => {
                pauses.push(SummaryPause {
                    layer,
                    text: text.clone(),
                });
                continue;
            }
            Event::Travelled => continue,
        };
        let sum = tools.entry(tool).or_default();
        sum.mm3 += mm3;
        sum.mm += mm3 / section_mm2;
    }
    purges(&events, &mut changes);
    Ok(Summary {
        layers,
        tools,
        changes,
        pauses,
        time_s: seconds(&lines, section_mm2),
        unknown_words,
    })
}

impl Event {
    fn height(&self) -> Option<i64> {
        match self {
            Event::Laid(laid) => Some(laid.z_um),
            _ => None,
        }
    }
}

fn events(lines: &[Line], section_mm2: f64) -> (Vec<Event>, BTreeMap<String, usize>) {
    let mut events = Vec::new();
    let mut unknown: BTreeMap<String, usize> = BTreeMap::new();
    let (mut at, mut tool, mut said) = ([0.0; 3], 0, String::new());
    let mut has_tool = false;
    for line in lines {
        match &line.told {
            Told::Move { to, feed_mm, .. } => {
                let goes = (to[0] - at[0]).hypot(to[1] - at[1]) > 0.0;
                let mm3 = feed_mm * section_mm2;
                events.push(match (goes, mm3 > 0.0) {
                    (true, true) => Event::Laid(Laid {
                        tool,
                        from: [at[0], at[1]],
                        to: [to[0], to[1]],
                        z_um: (1000.0 * to[2]).round() as i64,
                        mm3,
                    }),
                    (true, false) => Event::Travelled,
                    (false, _) => Event::Pressed(mm3),
                });
                at = *to;
            }
            Told::Select(next) => {
                // The first one takes nothing away.
                if has_tool && *next != tool {
                    events.push(Event::Changed {
                        from: tool,
                        to: *next,
                    });
                }
                (tool, has_tool) = (*next, true);
            }
            Told::Say(words) => said.clone_from(words),
            Told::Home(which) => {
                for axis in (0..3).filter(|a| which[*a]) {
                    at[axis] = 0.0;
                }
            }
            Told::Other(word) if PAUSES.contains(&word.as_str()) => {
                events.push(Event::Waits(said.clone()));
            }
            Told::Other(word) if HARMLESS.contains(&word.as_str()) => {}
            Told::Other(word) => *unknown.entry(word.clone()).or_default() += 1,
            Told::Bow => *unknown.entry("G2 or G3".into()).or_default() += 1,
            Told::Heat { .. } | Told::Bed { .. } | Told::Fan(_) => {}
        }
    }
    (events, unknown)
}

/// What each change purges: all that is pressed out, and all that is laid within the box in which every change begins to lay, until
/// something is laid outside of it.
fn purges(events: &[Event], changes: &mut [SummaryChange]) {
    // First stretches after each change, as far as they hang together.
    let (mut low, mut high) = ([f64::INFINITY; 2], [f64::NEG_INFINITY; 2]);
    let mut is_first = false;
    let mut has_laid = false;
    for event in events {
        match event {
            Event::Changed { .. } => (is_first, has_laid) = (true, false),
            Event::Travelled if has_laid => is_first = false,
            Event::Laid(laid) if is_first => {
                has_laid = true;
                for i in 0..2 {
                    low[i] = low[i].min(laid.from[i]).min(laid.to[i]);
                    high[i] = high[i].max(laid.from[i]).max(laid.to[i]);
                }
            }
            _ => {}
        }
    }
    const BESIDE_MM: f64 = 1.0;
    let is_inside =
        |p: [f64; 2]| (0..2).all(|i| p[i] >= low[i] - BESIDE_MM && p[i] <= high[i] + BESIDE_MM);
    let (mut number, mut is_purging, mut pressed) = (0, false, 0.0);
    for event in events {
        match event {
            Event::Changed { .. } => {
                (number, is_purging, pressed) = (number + 1, true, 0.0);
            }
            // Given back and pulled back come to nothing in the end.
            Event::Pressed(mm3) if is_purging => pressed += mm3,
            Event::Laid(laid) if is_purging => {
                is_purging = is_inside(laid.from) && is_inside(laid.to);
                let change = &mut changes[number - 1];
                change.purge_mm3 += f64::max(std::mem::take(&mut pressed), 0.0);
                if is_purging {
                    change.purge_mm3 += laid.mm3;
                }
            }
            _ => {}
        }
    }
}

/// How long the lines take on a usual printer.
fn seconds(lines: &[Line], section_mm2: f64) -> f64 {
    let usual = Printer {
        start_s: 0.0,
        ..Printer::default()
    };
    let mut steps = Vec::new();
    let mut at = [0.0; 3];
    for line in lines {
        match &line.told {
            Told::Move {
                to, feed_mm, speed, ..
            } => {
                let [goes, rises] = [(to[0] - at[0]).hypot(to[1] - at[1]) > 0.0, to[2] != at[2]];
                let speed = *speed;
                if rises {
                    steps.push(Step::Height { to: to[2], speed });
                }
                let place = [to[0], to[1]];
                match (goes, *feed_mm > 0.0) {
                    (true, true) => steps.push(Step::Lay {
                        to: place,
                        width: 0.0,
                        mm3: feed_mm * section_mm2,
                        speed,
                        kind: BeadKind::OuterWall,
                    }),
                    (true, false) => steps.push(Step::Travel { to: place, speed }),
                    (false, _) if *feed_mm != 0.0 => steps.push(Step::Push {
                        mm: feed_mm.abs(),
                        speed,
                    }),
                    (false, _) => {}
                }
                at = *to;
            }
            Told::Select(tool) => steps.push(Step::Select {
                tool: u8::try_from(*tool).unwrap_or(u8::MAX),
            }),
            _ => {}
        }
    }
    pace(&steps, &usual).1.sum()
}
