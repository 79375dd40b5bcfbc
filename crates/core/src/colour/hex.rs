//! sRGB colours and the CIEDE2000 difference (conversions and formula by the `palette` crate).

use palette::color_difference::Ciede2000;
use palette::{FromColor, IntoColor, Lab, LinSrgb, Srgb, white_point::D65};
use serde::{Deserialize, Serialize};

/// An opaque sRGB colour (IEC 61966-2-1), written `#rrggbb`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(try_from = "String", into = "String")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(type = "string"), schema(value_type = String))]
pub struct Colour(pub [u8; 3]);

/// Text that is not `#rrggbb`.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[error("`{0}` is not a colour; write it as # and six hexadecimal digits, such as #c8442f")]
pub struct ColourError(pub String);

impl Colour {
    /// Linear-light red, green and blue, each 0 to 1.
    pub fn linear(self) -> [f64; 3] {
        let lin: LinSrgb<f64> = Srgb::from(self.0).into_format::<f64>().into_linear();
        [lin.red, lin.green, lin.blue]
    }

    /// CIELAB (CIE 15, D65): lightness 0 to 100, a and b.
    pub fn lab(self) -> [f64; 3] {
        let lab = lab(self.linear());
        [lab.l, lab.a, lab.b]
    }

    /// The nearest sRGB colour to linear-light values; values outside 0 to 1 are cut off.
    pub fn from_linear(linear: [f64; 3]) -> Colour {
        let [r, g, b] = linear.map(|c| c.clamp(0.0, 1.0));
        let bytes: Srgb<u8> = Srgb::<f64>::from_linear(LinSrgb::new(r, g, b)).into_format();
        Colour([bytes.red, bytes.green, bytes.blue])
    }
}

/// CIELAB (CIE 15, D65) of linear-light sRGB.
pub(crate) fn lab(linear: [f64; 3]) -> Lab<D65, f64> {
    let [r, g, b] = linear;
    Lab::from_color(LinSrgb::new(r, g, b))
}

/// CIEDE2000 difference of two linear-light colours; 1 is about what a careful eye just sees.
pub fn difference(a: [f64; 3], b: [f64; 3]) -> f64 {
    let (a, b): (Lab<D65, f64>, Lab<D65, f64>) = (lab(a).into_color(), lab(b).into_color());
    a.difference(b)
}

impl std::str::FromStr for Colour {
    type Err = ColourError;

    fn from_str(text: &str) -> Result<Self, ColourError> {
        let bad = || ColourError(text.chars().take(24).collect());
        let digits = text.strip_prefix('#').ok_or_else(bad)?;
        if digits.len() != 6 || !digits.bytes().all(|b| b.is_ascii_hexdigit()) {
            return Err(bad());
        }
        let value = u32::from_str_radix(digits, 16).map_err(|_| bad())?;
        let [_, r, g, b] = value.to_be_bytes();
        Ok(Colour([r, g, b]))
    }
}

impl TryFrom<String> for Colour {
    type Error = ColourError;

    fn try_from(text: String) -> Result<Self, ColourError> {
        text.parse()
    }
}

impl From<Colour> for String {
    fn from(c: Colour) -> String {
        c.to_string()
    }
}

impl std::fmt::Display for Colour {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let [r, g, b] = self.0;
        write!(f, "#{r:02x}{g:02x}{b:02x}")
    }
}
