//! Reading words, numbers and colours out of text, with the line for every refusal.

use super::model_file::LARGEST_MM;
use crate::Problem;
use crate::colour::Colour;

/// A refusal about one line of a text format.
pub(super) fn bad_line(format: &str, line: usize, what: &str) -> Problem {
    Problem::new(
        &format!("{}-bad-line", format.to_lowercase()),
        format!("Line {line} of the {format} file cannot be used: {what}"),
        format!("line {line}"),
        "Export the file again from the program it came from.",
    )
}

/// The words of a line: what white space parts.
pub(super) fn words(line: &[u8]) -> impl Iterator<Item = &[u8]> {
    line.split(|b| b.is_ascii_whitespace())
        .filter(|w| !w.is_empty())
}

/// A finite number.
pub(super) fn number(word: &[u8]) -> Option<f64> {
    let value: f64 = std::str::from_utf8(word).ok()?.parse().ok()?;
    value.is_finite().then_some(value)
}

/// Whether a position in mm is of a size that can be worked with.
pub(super) fn is_usable(position: &[f64; 3]) -> bool {
    position
        .iter()
        .all(|c| c.is_finite() && c.abs() <= LARGEST_MM)
}

/// The text as it was meant, invalid UTF-8 replaced.
pub(super) fn lossy(bytes: &[u8]) -> String {
    String::from_utf8_lossy(bytes).trim().to_string()
}

/// A colour from three shares of full light, 0 to 1, as files write sRGB.
pub(super) fn colour_from_shares(rgb: [f64; 3]) -> Colour {
    Colour(rgb.map(|c| (c.clamp(0.0, 1.0) * 255.0).round() as u8))
}

/// A name with spaces for characters that XML and file lists cannot hold (XML 1.0, section 2.2): controls, and the two places
/// of Unicode that are no characters.
pub fn writable(name: &str) -> String {
    let held = |c: char| {
        if c.is_control() || matches!(c, '\u{fffe}' | '\u{ffff}') {
            ' '
        } else {
            c
        }
    };
    let spaced: String = name.chars().map(held).collect();
    spaced.trim().to_string()
}
