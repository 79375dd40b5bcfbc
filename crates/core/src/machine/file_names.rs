//! Names of print files: a pattern with values in braces.

use super::passages::{Piece, pieces};
use crate::Problem;

/// What may stand in braces, and what is put in for it.
pub const FILE_NAME_VALUES: [(&str, &str); 5] = [
    ("job", "name of the job"),
    ("revision", "its revision"),
    ("machine", "kind of machine"),
    ("printer", "name of the printer"),
    ("date", "day on which the file is made, as 2026-11-28"),
];

/// Longest name without its ending, letters: every file system takes it with what is added for passes.
const LONGEST: usize = 100;

/// The usual pattern.
pub(super) const USUAL: &str = "{job}-r{revision}-{machine}";

/// # Errors
/// `file-name-unusable` with what is wrong.
pub(super) fn check(pattern: &str) -> Result<(), Problem> {
    let refuse = |message: String, mend: String| {
        Err(Problem::new(
            "file-name-unusable",
            message,
            "file_name",
            mend,
        ))
    };
    let known = |of: &str| FILE_NAME_VALUES.iter().any(|(v, _)| *v == of);
    let unknown = pieces(pattern).find_map(|piece| match piece {
        Piece::Value(of) if !known(of) => Some(format!("{{{of}}}")),
        Piece::Loose(brace) => Some(brace.to_string()),
        _ => None,
    });
    if let Some(what) = unknown {
        let names = FILE_NAME_VALUES.map(|(v, _)| format!("{{{v}}}"));
        return refuse(
            format!("Nobody knows what “{what}” is to stand for in a name"),
            format!("Use {}.", names.join(", ")),
        );
    }
    if pattern.trim().is_empty() || pattern.chars().count() > LONGEST {
        return refuse(
            format!("The name of a print file has 1 to {LONGEST} letters"),
            format!("Type it again; the usual one is {USUAL}."),
        );
    }
    Ok(())
}

/// A name without ending, in letters that every file system and header takes. `value`: what is put in for a name of
/// [`FILE_NAME_VALUES`].
pub fn file_stem(pattern: &str, value: &dyn Fn(&str) -> String) -> String {
    let mut told = String::new();
    for piece in pieces(pattern) {
        match piece {
            Piece::Plain(plain) | Piece::Loose(plain) => told.push_str(plain),
            Piece::Value(of) => told.push_str(&value(of)),
        }
    }
    let mut out = String::new();
    for c in told.chars() {
        match c {
            c if c.is_ascii_alphanumeric() => out.push(c.to_ascii_lowercase()),
            '_' | '.' if !out.is_empty() => out.push(c),
            _ if !out.is_empty() && !out.ends_with('-') => out.push('-'),
            _ => {}
        }
    }
    out.truncate(LONGEST);
    match out.trim_end_matches(['-', '.']) {
        "" => "job".into(),
        stem => stem.into(),
    }
}
