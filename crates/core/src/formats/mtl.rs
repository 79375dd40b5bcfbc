//! The material file beside an OBJ: of each material its name and diffuse colour.

use super::text::{colour_from_shares, number, words};
use crate::colour::Colour;
use std::collections::HashMap;

/// A material.
pub(super) struct Material {
    /// Its diffuse colour, if given in shares of red, green and blue.
    pub(super) colour: Option<Colour>,
    /// Whether a picture goes over it.
    pub(super) has_picture: bool,
}

/// Adds the materials of a file. What is not understood is passed over: a colour that is missing is noticed where the
/// material is used.
pub(super) fn read(bytes: &[u8], into: &mut HashMap<Vec<u8>, Material>) {
    let mut name: Option<Vec<u8>> = None;
    for line in bytes.split(|b| *b == b'\n') {
        let line = line.trim_ascii();
        let mut words = words(line);
        match (words.next(), &name) {
            (Some(b"newmtl"), _) => {
                let new = line[6..].trim_ascii().to_vec();
                into.insert(
                    new.clone(),
                    Material {
                        colour: None,
                        has_picture: false,
                    },
                );
                name = Some(new);
            }
            (Some(b"Kd"), Some(name)) => {
                let rgb: Vec<f64> = words.map_while(number).collect();
                if let ([r, g, b], Some(material)) = (&rgb[..], into.get_mut(name)) {
                    material.colour = Some(colour_from_shares([*r, *g, *b]));
                }
            }
            (Some(b"map_Kd"), Some(name)) => {
                if let Some(material) = into.get_mut(name) {
                    material.has_picture = true;
                }
            }
            _ => {}
        }
    }
}
