//! Colours in the two spare bytes that binary STL leaves after each facet.
//!
//! The format gives them no meaning. Two ways to put a colour of five bits a channel there are widespread and can be told apart
//! (common practice, from memory, no source): a header that holds `COLOR=` with four bytes, and facets whose highest bit says
//! that they have the header's colour; or no such header, and facets whose highest bit says that they have one of their own.
//! The two run the channels in opposite order. Anything else is not guessed at.

use super::model_file::{FileColour, FileColours, NO_COLOUR};
use crate::colour::Colour;
use std::collections::HashMap;

/// The bit that is no part of a colour.
const FLAG: u16 = 1 << 15;

/// What the spare bytes come to.
pub(super) enum Spare {
    /// Nothing.
    Empty,
    /// A colour for some facets or all.
    Colours(FileColours),
    /// So many facets have something that cannot be told.
    Unknown(usize),
}

/// The colours in a header of 80 bytes and the spare word of each facet.
pub(super) fn colours(header: &[u8], words: &[u16]) -> Spare {
    let own = |red: u32, word: u16| {
        let channel = |at: u32| {
            let five = u32::from(word >> at & 31);
            // The nearest of 256 steps.
            u8::try_from((five * 255 + 15) / 31).unwrap_or(u8::MAX)
        };
        Colour([channel(red), channel(5), channel(10 - red)])
    };
    let used = words.iter().filter(|w| **w != 0).count();
    if let Some(common) = header_colour(header) {
        // Who writes the header alone leaves the words empty.
        let colour = |word: &u16| match used == 0 || word & FLAG != 0 {
            true => Some(common),
            false => Some(own(0, *word)),
        };
        return Spare::Colours(gathered(words.iter().map(colour)));
    }
    if used == 0 {
        return Spare::Empty;
    }
    if words.iter().any(|w| *w != 0 && w & FLAG == 0) {
        return Spare::Unknown(used);
    }
    let colour = |word: &u16| (*word != 0).then(|| own(10, *word));
    Spare::Colours(gathered(words.iter().map(colour)))
}

/// The colour that a header names.
fn header_colour(header: &[u8]) -> Option<Colour> {
    const WORD: &[u8] = b"COLOR=";
    let at = header.windows(WORD.len()).position(|w| w == WORD)?;
    let bytes = header.get(at + WORD.len()..at + WORD.len() + 4)?;
    Some(Colour([bytes[0], bytes[1], bytes[2]]))
}

/// Colours of facets with those that occur, in the order in which they do.
fn gathered(colours: impl Iterator<Item = Option<Colour>>) -> FileColours {
    let mut out = FileColours::default();
    let mut number: HashMap<Colour, u32> = HashMap::new();
    for colour in colours {
        let Some(colour) = colour else {
            out.facets.push(NO_COLOUR);
            continue;
        };
        let next = out.palette.len() as u32;
        let number = *number.entry(colour).or_insert(next);
        if number == next {
            out.palette.push(FileColour {
                name: String::new(),
                colour,
                is_stand_in: false,
                opacity: 1.0,
            });
        }
        out.facets.push(number);
    }
    out
}
