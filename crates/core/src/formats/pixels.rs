//! Pictures: PNG, JPEG and WebP as rows of pixels, bounded.

use crate::Problem;
use image::{ImageDecoder, ImageFormat, ImageReader, Limits};
use std::io::Cursor;

/// A picture that was read.
pub struct Pixels {
    /// Width and height.
    pub size: [u32; 2],
    /// Row by row from the top: red, green, blue, and how much it hides.
    pub pixels: Vec<[u8; 4]>,
    /// Whether the file holds more frames than this one.
    pub is_animated: bool,
}

/// Pixels at most.
const MOST_PIXELS: u64 = 40_000_000;

/// Bytes of a file at most.
const MOST_BYTES: usize = 128 << 20;

/// Whether some bytes begin like a picture of a kind that is read: PNG, JPEG or WebP.
pub fn is_picture(bytes: &[u8]) -> bool {
    let known = [ImageFormat::Png, ImageFormat::Jpeg, ImageFormat::WebP];
    image::guess_format(bytes).is_ok_and(|f| known.contains(&f))
}

/// Whether a file's name ends like that of such a picture.
pub(super) fn is_picture_name(name: &str) -> bool {
    let ending = name.rsplit('.').next().unwrap_or_default();
    let known = ["png", "jpg", "jpeg", "webp"];
    known.iter().any(|k| ending.eq_ignore_ascii_case(k))
}

impl Pixels {
    /// Reads a picture.
    ///
    /// # Errors
    /// `picture-too-large` beyond 128 MiB or 40 million pixels, `picture-broken`, `drawing-empty` for a picture of a line or less.
    pub fn read(bytes: &[u8]) -> Result<Pixels, Problem> {
        if bytes.len() > MOST_BYTES {
            return Err(too_large("128 MiB"));
        }
        let broken = |e: &dyn std::fmt::Display| {
            Problem::new(
                "picture-broken",
                format!("This picture cannot be read: {e}"),
                "",
                "Open it in a picture program and save it as PNG.",
            )
        };
        let mut reader = ImageReader::new(Cursor::new(bytes))
            .with_guessed_format()
            .map_err(|e| broken(&e))?;
        let mut limits = Limits::default();
        limits.max_alloc = Some(1 << 30);
        reader.limits(limits);
        let decoder = reader.into_decoder().map_err(|e| broken(&e))?;
        let (w, h) = decoder.dimensions();
        if u64::from(w) * u64::from(h) > MOST_PIXELS {
            return Err(too_large("40 million pixels"));
        }
        if w < 2 || h < 2 {
            return Err(Problem::new(
                "drawing-empty",
                format!("A picture of {w} × {h} pixels has no shapes"),
                "",
                "Give a larger picture.",
            ));
        }
        let picture = image::DynamicImage::from_decoder(decoder).map_err(|e| broken(&e))?;
        let pixels = picture.into_rgba8().into_raw();
        let pixels = pixels.chunks_exact(4).map(|p| [p[0], p[1], p[2], p[3]]);
        Ok(Pixels {
            size: [w, h],
            pixels: pixels.collect(),
            is_animated: is_animated(bytes),
        })
    }
}

/// Whether a PNG or WebP file holds several frames, by the chunks that say so (W3C PNG, 11.3.6.1; WebP container, `ANIM`).
fn is_animated(bytes: &[u8]) -> bool {
    const HEAD: usize = 4096;
    let head = &bytes[..bytes.len().min(HEAD)];
    let has = |chunk: &[u8; 4]| head.windows(4).any(|w| w == chunk);
    (bytes.starts_with(b"\x89PNG") && has(b"acTL")) || (bytes.starts_with(b"RIFF") && has(b"ANIM"))
}

fn too_large(most: &str) -> Problem {
    Problem::new(
        "picture-too-large",
        format!("This picture has more than {most}"),
        "",
        "Make it smaller: what a nozzle lays is seldom finer than 0.1 mm, so 2000 pixels are plenty for 200 mm.",
    )
    .of(crate::ProblemSort::TooLarge)
}
