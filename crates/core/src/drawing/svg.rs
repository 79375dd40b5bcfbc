//! SVG (W3C SVG 1.1 and 2 as the `usvg` crate reads them): shapes, strokes, text as outlines, groups, transforms and clipping, laid flat.
//! Nothing outside the file is ever fetched, and nothing in it is run.

use super::flat::{Flat, Ink, Note};
use super::gradient::bands;
use super::overlap::{Painted, resolved};
use super::{MOST_COLOURS, checked_width, stopped};
use crate::Problem;
use crate::colour::Colour;
use crate::shapes::{Area, Winding};
use kurbo::{PathEl, Point};
use std::collections::BTreeMap;
use usvg::tiny_skia_path::{self, PathSegment, Transform};
use usvg::{Group, Node, Paint, roxmltree};

/// How an SVG drawing is read.
#[derive(Debug, Clone, PartialEq)]
pub struct SvgOptions {
    /// How wide the page is to be, mm; as it says itself if left out.
    pub width_mm: Option<f64>,
    /// Colours it is reduced to; all if left out.
    pub colours: Option<usize>,
    /// Steps that a gradient becomes; one is its mean.
    pub steps: usize,
}

impl Default for SvgOptions {
    fn default() -> SvgOptions {
        SvgOptions {
            width_mm: None,
            colours: None,
            steps: 1,
        }
    }
}

/// Curves are off by less, mm.
const FLAT_MM: f64 = 0.004;

/// Bytes of an SVG file at most.
const MOST_BYTES: usize = 32 << 20;

/// Elements and texts of an SVG file at most.
const MOST_NODES: u32 = 400_000;

/// Corners of all shapes at most.
const MOST_CORNERS: usize = 4_000_000;

/// Different colours at most, before any are put together.
const MOST_INKS: usize = 256;

/// What is less is nothing but the rounding of places, mm².
const SPECK_MM2: f64 = 1e-4;

/// A CSS pixel (CSS Values and Units 4, 6.2: 1in = 96px), mm.
const PIXEL_MM: f64 = 25.4 / 96.0;

/// Whether some bytes look like an SVG file.
pub(super) fn is_svg(bytes: &[u8]) -> bool {
    const HEAD: usize = 4096;
    let head = String::from_utf8_lossy(&bytes[..bytes.len().min(HEAD)]);
    head.contains("<svg") || head.contains(":svg")
}

/// Lays an SVG drawing flat.
///
/// # Errors
/// `svg-too-large`, `svg-broken`, `drawing-empty`, `drawing-size`, `drawing-too-many-colours`; `stopped`.
///
/// # Cost
/// n log n in the corners, for shapes that do not all lie over one another.
pub fn read_svg(
    bytes: &[u8],
    options: &SvgOptions,
    progress: &(dyn Fn(f64) -> bool + Sync),
) -> Result<Flat, Problem> {
    if bytes.len() > MOST_BYTES {
        return Err(too_large("32 MiB"));
    }
    let text = std::str::from_utf8(bytes).map_err(|e| {
        broken(
            format!("at byte {}", e.valid_up_to()),
            "it is not UTF-8 text",
        )
    })?;
    let xml = roxmltree::ParsingOptions {
        allow_dtd: true,
        nodes_limit: MOST_NODES,
        ..roxmltree::ParsingOptions::default()
    };
    let document = roxmltree::Document::parse_with_options(text, xml).map_err(|e| match e {
        roxmltree::Error::NodesLimitReached => too_large("400 000 elements"),
        e => broken(String::new(), &e.to_string()),
    })?;
    let tree = usvg::Tree::from_xmltree(&document, &usvg_options())
        .map_err(|e| broken(String::new(), &e.to_string()))?;
    let mut notes = Vec::new();
    // The library counts in single precision.
    let exact = |mm: f64| (mm * 1e4).round() / 1e4;
    let own = exact(f64::from(tree.size().width()) * PIXEL_MM);
    if options.width_mm.is_none() && !says_a_length(&document) {
        notes.push(Note::new(
            format!(
                "The drawing says its size in pixels: {} mm wide at 96 to the inch",
                crate::figure(own)
            ),
            "Type the width if it is to be another.",
        ));
    }
    let width = checked_width(options.width_mm, own)?;
    let scale = width / f64::from(tree.size().width());
    let height = exact(f64::from(tree.size().height()) * scale);
    checked_width(Some(height), height)?;
    let mut collecting = Collecting {
        scale,
        height,
        page: Area::rectangle([0.0, 0.0], [width, height]),
        steps: options.steps.clamp(1, 16),
        painted: Vec::new(),
        names: BTreeMap::new(),
        corners: 0,
        told: BTreeMap::new(),
    };
    collecting.group(tree.root(), 1.0, None)?;
    if !progress(0.3) {
        return Err(stopped());
    }
    let mut inks = Vec::new();
    for (colour, area) in resolved(&collecting.painted) {
        let area = area.without_specks(SPECK_MM2);
        if !area.is_empty() {
            let known = collecting.names.get(&colour).map(|(_, name)| name.clone());
            let name = known.unwrap_or_else(|| String::from(colour));
            inks.push(Ink { name, colour, area });
        }
    }
    if !progress(0.9) {
        return Err(stopped());
    }
    if inks.is_empty() {
        return Err(Problem::new(
            "drawing-empty",
            "Nothing in this drawing has a colour and an area",
            "",
            "Draw shapes with a fill or a stroke inside the page, and save it as plain SVG.",
        ));
    }
    let count = inks.len();
    if count > MOST_INKS {
        return Err(Problem::new(
            "drawing-too-many-colours",
            format!("This drawing has {count} colours, more than {MOST_INKS}"),
            "",
            "Draw it with fewer colours, or give it as a PNG picture, whose colours are put together by likeness.",
        ));
    }
    notes.extend(collecting.told.into_values());
    let flat = Flat {
        size_mm: [width, height],
        inks,
        notes,
    };
    Ok(match options.colours {
        Some(colours) => flat.reduced(colours),
        None if count > MOST_COLOURS => flat.reduced(MOST_COLOURS),
        None => flat.sorted(),
    })
}

