//! PLY, text and binary of both byte orders: vertices and faces with their colours.
//!
//! Source: Turk, "The PLY Polygon File Format", 1994. Own reader: see docs/architecture.md, "Formats".

use super::Reading;
use super::model_file::{
    Collector, MOST_FACETS, ModelFile, Origin, PassedOver, leave_out, too_much,
};
use super::ply_body::{Binary, Body, Text};
use super::ply_header::{Element, Header, Kind, Property, Value, header};
use super::text::is_usable;
use crate::Problem;
use crate::colour::Colour;
use crate::geometry::triangles;
use std::collections::HashSet;

pub(super) fn problem(code: &str, message: String, place: String) -> Problem {
    Problem::new(
        &format!("ply-{code}"),
        message,
        place,
        "Export the file again from the program it came from.",
    )
}

/// The facets of a PLY file; polygons are divided into triangles.
///
/// # Errors
/// With the line or byte: a header that cannot be understood, a body cut short, numbers out of range, no faces.
pub(super) fn read(bytes: &[u8], reading: &Reading<'_>) -> Result<ModelFile, Problem> {
    let header = header(bytes)?;
    match header.kind {
        Kind::Text => elements(
            &header,
            Text::after(bytes, header.body, header.lines),
            reading,
            "PLY, text",
        ),
        Kind::Little | Kind::Big => elements(
            &header,
            Binary::after(bytes, header.body, header.kind == Kind::Big),
            reading,
            if header.kind == Kind::Big {
                "PLY, binary, big-endian"
            } else {
                "PLY, binary"
            },
        ),
    }
}

fn elements(
    header: &Header,
    mut body: impl Body,
    reading: &Reading<'_>,
    format: &'static str,
) -> Result<ModelFile, Problem> {
    let mut out = Collector::new();
    let mut colours: Vec<Colour> = Vec::new();
    let mut troubles = Troubles::default();
    // Faces may stand before their vertices.
    let vertex_count = header.elements.iter().find(|e| e.name == "vertex");
    troubles.known = vertex_count.map_or(0, |e| e.count.min(body.left() as u64) as usize);
    let mut origin = Origin::plain(format);
    origin.metadata.clone_from(&header.comments);
    let whole = body.left().max(1) as f64;
    for name in &header.pictures {
        let picture = out.picture(name, reading.beside(name));
        let picture = picture.map_err(|why| leave_out(&mut origin.left_out, &why));
        troubles.pictures.push(picture.ok());
    }
    for element in &header.elements {
        // A record takes a byte at least, so a count beyond the bytes is a lie; nothing is reserved on its word.
        if element.count > body.left() as u64 && !element.properties.is_empty() {
            return Err(problem(
                "truncated",
                format!(
                    "The PLY file is cut short: its header promises {} of `{}`",
                    element.count, element.name
                ),
                body.place(),
            ));
        }
        match element.name.as_str() {
            "vertex" => {
                let into = (&mut out, &mut colours);
                vertices(element, &mut body, into, &mut troubles, reading, whole)?;
            }
            "face" => {
                let mut into = (&mut out, &colours[..]);
                faces(element, &mut body, &mut into, &mut troubles, reading, whole)?;
            }
            other => {
                skip(element, &mut body)?;
                if other == "tristrips" && element.count > 0 {
                    troubles.has_strips = true;
                }
                if element.count > 0 {
                    origin
                        .left_out
                        .push(format!("{} of `{other}`, which is no mesh", element.count));
                }
            }
        }
    }
    troubles.divide_waiting(&mut out);
    if troubles.clear > 0 {
        origin.left_out.push(format!(
            "how clear {} vertices are; PLY colours are read as solid",
            troubles.clear
        ));
    }
    let is_empty = out.facets.is_empty() && troubles.passed_over.notes().is_empty();
    if is_empty && troubles.has_strips {
        return Err(Problem::new(
            "ply-strips",
            "The faces of the PLY file are written as strips of triangles, which are not read",
            "header",
            "Export it with plain faces, or as STL or OBJ.",
        ));
    }
    if is_empty && !out.vertices.is_empty() {
        return Err(Problem::new(
            "no-facets",
            "The PLY file holds points without faces",
            "",
            "Turn the points into a mesh first, then open that.",
        ));
    }
    troubles.passed_over.told(out.finish(origin))
}

/// What is noticed on the way.
#[derive(Default)]
struct Troubles {
    passed_over: PassedOver,
    /// Vertices that cannot be used; they keep their numbers.
    unusable: HashSet<u32>,
    /// Vertices the file is going to have.
    known: usize,
    /// Polygons that came before their vertices.
    waiting: Vec<Waiting>,
    /// Numbers of the pictures, in the order in which they are named; none for one that is not there.
    pictures: Vec<Option<u16>>,
    /// Where each vertex is on the picture, if the file says.
    places: Vec<[f64; 2]>,
    /// Vertices whose colour lets something through.
    clear: u64,
    has_strips: bool,
}

