//! Typed words, set and laid flat. They become an SVG text, so that letters are joined, kerned and turned as the `usvg` crate does it for
//! drawings, whichever way their script runs.

use super::flat::{Flat, Ink};
use super::fonts::{self, BODY, Font};
use super::svg::flat_of_text;
use super::thin::thickened;
use crate::Problem;
use crate::colour::Colour;
use crate::limits::{LETTER_SPACING, LETTERS, WORDS_ARC};
use serde::{Deserialize, Serialize};
use std::fmt::Write;

/// Typed words and how they are set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Words {
    /// What is typed; lines go below one another.
    pub text: String,
    /// How high a capital letter is, mm.
    pub height_mm: f64,
    /// The font, where none of the maker's own is given.
    #[serde(default, skip_serializing_if = "crate::is_default")]
    #[cfg_attr(feature = "wire", ts(optional, as = "Option<Font>"))]
    pub font: Font,
    /// Name of the content that is a font of the maker's own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", ts(optional))]
    pub own_font: Option<String>,
    /// What is added between letters, mm.
    #[serde(default, skip_serializing_if = "crate::is_default")]
    #[cfg_attr(feature = "wire", ts(optional, as = "Option<f64>"))]
    pub spacing_mm: f64,
    /// Radius of the arc they stand on, mm: arched up, or down where it is negative; a straight line without.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", ts(optional))]
    pub arc_mm: Option<f64>,
    /// Whether every letter is a colour of its own.
    #[serde(default, skip_serializing_if = "crate::is_default")]
    #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
    pub by_letter: bool,
    /// What is thinner is made so wide, mm; left as it is without.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", ts(optional))]
    pub thicken_mm: Option<f64>,
}

/// Letters at most.
const MOST_LETTERS: usize = 400;

/// From line to line, in sizes of the font (common practice, no source).
const LINE: f64 = 1.25;

impl Words {
    /// Words as they are set at first.
    pub fn plain(text: &str, height_mm: f64) -> Words {
        Words {
            text: text.into(),
            height_mm,
            font: Font::default(),
            own_font: None,
            spacing_mm: 0.0,
            arc_mm: None,
            by_letter: false,
            thicken_mm: None,
        }
    }

    /// Laid flat, on a page no larger than they are. `own`: the font that [`Words::own_font`] names.
    ///
    /// # Errors
    /// `words-empty`, `words-long`, `words-letters` for letters that no font has, `letters-out-of-range` and its like for numbers,
    /// `font-broken`; `drawing-size` for words that come out too long.
    pub fn flat(&self, own: Option<&[u8]>) -> Result<Flat, Problem> {
        self.check()?;
        let files: Vec<&[u8]> = match own {
            Some(own) => vec![own, BODY],
            None if self.font == Font::Plain => vec![BODY],
            None => [self.font.files(), vec![BODY]].concat(),
        };
        let fonts: Vec<_> = files
            .iter()
            .map(|f| fonts::opened(f))
            .collect::<Result<_, _>>()?;
        let is_seen = |c: &char| !c.is_whitespace() && !c.is_control();
        let mut missing: Vec<char> = (self.text.chars().filter(is_seen))
            .filter(|c| !is_mark(*c) && !fonts.iter().any(|f| fonts::has(f, *c)))
            .collect();
        missing.dedup();
        if !missing.is_empty() {
            let list: Vec<String> = missing.iter().take(8).map(|c| c.to_string()).collect();
            return Err(Problem::new(
                "words-letters",
                format!("No font here has {}", list.join(" ")),
                "text",
                "Type other letters, or give a font file that has these.",
            ));
        }
        let size = self.height_mm / fonts::capital(&fonts[0]);
        let letters: Vec<char> = self.text.chars().filter(is_seen).collect();
        let text = self.svg(size);
        let flat = flat_of_text(&text, &files)?;
        let by_letter = |ink: &Ink| letters.get(number_of(ink.colour)?).copied();
        let mut order: Vec<(usize, Ink)> = flat
            .inks
            .into_iter()
            .map(|ink| {
                let name = match self.by_letter {
                    true => by_letter(&ink).map_or(String::new(), String::from),
                    false => self.text.split_whitespace().collect::<Vec<_>>().join(" "),
                };
                let at = number_of(ink.colour).unwrap_or(0);
                let colour = Colour([0x22, 0x22, 0x22]);
                let area = ink.area;
                (at, Ink { name, colour, area })
            })
            .collect();
        order.sort_by_key(|(at, _)| *at);
        let inks = order.into_iter().map(|(_, ink)| ink).collect();
        // What is said of texts in drawings does not hold for words.
        let notes = Vec::new();
        let mut flat = cropped(Flat {
            inks,
            notes,
            ..flat
        });
        if let Some(width) = self.thicken_mm {
            flat = thickened(flat, width.clamp(0.05, 10.0));
        }
        Ok(flat)
    }

