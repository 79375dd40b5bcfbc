//! From text back to what a machine is told, whoever wrote it: words of RS-274 with the M-codes that open firmware documents.

use super::arcs::{self, Arc};
use super::scan::{Words, bare, spoken};
use crate::Problem;

/// What one line tells a machine.
#[derive(Debug, Clone, PartialEq)]
pub enum Told {
    /// Goes somewhere, feeds filament, or both. An arc comes as several, of one line.
    Move {
        /// Where it was, mm; what it was never told is where it woke up.
        from: [f64; 3],
        /// Where it is afterwards, mm.
        to: [f64; 3],
        /// Filament that is fed on the way, mm; below 0 where it is pulled back.
        feed_mm: f64,
        /// mm/s; of the filament where nothing else moves.
        speed: f64,
    },
    /// Another tool, or another filament by the feeder.
    Select(u32),
    /// A nozzle's temperature.
    Heat {
        /// Of which tool; none for the one at hand.
        tool: Option<u32>,
        /// °C.
        c: f64,
        /// Whether it is waited for.
        waits: bool,
    },
    /// The bed's temperature.
    Bed {
        /// °C.
        c: f64,
        /// Whether it is waited for.
        waits: bool,
    },
    /// Fan, share of its full speed.
    Fan(f64),
    /// Finds the zero of axes: across, deep, high.
    Home([bool; 3]),
    /// Words for a person.
    Say(String),
    /// Stands still, s.
    Dwell(f64),
    /// Filament by a length that the machine knows, pulled back or given back.
    OwnPull {
        /// Whether it is pulled back.
        is_back: bool,
    },
    /// Anything else, by its word.
    Other(String),
}

/// A line that tells something.
#[derive(Debug, Clone, PartialEq)]
pub struct Line {
    /// From 1.
    pub number: usize,
    /// What it tells.
    pub told: Told,
}

/// How numbers are meant at a place of a text.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Modes {
    /// Whether places are told from the last one.
    pub is_relative: bool,
    /// Whether filament is told from the last.
    pub feeds_relative: bool,
    /// What 1 stands for, mm.
    pub unit_mm: f64,
    /// Speed of what follows, mm/min.
    pub speed_mm_min: f64,
}

/// How coordinates are meant at the moment.
struct Frame {
    at: [f64; 3],
    /// What stands for the place that is called zero.
    zero: [f64; 3],
    feed: f64,
    modes: Modes,
}

/// Reads a text line by line.
pub struct Reader<'a> {
    lines: std::iter::Enumerate<std::str::Lines<'a>>,
    frame: Frame,
    words: Words,
    /// The rest of an arc: what comes next is at the end.
    due: Vec<Line>,
}

impl<'a> Reader<'a> {
    /// Begins at the top of a text.
    pub fn new(text: &'a str) -> Reader<'a> {
        let modes = Modes {
            is_relative: false,
            feeds_relative: false,
            unit_mm: 1.0,
            speed_mm_min: 0.0,
        };
        Reader {
            lines: text.lines().enumerate(),
            frame: Frame {
                at: [0.0; 3],
                zero: [0.0; 3],
                feed: 0.0,
                modes,
            },
            words: Words::default(),
            due: Vec::new(),
        }
    }

    /// How numbers are meant after what was read last.
    pub fn modes(&self) -> Modes {
        self.frame.modes
    }

    /// What the machine calls the filament it has fed, mm, after what was read last; it matters where filament is not relative.
    pub fn feed_mm(&self) -> f64 {
        self.frame.feed
    }

    /// What stands for zero of each axis, mm.
    pub fn zero(&self) -> [f64; 3] {
        self.frame.zero
    }
}

impl Iterator for Reader<'_> {
    type Item = Result<Line, Problem>;

