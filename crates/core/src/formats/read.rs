//! Telling a file's format by what is in it, and reading it.

use super::model_file::ModelFile;
use super::stl_read::{Soup, StlError, read_stl};
use super::zipped::Budget;
use super::{obj, ply, stl_ascii, threemf_read, vrml, zipped};
use crate::Problem;

/// How a file is read: what lies beside it, and whether to go on.
pub struct Reading<'a> {
    /// A file beside the model's, by the name the model gives it (an OBJ its material file). `None` if there is none.
    pub beside: &'a dyn Fn(&str) -> Option<Vec<u8>>,
    /// Told the finished share, 0 to 1, every few thousand facets; returns false to stop.
    pub progress: &'a dyn Fn(f64) -> bool,
}

impl Reading<'_> {
    /// Nothing beside the file, and never stopped.
    pub const ALONE: Reading<'static> = Reading {
        beside: &|_| None,
        progress: &|_| true,
    };

    /// A file beside the model's. Only its last name counts: a path cannot lead anywhere else.
    pub(super) fn beside(&self, path: &str) -> Option<Vec<u8>> {
        let name = path.rsplit(['/', '\\']).next().unwrap_or(path);
        (self.beside)(name)
    }

    /// Goes on, or ends with `stopped`.
    pub(crate) fn step(&self, done: f64) -> Result<(), Problem> {
        if (self.progress)(done.clamp(0.0, 1.0)) {
            return Ok(());
        }
        Err(Problem::stopped(
            "Opening was stopped",
            "Open the file again when you like; nothing was changed.",
        ))
    }
}

/// A file read.
pub enum Read {
    /// Loose facets without shared corners.
    Stl(Soup),
    /// Any other format.
    Model(ModelFile),
}

/// Reads a model file of any format that is known: STL, OBJ, PLY, 3MF, VRML97, or a ZIP with one of them in it.
///
/// # Errors
/// A [`Problem`] with the place; nothing partial is returned.
pub fn read(bytes: &[u8], reading: &Reading<'_>) -> Result<Read, Problem> {
    within(bytes, reading, Budget::whole())
}

fn within(bytes: &[u8], reading: &Reading<'_>, budget: Budget) -> Result<Read, Problem> {
    reading.step(0.0)?;
    if bytes.is_empty() {
        return Err(StlError::Empty.into());
    }
    if let Some(text) = from_utf16(bytes) {
        return within(text?.as_bytes(), reading, budget);
    }
    let bytes = bytes.strip_prefix(b"\xef\xbb\xbf").unwrap_or(bytes);
    if bytes.starts_with(b"PK\x03\x04") || bytes.starts_with(b"PK\x05\x06") {
        return match zipped::model_in(bytes, &budget)? {
            zipped::Inside::ThreeMf => threemf_read::read(bytes, reading, budget).map(Read::Model),
            zipped::Inside::Bundle { model, beside } => {
                let find = |name: &str| {
                    let found = beside.iter().find(|(n, _)| n.eq_ignore_ascii_case(name));
                    found.map(|(_, bytes)| bytes.clone())
                };
                let inner = Reading {
                    beside: &find,
                    progress: reading.progress,
                };
                within(&model, &inner, budget.within()?)
            }
        };
    }
    if bytes.starts_with(b"ply\n") || bytes.starts_with(b"ply\r") {
        return ply::read(bytes, reading).map(Read::Model);
    }
    if bytes.starts_with(b"#VRML") {
        return vrml::read(without_end_marks(bytes), reading).map(Read::Model);
    }
    let is_stl_text = stl_ascii::looks_like_text(bytes);
    if !is_stl_text && obj::looks_like(bytes) {
        return obj::read(without_end_marks(bytes), reading).map(Read::Model);
    }
    match read_stl(bytes) {
        Ok(soup) => Ok(Read::Stl(soup)),
        Err(StlError::NotStl) => Err(unknown(bytes)),
        Err(e) => Err(e.into()),
    }
}

/// Text without what some programs put behind its end: NUL bytes, the Ctrl-Z of old systems.
pub(super) fn without_end_marks(bytes: &[u8]) -> &[u8] {
    let end = bytes
        .iter()
        .rposition(|b| !matches!(b, 0 | 0x1a) && !b.is_ascii_whitespace());
    &bytes[..end.map_or(0, |e| e + 1)]
}

/// Text that is written in 16-bit letters, told by its byte order mark (The Unicode Standard, section 23.8).
fn from_utf16(bytes: &[u8]) -> Option<Result<String, Problem>> {
    let is_big = match bytes {
        [0xff, 0xfe, ..] => false,
        [0xfe, 0xff, ..] => true,
        _ => return None,
    };
    let unit = |pair: &[u8; 2]| {
        if is_big {
            u16::from_be_bytes(*pair)
        } else {
            u16::from_le_bytes(*pair)
        }
    };
    let (pairs, _) = bytes[2..].as_chunks::<2>();
    let text = char::decode_utf16(pairs.iter().map(unit));
    let text: String = text.map(|c| c.unwrap_or('\u{fffd}')).collect();
    // Decoded, it must not look like 16-bit text again.
    Some(if text.is_empty() || text.starts_with('\u{feff}') {
        Err(unknown(b""))
    } else {
        Ok(text)
    })
}

/// Whether most lines of a text begin with a word that moves or sets a machine (ISO 6983, RS-274).
fn is_print_file(bytes: &[u8]) -> bool {
    const LOOKED_AT: usize = 65_536;
    let text = String::from_utf8_lossy(&bytes[..bytes.len().min(LOOKED_AT)]);
    let is_word = |line: &str| {
        let mut letters = line.chars();
        letters.next().is_some_and(|c| "GMTNgmtn".contains(c))
            && letters.next().is_some_and(|c| c.is_ascii_digit())
    };
    let lines = text.lines().map(str::trim);
    let said = lines.filter(|l| !l.is_empty() && !l.starts_with([';', '(', '%']));
    let (words, all) = said.fold((0, 0), |(words, all), line| {
        (words + usize::from(is_word(line)), all + 1)
    });
    words >= 2 && 2 * words > all
}

/// The refusal of bytes that are no model, with what they look like where that is plain.
fn unknown(bytes: &[u8]) -> Problem {
    if is_print_file(bytes) {
        return Problem::new(
            "print-file",
            "This is a print file and no model",
            "",
            "Drop it on the shelf or on Handover, where print files are opened.",
        );
    }
    // Signatures from the formats' public descriptions.
    const KNOWN: [(&[u8], &str); 8] = [
        (b"\x89PNG", "a PNG picture"),
        (b"\xff\xd8\xff", "a JPEG picture"),
        (b"%PDF", "a PDF document"),
        (
            b"ISO-10303-21",
            "a STEP file, which holds curved solids and no facets",
        ),
        (b"glTF", "a glTF file"),
        (b"\x1f\x8b", "packed with gzip"),
        (b"<?xml", "an XML file"),
        (b"<svg", "an SVG drawing"),
    ];
    let looks = KNOWN.iter().find(|(start, _)| bytes.starts_with(start));
    let message = match looks {
        Some((_, what)) => format!("This is not a model that can be opened: it looks like {what}"),
        None => "This is not a model file in a format that is known".to_string(),
    };
    Problem::new(
        "file-unknown",
        message,
        "start of the file",
        "Choose an STL, OBJ, PLY, 3MF or VRML97 file, or export the model as one.",
    )
}
