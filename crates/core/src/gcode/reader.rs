//! From text back to what a machine is told, whoever wrote it: words of RS-274 with the M-codes that open firmware documents.

use super::arcs::{Arc, Middle};
use super::scan::{Words, bare, spoken};
use crate::Problem;
use std::collections::VecDeque;

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
    /// Waits for a person, with what the line itself says to do.
    Pause(String),
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

impl Told {
    /// Whether plastic is laid on the way.
    pub fn lays(&self) -> bool {
        match self {
            Told::Move {
                from, to, feed_mm, ..
            } => *feed_mm > 0.0 && (from[0], from[1]) != (to[0], to[1]),
            _ => false,
        }
    }
}

/// Something that a line tells; a line may tell several things.
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

/// What a machine knows at a place of a text.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct State {
    /// Where the nozzle is, mm.
    pub at: [f64; 3],
    /// What stands for the place that is called zero, mm.
    pub zero: [f64; 3],
    /// What the machine calls the filament fed so far, mm; it matters where filament is not relative.
    pub feed_mm: f64,
    /// How numbers are meant.
    pub modes: Modes,
    /// The way of going that stays until another is told, 0 to 3.
    going: Option<u32>,
}

/// Reads a text line by line.
pub struct Reader<'a> {
    lines: std::iter::Enumerate<std::str::Lines<'a>>,
    state: State,
    /// As it was before the line at hand.
    before: State,
    words: Words,
    /// Of the line at hand, what comes next first.
    due: VecDeque<Told>,
    number: usize,
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
        let state = State {
            at: [0.0; 3],
            zero: [0.0; 3],
            feed_mm: 0.0,
            modes,
            going: None,
        };
        Reader {
            lines: text.lines().enumerate(),
            state,
            before: state,
            words: Words::default(),
            due: VecDeque::new(),
            number: 0,
        }
    }

    /// What the machine knows after the line that was read last, and after those that tell nothing, once the text is at its end.
    pub fn state(&self) -> &State {
        &self.state
    }

    /// What the machine knew before the line that was read last.
    pub fn state_before(&self) -> &State {
        &self.before
    }
}

