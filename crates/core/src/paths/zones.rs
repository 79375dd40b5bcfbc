//! What of each layer is printed solid and what sparse.

use crate::layers::LayerFaces;
use crate::shapes::Area;
use rayon::prelude::*;

/// Sparse pieces of less are printed solid, mm²: a row would not find any hold in them.
pub(super) const LEAST_SPARSE_MM2: f64 = 1.0;

/// Of each layer what is sparse: further in than the walls, and inside on every layer of the skins, below and above.
///
/// # Cost
/// Four unions of outlines a layer for skins of four layers each: what is inside on 2, 4, 8 layers is worked out once for all.
pub(super) fn sparse(
    faces: &[LayerFaces],
    wall_mm: f64,
    line_mm: f64,
    [below, above]: [usize; 2],
) -> Vec<Area> {
    let sections: Vec<&Area> = faces.iter().map(|f| &f.section).collect();
    let window = below + above + 1;
    let runs = runs(&sections, window);
    (0..faces.len())
        .into_par_iter()
        .map(|layer| {
            let first = layer.checked_sub(below);
            let buried = first.and_then(|first| runs.get(first));
            let Some(buried) = buried.filter(|b| !b.is_empty()) else {
                return Area::default();
            };
            let inner = faces[layer].section.offset(-wall_mm);
            without_slivers(&inner, buried, line_mm).without_specks(LEAST_SPARSE_MM2)
        })
        .collect()
}

/// What is buried of the inside of a layer, but for slivers narrower than a line along skins, which are filled with them. What walls
/// alone leave between them stays sparse however narrow it is, as the plan counts it.
fn without_slivers(inner: &Area, buried: &Area, line_mm: f64) -> Area {
    const BESIDE: f64 = 1.1;
    let skin = inner.minus(buried);
    if skin.is_empty() {
        return inner.clone();
    }
    let sparse = inner.and(buried);
    let wide = sparse.opened(0.5 * line_mm);
    let slivers = sparse.minus(&wide);
    match slivers.is_empty() {
        true => wide,
        false => wide.or(&slivers.minus(&skin.offset(BESIDE * line_mm))),
    }
}

/// What is inside on so many layers in a row, from each layer on that has so many.
fn runs(sections: &[&Area], window: usize) -> Vec<Area> {
    if sections.len() < window {
        return Vec::new();
    }
    // What is inside on `length` layers from each on; doubled as long as it fits.
    let mut length = 1;
    let mut inside: Vec<Area> = sections.iter().map(|s| (*s).clone()).collect();
    while 2 * length <= window {
        let count = sections.len() - 2 * length + 1;
        inside = (0..count)
            .into_par_iter()
            .map(|i| inside[i].and(&inside[i + length]))
            .collect();
        length *= 2;
    }
    // Two that overlap make up the rest.
    let rest = window - length;
    (0..=sections.len() - window)
        .into_par_iter()
        .map(|i| match rest {
            0 => inside[i].clone(),
            rest => inside[i].and(&inside[i + rest]),
        })
        .collect()
}
