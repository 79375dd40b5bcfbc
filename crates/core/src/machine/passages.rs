//! Lines of a maker's own in print files, with a few values in braces.

use crate::Problem;
use serde::{Deserialize, Serialize};

/// Lines that are put into print files. Empty ones add nothing.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Passages {
    /// When nozzle and bed are hot and all axes are found, before anything is laid.
    pub start: String,
    /// When a layer begins.
    pub layer: String,
    /// When another filament is in, before it is purged.
    pub swap: String,
    /// After the last bead, while everything is still hot.
    pub end: String,
}

/// What may stand in braces, and what is put in for it.
pub const PASSAGE_VALUES: [(&str, &str); 9] = [
    ("layer", "number of the layer, from 1"),
    ("layers", "how many there are"),
    ("z", "height of the layer's top, mm"),
    ("slot", "slot that prints, from 1"),
    ("tool", "the same from 0"),
    ("spool", "name of what is in it"),
    ("nozzle_c", "its temperature, °C"),
    ("bed_c", "temperature of the bed, °C"),
    (
        "from_slot",
        "slot that printed before a swap; the same as slot elsewhere",
    ),
];

/// Longest passage, in letters.
const MOST_LETTERS: usize = 4000;

impl Passages {
    /// Each with what it is called.
    fn all(&self) -> [(&'static str, &String); 4] {
        [
            ("start", &self.start),
            ("layer", &self.layer),
            ("swap", &self.swap),
            ("end", &self.end),
        ]
    }

    /// Refuses values that nobody knows, and what is too long.
    pub(super) fn check(&self) -> Result<(), Problem> {
        for (name, text) in self.all() {
            if text.chars().count() > MOST_LETTERS {
                return Err(Problem::new(
                    "passage-unusable",
                    format!("The {name} passage is longer than {MOST_LETTERS} letters"),
                    format!("passages.{name}"),
                    "Shorten it.",
                ));
            }
            for (number, line) in (1..).zip(text.lines()) {
                let known = |of: &str| PASSAGE_VALUES.iter().any(|(v, _)| *v == of);
                let unknown = pieces(line).find_map(|piece| match piece {
                    Piece::Value(of) if !known(of) => Some(format!("{{{of}}}")),
                    Piece::Loose(brace) => Some(brace.to_string()),
                    _ => None,
                });
                if let Some(what) = unknown {
                    let names: Vec<String> = PASSAGE_VALUES
                        .iter()
                        .map(|(v, _)| format!("{{{v}}}"))
                        .collect();
                    return Err(Problem::new(
                        "passage-unusable",
                        format!("Nobody knows what “{what}” is to stand for"),
                        format!("passages.{name}, line {number}"),
                        format!("Use one of {}.", names.join(", ")),
                    ));
                }
            }
        }
        Ok(())
    }
}

/// A piece of a line: what is in braces, and what is not.
pub(super) enum Piece<'a> {
    Plain(&'a str),
    Value(&'a str),
    /// A brace without its other half.
    Loose(&'a str),
}

pub(super) fn pieces(line: &str) -> impl Iterator<Item = Piece<'_>> {
    let mut rest = line;
    std::iter::from_fn(move || {
        if rest.is_empty() {
            return None;
        }
        let Some(at) = rest.find(['{', '}']) else {
            return Some(Piece::Plain(std::mem::take(&mut rest)));
        };
        if at > 0 {
            let (plain, next) = rest.split_at(at);
            rest = next;
            return Some(Piece::Plain(plain));
        }
        match (rest.starts_with('{'), rest.find('}')) {
            (true, Some(end)) => {
                let value = &rest[1..end];
                rest = &rest[end + 1..];
                Some(Piece::Value(value))
            }
            _ => {
                let (brace, next) = rest.split_at(1);
                rest = next;
                Some(Piece::Loose(brace))
            }
        }
    })
}

/// A passage with its values put in.
pub fn filled(text: &str, value: &dyn Fn(&str) -> String) -> String {
    let mut out = String::new();
    for line in text.lines() {
        for piece in pieces(line) {
            match piece {
                Piece::Plain(plain) | Piece::Loose(plain) => out.push_str(plain),
                Piece::Value(of) => out.push_str(&value(of)),
            }
        }
        out.push('\n');
    }
    out
}
