//! From the build to facets: components followed, transforms applied, colours looked up.

use super::parse::{Instance, Model};
use super::problem;
use crate::Problem;
use crate::formats::Reading;
use crate::formats::model_file::{
    Collector, FileColour, MOST_FACETS, MOST_PIECES, ModelFile, Origin, too_much,
};
use crate::formats::text::is_usable;
use crate::geometry::Affine;
use std::collections::HashMap;

/// Components within components that are followed; deeper ones hold themselves, or might as well.
const DEEPEST: usize = 64;

pub(super) struct Unfolding<'a> {
    models: &'a HashMap<String, Model>,
    mm: f64,
    out: Collector,
    /// Numbers of the colours used so far, by model part, group and index.
    paints: HashMap<(&'a str, u32, u32), Option<u32>>,
    /// Numbers of the pictures by their paths.
    pictures: HashMap<String, u16>,
    supports: usize,
    is_unbuilt: bool,
    visits: usize,
}

impl<'a> Unfolding<'a> {
    pub(super) fn new(models: &'a HashMap<String, Model>, mm: f64) -> Self {
        Unfolding {
            models,
            mm,
            out: Collector::new(),
            paints: HashMap::new(),
            pictures: HashMap::new(),
            supports: 0,
            is_unbuilt: false,
            visits: 0,
        }
    }

    /// Takes in a picture of the package, which facets then name by its path.
    ///
    /// # Errors
    /// Why it cannot be used.
    pub(super) fn picture(&mut self, path: &str, bytes: Option<Vec<u8>>) -> Result<(), String> {
        let number = self.out.picture(path, bytes)?;
        self.pictures.insert(path.to_string(), number);
        Ok(())
    }

    /// Unfolds everything that the build of the root part prints.
    pub(super) fn build(&mut self, root: &str, reading: &Reading<'_>) -> Result<(), Problem> {
        let Some((root, main)) = self.models.get_key_value(root) else {
            return Ok(());
        };
        for item in &main.items {
            self.instance(root, item, &Affine::IDENTITY, "", 0, reading)?;
        }
        if main.items.is_empty() {
            // Nothing is to be printed by the letter; the objects are what the maker came for.
            self.is_unbuilt = true;
            for object in &main.order {
                let item = Instance {
                    object: *object,
                    path: None,
                    transform: Affine::IDENTITY,
                };
                self.instance(root, &item, &Affine::IDENTITY, "", 0, reading)?;
            }
        }
        Ok(())
    }