    fn check(&self) -> Result<(), Problem> {
        let refused =
            |code: &str, what: String, mend: &str| Err(Problem::new(code, what, "text", mend));
        if self.text.trim().is_empty() {
            let mend = "Type at least one letter.";
            return refused("words-empty", "No words were typed".into(), mend);
        }
        let count = self.text.chars().count();
        if count > MOST_LETTERS {
            let what = format!("{count} letters are more than {MOST_LETTERS}");
            return refused("words-long", what, "Lay them in several steps.");
        }
        let high = |v: &str| format!("Letters cannot be {v} high");
        LETTERS.check(self.height_mm, "height_mm", high)?;
        let apart = |v: &str| format!("Letters cannot be {v} further apart");
        LETTER_SPACING.check(self.spacing_mm, "spacing_mm", apart)?;
        if let Some(arc) = self.arc_mm {
            let words = |v: &str| format!("Words cannot stand on an arc of {v}");
            WORDS_ARC.check(arc.abs(), "arc_mm", words)?;
        }
        Ok(())
    }

    /// The text as SVG, in mm.
    fn svg(&self, size: f64) -> String {
        let lines: Vec<&str> = self.text.lines().collect();
        let longest = lines.iter().map(|l| l.chars().count()).max().unwrap_or(1);
        let long = (longest as f64 + 2.0) * (1.6 * size + self.spacing_mm.max(0.0));
        let arc = self.arc_mm.map_or(0.0, f64::abs);
        let high = (lines.len() as f64 + 3.0) * LINE * size;
        let (w, h) = match self.arc_mm {
            // Lines go outward and inward from the arc.
            Some(_) => (2.0 * (arc + high) + long.min(4.0 * arc), 2.0 * (arc + high)),
            None => (long, high),
        };
        let mut out = format!(
            "<svg xmlns='http://www.w3.org/2000/svg' width='{w}mm' height='{h}mm' viewBox='0 0 {w} {h}' font-size='{size}' letter-spacing='{}' text-anchor='middle'>",
            self.spacing_mm
        );
        let mut number = 0;
        for (at, line) in lines.iter().enumerate() {
            let down = at as f64 * LINE * size;
            match self.arc_mm {
                None => {
                    let y = 2.0 * LINE * size + down;
                    let _ = write!(out, "<text x='{}' y='{y}'>", 0.5 * w);
                    self.letters(line, &mut number, &mut out);
                    out.push_str("</text>");
                }
                Some(radius) => {
                    // Arched up: clockwise from below; arched down: the other way from above.
                    let (x, y) = (0.5 * w, 0.5 * h);
                    let (r, sweep, sign) = match radius > 0.0 {
                        true => ((arc - down).max(0.5 * size), 1, 1.0),
                        false => (arc + down, 0, -1.0),
                    };
                    let (first, far) = (y + sign * r, y - sign * r);
                    let _ = write!(
                        out,
                        "<path id='arc{at}' fill='none' d='M{x} {first}A{r} {r} 0 1 {sweep} {x} {far}A{r} {r} 0 1 {sweep} {x} {first}'/><text><textPath href='#arc{at}' startOffset='50%'>"
                    );
                    self.letters(line, &mut number, &mut out);
                    out.push_str("</textPath></text>");
                }
            }
        }
        out.push_str("</svg>");
        out
    }

    fn letters(&self, line: &str, number: &mut usize, out: &mut String) {
        for letter in line.chars().filter(|c| !c.is_control()) {
            if self.by_letter && !letter.is_whitespace() {
                let _ = write!(out, "<tspan fill='#{:06x}'>", *number + 1);
                escape(letter, out);
                out.push_str("</tspan>");
                *number += 1;
            } else {
                escape(letter, out);
            }
        }
    }
}

fn escape(letter: char, out: &mut String) {
    match letter {
        '<' => out.push_str("&lt;"),
        '&' => out.push_str("&amp;"),
        letter if letter.is_whitespace() => out.push('\u{a0}'),
        letter => out.push(letter),
    }
}

/// The place of a letter that was told by its colour.
fn number_of(colour: Colour) -> Option<usize> {
    let [r, g, b] = colour.0.map(usize::from);
    ((r << 16) | (g << 8) | b).checked_sub(1)
}

/// Marks that join letters or turn their way are no letters.
fn is_mark(c: char) -> bool {
    matches!(c, '\u{200c}'..='\u{200f}' | '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}' | '\u{fe00}'..='\u{fe0f}')
}

/// On a page that ends where the drawing does.
fn cropped(mut flat: Flat) -> Flat {
    let boxes = flat.inks.iter().filter_map(|i| i.area.bounds());
    let all = boxes.reduce(|(l, h), (low, high)| {
        (
            [l[0].min(low[0]), l[1].min(low[1])],
            [h[0].max(high[0]), h[1].max(high[1])],
        )
    });
    let Some((low, high)) = all else { return flat };
    for ink in &mut flat.inks {
        ink.area = std::mem::take(&mut ink.area).moved([-low[0], -low[1]]);
    }
    flat.size_mm = [high[0] - low[0], high[1] - low[1]];
    flat
}
