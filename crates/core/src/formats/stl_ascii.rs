//! Text STL: one or several `solid … endsolid` blocks.

use super::Piece;
use super::model_file::PassedOver;
use super::read::without_end_marks;
use super::stl_read::{FACETS, Soup, StlError, StlKind, usable};

/// Whether the bytes begin, after white space, with the word `solid` and go on as printable text.
pub(super) fn looks_like_text(bytes: &[u8]) -> bool {
    let start = bytes.iter().position(|b| !b.is_ascii_whitespace());
    let Some(start) = start else { return true };
    let head = &bytes[start..bytes.len().min(start + 256)];
    head.len() >= 5
        && head[..5].eq_ignore_ascii_case(b"solid")
        && !head.iter().any(|b| *b < 9 || (*b > 13 && *b < 32))
}

/// Words of the text with the line each stands on; white space is spaces, tabs and any line end.
struct Words<'a> {
    bytes: &'a [u8],
    at: usize,
    line: u64,
}

impl<'a> Words<'a> {
    fn next(&mut self) -> Option<&'a [u8]> {
        while let Some(b) = self.bytes.get(self.at).filter(|b| b.is_ascii_whitespace()) {
            // A lone carriage return ends a line of old systems.
            let ends = *b == b'\n' || (*b == b'\r' && self.bytes.get(self.at + 1) != Some(&b'\n'));
            self.line += u64::from(ends);
            self.at += 1;
        }
        let start = self.at;
        while self
            .bytes
            .get(self.at)
            .is_some_and(|b| !b.is_ascii_whitespace())
        {
            self.at += 1;
        }
        (self.at > start).then(|| &self.bytes[start..self.at])
    }

    fn rest_of_line(&mut self) -> &'a [u8] {
        let start = self.at;
        while self
            .bytes
            .get(self.at)
            .is_some_and(|b| *b != b'\n' && *b != b'\r')
        {
            self.at += 1;
        }
        self.bytes[start..self.at].trim_ascii()
    }

    fn expect(&mut self, word: &[u8], what: &'static str) -> Result<(), StlError> {
        match self.next() {
            Some(w) if w.eq_ignore_ascii_case(word) => Ok(()),
            _ => Err(self.bad(what)),
        }
    }

    /// Goes on behind the facet that begins here, or to the end of the solid or the text.
    fn skip_facet(&mut self) {
        loop {
            let (at, line) = (self.at, self.line);
            match self.next() {
                Some(w) if w.eq_ignore_ascii_case(b"endfacet") => return,
                Some(w)
                    if w.eq_ignore_ascii_case(b"facet") || w.eq_ignore_ascii_case(b"endsolid") =>
                {
                    (self.at, self.line) = (at, line);
                    return;
                }
                Some(_) => {}
                None => return,
            }
        }
    }

    fn number(&mut self) -> Result<f32, StlError> {
        self.next()
            .and_then(|w| std::str::from_utf8(w).ok())
            .and_then(|w| w.parse().ok())
            .ok_or_else(|| self.bad("a number was expected"))
    }

    fn bad(&self, what: &'static str) -> StlError {
        StlError::BadLine {
            line: self.line,
            what,
        }
    }
}

/// The facets of text STL. Normals in the file are not used: the order of the corners says what is outside.
///
/// A facet that cannot be used, a line that says nothing known, and what stands behind the end are passed over and counted.
pub(super) fn read(bytes: &[u8]) -> Result<Soup, StlError> {
    let mut words = Words {
        bytes: without_end_marks(bytes),
        at: 0,
        line: 1,
    };
    let mut corners = Vec::new();
    let mut solids: Vec<Piece> = Vec::new();
    let mut passed_over = PassedOver::default();
    let mut first_bad: Option<StlError> = None;
    while let Some(word) = words.next() {
        if !word.eq_ignore_ascii_case(b"solid") {
            if solids.is_empty() {
                return Err(StlError::NotStl);
            }
            let why = words.bad("`solid` was expected");
            words.rest_of_line();
            passed_over.add(LINES, why.into());
            continue;
        }
        let name = String::from_utf8_lossy(words.rest_of_line()).into_owned();
        solids.push(Piece {
            name,
            first_facet: corners.len() as u32,
        });
        loop {
            match words.next() {
                Some(w) if w.eq_ignore_ascii_case(b"facet") => {
                    let before = (words.at, words.line);
                    match facet(&mut words, corners.len()) {
                        Ok(facet) => corners.push(facet),
                        Err(why) => {
                            passed_over.add(FACETS, why.clone().into());
                            first_bad.get_or_insert(why);
                            (words.at, words.line) = before;
                            words.skip_facet();
                        }
                    }
                }
                Some(w) if w.eq_ignore_ascii_case(b"endsolid") => {
                    words.rest_of_line();
                    break;
                }
                None => {
                    return Err(words.bad("the text ends before `endsolid`"));
                }
                Some(_) => {
                    let why = words.bad("`facet` or `endsolid` was expected");
                    words.rest_of_line();
                    passed_over.add(LINES, why.clone().into());
                    first_bad.get_or_insert(why);
                }
            }
        }
    }
    if corners.is_empty() {
        return Err(match first_bad {
            Some(why) => why,
            None if solids.is_empty() => StlError::Empty,
            None => StlError::NoFacets,
        });
    }
    Ok(Soup {
        colours: None,
        kind: StlKind::Ascii,
        corners,
        pieces: solids,
        left_out: passed_over.notes(),
    })
}

/// What lines are called.
const LINES: (&str, &str) = ("line", "lines");

fn facet(words: &mut Words<'_>, index: usize) -> Result<[[f32; 3]; 3], StlError> {
    words.expect(b"normal", "`normal` was expected")?;
    for _ in 0..3 {
        words
            .next()
            .ok_or_else(|| words.bad("the text ends inside a facet"))?;
    }
    words.expect(b"outer", "`outer loop` was expected")?;
    words.expect(b"loop", "`outer loop` was expected")?;
    let mut corners = [[0f32; 3]; 3];
    for corner in &mut corners {
        words.expect(b"vertex", "`vertex` was expected")?;
        for value in corner.iter_mut() {
            *value = words.number()?;
        }
    }
    words.expect(b"endloop", "`endloop` was expected")?;
    words.expect(b"endfacet", "`endfacet` was expected")?;
    if corners.iter().all(usable) {
        Ok(corners)
    } else {
        Err(StlError::BadCorner {
            facet: index as u64 + 1,
        })
    }
}
