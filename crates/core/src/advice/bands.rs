//! A job in bands: each layer all of one colour.

use super::deep::several;
use super::trial::Trial;
use super::way_figures::CutDepth;
use super::ways::{Way, WayGroup};
use crate::job::{BandDepth, Edit, GiveEdit};
use std::ops::Range;

/// Bands up to which a job is given in bands; of more no maker would keep track.
const MOST_BANDS: usize = 200;

impl Trial<'_> {
    /// The job in bands: each layer goes to the region that has most of it, right through. None if it is so already, or if nothing
    /// prints.
    ///
    /// # Cost
    /// Linear in layers and regions.
    pub(super) fn bands_way(&self) -> Option<Way> {
        let bands = self.bands();
        let is_so = self.shares().iter().all(|share| {
            let prints = share.regions.iter().filter(|r| r.area_mm2 > 0.0);
            prints.count() <= 1
        });
        if bands.is_empty() || is_so {
            return None;
        }
        let cannot = (bands.len() > MOST_BANDS).then(|| {
            format!(
                "The colour with most of a layer changes {} times.",
                bands.len() - 1
            )
        });
        let edits = bands
            .iter()
            .map(|(region, layers)| self.band(*region, layers));
        Some(Way {
            key: "depth-bands".into(),
            group: WayGroup::Depth,
            keeps_look: false,
            name: "In bands: each layer one colour".into(),
            edit: match cannot {
                None => Some(several("Give each layer one colour", edits.collect())),
                Some(_) => None,
            },
            cannot,
            depth: Some(CutDepth::THROUGH),
        })
    }

    /// Runs of layers with the region that has most of each.
    fn bands(&self) -> Vec<(u16, Range<usize>)> {
        let mut bands: Vec<(u16, Range<usize>)> = Vec::new();
        for (layer, share) in self.shares().iter().enumerate() {
            let prints = share.regions.iter().enumerate();
            let most = prints
                .filter(|(_, r)| r.area_mm2 > 0.0)
                .max_by(|(i, a), (j, b)| a.area_mm2.total_cmp(&b.area_mm2).then(j.cmp(i)));
            let Some((region, _)) = most else { continue };
            match bands.last_mut().filter(|(r, _)| *r as usize == region) {
                Some((_, layers)) => layers.end = layer + 1,
                None => bands.push((region as u16, layer..layer + 1)),
            }
        }
        bands
    }

    fn band(&self, region: u16, layers: &Range<usize>) -> Edit {
        let shares = self.shares();
        let (first, last) = (&shares[layers.start], &shares[layers.end - 1]);
        // Faces that lie on the bed or on the very top belong to it as well.
        let hair = |is_end: bool| match is_end {
            true => 0.25 * (first.z1_mm - first.z0_mm),
            false => 0.0,
        };
        Edit::Give(GiveEdit::GiveBand {
            region: self.job.regions[region as usize].key.clone(),
            low_mm: first.z0_mm - hair(layers.start == 0),
            high_mm: last.z1_mm + hair(layers.end == shares.len()),
            at: None,
            snap: false,
            count: 1,
            pitch_mm: 0.0,
            only: None,
            depth: BandDepth::Through,
        })
    }
}
