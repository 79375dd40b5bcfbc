//! How deep colours pay to go: which regions right through, and whose the inside is where several meet, so that the look stays and
//! the purge is least.

use super::task::task;
use super::trial::Trial;
use crate::Problem;
use crate::job::{BandDepth, Edit, GiveEdit, Job, JobEdit, SoakDepth};
use crate::layers::{LayerShare, Skin, Stopped, Touched, skins};
use crate::model::Place;
use crate::plan::{Task, dot_mm2, estimate, purge_floor_mm3};
use rayon::prelude::*;

/// Regions up to which all combinations of depths are compared.
const ALL_UP_TO: usize = 12;

/// Spans on one part up to which the inside is divided by layers.
const MOST_SPANS: usize = 64;

/// Regions that go right through together, and what their swaps come to.
#[derive(Debug, Clone, PartialEq)]
pub struct DepthChoice {
    /// Numbers of the regions that go right through.
    pub through: Vec<u16>,
    /// What is purged, mm³.
    pub purge_mm3: f64,
    /// Swaps.
    pub swaps: usize,
    /// Whether no combination purges less: all were compared, or it comes down to the floor.
    pub is_least: bool,
    /// What no combination goes below, mm³: the purge of what the layers print in all of them. None where all were compared, or
    /// where that cannot be told.
    pub floor_mm3: Option<f64>,
}

/// The regions of which a depth can be chosen: those on surface whose inside is another's, and whose parts are all closed.
pub(super) fn choosable(job: &Job) -> Vec<u16> {
    let mut shows = vec![false; job.regions.len()];
    let mut open = vec![false; job.regions.len()];
    for (index, model) in job.models.iter().enumerate() {
        model.labels.each(|facet, _, label| {
            let part = model.open.part_of[facet as usize] as usize;
            let here = job.region_of_label(index, facet, label) as usize;
            let has_spans = !model.parts[part].spans.is_empty();
            if model.parts[part].is_printed && (label.is_some() || has_spans) {
                shows[here] = true;
                open[here] |= !model.open.parts[part].is_closed;
            }
        });
    }
    let live = job.live_regions().map(|(n, _)| n);
    live.filter(|n| shows[*n as usize] && !open[*n as usize])
        .collect()
}

/// What every region takes of every layer for each of two depths, from which every combination follows: whose surface is nearest
/// does not depend on depths, so what one region takes by going deeper it takes from the insides alone.
struct Parts {
    regions: Vec<u16>,
    skin: Vec<LayerShare>,
    /// By region, the layers with it alone right through.
    alone: Vec<Vec<LayerShare>>,
}

impl Parts {
    fn combined(&self, is_through: impl Fn(usize) -> bool) -> Vec<LayerShare> {
        let more = |area: f64, skin: f64, deep: f64| settled(area + deep - skin);
        self.changed(is_through, more)
    }

    /// What the layers print in every combination: without what any takes by going deeper; what that leaves is no certain gain.
    fn always(&self) -> Vec<LayerShare> {
        let less = |area: f64, skin: f64, deep: f64| settled(area - (skin - deep).max(0.0));
        self.changed(|_| true, less)
    }

    /// The layers as skins, each area changed for some of the regions in turn: by what it is as a skin and with that region alone
    /// right through.
    fn changed(
        &self,
        is_due: impl Fn(usize) -> bool,
        change: impl Fn(f64, f64, f64) -> f64,
    ) -> Vec<LayerShare> {
        let mut all = self.skin.clone();
        for (alone, _) in self.alone.iter().zip(0..).filter(|(_, n)| is_due(*n)) {
            for ((layer, skin), deep) in all.iter_mut().zip(&self.skin).zip(alone) {
                let shares = layer
                    .regions
                    .iter_mut()
                    .zip(&skin.regions)
                    .zip(&deep.regions);
                for ((share, skin), deep) in shares {
                    share.area_mm2 = change(share.area_mm2, skin.area_mm2, deep.area_mm2);
                    share.solid_mm2 = change(share.solid_mm2, skin.solid_mm2, deep.solid_mm2);
                }
            }
        }
        all
    }
}

/// An area that is nothing but for rounding is nothing.
fn settled(area_mm2: f64) -> f64 {
    if area_mm2 < 1e-3 { 0.0 } else { area_mm2 }
}

