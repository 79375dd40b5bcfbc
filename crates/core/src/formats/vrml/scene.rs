//! From nodes to facets: groups followed, transforms applied.

use super::FORMAT;
use super::faces::{Look, indexed_faces};
use super::parse::{File, Node};
use super::shapes::{Solid, shape_of};
use crate::Problem;
use crate::formats::Reading;
use crate::formats::model_file::{
    Collector, FileColour, MOST_FACETS, MOST_PIECES, PassedOver, leave_out, too_much,
};
use crate::formats::text::{bad_line, colour_from_shares, is_usable};
use crate::geometry::{Affine, normalised};
use std::collections::HashMap;

/// How deep groups are followed; the parser has bounded what is written, `USE` may still multiply it.
const DEEPEST: usize = 400;

struct Unfolding<'a> {
    file: &'a File,
    out: Collector,
    /// Palette number of each material node that was used.
    materials: HashMap<usize, u32>,
    left_out: Vec<String>,
    passed_over: PassedOver,
    visits: usize,
}

/// Everything a file shows. What cannot be taken over is noted in `left_out`.
pub(super) fn unfold(
    file: &File,
    reading: &Reading<'_>,
    left_out: &mut Vec<String>,
) -> Result<Collector, Problem> {
    let mut unfolding = Unfolding {
        file,
        out: Collector::new(),
        materials: HashMap::new(),
        left_out: Vec::new(),
        passed_over: PassedOver::default(),
        visits: 0,
    };
    for root in &file.roots {
        unfolding.visit(*root, &Affine::IDENTITY, "", 0, reading)?;
    }
    left_out.append(&mut unfolding.left_out);
    left_out.extend(unfolding.passed_over.notes());
    Ok(unfolding.out)
}

/// The map of a `Transform` (ISO/IEC 14772-1, section 6.52): scale about its own axes and centre, turn, shift.
fn transform(node: &Node) -> Affine {
    let turn = |field: &str| match node.exactly::<4>(field) {
        Some([x, y, z, angle]) => match normalised([x, y, z]) {
            Some(axis) => (Affine::turn(axis, angle), Affine::turn(axis, -angle)),
            None => (Affine::IDENTITY, Affine::IDENTITY),
        },
        None => (Affine::IDENTITY, Affine::IDENTITY),
    };
    let (axes, axes_back) = turn("scaleOrientation");
    let scale = Affine::scale(node.exactly("scale").unwrap_or([1.0; 3]));
    let centre = node.exactly("center").unwrap_or([0.0; 3]);
    axes_back
        .then(&scale)
        .then(&axes)
        .then(&turn("rotation").0)
        .about(centre)
        .then(&Affine::shift(
            node.exactly("translation").unwrap_or([0.0; 3]),
        ))
}

