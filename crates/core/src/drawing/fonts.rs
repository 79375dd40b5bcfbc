//! The font that texts of drawings are set in: DejaVu Sans Bold, which prints well and has most of the world's letters
//! (licence beside it, in `crates/core/fonts`).

use skrifa::{FontRef, MetadataProvider};

/// The file.
pub(super) const BODY: &[u8] = include_bytes!("../../fonts/DejaVuSans-Bold.ttf");

/// What it is called.
pub(super) const BODY_FAMILY: &str = "DejaVu Sans";

/// Whether it has a letter.
pub(super) fn has(letter: char) -> bool {
    let font = FontRef::new(BODY).expect("the font that comes along");
    font.charmap().map(letter).is_some()
}
