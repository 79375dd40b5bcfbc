//! STL, binary and ASCII, told apart by content.
//!
//! Own reader, for several solids in one text file and for speed (docs/architecture.md, docs/performance.md).

use super::model_file::PassedOver;
use super::stl_colours::{Spare, colours};
use super::{FileColours, LARGEST_MM, Piece};
use crate::Problem;

/// Facets as they stand in a file: corners in mm, not yet welded.
#[derive(Debug, Clone, PartialEq)]
pub struct Soup {
    /// Which of the two STL kinds the bytes were.
    pub kind: StlKind,
    /// Three corners per facet, each finite.
    pub corners: Vec<[[f32; 3]; 3]>,
    /// Every solid, in file order; one at least.
    pub pieces: Vec<Piece>,
    /// Colours of facets, where the bytes have some.
    pub colours: Option<FileColours>,
    /// What was passed over because it cannot be used, each a short sentence.
    pub left_out: Vec<String>,
}

/// The two kinds of STL file.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum StlKind {
    /// 80 bytes of header, a count, 50 bytes per facet.
    Binary,
    /// Text with `solid … facet … endsolid`.
    Ascii,
}

/// Why bytes are not a usable STL file.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum StlError {
    /// No bytes at all.
    #[error("the file is empty")]
    Empty,
    /// A solid without a single facet.
    #[error("the file holds no facets")]
    NoFacets,
    /// Neither text with facets nor a binary header and count.
    #[error("this is not an STL file")]
    NotStl,
    /// The count in the header asks for more bytes than there are.
    #[error(
        "the file is cut short: its header promises {promised} facets, there are bytes for {present}"
    )]
    Truncated {
        /// Facets the header promises.
        promised: u64,
        /// Whole facets present.
        present: u64,
    },
    /// The count in the header leaves bytes over.
    #[error(
        "the facet count does not fit the size: {promised} facets take {expected} bytes, the file has {actual}"
    )]
    CountMismatch {
        /// Facets the header promises.
        promised: u64,
        /// 84 + 50 n.
        expected: u64,
        /// Bytes in the file.
        actual: u64,
    },
    /// A corner is not a number, infinite, or too large to be a size in mm.
    #[error("a corner of facet {facet} is not a usable number")]
    BadCorner {
        /// Facet, counted from 1.
        facet: u64,
    },
    /// Text that starts like STL and then breaks off or goes astray.
    #[error("line {line} of the file is not STL: {what}")]
    BadLine {
        /// Line, counted from 1.
        line: u64,
        /// What was expected.
        what: &'static str,
    },
}

impl From<StlError> for Problem {
    fn from(e: StlError) -> Problem {
        const AGAIN: &str = "Download or export the file again.";
        let (code, place, mend) = match &e {
            StlError::Empty => ("file-empty", String::new(), AGAIN.into()),
            StlError::NoFacets => (
                "stl-no-facets",
                String::new(),
                "Check that the model was selected when it was exported.".into(),
            ),
            StlError::NotStl => (
                "file-unknown",
                "start of the file".into(),
                "Choose an STL, OBJ, PLY, 3MF or VRML97 file.".into(),
            ),
            StlError::Truncated { present, .. } => (
                "stl-truncated",
                format!("after facet {present}"),
                AGAIN.to_string(),
            ),
            StlError::CountMismatch { .. } => {
                ("stl-count-mismatch", "byte 80".into(), AGAIN.into())
            }
            StlError::BadCorner { facet } => (
                "stl-bad-corner",
                format!("facet {facet}"),
                "Export the model again; every corner must be a finite number of millimetres."
                    .into(),
            ),
            StlError::BadLine { line, .. } => (
                "stl-bad-line",
                format!("line {line}"),
                "Export the file again, as binary STL if you can choose.".into(),
            ),
        };
        Problem::new(code, sentence(&e.to_string()), place, mend)
    }
}

/// The text with its first letter large, as a sentence begins.
fn sentence(text: &str) -> String {
    let mut letters = text.chars();
    letters
        .next()
        .map_or_else(String::new, |c| c.to_uppercase().chain(letters).collect())
}

