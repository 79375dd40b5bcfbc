//! Pictures that a file lays over its surface, brought to a few colours with exact borders.

use super::file_colours::nearest;
use crate::carve::Node;
use crate::colour::Colour;
use crate::drawing::{OverSurface, comes_too_often, covered, samples};
use crate::formats::{FileColours, Pictured, Pixels};
use crate::model::OpenMesh;
use rayon::prelude::*;

/// What is smaller on the surface is given to what is around it, mm²: what a nozzle cannot draw.
const SPECKS_MM2: f64 = 0.5;

/// How far borders are straightened, mm.
const SMOOTH_MM: f64 = 0.05;

/// Of each facet under a picture the colours that are seen on it. A picture that cannot be read is white.
pub(super) fn seen(colours: &FileColours) -> Vec<Vec<Colour>> {
    let mut out = vec![vec![Colour([255; 3])]; colours.pictured.len()];
    for number in 0..colours.pictures.len() {
        let (at, facets) = under(colours, number);
        if let (false, Some(pixels)) = (at.is_empty(), pixels(colours, number)) {
            for (at, seen) in at.into_iter().zip(samples(&pixels, &facets)) {
                out[at] = seen;
            }
        }
    }
    out
}

/// Which facets are under a picture: their places in the list, and themselves.
fn under(colours: &FileColours, number: usize) -> (Vec<usize>, Vec<Pictured>) {
    let all = colours.pictured.iter().enumerate();
    all.filter(|(_, laid)| usize::from(laid.picture) == number)
        .map(|(at, laid)| (at, *laid))
        .unzip()
}

fn pixels(colours: &FileColours, number: usize) -> Option<Pixels> {
    Pixels::read(&colours.pictures[number].bytes).ok()
}

/// The pictures of a model brought to some colours.
pub(super) struct Pictures<'a> {
    facets: &'a [Pictured],
    sheets: Vec<Option<OverSurface>>,
    /// The region of each colour.
    regions: Vec<u16>,
}

impl<'a> Pictures<'a> {
    /// Brings all pictures to the nearest of some colours. `centres`: in CIELAB, each with its region.
    pub(super) fn new(
        open: &OpenMesh,
        colours: &'a FileColours,
        centres: &[([f64; 3], u16)],
    ) -> Pictures<'a> {
        let (labs, regions): (Vec<[f64; 3]>, Vec<u16>) = centres.iter().copied().unzip();
        let to_nearest = |c: Colour| nearest(&labs, c) as u8;
        let areas = open.facet_areas();
        let sheet = |number: usize| {
            let (_, facets) = under(colours, number);
            let pixels = pixels(colours, number).filter(|_| !facets.is_empty())?;
            let [w, h] = pixels.size.map(f64::from);
            let mut mm2 = 0.0;
            let mut shares = 0.0;
            let mut comes_again = false;
            for laid in &facets {
                shares += covered(laid);
                mm2 += areas[laid.facet as usize];
                // A little beyond is rounding.
                let is_beyond = |v: &f64| !(-1e-3..=1.001).contains(v);
                comes_again |= laid.corners.iter().flatten().any(is_beyond);
            }
            let pixel_mm = (mm2 / (shares * w * h).max(1e-9)).sqrt().max(1e-9);
            let sizes = (pixel_mm, SPECKS_MM2, SMOOTH_MM);
            Some(OverSurface::traced(
                &pixels,
                &to_nearest,
                sizes,
                comes_again,
            ))
        };
        Pictures {
            facets: &colours.pictured,
            sheets: (0..colours.pictures.len())
                .into_par_iter()
                .map(sheet)
                .collect(),
            regions,
        }
    }

    /// The picture on a facet; none where it is told by its mean colour.
    fn on(&self, facet: u32) -> Option<(&OverSurface, &Pictured)> {
        let at = self.facets.binary_search_by_key(&facet, |p| p.facet).ok()?;
        let laid = &self.facets[at];
        if comes_too_often(laid) {
            return None;
        }
        Some((self.sheets[usize::from(laid.picture)].as_ref()?, laid))
    }

    /// The borders between colours on a facet.
    pub(super) fn lines(&self, open: &OpenMesh, facet: u32) -> Vec<[Node; 2]> {
        let on = self.on(facet);
        on.map_or_else(Vec::new, |(sheet, laid)| sheet.lines(open, laid))
    }

    /// The region at a place on a facet.
    pub(super) fn region(&self, open: &OpenMesh, facet: u32, p: [f64; 3]) -> Option<u16> {
        let (sheet, laid) = self.on(facet)?;
        self.regions.get(sheet.colour(open, laid, p)?).copied()
    }
}
