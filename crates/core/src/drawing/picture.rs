//! Pictures: PNG, JPEG and WebP, their colours put together by likeness, and traced.

use super::flat::{Flat, Ink, Note};
use super::trace::{Grid, traced};
use super::{MOST_COLOURS, checked_width, stopped};
use crate::Problem;
use crate::colour::Colour;
use crate::formats::Pixels;
use palette::{FromColor, Oklab, Srgb};
use quantette::{PaletteSize, Pipeline, QuantizeMethod};
use rayon::prelude::*;
use rustc_hash::FxHashMap;
use std::collections::BTreeMap;

/// How a picture is read.
#[derive(Debug, Clone, PartialEq)]
pub struct PictureOptions {
    /// How wide it is to be, mm; 80 mm on its longer side if left out.
    pub width_mm: Option<f64>,
    /// Colours it is reduced to at most.
    pub colours: usize,
    /// What is smaller is given to what is around it, mm².
    pub specks_mm2: f64,
    /// How far borders are straightened, mm; never so far that they meet.
    pub smooth_mm: f64,
    /// Colours that every pixel is brought to; its own without.
    pub palette: Option<Vec<Colour>>,
    /// How much lighter it is taken than it is, -1 to 1.
    pub brightness: f64,
    /// How much more contrast it is taken to have, -1 to 1.
    pub contrast: f64,
}

impl Default for PictureOptions {
    fn default() -> PictureOptions {
        PictureOptions {
            width_mm: None,
            colours: 4,
            specks_mm2: 0.5,
            smooth_mm: 0.05,
            palette: None,
            brightness: 0.0,
            contrast: 0.0,
        }
    }
}

/// Longer side of a picture that nothing is said of, mm.
pub(super) const USUAL_MM: f64 = 80.0;

/// What is seen through by more than half is nothing.
pub(super) const SEEN: u8 = 128;

/// No colour.
pub(super) const NONE: u8 = u8::MAX;

/// Lays a picture flat: its colours reduced by k-means in Oklab (the `quantette` crate), specks given away, borders traced.
///
/// # Errors
/// `picture-too-large`, `picture-broken`, `drawing-empty`, `drawing-size`; `stopped`.
///
/// # Cost
/// Linear in pixels.
pub fn read_picture(
    bytes: &[u8],
    options: &PictureOptions,
    progress: &(dyn Fn(f64) -> bool + Sync),
) -> Result<Flat, Problem> {
    let Pixels {
        size,
        mut pixels,
        is_animated,
    } = Pixels::read(bytes)?;
    let mut notes = Vec::new();
    if is_animated {
        notes.push(Note::new(
            "The picture moves: its first frame is taken",
            "Save the frame that is to be printed by itself.",
        ));
    }
    toned(&mut pixels, options);
    if !progress(0.3) {
        return Err(stopped());
    }
    let [w, h] = size.map(f64::from);
    let width = checked_width(options.width_mm, USUAL_MM * w / w.max(h))?;
    let pixel_mm = width / w;
    checked_width(Some(h * pixel_mm), h * pixel_mm)?;
    let given = options.palette.as_deref().filter(|p| !p.is_empty());
    let (palette, labels) = reduced(&pixels, options.colours.clamp(1, MOST_COLOURS), given);
    if palette.is_empty() {
        return Err(transparent());
    }
    if !progress(0.6) {
        return Err(stopped());
    }
    let grid = Grid {
        size: size.map(|s| s as usize),
        labels,
    };
    let specks = (options.specks_mm2.max(0.0) / (pixel_mm * pixel_mm)).ceil() as usize;
    let smooth = options.smooth_mm.max(0.0) / pixel_mm;
    let areas = traced(grid, specks, smooth, pixel_mm);
    if !progress(0.95) {
        return Err(stopped());
    }
    let inks = palette.into_iter().zip(areas);
    let inks = inks.filter(|(_, area)| !area.is_empty());
    let flat = Flat {
        size_mm: [width, h * pixel_mm],
        inks: inks
            .map(|(colour, area)| Ink {
                name: String::from(colour),
                colour,
                area,
            })
            .collect(),
        notes,
    };
    Ok(flat.sorted())
}

/// That there is nothing in it.
pub(super) fn transparent() -> Problem {
    Problem::new(
        "drawing-empty",
        "All of this picture is transparent",
        "",
        "Give a picture with something in it.",
    )
}

