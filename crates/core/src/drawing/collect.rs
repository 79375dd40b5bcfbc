//! The shapes that an SVG drawing paints: fills, strokes and texts, clipped, as areas in mm.

use super::flat::Note;
use super::overlap::Painted;
use super::svg::too_large;
use super::{fonts, gradient};
use crate::Problem;
use crate::colour::Colour;
use crate::shapes::{Area, Winding};
use kurbo::{PathEl, Point};
use std::collections::BTreeMap;
use usvg::tiny_skia_path::{self, PathSegment, Transform};
use usvg::{Group, Node, Paint};

/// Curves are off by less, mm.
const FLAT_MM: f64 = 0.004;

/// Corners of all shapes at most.
const MOST_CORNERS: usize = 4_000_000;

/// What a drawing paints, shape by shape, in mm.
pub(super) struct Collecting {
    /// mm to a unit of the file.
    pub(super) scale: f64,
    /// Of the page, mm.
    pub(super) height: f64,
    pub(super) page: Area,
    pub(super) steps: usize,
    pub(super) painted: Vec<Painted>,
    /// Name of the largest shape of each colour, with its area.
    pub(super) names: BTreeMap<Colour, (f64, String)>,
    pub(super) corners: usize,
    pub(super) told: BTreeMap<&'static str, Note>,
}

impl Collecting {
    /// All of a group, in the order in which it is painted; each shape as far as its clip shows it.
    ///
    /// # Errors
    /// `svg-too-large`.
    pub(super) fn group(
        &mut self,
        group: &Group,
        opacity: f64,
        clip: Option<&Area>,
    ) -> Result<(), Problem> {
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
            .all(|c| c.is_whitespace() || fonts::body_has(c));
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
                fonts::BODY_FAMILY
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
            Paint::LinearGradient(g) => gradient::linear(area, g, self.steps, &to_mm),
            Paint::RadialGradient(g) => gradient::radial(area, g, self.steps, &to_mm),
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
