//! From words to nodes. Fields are read by the look of their values, so that nodes nobody knows do no harm.

use super::words::{Word, Words};
use crate::Problem;
use crate::formats::Reading;
use crate::formats::model_file::leave_out;
use crate::formats::text::lossy;
use std::collections::HashMap;

/// Nodes within nodes that are followed.
const DEEPEST: usize = 200;

/// Nodes a file may have.
const MOST_NODES: usize = 2_000_000;

/// A field's value.
#[derive(Clone)]
pub(super) enum Value {
    Numbers(Vec<f64>),
    Truth(bool),
    /// Nodes by number; none for `NULL`.
    Nodes(Vec<usize>),
    /// Texts, and whatever else means nothing here.
    Other,
}

/// A node with the fields that were written.
pub(super) struct Node {
    pub(super) kind: String,
    /// Its `DEF` name; empty if it has none.
    pub(super) name: String,
    pub(super) line: usize,
    fields: Vec<(String, Value)>,
}

/// A whole file. Nodes come after those they hold, so no node can hold itself.
pub(super) struct File {
    pub(super) nodes: Vec<Node>,
    pub(super) roots: Vec<usize>,
    /// What is in the file and was not followed.
    pub(super) left_out: Vec<String>,
}

impl Node {
    fn field(&self, name: &str) -> Option<&Value> {
        let found = self.fields.iter().rev().find(|(n, _)| n == name);
        found.map(|(_, value)| value)
    }

    pub(super) fn numbers(&self, name: &str) -> Option<&[f64]> {
        match self.field(name)? {
            Value::Numbers(numbers) => Some(numbers),
            _ => None,
        }
    }

    /// A field of exactly `N` numbers.
    pub(super) fn exactly<const N: usize>(&self, name: &str) -> Option<[f64; N]> {
        self.numbers(name)?.try_into().ok()
    }

    pub(super) fn truth(&self, name: &str) -> Option<bool> {
        match self.field(name)? {
            Value::Truth(truth) => Some(*truth),
            _ => None,
        }
    }

    pub(super) fn nodes(&self, name: &str) -> &[usize] {
        match self.field(name) {
            Some(Value::Nodes(nodes)) => nodes,
            _ => &[],
        }
    }
}

/// A node kind that the file defines itself: where its interface and its nodes stand.
#[derive(Clone, Copy)]
struct Prototype<'a> {
    interface: Words<'a>,
    body: Words<'a>,
}

/// Uses of prototypes within one another that are followed.
const DEEPEST_PROTOTYPE: usize = 16;

struct Parser<'a, 'r> {
    words: Words<'a>,
    nodes: Vec<Node>,
    defined: HashMap<&'a [u8], usize>,
    /// Prototypes by name.
    prototypes: HashMap<&'a [u8], Prototype<'a>>,
    /// Values for the fields that `IS` names, of the prototypes that are being read, the innermost last.
    given: Vec<HashMap<String, Value>>,
    left_out: Vec<String>,
    reading: &'r Reading<'r>,
    whole: f64,
    depth: usize,
}

/// Reads a file into nodes.
pub(super) fn parse(bytes: &[u8], reading: &Reading<'_>) -> Result<File, Problem> {
    let mut parser = Parser {
        words: Words::new(bytes),
        nodes: Vec::new(),
        defined: HashMap::new(),
        prototypes: HashMap::new(),
        given: Vec::new(),
        left_out: Vec::new(),
        reading,
        whole: bytes.len().max(1) as f64,
        depth: 0,
    };
    let mut roots = Vec::new();
    loop {
        match parser.words.peek()? {
            Word::End => break,
            Word::Name(b"PROTO" | b"EXTERNPROTO") => parser.prototype()?,
            Word::Name(b"ROUTE") => parser.skip_route()?,
            Word::Name(_) => roots.extend(parser.node()?),
            _ => return Err(parser.words.bad("a node was expected")),
        }
    }
    Ok(File {
        nodes: parser.nodes,
        roots,
        left_out: parser.left_out,
    })
}

