//! What is too thin to print, over all layers.

use super::print::Print;
use super::types::ThinTotal;
use std::collections::BTreeMap;

/// Totals by region and by who prints it instead, the most first.
pub(super) fn too_thin(print: &Print<'_>) -> Vec<ThinTotal> {
    let key = |region: u16| print.task.regions[region as usize].key.clone();
    let mut found: BTreeMap<(u16, Option<u16>), ThinTotal> = BTreeMap::new();
    for (layer, share) in print.shares.iter().enumerate() {
        for thin in &share.too_thin {
            let total = found
                .entry((thin.region, thin.to))
                .or_insert_with(|| ThinTotal {
                    region: key(thin.region),
                    to: thin.to.map(key),
                    layers: 0,
                    first_layer: layer,
                    last_layer: layer,
                    volume_mm3: 0.0,
                });
            total.layers += 1;
            total.last_layer = layer;
            total.volume_mm3 += print.copies * thin.area_mm2 * print.height_mm(layer);
        }
    }
    let mut totals: Vec<ThinTotal> = found.into_values().collect();
    totals.sort_by(|a, b| b.volume_mm3.total_cmp(&a.volume_mm3));
    totals
}
