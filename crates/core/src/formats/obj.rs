//! OBJ text: vertices (with colours after the coordinates where a program writes them), polygons, objects, groups and
//! materials. Own reader: refusals name the line (docs/architecture.md, "Formats").

use super::model_file::{
    Collector, FileColour, MOST_FACETS, MOST_PIECES, ModelFile, Origin, leave_out, too_much,
};
use super::text::{bad_line, colour_from_shares, is_usable, lossy, number, words};
use super::{Reading, mtl};
use crate::Problem;
use crate::colour::Colour;
use crate::geometry::triangles;
use std::collections::HashMap;

const FORMAT: &str = "OBJ";

/// Whether text looks like OBJ: a line of a vertex, and before it nothing but what OBJ allows.
pub(super) fn looks_like(bytes: &[u8]) -> bool {
    const ENOUGH: usize = 4096;
    let start = &bytes[..bytes.len().min(64 * 1024)];
    for line in start.split(|b| *b == b'\n' || *b == b'\r').take(ENOUGH) {
        let mut words = words(line);
        match words.next() {
            None => continue,
            Some(word) if word.starts_with(b"#") => continue,
            Some(b"v") => return words.next().is_some_and(|w| number(w).is_some()),
            Some(b"mtllib" | b"o" | b"g" | b"s" | b"vn" | b"vt" | b"usemtl") => continue,
            Some(_) => return false,
        }
    }
    false
}

struct Reader<'a, 'b> {
    reading: &'a Reading<'b>,
    out: Collector,
    colours: Vec<Option<Colour>>,
    has_colours: bool,
    materials: HashMap<Vec<u8>, u32>,
    library: HashMap<Vec<u8>, mtl::Material>,
    material: Option<u32>,
    missing: Vec<String>,
    object: String,
    left_out: Vec<String>,
    corners: Vec<u32>,
    points: Vec<[f64; 3]>,
    cut: Vec<[usize; 3]>,
}

/// The facets of an OBJ file. Polygons are divided into triangles; objects and groups begin pieces; materials and
/// vertex colours are kept.
///
/// # Errors
/// With the line: numbers that cannot be read, vertex numbers out of range, a file without facets, or one that is
/// larger than `MOST_FACETS`.
pub(super) fn read(bytes: &[u8], reading: &Reading<'_>) -> Result<ModelFile, Problem> {
    let mut reader = Reader {
        reading,
        out: Collector::new(),
        colours: Vec::new(),
        has_colours: false,
        materials: HashMap::new(),
        library: HashMap::new(),
        material: None,
        missing: Vec::new(),
        object: String::new(),
        left_out: Vec::new(),
        corners: Vec::new(),
        points: Vec::new(),
        cut: Vec::new(),
    };
    let mut at = 0;
    let mut number = 0;
    let mut joined: Vec<u8> = Vec::new();
    while at < bytes.len() {
        let end = bytes[at..]
            .iter()
            .position(|b| *b == b'\n')
            .map_or(bytes.len(), |n| at + n);
        let line = &bytes[at..end];
        number += 1;
        at = end + 1;
        if number % 65_536 == 0 {
            reading.step(at as f64 / bytes.len() as f64)?;
        }
        let trimmed = line.trim_ascii_end();
        if let Some(rest) = trimmed.strip_suffix(b"\\") {
            joined.extend_from_slice(rest);
            joined.push(b' ');
            continue;
        }
        if joined.is_empty() {
            reader.line(trimmed, number)?;
        } else {
            joined.extend_from_slice(trimmed);
            let whole = std::mem::take(&mut joined);
            reader.line(&whole, number)?;
        }
    }
    let mut origin = Origin::plain(FORMAT);
    if !reader.missing.is_empty() {
        origin.left_out.push(format!(
            "the colours of {}: the material file was not there; choose it together with the OBJ file",
            reader.missing.join(", ")
        ));
    }
    origin.left_out.extend(reader.left_out);
    reader.out.finish(origin)
}

impl Reader<'_, '_> {
    fn line(&mut self, line: &[u8], at: usize) -> Result<(), Problem> {
        let mut words = words(line);
        let Some(word) = words.next() else {
            return Ok(());
        };
        match word {
            b"v" => self.vertex(words, at),
            b"f" => self.face(words, at),
            b"o" | b"g" => {
                if self.out.pieces() >= MOST_PIECES {
                    return Err(too_much("100 000 objects", format!("line {at}")));
                }
                let name = lossy(line[word.len()..].trim_ascii());
                // Some programs write an object and then its groups; a group without a name belongs to the object.
                if word == b"o" {
                    self.object.clone_from(&name);
                }
                let is_unnamed = name.is_empty() || name == "default" || name == "off";
                let name = if is_unnamed {
                    self.object.clone()
                } else {
                    name
                };
                self.out.begin(&name);
                Ok(())
            }
            b"mtllib" => {
                self.material_file(line[6..].trim_ascii());
                Ok(())
            }
            b"usemtl" => {
                self.use_material(line[6..].trim_ascii());
                Ok(())
            }
            b"curv" | b"surf" | b"curv2" | b"cstype" => {
                leave_out(&mut self.left_out, "curves and curved surfaces");
                Ok(())
            }
            _ => Ok(()),
        }
    }

