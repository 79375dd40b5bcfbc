//! Divisions that have become needless.

use super::labels::{Held, Labels};
use crate::mesh::NO_FACET;
use crate::model::OpenMesh;
use std::collections::BTreeSet;

/// Divisions that no longer separate anything are undone, as far as the facets around them allow: a facet of one label
/// becomes whole if every neighbour that shares points on an edge becomes whole with it. Returns what changes.
pub fn settled(open: &OpenMesh, labels: &Labels, touched: &[u32]) -> Vec<(u32, Held)> {
    let is_one = |f: &u32| {
        labels
            .division(*f)
            .is_some_and(|d| d.only_label().is_some())
    };
    let mut may: BTreeSet<u32> = BTreeSet::new();
    let mut waiting: Vec<u32> = touched.iter().copied().filter(is_one).collect();
    while let Some(facet) = waiting.pop() {
        if may.insert(facet) {
            let around = open.topology.across[facet as usize];
            waiting.extend(around.into_iter().filter(|f| *f != NO_FACET).filter(is_one));
        }
    }
    // Who shares points with a facet that stays divided has to stay as well.
    let mut unsure: Vec<u32> = may.iter().copied().collect();
    while let Some(facet) = unsure.pop() {
        if !may.contains(&facet) {
            continue;
        }
        let Some(divided) = labels.division(facet) else {
            continue;
        };
        let across = open.topology.across[facet as usize];
        let stays = divided.sides_with_points().into_iter().any(|side| {
            let other = across[side];
            other != NO_FACET && labels.division(other).is_some() && !may.contains(&other)
        });
        if stays {
            may.remove(&facet);
            unsure.extend(across.into_iter().filter(|f| may.contains(f)));
        }
    }
    may.into_iter()
        .filter_map(|f| {
            let label = labels.division(f)?.only_label()?;
            Some((f, Held::Whole(label)))
        })
        .collect()
}
