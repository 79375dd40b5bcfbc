//! SVG (W3C SVG 1.1 and 2 as the `usvg` crate reads them): shapes, strokes, text as outlines, groups, transforms and clipping, laid flat.
//! Nothing outside the file is ever fetched, and nothing in it is run.

use super::collect::Collecting;
use super::flat::{Flat, Ink, Note};
use super::overlap::resolved;
use super::{MOST_COLOURS, checked_width, stopped};
use crate::Problem;
use crate::shapes::Area;
use std::collections::BTreeMap;
use usvg::roxmltree;

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

/// Bytes of an SVG file at most.
const MOST_BYTES: usize = 32 << 20;

/// Elements and texts of an SVG file at most.
const MOST_NODES: u32 = 400_000;

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
    laid_flat(&document, options, &[super::fonts::BODY], progress)
}

/// A text of ours laid flat, set in the first of some fonts that has its letters.
pub(super) fn flat_of_text(text: &str, fonts: &[&[u8]]) -> Result<Flat, Problem> {
    let document =
        roxmltree::Document::parse(text).map_err(|e| broken(String::new(), &e.to_string()))?;
    laid_flat(&document, &SvgOptions::default(), fonts, &|_| true)
}

fn laid_flat(
    document: &roxmltree::Document<'_>,
    options: &SvgOptions,
    fonts: &[&[u8]],
    progress: &(dyn Fn(f64) -> bool + Sync),
) -> Result<Flat, Problem> {
    let tree = usvg::Tree::from_xmltree(document, &usvg_options(fonts))
        .map_err(|e| broken(String::new(), &e.to_string()))?;
    let mut notes = Vec::new();
    // The library counts in single precision.
    let exact = |mm: f64| (mm * 1e4).round() / 1e4;
    let own = exact(f64::from(tree.size().width()) * PIXEL_MM);
    if options.width_mm.is_none() && !says_a_length(document) {
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
fn usvg_options(files: &[&[u8]]) -> usvg::Options<'static> {
    let mut options = usvg::Options {
        image_href_resolver: usvg::ImageHrefResolver {
            resolve_data: Box::new(|_, _, _| None),
            resolve_string: Box::new(|_, _| None),
        },
        ..usvg::Options::default()
    };
    let fonts = options.fontdb_mut();
    files.iter().for_each(|f| fonts.load_font_data(f.to_vec()));
    let first = fonts.faces().next();
    let family = first.and_then(|f| f.families.first().map(|f| f.0.clone()));
    let family = family.unwrap_or_else(|| super::fonts::BODY_FAMILY.into());
    for set in [
        usvg::fontdb::Database::set_serif_family,
        usvg::fontdb::Database::set_sans_serif_family,
        usvg::fontdb::Database::set_monospace_family,
        usvg::fontdb::Database::set_cursive_family,
        usvg::fontdb::Database::set_fantasy_family,
    ] {
        set(fonts, family.clone());
    }
    options.font_family = family;
    options
}

/// Whether the root says its width in a length that is not a pixel.
fn says_a_length(document: &roxmltree::Document<'_>) -> bool {
    let width = document.root_element().attribute("width").unwrap_or("");
    ["mm", "cm", "in", "pt", "pc", "Q"]
        .iter()
        .any(|unit| width.trim().ends_with(unit))
}

fn broken(place: String, why: &str) -> Problem {
    Problem::new(
        "svg-broken",
        format!("This SVG drawing cannot be read: {why}"),
        &place,
        "Open it in a drawing program and save it as plain SVG.",
    )
}

pub(super) fn too_large(most: &str) -> Problem {
    Problem::new(
        "svg-too-large",
        format!("This SVG drawing has more than {most}"),
        "",
        "Simplify its paths, or leave out what is too small to print.",
    )
    .of(crate::ProblemSort::TooLarge)
}