    fn vertex<'w>(
        &mut self,
        words: impl Iterator<Item = &'w [u8]>,
        at: usize,
    ) -> Result<(), Problem> {
        let mut values = [0.0; 7];
        let mut count = 0;
        for word in words.take(7) {
            values[count] = number(word)
                .ok_or_else(|| bad_line(FORMAT, at, &format!("`{}` is no number", lossy(word))))?;
            count += 1;
        }
        let position = [values[0], values[1], values[2]];
        if count < 3 || !is_usable(&position) {
            return Err(bad_line(
                FORMAT,
                at,
                "a vertex needs three numbers within ten kilometres",
            ));
        }
        // Three numbers more are a colour; one more is a weight, which polygons do not use.
        let colour = match count {
            6 => Some([values[3], values[4], values[5]]),
            7 => Some([values[4], values[5], values[6]]),
            _ => None,
        };
        if colour.is_some() && !self.has_colours {
            self.has_colours = true;
            self.colours.resize(self.out.vertices.len(), None);
        }
        if self.has_colours {
            // Written as shares of one; some programs write bytes.
            let colour = colour.map(|c| {
                if c.iter().any(|v| *v > 1.0) {
                    colour_from_shares(c.map(|v| v / 255.0))
                } else {
                    colour_from_shares(c)
                }
            });
            self.colours.push(colour);
        }
        self.out.vertices.push(position);
        Ok(())
    }

    fn face<'w>(
        &mut self,
        words: impl Iterator<Item = &'w [u8]>,
        at: usize,
    ) -> Result<(), Problem> {
        self.corners.clear();
        let known = self.out.vertices.len();
        for word in words {
            let digits = word.split(|b| *b == b'/').next().unwrap_or(word);
            let number: Option<i64> = std::str::from_utf8(digits)
                .ok()
                .and_then(|t| t.parse().ok());
            let index = match number {
                Some(n) if n > 0 => n - 1,
                Some(n) if n < 0 => known as i64 + n,
                _ => {
                    let what = format!("`{}` is no vertex number", lossy(word));
                    return Err(bad_line(FORMAT, at, &what));
                }
            };
            if index < 0 || index >= known as i64 {
                let what = format!(
                    "it asks for vertex {}, and {known} are given above it",
                    lossy(digits)
                );
                return Err(bad_line(FORMAT, at, &what));
            }
            self.corners.push(index as u32);
        }
        if self.corners.len() < 3 {
            return Err(bad_line(FORMAT, at, "a face needs three corners"));
        }
        if self.out.facets.len() + self.corners.len() > MOST_FACETS {
            return Err(too_much("20 million facets", format!("line {at}")));
        }
        if let [a, b, c] = self.corners[..] {
            self.facet([a, b, c]);
            return Ok(());
        }
        self.points.clear();
        self.points
            .extend(self.corners.iter().map(|c| self.out.vertices[*c as usize]));
        triangles(&self.points, &mut self.cut);
        for i in 0..self.cut.len() {
            self.facet(self.cut[i].map(|c| self.corners[c]));
        }
        Ok(())
    }

    fn facet(&mut self, facet: [u32; 3]) {
        let corners = facet.map(|v| self.colours.get(v as usize).copied().flatten());
        match (self.material, corners) {
            (_, [Some(a), Some(b), Some(c)]) => self.out.add_blend(facet, [a, b, c]),
            (Some(material), _) => self.out.add_in(facet, material),
            (None, _) => self.out.add(facet),
        }
    }

    fn material_file(&mut self, name: &[u8]) {
        let name = lossy(name);
        let known = self.library.len();
        if let Some(bytes) = self.reading.beside(&name) {
            mtl::read(&bytes, &mut self.library);
        } else {
            // Several libraries may stand on one line.
            for name in name.split_whitespace() {
                if let Some(bytes) = self.reading.beside(name) {
                    mtl::read(&bytes, &mut self.library);
                }
            }
        }
        if self.library.len() > known && self.library.values().any(|m| m.has_picture) {
            leave_out(
                &mut self.left_out,
                "pictures on the surface; materials give their plain colour",
            );
        }
    }

    fn use_material(&mut self, name: &[u8]) {
        if let Some(known) = self.materials.get(name) {
            self.material = Some(*known);
            return;
        }
        let readable = lossy(name);
        let colour = self.library.get(name).and_then(|m| m.colour);
        if colour.is_none() {
            self.missing.push(readable.clone());
        }
        let number = self.out.named(FileColour {
            name: readable,
            colour: colour.unwrap_or_else(|| stand_in(self.materials.len())),
            is_stand_in: colour.is_none(),
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
