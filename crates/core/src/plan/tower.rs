//! The purge tower: a square column that takes what each layer purges and is kept standing in between.

use super::types::Tower;

/// Smallest side that stands by itself, mm (common practice, no source).
const LEAST_SIDE_MM: f64 = 12.0;

/// Share of the footprint filled on layers that purge little or nothing, so that the next layer has a floor
/// (common practice, no source).
const FLOOR_SHARE: f64 = 0.12;

/// A tower and the plastic added on each layer only to keep it standing, mm³.
///
/// `layers`: height and purged volume of each layer, mm and mm³. Nothing is built above the last layer that purges.
pub(super) fn tower(layers: &[(f64, f64)], line_width_mm: f64) -> (Option<Tower>, Vec<f64>) {
    let Some(last) = layers.iter().rposition(|(_, purge)| *purge > 0.0) else {
        return (None, vec![0.0; layers.len()]);
    };
    let widest = layers
        .iter()
        .map(|(height, purge)| purge / height)
        .fold(0.0, f64::max);
    let side_mm = widest.sqrt().max(LEAST_SIDE_MM);
    let added = layers
        .iter()
        .enumerate()
        .map(|(index, (height, purge))| {
            if index > last {
                return 0.0;
            }
            let floor = 4.0 * side_mm * line_width_mm + FLOOR_SHARE * side_mm * side_mm;
            (height * floor - purge).max(0.0)
        })
        .collect();
    let height_mm = layers[..=last].iter().map(|(height, _)| height).sum();
    (Some(Tower { side_mm, height_mm }), added)
}
