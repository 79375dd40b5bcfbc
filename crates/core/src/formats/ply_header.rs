//! The header of a PLY file.

use super::model_file::MOST_PICTURES;
use super::ply::problem;
use super::text::{colour_from_shares, lossy, words};
use crate::Problem;
use crate::colour::Colour;

/// How the body is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Kind {
    Text,
    Little,
    Big,
}

/// The scalar types of PLY.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Value {
    I8,
    U8,
    I16,
    U16,
    I32,
    U32,
    F32,
    F64,
}

impl Value {
    fn named(word: &[u8]) -> Option<Value> {
        Some(match word {
            b"char" | b"int8" => Value::I8,
            b"uchar" | b"uint8" => Value::U8,
            b"short" | b"int16" => Value::I16,
            b"ushort" | b"uint16" => Value::U16,
            b"int" | b"int32" => Value::I32,
            b"uint" | b"uint32" => Value::U32,
            b"float" | b"float32" => Value::F32,
            b"double" | b"float64" => Value::F64,
            _ => return None,
        })
    }

    pub(super) fn size(self) -> usize {
        match self {
            Value::I8 | Value::U8 => 1,
            Value::I16 | Value::U16 => 2,
            Value::I32 | Value::U32 | Value::F32 => 4,
            Value::F64 => 8,
        }
    }
}

pub(super) struct Property {
    pub(super) name: String,
    pub(super) value: Value,
    /// Type of the count, for a list.
    pub(super) list: Option<Value>,
}

pub(super) struct Element {
    pub(super) name: String,
    pub(super) count: u64,
    pub(super) properties: Vec<Property>,
}

/// Where red, green and blue stand among an element's properties.
pub(super) struct Rgb {
    at: [usize; 3],
    /// Largest value: 255 for bytes, 65 535 for 16 bits, 1 for real numbers.
    full: f64,
}

impl Element {
    /// Place of the first property with one of the names.
    pub(super) fn find(&self, names: &[&str]) -> Option<usize> {
        self.properties
            .iter()
            .position(|p| p.list.is_none() && names.contains(&p.name.as_str()))
    }

    /// Where a place on a picture stands: to the right and up.
    pub(super) fn place(&self) -> Option<[usize; 2]> {
        Some([
            self.find(&["s", "u", "texture_u", "tex_u"])?,
            self.find(&["t", "v", "texture_v", "tex_v"])?,
        ])
    }

    pub(super) fn colour(&self) -> Option<Rgb> {
        let at = [
            self.find(&["red", "diffuse_red", "r"])?,
            self.find(&["green", "diffuse_green", "g"])?,
            self.find(&["blue", "diffuse_blue", "b"])?,
        ];
        Some(Rgb {
            at,
            full: self.full(at[0]),
        })
    }

    /// Place of the opacity, and its largest value.
    pub(super) fn alpha(&self) -> Option<(usize, f64)> {
        let at = self.find(&["alpha", "diffuse_alpha", "a"])?;
        Some((at, self.full(at)))
    }

    /// Largest value of a colour's property, told by its type.
    fn full(&self, at: usize) -> f64 {
        match self.properties[at].value {
            Value::F32 | Value::F64 => 1.0,
            Value::U16 | Value::I16 => 65_535.0,
            _ => 255.0,
        }
    }

    pub(super) fn to_colour(&self, rgb: &Rgb, values: &[f64]) -> Colour {
        colour_from_shares(rgb.at.map(|i| values[i] / rgb.full))
    }
}

pub(super) struct Header {
    pub(super) kind: Kind,
    pub(super) elements: Vec<Element>,
    pub(super) comments: Vec<(String, String)>,
    /// Names of the files of pictures that go over it.
    pub(super) pictures: Vec<String>,
    /// Where the body begins.
    pub(super) body: usize,
    /// Lines of the header.
    pub(super) lines: usize,
}

/// Elements and properties a header may list; more are an attack, not a model.
const MOST_LISTED: usize = 256;
/// A header is text of a few lines; without its end within this many bytes it has none.
const LONGEST_HEADER: usize = 256 * 1024;

