//! What has been laid: heights, and what of each layer shows.

use rustc_hash::{FxHashMap, FxHashSet};

/// Side of a cell of what is looked at from outside, mm.
const CELL_MM: f64 = 0.4;

/// Cells of one layer that something covers, within a box.
#[derive(Debug, Clone, Default)]
struct Covered {
    cells: FxHashSet<[i32; 2]>,
    low: [i32; 2],
    high: [i32; 2],
}

/// What has been laid, layer by layer.
#[derive(Default)]
pub(super) struct Ground {
    layers: Vec<Covered>,
    /// What is outside of a layer, with how many cells it covered when that was looked at.
    outsides: FxHashMap<usize, (usize, Outside)>,
}

fn cell(p: [f64; 2]) -> [i32; 2] {
    p.map(|c| (c / CELL_MM).floor() as i32)
}

impl Ground {
    /// A bead is laid in a layer.
    pub(super) fn lay(&mut self, layer: usize, from: [f64; 2], to: [f64; 2], width: f64) {
        if self.layers.len() <= layer {
            self.layers.resize(layer + 1, Covered::default());
        }
        let covered = &mut self.layers[layer];
        let length = (to[0] - from[0]).hypot(to[1] - from[1]);
        let along = match length > 0.0 {
            true => [(to[0] - from[0]) / length, (to[1] - from[1]) / length],
            false => [1.0, 0.0],
        };
        let half = 0.5 * width.clamp(0.5 * CELL_MM, 4.0 * CELL_MM);
        let steps = (length / (0.7 * CELL_MM)).ceil().max(1.0) as usize;
        for step in 0..=steps {
            let t = step as f64 / steps as f64;
            let p = [0, 1].map(|i| from[i] + t * (to[i] - from[i]));
            for side in [-half, 0.0, half] {
                covered.cover(cell([p[0] - side * along[1], p[1] + side * along[0]]));
            }
        }
    }

    /// Whether a place of a layer can be seen from outside, as far as everything is laid.
    ///
    /// # Cost
    /// Linear in the cells of the layer's box and of those beside it, whenever something was laid there since.
    pub(super) fn shows(&mut self, layer: usize, p: [f64; 2]) -> bool {
        let [x, y] = cell(p);
        let beside = [[x - 1, y], [x + 1, y], [x, y - 1], [x, y + 1]];
        beside.into_iter().any(|c| self.is_outside(layer, c))
            || self.is_outside(layer + 1, [x, y])
            || (layer > 0 && self.is_outside(layer - 1, [x, y]))
    }

    fn is_outside(&mut self, layer: usize, at: [i32; 2]) -> bool {
        let Some(covered) = self.layers.get(layer) else {
            return true;
        };
        let count = covered.cells.len();
        let known = self.outsides.entry(layer);
        let known = known.or_insert_with(|| (count, covered.outside()));
        if known.0 != count {
            *known = (count, covered.outside());
        }
        known.1.holds(at)
    }
}

impl Covered {
    fn cover(&mut self, at: [i32; 2]) {
        if self.cells.is_empty() {
            (self.low, self.high) = (at, at);
        }
        if self.cells.insert(at) {
            for (i, c) in at.into_iter().enumerate() {
                self.low[i] = self.low[i].min(c);
                self.high[i] = self.high[i].max(c);
            }
        }
    }

    /// All that can be reached from beside it without crossing what is covered.
    fn outside(&self) -> Outside {
        let low = self.low.map(|c| c - 1);
        let size = [0, 1].map(|i| (self.high[i] + 2 - low[i]).max(1) as usize);
        let mut seen = vec![false; size[0] * size[1]];
        let mut reached = vec![0usize];
        seen[0] = true;
        while let Some(at) = reached.pop() {
            let [x, y] = [at % size[0], at / size[0]];
            let beside = [
                (x > 0).then(|| at - 1),
                (x + 1 < size[0]).then_some(at + 1),
                (y > 0).then(|| at - size[0]),
                (y + 1 < size[1]).then_some(at + size[0]),
            ];
            for next in beside.into_iter().flatten() {
                let cell = [
                    (next % size[0]) as i32 + low[0],
                    (next / size[0]) as i32 + low[1],
                ];
                if !seen[next] && !self.cells.contains(&cell) {
                    seen[next] = true;
                    reached.push(next);
                }
            }
        }
        Outside { low, size, seen }
    }
}

/// Cells around what a layer covers that are reached from beside it.
struct Outside {
    low: [i32; 2],
    size: [usize; 2],
    seen: Vec<bool>,
}

impl Outside {
    fn holds(&self, at: [i32; 2]) -> bool {
        let inner = [0, 1].map(|i| {
            usize::try_from(at[i] - self.low[i])
                .ok()
                .filter(|c| *c < self.size[i])
        });
        match inner {
            [Some(x), Some(y)] => self.seen[y * self.size[0] + x],
            _ => true,
        }
    }
}
