//! One `IndexedFaceSet`: faces to facets, and which colour goes with which face or corner.

use super::FORMAT;
use super::parse::Node;
use crate::Problem;
use crate::colour::Colour;
use crate::formats::model_file::{Collector, MOST_FACETS, PassedOver, too_much};
use crate::formats::text::{bad_line, colour_from_shares, is_usable};
use crate::geometry::Affine;
use crate::geometry::triangles;

/// What colours a shape.
pub(super) struct Look<'a> {
    /// Palette number of its material.
    pub(super) plain: Option<u32>,
    /// Its `Color` node, which goes before the material.
    pub(super) colours: Option<&'a Node>,
}

/// Adds the faces of a set.
///
/// Colours bind as ISO/IEC 14772-1, section 6.23 says: with `colorPerVertex` (the default) a colour belongs to each
/// corner, by `colorIndex` if there is one, else by `coordIndex`; without it to each face, by `colorIndex` if there
/// is one, else in the order of the list.
pub(super) fn indexed_faces(
    set: &Node,
    coordinates: Option<&Node>,
    look: &Look<'_>,
    map: &Affine,
    out: &mut Collector,
    passed_over: &mut PassedOver,
) -> Result<(), Problem> {
    let bad = |what: &str| bad_line(FORMAT, set.line, what);
    let points = coordinates.and_then(|c| c.numbers("point")).unwrap_or(&[]);
    let (points, rest) = points.as_chunks::<3>();
    if !rest.is_empty() {
        return Err(bad("the coordinates are not three numbers each"));
    }
    out.check_room(points.len(), || format!("line {}", set.line))?;
    let first = out.vertices.len();
    for p in points {
        let placed = map.apply(*p);
        if !is_usable(&placed) {
            return Err(bad("a vertex lies further than ten kilometres away"));
        }
        out.vertices.push(placed);
    }
    let palette = match look.colours.map(|c| (c, c.numbers("color").unwrap_or(&[]))) {
        None => None,
        Some((node, shares)) => {
            let (colours, rest) = shares.as_chunks::<3>();
            if !rest.is_empty() {
                let what = "the colours are not three numbers each";
                return Err(bad_line(FORMAT, node.line, what));
            }
            let colours: Vec<Colour> = colours.iter().map(|c| colour_from_shares(*c)).collect();
            Some(colours)
        }
    };
    let per_corner = set.truth("colorPerVertex").unwrap_or(true);
    let by_index = set.numbers("colorIndex").filter(|i| !i.is_empty());
    let turns_over = map.turns_over() == set.truth("ccw").unwrap_or(true);
    let corners = set.numbers("coordIndex").unwrap_or(&[]);
    let colour_of = |index: f64| -> Result<Colour, Problem> {
        let palette = palette.as_deref().unwrap_or(&[]);
        whole(index)
            .and_then(|i| palette.get(i).copied())
            .ok_or_else(|| {
                let what = format!("colour {index} is asked for, of {}", palette.len());
                bad(&what)
            })
    };

    let (mut ring, mut places, mut cut) = (Vec::new(), Vec::new(), Vec::new());
    let mut start = 0;
    for (face, corners) in corners.split(|i| *i < 0.0).enumerate() {
        let begin = start;
        start += corners.len() + 1;
        if corners.len() < 3 {
            // Two corners are no face; none at all is what lists end in.
            if !corners.is_empty() {
                let what = format!("face {} has fewer than three corners", face + 1);
                passed_over.add(("face", "faces"), bad(&what));
            }
            continue;
        }
        ring.clear();
        places.clear();
        for index in corners {
            let vertex = whole(*index).filter(|i| *i < points.len()).ok_or_else(|| {
                let what = format!("vertex {index} is asked for, of {}", points.len());
                bad(&what)
            })?;
            ring.push((first + vertex) as u32);
            places.push(out.vertices[first + vertex]);
        }
        triangles(&places, &mut cut);
        if out.facets.len() + cut.len() > MOST_FACETS {
            return Err(too_much("20 million facets", format!("line {}", set.line)));
        }
        let corner_colour = |corner: usize| match by_index {
            Some(list) => match list.get(begin + corner) {
                Some(index) => colour_of(*index),
                None => Err(bad("there are fewer colour numbers than corners")),
            },
            None => colour_of(corners[corner]),
        };
        let of_face = match (&palette, per_corner) {
            (Some(_), false) => Some(match by_index {
                Some(list) => match list.get(face) {
                    Some(index) => colour_of(*index)?,
                    None => return Err(bad("there are fewer colour numbers than faces")),
                },
                None => colour_of(face as f64)?,
            }),
            _ => None,
        };
        for [a, b, c] in cut.iter().copied() {
            let [a, b, c] = if turns_over { [a, c, b] } else { [a, b, c] };
            let facet = [a, b, c].map(|i| ring[i]);
            match (&palette, of_face, look.plain) {
                (Some(_), Some(colour), _) => {
                    let number = out.plain(colour);
                    out.add_in(facet, number);
                }
                (Some(_), None, _) => {
                    let [a, b, c] = [corner_colour(a)?, corner_colour(b)?, corner_colour(c)?];
                    out.add_blend(facet, [a, b, c]);
                }
                (None, _, Some(number)) => out.add_in(facet, number),
                (None, _, None) => out.add(facet),
            }
        }
    }
    Ok(())
}

/// A number that counts something.
fn whole(number: f64) -> Option<usize> {
    (number >= 0.0 && number.fract() == 0.0 && number < 1e9).then_some(number as usize)
}