pub(super) fn usable(corner: &[f32; 3]) -> bool {
    corner
        .iter()
        .all(|c| c.is_finite() && f64::from(c.abs()) <= LARGEST_MM)
}

/// The facets of an STL file, binary or ASCII.
///
/// A file whose size is 84 + 50 n for the n in its header is binary, whatever its first word is; else text
/// that begins with `solid` is read as ASCII.
///
/// # Errors
/// [`StlError`], with the facet or line; nothing partial is returned.
///
/// # Cost
/// One pass; 1.31 million binary facets take about 10 ms.
pub fn read_stl(bytes: &[u8]) -> Result<Soup, StlError> {
    if bytes.is_empty() {
        return Err(StlError::Empty);
    }
    let promised = binary_count(bytes);
    let fits = promised.is_some_and(|n| 84 + 50 * n == bytes.len() as u64);
    if !fits && super::stl_ascii::looks_like_text(bytes) {
        return super::stl_ascii::read(bytes);
    }
    let promised = promised.ok_or(StlError::NotStl)?;
    if promised == 0 && bytes.len() == 84 {
        return Err(StlError::NoFacets);
    }
    let expected = 84 + 50 * promised;
    let actual = bytes.len() as u64;
    let present = (actual - 84) / 50;
    if !fits && is_implausible(promised, present) {
        return Err(StlError::NotStl);
    }
    if actual < expected {
        return Err(StlError::Truncated { promised, present });
    }
    // A byte or two behind the end do no harm; a whole facet more means that the count is wrong.
    if actual >= expected + 50 {
        return Err(StlError::CountMismatch {
            promised,
            expected,
            actual,
        });
    }
    let mut corners = Vec::with_capacity(present as usize);
    let mut words = Vec::with_capacity(present as usize);
    let mut passed_over = PassedOver::default();
    for (index, record) in bytes[84..expected as usize].chunks_exact(50).enumerate() {
        let mut facet = [[0f32; 3]; 3];
        for (i, value) in record[12..48].chunks_exact(4).enumerate() {
            facet[i / 3][i % 3] = f32::from_le_bytes([value[0], value[1], value[2], value[3]]);
        }
        if facet.iter().all(usable) {
            corners.push(facet);
            words.push(u16::from_le_bytes([record[48], record[49]]));
        } else {
            let facet = index as u64 + 1;
            passed_over.add(FACETS, StlError::BadCorner { facet }.into());
        }
    }
    if corners.is_empty() {
        return Err(StlError::BadCorner { facet: 1 });
    }
    let mut left_out = passed_over.notes();
    if actual > expected {
        left_out.push(format!(
            "what stands behind the last facet (byte {expected})"
        ));
    }
    let colours = match colours(&bytes[..80], &words) {
        Spare::Empty => None,
        Spare::Colours(colours) => Some(colours),
        Spare::Unknown(count) => {
            let (facets, have) = if count == 1 {
                (FACETS.0, "has")
            } else {
                (FACETS.1, "have")
            };
            left_out.push(format!(
                "what {count} {facets} {have} in the two spare bytes: it has no agreed meaning"
            ));
            None
        }
    };
    Ok(Soup {
        kind: StlKind::Binary,
        corners,
        colours,
        pieces: vec![Piece {
            name: String::new(),
            first_facet: 0,
        }],
        left_out,
    })
}

/// What loose facets are called.
pub(super) const FACETS: (&str, &str) = ("facet", "facets");

fn binary_count(bytes: &[u8]) -> Option<u64> {
    let count = bytes.get(80..84)?;
    Some(u64::from(u32::from_le_bytes([
        count[0], count[1], count[2], count[3],
    ])))
}

/// Whether a header count so far from the bytes present says "another kind of file" rather than "cut short".
fn is_implausible(promised: u64, present: u64) -> bool {
    promised > 100_000_000 && promised > present.saturating_mul(1000)
}
