//! A small picture of a job in its colours, as it stands on the bed, seen from the front, the left and above.

use crate::carve::Pieces;
use crate::geometry::{cross, dot, facet_normal, normalised};
use crate::job::Job;
use rayon::prelude::*;

/// Samples along a side of each pixel.
const SAMPLES: usize = 3;

/// Where the onlooker stands, and where the light comes from; not normalised.
const FROM: [f64; 3] = [-0.62, -1.0, 0.62];
const LIGHT: [f64; 3] = [-0.25, -0.7, 1.0];

/// Share of the picture's side that is left free around the job.
const MARGIN: f64 = 0.04;

/// A picture as PNG, width and height in pixels (at most 2 000 each), what shows nothing of the job is clear; none for a job without
/// anything to see. The same job gives the same bytes.
///
/// # Cost
/// Linear in facets and in pixels.
pub fn job_picture(job: &Job, size: [u32; 2]) -> Option<Vec<u8>> {
    let size = size.map(|s| s.clamp(1, 2_000));
    let canvas = Canvas::of(job, size.map(|s| s as usize * SAMPLES))?;
    let mut out = std::io::Cursor::new(Vec::new());
    canvas
        .shrunk(size)
        .write_to(&mut out, image::ImageFormat::Png)
        .ok()?;
    Some(out.into_inner())
}

/// Samples with their colour and how near they are.
struct Canvas {
    size: [usize; 2],
    colour: Vec<[u8; 4]>,
    near: Vec<f32>,
}

/// To the right and up in the picture, and towards the onlooker.
fn axes() -> Option<[[f64; 3]; 3]> {
    let towards = normalised(FROM)?;
    let right = normalised(cross([0.0, 0.0, 1.0], towards))?;
    Some([right, cross(towards, right), towards])
}

impl Canvas {
    fn of(job: &Job, size: [usize; 2]) -> Option<Canvas> {
        let axes = axes()?;
        let seen = |p: [f64; 3]| axes.map(|a| dot(a, p));
        let (mut low, mut high) = ([f64::INFINITY; 2], [f64::NEG_INFINITY; 2]);
        for model in &job.models {
            let mesh = &model.open.mesh;
            for (facet, part) in mesh.facets.iter().zip(&*model.open.part_of) {
                if !model.parts[*part as usize].is_printed {
                    continue;
                }
                for at in facet.map(|v| seen(mesh.vertices[v as usize])) {
                    for i in 0..2 {
                        low[i] = low[i].min(at[i]);
                        high[i] = high[i].max(at[i]);
                    }
                }
            }
        }
        let room = [0, 1].map(|i| size[i] as f64 * (1.0 - 2.0 * MARGIN));
        let scale = (0..2)
            .map(|i| room[i] / (high[i] - low[i]).max(1e-9))
            .fold(f64::INFINITY, f64::min);
        if !scale.is_finite() || low[0] > high[0] {
            return None;
        }
        let middle = [0, 1].map(|i| 0.5 * (low[i] + high[i]));
        let on_canvas = |p: [f64; 3]| {
            let at = seen(p);
            [
                0.5 * size[0] as f64 + scale * (at[0] - middle[0]),
                0.5 * size[1] as f64 - scale * (at[1] - middle[1]),
                at[2],
            ]
        };
        let mut canvas = Canvas {
            size,
            colour: vec![[0; 4]; size[0] * size[1]],
            near: vec![f32::NEG_INFINITY; size[0] * size[1]],
        };
        let light = normalised(LIGHT)?;
        for (index, model) in job.models.iter().enumerate() {
            let pieces = Pieces::of(&model.open, &model.labels);
            let shown = |piece: u32| {
                let part = model.open.part_of[pieces.facet(piece) as usize] as usize;
                if !pieces.is_piece(piece) || !model.parts[part].is_printed {
                    return None;
                }
                let corners = pieces.corners(piece);
                let normal = facet_normal(&corners)?;
                let region = job.region_of_label(index, pieces.facet(piece), pieces.label(piece));
                let lit = 0.62 + 0.38 * dot(normal, light).max(0.0);
                let colour = job.regions[region as usize].colour.0;
                let colour = colour.map(|c| (f64::from(c) * lit).round() as u8);
                Some((corners.map(on_canvas), colour))
            };
            // In bits: what a model of a million facets would hold at once is held a little at a time.
            const BIT: u32 = 1 << 16;
            let end = pieces.end();
            for first in (0..end).step_by(BIT as usize) {
                let bit = first..end.min(first + BIT);
                let found: Vec<_> = bit.into_par_iter().filter_map(shown).collect();
                for (corners, colour) in found {
                    canvas.fill(&corners, colour);
                }
            }
        }
        Some(canvas)
    }

    /// Draws a triangle over what is further away.
    fn fill(&mut self, corners: &[[f64; 3]; 3], colour: [u8; 3]) {
        let [a, b, c] = corners;
        let area = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
        if area == 0.0 {
            return;
        }
        // From the first to the last sample whose middle is between two places.
        let range = |axis: usize| {
            let places = corners.map(|p| p[axis]);
            let low = places.into_iter().fold(f64::INFINITY, f64::min);
            let high = places.into_iter().fold(f64::NEG_INFINITY, f64::max);
            let first = (low - 0.5).ceil().max(0.0) as usize;
            let end = (high - 0.5).floor() + 1.0;
            first..(end.max(0.0) as usize).min(self.size[axis])
        };
        let (columns, rows) = (range(0), range(1));
        for y in rows {
            for x in columns.clone() {
                let p = [x as f64 + 0.5, y as f64 + 0.5];
                let side = |from: &[f64; 3], to: &[f64; 3]| {
                    ((to[0] - from[0]) * (p[1] - from[1]) - (to[1] - from[1]) * (p[0] - from[0]))
                        / area
                };
                let share = [side(b, c), side(c, a), side(a, b)];
                if share.iter().any(|s| *s < 0.0) {
                    continue;
                }
                let near = (0..3).map(|i| share[i] * corners[i][2]).sum::<f64>() as f32;
                let at = y * self.size[0] + x;
                if near > self.near[at] {
                    self.near[at] = near;
                    self.colour[at] = [colour[0], colour[1], colour[2], 255];
                }
            }
        }
    }

    /// Every pixel the mean of its samples.
    fn shrunk(&self, size: [u32; 2]) -> image::RgbaImage {
        image::RgbaImage::from_fn(size[0], size[1], |x, y| {
            let mut sum = [0u32; 4];
            for dy in 0..SAMPLES {
                for dx in 0..SAMPLES {
                    let [left, top] = [x, y].map(|c| c as usize * SAMPLES);
                    let sample = self.colour[(top + dy) * self.size[0] + left + dx];
                    for i in 0..4 {
                        sum[i] += u32::from(sample[i]);
                    }
                }
            }
            // Clear samples have no colour to mix in.
            let covered = (sum[3] / 255).max(1);
            let all = (SAMPLES * SAMPLES) as u32;
            image::Rgba([
                (sum[0] / covered) as u8,
                (sum[1] / covered) as u8,
                (sum[2] / covered) as u8,
                (sum[3] / all) as u8,
            ])
        })
    }
}
