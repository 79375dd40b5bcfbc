//! A line of text taken apart into words: letters with numbers, without comments, number and check sum.

use super::reader::Told;
use std::borrow::Cow;

/// No place, length, temperature or speed of a printer is further from 0.
const MOST: f64 = 1e7;

/// The words of a line, used again for every line.
#[derive(Default)]
pub(super) struct Words {
    found: Vec<(char, Option<f64>)>,
}

impl Words {
    /// The first word.
    pub(super) fn first(&self) -> Option<(char, Option<f64>)> {
        self.found.first().copied()
    }

    /// Those after the first.
    pub(super) fn rest(&self) -> &[(char, Option<f64>)] {
        self.found.get(1..).unwrap_or_default()
    }

    /// The number after a letter.
    pub(super) fn value(&self, of: char) -> Option<f64> {
        self.rest().iter().find(|w| w.0 == of).and_then(|w| w.1)
    }

    /// Whether a letter stands there, with or without a number.
    pub(super) fn has(&self, of: char) -> bool {
        self.rest().iter().any(|w| w.0 == of)
    }

    /// Takes a line apart. What begins with a pause word is text after it.
    pub(super) fn take(&mut self, line: &str) -> Result<(), String> {
        self.found.clear();
        let bytes = line.as_bytes();
        let mut at = 0;
        while at < bytes.len() {
            let c = bytes[at];
            if c.is_ascii_whitespace() {
                at += 1;
                continue;
            }
            if !c.is_ascii_alphabetic() {
                return Err(format!("“{}” is no word", shown(line, at)));
            }
            let letter = c.to_ascii_uppercase() as char;
            at += 1;
            let start = at;
            while at < bytes.len() && matches!(bytes[at], b'0'..=b'9' | b'.' | b'-' | b'+') {
                at += 1;
            }
            let number = match start == at {
                true => None,
                false => Some(number(&line[start..at])?),
            };
            self.found.push((letter, number));
            let is_pause = letter == 'M' && self.found.len() == 1;
            if is_pause && number.is_some_and(|n| n == 0.0 || n == 1.0) {
                return Ok(());
            }
        }
        Ok(())
    }
}

fn number(text: &str) -> Result<f64, String> {
    let number: f64 = text.parse().map_err(|_| format!("“{text}” is no number"))?;
    match number.abs() <= MOST {
        true => Ok(number),
        false => Err(format!("{} is beyond any printer", shown(text, 0))),
    }
}

/// The beginning of what stands from a place on.
fn shown(text: &str, at: usize) -> String {
    const MOST_SHOWN: usize = 24;
    let rest: String = text
        .get(at..)
        .unwrap_or_default()
        .chars()
        .take(MOST_SHOWN)
        .collect();
    rest
}

/// A line without comments, number and check sum.
pub(super) fn bare(line: &str) -> Cow<'_, str> {
    let line = match line.contains('(') {
        true => Cow::Owned(without_asides(line)),
        false => Cow::Borrowed(line),
    };
    match line {
        Cow::Borrowed(line) => Cow::Borrowed(without_frame(line)),
        Cow::Owned(line) => Cow::Owned(without_frame(&line).to_string()),
    }
}

fn without_asides(line: &str) -> String {
    let mut out = String::with_capacity(line.len());
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
    out
}

fn without_frame(line: &str) -> &str {
    let end = line.find([';', '*']).unwrap_or(line.len());
    let line = line[..end].trim();
    let Some(rest) = line.strip_prefix(['N', 'n']) else {
        return line;
    };
    // A line number says nothing; a word that merely begins so is a machine's own.
    let digits = rest.trim_start();
    match digits.starts_with(|c: char| c.is_ascii_digit()) {
        true => digits
            .trim_start_matches(|c: char| c.is_ascii_digit())
            .trim_start(),
        false => line,
    }
}

/// Words that go to a person, after M117 or M118, and those that are no letter with a number: a machine's own.
pub(super) fn spoken(line: &str) -> Option<Told> {
    let second = line.as_bytes().get(1)?;
    if second.is_ascii_alphabetic() || *second == b'_' {
        let word = line.split_whitespace().next().unwrap_or(line);
        return Some(Told::Other(word.to_string()));
    }
    let rest = line.strip_prefix(['M', 'm'])?;
    let rest = rest.strip_prefix("117").or(rest.strip_prefix("118"))?;
    let is_whole = rest.is_empty() || rest.starts_with(char::is_whitespace);
    is_whole.then(|| Told::Say(rest.trim().to_string()))
}