/// Lighter or darker, and with more contrast or less: straight lines in sRGB, as picture programs do it (common practice, no source).
fn toned(pixels: &mut [[u8; 4]], options: &PictureOptions) {
    let sound = |v: f64| {
        if v.is_finite() {
            v.clamp(-1.0, 1.0)
        } else {
            0.0
        }
    };
    let (lighter, contrast) = (sound(options.brightness), sound(options.contrast));
    if lighter == 0.0 && contrast == 0.0 {
        return;
    }
    // From flat grey over as it is to twice as steep and beyond.
    let steep = match contrast {
        more if more > 0.0 => 1.0 + 3.0 * more,
        less => 1.0 + less,
    };
    let table: Vec<u8> = (0..256)
        .map(|v| {
            let v = (f64::from(v) - 127.5) * steep + 127.5 + 255.0 * lighter;
            v.round().clamp(0.0, 255.0) as u8
        })
        .collect();
    pixels.par_iter_mut().for_each(|p| {
        p[..3].iter_mut().for_each(|c| *c = table[usize::from(*c)]);
    });
}

/// The colours, and the number of its colour for each pixel.
pub(super) fn reduced(
    pixels: &[[u8; 4]],
    colours: usize,
    given: Option<&[Colour]>,
) -> (Vec<Colour>, Vec<u8>) {
    let seen: Vec<Srgb<u8>> = pixels
        .iter()
        .filter(|p| p[3] >= SEEN)
        .map(|p| Srgb::new(p[0], p[1], p[2]))
        .collect();
    // More than a byte can number are no palette of a printer.
    let given = given.map(|p| p[..p.len().min(MOST_COLOURS)].to_vec());
    let palette = match given {
        Some(given) if !seen.is_empty() => Some(given),
        _ => palette_of(&seen, colours),
    };
    let Some(palette) = palette else {
        return (Vec::new(), vec![NONE; pixels.len()]);
    };
    let places: Vec<[f32; 3]> = palette.iter().map(|c| oklab(c.0)).collect();
    let nearest = |rgb: [u8; 3]| -> u8 {
        let at = oklab(rgb);
        let far = |p: &[f32; 3]| (0..3).map(|i| (p[i] - at[i]).powi(2)).sum::<f32>();
        let best = (0..places.len()).min_by(|a, b| far(&places[*a]).total_cmp(&far(&places[*b])));
        best.unwrap_or(0) as u8
    };
    const ROWS: usize = 1 << 16;
    let labels = pixels
        .par_chunks(ROWS)
        .flat_map_iter(|chunk| {
            let mut known: FxHashMap<[u8; 3], u8> = FxHashMap::default();
            let label = move |p: &[u8; 4]| match p[3] >= SEEN {
                true => {
                    let rgb = [p[0], p[1], p[2]];
                    *known.entry(rgb).or_insert_with(|| nearest(rgb))
                }
                false => NONE,
            };
            chunk.iter().map(label).collect::<Vec<u8>>()
        })
        .collect();
    (palette, labels)
}

/// The colours that stand for all; those that there are, where there are no more than that.
fn palette_of(seen: &[Srgb<u8>], colours: usize) -> Option<Vec<Colour>> {
    let mut few: BTreeMap<[u8; 3], ()> = BTreeMap::new();
    for c in seen {
        few.insert([c.red, c.green, c.blue], ());
        if few.len() > colours {
            break;
        }
    }
    if few.is_empty() {
        return None;
    }
    if few.len() <= colours {
        return Some(few.into_keys().map(Colour).collect());
    }
    let size = PaletteSize::from_u8_clamped(colours as u8);
    let pipeline = Pipeline::new()
        .palette_size(size)
        .quantize_method(QuantizeMethod::kmeans())
        .input_slice(seen)
        .ok()?;
    let mut palette: Vec<Colour> = pipeline
        .output_srgb8_palette()
        .into_vec()
        .into_iter()
        .map(|c| Colour([c.red, c.green, c.blue]))
        .collect();
    palette.sort_unstable();
    palette.dedup();
    Some(palette)
}

fn oklab([r, g, b]: [u8; 3]) -> [f32; 3] {
    let lab = Oklab::from_color(Srgb::new(r, g, b).into_format::<f32>());
    [lab.l, lab.a, lab.b]
}