    fn instance(
        &mut self,
        from: &'a str,
        instance: &Instance,
        outer: &Affine,
        outer_name: &str,
        depth: usize,
        reading: &Reading<'_>,
    ) -> Result<(), Problem> {
        let path = instance.path.as_deref().unwrap_or(from);
        let id = instance.object;
        let found = self.models.get_key_value(path);
        let found = found.and_then(|(p, m)| Some((p.as_str(), m.objects.get(&id)?)));
        let Some((path, object)) = found else {
            let message = format!("The model file asks for object {id}, which is not there");
            return Err(problem("no-object", message, path));
        };
        if depth > DEEPEST {
            let message = format!("Object {id} holds itself, or is nested {DEEPEST} deep");
            return Err(problem("nested-too-deep", message, path));
        }
        self.visits += 1;
        if self.visits > 4 * MOST_PIECES {
            return Err(too_much("100 000 objects", path.into()));
        }
        if object.is_support {
            self.supports += 1;
            return Ok(());
        }
        let transform = instance.transform.then(outer);
        let name = if object.name.is_empty() {
            outer_name
        } else {
            &object.name
        };
        for component in &object.components {
            self.instance(path, component, &transform, name, depth + 1, reading)?;
        }
        if object.facets.is_empty() {
            return Ok(());
        }
        reading.step(0.95)?;
        if self.out.pieces() >= MOST_PIECES {
            return Err(too_much("100 000 objects", path.into()));
        }
        if self.out.facets.len() + object.facets.len() > MOST_FACETS {
            return Err(too_much("20 million facets", path.into()));
        }
        self.out
            .check_room(object.vertices.len(), || path.to_string())?;
        self.out.begin(name);
        let first = self.out.vertices.len() as u32;
        for p in &object.vertices {
            let placed = transform.apply(*p).map(|c| c * self.mm);
            if !is_usable(&placed) {
                let message = format!("Object {id} is placed further than ten kilometres away");
                return Err(problem("too-far", message, path));
            }
            self.out.vertices.push(placed);
        }
        let flips = transform.turns_over();
        let turned = |[a, b, c]: [u32; 3]| if flips { [a, c, b] } else { [a, b, c] };
        let own = match object.property {
            Some((group, index)) => self.paint(path, group, index)?,
            None => None,
        };
        let mut properties = object.properties.iter().peekable();
        for (index, facet) in object.facets.iter().enumerate() {
            let facet = turned(facet.map(|v| v + first));
            let property = properties.next_if(|p| p.facet as usize == index);
            let Some(property) = property else {
                match own {
                    Some(colour) => self.out.add_in(facet, colour),
                    None => self.out.add(facet),
                }
                continue;
            };
            let group = property.group;
            let corners = turned(property.corners);
            let [a, b, c] = corners;
            let laid = self.models[path].laid.get(&group);
            if let Some((picture, places)) = laid {
                let [p, q, r] = corners.map(|i| places.get(i as usize).copied());
                let picture_path = self.models[path].pictures.get(picture);
                let number = picture_path.and_then(|p| self.pictures.get(p).copied());
                self.out.add(facet);
                if let (Some(number), Some(p), Some(q), Some(r)) = (number, p, q, r) {
                    let last = self.out.facets.len() as u32 - 1;
                    self.out.lay(last, number, [p, q, r]);
                }
                continue;
            }
            if a == b && b == c {
                match self.paint(path, group, a)? {
                    Some(colour) => self.out.add_in(facet, colour),
                    None => self.out.add(facet),
                }
                continue;
            }
            let colour = |i: u32| {
                let paints = self.models[path].groups.get(&group)?;
                Some(paints.get(i as usize)?.as_ref()?.colour)
            };
            match (colour(a), colour(b), colour(c)) {
                (Some(a), Some(b), Some(c)) => self.out.add_blend(facet, [a, b, c]),
                _ => self.out.add(facet),
            }
        }
        Ok(())
    }

    /// Number of a property's colour; `None` if it has no plain one.
    fn paint(&mut self, path: &'a str, group: u32, index: u32) -> Result<Option<u32>, Problem> {
        if let Some(known) = self.paints.get(&(path, group, index)) {
            return Ok(*known);
        }
        let groups = &self.models[path].groups;
        let Some(paints) = groups.get(&group) else {
            // A group of an extension that is not read.
            self.paints.insert((path, group, index), None);
            return Ok(None);
        };
        let Some(paint) = paints.get(index as usize) else {
            let message = format!(
                "The model file asks for property {index} of group {group}, which is not there"
            );
            return Err(problem("no-property", message, path));
        };
        let number = paint.as_ref().map(|p| {
            if p.name.is_empty() {
                self.out.clear(p.colour, p.opacity)
            } else {
                self.out.named(FileColour {
                    name: p.name.clone(),
                    colour: p.colour,
                    is_stand_in: false,
                    opacity: p.opacity,
                })
            }
        });
        self.paints.insert((path, group, index), number);
        Ok(number)
    }

    pub(super) fn left_out(&self) -> Vec<String> {
        let mut notes = Vec::new();
        if self.supports > 0 {
            notes.push(format!("{} support objects", self.supports));
        }
        if self.is_unbuilt {
            notes.push("an empty build list; all objects were taken".into());
        }
        notes
    }

    pub(super) fn finish(self, origin: Origin) -> Result<ModelFile, Problem> {
        self.out.finish(origin)
    }
}