impl<'a> Parser<'a, '_> {
    /// A node, `USE` or `NULL`.
    fn node(&mut self) -> Result<Option<usize>, Problem> {
        let Word::Name(first) = self.words.next()? else {
            return Err(self.words.bad("a node was expected"));
        };
        match first {
            b"NULL" => Ok(None),
            b"USE" => {
                let name = self.name()?;
                let known = self.defined.get(name).copied();
                known.map(Some).ok_or_else(|| {
                    let what = format!("`{}` is used before it is defined", lossy(name));
                    self.words.bad(&what)
                })
            }
            b"DEF" => {
                let name = self.name()?;
                let kind = self.name()?;
                let node = self.body(kind, lossy(name))?;
                self.defined.insert(name, node);
                Ok(Some(node))
            }
            kind => self.body(kind, String::new()).map(Some),
        }
    }

    fn name(&mut self) -> Result<&'a [u8], Problem> {
        match self.words.next()? {
            Word::Name(name) => Ok(name),
            _ => Err(self.words.bad("a name was expected")),
        }
    }

    fn body(&mut self, kind: &[u8], name: String) -> Result<usize, Problem> {
        let line = self.words.line;
        if self.words.next()? != Word::Mark(b'{') {
            let what = format!("`{}` is not followed by a brace", lossy(kind));
            return Err(self.words.bad(&what));
        }
        if self.nodes.len() >= MOST_NODES || self.depth >= DEEPEST {
            return Err(self.words.bad("there are too many nodes within nodes"));
        }
        if self.nodes.len().is_multiple_of(256) {
            self.reading.step(0.9 * self.words.at as f64 / self.whole)?;
        }
        self.depth += 1;
        let mut fields = Vec::new();
        if kind == b"Script" {
            self.skip_to_close()?;
        } else {
            loop {
                match self.words.peek()? {
                    Word::Mark(b'}') => {
                        self.words.next()?;
                        break;
                    }
                    Word::Name(b"ROUTE") => self.skip_route()?,
                    Word::Name(b"PROTO" | b"EXTERNPROTO") => self.prototype()?,
                    Word::Name(field) => {
                        self.words.next()?;
                        fields.push((lossy(field), self.value()?));
                    }
                    Word::End => return Err(self.words.bad("the file is cut short")),
                    _ => return Err(self.words.bad("the name of a field was expected")),
                }
            }
        }
        self.depth -= 1;
        if let Some(prototype) = self.prototypes.get(kind).copied() {
            // A group around what it comes to carries its name.
            let node = self.instance(prototype, fields)?;
            fields = vec![("children".into(), Value::Nodes(node.into_iter().collect()))];
        } else if !is_known(kind) {
            let what = format!("{} shapes, which nobody has described", lossy(kind));
            leave_out(&mut self.left_out, &what);
        }
        self.nodes.push(Node {
            kind: lossy(kind),
            name,
            line,
            fields,
        });
        Ok(self.nodes.len() - 1)
    }

    fn value(&mut self) -> Result<Value, Problem> {
        match self.words.peek()? {
            Word::Mark(b'[') => {
                self.words.next()?;
                self.list()
            }
            Word::Number(_) => {
                let mut numbers = Vec::new();
                while let Word::Number(number) = self.words.peek()? {
                    self.words.next()?;
                    numbers.push(number);
                }
                Ok(Value::Numbers(numbers))
            }
            Word::Text(_) => {
                self.words.next()?;
                Ok(Value::Other)
            }
            Word::Name(b"TRUE") => {
                self.words.next()?;
                Ok(Value::Truth(true))
            }
            Word::Name(b"FALSE") => {
                self.words.next()?;
                Ok(Value::Truth(false))
            }
            Word::Name(b"IS") => {
                self.words.next()?;
                let name = lossy(self.name()?);
                let given = self.given.last().and_then(|g| g.get(&name)).cloned();
                Ok(given.unwrap_or(Value::Other))
            }
            Word::Name(_) => Ok(Value::Nodes(self.node()?.into_iter().collect())),
            Word::End => Err(self.words.bad("the file is cut short")),
            Word::Mark(_) => Err(self.words.bad("a value was expected")),
        }
    }

    fn list(&mut self) -> Result<Value, Problem> {
        let mut numbers = Vec::new();
        let mut nodes = Vec::new();
        loop {
            match self.words.peek()? {
                Word::Mark(b']') => {
                    self.words.next()?;
                    break;
                }
                Word::Number(number) => {
                    self.words.next()?;
                    numbers.push(number);
                    if numbers.len().is_multiple_of(262_144) {
                        self.reading.step(0.9 * self.words.at as f64 / self.whole)?;
                    }
                }
                Word::Text(_) | Word::Name(b"TRUE" | b"FALSE") => {
                    self.words.next()?;
                }
                Word::Name(_) => nodes.extend(self.node()?),
                Word::End => return Err(self.words.bad("the file is cut short in a list")),
                Word::Mark(_) => return Err(self.words.bad("a list holds a stray bracket")),
            }
        }
        Ok(if nodes.is_empty() {
            Value::Numbers(numbers)
        } else {
            Value::Nodes(nodes)
        })
    }

    /// `ROUTE a.b TO c.d`: what moves is of no use to a print.
    fn skip_route(&mut self) -> Result<(), Problem> {
        for _ in 0..4 {
            self.words.next()?;
        }
        Ok(())
    }

    /// Takes note of a prototype. What is kept in other files is not followed.
    fn prototype(&mut self) -> Result<(), Problem> {
        let is_external = self.words.next()? == Word::Name(b"EXTERNPROTO");
        let name = self.name()?;
        let open: [u8; 2] = if is_external { *b"[[" } else { *b"[{" };
        let mut places = [self.words; 2];
        for (mark, place) in open.into_iter().zip(&mut places) {
            match self.words.next()? {
                Word::Mark(m) if m == mark => {
                    *place = self.words;
                    self.skip_to_close()?;
                }
                // The address of an outside prototype may be one text without brackets.
                Word::Text(_) => {}
                _ => return Err(self.words.bad("a prototype cannot be understood")),
            }
        }
        if is_external {
            let what = format!("{} shapes, which are kept in another file", lossy(name));
            leave_out(&mut self.left_out, &what);
        } else {
            let [interface, body] = places;
            self.prototypes.insert(name, Prototype { interface, body });
        }
        Ok(())
    }

    /// A use of a prototype: its first node, read with the fields that the use gives (section 4.8).
    fn instance(
        &mut self,
        prototype: Prototype<'a>,
        fields: Vec<(String, Value)>,
    ) -> Result<Option<usize>, Problem> {
        if self.given.len() >= DEEPEST_PROTOTYPE {
            return Err(self
                .words
                .bad("there are too many prototypes within prototypes"));
        }
        let outside = std::mem::replace(&mut self.words, prototype.interface);
        let mut given = self.defaults()?;
        given.extend(fields);
        self.given.push(given);
        // Names that are defined within it are its own.
        let names = self.defined.clone();
        self.words = prototype.body;
        let mut first = None;
        loop {
            match self.words.peek()? {
                Word::Mark(_) | Word::End => break,
                Word::Name(b"ROUTE") => self.skip_route()?,
                Word::Name(b"PROTO" | b"EXTERNPROTO") => self.prototype()?,
                _ => {
                    let node = self.node()?;
                    first = first.or(node);
                }
            }
        }
        self.defined = names;
        self.given.pop();
        self.words = outside;
        Ok(first)
    }

    /// The fields of an interface with their usual values: `field SFColor tint 1 0 0`.
    fn defaults(&mut self) -> Result<HashMap<String, Value>, Problem> {
        let mut found = HashMap::new();
        loop {
            match self.words.next()? {
                Word::Mark(b']') | Word::End => return Ok(found),
                Word::Name(b"field" | b"exposedField") => {
                    self.name()?;
                    let name = lossy(self.name()?);
                    found.insert(name, self.value()?);
                }
                Word::Name(b"eventIn" | b"eventOut") => {
                    self.name()?;
                    self.name()?;
                }
                _ => return Err(self.words.bad("a prototype cannot be understood")),
            }
        }
    }

    /// Passes over everything up to the bracket or brace that closes the one just read.
    fn skip_to_close(&mut self) -> Result<(), Problem> {
        let mut depth = 1;
        while depth > 0 {
            match self.words.next()? {
                Word::Mark(b'{' | b'[') => depth += 1,
                Word::Mark(_) => depth -= 1,
                Word::End => return Err(self.words.bad("the file is cut short")),
                _ => {}
            }
        }
        Ok(())
    }
}

