//! A text with changes to some of its lines: all others stay as they are, byte for byte.

use serde::Serialize;
use std::collections::BTreeMap;
use std::fmt::Write;

/// One place at which a text was changed.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Difference {
    /// Line of the text as it was, from 1, of several texts one after the other; what is put in stands before it.
    pub line: usize,
    /// What stood there; none where lines were only put in.
    pub was: Option<String>,
    /// What stands there now; none where the line went.
    pub now: Vec<String>,
    /// Why, in words.
    pub why: String,
}

/// A text in the course of being changed.
pub(super) struct Draft<'a> {
    pub(super) lines: Vec<&'a str>,
    changed: BTreeMap<usize, Difference>,
    put_in: BTreeMap<usize, Vec<Difference>>,
}

impl<'a> Draft<'a> {
    pub(super) fn of(text: &'a str) -> Draft<'a> {
        Draft {
            lines: text.lines().collect(),
            changed: BTreeMap::new(),
            put_in: BTreeMap::new(),
        }
    }

    /// The line at a number from 1.
    pub(super) fn line(&self, number: usize) -> &'a str {
        self.lines.get(number - 1).copied().unwrap_or_default()
    }

    /// Puts others in a line's place.
    pub(super) fn replace(&mut self, line: usize, now: Vec<String>, why: impl Into<String>) {
        let was = self.line(line).to_string();
        if now.len() == 1 && now[0] == was {
            return;
        }
        let change = Difference {
            line,
            was: Some(was),
            now,
            why: why.into(),
        };
        self.changed.insert(line, change);
    }

    /// Puts lines in before one.
    pub(super) fn before(&mut self, line: usize, now: Vec<String>, why: impl Into<String>) {
        let change = Difference {
            line,
            was: None,
            now,
            why: why.into(),
        };
        self.put_in.entry(line).or_default().push(change);
    }

    /// The text, and what of it differs.
    pub(super) fn finish(self) -> (String, Vec<Difference>) {
        let length: usize = self.lines.iter().map(|l| l.len() + 1).sum();
        let mut text = String::with_capacity(length + length / 16);
        let mut differences = Vec::new();
        let mut put_in = self.put_in;
        let mut changed = self.changed;
        for (index, line) in self.lines.iter().enumerate() {
            for change in put_in.remove(&(index + 1)).unwrap_or_default() {
                for now in &change.now {
                    let _ = writeln!(text, "{now}");
                }
                differences.push(change);
            }
            match changed.remove(&(index + 1)) {
                None => {
                    text.push_str(line);
                    text.push('\n');
                }
                Some(change) => {
                    for now in &change.now {
                        let _ = writeln!(text, "{now}");
                    }
                    differences.push(change);
                }
            }
        }
        (text, differences)
    }
}

/// Differences for reading: what went with a −, what came with a +, why above.
pub fn difference_text(differences: &[Difference]) -> String {
    let mut text = String::new();
    for d in differences {
        let _ = writeln!(text, "line {}: {}", d.line, d.why);
        if let Some(was) = &d.was {
            let _ = writeln!(text, "- {was}");
        }
        for now in &d.now {
            let _ = writeln!(text, "+ {now}");
        }
    }
    text
}

/// A line with another number after a letter; none if the letter does not stand in it just once. A check sum is reckoned again.
pub(super) fn with_number(line: &str, letter: char, number: &str) -> Option<String> {
    let end = line.find([';', '(']).unwrap_or(line.len());
    let (code, comment) = line.split_at(end);
    let (code, sum) = match code.find('*') {
        Some(at) => (&code[..at], true),
        None => (code, false),
    };
    let found: Vec<usize> = code
        .char_indices()
        .filter(|(_, c)| c.eq_ignore_ascii_case(&letter))
        .map(|(at, _)| at)
        .collect();
    let [at] = found[..] else {
        return None;
    };
    let from = at + letter.len_utf8();
    let digits = code[from..]
        .find(|c: char| !matches!(c, '0'..='9' | '.' | '-' | '+'))
        .map_or(code.len(), |n| from + n);
    if digits == from {
        return None;
    }
    let mut out = format!("{}{number}{}", &code[..from], &code[digits..]);
    if sum {
        let of = out.bytes().fold(0u8, |sum, b| sum ^ b);
        let _ = write!(out, "*{of}");
        if !comment.is_empty() {
            out.push(' ');
        }
    }
    Some(out + comment)
}
