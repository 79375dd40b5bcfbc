//! The lengths that files count in.

use serde::{Deserialize, Serialize};

/// What one unit of a file stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum LengthUnit {
    /// A thousandth of a millimetre.
    Micron,
    /// The printer's own unit.
    Millimetre,
    /// Ten millimetres.
    Centimetre,
    /// 25.4 mm.
    Inch,
    /// 304.8 mm.
    Foot,
    /// A thousand millimetres.
    Metre,
}

impl LengthUnit {
    /// All of them, the smallest first.
    pub const ALL: [LengthUnit; 6] = [
        LengthUnit::Micron,
        LengthUnit::Millimetre,
        LengthUnit::Centimetre,
        LengthUnit::Inch,
        LengthUnit::Foot,
        LengthUnit::Metre,
    ];

    /// Its length in mm; inch and foot by their international definition of 1959.
    pub fn mm(self) -> f64 {
        match self {
            LengthUnit::Micron => 0.001,
            LengthUnit::Millimetre => 1.0,
            LengthUnit::Centimetre => 10.0,
            LengthUnit::Inch => 25.4,
            LengthUnit::Foot => 304.8,
            LengthUnit::Metre => 1000.0,
        }
    }

    /// The unit of a length in mm; millimetres for any other length.
    pub fn of_mm(mm: f64) -> LengthUnit {
        let is_it = |u: &LengthUnit| u.mm() == mm;
        Self::ALL
            .into_iter()
            .find(is_it)
            .unwrap_or(LengthUnit::Millimetre)
    }

    /// Its name for one and for many.
    pub fn names(self) -> [&'static str; 2] {
        match self {
            LengthUnit::Micron => ["micron", "microns"],
            LengthUnit::Millimetre => ["millimetre", "millimetres"],
            LengthUnit::Centimetre => ["centimetre", "centimetres"],
            LengthUnit::Inch => ["inch", "inches"],
            LengthUnit::Foot => ["foot", "feet"],
            LengthUnit::Metre => ["metre", "metres"],
        }
    }
}
