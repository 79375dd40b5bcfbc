//! Pictures that lie over a surface facet by facet, as files bring them.

use super::laying::Turn;
use super::picture::NONE;
use super::sheet::{Sheet, is_along, joined};
use super::squares::{Piece, box_of};
use super::trace::{Grid, traced};
use crate::carve::{Node, shares_at};
use crate::colour::Colour;
use crate::formats::{Pictured, Pixels};
use crate::geometry::turn;
use crate::model::OpenMesh;
use rayon::prelude::*;
use rustc_hash::FxHashMap;

/// The edge of a pixel on the sheet, mm: any length would do.
const PIXEL_MM: f64 = 0.1;

/// How often a picture comes again on one facet at most, each way.
const MOST_TIMES: f64 = 16.0;

/// Colours that are looked at on all facets of a picture at most, about.
const MOST_SEEN: f64 = 4e6;

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

/// How much of its picture lies over a facet, as a share.
pub(crate) fn covered(laid: &Pictured) -> f64 {
    let [a, b, c] = laid.corners;
    0.5 * turn(a, b, c).abs()
}

/// Whether a picture comes again on a facet so often that only its mean colour is told.
pub(crate) fn comes_too_often(laid: &Pictured) -> bool {
    let (low, high) = box_of(&laid.corners);
    (0..2).any(|i| high[i].ceil() - low[i].floor() > MOST_TIMES)
}

/// Colours seen on facets under a picture with the share of each facet that they stand for: few for a facet of few pixels.
pub(crate) fn samples(pixels: &Pixels, facets: &[Pictured]) -> Vec<Vec<Colour>> {
    let [w, h] = pixels.size.map(f64::from);
    let most = (MOST_SEEN / facets.len().max(1) as f64)
        .sqrt()
        .clamp(2.0, 24.0);
    let of = |facet: &Pictured| {
        let [a, b, c] = facet.corners;
        let across = (covered(facet) * w * h).sqrt().ceil().clamp(1.0, most) as usize;
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
        let on_facet = |piece: Piece| {
            let cross = |low: usize, high: usize| crossing([flat[low], flat[high]], piece);
            joined(ids, &corners, cross, on_plane, piece)
        };
        self.near(&flat).filter_map(on_facet).collect()
    }

    /// Pieces of border near a facet, wherever the picture comes again under it.
    fn near(&self, flat: &[[f64; 2]; 3]) -> impl Iterator<Item = Piece> {
        let (low, high) = box_of(flat);
        let [x, y] = [0, 1].map(|i| {
            let first = (low[i] / self.size[i]).floor();
            let times = (high[i] / self.size[i]).ceil() - first;
            (0..times.max(1.0) as usize).map(move |k| first + k as f64)
        });
        let repeats = x.flat_map(move |x| y.clone().map(move |y| [x, y]));
        repeats.flat_map(move |times| {
            let by = [0, 1].map(|i| times[i] * self.size[i]);
            let moved = move |p: [f64; 2], s: f64| [p[0] + s * by[0], p[1] + s * by[1]];
            let here = [low, high].map(|p| moved(p, -1.0));
            let pieces = self.sheet.near(here).into_iter();
            pieces.map(move |piece| piece.map(|p| moved(p, 1.0)))
        })
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
