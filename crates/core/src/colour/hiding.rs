//! How well a layer of plastic hides what lies below it.

use super::Colour;
use super::mixing::absorption_ratio;

/// A layer of plastic on something else.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Hiding {
    /// Colour of a layer so thick that nothing shows through.
    pub colour: Colour,
    /// Opacity: how light a layer of 1 mm is on black, as a share of how light it is on white, above 0 and below 1.
    pub opacity: f64,
}

/// Reflectance of a layer of thickness `x` mm and scattering `s` per mm over a ground.
///
/// # Source
/// Kubelka, "New Contributions to the Optics of Intensely Light-Scattering Materials. Part I", 1948: hyperbolic
/// solution, R = (1 − Rg (a − b coth bSx)) / (a − Rg + b coth bSx) with a = 1 + K/S, b = √(a² − 1).
fn reflectance_over(thick: f64, ground: f64, s: f64, x: f64) -> f64 {
    let a = 1.0 + absorption_ratio(thick);
    let b = (a * a - 1.0).sqrt().max(1e-9);
    let depth = b * s * x;
    if depth <= 0.0 {
        return ground;
    }
    let bc = b / depth.tanh();
    (1.0 - ground * (a - bc)) / (a - ground + bc)
}

/// Weights of the linear-light channels in luminance (IEC 61966-2-1).
const LUMINANCE: [f64; 3] = [0.2126, 0.7152, 0.0722];

/// Luminance of a white and of a black ground, as far from 1 and 0 as printed plastic is.
const WHITE: f64 = 0.9;
const BLACK: f64 = 0.01;

/// Opacities that can be told from a printed layer.
const LEAST: f64 = 0.02;
const MOST: f64 = 0.9999;

impl Hiding {
    /// Linear-light colour of a layer of `mm` over a ground.
    pub fn over(&self, ground: [f64; 3], mm: f64) -> [f64; 3] {
        let s = self.scattering();
        self.with_scattering(ground, s, mm)
    }

    /// The same for a known scattering, see [`Hiding::scattering`].
    pub(crate) fn with_scattering(&self, ground: [f64; 3], s: f64, mm: f64) -> [f64; 3] {
        let thick = self.colour.linear();
        [0, 1, 2].map(|i| reflectance_over(thick[i].max(1e-4), ground[i], s, mm))
    }

    /// Contrast ratio of a layer (ISO 6504): its luminance on black over that on white.
    fn contrast(&self, s: f64, mm: f64) -> f64 {
        let luminance = |ground: f64| {
            let c = self.with_scattering([ground; 3], s, mm);
            (0..3).map(|i| LUMINANCE[i] * c[i]).sum::<f64>()
        };
        luminance(BLACK) / luminance(WHITE)
    }

    /// Scattering per mm that gives the opacity at 1 mm, found by halving.
    pub(crate) fn scattering(&self) -> f64 {
        let wanted = self.opacity.clamp(LEAST, MOST);
        let (mut low, mut high) = (1e-4f64, 1e4f64);
        for _ in 0..60 {
            let middle = (low * high).sqrt();
            if self.contrast(middle, 1.0) < wanted {
                low = middle;
            } else {
                high = middle;
            }
        }
        (low * high).sqrt()
    }

    /// The least thickness over a ground from which on the colour differs from that of a thick layer by no more than a
    /// CIEDE2000 difference, mm; none if 20 mm are not enough.
    pub fn least_mm(&self, ground: Colour, tolerance: f64) -> Option<f64> {
        const THICKEST_MM: f64 = 20.0;
        let s = self.scattering();
        let ground = ground.linear();
        let wanted = self.with_scattering(ground, s, 1e4);
        let differs =
            |mm: f64| super::difference(self.with_scattering(ground, s, mm), wanted) > tolerance;
        if !differs(0.0) {
            return Some(0.0);
        }
        if differs(THICKEST_MM) {
            return None;
        }
        let (mut low, mut high) = (0.0, THICKEST_MM);
        for _ in 0..40 {
            let middle = 0.5 * (low + high);
            if differs(middle) {
                low = middle;
            } else {
                high = middle;
            }
        }
        Some(high)
    }
}