/// Fonts that come along, and nobody who looks anything up.
fn usvg_options() -> usvg::Options<'static> {
    let mut options = usvg::Options {
        image_href_resolver: usvg::ImageHrefResolver {
            resolve_data: Box::new(|_, _, _| None),
            resolve_string: Box::new(|_, _| None),
        },
        ..usvg::Options::default()
    };
    let fonts = options.fontdb_mut();
    fonts.load_font_data(super::fonts::BODY.to_vec());
    for set in [
        usvg::fontdb::Database::set_serif_family,
        usvg::fontdb::Database::set_sans_serif_family,
        usvg::fontdb::Database::set_monospace_family,
        usvg::fontdb::Database::set_cursive_family,
        usvg::fontdb::Database::set_fantasy_family,
    ] {
        set(fonts, super::fonts::BODY_FAMILY);
    }
    options.font_family = super::fonts::BODY_FAMILY.into();
    options
}

/// Whether the root says its width in a length that is not a pixel.
fn says_a_length(document: &roxmltree::Document<'_>) -> bool {
    let width = document.root_element().attribute("width").unwrap_or("");
    ["mm", "cm", "in", "pt", "pc", "Q"]
        .iter()
        .any(|unit| width.trim().ends_with(unit))
}

struct Collecting {
    /// mm to a unit of the file.
    scale: f64,
    /// Of the page, mm.
    height: f64,
    page: Area,
    steps: usize,
    painted: Vec<Painted>,
    /// Name of the largest shape of each colour, with its area.
    names: BTreeMap<Colour, (f64, String)>,
    corners: usize,
    told: BTreeMap<&'static str, Note>,
}

impl Collecting {
    fn group(&mut self, group: &Group, opacity: f64, clip: Option<&Area>) -> Result<(), Problem> {
        let opacity = opacity * f64::from(group.opacity().get());
        if group.mask().is_some() {
            self.tell("mask", "A mask is left out", "Clip with a path instead.");
        }
        if !group.filters().is_empty() {
            self.tell(
                "filter",
                "Filters such as shadows and blurs are left out",
                "Draw them as shapes if they are to be printed.",
            );
        }
        if group.blend_mode() != usvg::BlendMode::Normal {
            self.tell(
                "blend",
                "Blending of colours is left out",
                "Give the shapes the colours that are to be seen.",
            );
        }
        let clipped = group
            .clip_path()
            .map(|path| self.clip(path, group.abs_transform()));
        let clipped = match (clipped.transpose()?, clip) {
            (Some(own), Some(outer)) => Some(own.and(outer)),
            (Some(own), None) => Some(own),
            (None, outer) => outer.cloned(),
        };
        for node in group.children() {
            match node {
                Node::Group(inner) => self.group(inner, opacity, clipped.as_ref())?,
                Node::Path(path) => self.path(path, opacity, clipped.as_ref())?,
                Node::Text(text) => {
                    self.told_of_text(text);
                    self.group(text.flattened(), opacity, clipped.as_ref())?;
                }
                Node::Image(_) => self.tell(
                    "image",
                    "A picture inside the drawing is left out",
                    "Give the picture by itself.",
                ),
            }
        }
        Ok(())
    }