/// Whether a kind of node is one of the standard (ISO/IEC 14772-1, chapter 6).
fn is_known(kind: &[u8]) -> bool {
    const KINDS: [&str; 54] = [
        "Anchor",
        "Appearance",
        "AudioClip",
        "Background",
        "Billboard",
        "Box",
        "Collision",
        "Color",
        "ColorInterpolator",
        "Cone",
        "Coordinate",
        "CoordinateInterpolator",
        "Cylinder",
        "CylinderSensor",
        "DirectionalLight",
        "ElevationGrid",
        "Extrusion",
        "Fog",
        "FontStyle",
        "Group",
        "ImageTexture",
        "IndexedFaceSet",
        "IndexedLineSet",
        "Inline",
        "LOD",
        "Material",
        "MovieTexture",
        "NavigationInfo",
        "Normal",
        "NormalInterpolator",
        "OrientationInterpolator",
        "PixelTexture",
        "PlaneSensor",
        "PointLight",
        "PointSet",
        "PositionInterpolator",
        "ProximitySensor",
        "ScalarInterpolator",
        "Script",
        "Shape",
        "Sound",
        "Sphere",
        "SphereSensor",
        "SpotLight",
        "Switch",
        "Text",
        "TextureCoordinate",
        "TextureTransform",
        "TimeSensor",
        "TouchSensor",
        "Transform",
        "Viewpoint",
        "VisibilitySensor",
        "WorldInfo",
    ];
    KINDS.iter().any(|k| k.as_bytes() == kind)
}
