//! Lines, and what of them lies in an area.

use super::area::Area;
use super::lattice::{place, spot};
use i_overlay::core::fill_rule::FillRule;
use i_overlay::i_float::int::point::IntPoint;
use i_overlay::string::clip::{ClipRule, IntClip};

/// A line on the lattice.
pub type Line = Vec<IntPoint<i32>>;

/// A line in mm.
pub type Polyline = Vec<[f64; 2]>;

/// What of some open lines lies within an area. The order of the pieces is that of their ends, lowest first.
///
/// # Cost
/// n log n in corners and crossings.
pub fn clip_lines(area: &Area, lines: &[Polyline]) -> Vec<Polyline> {
    if area.is_empty() || lines.is_empty() {
        return Vec::new();
    }
    let lines: Vec<Line> = lines
        .iter()
        .map(|l| l.iter().map(|p| spot(*p)).collect())
        .collect();
    let rule = ClipRule {
        invert: false,
        boundary_included: true,
    };
    let pieces = area.shapes().clip_paths(&lines, FillRule::NonZero, rule);
    pieces
        .into_iter()
        .map(|l| l.into_iter().map(place).collect())
        .collect()
}