    fn next(&mut self) -> Option<Result<Line, Problem>> {
        if let Some(line) = self.due.pop() {
            return Some(Ok(line));
        }
        loop {
            let (index, line) = self.lines.next()?;
            let number = index + 1;
            let bare = bare(line);
            if let Some(told) = spoken(&bare) {
                return Some(Ok(Line { number, told }));
            }
            let told = self.words.take(&bare);
            let told = told.and_then(|()| self.frame.tell(&self.words));
            match told {
                Err(what) => return Some(Err(unreadable(number, what))),
                Ok(Tells::Nothing) => {}
                Ok(Tells::One(told)) => return Some(Ok(Line { number, told })),
                Ok(Tells::Arc(moves)) => {
                    let lines = moves.into_iter().rev();
                    self.due.extend(lines.map(|told| Line { number, told }));
                    if let Some(line) = self.due.pop() {
                        return Some(Ok(line));
                    }
                }
            }
        }
    }
}

/// All that a text tells.
///
/// # Errors
/// `gcode-unreadable` with the line's number, for a word without a number, a number that is none or beyond any printer, a letter
/// twice, an arc that is none; `gcode-binary` for what is no text.
///
/// # Cost
/// Linear in the text.
pub fn read(text: &str) -> Result<Vec<Line>, Problem> {
    check_is_text(text)?;
    Reader::new(text).collect()
}

/// Refuses what is no text.
pub(super) fn check_is_text(text: &str) -> Result<(), Problem> {
    match text.bytes().position(|b| b == 0) {
        None => Ok(()),
        Some(at) => Err(Problem::new(
            "gcode-binary",
            "This is not a print file in words: it holds bytes that no text has".to_string(),
            format!("byte {at}"),
            "Save it as G-code text, not in a packed form.",
        )),
    }
}

fn unreadable(number: usize, what: String) -> Problem {
    Problem::new(
        "gcode-unreadable",
        what,
        format!("line {number}"),
        "Write each word as a letter and a number, such as G1 X10.",
    )
}

/// What a line comes to.
enum Tells {
    Nothing,
    One(Told),
    Arc(Vec<Told>),
}

impl Frame {
    fn tell(&mut self, words: &Words) -> Result<Tells, String> {
        let Some((letter, number)) = words.first() else {
            return Ok(Tells::Nothing);
        };
        let Some(number) = number else {
            return Err(format!("{letter} has no number"));
        };
        let whole = (number.fract() == 0.0 && number >= 0.0).then_some(number as u32);
        let unit_mm = self.modes.unit_mm;
        let told = match (letter, whole) {
            ('F', _) => {
                self.modes.speed_mm_min = number * unit_mm;
                return Ok(Tells::Nothing);
            }
            ('T', Some(tool)) => Told::Select(tool),
            ('M', Some(6)) if words.has('T') => match words.value('T') {
                Some(tool) if tool >= 0.0 && tool.fract() == 0.0 => Told::Select(tool as u32),
                _ => Told::Other("M6".into()),
            },
            ('G', Some(0 | 1)) => {
                let (to, feed_mm) = self.target(words)?;
                let from = std::mem::replace(&mut self.at, to);
                Told::Move {
                    from,
                    to,
                    feed_mm,
                    speed: self.modes.speed_mm_min / 60.0,
                }
            }
            ('G', Some(2 | 3)) => return self.arc(words, number == 2.0).map(Tells::Arc),
            ('G', Some(4)) => Told::Dwell(match words.value('P') {
                Some(ms) => ms / 1000.0,
                None => words.value('S').unwrap_or(0.0),
            }),
            ('G', Some(10 | 11)) if words.rest().is_empty() => Told::OwnPull {
                is_back: number == 10.0,
            },
            ('G', Some(20 | 21)) => {
                self.modes.unit_mm = if number == 20.0 { 25.4 } else { 1.0 };
                return Ok(Tells::Nothing);
            }
            ('G', Some(28)) => self.home(words),
            ('G', Some(90 | 91)) => {
                self.modes.is_relative = number == 91.0;
                self.modes.feeds_relative = number == 91.0;
                return Ok(Tells::Nothing);
            }
            ('G', Some(92)) => {
                for (axis, of) in ['X', 'Y', 'Z'].into_iter().enumerate() {
                    if let Some(v) = words.value(of) {
                        self.zero[axis] = self.at[axis] - v * unit_mm;
                    }
                }
                if let Some(v) = words.value('E') {
                    self.feed = v * unit_mm;
                }
                return Ok(Tells::Nothing);
            }
            ('M', Some(82 | 83)) => {
                self.modes.feeds_relative = number == 83.0;
                return Ok(Tells::Nothing);
            }
            ('M', Some(104 | 109)) => Told::Heat {
                tool: words.value('T').map(|t| t as u32),
                c: words.value('S').or(words.value('R')).unwrap_or(0.0),
                waits: number == 109.0,
            },
            ('M', Some(140 | 190)) => Told::Bed {
                c: words.value('S').or(words.value('R')).unwrap_or(0.0),
                waits: number == 190.0,
            },
            ('M', Some(106)) => Told::Fan(words.value('S').unwrap_or(255.0) / 255.0),
            ('M', Some(107)) => Told::Fan(0.0),
            _ => Told::Other(format!("{letter}{number}")),
        };
        Ok(Tells::One(told))
    }

