//! The fonts that come along, chosen because they print well: letters of even width, round or of straight strokes (licences beside
//! them, in `crates/core/fonts`).

use crate::Problem;
use serde::{Deserialize, Serialize};
use skrifa::instance::{LocationRef, Size};
use skrifa::{FontRef, MetadataProvider};

/// The font of texts of drawings, and of letters that another font lacks: most of the world's letters.
pub(super) const BODY: &[u8] = include_bytes!("../../fonts/DejaVuSans-Bold.ttf");

/// What it is called.
pub(super) const BODY_FAMILY: &str = "DejaVu Sans";

/// A font that comes along.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Font {
    /// DejaVu Sans Bold.
    #[default]
    Plain,
    /// Fredoka SemiBold: round ends, as a nozzle draws.
    Round,
    /// Roboto Slab Bold.
    Slab,
    /// Bungee: for signs.
    Sign,
    /// Saira Stencil One: nothing falls out of what is cut through.
    Stencil,
    /// Pacifico: joined, as written by hand.
    Script,
}

macro_rules! font {
    ($name:literal) => {
        include_bytes!(concat!("../../fonts/", $name, ".ttf"))
    };
}

impl Font {
    /// All of them.
    pub const ALL: [Font; 6] = [
        Font::Plain,
        Font::Round,
        Font::Slab,
        Font::Sign,
        Font::Stencil,
        Font::Script,
    ];

    /// Its files, the one with the usual letters first.
    pub(super) fn files(self) -> Vec<&'static [u8]> {
        match self {
            Font::Plain => vec![BODY],
            Font::Round => vec![font!("Fredoka-latin"), font!("Fredoka-latin-ext")],
            Font::Slab => vec![font!("RobotoSlab-latin"), font!("RobotoSlab-latin-ext")],
            Font::Sign => vec![font!("Bungee-latin"), font!("Bungee-latin-ext")],
            Font::Stencil => vec![
                font!("SairaStencilOne-latin"),
                font!("SairaStencilOne-latin-ext"),
            ],
            Font::Script => vec![font!("Pacifico-latin"), font!("Pacifico-latin-ext")],
        }
    }
}

/// Whether some bytes are a font that can be set in.
///
/// # Errors
/// `font-broken`.
pub(super) fn opened(bytes: &[u8]) -> Result<FontRef<'_>, Problem> {
    const MOST_BYTES: usize = 32 << 20;
    let broken = |why: &str| {
        Problem::new(
            "font-broken",
            format!("This font cannot be read: {why}"),
            "font",
            "Give a TrueType or OpenType font, a file that ends in .ttf or .otf.",
        )
    };
    if bytes.len() > MOST_BYTES {
        return Err(broken("it has more than 32 MiB"));
    }
    let font = FontRef::new(bytes).map_err(|e| broken(&e.to_string()))?;
    match font.charmap().mappings().next() {
        Some(_) => Ok(font),
        None => Err(broken("it has no letters")),
    }
}

/// Refuses bytes that are no font to be set in.
///
/// # Errors
/// `font-broken`.
pub fn check_font(bytes: &[u8]) -> Result<(), Problem> {
    opened(bytes).map(|_| ())
}

/// Whether a file of that name is a font.
pub fn is_font_name(file: &str) -> bool {
    let ending = file.rsplit('.').next().unwrap_or_default();
    ["ttf", "otf"]
        .iter()
        .any(|e| ending.eq_ignore_ascii_case(e))
}

/// How high a capital letter is, in parts of the font's size.
pub(super) fn capital(font: &FontRef<'_>) -> f64 {
    // Where neither the font nor its H say so: common practice, no source.
    const USUAL: f64 = 0.7;
    let metrics = font.metrics(Size::new(1.0), LocationRef::default());
    let of_h = || {
        let glyph = font.charmap().map('H')?;
        let glyphs = font.glyph_metrics(Size::new(1.0), LocationRef::default());
        glyphs.bounds(glyph).map(|b| b.y_max)
    };
    let told = metrics.cap_height.filter(|h| *h > 0.1).or_else(of_h);
    told.map_or(USUAL, f64::from).clamp(0.1, 2.0)
}

/// Whether a font has a letter.
pub(super) fn has(font: &FontRef<'_>, letter: char) -> bool {
    font.charmap().map(letter).is_some()
}

/// Whether the font of texts of drawings has a letter.
pub(super) fn body_has(letter: char) -> bool {
    has(
        &FontRef::new(BODY).expect("the font that comes along"),
        letter,
    )
}