    /// Text of which letters are missing says so.
    fn told_of_text(&mut self, text: &usvg::Text) {
        let wanted: String = text.chunks().iter().map(|c| c.text()).collect();
        let is_plain = wanted
            .chars()
            .all(|c| c.is_whitespace() || super::fonts::has(c));
        if !is_plain {
            self.tell(
                "letters",
                "Some letters of a text are not in the font that comes along",
                "Turn the text into outlines before you save the drawing.",
            );
        }
        self.tell(
            "font",
            format!(
                "Text is set in {}, whatever font the drawing names",
                super::fonts::BODY_FAMILY
            ),
            "Turn the text into outlines to keep its letters.",
        );
    }

    fn tell(&mut self, key: &'static str, message: impl Into<String>, mend: &str) {
        let note = Note::new(message, mend);
        self.told.entry(key).or_insert(note);
    }

    fn clip(&mut self, path: &usvg::ClipPath, of: Transform) -> Result<Area, Problem> {
        let at = of.pre_concat(path.transform());
        let own = self.covered(path.root(), at)?;
        Ok(match path.clip_path() {
            Some(further) => own.and(&self.clip(further, of)?),
            None => own,
        })
    }

    /// All that the shapes of a clip cover.
    fn covered(&mut self, group: &Group, at: Transform) -> Result<Area, Problem> {
        let at = at.pre_concat(group.transform());
        let mut all = Area::default();
        for node in group.children() {
            let one = match node {
                Node::Group(inner) => self.covered(inner, at)?,
                Node::Path(path) => {
                    let rule = path.fill().map_or(usvg::FillRule::NonZero, |f| f.rule());
                    self.area(path.data(), at, rule)?
                }
                Node::Text(text) => self.covered(text.flattened(), at)?,
                Node::Image(_) => Area::default(),
            };
            all = all.or(&one);
        }
        Ok(all)
    }

    fn path(
        &mut self,
        path: &usvg::Path,
        opacity: f64,
        clip: Option<&Area>,
    ) -> Result<(), Problem> {
        if !path.is_visible() {
            return Ok(());
        }
        let at = path.abs_transform();
        let fill = |me: &mut Collecting| match path.fill() {
            Some(fill) => {
                let area = me.area(path.data(), at, fill.rule())?;
                let opacity = opacity * f64::from(fill.opacity().get());
                me.paint(area, (fill.paint(), at, opacity), path.id(), clip)
            }
            None => Ok(()),
        };
        let stroke = |me: &mut Collecting| match path.stroke() {
            Some(stroke) => {
                let Some(outline) = me.outline(path.data(), stroke, at) else {
                    return Ok(());
                };
                let area = me.area(&outline, at, usvg::FillRule::NonZero)?;
                let opacity = opacity * f64::from(stroke.opacity().get());
                me.paint(area, (stroke.paint(), at, opacity), path.id(), clip)
            }
            None => Ok(()),
        };
        match path.paint_order() {
            usvg::PaintOrder::FillAndStroke => fill(self).and_then(|()| stroke(self)),
            usvg::PaintOrder::StrokeAndFill => stroke(self).and_then(|()| fill(self)),
        }
    }

    /// The outline of a stroke, dashes cut.
    fn outline(
        &self,
        path: &tiny_skia_path::Path,
        stroke: &usvg::Stroke,
        at: Transform,
    ) -> Option<tiny_skia_path::Path> {
        let mut how = stroke.to_tiny_skia();
        let dashed = how
            .dash
            .take()
            .and_then(|d| path.dash(&d, self.precision(at)));
        dashed
            .as_ref()
            .unwrap_or(path)
            .stroke(&how, self.precision(at))
    }

    /// How finely outlines are made: to [`FLAT_MM`], where the library means a quarter of a pixel.
    fn precision(&self, at: Transform) -> f32 {
        let (sx, sy) = at.get_scale();
        let units = f64::from(sx.max(sy)) * self.scale;
        (0.25 * units / FLAT_MM).clamp(1e-3, 1e4) as f32
    }