    fn home(&mut self, words: &Words) -> Told {
        let named = ['X', 'Y', 'Z'].map(|axis| words.has(axis));
        let which = match named.contains(&true) {
            true => named,
            false => [true; 3],
        };
        for (axis, _) in which.iter().enumerate().filter(|(_, is)| **is) {
            (self.at[axis], self.zero[axis]) = (0.0, 0.0);
        }
        Told::Home(which)
    }

    /// Where a move ends, and what it feeds.
    fn target(&mut self, words: &Words) -> Result<([f64; 3], f64), String> {
        let (mut to, mut feed_mm) = (self.at, 0.0);
        for (index, (letter, number)) in words.rest().iter().enumerate() {
            let Some(number) = number else {
                return Err(format!("{letter} has no number"));
            };
            if words.rest()[..index].iter().any(|w| w.0 == *letter) {
                return Err(format!("{letter} stands twice"));
            }
            let mm = number * self.modes.unit_mm;
            match letter {
                'X' | 'Y' | 'Z' => {
                    let axis = usize::from(*letter as u8 - b'X');
                    to[axis] = match self.modes.is_relative {
                        true => self.at[axis] + mm,
                        false => self.zero[axis] + mm,
                    };
                }
                'E' => match self.modes.feeds_relative {
                    true => (feed_mm, self.feed) = (mm, self.feed + mm),
                    false => (feed_mm, self.feed) = (mm - self.feed, mm),
                },
                'F' => self.modes.speed_mm_min = mm,
                _ => {}
            }
        }
        Ok((to, feed_mm))
    }

    /// An arc as chords.
    fn arc(&mut self, words: &Words, is_clockwise: bool) -> Result<Vec<Told>, String> {
        let from = self.at;
        let (to, feed_mm) = self.target(words)?;
        let mm = |of: char| words.value(of).map(|v| v * self.modes.unit_mm);
        let arc = Arc {
            from,
            to,
            middle: match (mm('I'), mm('J'), mm('R')) {
                (None, None, Some(radius)) => arcs::Middle::Radius(radius),
                (None, None, None) => return Err("An arc needs I and J, or R".into()),
                (i, j, _) => arcs::Middle::Off([i.unwrap_or(0.0), j.unwrap_or(0.0)]),
            },
            is_clockwise,
        };
        let places = arc.places()?;
        self.at = to;
        let speed = self.modes.speed_mm_min / 60.0;
        let share = feed_mm / places.len() as f64;
        let mut at = from;
        let moves = places.into_iter().map(|to| Told::Move {
            from: std::mem::replace(&mut at, to),
            to,
            feed_mm: share,
            speed,
        });
        Ok(moves.collect())
    }
}
