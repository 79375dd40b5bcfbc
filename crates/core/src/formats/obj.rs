//! OBJ text: vertices (with colours after the coordinates where a program writes them), polygons, objects, groups and
//! materials. Own reader: refusals name the line (docs/architecture.md, "Formats").

use super::model_file::{
    Collector, MOST_FACETS, MOST_PIECES, ModelFile, Origin, PassedOver, leave_out, too_much,
};
use super::text::{bad_line, colour_from_shares, is_usable, lossy, number, words};
use super::{Reading, mtl};
use crate::Problem;
use crate::colour::Colour;
use crate::geometry::triangles;
use std::collections::{HashMap, HashSet};

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
            // Not a number is a number here: what follows may be sound.
            Some(b"v") => {
                let word = words.next().and_then(|w| std::str::from_utf8(w).ok());
                return word.is_some_and(|w| w.parse::<f64>().is_ok());
            }
            Some(b"f") => {
                let digits = words.next().map_or(&b""[..], |w| w);
                return digits
                    .first()
                    .is_some_and(|d| d.is_ascii_digit() || *d == b'-');
            }
            Some(b"mtllib" | b"o" | b"g" | b"s" | b"vn" | b"vt" | b"usemtl") => continue,
            Some(_) => return false,
        }
    }
    false
}

pub(super) struct Reader<'a, 'b> {
    pub(super) reading: &'a Reading<'b>,
    pub(super) out: Collector,
    colours: Vec<Option<Colour>>,
    has_colours: bool,
    has_bytes: bool,
    pub(super) materials: HashMap<Vec<u8>, u32>,
    pub(super) library: HashMap<Vec<u8>, mtl::Material>,
    pub(super) material: Option<u32>,
    pub(super) missing: Vec<String>,
    object: String,
    pub(super) left_out: Vec<String>,
    corners: Vec<u32>,
    /// Places on pictures, as shares to the right and up.
    pub(super) places: Vec<[f64; 2]>,
    /// For each corner of the face at hand its place.
    corner_places: Vec<Option<u32>>,
    /// Facets of a material whose corners have places.
    pub(super) placed: Vec<(u32, u32, [u32; 3])>,
    points: Vec<[f64; 3]>,
    cut: Vec<[usize; 3]>,
    passed_over: PassedOver,
    /// Vertices that cannot be used; they keep their numbers.
    unusable: HashSet<u32>,
    /// Faces that ask for vertices further down.
    waiting: Vec<Waiting>,
    /// Whether all vertices are known, so that no face need wait.
    is_whole: bool,
}

/// A face that asks for vertices further down.
struct Waiting {
    line: usize,
    text: Vec<u8>,
    material: Option<u32>,
    known: [usize; 2],
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
        has_bytes: false,
        materials: HashMap::new(),
        library: HashMap::new(),
        material: None,
        missing: Vec::new(),
        object: String::new(),
        left_out: Vec::new(),
        corners: Vec::new(),
        places: Vec::new(),
        corner_places: Vec::new(),
        placed: Vec::new(),
        points: Vec::new(),
        cut: Vec::new(),
        passed_over: PassedOver::default(),
        unusable: HashSet::new(),
        waiting: Vec::new(),
        is_whole: false,
    };
    let mut at = 0;
    let mut number = 0;
    let mut joined: Vec<u8> = Vec::new();
    // Old systems end lines with carriage returns alone.
    let line_end = if bytes.contains(&b'\n') { b'\n' } else { b'\r' };
    while at < bytes.len() {
        let end = bytes[at..]
            .iter()
            .position(|b| *b == line_end)
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
    reader.read_waiting();
    reader.look_up_materials();
    let mut origin = Origin::plain(FORMAT);
    if !reader.missing.is_empty() {
        origin.left_out.push(format!(
            "the colours of {}: the material file was not there; choose it together with the OBJ file",
            reader.missing.join(", ")
        ));
    }
    origin.left_out.extend(reader.left_out);
    reader.passed_over.told(reader.out.finish(origin))
}

/// What faces and vertices are called.
const FACES: (&str, &str) = ("face", "faces");
const VERTICES: (&str, &str) = ("vertex", "vertices");

