//! The purge tower as one line a layer, cut where one change ends and the next begins.

use super::bead::{Bead, BeadKind, way};

/// The tower's line on a layer.
pub(super) struct TowerLine {
    places: Vec<[f64; 2]>,
    width: f64,
    /// How much of it is laid, mm.
    done_mm: f64,
    mm2: f64,
}

impl TowerLine {
    /// A line around a square and in rows across it that takes so much plastic in all, mm³.
    pub(super) fn of(
        (middle, side_mm): ([f64; 2], f64),
        layer: usize,
        height_mm: f64,
        mm3: f64,
        line_mm: f64,
    ) -> TowerLine {
        let half = 0.5 * (side_mm - line_mm);
        let corner = |x: f64, y: f64| [middle[0] + x * half, middle[1] + y * half];
        let mut places = vec![
            corner(-1.0, -1.0),
            corner(1.0, -1.0),
            corner(1.0, 1.0),
            corner(-1.0, 1.0),
            corner(-1.0, -1.0),
        ];
        let around = 8.0 * half;
        let inner = half - line_mm;
        // What the rows have to be long in all, at a line's width.
        let left = mm3 / (height_mm * line_mm) - around;
        let most = (2.0 * inner / line_mm).floor().max(0.0) + 1.0;
        let rows = (left / (2.0 * inner + line_mm)).round().clamp(0.0, most) as usize;
        for row in 0..rows {
            let across = match rows {
                1 => 0.0,
                n => inner * (2.0 * row as f64 / (n - 1) as f64 - 1.0),
            };
            let ends = if row.is_multiple_of(2) {
                [-1.0, 1.0]
            } else {
                [1.0, -1.0]
            };
            for end in ends {
                let along = end * inner;
                let p = if layer.is_multiple_of(2) {
                    [along, across]
                } else {
                    [across, along]
                };
                places.push([middle[0] + p[0], middle[1] + p[1]]);
            }
        }
        let length: f64 = places.windows(2).map(|w| way(w[0], w[1])).sum();
        let mm2 = mm3 / length.max(1e-9);
        TowerLine {
            places,
            width: mm2 / height_mm,
            done_mm: 0.0,
            mm2,
        }
    }

    /// The next stretch of the line, of so much plastic, mm³.
    pub(super) fn take(&mut self, mm3: f64) -> Option<Bead> {
        let length = mm3 / self.mm2.max(1e-12);
        let (from, to) = (self.done_mm, self.done_mm + length);
        self.done_mm = to;
        let mut line: Vec<[f64; 2]> = Vec::new();
        let mut along = 0.0;
        for pair in self.places.windows(2) {
            let [a, b] = [pair[0], pair[1]];
            let side = way(a, b);
            let (low, high) = (from.max(along), to.min(along + side));
            // The last stretch takes what rounding leaves.
            if high > low + 1e-9 && side > 0.0 {
                let at = |d: f64| {
                    let t = (d - along) / side;
                    [0, 1].map(|i| a[i] + t * (b[i] - a[i]))
                };
                if line.is_empty() {
                    line.push(at(low));
                }
                line.push(at(high));
            }
            along += side;
        }
        (line.len() > 1).then(|| Bead::even(BeadKind::Tower, &line, self.width, false))
    }
}