impl Unfolding<'_> {
    fn leave_out(&mut self, what: &str) {
        leave_out(&mut self.left_out, what);
    }

    fn visit(
        &mut self,
        id: usize,
        outer: &Affine,
        outer_name: &str,
        depth: usize,
        reading: &Reading<'_>,
    ) -> Result<(), Problem> {
        let node = &self.file.nodes[id];
        self.visits += 1;
        if self.visits > 4 * MOST_PIECES || depth > DEEPEST {
            return Err(too_much("100 000 nodes", format!("line {}", node.line)));
        }
        if self.visits.is_multiple_of(256) {
            reading.step(0.95)?;
        }
        let name = if node.name.is_empty() {
            outer_name
        } else {
            &node.name
        };
        let map = match node.kind.as_str() {
            "Shape" => return self.shape(node, outer, name),
            "Transform" => transform(node).then(outer),
            "Switch" | "LOD" => {
                // The one that shows: a switch's choice, the finest level.
                let field = if node.kind == "LOD" {
                    "level"
                } else {
                    "choice"
                };
                let which = match node.kind.as_str() {
                    "LOD" => 0.0,
                    _ => node.exactly::<1>("whichChoice").map_or(-1.0, |[n]| n),
                };
                let chosen = (which >= 0.0).then(|| node.nodes(field).get(which as usize).copied());
                if let Some(chosen) = chosen.flatten() {
                    self.visit(chosen, outer, name, depth + 1, reading)?;
                }
                return Ok(());
            }
            "Inline" => {
                self.leave_out("parts kept in other files");
                return Ok(());
            }
            _ => *outer,
        };
        for child in node.nodes("children") {
            self.visit(*child, &map, name, depth + 1, reading)?;
        }
        Ok(())
    }

    fn shape(&mut self, node: &Node, map: &Affine, name: &str) -> Result<(), Problem> {
        let file = self.file;
        let Some(geometry) = node.nodes("geometry").first().map(|g| &file.nodes[*g]) else {
            return Ok(());
        };
        let solid = shape_of(geometry);
        if solid.is_none() && geometry.kind != "IndexedFaceSet" {
            self.leave_out(&format!("{} shapes, which are no facets", geometry.kind));
            return Ok(());
        }
        if self.out.pieces() >= MOST_PIECES {
            return Err(too_much("100 000 objects", format!("line {}", node.line)));
        }
        let name = if geometry.name.is_empty() {
            name
        } else {
            &geometry.name
        };
        self.out.begin(name);
        let plain = self.material(node)?;
        if let Some(solid) = solid {
            return self.solid(&solid?, plain, map, node.line);
        }
        let coordinates = geometry.nodes("coord").first().map(|c| &file.nodes[*c]);
        let colours = geometry.nodes("color").first().map(|c| &file.nodes[*c]);
        let look = Look { plain, colours };
        let passed_over = &mut self.passed_over;
        indexed_faces(
            geometry,
            coordinates,
            &look,
            map,
            &mut self.out,
            passed_over,
        )
    }

    /// Adds a shape that is told by measures.
    fn solid(
        &mut self,
        solid: &Solid,
        plain: Option<u32>,
        map: &Affine,
        line: usize,
    ) -> Result<(), Problem> {
        let place = || format!("line {line}");
        self.out.check_room(solid.vertices.len(), place)?;
        let first = self.out.vertices.len() as u32;
        for p in &solid.vertices {
            let placed = map.apply(*p);
            if !is_usable(&placed) {
                let what = "a vertex lies further than ten kilometres away";
                return Err(bad_line(FORMAT, line, what));
            }
            self.out.vertices.push(placed);
        }
        if self.out.facets.len() + solid.facets.len() > MOST_FACETS {
            return Err(too_much("20 million facets", place()));
        }
        for [a, b, c] in &solid.facets {
            let turned = if map.turns_over() {
                [*a, *c, *b]
            } else {
                [*a, *b, *c]
            };
            let facet = turned.map(|v| first + v);
            match plain {
                Some(number) => self.out.add_in(facet, number),
                None => self.out.add(facet),
            }
        }
        Ok(())
    }

    /// Palette number of the shape's material; `None` without one.
    fn material(&mut self, shape: &Node) -> Result<Option<u32>, Problem> {
        let file = self.file;
        let Some(appearance) = shape.nodes("appearance").first().map(|a| &file.nodes[*a]) else {
            return Ok(None);
        };
        if !appearance.nodes("texture").is_empty() {
            self.leave_out("pictures on the surface; only plain colours are read");
        }
        let Some(id) = appearance.nodes("material").first().copied() else {
            return Ok(None);
        };
        if let Some(known) = self.materials.get(&id) {
            return Ok(Some(*known));
        }
        let material = &file.nodes[id];
        let transparency = material.exactly::<1>("transparency").map_or(0.0, |[t]| t);
        let opacity = 1.0 - transparency.clamp(0.0, 1.0);
        // Default of the standard, section 6.27.
        let glow = material.exactly::<3>("emissiveColor");
        let rgb = match material.numbers("diffuseColor") {
            // What only glows shows the colour it glows in.
            None => glow.filter(|g| *g != [0.0; 3]).unwrap_or([0.8; 3]),
            Some([0.0, 0.0, 0.0]) if glow.is_some_and(|g| g != [0.0; 3]) => {
                glow.unwrap_or_default()
            }
            Some(rgb) => rgb.try_into().map_err(|_| {
                bad_line(
                    FORMAT,
                    material.line,
                    "a material's colour is not three numbers",
                )
            })?,
        };
        let colour = colour_from_shares(rgb);
        let name = [&material.name, &appearance.name]
            .into_iter()
            .find(|n| !n.is_empty());
        let number = match name {
            None => self.out.clear(colour, opacity),
            Some(name) => self.out.named(FileColour {
                name: name.clone(),
                colour,
                is_stand_in: false,
                opacity,
            }),
        };
        self.materials.insert(id, number);
        Ok(Some(number))
    }
}
