//! The shop's pictures, drawn by code: a postcard of the harbour, and the bay at dusk.

use image::{ImageFormat, Rgb, RgbImage};
use std::io::Cursor;

/// Name of the postcard's file.
pub const POSTCARD_FILE: &str = "postcard.png";
/// Name of the file of the bay at dusk.
pub const DUSK_FILE: &str = "bay-at-dusk.png";

const CHALK: [u8; 3] = [0xee, 0xe7, 0xd6];
const AMBER: [u8; 3] = [0xd9, 0xa3, 0x41];
const RUST: [u8; 3] = [0xc7, 0x45, 0x2f];
const INK: [u8; 3] = [0x21, 0x36, 0x4e];

fn png(w: u32, h: u32, colour: impl Fn(f64, f64) -> [u8; 3]) -> Vec<u8> {
    let picture = RgbImage::from_fn(w, h, |x, y| {
        Rgb(colour(f64::from(x) + 0.5, f64::from(y) + 0.5))
    });
    let mut out = Cursor::new(Vec::new());
    picture
        .write_to(&mut out, ImageFormat::Png)
        .expect("a picture in memory can be written");
    out.into_inner()
}

/// A boat before the sun, in four flat colours.
pub fn postcard() -> Vec<u8> {
    png(360, 220, |x, y| {
        let sun = (x - 238.0).hypot(y - 92.0) < 44.0;
        let sea = 132.0 + 3.0 * (x / 13.0).sin();
        // Two sails on a mast, and a hull below them.
        let sail = y > 34.0 && y < 126.0 && x > 132.0 && x - 134.0 < 0.62 * (y - 34.0);
        let jib = y > 50.0 && y < 122.0 && x < 128.0 && 128.0 - x < 0.48 * (y - 50.0);
        let hull =
            y > 129.0 && y < 147.0 && x > 92.0 + 0.9 * (y - 129.0) && x < 196.0 - 0.7 * (y - 129.0);
        let wave = |at: f64| (y - at - 3.0 * (x / 11.0 + at).sin()).abs() < 2.4;
        match () {
            () if hull => RUST,
            () if sail || jib => INK,
            () if y > sea && (wave(160.0) || wave(178.0) || wave(196.0)) => CHALK,
            () if y > sea => INK,
            () if sun => AMBER,
            () => CHALK,
        }
    })
}

/// The bay at dusk in many greys: light behind the hills, dark hills, a path of light on the water.
pub fn dusk() -> Vec<u8> {
    png(300, 200, |x, y| {
        let glow = (-((x - 190.0) / 95.0).powi(2) - ((y - 108.0) / 60.0).powi(2)).exp();
        let hills = |base: f64, high: f64, phase: f64| {
            base - high * ((x / 46.0 + phase).sin() + 0.5 * (x / 21.0 + 2.0 * phase).sin())
        };
        let light = if y > 128.0 {
            let path = (-((x - 190.0) / (8.0 + 0.35 * (y - 128.0))).powi(2)).exp();
            0.12 + 0.24 * glow + 0.6 * path * (0.75 + 0.25 * (y * 0.9).sin())
        } else if y > hills(118.0, 9.0, 0.4) {
            0.05
        } else if y > hills(100.0, 12.0, 2.1) {
            0.2
        } else {
            0.34 + 0.16 * (1.0 - y / 128.0) + 0.55 * glow
        };
        let moon = (x - 72.0).hypot(y - 42.0) < 15.0;
        let v = (255.0 * if moon { 0.95 } else { light.clamp(0.0, 1.0) }) as u8;
        [v, v, v]
    })
}
