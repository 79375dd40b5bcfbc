//! What stands behind a PLY header, value by value: binary of both byte orders, or text.

use super::ply::problem;
use super::ply_header::Value;
use super::text::{lossy, words};
use crate::Problem;

/// Values of a PLY body, one after the other.
pub(super) trait Body {
    fn value(&mut self, value: Value) -> Result<f64, Problem>;
    /// Called before every record.
    fn record(&mut self) -> Result<(), Problem>;
    fn place(&self) -> String;
    /// Bytes not read yet: bounds what a count may ask for.
    fn left(&self) -> usize;
    /// The next record, if it is a list of three 32-bit numbers below `known` counted by one byte: what nearly every
    /// large file consists of. Nothing is read otherwise.
    fn triangle(&mut self, known: usize) -> Option<[u32; 3]> {
        let _ = known;
        None
    }
}

pub(super) struct Binary<'a> {
    bytes: &'a [u8],
    at: usize,
    is_big: bool,
}

impl<'a> Binary<'a> {
    /// The values of a file from byte `at` on.
    pub(super) fn after(bytes: &'a [u8], at: usize, is_big: bool) -> Binary<'a> {
        Binary { bytes, at, is_big }
    }
}

impl Body for Binary<'_> {
    #[inline]
    fn value(&mut self, value: Value) -> Result<f64, Problem> {
        // The kinds that large files are made of, without going round by bytes.
        if !self.is_big {
            let rest = &self.bytes[self.at..];
            let common = match value {
                Value::U8 => rest.first().map(|b| (f64::from(*b), 1)),
                Value::I32 => rest
                    .first_chunk()
                    .map(|b| (f64::from(i32::from_le_bytes(*b)), 4)),
                Value::F32 => rest
                    .first_chunk()
                    .map(|b| (f64::from(f32::from_le_bytes(*b)), 4)),
                Value::F64 => rest.first_chunk().map(|b| (f64::from_le_bytes(*b), 8)),
                _ => None,
            };
            if let Some((number, size)) = common {
                self.at += size;
                return Ok(number);
            }
        }
        let size = value.size();
        let Some(raw) = self.bytes.get(self.at..self.at + size) else {
            return Err(problem(
                "truncated",
                "The PLY file is cut short".into(),
                format!("byte {}", self.bytes.len()),
            ));
        };
        self.at += size;
        let mut b = [0u8; 8];
        b[..size].copy_from_slice(raw);
        if self.is_big {
            b[..size].reverse();
        }
        let [b0, b1, b2, b3, ..] = b;
        Ok(match value {
            Value::I8 => f64::from(b0 as i8),
            Value::U8 => f64::from(b0),
            Value::I16 => f64::from(i16::from_le_bytes([b0, b1])),
            Value::U16 => f64::from(u16::from_le_bytes([b0, b1])),
            Value::I32 => f64::from(i32::from_le_bytes([b0, b1, b2, b3])),
            Value::U32 => f64::from(u32::from_le_bytes([b0, b1, b2, b3])),
            Value::F32 => f64::from(f32::from_le_bytes([b0, b1, b2, b3])),
            Value::F64 => f64::from_le_bytes(b),
        })
    }

    fn record(&mut self) -> Result<(), Problem> {
        Ok(())
    }

    fn place(&self) -> String {
        format!("byte {}", self.at)
    }

    fn left(&self) -> usize {
        self.bytes.len() - self.at
    }

    #[inline]
    fn triangle(&mut self, known: usize) -> Option<[u32; 3]> {
        let record: &[u8; 13] = self.bytes.get(self.at..)?.first_chunk()?;
        let number = |i: usize| {
            let b = [record[i], record[i + 1], record[i + 2], record[i + 3]];
            if self.is_big {
                u32::from_be_bytes(b)
            } else {
                u32::from_le_bytes(b)
            }
        };
        let corners = [number(1), number(5), number(9)];
        // Negative numbers look large here; the careful way round says what is wrong with them.
        let is_plain = record[0] == 3 && corners.iter().all(|c| (*c as usize) < known);
        self.at += if is_plain { record.len() } else { 0 };
        is_plain.then_some(corners)
    }
}

/// Text bodies keep one record a line.
pub(super) struct Text<'a> {
    bytes: &'a [u8],
    at: usize,
    line: usize,
    words: Vec<&'a [u8]>,
    next: usize,
}

impl<'a> Text<'a> {
    /// The values of a file from byte `at` on, which `line` lines stand before.
    pub(super) fn after(bytes: &'a [u8], at: usize, line: usize) -> Text<'a> {
        Text {
            bytes,
            at,
            line,
            words: Vec::new(),
            next: 0,
        }
    }
}

impl Body for Text<'_> {
    fn value(&mut self, _: Value) -> Result<f64, Problem> {
        let Some(word) = self.words.get(self.next) else {
            return Err(problem(
                "bad-line",
                format!("Line {} of the PLY file has too few numbers", self.line),
                self.place(),
            ));
        };
        self.next += 1;
        // Not a number is one that costs its vertex alone.
        let value = std::str::from_utf8(word).ok().and_then(|w| w.parse().ok());
        value.ok_or_else(|| {
            problem(
                "bad-line",
                format!(
                    "Line {} of the PLY file holds `{}`, which is no number",
                    self.line,
                    lossy(word)
                ),
                self.place(),
            )
        })
    }

    fn record(&mut self) -> Result<(), Problem> {
        loop {
            if self.at >= self.bytes.len() {
                return Err(problem(
                    "truncated",
                    "The PLY file is cut short".into(),
                    format!("after line {}", self.line),
                ));
            }
            let rest = &self.bytes[self.at..];
            let end = rest.iter().position(|b| *b == b'\n').unwrap_or(rest.len());
            self.at += end + 1;
            self.line += 1;
            self.words.clear();
            self.words.extend(words(&rest[..end]));
            self.next = 0;
            if !self.words.is_empty() {
                return Ok(());
            }
        }
    }

    fn place(&self) -> String {
        format!("line {}", self.line)
    }

    fn left(&self) -> usize {
        self.bytes.len().saturating_sub(self.at)
    }
}
