//! A line of text taken apart into words: letters with numbers, without comments, number and check sum.

use super::reader::Told;
use std::borrow::Cow;

/// No place, length, temperature or speed of a printer is further from 0.
const MOST: f64 = 1e7;

/// Words that make a printer wait for a person: RS-274's own, and those that open firmware documents.
const PAUSES: [u32; 6] = [0, 1, 25, 226, 600, 601];

/// A letter with its number, if one follows.
pub(super) type Word = (char, Option<f64>);

/// The words of a line, used again for every line: codes, and what they are given. A line may hold several codes.
#[derive(Default)]
pub(super) struct Words {
    codes: Vec<Word>,
    given: Vec<Word>,
}

impl Words {
    /// G and M with their numbers, in order.
    pub(super) fn codes(&self) -> &[Word] {
        &self.codes
    }

    /// All others.
    pub(super) fn given(&self) -> &[Word] {
        &self.given
    }

    /// Whether nothing but a tool is called, by its number or by a change of tools.
    pub(super) fn calls_a_tool_only(&self) -> bool {
        let codes_say_more = self.codes.iter().any(|c| *c != ('M', Some(6.0)));
        matches!(self.given[..], [('T', _)]) && !codes_say_more
    }

    /// The number after a letter.
    pub(super) fn value(&self, of: char) -> Option<f64> {
        self.given.iter().find(|w| w.0 == of).and_then(|w| w.1)
    }

    /// Whether a letter stands there, with or without a number.
    pub(super) fn has(&self, of: char) -> bool {
        self.given.iter().any(|w| w.0 == of)
    }

    /// Takes a line apart.
    pub(super) fn take(&mut self, line: &str) -> Result<(), String> {
        self.codes.clear();
        self.given.clear();
        let bytes = line.as_bytes();
        // What a tape begins and ends with.
        let mut at = usize::from(bytes.first() == Some(&b'%'));
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
            match letter {
                'G' | 'M' => self.codes.push((letter, number)),
                _ => self.given.push((letter, number)),
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

/// Words that go to a person, after M117, M118 or a word that waits for one; and those that are no letter with a number: a
/// machine's own.
pub(super) fn spoken(line: &str) -> Option<Told> {
    let second = line.as_bytes().get(1)?;
    if second.is_ascii_alphabetic() || *second == b'_' {
        let word = line.split_whitespace().next().unwrap_or(line);
        return Some(Told::Other(word.to_string()));
    }
    let rest = line.strip_prefix(['M', 'm'])?;
    let end = rest
        .find(|c: char| !c.is_ascii_digit())
        .unwrap_or(rest.len());
    let (code, text) = rest.split_at(end);
    match code.parse().ok()? {
        117 | 118 if text.is_empty() || text.starts_with(char::is_whitespace) => {
            Some(Told::Say(text.trim().to_string()))
        }
        code if PAUSES.contains(&code) && !text.starts_with('.') => {
            // Numbers after letters are for the machine.
            let is_word =
                |w: &&str| w.len() > 1 && w.get(1..).is_some_and(|n| n.parse::<f64>().is_ok());
            let words: Vec<&str> = text.split_whitespace().filter(|w| !is_word(w)).collect();
            Some(Told::Pause(words.join(" ")))
        }
        _ => None,
    }
}
