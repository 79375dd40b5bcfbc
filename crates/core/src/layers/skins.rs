//! What of every layer is near painted surface, whatever the inside is: the least that a layer has to print for its look.

use super::label::{Claims, counted_soak, label_on_divided};
use super::span::NearCut;
use super::survey::Survey;
use crate::mesh::NO_FACET;
use rayon::prelude::*;

/// What one body has near its surface in a layer.
#[derive(Debug, Clone, PartialEq)]
pub struct Skin {
    /// The body.
    pub body: u32,
    /// By region, the area that its surface colours, mm²: as deep as it soaks, or a line if it goes right through.
    pub areas_mm2: Vec<f64>,
}

/// For each layer the skins of its bodies, as if nothing went right through.
///
/// # Cost
/// Linear in the cells near the surface.
pub fn skins(survey: &Survey, claims: &Claims<'_>) -> Vec<Vec<Skin>> {
    let line_mm = survey.settings.line_width_mm;
    let soak_mm: Vec<f64> = claims
        .soak_mm
        .iter()
        .map(|mm| if mm.is_finite() { *mm } else { line_mm })
        .map(|mm| counted_soak(mm, survey.settings.layer_mm))
        .collect();
    let of_layer = |layer: usize| {
        let of_body = |here: &super::survey::BodyLayer| {
            let number = here.body as usize;
            let labels = claims.labels[number];
            let cut = NearCut::of(survey, claims, None, (number, layer), survey.grid.step_mm);
            let of_piece = cut.as_ref().map(|cut| survey.cells_of_piece(cut, here));
            let mut areas_mm2 = vec![0.0; soak_mm.len()];
            for cell in of_piece.as_deref().unwrap_or(&here.cells) {
                if cell.facet == NO_FACET {
                    continue;
                }
                let label = labels.whole(cell.facet).unwrap_or_else(|| {
                    label_on_divided(survey, labels, number, layer, cell, cut.as_ref())
                });
                let region = label.unwrap_or(claims.own[number]) as usize;
                if f64::from(cell.distance_mm) <= soak_mm[region] {
                    areas_mm2[region] += f64::from(cell.area_mm2);
                }
            }
            Skin {
                body: here.body,
                areas_mm2,
            }
        };
        survey.layers[layer].iter().map(of_body).collect()
    };
    (0..survey.layers.len())
        .into_par_iter()
        .map(of_layer)
        .collect()
}
