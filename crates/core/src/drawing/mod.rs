//! Drawings and pictures, and how they become bodies: [`read_svg`] and [`read_picture`] lay them flat, [`Flatwork`] says what becomes of
//! each colour, and [`Flatwork::bodies`] makes closed bodies of it, one for each colour.
//!
//! Frames: mm, x to the right, y up, the lower left corner of the page at the origin.

mod bodies;
mod collect;
mod covering;
mod eye;
mod flat;
mod flatwork;
mod fonts;
mod gradient;
mod kept;
mod laying;
mod over_surface;
mod overlap;
mod picture;
mod prism;
mod sheet;
mod source;
mod squares;
mod stacking;
mod svg;
mod thin;
mod trace;
mod words;

pub use bodies::{Body, bodies_threemf};
pub use eye::Eye;
pub use flat::{Flat, Ink, Note};
pub use flatwork::{Base, Eyelet, Fate, Flatwork, InkChoice, Outline, Side};
pub use fonts::{Font, check_font, is_font_name};
pub use kept::{Drawn, Said};
pub(crate) use laying::Frame;
pub use laying::{LaidOn, Laying};
pub(crate) use over_surface::{OverSurface, comes_too_often, covered, samples};
pub use picture::{PictureOptions, read_picture};
pub use prism::prism;
pub(crate) use sheet::Sheet;
pub use source::{DrawingSource, Read};
pub use stacking::{
    Calibrated, Stack, StackSpool, Stacked, Stacking, Tone, WedgeStep, best_stack, calibrated,
    stacked, wedge,
};
pub use svg::{SvgOptions, read_svg};
pub use thin::{ThinPlace, thickened, thin_places};
pub use words::Words;

use crate::Problem;
use crate::colour::Colour;
use crate::formats::is_picture;
use serde::{Deserialize, Serialize};

/// The least and the largest side that a drawing may have, mm.
pub const SIDES_MM: [f64; 2] = [1.0, 2000.0];

/// Colours that a drawing can be reduced to at most.
pub const MOST_COLOURS: usize = 32;

/// How a drawing is read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(default)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct DrawingOptions {
    /// How wide it is to be, mm; as it says itself, or 80 mm on the longer side of a picture, without.
    pub width_mm: Option<f64>,
    /// Colours it is reduced to; all of a drawing, and 4 of a picture, without.
    pub colours: Option<usize>,
    /// Steps that a gradient of a drawing becomes; one is its mean.
    pub steps: usize,
    /// What of a picture is smaller is given to what is around it, mm².
    pub specks_mm2: f64,
    /// How far borders of a picture are straightened, mm.
    pub smooth_mm: f64,
    /// Colours that it is brought to, such as those of the spools at hand: each place has the nearest. Its own without.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", ts(optional))]
    pub palette: Option<Vec<Colour>>,
    /// How much lighter a picture is taken than it is, -1 to 1.
    #[serde(skip_serializing_if = "crate::is_default")]
    #[cfg_attr(feature = "wire", ts(optional, as = "Option<f64>"))]
    pub brightness: f64,
    /// How much more contrast a picture is taken to have, -1 to 1.
    #[serde(skip_serializing_if = "crate::is_default")]
    #[cfg_attr(feature = "wire", ts(optional, as = "Option<f64>"))]
    pub contrast: f64,
}

impl Default for DrawingOptions {
    fn default() -> DrawingOptions {
        let of_pictures = PictureOptions::default();
        DrawingOptions {
            width_mm: None,
            colours: None,
            steps: 1,
            specks_mm2: of_pictures.specks_mm2,
            smooth_mm: of_pictures.smooth_mm,
            palette: None,
            brightness: 0.0,
            contrast: 0.0,
        }
    }
}

/// Reads a drawing of any kind, which is known by what is in it.
///
/// # Errors
/// What [`read_svg`] and [`read_picture`] say; `drawing-unknown` for anything else.
pub fn read_drawing(
    bytes: &[u8],
    options: &DrawingOptions,
    progress: &(dyn Fn(f64) -> bool + Sync),
) -> Result<Flat, Problem> {
    if is_picture(bytes) {
        let usual = PictureOptions::default();
        let options = PictureOptions {
            width_mm: options.width_mm,
            colours: options.colours.unwrap_or(usual.colours),
            specks_mm2: options.specks_mm2,
            smooth_mm: options.smooth_mm,
            palette: options.palette.clone(),
            brightness: options.brightness,
            contrast: options.contrast,
        };
        return read_picture(bytes, &options, progress);
    }
    if svg::is_svg(bytes) {
        let read = SvgOptions {
            width_mm: options.width_mm,
            colours: options.colours,
            steps: options.steps,
        };
        let flat = read_svg(bytes, &read, progress)?;
        return Ok(match &options.palette {
            Some(palette) => flat.brought_to(palette),
            None => flat,
        });
    }
    Err(Problem::new(
        "drawing-unknown",
        "This is no drawing or picture that is known here",
        "",
        "Give an SVG drawing, or a PNG, JPEG or WebP picture.",
    ))
}

/// Whether a file of that name is a drawing or a picture; a model that is made of one keeps the drawing's name.
pub fn is_drawing_name(file: &str) -> bool {
    let ending = file.rsplit('.').next().unwrap_or_default();
    ["svg", "png", "jpg", "jpeg", "webp"]
        .iter()
        .any(|e| ending.eq_ignore_ascii_case(e))
}

/// Whether some bytes look like a drawing or a picture.
pub fn is_drawing(bytes: &[u8]) -> bool {
    is_picture(bytes) || svg::is_svg(bytes)
}

/// The width that a drawing gets: as asked, if that is a size at all.
fn checked_width(asked: Option<f64>, own: f64) -> Result<f64, Problem> {
    let width = asked.unwrap_or(own);
    match width.is_finite() && (SIDES_MM[0]..=SIDES_MM[1]).contains(&width) {
        true => Ok(width),
        false => Err(Problem::new(
            "drawing-size",
            format!("A drawing of {} mm cannot be made", crate::figure(width)),
            "width",
            format!(
                "Give a width between {} and {} mm.",
                SIDES_MM[0], SIDES_MM[1]
            ),
        )),
    }
}

fn stopped() -> Problem {
    Problem::stopped("Stopped before it was read", "Drop the drawing once more.")
}
