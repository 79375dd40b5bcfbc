//! From nearest facets to regions: the second half of the ownership rule, run after every edit.

use super::survey::{Cell, Survey};
use crate::carve::{Label, Labels, shares_at};
use crate::mesh::closest_point;
use rayon::prelude::*;

/// Which region claims what. Regions are numbered from 0 here.
pub struct Claims<'a> {
    /// For each body, the labels of its mesh; no label means the body's own.
    pub labels: Vec<&'a Labels>,
    /// For each body, its own region.
    pub own: Vec<u16>,
    /// For each body, by region, whether what the region would print of it is left out; empty if nothing is.
    pub skipped: Vec<Vec<bool>>,
    /// Soak depth of each region in mm.
    pub soak_mm: Vec<f64>,
}

impl Claims<'_> {
    /// Whether what a region would print of a body is left out.
    pub(super) fn is_skipped(&self, body: usize, region: u16) -> bool {
        let of = self.skipped.get(body).and_then(|s| s.get(region as usize));
        of.is_some_and(|s| *s)
    }
}

/// What one region takes of one layer.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct RegionShare {
    /// Area in mm².
    pub area_mm2: f64,
    /// Of that, printed solid, in mm².
    pub solid_mm2: f64,
}

/// One layer divided among the regions.
#[derive(Debug, Clone, PartialEq)]
pub struct LayerShare {
    /// Bottom of the layer, mm.
    pub z0_mm: f64,
    /// Top of the layer, mm.
    pub z1_mm: f64,
    /// One entry per region, in region order. The areas sum to the layer's.
    pub regions: Vec<RegionShare>,
}

/// Divides every layer among the regions.
///
/// A cell goes to its nearest facet's region as far as that region soaks, and to the body's own region beyond; a cell
/// on the end of the soak is shared. Soak depths beyond the survey's reach are cut off there.
pub fn label(survey: &Survey, claims: &Claims<'_>) -> Vec<LayerShare> {
    (0..survey.layers.len())
        .into_par_iter()
        .map(|layer| label_layer(survey, claims, layer))
        .collect()
}

/// Divides anew only the layers whose cells may have their nearest facet between two heights of the print, in mm.
pub fn label_between(
    survey: &Survey,
    claims: &Claims<'_>,
    (low, high): (f64, f64),
    shares: &mut [LayerShare],
) {
    let reach = survey.reach_mm + survey.grid.step_mm;
    shares
        .par_iter_mut()
        .enumerate()
        .for_each(|(layer, share)| {
            let z = survey.heights.middle(layer);
            if z >= low - reach && z <= high + reach {
                *share = label_layer(survey, claims, layer);
            }
        });
}

fn label_layer(survey: &Survey, claims: &Claims<'_>, layer: usize) -> LayerShare {
    let (z0_mm, z1_mm) = survey.heights.spans[layer];
    let mut regions = vec![RegionShare::default(); claims.soak_mm.len()];
    for body in &survey.layers[layer] {
        let own = claims.own[body.body as usize];
        let labels = claims.labels[body.body as usize];
        let is_skipped = |region: u16| claims.is_skipped(body.body as usize, region);
        let mut rest = RegionShare {
            area_mm2: body.core_mm2,
            solid_mm2: body.core_solid_mm2,
        };
        for cell in &body.cells {
            let (area, solid) = (f64::from(cell.area_mm2), f64::from(cell.solid_mm2));
            let label = match labels.whole(cell.facet) {
                Some(label) => label,
                None => label_on_divided(survey, labels, body.body as usize, layer, cell),
            };
            let region = label.unwrap_or(own);
            let share = if region == own {
                1.0
            } else {
                soaked(
                    claims.soak_mm[region as usize],
                    f64::from(cell.distance_mm),
                    f64::from(cell.spread_mm),
                )
            };
            if !is_skipped(region) {
                let r = &mut regions[region as usize];
                r.area_mm2 += share * area;
                r.solid_mm2 += share * solid;
            }
            rest.area_mm2 += (1.0 - share) * area;
            rest.solid_mm2 += (1.0 - share) * solid;
        }
        if !is_skipped(own) {
            regions[own as usize].area_mm2 += rest.area_mm2;
            regions[own as usize].solid_mm2 += rest.solid_mm2;
        }
    }
    LayerShare {
        z0_mm,
        z1_mm,
        regions,
    }
}

/// The label at the place nearest to a cell's middle, on a facet with several.
fn label_on_divided(
    survey: &Survey,
    labels: &Labels,
    body: usize,
    layer: usize,
    cell: &Cell,
) -> Label {
    let across = survey.grid.cells[0];
    let [x, y] = survey
        .grid
        .centre(cell.at as usize % across, cell.at as usize / across);
    label_near(
        survey,
        labels,
        body,
        cell.facet,
        [x, y, survey.heights.middle(layer)],
    )
}

/// The label at the place on a facet nearest to a point in the print's frame.
pub(super) fn label_near(
    survey: &Survey,
    labels: &Labels,
    body: usize,
    facet: u32,
    p: [f64; 3],
) -> Label {
    let b = &survey.bodies[body];
    let p = [0, 1, 2].map(|i| p[i] - b.shift[i]);
    let corners = b.open.mesh.corners(facet);
    labels.at(facet, shares_at(closest_point(p, &corners), &corners))
}

/// Share of a cell that lies within the soak depth, from the distance at its middle and the spread across it.
pub(super) fn soaked(soak_mm: f64, distance_mm: f64, spread_mm: f64) -> f64 {
    // Under a flat top the distance is the same all over the cell: a whole number of layers must not be lost to
    // rounding in the last digit.
    const SLACK_MM: f64 = 1e-4;
    let left = soak_mm - distance_mm + SLACK_MM;
    if spread_mm <= SLACK_MM {
        return f64::from(u8::from(left >= 0.0));
    }
    (0.5 + left / spread_mm).clamp(0.0, 1.0)
}
