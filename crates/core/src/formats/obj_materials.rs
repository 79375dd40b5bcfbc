//! The materials of an OBJ file: looked up in the files beside it, with the pictures that lie over their facets.

use super::model_file::{FileColour, leave_out};
use super::mtl;
use super::obj::Reader;
use super::text::lossy;
use crate::colour::Colour;
use std::collections::HashMap;

impl Reader<'_, '_> {
    pub(super) fn material_file(&mut self, name: &[u8]) {
        let name = lossy(name);
        let name = name.trim_matches('"').trim();
        if let Some(bytes) = self.beside(name) {
            mtl::read(&bytes, &mut self.library);
            return;
        }
        // Several libraries may stand on one line.
        for name in name.split_whitespace() {
            if let Some(bytes) = self.beside(name.trim_matches('"')) {
                mtl::read(&bytes, &mut self.library);
            }
        }
    }

    /// A file beside the model, by its name as it is written, or in small letters.
    fn beside(&self, name: &str) -> Option<Vec<u8>> {
        let small = || self.reading.beside(&name.to_lowercase());
        self.reading.beside(name).or_else(small)
    }

    /// Gives materials that were used the colours of the library; what has none is told.
    pub(super) fn look_up_materials(&mut self) {
        let mut used: Vec<(&Vec<u8>, &u32)> = self.materials.iter().collect();
        used.sort_by_key(|(_, number)| **number);
        let mut wanted: Vec<(u32, String)> = Vec::new();
        for (name, number) in used {
            let material = self.library.get(name).or_else(|| {
                let mut same = self
                    .library
                    .iter()
                    .filter(|(n, _)| n.eq_ignore_ascii_case(name));
                same.next().map(|(_, m)| m)
            });
            let Some(material) = material else {
                self.missing.push(lossy(name));
                continue;
            };
            // Without a colour of its own a material is white under its picture, and grey without one (common practice, no
            // source).
            let plain = if material.picture.is_empty() {
                204
            } else {
                255
            };
            let colour = material.colour.unwrap_or(Colour([plain; 3]));
            self.out.recolour(*number, colour, material.opacity);
            if !material.picture.is_empty() {
                wanted.push((*number, material.picture.clone()));
            }
        }
        self.lay_pictures(&wanted);
    }

    /// Lays the pictures of materials over their facets. `wanted`: materials with the names of their pictures.
    fn lay_pictures(&mut self, wanted: &[(u32, String)]) {
        let mut by_name: HashMap<&str, Option<u16>> = HashMap::new();
        let mut by_material: HashMap<u32, u16> = HashMap::new();
        for (material, name) in wanted {
            let picture = match by_name.get(&name[..]) {
                Some(known) => *known,
                None => {
                    let found = self.beside(name);
                    let picture = self.out.picture(name, found);
                    let picture = picture
                        .map_err(|why| leave_out(&mut self.left_out, &why))
                        .ok();
                    by_name.insert(name, picture);
                    picture
                }
            };
            by_material.extend(picture.map(|p| (*material, p)));
        }
        for (facet, material, places) in std::mem::take(&mut self.placed) {
            let Some(picture) = by_material.get(&material) else {
                continue;
            };
            let [a, b, c] = places.map(|p| self.places.get(p as usize).copied());
            if let (Some(a), Some(b), Some(c)) = (a, b, c) {
                self.out.lay(facet, *picture, [a, b, c]);
            }
        }
    }

    pub(super) fn use_material(&mut self, name: &[u8]) {
        if let Some(known) = self.materials.get(name) {
            self.material = Some(*known);
            return;
        }
        // Which colour it has is looked up at the end: its file may be named further down.
        let number = self.out.named(FileColour {
            name: lossy(name),
            colour: stand_in(self.materials.len()),
            is_stand_in: true,
            opacity: 1.0,
        });
        self.materials.insert(name.to_vec(), number);
        self.material = Some(number);
    }
}

/// A muted colour for a material whose own is not known: told apart by lightness and hue, and plainly no filament's.
fn stand_in(index: usize) -> Colour {
    const TINTS: [Colour; 6] = [
        Colour([0xb4, 0xb0, 0xa4]),
        Colour([0x7d, 0x8c, 0x8f]),
        Colour([0xa0, 0x84, 0x78]),
        Colour([0x6b, 0x77, 0x5c]),
        Colour([0xc7, 0xbd, 0x9a]),
        Colour([0x5e, 0x5a, 0x6c]),
    ];
    TINTS[index % TINTS.len()]
}
