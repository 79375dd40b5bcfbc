//! How two filaments mix in the melt: Kubelka–Munk, per linear-light channel.

use super::Colour;

/// A filament as a pigment: its colour in a thick layer and how strongly it tints others.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pigment {
    /// Colour of a thick layer.
    pub colour: Colour,
    /// Tinting strength, 1 for an ordinary filament; 2 colours a mixture as twice its share would.
    pub tinting: f64,
}

/// Reflectances are kept off 0 and 1, where K/S is infinite or says nothing: no printed plastic reaches either.
const LEAST_REFLECTANCE: f64 = 1e-4;

pub(super) fn absorption_ratio(reflectance: f64) -> f64 {
    let r = reflectance.clamp(LEAST_REFLECTANCE, 1.0);
    (1.0 - r) * (1.0 - r) / (2.0 * r)
}

fn reflectance(absorption_ratio: f64) -> f64 {
    let k = absorption_ratio;
    1.0 + k - (k * k + 2.0 * k).sqrt()
}

/// Linear-light colour of several pigments by their shares, which need not sum to 1; black if there are none.
///
/// # Source
/// As for [`mix`].
pub fn blend(parts: &[(Pigment, f64)]) -> [f64; 3] {
    let whole: f64 = parts.iter().map(|(p, share)| p.tinting * share).sum();
    if whole <= 0.0 {
        return [0.0; 3];
    }
    [0, 1, 2].map(|i| {
        let of = |(p, share): &(Pigment, f64)| {
            p.tinting * share * absorption_ratio(p.colour.linear()[i])
        };
        reflectance(parts.iter().map(of).sum::<f64>() / whole)
    })
}

/// Linear-light colour of `share` parts of `a` in `1 − share` parts of `b`, with `share` in 0..=1.
///
/// # Source
/// K/S = (1 − R)² / 2R: Kubelka and Munk, 1931. Mixing by summed K/S, here weighted by share times tinting
/// strength: Duncan, 1940. Three linear-light channels stand in for the spectrum.
pub fn mix(a: Pigment, b: Pigment, share: f64) -> [f64; 3] {
    let (wa, wb) = (share * a.tinting, (1.0 - share) * b.tinting);
    let whole = wa + wb;
    if whole <= 0.0 {
        return b.colour.linear();
    }
    let (ra, rb) = (a.colour.linear(), b.colour.linear());
    [0, 1, 2].map(|i| {
        let k = (wa * absorption_ratio(ra[i]) + wb * absorption_ratio(rb[i])) / whole;
        reflectance(k)
    })
}