impl Reader<'_, '_> {
    fn line(&mut self, line: &[u8], at: usize) -> Result<(), Problem> {
        let mut words = words(line);
        let Some(word) = words.next() else {
            return Ok(());
        };
        match word {
            b"v" => self.vertex(words, at),
            b"vt" => {
                // One that cannot be read still has its number.
                let mut numbers = words.map(|w| number(w).filter(|v| v.is_finite()));
                let mut next = || numbers.next().flatten().unwrap_or(0.0);
                self.places.push([next(), next()]);
                Ok(())
            }
            b"f" => self.face(&line[1..], at),
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
        for word in words.take(7).take_while(|w| !w.starts_with(b"#")) {
            match number(word) {
                Some(value) => values[count] = value,
                None if count < 3 => {
                    let what = format!("`{}` is no number", lossy(word));
                    self.pass_over_vertex(bad_line(FORMAT, at, &what));
                    return Ok(());
                }
                None => break,
            }
            count += 1;
        }
        let position = [values[0], values[1], values[2]];
        if count < 3 || !is_usable(&position) {
            let what = "a vertex needs three numbers within ten kilometres";
            self.pass_over_vertex(bad_line(FORMAT, at, what));
            return Ok(());
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
            // Written as shares of one; some programs write bytes, which is plain from the first number above one on.
            let colour = colour.map(|c| {
                self.has_bytes |= c.iter().any(|v| *v > 1.0);
                if self.has_bytes {
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

    /// Counts a vertex that cannot be used; its number stays taken.
    fn pass_over_vertex(&mut self, why: Problem) {
        self.unusable.insert(self.out.vertices.len() as u32);
        if self.has_colours {
            self.colours.push(None);
        }
        self.out.vertices.push([0.0; 3]);
        self.passed_over.add(VERTICES, why);
    }

    /// Faces that stood above their vertices.
    fn read_waiting(&mut self) {
        self.is_whole = true;
        for face in std::mem::take(&mut self.waiting) {
            self.material = face.material;
            if let Err(why) = self.face_of(words(&face.text), face.line, face.known) {
                self.passed_over.add(FACES, why);
            }
        }
    }

    fn face(&mut self, line: &[u8], at: usize) -> Result<(), Problem> {
        let known = [self.out.vertices.len(), self.places.len()];
        match self.face_of(words(line), at, known) {
            Ok(true) => Ok(()),
            Ok(false) => {
                self.waiting.push(Waiting {
                    line: at,
                    text: line.to_vec(),
                    material: self.material,
                    known,
                });
                Ok(())
            }
            Err(why) if why.code == "model-too-large" => Err(why),
            Err(why) => {
                self.passed_over.add(FACES, why);
                Ok(())
            }
        }
    }

    /// Adds a face; false if it asks for vertices that are not there yet. `known`: vertices and places that stand
    /// above it.
    fn face_of<'w>(
        &mut self,
        words: impl Iterator<Item = &'w [u8]>,
        at: usize,
        known: [usize; 2],
    ) -> Result<bool, Problem> {
        self.corners.clear();
        self.corner_places.clear();
        let all = self.out.vertices.len();
        for word in words.take_while(|w| !w.starts_with(b"#")) {
            let mut numbers = word.split(|b| *b == b'/');
            let digits = numbers.next().unwrap_or(word);
            let whole = |digits: &[u8]| -> Option<i64> {
                let text = std::str::from_utf8(digits).ok()?;
                text.parse().ok()
            };
            let number = whole(digits);
            // A place that is not there makes no face unusable: it has no picture then.
            let place = match numbers.next().and_then(whole) {
                Some(n) if n > 0 => u32::try_from(n - 1).ok(),
                Some(n) if n < 0 => u32::try_from(known[1] as i64 + n).ok(),
                _ => None,
            };
            self.corner_places.push(place);
            let index = match number {
                Some(n) if n > 0 => n - 1,
                Some(n) if n < 0 => known[0] as i64 + n,
                _ => {
                    let what = format!("`{}` is no vertex number", lossy(word));
                    return Err(bad_line(FORMAT, at, &what));
                }
            };
            if index >= all as i64 && !self.is_whole {
                return Ok(false);
            }
            if self.unusable.contains(&(index as u32)) {
                let what = format!("vertex {} cannot be used", lossy(digits));
                return Err(bad_line(FORMAT, at, &what));
            }
            if index < 0 || index >= all as i64 {
                let what = format!("it asks for vertex {}, and {all} are given", lossy(digits));
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
            self.facet([a, b, c], [0, 1, 2]);
            return Ok(true);
        }
        self.points.clear();
        self.points
            .extend(self.corners.iter().map(|c| self.out.vertices[*c as usize]));
        triangles(&self.points, &mut self.cut);
        for i in 0..self.cut.len() {
            let of = self.cut[i];
            self.facet(of.map(|c| self.corners[c]), of);
        }
        Ok(true)
    }

    /// Adds a facet; `of`: which corners of the face at hand it has.
    fn facet(&mut self, facet: [u32; 3], of: [usize; 3]) {
        let places = of.map(|c| self.corner_places[c]);
        if let (Some(material), [Some(a), Some(b), Some(c)]) = (self.material, places) {
            let number = self.out.facets.len() as u32;
            self.placed.push((number, material, [a, b, c]));
        }
        let corners = facet.map(|v| self.colours.get(v as usize).copied().flatten());
        // White on every corner is what programs write that have no colours to write; it hides no material.
        let is_plain = |c: &Option<Colour>| *c == Some(Colour([255; 3]));
        match (self.material, corners) {
            (Some(material), corners) if corners.iter().all(is_plain) => {
                self.out.add_in(facet, material);
            }
            (_, [Some(a), Some(b), Some(c)]) => self.out.add_blend(facet, [a, b, c]),
            (Some(material), _) => self.out.add_in(facet, material),
            (None, _) => self.out.add(facet),
        }
    }
}