impl Trial<'_> {
    /// The regions that purge least by going right through, the others as deep as they soak. Up to twelve all combinations are
    /// compared; of more, each is changed alone as long as that purges less, from none and from all, and what no combination goes
    /// below is told.
    ///
    /// # Errors
    /// `stopped`; what a plan is refused for.
    ///
    /// # Cost
    /// The layers are divided once for each region; each combination is ordered.
    pub fn best_depths(&self) -> Result<Option<DepthChoice>, Problem> {
        self.best_depths_of(&choosable(self.job))
    }

    /// The same, of the regions whose depth can be chosen.
    pub(super) fn best_depths_of(&self, regions: &[u16]) -> Result<Option<DepthChoice>, Problem> {
        if regions.is_empty() {
            return Ok(None);
        }
        let mut planner = self.planner.clone();
        let mut divided = |through: Option<u16>| -> Result<Vec<LayerShare>, Problem> {
            if !(self.go_on)() {
                return Err(Stopped.into());
            }
            let mut job = self.job.clone();
            for region in regions {
                let depth = &mut job.regions[*region as usize].depth;
                if Some(*region) == through {
                    *depth = SoakDepth::Through;
                } else if depth.is_through() {
                    *depth = SoakDepth::default();
                }
            }
            planner.touch(Touched::Depths);
            let shares = planner.advance(job.shape(), &job.claims(), &|_| (self.go_on)())?;
            Ok((*shares).clone())
        };
        let skin = divided(None)?;
        let alone = regions.iter().map(|r| divided(Some(*r)));
        let parts = Parts {
            alone: alone.collect::<Result<_, _>>()?,
            regions: regions.to_vec(),
            skin,
        };
        let task = task(self.job, self.spools);
        let count = parts.regions.len();
        let is_all = count <= ALL_UP_TO;
        let best = if is_all {
            let tried = (0..1u64 << count)
                .into_par_iter()
                .map(|bits| self.counted(&parts, &task, bits));
            let tried: Vec<Counted> = tried.collect::<Result<_, Problem>>()?;
            tried.into_iter().min_by(Counted::compare)
        } else {
            let ends = [0, u64::MAX >> (64 - count.min(64))];
            let found: Vec<Counted> = ends
                .into_iter()
                .map(|from| self.descended(&parts, &task, from))
                .collect::<Result<_, Problem>>()?;
            found.into_iter().min_by(Counted::compare)
        };
        let floor_mm3 = match is_all {
            true => None,
            false => purge_floor_mm3(&task, &parts.always())?,
        };
        let is_at_floor = |purged: f64| floor_mm3.is_some_and(|floor| purged <= floor + 1e-6);
        Ok(best.map(|best| DepthChoice {
            through: {
                let all = parts.regions.iter().enumerate();
                let is_through = |n: usize| best.bits >> n & 1 == 1;
                all.filter(|(n, _)| is_through(*n))
                    .map(|(_, r)| *r)
                    .collect()
            },
            purge_mm3: best.purge_mm3,
            swaps: best.swaps,
            is_least: is_all || is_at_floor(best.purge_mm3),
            floor_mm3,
        }))
    }

    fn counted(&self, parts: &Parts, task: &Task, bits: u64) -> Result<Counted, Problem> {
        if !(self.go_on)() {
            return Err(Stopped.into());
        }
        let shares = parts.combined(|n| bits >> n & 1 == 1);
        let found = estimate(task, &shares)?;
        Ok(Counted {
            bits,
            purge_mm3: found.purge_mm3,
            swaps: found.swaps,
        })
    }

    /// From a combination, the region changed alone that purges least, as long as that is less.
    fn descended(&self, parts: &Parts, task: &Task, from: u64) -> Result<Counted, Problem> {
        let mut best = self.counted(parts, task, from)?;
        loop {
            let flips = 0..parts.regions.len().min(64);
            let tried = flips
                .into_par_iter()
                .map(|n| self.counted(parts, task, best.bits ^ 1 << n));
            let tried: Vec<Counted> = tried.collect::<Result<_, Problem>>()?;
            match tried.into_iter().min_by(Counted::compare) {
                Some(next) if next.compare(&best).is_lt() => best = next,
                _ => return Ok(best),
            }
        }
    }

    /// Edits that give the inside of every part, layer by layer, to a colour that the layer prints there anyway, with as few changes
    /// as can be; none if the insides are so already.
    ///
    /// # Cost
    /// Linear in the cells near the surface.
    pub(super) fn level_insides(&self) -> Vec<Edit> {
        let job = self.job;
        let Some(survey) = self.planner.survey() else {
            return Vec::new();
        };
        let claims = job.claims();
        let layers = skins(survey, &claims);
        let least = 2.0 * dot_mm2(&job.printer);
        let mut edits = Vec::new();
        for (body, at) in job.ranked_parts().into_iter().enumerate() {
            let (model, part) = (&job.models[at.0], &job.models[at.0].parts[at.1]);
            if part.is_locked || !model.open.parts[at.1].is_closed {
                continue;
            }
            let runs = inside_runs(&layers, body as u32, part.own, least);
            if runs.len() > MOST_SPANS || runs.iter().all(|r| r.own == part.own) {
                continue;
            }
            let namer = model.open.namers()[at.1];
            let place = Place {
                model: model.name.clone(),
                point: namer.point,
                normal: namer.normal,
            };
            for run in runs.iter().filter(|r| r.own != part.own) {
                let spans = &survey.heights.spans;
                edits.push(Edit::Give(GiveEdit::GiveBand {
                    region: job.regions[run.own as usize].key.clone(),
                    low_mm: spans[run.first].0,
                    high_mm: spans[run.end - 1].1,
                    at: Some(place.clone()),
                    snap: false,
                    count: 1,
                    pitch_mm: 0.0,
                    only: None,
                    depth: BandDepth::Inside,
                }));
            }
        }
        edits
    }
}