/// A polygon that came before its vertices.
struct Waiting {
    corners: Vec<u32>,
    colour: Option<u32>,
    laid: Laid,
}

/// Where the corners of a face are on a picture.
#[derive(Clone, Default)]
struct Laid {
    /// Which of the pictures.
    picture: usize,
    /// For each corner, to the right and up; empty where the vertices say it.
    places: Vec<[f64; 2]>,
}

/// What faces and vertices are called.
const FACES: (&str, &str) = ("face", "faces");
const VERTICES: (&str, &str) = ("vertex", "vertices");

impl Troubles {
    /// Lays a picture over the facet that was added last. `of`: which corners of the face it has.
    fn lay(&self, out: &mut Collector, laid: &Laid, corners: &[u32], of: [usize; 3]) {
        let Some(Some(picture)) = self.pictures.get(laid.picture) else {
            return;
        };
        let place = |c: usize| match laid.places.is_empty() {
            true => self.places.get(corners[c] as usize).copied(),
            false => laid.places.get(c).copied(),
        };
        if let [Some(a), Some(b), Some(c)] = of.map(place) {
            out.lay(out.facets.len() as u32 - 1, *picture, [a, b, c]);
        }
    }

    /// Adds polygons whose vertices have come by now.
    fn divide_waiting(&mut self, out: &mut Collector) {
        let mut cut = Vec::new();
        for face in std::mem::take(&mut self.waiting) {
            let Waiting {
                corners,
                colour,
                laid,
            } = face;
            let is_usable =
                |v: &u32| (*v as usize) < out.vertices.len() && !self.unusable.contains(v);
            if !corners.iter().all(is_usable) {
                let what = "A face asks for a vertex that cannot be used".to_string();
                self.passed_over
                    .add(FACES, problem("bad-index", what, String::new()));
                continue;
            }
            let points: Vec<[f64; 3]> = corners.iter().map(|c| out.vertices[*c as usize]).collect();
            triangles(&points, &mut cut);
            for of in &cut {
                let ids = of.map(|c| corners[c]);
                match colour {
                    Some(colour) => out.add_in(ids, colour),
                    None => out.add(ids),
                }
                self.lay(out, &laid, &corners, *of);
            }
        }
    }
}

fn skip(element: &Element, body: &mut impl Body) -> Result<(), Problem> {
    for _ in 0..element.count {
        body.record()?;
        for property in &element.properties {
            skip_property(property, body)?;
        }
    }
    Ok(())
}

fn skip_property(property: &Property, body: &mut impl Body) -> Result<(), Problem> {
    let count = match property.list {
        None => 1,
        Some(count) => list_length(body, count)?,
    };
    for _ in 0..count {
        body.value(property.value)?;
    }
    Ok(())
}

fn list_length(body: &mut impl Body, count: Value) -> Result<usize, Problem> {
    let length = body.value(count)?;
    // Nothing is reserved on the word of a list: one that is too long runs out of values.
    if !(0.0..=1e9).contains(&length) || length.fract() != 0.0 {
        return Err(problem(
            "bad-list",
            format!("A list of {length} numbers cannot be used"),
            body.place(),
        ));
    }
    Ok(length as usize)
}

fn vertices(
    element: &Element,
    body: &mut impl Body,
    (out, colours): (&mut Collector, &mut Vec<Colour>),
    troubles: &mut Troubles,
    reading: &Reading<'_>,
    whole: f64,
) -> Result<(), Problem> {
    let axes = ["x", "y", "z"].map(|n| element.find(&[n]));
    let [Some(x), Some(y), Some(z)] = axes else {
        return Err(problem(
            "no-position",
            "The vertices of the PLY file have no x, y and z".into(),
            "header".into(),
        ));
    };
    let rgb = element.colour();
    let alpha = element.alpha();
    let place_on_picture = element.place().filter(|_| !troubles.pictures.is_empty());
    let mut values = vec![0.0; element.properties.len()];
    out.vertices.reserve(element.count as usize);
    for n in 0..element.count {
        if n % 65_536 == 0 {
            reading.step(1.0 - body.left() as f64 / whole)?;
        }
        body.record()?;
        let place = || format!("vertex {}", n + 1);
        for (value, property) in values.iter_mut().zip(&element.properties) {
            if property.list.is_some() {
                skip_property(property, body)?;
            } else {
                *value = body.value(property.value)?;
            }
        }
        let mut position = [values[x], values[y], values[z]];
        if !is_usable(&position) {
            let what = "A vertex is not a usable number of millimetres".into();
            let place = format!("{}, {}", place(), body.place());
            troubles
                .passed_over
                .add(VERTICES, problem("bad-number", what, place));
            troubles.unusable.insert(out.vertices.len() as u32);
            position = [0.0; 3];
        }
        troubles.clear += u64::from(alpha.is_some_and(|(at, full)| values[at] < full));
        out.vertices.push(position);
        if let Some(place) = place_on_picture {
            let place = place.map(|i| values[i]);
            let is_finite = place.iter().all(|v| v.is_finite());
            troubles
                .places
                .push(if is_finite { place } else { [0.0; 2] });
        }
        if let Some(rgb) = &rgb {
            colours.push(element.to_colour(rgb, &values));
        }
    }
    Ok(())
}

