//! Colours as a machine prints them that has only greys.

use super::{Colour, difference};

/// The grey of the same lightness (CIELAB L*).
pub fn grey_of(colour: Colour) -> Colour {
    let lightness = colour.lab()[0];
    // CIE 15: L* = 116 (Y/Yn)^(1/3) − 16, and linear below 8.
    let luminance = if lightness > 8.0 {
        ((lightness + 16.0) / 116.0).powi(3)
    } else {
        lightness / 903.3
    };
    Colour::from_linear([luminance; 3])
}

/// For each colour its grey, and which of the others fall together with it: those whose greys differ by less than a
/// CIEDE2000 difference.
pub fn greys(colours: &[Colour], tolerance: f64) -> Vec<(Colour, Vec<usize>)> {
    let greys: Vec<Colour> = colours.iter().map(|c| grey_of(*c)).collect();
    (0..greys.len())
        .map(|i| {
            let is_like = |j: &usize| {
                *j != i && difference(greys[i].linear(), greys[*j].linear()) < tolerance
            };
            (greys[i], (0..greys.len()).filter(is_like).collect())
        })
        .collect()
}