/// One combination of depths.
struct Counted {
    bits: u64,
    purge_mm3: f64,
    swaps: usize,
}

impl Counted {
    /// Less purge first, then fewer swaps, then fewer regions changed.
    fn compare(&self, other: &Counted) -> std::cmp::Ordering {
        let by_purge = if (self.purge_mm3 - other.purge_mm3).abs() < 1e-6 {
            std::cmp::Ordering::Equal
        } else {
            self.purge_mm3.total_cmp(&other.purge_mm3)
        };
        by_purge
            .then(self.swaps.cmp(&other.swaps))
            .then(self.bits.count_ones().cmp(&other.bits.count_ones()))
            .then(self.bits.cmp(&other.bits))
    }
}

/// Layers whose inside is one region's.
struct Run {
    first: usize,
    end: usize,
    own: u16,
}

/// The fewest runs of layers in each of which one region shows in every layer; the part's own where it is one of them, else the one
/// that shows most.
fn inside_runs(layers: &[Vec<Skin>], body: u32, own: u16, least_mm2: f64) -> Vec<Run> {
    let shown = |layer: usize| layers[layer].iter().find(|s| s.body == body);
    let mut runs = Vec::new();
    let mut layer = 0;
    while layer < layers.len() {
        let Some(skin) = shown(layer) else {
            layer += 1;
            continue;
        };
        let first = layer;
        let mut sums = skin.areas_mm2.clone();
        let mut stay: Vec<bool> = sums.iter().map(|a| *a >= least_mm2).collect();
        if !stay.contains(&true) {
            stay[own as usize] = true;
        }
        layer += 1;
        while let Some(skin) = (layer < layers.len()).then(|| shown(layer)).flatten() {
            let both: Vec<bool> = stay
                .iter()
                .zip(&skin.areas_mm2)
                .map(|(s, a)| *s && *a >= least_mm2)
                .collect();
            if !both.contains(&true) {
                break;
            }
            stay = both;
            sums.iter_mut()
                .zip(&skin.areas_mm2)
                .for_each(|(s, a)| *s += a);
            layer += 1;
        }
        let most = (0..stay.len())
            .filter(|r| stay[*r])
            .max_by(|a, b| sums[*a].total_cmp(&sums[*b]).then(b.cmp(a)));
        let chosen = if stay[own as usize] {
            Some(own as usize)
        } else {
            most
        };
        runs.push(Run {
            first,
            end: layer,
            own: chosen.map_or(own, |c| c as u16),
        });
    }
    runs
}

/// Several edits as one step.
pub(super) fn several(what: &str, mut edits: Vec<Edit>) -> Edit {
    if edits.len() == 1 {
        return edits.remove(0);
    }
    Edit::Job(JobEdit::Several {
        what: what.into(),
        edits,
    })
}
