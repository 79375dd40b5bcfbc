//! Sizes that cannot be meant.

use crate::job::LengthUnit;
use serde::Serialize;

/// A size that is implausible, and the unit that would put it right.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct SizeDoubt {
    /// What is odd, in one sentence.
    pub message: String,
    /// The unit with which the size would be likely, if there is one.
    pub unit: Option<LengthUnit>,
    /// The size it would then have, mm.
    pub size_mm: Option<[f64; 3]>,
}

/// Below this a print cannot be held: mm across (common practice, no source).
const TINY_MM: f64 = 2.0;
/// A size that is likely for a print: from this in mm up to the bed.
const LIKELY_MM: f64 = 10.0;

/// Whether a size is implausible: below 2 mm, above the bed, or so small that inches or metres would be likelier.
///
/// `size_mm`: now. `unit`: what the file's unit is taken for now. `is_stated`: whether the file itself says so; then a
/// size that is merely small is believed. `bed_mm`: the printer's space.
pub fn size_doubt(
    size_mm: [f64; 3],
    unit: LengthUnit,
    is_stated: bool,
    bed_mm: [f64; 3],
) -> Option<SizeDoubt> {
    let widest = size_mm.into_iter().fold(0.0f64, f64::max);
    let fits = |size: [f64; 3]| (0..3).all(|i| size[i] <= bed_mm[i]);
    let is_large = !fits(size_mm);
    let is_tiny = widest < TINY_MM;
    // A ring of 6 mm may be meant; the same in inches is a likelier print, and worth asking.
    let is_small = widest < LIKELY_MM && !is_stated;
    if !is_large && !is_tiny && !is_small {
        return None;
    }
    let in_unit = |other: &LengthUnit| size_mm.map(|s| s * other.mm() / unit.mm());
    let is_likely = |other: &LengthUnit| {
        let size = in_unit(other);
        *other != unit && fits(size) && size.into_iter().fold(0.0f64, f64::max) >= LIKELY_MM
    };
    // Millimetres first, then what drawings are made in.
    let order = [
        LengthUnit::Millimetre,
        LengthUnit::Inch,
        LengthUnit::Metre,
        LengthUnit::Centimetre,
        LengthUnit::Foot,
        LengthUnit::Micron,
    ];
    let better = order.into_iter().find(is_likely);
    let what = if is_large {
        let [x, y, z] = bed_mm;
        format!("Larger than the bed, which holds {x:.0} × {y:.0} × {z:.0} mm")
    } else if is_tiny {
        "Less than 2 mm across".to_string()
    } else {
        "Small for a print".to_string()
    };
    let message = match better {
        Some(other) => format!("{what}. In {} it would be a likely size.", other.names()[1]),
        None => format!("{what}. Scale it, or check the units of the file."),
    };
    if !is_large && !is_tiny && better.is_none() {
        return None;
    }
    Some(SizeDoubt {
        message,
        unit: better,
        size_mm: better.as_ref().map(in_unit),
    })
}
