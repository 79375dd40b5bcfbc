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

/// What the deepest black of a moulded plastic reflects, without its gloss, and what the brightest white does (from memory: a
/// glossy surface alone reflects some 4 % more, Fresnel at normal incidence). Screen colours go further: a filament is taken for
/// the nearest that there is. About 1 %: at 0.8 % black to white still purges what the trade does by hand (tested).
const LEAST_REFLECTANCE: f64 = 0.008;
const MOST_REFLECTANCE: f64 = 0.95;

fn pigment_ratio(reflectance: f64) -> f64 {
    absorption_ratio(reflectance.clamp(LEAST_REFLECTANCE, MOST_REFLECTANCE))
}

/// K/S of a reflectance, kept off 0, where it is infinite.
pub(super) fn absorption_ratio(reflectance: f64) -> f64 {
    let r = reflectance.clamp(1e-4, 1.0);
    (1.0 - r) * (1.0 - r) / (2.0 * r)
}

fn reflectance(absorption_ratio: f64) -> f64 {
    let k = absorption_ratio;
    1.0 + k - (k * k + 2.0 * k).sqrt()
}

/// Linear-light colour of several pigments by their shares, which need not sum to 1; black if there are none. One pigment alone
/// keeps its colour.
///
/// # Source
/// As for [`mix`].
pub fn blend(parts: &[(Pigment, f64)]) -> [f64; 3] {
    let whole: f64 = parts.iter().map(|(p, share)| p.tinting * share).sum();
    if whole <= 0.0 {
        return [0.0; 3];
    }
    let mut some = parts.iter().filter(|(_, share)| *share > 0.0);
    if let (Some((alone, _)), None) = (some.next(), some.next()) {
        return alone.colour.linear();
    }
    [0, 1, 2].map(|i| {
        let of =
            |(p, share): &(Pigment, f64)| p.tinting * share * pigment_ratio(p.colour.linear()[i]);
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
        let k = (wa * pigment_ratio(ra[i]) + wb * pigment_ratio(rb[i])) / whole;
        reflectance(k)
    })
}
