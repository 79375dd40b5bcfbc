//! A print file as steps, whoever wrote it, so that it is timed, drawn and rehearsed as our own are. No comment is believed: what is
//! a layer, a change or a pause follows from moves and words alone.

use super::reader::{Reader, Told, check_is_text};
use crate::Problem;
use crate::machine::Printer;
use crate::paths::{BeadKind, Step};
use std::collections::BTreeMap;

/// Words that this reader does not act on, but knows not to move or feed anything.
const HARMLESS: [&str; 23] = [
    "G17", "G29", "M17", "M18", "M73", "M75", "M76", "M77", "M84", "M105", "M110", "M115", "M116",
    "M163", "M164", "M201", "M203", "M204", "M205", "M220", "M221", "M400", "M900",
];

/// A print file as steps.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Sliced {
    /// What is done, in order. Kinds of beads are not told by moves: all that is laid counts as outer walls.
    pub steps: Vec<Step>,
    /// Line of the text that each comes from, from 1.
    pub lines: Vec<u32>,
    /// Heights at which anything is laid, ascending, mm: the tops of the layers.
    pub heights_mm: Vec<f64>,
    /// Words that say nothing to this reader, with how often they stand; they are never guessed at.
    pub unknown_words: BTreeMap<String, usize>,
}

/// A text as steps for a printer, whose filament has a section of `section_mm2`.
///
/// # Errors
/// Those of [`super::read`].
///
/// # Cost
/// Linear in the text, n log n in heights.
pub fn sliced(text: &str, section_mm2: f64, printer: &Printer) -> Result<Sliced, Problem> {
    check_is_text(text)?;
    let mut walk = Walk {
        found: Sliced::default(),
        section_mm2,
        hand_s: match printer.profile().is_by_hand {
            true => printer.swap_s,
            false => printer.reload_s,
        },
        pause: printer
            .printing
            .pause_word
            .split(' ')
            .next()
            .unwrap_or_default()
            .to_string(),
        tool: None,
        said: String::new(),
        height_um: None,
        line: 0,
    };
    for line in Reader::new(text) {
        let line = line?;
        walk.line = line.number as u32;
        walk.tell(line.told);
    }
    Ok(walk.found.with_layers())
}

struct Walk {
    found: Sliced,
    section_mm2: f64,
    hand_s: f64,
    /// A word of the printer's own for it.
    pause: String,
    tool: Option<u32>,
    said: String,
    /// Height of the layer at hand, µm.
    height_um: Option<i64>,
    /// Of the text, from 1.
    line: u32,
}

impl Walk {
    fn say(&mut self, step: Step) {
        self.found.steps.push(step);
        self.found.lines.push(self.line);
    }

    fn tell(&mut self, told: Told) {
        match told {
            Told::Move {
                from,
                to,
                feed_mm,
                speed,
            } => self.moved(from, to, feed_mm, speed),
            Told::Select(tool) => {
                if self.tool != Some(tool) {
                    self.tool = Some(tool);
                    let tool = u8::try_from(tool).unwrap_or(u8::MAX);
                    self.say(Step::Select { tool });
                }
            }
            Told::Heat { tool, c, waits } => {
                let tool = tool.map(|t| u8::try_from(t).unwrap_or(u8::MAX));
                self.say(Step::Heat { tool, c, waits });
            }
            Told::Bed { c, waits } => self.say(Step::Bed { c, waits }),
            Told::Fan(share) => self.say(Step::Fan { share }),
            Told::Home(which) => self.say(Step::Home {
                with_height: which[2],
            }),
            Told::Say(words) => self.said = words,
            Told::Pause(words) => self.wait(words),
            Told::Other(word) if word == self.pause => self.wait(String::new()),
            Told::Other(word) if HARMLESS.contains(&word.as_str()) => {}
            Told::Other(word) => *self.found.unknown_words.entry(word).or_default() += 1,
            Told::Dwell(_) | Told::OwnPull { .. } => {}
        }
    }

    /// Waits for a person; where the line itself says nothing, with what was said last.
    fn wait(&mut self, words: String) {
        let words = match words.is_empty() {
            true => self.said.clone(),
            false => words,
        };
        let seconds = self.hand_s;
        self.say(Step::Prompt { words, seconds });
    }

    fn moved(&mut self, from: [f64; 3], to: [f64; 3], feed_mm: f64, speed: f64) {
        let place = [to[0], to[1]];
        let (length, rise) = ((to[0] - from[0]).hypot(to[1] - from[1]), to[2] - from[2]);
        if rise != 0.0 {
            self.say(Step::Height { to: to[2], speed });
        }
        match (length > 0.0, feed_mm > 0.0) {
            (true, true) => {
                let height_um = (1000.0 * to[2]).round() as i64;
                // What is laid on the way up belongs to the layer that it rises from.
                if self.height_um.is_none() || (rise == 0.0 && self.height_um != Some(height_um)) {
                    self.height_um = Some(height_um);
                    let span_mm = [0.0, to[2]];
                    self.say(Step::Layer { index: 0, span_mm });
                }
                self.say(Step::Lay {
                    to: place,
                    width: length,
                    mm3: feed_mm * self.section_mm2,
                    speed,
                    kind: BeadKind::OuterWall,
                });
            }
            (true, false) => {
                self.say(Step::Travel { to: place, speed });
                if feed_mm < 0.0 {
                    self.say(Step::Pull {
                        mm: -feed_mm,
                        speed,
                    });
                }
            }
            (false, _) if feed_mm < 0.0 => self.say(Step::Pull {
                mm: -feed_mm,
                speed,
            }),
            (false, _) if feed_mm > 0.0 => self.say(Step::Push { mm: feed_mm, speed }),
            (false, _) => {}
        }
    }
}

impl Sliced {
    /// Numbers the layers by height, and tells widths from what is laid.
    fn with_layers(mut self) -> Sliced {
        let um = |mm: f64| (1000.0 * mm).round() as i64;
        let tops = self.steps.iter().filter_map(|s| match s {
            Step::Layer { span_mm, .. } => Some(um(span_mm[1])),
            _ => None,
        });
        let mut tops: Vec<i64> = tops.collect();
        tops.sort_unstable();
        tops.dedup();
        let mut height_mm = 0.2;
        for step in &mut self.steps {
            match step {
                Step::Layer { index, span_mm } => {
                    *index = tops.binary_search(&um(span_mm[1])).unwrap_or(0);
                    let below = index.checked_sub(1).map_or(0, |i| tops[i]);
                    span_mm[0] = below as f64 / 1000.0;
                    height_mm = f64::max(span_mm[1] - span_mm[0], 0.01);
                }
                // Until here its length stood in it.
                Step::Lay { width, mm3, .. } => *width = *mm3 / (*width * height_mm),
                _ => {}
            }
        }
        self.heights_mm = tops.iter().map(|z| *z as f64 / 1000.0).collect();
        self
    }
}
