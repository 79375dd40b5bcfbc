//! The words of a VRML97 text: names, numbers, strings, brackets. Commas count as spaces, `#` begins a comment.

use super::FORMAT;
use crate::Problem;
use crate::formats::text::{bad_line, lossy};

/// One word.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Word<'a> {
    Name(&'a [u8]),
    Number(f64),
    /// A string without its quotes, escapes as they stand.
    Text(&'a [u8]),
    /// One of `{ } [ ]`.
    Mark(u8),
    End,
}

/// Words one after the other, with one to look ahead at.
#[derive(Clone, Copy)]
pub(super) struct Words<'a> {
    bytes: &'a [u8],
    pub(super) at: usize,
    pub(super) line: usize,
    ahead: Option<Word<'a>>,
}

fn ends_word(byte: u8) -> bool {
    byte.is_ascii_whitespace() || matches!(byte, b',' | b'#' | b'"' | b'{' | b'}' | b'[' | b']')
}

impl<'a> Words<'a> {
    pub(super) fn new(bytes: &'a [u8]) -> Words<'a> {
        Words {
            bytes,
            at: 0,
            line: 1,
            ahead: None,
        }
    }

    /// The refusal of what stands here.
    pub(super) fn bad(&self, what: &str) -> Problem {
        bad_line(FORMAT, self.line, what)
    }

    pub(super) fn peek(&mut self) -> Result<Word<'a>, Problem> {
        match self.ahead {
            Some(word) => Ok(word),
            None => {
                let word = self.scan()?;
                self.ahead = Some(word);
                Ok(word)
            }
        }
    }

    pub(super) fn next(&mut self) -> Result<Word<'a>, Problem> {
        match self.ahead.take() {
            Some(word) => Ok(word),
            None => self.scan(),
        }
    }

    fn scan(&mut self) -> Result<Word<'a>, Problem> {
        loop {
            match self.bytes.get(self.at) {
                None => return Ok(Word::End),
                Some(b'\n') => self.line += 1,
                Some(b) if b.is_ascii_whitespace() || *b == b',' => {}
                Some(b'#') => {
                    while self.bytes.get(self.at + 1).is_some_and(|b| *b != b'\n') {
                        self.at += 1;
                    }
                }
                Some(_) => break,
            }
            self.at += 1;
        }
        let start = self.at;
        match self.bytes[start] {
            mark @ (b'{' | b'}' | b'[' | b']') => {
                self.at += 1;
                return Ok(Word::Mark(mark));
            }
            b'"' => return self.string(),
            _ => {}
        }
        while self.bytes.get(self.at).is_some_and(|b| !ends_word(*b)) {
            self.at += 1;
        }
        let word = &self.bytes[start..self.at];
        if !matches!(word[0], b'0'..=b'9' | b'-' | b'+' | b'.') {
            return Ok(Word::Name(word));
        }
        let number = std::str::from_utf8(word).ok().and_then(|text| {
            let hex = text.strip_prefix("0x").or_else(|| text.strip_prefix("0X"));
            match hex {
                Some(digits) => u32::from_str_radix(digits, 16).ok().map(f64::from),
                None => text.parse().ok().filter(|n: &f64| n.is_finite()),
            }
        });
        number
            .map(Word::Number)
            .ok_or_else(|| self.bad(&format!("`{}` is no number", lossy(word))))
    }

    fn string(&mut self) -> Result<Word<'a>, Problem> {
        let first = self.line;
        let start = self.at + 1;
        self.at = start;
        loop {
            match self.bytes.get(self.at) {
                None => return Err(bad_line(FORMAT, first, "a text in quotes has no end")),
                Some(b'"') => break,
                Some(b'\\') => self.at += 1,
                Some(b'\n') => self.line += 1,
                Some(_) => {}
            }
            self.at += 1;
        }
        self.at += 1;
        Ok(Word::Text(&self.bytes[start..self.at - 1]))
    }
}