/// The header of a PLY file.
///
/// # Errors
/// With the line, if it is not one.
pub(super) fn header(bytes: &[u8]) -> Result<Header, Problem> {
    let bad = |line: usize, what: &str| {
        problem(
            "bad-header",
            format!("The header of the PLY file cannot be understood: {what}"),
            format!("line {line}"),
        )
    };
    let mut header = Header {
        kind: Kind::Text,
        elements: Vec::new(),
        comments: Vec::new(),
        pictures: Vec::new(),
        body: 0,
        lines: 0,
    };
    let mut has_format = false;
    let mut at = 0;
    loop {
        header.lines += 1;
        let line = header.lines;
        let rest = &bytes[at..bytes.len().min(at + LONGEST_HEADER)];
        let Some(end) = rest.iter().position(|b| *b == b'\n') else {
            return Err(bad(line, "it does not end"));
        };
        at += end + 1;
        if at > LONGEST_HEADER {
            return Err(bad(line, "it does not end"));
        }
        let text = rest[..end].trim_ascii();
        let words: Vec<&[u8]> = words(text).collect();
        match words[..] {
            [] | [b"ply"] => {}
            [b"format", kind, version] => {
                has_format = true;
                header.kind = match (kind, version) {
                    (b"ascii", b"1.0") => Kind::Text,
                    (b"binary_little_endian", b"1.0") => Kind::Little,
                    (b"binary_big_endian", b"1.0") => Kind::Big,
                    _ => {
                        let what = format!("the format `{}` is not known", lossy(text));
                        return Err(bad(line, &what));
                    }
                };
            }
            [b"comment" | b"obj_info", ..] => {
                let comment = lossy(text.splitn(2, |b| *b == b' ').nth(1).unwrap_or_default());
                if let Some(name) = comment.strip_prefix("TextureFile")
                    && header.pictures.len() < MOST_PICTURES
                {
                    header
                        .pictures
                        .push(name.trim().trim_matches('"').to_string());
                }
                if header.comments.len() < 16 && !comment.is_empty() {
                    header.comments.push(("Comment".into(), comment));
                }
            }
            [b"element", name, count] => {
                let count = std::str::from_utf8(count).ok().and_then(|c| c.parse().ok());
                let Some(count) = count else {
                    return Err(bad(line, "an element without a count"));
                };
                header.elements.push(Element {
                    name: lossy(name),
                    count,
                    properties: Vec::new(),
                });
            }
            [b"property", b"list", count, value, name] => {
                let (Some(count), Some(value)) = (Value::named(count), Value::named(value)) else {
                    return Err(bad(line, "a type that is not known"));
                };
                let Some(element) = header.elements.last_mut() else {
                    return Err(bad(line, "a property before any element"));
                };
                element.properties.push(Property {
                    name: lossy(name),
                    value,
                    list: Some(count),
                });
            }
            [b"property", value, name] => {
                let Some(value) = Value::named(value) else {
                    return Err(bad(line, "a type that is not known"));
                };
                let Some(element) = header.elements.last_mut() else {
                    return Err(bad(line, "a property before any element"));
                };
                element.properties.push(Property {
                    name: lossy(name),
                    value,
                    list: None,
                });
            }
            [b"end_header"] => break,
            _ => return Err(bad(line, &format!("`{}`", lossy(text)))),
        }
        let listed: usize = header.elements.iter().map(|e| 1 + e.properties.len()).sum();
        if listed > MOST_LISTED {
            return Err(bad(line, "it lists too much"));
        }
    }
    if !has_format {
        return Err(bad(header.lines, "it does not say its format"));
    }
    // An element of nothing takes no bytes, so no count could ever end it.
    if let Some(empty) = header
        .elements
        .iter()
        .find(|e| e.properties.is_empty() && e.count > 0)
    {
        let what = format!("`{}` has no properties", empty.name);
        return Err(bad(header.lines, &what));
    }
    header.body = at;
    Ok(header)
}
