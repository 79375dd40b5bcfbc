//! Pictures that lie over a surface facet by facet, as files bring them.

use super::laying::Turn;
use super::picture::NONE;
use super::sheet::{Sheet, is_along, joined};
use super::trace::{Grid, traced};
use crate::carve::{Node, shares_at};
use crate::colour::Colour;
use crate::formats::{Pictured, Pixels};
use crate::model::OpenMesh;
use rayon::prelude::*;
use rustc_hash::FxHashMap;

/// The edge of a pixel on the sheet, mm: any length would do.
const PIXEL_MM: f64 = 0.1;

/// How often a picture comes again on one facet at most, each way.
const MOST_TIMES: f64 = 64.0;

/// The colour of a pixel, over white where it lets something through.
fn solid([r, g, b, a]: [u8; 4]) -> Colour {
    let over = |c: u8| {
        let (c, a) = (u32::from(c), u32::from(a));
        ((c * a + 255 * (255 - a) + 127) / 255) as u8
    };
    Colour([r, g, b].map(over))
}

/// The colour at a place on a picture, which comes again beyond 0 and 1.
fn colour_at(pixels: &Pixels, place: [f64; 2]) -> Colour {
    let [w, h] = pixels.size.map(|s| s as usize);
    let within = |v: f64, n: usize| ((v.rem_euclid(1.0) * n as f64) as usize).min(n - 1);
    let (x, y) = (within(place[0], w), h - 1 - within(place[1], h));
    solid(pixels.pixels[y * w + x])
}

/// Colours seen on facets under a picture with the share of each facet that they stand for: few for a facet of few pixels.
pub(crate) fn samples(pixels: &Pixels, facets: &[Pictured]) -> Vec<Vec<Colour>> {
    let [w, h] = pixels.size.map(f64::from);
    let of = |facet: &Pictured| {
        let [a, b, c] = facet.corners;
        let twice = ((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])).abs();
        const MOST: f64 = 24.0;
        let across = (0.5 * twice * w * h).sqrt().ceil().clamp(1.0, MOST) as usize;
        let at = |i: usize, j: usize, third: f64| {
            let n = across as f64;
            let (u, v) = ((i as f64 + third) / n, (j as f64 + third) / n);
            let place = [0, 1].map(|k| a[k] + u * (b[k] - a[k]) + v * (c[k] - a[k]));
            colour_at(pixels, place)
        };
        // The middles of equal small triangles: those that stand as the facet does, and those turned round between them.
        let mut seen = Vec::with_capacity(across * across);
        for i in 0..across {
            for j in 0..across - i {
                seen.push(at(i, j, 1.0 / 3.0));
                if i + j + 1 < across {
                    seen.push(at(i, j, 2.0 / 3.0));
                }
            }
        }
        seen
    };
    facets.par_iter().map(of).collect()
}

/// A picture brought to a few colours, with the borders between them.
pub(crate) struct OverSurface {
    sheet: Sheet,
    size: [f64; 2],
}

impl OverSurface {
    /// Traces a picture.
    ///
    /// `nearest`: the number of the colour that a colour is brought to; `pixel_mm`: how large a pixel is on the surface;
    /// `specks_mm2`: what is smaller is given to what is around it; `smooth_mm`: how far borders are straightened;
    /// `comes_again`: whether any facet reaches beyond its edges.
    ///
    /// # Cost
    /// Linear in pixels, n log n in the length of borders.
    pub(crate) fn traced(
        pixels: &Pixels,
        nearest: &(dyn Fn(Colour) -> u8 + Sync),
        (pixel_mm, specks_mm2, smooth_mm): (f64, f64, f64),
        comes_again: bool,
    ) -> OverSurface {
        const ROWS: usize = 1 << 16;
        let labels = pixels
            .pixels
            .par_chunks(ROWS)
            .flat_map_iter(|chunk| {
                let mut known: FxHashMap<[u8; 4], u8> = FxHashMap::default();
                let label = |p: &[u8; 4]| *known.entry(*p).or_insert_with(|| nearest(solid(*p)));
                chunk.iter().map(label).collect::<Vec<u8>>()
            })
            .collect();
        let size = pixels.size.map(|s| s as usize);
        let grid = Grid { size, labels };
        // A speck is never a large part of the picture, however it is stretched.
        let most = (size[0] * size[1]) as f64 / 400.0;
        let specks = (specks_mm2 / (pixel_mm * pixel_mm)).ceil().min(most) as usize;
        let areas = traced(grid, specks, smooth_mm / pixel_mm, PIXEL_MM);
        debug_assert!(areas.len() <= usize::from(NONE));
        let size = size.map(|s| s as f64 * PIXEL_MM);
        let mut sheet = Sheet::new(&areas, &Turn::NONE, None);
        if !comes_again {
            sheet.drop_rim(size, 0.5 * PIXEL_MM);
        }
        OverSurface { sheet, size }
    }

