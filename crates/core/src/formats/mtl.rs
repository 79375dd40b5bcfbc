//! The material file beside an OBJ: of each material its name and diffuse colour.

use super::text::{colour_from_shares, lossy, number, words};
use crate::colour::Colour;
use std::collections::HashMap;

/// A material.
pub(super) struct Material {
    /// Its diffuse colour, if given in shares of red, green and blue.
    pub(super) colour: Option<Colour>,
    /// Name of the file of the picture that goes over it; empty for none.
    pub(super) picture: String,
    /// How much it hides, 0 to 1.
    pub(super) opacity: f64,
}

/// Adds the materials of a file. What is not understood is passed over: a colour that is missing is noticed where the
/// material is used.
pub(super) fn read(bytes: &[u8], into: &mut HashMap<Vec<u8>, Material>) {
    let mut name: Option<Vec<u8>> = None;
    let bytes = bytes.strip_prefix(b"\xef\xbb\xbf").unwrap_or(bytes);
    for line in bytes.split(|b| *b == b'\n' || *b == b'\r') {
        let line = line.trim_ascii();
        let mut words = words(line);
        match (words.next(), &name) {
            (Some(b"newmtl"), _) => {
                let new = line[6..].trim_ascii().to_vec();
                into.insert(
                    new.clone(),
                    Material {
                        colour: None,
                        picture: String::new(),
                        opacity: 1.0,
                    },
                );
                name = Some(new);
            }
            (Some(b"Kd"), Some(name)) => {
                let rgb: Vec<f64> = words.map_while(number).collect();
                // One number alone is a grey.
                let rgb = match rgb[..] {
                    [grey] => Some([grey; 3]),
                    [r, g, b, ..] => Some([r, g, b]),
                    _ => None,
                };
                if let (Some(rgb), Some(material)) = (rgb, into.get_mut(name)) {
                    material.colour = Some(colour_from_shares(rgb));
                }
            }
            (Some(word @ (b"d" | b"Tr")), Some(name)) => {
                // `d` says how much it hides, `Tr` how much it lets through; `d -halo` says the first at the rim.
                let share = words.find_map(number);
                if let (Some(share), Some(material)) = (share, into.get_mut(name)) {
                    let opacity = if word == b"Tr" { 1.0 - share } else { share };
                    material.opacity = opacity.clamp(0.0, 1.0);
                }
            }
            (Some(b"map_Kd"), Some(name)) => {
                if let Some(material) = into.get_mut(name) {
                    material.picture = picture_name(line[6..].trim_ascii());
                }
            }
            _ => {}
        }
    }
}

/// The file that a map names, behind options and what they take (as Wavefront published the format, 1995).
fn picture_name(mut rest: &[u8]) -> String {
    loop {
        let word = words(rest).next().unwrap_or_default();
        // How many words an option takes at most; those of numbers may be fewer.
        let takes = match word {
            b"-blendu" | b"-blendv" | b"-cc" | b"-clamp" | b"-texres" | b"-boost" | b"-bm"
            | b"-imfchan" | b"-type" => 1,
            b"-mm" => 2,
            b"-o" | b"-s" | b"-t" => 3,
            _ => return lossy(rest).trim_matches('"').trim().to_string(),
        };
        let is_of_numbers = takes > 1;
        rest = rest[word.len()..].trim_ascii_start();
        for _ in 0..takes {
            let Some(word) = words(rest).next() else {
                break;
            };
            if is_of_numbers && number(word).is_none() {
                break;
            }
            rest = rest[word.len()..].trim_ascii_start();
        }
    }
}
