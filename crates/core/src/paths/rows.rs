//! Straight rows over an area, joined to one line where they follow on one another.

use super::bead::way;
use crate::shapes::Area;

/// How rows lie.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Rows {
    /// Direction, degrees.
    pub(super) angle_deg: f64,
    /// From row to row, mm.
    pub(super) apart_mm: f64,
    /// Whether rows that follow on one another are joined at their ends.
    pub(super) is_joined: bool,
    /// Whether they are moved and spread a little so that as many as fit fill the area, with half their distance to spare on both
    /// sides; else they lie where those of other layers lie.
    pub(super) fits: bool,
}

/// Rows as they lie.
#[derive(Default)]
pub(super) struct Laid {
    /// Lines of the nozzle.
    pub(super) lines: Vec<Vec<[f64; 2]>>,
    /// What they cover: a rectangle around every row, as wide as rows are apart, with half of that beyond its ends.
    pub(super) covered: Vec<Vec<[f64; 2]>>,
}

/// A stretch of a row that is inside.
struct Stretch {
    low: f64,
    high: f64,
    /// The line that ends with it, and at which end of it.
    line: usize,
    ends_high: bool,
    is_taken: bool,
}

/// Rows over an area.
///
/// # Cost
/// Crossings of rows and edges, and for each row n log n in its own.
pub(super) fn rows(area: &Area, rows: Rows) -> Laid {
    let (sin, cos) = rows.angle_deg.to_radians().sin_cos();
    let turned = |p: [f64; 2]| [cos * p[0] + sin * p[1], cos * p[1] - sin * p[0]];
    let back = |p: [f64; 2]| [cos * p[0] - sin * p[1], cos * p[1] + sin * p[0]];
    let rings: Vec<Vec<[f64; 2]>> = area
        .rings_mm()
        .iter()
        .map(|r| r.iter().map(|p| turned(*p)).collect())
        .collect();
    let heights = rings.iter().flatten().map(|p| p[1]);
    let (low, high) = heights.fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), y| {
        (a.min(y), b.max(y))
    });
    if low > high {
        return Laid::default();
    }
    let (first, apart, count) = if rows.fits {
        let tall = high - low + rows.apart_mm;
        let count = (tall / rows.apart_mm).round().max(1.0);
        let apart = tall / count;
        // A hair inward, so that the outermost rows meet sides that run along them.
        (
            low - 0.5 * rows.apart_mm + 0.5 * apart,
            apart * (1.0 - 1e-9),
            count as usize,
        )
    } else {
        let first = (low / rows.apart_mm - 0.5).ceil();
        let count = ((high / rows.apart_mm - 0.5).floor() - first + 1.0).max(0.0) as usize;
        ((first + 0.5) * rows.apart_mm, rows.apart_mm, count)
    };
    let at = |row: usize| (first + row as f64 * apart).clamp(low + 1e-9, high - 1e-9);
    let mut crossings: Vec<Vec<f64>> = vec![Vec::new(); count];
    for ring in &rings {
        let next = ring.iter().cycle().skip(1);
        for (a, b) in ring.iter().zip(next) {
            let (from, to) = if a[1] < b[1] { (a, b) } else { (b, a) };
            let start = ((from[1] - first) / apart - 1e-6).ceil().max(0.0) as usize;
            for (row, crossings) in crossings.iter_mut().enumerate().skip(start) {
                let y = at(row);
                if y < from[1] {
                    continue;
                }
                if y >= to[1] {
                    break;
                }
                let t = (y - from[1]) / (to[1] - from[1]);
                crossings.push(from[0] + t * (to[0] - from[0]));
            }
        }
    }
    let mut lines: Vec<Vec<[f64; 2]>> = Vec::new();
    let mut covered: Vec<Vec<[f64; 2]>> = Vec::new();
    let mut before: Vec<Stretch> = Vec::new();
    for (row, mut crossings) in crossings.into_iter().enumerate() {
        let y = at(row);
        crossings.sort_by(f64::total_cmp);
        let mut here: Vec<Stretch> = Vec::new();
        for pair in crossings.chunks_exact(2) {
            let [low, high] = [pair[0], pair[1]];
            if high - low < 1e-6 {
                continue;
            }
            // The row below that it overlaps, if nobody has gone on from it.
            let below = before.iter_mut().find(|b| {
                rows.is_joined && !b.is_taken && b.low < high && low < b.high && {
                    let (from, to) = match b.ends_high {
                        true => (b.high, high),
                        false => (b.low, low),
                    };
                    (from - to).abs() < 1.5 * apart
                }
            });
            let (line, ends_high) = match below {
                Some(below) => {
                    below.is_taken = true;
                    (below.line, !below.ends_high)
                }
                None => {
                    lines.push(Vec::new());
                    (lines.len() - 1, true)
                }
            };
            let ends = if ends_high { [low, high] } else { [high, low] };
            lines[line].extend(ends.map(|x| back([x, y])));
            if rows.fits {
                let (half, out) = (0.5 * apart, 0.5 * rows.apart_mm);
                let box_of = [
                    [low - out, y - half],
                    [high + out, y - half],
                    [high + out, y + half],
                    [low - out, y + half],
                ];
                covered.push(box_of.map(back).to_vec());
            }
            here.push(Stretch {
                low,
                high,
                line,
                ends_high,
                is_taken: false,
            });
        }
        before = here;
    }
    lines.retain(|l| l.windows(2).map(|w| way(w[0], w[1])).sum::<f64>() > 1e-3);
    Laid { lines, covered }
}