impl Iterator for Reader<'_> {
    type Item = Result<Line, Problem>;

    fn next(&mut self) -> Option<Result<Line, Problem>> {
        loop {
            if let Some(told) = self.due.pop_front() {
                let number = self.number;
                return Some(Ok(Line { number, told }));
            }
            let (index, line) = self.lines.next()?;
            self.number = index + 1;
            self.before = self.state;
            let bare = bare(line);
            let read = match spoken(&bare) {
                Some(told) => {
                    self.due.push_back(told);
                    Ok(())
                }
                None => self.words.take(&bare).and_then(|()| {
                    let due = &mut self.due;
                    self.state.tell(&self.words, due)
                }),
            };
            if let Err(what) = read {
                self.due.clear();
                return Some(Err(unreadable(self.number, what)));
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

/// A whole number that is not below 0.
fn whole(number: f64) -> Option<u32> {
    (number.fract() == 0.0 && number >= 0.0).then_some(number as u32)
}

impl State {
    /// What a line tells, put in a row.
    fn tell(&mut self, words: &Words, due: &mut VecDeque<Told>) -> Result<(), String> {
        let goes = ['X', 'Y', 'Z', 'E', 'I', 'J']
            .into_iter()
            .any(|of| words.has(of));
        let codes = words.codes();
        // An M-code takes the tool for its own; else it is called.
        let takes_tool = codes.iter().any(|c| c.0 == 'M');
        let tool = words.given().iter().find(|w| w.0 == 'T' && !takes_tool);
        if let Some((_, number)) = tool {
            due.push_back(match number.and_then(whole) {
                Some(tool) => Told::Select(tool),
                None => Told::Other("T".into()),
            });
        }
        // Codes that only say how numbers are meant leave places to the way of going.
        let mut leaves_places = true;
        for (letter, number) in codes {
            let number = number.ok_or_else(|| format!("{letter} has no number"))?;
            leaves_places &= self.code((*letter, number), words, due)?;
        }
        if !leaves_places {
            return Ok(());
        }
        if goes {
            let going = self
                .going
                .ok_or("It says where to go, and nothing says how")?;
            return self.go(going, words, due);
        }
        match (words.value('F'), words.given().first()) {
            (Some(speed), _) => self.modes.speed_mm_min = speed * self.modes.unit_mm,
            (None, Some((letter, number))) if codes.is_empty() && tool.is_none() => {
                let number = number.map_or(String::new(), |n| n.to_string());
                due.push_back(Told::Other(format!("{letter}{number}")));
            }
            (None, _) => {}
        }
        Ok(())
    }

    /// What a code tells; whether it leaves the places of its line to others.
    fn code(
        &mut self,
        (letter, number): (char, f64),
        words: &Words,
        due: &mut VecDeque<Told>,
    ) -> Result<bool, String> {
        let unit_mm = self.modes.unit_mm;
        let told = match (letter, whole(number)) {
            ('M', Some(6)) if words.has('T') => match words.value('T').and_then(whole) {
                Some(tool) => Told::Select(tool),
                None => Told::Other("M6".into()),
            },
            ('G', Some(going @ 0..=3)) => {
                self.going = Some(going);
                self.go(going, words, due)?;
                return Ok(false);
            }
            ('G', Some(4)) => Told::Dwell(match words.value('P') {
                Some(ms) => ms / 1000.0,
                None => words.value('S').unwrap_or(0.0),
            }),
            ('G', Some(10 | 11)) if words.given().is_empty() => Told::OwnPull {
                is_back: number == 10.0,
            },
            ('G', Some(20 | 21)) => {
                self.modes.unit_mm = if number == 20.0 { 25.4 } else { 1.0 };
                return Ok(true);
            }
            ('G', Some(28)) => self.home(words),
            ('G', Some(90 | 91)) => {
                self.modes.is_relative = number == 91.0;
                self.modes.feeds_relative = number == 91.0;
                return Ok(true);
            }
            // Without a letter machines differ in what it means.
            ('G', Some(92)) if !words.given().is_empty() => {
                for (axis, of) in ['X', 'Y', 'Z'].into_iter().enumerate() {
                    if let Some(v) = words.value(of) {
                        self.zero[axis] = self.at[axis] - v * unit_mm;
                    }
                }
                if let Some(v) = words.value('E') {
                    self.feed_mm = v * unit_mm;
                }
                return Ok(false);
            }
            ('M', Some(82 | 83)) => {
                self.modes.feeds_relative = number == 83.0;
                return Ok(true);
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
        due.push_back(told);
        Ok(false)
    }

    /// Goes straight, or along an arc as chords.
    fn go(&mut self, going: u32, words: &Words, due: &mut VecDeque<Told>) -> Result<(), String> {
        let from = self.at;
        let (to, feed_mm) = self.target(words)?;
        let places = match going {
            0 | 1 => vec![to],
            _ => self.arc(words, (from, to), going == 2)?,
        };
        self.at = to;
        let speed = self.modes.speed_mm_min / 60.0;
        let feed_mm = feed_mm / places.len() as f64;
        let mut at = from;
        due.extend(places.into_iter().map(|to| Told::Move {
            from: std::mem::replace(&mut at, to),
            to,
            feed_mm,
            speed,
        }));
        Ok(())
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
        for (index, (letter, number)) in words.given().iter().enumerate() {
            let Some(number) = number else {
                return Err(format!("{letter} has no number"));
            };
            if words.given()[..index].iter().any(|w| w.0 == *letter) {
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
                    true => (feed_mm, self.feed_mm) = (mm, self.feed_mm + mm),
                    false => (feed_mm, self.feed_mm) = (mm - self.feed_mm, mm),
                },
                'F' => self.modes.speed_mm_min = mm,
                _ => {}
            }
        }
        Ok((to, feed_mm))
    }

    /// Ends of the chords of an arc.
    fn arc(
        &self,
        words: &Words,
        (from, to): ([f64; 3], [f64; 3]),
        is_clockwise: bool,
    ) -> Result<Vec<[f64; 3]>, String> {
        let mm = |of: char| words.value(of).map(|v| v * self.modes.unit_mm);
        let middle = match (mm('I'), mm('J'), mm('R')) {
            (None, None, Some(radius)) => Middle::Radius(radius),
            (None, None, None) => return Err("An arc needs I and J, or R".into()),
            (i, j, _) => Middle::Off([i.unwrap_or(0.0), j.unwrap_or(0.0)]),
        };
        let arc = Arc {
            from,
            to,
            middle,
            is_clockwise,
        };
        arc.places()
    }
}
