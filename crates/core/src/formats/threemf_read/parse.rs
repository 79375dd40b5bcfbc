//! One model part, from XML to objects, groups and build items.

use super::groups::{Blend, Group, Paint, composite, layered, parse_colour};
use super::problem;
use crate::Problem;
use crate::formats::Reading;
use crate::formats::model_file::{Units, leave_out};
use crate::formats::threemf_names::{DRAFT, READ_EXTENSIONS};
use crate::geometry::Affine;
use quick_xml::events::{BytesStart, Event};
use std::collections::HashMap;
use std::io::BufRead;

/// An object put somewhere: a component or a build item.
pub(super) struct Instance {
    pub(super) object: u32,
    /// Model part the object is in, if another.
    pub(super) path: Option<String>,
    pub(super) transform: Affine,
}

/// A facet's own properties.
pub(super) struct Property {
    pub(super) facet: u32,
    pub(super) group: u32,
    pub(super) corners: [u32; 3],
}

#[derive(Default)]
pub(super) struct Object {
    pub(super) name: String,
    pub(super) is_support: bool,
    pub(super) property: Option<(u32, u32)>,
    pub(super) vertices: Vec<[f64; 3]>,
    pub(super) facets: Vec<[u32; 3]>,
    pub(super) properties: Vec<Property>,
    pub(super) components: Vec<Instance>,
}

pub(super) struct Model {
    pub(super) units: Units,
    pub(super) objects: HashMap<u32, Object>,
    /// Object numbers in file order.
    pub(super) order: Vec<u32>,
    pub(super) groups: HashMap<u32, Group>,
    /// Paths of pictures by number.
    pub(super) pictures: HashMap<u32, String>,
    /// Groups of places on pictures: the picture's number, and the places to the right and up.
    pub(super) laid: HashMap<u32, (u32, Vec<[f64; 2]>)>,
    pub(super) items: Vec<Instance>,
    pub(super) metadata: Vec<(String, String)>,
    pub(super) left_out: Vec<String>,
}

impl Model {
    /// Other model parts that this one takes objects from.
    pub(super) fn elsewhere(&self) -> impl Iterator<Item = String> + '_ {
        let components = self.objects.values().flat_map(|o| &o.components);
        components.chain(&self.items).filter_map(|i| i.path.clone())
    }
}

pub(super) struct Parser<'a> {
    path: &'a str,
    at: u64,
    pub(super) model: Model,
    pub(super) object: Option<(u32, Object)>,
    group: Option<(u32, Group)>,
    /// Base group and material numbers of the composite group that is open.
    mixed: (u32, Vec<usize>),
    /// Groups and blends of the multi-property group that is open.
    stacked: (Vec<u32>, Vec<Blend>),
    metadata: Option<String>,
    pub(super) facets: usize,
    /// Whether the model is of the draft before the first edition, whose colours are written otherwise.
    is_draft: bool,
}

/// Reads a model part. `whole` is its size for progress.
pub(super) fn parse(
    stream: impl BufRead,
    path: &str,
    whole: u64,
    reading: &Reading<'_>,
) -> Result<Model, Problem> {
    let mut xml = quick_xml::Reader::from_reader(stream);
    let mut parser = Parser {
        path,
        at: 0,
        model: Model {
            units: Units::ASSUMED,
            objects: HashMap::new(),
            order: Vec::new(),
            groups: HashMap::new(),
            pictures: HashMap::new(),
            laid: HashMap::new(),
            items: Vec::new(),
            metadata: Vec::new(),
            left_out: Vec::new(),
        },
        object: None,
        group: None,
        mixed: (0, Vec::new()),
        stacked: (Vec::new(), Vec::new()),
        metadata: None,
        facets: 0,
        is_draft: false,
    };
    let mut buffer = Vec::new();
    let mut count = 0u64;
    let mut has_end = false;
    loop {
        buffer.clear();
        let event = xml.read_event_into(&mut buffer);
        parser.at = xml.buffer_position();
        count += 1;
        if count.is_multiple_of(131_072) {
            reading.step(0.9 * parser.at as f64 / whole.max(1) as f64)?;
        }
        match event {
            Ok(Event::Start(e)) => parser.open(&e, false)?,
            Ok(Event::Empty(e)) => parser.open(&e, true)?,
            Ok(Event::End(e)) => {
                has_end |= e.local_name().as_ref() == "model";
                parser.close(e.local_name().as_ref());
            }
            Ok(Event::Text(e)) => parser.text(&e),
            Ok(Event::GeneralRef(e)) => parser.entity(&e),
            Ok(Event::DocType(_)) => {
                let message = "The model file declares a document type, which 3MF forbids";
                return Err(problem("document-type", message, parser.place()));
            }
            Ok(Event::Eof) => break,
            Ok(_) => {}
            Err(e) => {
                let message = format!("The model file cannot be read as XML: {e}");
                return Err(problem("bad-xml", message, parser.place()));
            }
        }
    }
    if !has_end {
        let message = "The model file is cut short, or unpacks to more than a gigabyte";
        return Err(problem("truncated", message, parser.place()));
    }
    Ok(parser.model)
}