    fn paint(
        &mut self,
        area: Area,
        (paint, at, opacity): (&Paint, Transform, f64),
        id: &str,
        clip: Option<&Area>,
    ) -> Result<(), Problem> {
        let mut area = area.and(&self.page);
        if let Some(clip) = clip {
            area = area.and(clip);
        }
        if area.is_empty() || opacity <= 0.0 {
            return Ok(());
        }
        let to_mm = |x: f64, y: f64| self.to_mm(at, x, y);
        let parts: Vec<(Area, Colour, f64)> = match paint {
            Paint::Color(c) => vec![(area, Colour([c.red, c.green, c.blue]), 1.0)],
            Paint::LinearGradient(g) => bands::linear(area, g, self.steps, &to_mm),
            Paint::RadialGradient(g) => bands::radial(area, g, self.steps, &to_mm),
            Paint::Pattern(pattern) => {
                let colour = first_colour(pattern.root()).unwrap_or(Colour([128; 3]));
                self.tell(
                    "pattern",
                    "A pattern is painted in its first colour",
                    "Draw its shapes themselves if they are to be printed.",
                );
                vec![(area, colour, 1.0)]
            }
        };
        for (area, colour, share) in parts {
            let mm2 = area.mm2();
            let largest = self.names.get(&colour).map_or(0.0, |(mm2, _)| *mm2);
            if !id.is_empty() && mm2 > largest {
                self.names.insert(colour, (mm2, id.to_string()));
            }
            self.painted.push(Painted {
                area,
                colour,
                opacity: opacity * share,
            });
        }
        Ok(())
    }

    /// A place of the file in mm.
    fn to_mm(&self, at: Transform, x: f64, y: f64) -> [f64; 2] {
        let t = |v: f32| f64::from(v);
        let px = t(at.sx) * x + t(at.kx) * y + t(at.tx);
        let py = t(at.ky) * x + t(at.sy) * y + t(at.ty);
        // Far beyond the page nothing is seen, and whole numbers end.
        const FAR_MM: f64 = 8000.0;
        [px * self.scale, self.height - py * self.scale].map(|c| c.clamp(-FAR_MM, FAR_MM))
    }

    fn area(
        &mut self,
        path: &tiny_skia_path::Path,
        at: Transform,
        rule: usvg::FillRule,
    ) -> Result<Area, Problem> {
        let mut elements: Vec<PathEl> = Vec::with_capacity(path.len());
        let place = |p: tiny_skia_path::Point| {
            let [x, y] = self.to_mm(at, f64::from(p.x), f64::from(p.y));
            Point::new(x, y)
        };
        for segment in path.segments() {
            elements.push(match segment {
                PathSegment::MoveTo(p) => PathEl::MoveTo(place(p)),
                PathSegment::LineTo(p) => PathEl::LineTo(place(p)),
                PathSegment::QuadTo(a, p) => PathEl::QuadTo(place(a), place(p)),
                PathSegment::CubicTo(a, b, p) => PathEl::CurveTo(place(a), place(b), place(p)),
                PathSegment::Close => PathEl::ClosePath,
            });
        }
        let mut rings: Vec<Vec<[f64; 2]>> = Vec::new();
        kurbo::flatten(elements, FLAT_MM, |element| match element {
            PathEl::MoveTo(p) => rings.push(vec![[p.x, p.y]]),
            PathEl::LineTo(p) => {
                if let Some(ring) = rings.last_mut() {
                    ring.push([p.x, p.y]);
                }
            }
            _ => {}
        });
        self.corners += rings.iter().map(Vec::len).sum::<usize>();
        if self.corners > MOST_CORNERS {
            return Err(too_large("4 million corners"));
        }
        let winding = match rule {
            usvg::FillRule::NonZero => Winding::NonZero,
            usvg::FillRule::EvenOdd => Winding::EvenOdd,
        };
        Ok(Area::wound(&rings, winding))
    }
}

/// The first colour that anything of a pattern has.
fn first_colour(group: &Group) -> Option<Colour> {
    group.children().iter().find_map(|node| match node {
        Node::Group(inner) => first_colour(inner),
        Node::Path(path) => match path.fill()?.paint() {
            Paint::Color(c) => Some(Colour([c.red, c.green, c.blue])),
            _ => None,
        },
        Node::Text(_) | Node::Image(_) => None,
    })
}

fn broken(place: String, why: &str) -> Problem {
    Problem::new(
        "svg-broken",
        format!("This SVG drawing cannot be read: {why}"),
        &place,
        "Open it in a drawing program and save it as plain SVG.",
    )
}

fn too_large(most: &str) -> Problem {
    Problem::new(
        "svg-too-large",
        format!("This SVG drawing has more than {most}"),
        "",
        "Simplify its paths, or leave out what is too small to print.",
    )
    .of(crate::ProblemSort::TooLarge)
}
