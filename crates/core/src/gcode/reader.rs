//! From text back to what a machine is told, whoever wrote it: words of RS-274 with the M-codes that open firmware documents.

use crate::Problem;

/// What one line tells a machine.
#[derive(Debug, Clone, PartialEq)]
pub enum Told {
    /// Goes somewhere, feeds filament, or both.
    Move {
        /// Where it is afterwards, mm; what it was never told is where it woke up.
        to: [f64; 3],
        /// Filament that is fed on the way, mm; below 0 where it is pulled back.
        feed_mm: f64,
        /// mm/s; of the filament where nothing else moves.
        speed: f64,
        /// Whether the line asks for it as a cut (`G1`) and not as a way (`G0`).
        is_cut: bool,
    },
    /// A bow of a circle; how it runs is not worked out.
    Bow,
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

/// How coordinates are meant at the moment.
struct Frame {
    at: [f64; 3],
    /// What stands for the place that is called zero.
    zero: [f64; 3],
    feed: f64,
    is_relative: bool,
    feeds_relative: bool,
    unit_mm: f64,
    speed_mm_min: f64,
}

/// Reads a text.
///
/// # Errors
/// `gcode-unreadable` with the line's number, for a word without a number, a number that is none, or a letter twice.
///
/// # Cost
/// Linear in the text.
pub fn read(text: &str) -> Result<Vec<Line>, Problem> {
    let mut frame = Frame {
        at: [0.0; 3],
        zero: [0.0; 3],
        feed: 0.0,
        is_relative: false,
        feeds_relative: false,
        unit_mm: 1.0,
        speed_mm_min: 0.0,
    };
    let mut lines = Vec::new();
    for (index, line) in text.lines().enumerate() {
        let number = index + 1;
        let bare = bare(line);
        let words = match spoken(&bare) {
            Some(told) => {
                lines.push(Line { number, told });
                continue;
            }
            None => words(&bare).map_err(|what| unreadable(number, &what))?,
        };
        if let Some(told) = frame
            .tell(&words)
            .map_err(|what| unreadable(number, &what))?
        {
            lines.push(Line { number, told });
        }
    }
    Ok(lines)
}

fn unreadable(number: usize, what: &str) -> Problem {
    Problem::new(
        "gcode-unreadable",
        what.to_string(),
        format!("line {number}"),
        "Write each word as a letter and a number, such as G1 X10.",
    )
}

/// A line without comments, number and check sum.
fn bare(line: &str) -> String {
    let mut out = String::new();
    let mut inside = false;
    for c in line.chars() {
        match c {
            ';' if !inside => break,
            '(' => inside = true,
            ')' => inside = false,
            c if !inside => out.push(c),
            _ => {}
        }
    }
    let out = out.split('*').next().unwrap_or_default().trim();
    // A line number says nothing.
    let rest = out.strip_prefix(['N', 'n']).map(str::trim_start);
    let rest = rest.map(|r| r.trim_start_matches(|c: char| c.is_ascii_digit()));
    rest.map_or(out, str::trim_start).to_string()
}

/// Words that go to a person, after M117 or M118, and those that are no letter with a number: a machine's own.
fn spoken(line: &str) -> Option<Told> {
    let (word, rest) = line.split_once(char::is_whitespace).unwrap_or((line, ""));
    let is_own = word
        .chars()
        .take(2)
        .all(|c| c.is_ascii_alphabetic() || c == '_');
    if !word.is_empty() && is_own {
        return Some(Told::Other(word.to_string()));
    }
    matches!(word.to_ascii_uppercase().as_str(), "M117" | "M118")
        .then(|| Told::Say(rest.trim().to_string()))
}

type Words = Vec<(char, Option<f64>)>;

/// The words of a line: letters with their numbers. What begins with a word that no number follows is text of that word.
fn words(line: &str) -> Result<Words, String> {
    let mut found: Words = Vec::new();
    let bytes = line.as_bytes();
    let mut at = 0;
    while at < bytes.len() {
        let c = bytes[at];
        if c.is_ascii_whitespace() {
            at += 1;
            continue;
        }
        if !c.is_ascii_alphabetic() {
            return Err(format!("“{}” is no word", &line[floor(line, at)..]));
        }
        let letter = c.to_ascii_uppercase() as char;
        at += 1;
        let start = at;
        while at < bytes.len() && matches!(bytes[at], b'0'..=b'9' | b'.' | b'-' | b'+') {
            at += 1;
        }
        let number = match start == at {
            true => None,
            false => Some(
                line[start..at]
                    .parse::<f64>()
                    .map_err(|_| format!("“{}” is no number", &line[start..at]))?,
            ),
        };
        found.push((letter, number));
        if found[0].0 == 'M' && found.len() == 1 && number.is_some_and(|n| n == 0.0 || n == 1.0) {
            // A pause may carry words.
            return Ok(found);
        }
    }
    Ok(found)
}

/// The nearest place at or before an index at which text may be cut.
fn floor(text: &str, mut at: usize) -> usize {
    while !text.is_char_boundary(at) {
        at -= 1;
    }
    at
}

impl Frame {
    fn tell(&mut self, words: &Words) -> Result<Option<Told>, String> {
        let Some((letter, number)) = words.first().copied() else {
            return Ok(None);
        };
        let value = |of: char| words[1..].iter().find(|w| w.0 == of).and_then(|w| w.1);
        let has = |of: char| words[1..].iter().any(|w| w.0 == of);
        let Some(number) = number else {
            return Err(format!("{letter} has no number"));
        };
        let whole = (number.fract() == 0.0 && number >= 0.0).then_some(number as u32);
        Ok(match (letter, whole) {
            ('F', _) => {
                self.speed_mm_min = number * self.unit_mm;
                None
            }
            ('T', Some(tool)) => Some(Told::Select(tool)),
            ('G', Some(0 | 1)) => Some(self.moved(words, number == 1.0)?),
            ('G', Some(2 | 3)) => Some(Told::Bow),
            ('G', Some(20)) => {
                self.unit_mm = 25.4;
                None
            }
            ('G', Some(21)) => {
                self.unit_mm = 1.0;
                None
            }
            ('G', Some(28)) => {
                let named = ['X', 'Y', 'Z'].map(has);
                let which = match named.contains(&true) {
                    true => named,
                    false => [true; 3],
                };
                for (axis, is) in which.into_iter().enumerate() {
                    if is {
                        (self.at[axis], self.zero[axis]) = (0.0, 0.0);
                    }
                }
                Some(Told::Home(which))
            }
            ('G', Some(90 | 91)) => {
                self.is_relative = number == 91.0;
                self.feeds_relative = number == 91.0;
                None
            }
            ('G', Some(92)) => {
                for (axis, of) in ['X', 'Y', 'Z'].into_iter().enumerate() {
                    if let Some(v) = value(of) {
                        self.zero[axis] = self.at[axis] - v * self.unit_mm;
                    }
                }
                if let Some(v) = value('E') {
                    self.feed = v * self.unit_mm;
                }
                None
            }
            ('M', Some(82 | 83)) => {
                self.feeds_relative = number == 83.0;
                None
            }
            ('M', Some(104 | 109)) => Some(Told::Heat {
                tool: value('T').map(|t| t as u32),
                c: value('S').or(value('R')).unwrap_or(0.0),
                waits: number == 109.0,
            }),
            ('M', Some(140 | 190)) => Some(Told::Bed {
                c: value('S').or(value('R')).unwrap_or(0.0),
                waits: number == 190.0,
            }),
            ('M', Some(106)) => Some(Told::Fan(value('S').unwrap_or(255.0) / 255.0)),
            ('M', Some(107)) => Some(Told::Fan(0.0)),
            _ => Some(Told::Other(format!("{letter}{number}"))),
        })
    }

    fn moved(&mut self, words: &Words, is_cut: bool) -> Result<Told, String> {
        let (mut to, mut feed_mm) = (self.at, 0.0);
        let mut seen = Vec::new();
        for (letter, number) in &words[1..] {
            let Some(number) = number else {
                return Err(format!("{letter} has no number"));
            };
            if seen.contains(letter) {
                return Err(format!("{letter} stands twice"));
            }
            seen.push(*letter);
            let mm = number * self.unit_mm;
            if let Some(axis) = ['X', 'Y', 'Z'].iter().position(|a| a == letter) {
                to[axis] = match self.is_relative {
                    true => self.at[axis] + mm,
                    false => self.zero[axis] + mm,
                };
            } else if *letter == 'E' {
                match self.feeds_relative {
                    true => feed_mm = mm,
                    false => {
                        feed_mm = mm - self.feed;
                        self.feed = mm;
                    }
                }
            } else if *letter == 'F' {
                self.speed_mm_min = mm;
            }
        }
        self.at = to;
        Ok(Told::Move {
            to,
            feed_mm,
            speed: self.speed_mm_min / 60.0,
            is_cut,
        })
    }
}