/// The text of an attribute, entities resolved.
pub(super) fn attribute(e: &BytesStart<'_>, name: &str) -> Option<String> {
    e.attributes()
        .with_checks(false)
        .flatten()
        .find(|a| a.key.local_name().as_ref() == name)
        .and_then(|a| {
            let text = quick_xml::escape::unescape(&a.value).ok()?;
            Some(text.into_owned())
        })
}

pub(super) fn numbers<T: std::str::FromStr>(text: &str) -> Option<Vec<T>> {
    text.split_whitespace().map(|w| w.parse().ok()).collect()
}

impl Parser<'_> {
    pub(super) fn place(&self) -> String {
        format!("byte {} of {}", self.at, self.path)
    }

    pub(super) fn bad(&self, what: &str) -> Problem {
        let message = format!("The model file cannot be used: {what}");
        problem("bad-model", message, self.place())
    }

    pub(super) fn number<T: std::str::FromStr>(
        &self,
        e: &BytesStart<'_>,
        name: &str,
    ) -> Result<T, Problem> {
        attribute(e, name)
            .and_then(|t| t.trim().parse().ok())
            .ok_or_else(|| {
                let element = e.local_name().as_ref().to_string();
                self.bad(&format!("`{element}` lacks a usable `{name}`"))
            })
    }

    fn open(&mut self, e: &BytesStart<'_>, is_empty: bool) -> Result<(), Problem> {
        match e.local_name().as_ref() {
            "vertex" => return self.vertex(e),
            "triangle" => return self.triangle(e),
            "model" => self.start_model(e)?,
            "metadata" if self.object.is_none() && !is_empty => {
                self.metadata = attribute(e, "name");
                if let Some(name) = &self.metadata
                    && self.model.metadata.len() < 64
                {
                    self.model.metadata.push((name.clone(), String::new()));
                }
            }
            "object" => {
                let id = self.number(e, "id")?;
                let pid = attribute(e, "pid").and_then(|t| t.parse().ok());
                let pindex = attribute(e, "pindex").and_then(|t| t.parse().ok());
                let kind = attribute(e, "type").unwrap_or_default();
                let object = Object {
                    name: attribute(e, "name").unwrap_or_default(),
                    is_support: kind == "support" || kind == "solidsupport",
                    property: pid.map(|p| (p, pindex.unwrap_or(0))),
                    ..Object::default()
                };
                self.object = Some((id, object));
            }
            "component" => {
                let instance = self.instance(e)?;
                match &mut self.object {
                    Some((_, object)) => object.components.push(instance),
                    None => return Err(self.bad("a component outside an object")),
                }
            }
            "item" => {
                let instance = self.instance(e)?;
                self.model.items.push(instance);
            }
            "basematerials" | "colorgroup" => {
                self.group = Some((self.number(e, "id")?, Vec::new()));
            }
            "color" | "material" | "texture" if self.is_draft => {
                self.leave_out("colours of the 3MF draft of 2013; saved anew as 3MF they stay");
            }
            "base" => self.paint(e, "displaycolor")?,
            "color" => self.paint(e, "color")?,
            "compositematerials" => {
                let indices = attribute(e, "matindices").unwrap_or_default();
                let indices = numbers(&indices)
                    .ok_or_else(|| self.bad("a composite without material numbers"))?;
                self.mixed = (self.number(e, "matid")?, indices);
                self.group = Some((self.number(e, "id")?, Vec::new()));
            }
            "composite" => {
                let values: Option<Vec<f64>> = attribute(e, "values").and_then(|t| numbers(&t));
                let values = values.ok_or_else(|| self.bad("a composite without shares"))?;
                let base = self.model.groups.get(&self.mixed.0);
                let paint = base.and_then(|b| composite(b, &self.mixed.1, &values));
                self.push_paint(paint);
            }
            "multiproperties" => {
                let pids = attribute(e, "pids").and_then(|t| numbers(&t));
                let mut pids: Vec<u32> =
                    pids.ok_or_else(|| self.bad("a multi-property without groups"))?;
                // Paint over paint: what lies below so many layers is not seen.
                const MOST_LAYERS: usize = 16;
                pids.truncate(MOST_LAYERS);
                let blends = attribute(e, "blendmethods").unwrap_or_default();
                let blends = blends
                    .split_whitespace()
                    .map(|b| {
                        if b == "multiply" {
                            Blend::Multiply
                        } else {
                            Blend::Mix
                        }
                    })
                    .collect();
                self.stacked = (pids, blends);
                self.group = Some((self.number(e, "id")?, Vec::new()));
            }
            "multi" => {
                let indices: Vec<usize> = attribute(e, "pindices")
                    .and_then(|t| numbers(&t))
                    .unwrap_or_default();
                let layers: Vec<Option<Paint>> = self
                    .stacked
                    .0
                    .iter()
                    .enumerate()
                    .map(|(i, group)| {
                        let index = indices.get(i).copied().unwrap_or(0);
                        self.model.groups.get(group)?.get(index)?.clone()
                    })
                    .collect();
                let paint = layered(&layers, &self.stacked.1);
                self.push_paint(paint);
            }
            "texture2d" => {
                let path = attribute(e, "path").unwrap_or_default();
                let path = path.trim_start_matches('/').to_string();
                self.model.pictures.insert(self.number(e, "id")?, path);
            }
            "texture2dgroup" => {
                let (id, texture) = (self.number(e, "id")?, self.number(e, "texid")?);
                self.group = Some((id, Vec::new()));
                self.model.laid.insert(id, (texture, Vec::new()));
            }
            "tex2coord" => {
                let place = [self.number(e, "u")?, self.number(e, "v")?];
                let is_finite = place.iter().all(|v: &f64| v.is_finite());
                let id = self.group.as_ref().map(|(id, _)| *id);
                if let Some((_, places)) = id.and_then(|id| self.model.laid.get_mut(&id)) {
                    places.push(if is_finite { place } else { [0.0; 2] });
                }
                self.push_paint(None);
            }
            "beamlattice" => self.leave_out("a lattice of beams"),
            "slicestack" => self.leave_out("slices made beforehand"),
            _ => {}
        }
        if is_empty {
            self.close(e.local_name().as_ref());
        }
        Ok(())
    }

    fn close(&mut self, name: &str) {
        match name {
            "object" => {
                if let Some((id, object)) = self.object.take() {
                    if !self.model.objects.contains_key(&id) {
                        self.model.order.push(id);
                    }
                    self.model.objects.insert(id, object);
                }
            }
            "basematerials" | "colorgroup" | "compositematerials" | "multiproperties"
            | "texture2dgroup" => {
                if let Some((id, group)) = self.group.take() {
                    self.model.groups.insert(id, group);
                }
            }
            "metadata" => self.metadata = None,
            _ => {}
        }
    }

    fn text(&mut self, text: &str) {
        const LONGEST: usize = 1000;
        if self.metadata.is_some()
            && let Some((_, value)) = self.model.metadata.last_mut()
            && value.len() < LONGEST
        {
            value.extend(text.chars().take(LONGEST));
        }
    }

    /// The five entities of XML and character numbers; any other is left out, never looked up.
    fn entity(&mut self, name: &quick_xml::events::BytesRef<'_>) {
        let character = match name.as_ref() {
            "amp" => Some('&'),
            "lt" => Some('<'),
            "gt" => Some('>'),
            "quot" => Some('"'),
            "apos" => Some('\''),
            _ => name.resolve_char_ref().ok().flatten(),
        };
        if let Some(c) = character {
            let mut bytes = [0; 4];
            self.text(c.encode_utf8(&mut bytes));
        }
    }

    fn leave_out(&mut self, what: &str) {
        leave_out(&mut self.model.left_out, what);
    }

    fn start_model(&mut self, e: &BytesStart<'_>) -> Result<(), Problem> {
        // The five units of the core specification, section 3.4, and the micron.
        self.is_draft = attribute(e, "xmlns").is_some_and(|n| n == DRAFT);
        let unit = attribute(e, "unit").unwrap_or_else(|| "millimeter".into());
        let (name, mm) = match unit.as_str() {
            "micron" => ("micron", 0.001),
            "millimeter" => ("millimetre", 1.0),
            "centimeter" => ("centimetre", 10.0),
            "inch" => ("inch", 25.4),
            "foot" => ("foot", 304.8),
            "meter" => ("metre", 1000.0),
            _ => return Err(self.bad(&format!("the unit `{unit}` is not one of 3MF"))),
        };
        self.model.units = Units {
            name,
            mm,
            is_stated: true,
        };
        for prefix in attribute(e, "requiredextensions")
            .unwrap_or_default()
            .split_whitespace()
        {
            let declared = e
                .attributes()
                .with_checks(false)
                .flatten()
                .find(|a| a.key.as_ref() == format!("xmlns:{prefix}"))
                .map(|a| a.value.into_owned());
            let namespace = declared.unwrap_or_else(|| prefix.to_string());
            if !READ_EXTENSIONS.iter().any(|k| namespace.starts_with(k)) {
                let what = format!("it needs the extension `{prefix}`, which is not read");
                return Err(Problem {
                    mend: "Export it without that extension, or as STL or OBJ.".into(),
                    ..self.bad(&what)
                });
            }
        }
        Ok(())
    }

    fn paint(&mut self, e: &BytesStart<'_>, name: &str) -> Result<(), Problem> {
        // `color` is also a word of other extensions; outside a group it means nothing here.
        if self.group.is_none() {
            return Ok(());
        }
        let text = attribute(e, name).unwrap_or_default();
        let Some((colour, opacity)) = parse_colour(&text) else {
            return Err(self.bad(&format!("`{text}` is no colour")));
        };
        let paint = Paint {
            name: attribute(e, "name").unwrap_or_default(),
            colour,
            opacity,
        };
        self.push_paint(Some(paint));
        Ok(())
    }

    fn push_paint(&mut self, paint: Option<Paint>) {
        if let Some((_, group)) = &mut self.group {
            group.push(paint);
        }
    }
}