    /// The borders on a facet.
    pub(crate) fn lines(&self, open: &OpenMesh, laid: &Pictured) -> Vec<[Node; 2]> {
        let ids = open.mesh.facets[laid.facet as usize];
        let corners = open.mesh.corners(laid.facet);
        let flat = laid
            .corners
            .map(|p| [p[0] * self.size[0], p[1] * self.size[1]]);
        let least = |i: usize| flat.iter().fold(f64::INFINITY, |m, p| m.min(p[i]));
        let most = |i: usize| flat.iter().fold(f64::NEG_INFINITY, |m, p| m.max(p[i]));
        let (low, high) = ([least(0), least(1)], [most(0), most(1)]);
        let times = [0, 1].map(|i| {
            let first = (low[i] / self.size[i]).floor();
            (first, (high[i] / self.size[i]).ceil().max(first + 1.0))
        });
        if times.iter().any(|(first, end)| end - first > MOST_TIMES) {
            return Vec::new();
        }
        let [a, b, c] = flat;
        let twice = turn(a, b, c);
        // Without any extent on the picture it has one colour.
        if twice.abs() < 1e-9 {
            return Vec::new();
        }
        let on_plane = |p: [f64; 2]| {
            let shares = [
                turn(p, b, c) / twice,
                turn(a, p, c) / twice,
                turn(a, b, p) / twice,
            ];
            Some([0, 1, 2].map(|i| (0..3).map(|k| shares[k] * corners[k][i]).sum()))
        };
        let mut out = Vec::new();
        let whole =
            |(first, end): (f64, f64)| (0..(end - first) as usize).map(move |k| first + k as f64);
        for x in whole(times[0]) {
            for y in whole(times[1]) {
                let by = [x * self.size[0], y * self.size[1]];
                let here = [low, high].map(|p| [p[0] - by[0], p[1] - by[1]]);
                for piece in self.sheet.near(here) {
                    let [p, q] = piece.map(|p| [p[0] + by[0], p[1] + by[1]]);
                    let mut crossings = Vec::new();
                    for side in 0..3 {
                        let next = (side + 1) % 3;
                        let is_up = ids[side] < ids[next];
                        let (low, high) = if is_up { (side, next) } else { (next, side) };
                        if let Some((t, along)) = crossing([flat[low], flat[high]], [p, q]) {
                            let (low, high) = (ids[low], ids[high]);
                            crossings.push((along, Node::Edge { low, high, t }));
                        }
                    }
                    out.extend(joined(&mut crossings, &corners, on_plane, [p, q]));
                }
            }
        }
        out
    }

    /// The number of the colour at a place on a facet.
    pub(crate) fn colour(&self, open: &OpenMesh, laid: &Pictured, p: [f64; 3]) -> Option<usize> {
        let [u, v] = shares_at(p, &open.mesh.corners(laid.facet));
        let [a, b, c] = laid.corners;
        let place = [0, 1].map(|i| a[i] + u * (b[i] - a[i]) + v * (c[i] - a[i]));
        self.sheet
            .area_at([0, 1].map(|i| place[i].rem_euclid(1.0) * self.size[i]))
    }
}

/// Where a piece of border crosses an edge: the share of the way along the edge, and along the piece.
fn crossing([low, high]: [[f64; 2]; 2], [a, b]: [[f64; 2]; 2]) -> Option<(f64, f64)> {
    let (from, to) = (turn(a, b, low), turn(a, b, high));
    if (from > 0.0) == (to > 0.0) {
        return None;
    }
    let t = from / (from - to);
    let way = [b[0] - a[0], b[1] - a[1]];
    let at = [0, 1].map(|i| low[i] + t * (high[i] - low[i]) - a[i]);
    let along = (way[0] * at[0] + way[1] * at[1]) / (way[0] * way[0] + way[1] * way[1]);
    is_along(along).then_some((t, along))
}

/// Twice the area to the left of the way from a by b to c.
fn turn(a: [f64; 2], b: [f64; 2], c: [f64; 2]) -> f64 {
    (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
}
