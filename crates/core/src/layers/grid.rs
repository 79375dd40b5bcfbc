//! The heights of the layers and the square grid laid over them.

use crate::mesh::Bounds;

/// A height so near to the middle of a layer lies on it, and what lies on it counts as above, mm: the middle is taken to lie
/// this much lower. Sections, tops, counts and soak all follow it, so a body of whole layers always prints round(thickness /
/// layer) of them, wherever it stands.
///
/// Wider than the rounding of models: 32-bit floats of 512 mm are 3·10⁻⁵ mm apart.
///
/// # Source
/// Edelsbrunner and Mücke, "Simulation of Simplicity", ACM Transactions on Graphics 9(1), 1990, for ties broken in one
/// direction everywhere (from memory).
pub const TIE_MM: f64 = 1e-4;

/// Heights of all layers, in mm above the bed.
#[derive(Debug, Clone, PartialEq)]
pub struct LayerHeights {
    /// Bottom and top of every layer.
    pub spans: Vec<(f64, f64)>,
}

impl LayerHeights {
    /// The layers of a print `height_mm` tall. A layer whose middle is above the top is not printed.
    pub fn new(height_mm: f64, first_mm: f64, layer_mm: f64) -> LayerHeights {
        let mut spans = Vec::new();
        // Heights are multiples of the layer, not running sums, so that rounding does not build up.
        for index in 0u32.. {
            let low = if index == 0 {
                0.0
            } else {
                first_mm + f64::from(index - 1) * layer_mm
            };
            let high = first_mm + f64::from(index) * layer_mm;
            if !is_above(height_mm, 0.5 * (low + high)) {
                break;
            }
            spans.push((low, high));
        }
        LayerHeights { spans }
    }

    /// A band moved onto the nearest borders of layers, one layer high at least.
    pub fn snapped(&self, low: f64, high: f64) -> (f64, f64) {
        let Some(last) = self.spans.last() else {
            return (low, high);
        };
        let borders: Vec<f64> = self.spans.iter().map(|s| s.0).chain([last.1]).collect();
        let nearest = |z: f64| {
            let above = borders.partition_point(|b| *b < z).min(borders.len() - 1);
            let below = above.saturating_sub(1);
            if (borders[above] - z).abs() <= (z - borders[below]).abs() {
                above
            } else {
                below
            }
        };
        let low = nearest(low).min(borders.len() - 2);
        let high = nearest(high).max(low + 1);
        (borders[low], borders[high])
    }

    /// Height at which a layer is cut: its middle.
    pub fn middle(&self, layer: usize) -> f64 {
        let (low, high) = self.spans[layer];
        0.5 * (low + high)
    }

    /// Height of the points that a layer is asked about: a hair below its middle, so that depths are told from faces on the
    /// middle as sections are.
    pub fn sample(&self, layer: usize) -> f64 {
        self.middle(layer) - TIE_MM
    }

    /// The layers that print what lies between two heights: those whose middle is not above `low`, but is up to `high`.
    pub fn cut_by(&self, low: f64, high: f64) -> std::ops::Range<usize> {
        let below = |z: f64| {
            self.spans
                .partition_point(|(a, b)| is_above(z, 0.5 * (a + b)))
        };
        below(low)..below(high)
    }
}

/// Whether a height counts as above the middle of a layer; what lies on it does.
pub(super) fn is_above(z: f64, middle: f64) -> bool {
    z >= middle - TIE_MM
}

/// A square grid over the footprint of a print.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PrintGrid {
    /// Lower left corner in mm.
    pub origin: [f64; 2],
    /// Side of a cell in mm.
    pub step_mm: f64,
    /// Cells in x and y.
    pub cells: [usize; 2],
}

/// Most cells in one layer: beyond this the cells grow, so that a wide plate costs memory no one has.
const MOST_CELLS: f64 = 1.2e6;

impl PrintGrid {
    /// A grid of half a line's width over the bounds, coarser if that would be more than 1.2 million cells.
    pub fn over(bounds: &Bounds, line_width_mm: f64) -> PrintGrid {
        let size = bounds.size();
        let step = (0.5 * line_width_mm).max((size[0] * size[1] / MOST_CELLS).sqrt());
        Self::with_step(bounds, step)
    }

    /// A grid of the given step over the bounds, with one spare cell all round.
    pub fn with_step(bounds: &Bounds, step_mm: f64) -> PrintGrid {
        let size = bounds.size();
        PrintGrid {
            origin: [bounds.min[0] - step_mm, bounds.min[1] - step_mm],
            step_mm,
            cells: [0, 1].map(|i| (size[i] / step_mm).ceil() as usize + 3),
        }
    }

    /// Middle of a cell in mm.
    pub fn centre(&self, x: usize, y: usize) -> [f64; 2] {
        [
            self.origin[0] + (x as f64 + 0.5) * self.step_mm,
            self.origin[1] + (y as f64 + 0.5) * self.step_mm,
        ]
    }

    /// Area of a cell in mm².
    pub fn cell_mm2(&self) -> f64 {
        self.step_mm * self.step_mm
    }
}