fn faces(
    element: &Element,
    body: &mut impl Body,
    into: &mut (&mut Collector, &[Colour]),
    troubles: &mut Troubles,
    reading: &Reading<'_>,
    whole: f64,
) -> Result<(), Problem> {
    let list = element
        .properties
        .iter()
        .position(|p| p.list.is_some() && (p.name == "vertex_indices" || p.name == "vertex_index"));
    let Some(list) = list else {
        return Err(problem(
            "no-corners",
            "The faces of the PLY file have no vertex list".into(),
            "header".into(),
        ));
    };
    let rgb = element.colour();
    let texture = element
        .properties
        .iter()
        .position(|p| p.list.is_some() && p.name == "texcoord");
    let texture_number = element.find(&["texnumber"]);
    let (out, colours) = (&mut *into.0, into.1);
    let known = troubles.known.max(out.vertices.len());
    let is_early = out.vertices.len() < known;
    let mut values = vec![0.0; element.properties.len()];
    let (mut corners, mut points, mut cut) = (Vec::new(), Vec::new(), Vec::new());
    // A face takes a count and three corners at least, a byte each.
    let most = (body.left() / 4).min(MOST_FACETS);
    out.facets.reserve(most.min(element.count as usize));
    let is_plain = matches!(&element.properties[..], [p]
        if matches!(p.list, Some(Value::U8 | Value::I8)) && matches!(p.value, Value::I32 | Value::U32));
    for n in 0..element.count {
        if n % 65_536 == 0 {
            reading.step(1.0 - body.left() as f64 / whole)?;
        }
        if is_plain
            && !is_early
            && troubles.unusable.is_empty()
            && troubles.places.is_empty()
            && let Some([a, b, c]) = body.triangle(known)
        {
            if out.facets.len() >= MOST_FACETS {
                return Err(too_much("20 million facets", body.place()));
            }
            match colours.is_empty() {
                true => out.add([a, b, c]),
                false => out.add_blend([a, b, c], [a, b, c].map(|v| colours[v as usize])),
            }
            continue;
        }
        body.record()?;
        corners.clear();
        let mut laid = Laid::default();
        let mut why = None;
        for (i, property) in element.properties.iter().enumerate() {
            match property.list {
                None => values[i] = body.value(property.value)?,
                Some(count) if i == list => {
                    for _ in 0..list_length(body, count)? {
                        let index = body.value(property.value)?;
                        let is_there = index >= 0.0 && index < known as f64 && index.fract() == 0.0;
                        if !is_there || troubles.unusable.contains(&(index as u32)) {
                            let what = format!(
                                "Face {} asks for vertex {index}, and the file has {known}",
                                n + 1
                            );
                            why = Some(problem("bad-index", what, body.place()));
                            continue;
                        }
                        corners.push(index as u32);
                    }
                }
                Some(count) if Some(i) == texture => {
                    let length = list_length(body, count)?;
                    let mut half = 0.0;
                    for n in 0..length {
                        let value = body.value(property.value)?;
                        let value = if value.is_finite() { value } else { 0.0 };
                        match n % 2 {
                            0 => half = value,
                            _ => laid.places.push([half, value]),
                        }
                    }
                }
                Some(_) => skip_property(property, body)?,
            }
        }
        if let Some(number) = texture_number {
            laid.picture = values[number].max(0.0) as usize;
        }
        if why.is_none() && corners.len() < 3 {
            let what = format!("Face {} has fewer than three corners", n + 1);
            why = Some(problem("bad-face", what, body.place()));
        }
        if let Some(why) = why {
            troubles.passed_over.add(FACES, why);
            continue;
        }
        if out.facets.len() + corners.len() > MOST_FACETS {
            return Err(too_much("20 million facets", body.place()));
        }
        let plain = rgb
            .as_ref()
            .map(|rgb| element.to_colour(rgb, &values))
            .map(|c| out.plain(c));
        let facet = |out: &mut Collector, ids: [u32; 3]| match plain {
            Some(colour) => out.add_in(ids, colour),
            None if colours.is_empty() => out.add(ids),
            None => out.add_blend(ids, ids.map(|v| colours[v as usize])),
        };
        if is_early {
            troubles.waiting.push(Waiting {
                corners: corners.clone(),
                colour: plain,
                laid,
            });
            continue;
        }
        if let [a, b, c] = corners[..] {
            facet(out, [a, b, c]);
            troubles.lay(out, &laid, &corners, [0, 1, 2]);
            continue;
        }
        points.clear();
        points.extend(corners.iter().map(|c| out.vertices[*c as usize]));
        triangles(&points, &mut cut);
        for t in &cut {
            facet(out, t.map(|c| corners[c]));
            troubles.lay(out, &laid, &corners, *t);
        }
    }
    Ok(())
}
