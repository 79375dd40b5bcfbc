//! Snags: places where a small change saves swaps or purge, each with its mend, tried in full.

mod alike;
mod bare_walls;
mod deeper;
mod edges;
mod heights;
mod layer_grid;
mod other_spool;
mod surfaces;
mod thin;
mod trifles;

use super::WayFigures;
use super::deep;
use super::trial::{Saving, Trial};
use crate::Problem;
use crate::job::Edit;
use serde::Serialize;
use std::ops::Range;
use surfaces::Surfaces;

/// What kind of snag it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum SnagSort {
    /// Colours that would purge less if they went deeper.
    Deeper,
    /// A colour on a few layers for next to nothing.
    Trifle,
    /// A border between two colours that runs through several layers.
    Edge,
    /// Heights that differ by a hair between parts.
    Heights,
    /// Walls left uncoloured under a coloured top.
    BareWalls,
    /// A region too thin to print.
    Thin,
    /// Two spools nearly alike.
    AlikeSpools,
    /// Another spool of the rack that comes as near and purges less.
    OtherSpool,
    /// A remnant of the rack that comes as near and is enough.
    Remnant,
    /// An accent that is not a whole number of layers thick.
    LayerGrid,
}

impl SnagSort {
    /// Whether what is printed looks the same once it is mended.
    pub fn keeps_look(self) -> bool {
        match self {
            SnagSort::Deeper | SnagSort::OtherSpool | SnagSort::Remnant | SnagSort::LayerGrid => {
                true
            }
            SnagSort::Trifle
            | SnagSort::Edge
            | SnagSort::Heights
            | SnagSort::BareWalls
            | SnagSort::Thin
            | SnagSort::AlikeSpools => false,
        }
    }
}

/// A place where a small change saves something.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Snag {
    /// What kind it is.
    pub sort: SnagSort,
    /// What is so, and where.
    pub what: String,
    /// What the mend does, for its button.
    pub mend: String,
    /// The mend.
    pub edit: Edit,
    /// Why it is left on purpose, if it is.
    pub accepted: Option<String>,
    /// Whether what is printed looks the same once it is mended.
    pub keeps_look: bool,
    /// What it saves: planned in full with the mend done.
    pub saves: Saving,
    /// What the job then comes to.
    pub then: WayFigures,
    /// Heights between which it lies, mm above the bed.
    pub low_mm: f64,
    /// The higher of them.
    pub high_mm: f64,
    /// Keys of the regions it is about.
    pub regions: Vec<String>,
    /// For each model the facets that the mend changes, or those of the region where it changes none, ascending.
    #[serde(skip)]
    pub facets: Vec<Vec<u32>>,
}

/// A snag that has not been tried.
struct Candidate {
    sort: SnagSort,
    what: String,
    mend: String,
    edit: Edit,
    low_mm: f64,
    high_mm: f64,
    regions: Vec<u16>,
    /// Whether it is worth telling though it saves nothing.
    is_told_anyway: bool,
}

/// Candidates tried at most; the rest come to light as these are mended.
const MOST_TRIED: usize = 40;

/// Waste below which nothing is said to be saved, g.
const LEAST_G: f64 = 0.05;

impl Trial<'_> {
    /// All snags: those whose mends keep the look before those that change it, and of each the one that saves most first. Those that
    /// are left on purpose come last. `progress`: told the finished share, 0 to 1.
    ///
    /// # Errors
    /// `stopped`.
    ///
    /// # Cost
    /// One look at every facet, and a trial for each candidate, at most 40.
    pub fn snags(&self, progress: &dyn Fn(f64)) -> Result<Vec<Snag>, Problem> {
        let deepened = deep::choosable(self.job);
        if deepened.is_empty() {
            return self.prepared_snags(&deepened, progress);
        }
        let mut planner = self.planner.clone();
        planner.prepare_depths(&self.job.claims(), self.go_on)?;
        let prepared = Trial {
            planner: &planner,
            ..*self
        };
        prepared.prepared_snags(&deepened, progress)
    }

    /// The same, with the regions whose depth can be chosen.
    fn prepared_snags(
        &self,
        deepened: &[u16],
        progress: &dyn Fn(f64),
    ) -> Result<Vec<Snag>, Problem> {
        let surfaces = Surfaces::of(self.job);
        let mut candidates = Vec::new();
        deeper::find(self, deepened, &mut candidates)?;
        other_spool::find(self, &mut candidates);
        alike::find(self, &mut candidates);
        trifles::find(self, &mut candidates);
        edges::find(self, &mut candidates);
        bare_walls::find(self, &surfaces, &mut candidates);
        heights::find(self, &surfaces, &mut candidates);
        layer_grid::find(self, &surfaces, &mut candidates);
        thin::find(self, &mut candidates);
        candidates.truncate(MOST_TRIED);
        let count = candidates.len().max(1) as f64;
        let mut found: Vec<Snag> = Vec::new();
        for (index, candidate) in candidates.into_iter().enumerate() {
            progress(index as f64 / count);
            let (saves, tried) = match self.saving(&candidate.edit) {
                Ok(tried) => tried,
                Err(problem) if problem.is_stopped() => return Err(problem),
                // A mend that cannot be done, such as on a protected region, is not offered.
                Err(_) => continue,
            };
            let is_worth = saves.swaps > 0 || saves.waste_g >= LEAST_G;
            let is_harmless = saves.swaps >= 0 && saves.waste_g > -LEAST_G;
            if !(is_harmless && (is_worth || candidate.is_told_anyway)) {
                continue;
            }
            let mut facets = tried.facets;
            if facets.iter().all(Vec::is_empty) {
                facets = self.facets_of(&candidate.regions);
            }
            let key = |n: &u16| self.key(*n).to_string();
            let accepted = self.job.rules.accepted.get(&candidate.what).cloned();
            found.push(Snag {
                sort: candidate.sort,
                what: candidate.what,
                mend: candidate.mend,
                edit: candidate.edit,
                accepted,
                keeps_look: candidate.sort.keeps_look(),
                saves,
                then: WayFigures::of(&tried.job, &tried.plan),
                low_mm: candidate.low_mm,
                high_mm: candidate.high_mm,
                regions: candidate.regions.iter().map(key).collect(),
                facets,
            });
        }
        found.sort_by(|a, b| {
            let first = a.accepted.is_some().cmp(&b.accepted.is_some());
            first
                .then(b.keeps_look.cmp(&a.keeps_look))
                .then(b.saves.waste_g.total_cmp(&a.saves.waste_g))
                .then(b.saves.swaps.cmp(&a.saves.swaps))
        });
        progress(1.0);
        Ok(one_of_each(found))
    }

    /// Facets of some regions, by model.
    fn facets_of(&self, regions: &[u16]) -> Vec<Vec<u32>> {
        let models = 0..self.job.models.len();
        models
            .map(|model| {
                let facets = 0..self.job.models[model].labels.len() as u32;
                facets
                    .filter(|f| regions.contains(&self.job.region_of_facet(model, *f)))
                    .collect()
            })
            .collect()
    }

    fn name(&self, region: u16) -> &str {
        &self.job.regions[region as usize].name
    }

    fn key(&self, region: u16) -> &str {
        &self.job.regions[region as usize].key
    }
}

/// Of several mends for the same regions at the same place only the one that saves most. Sorted already.
fn one_of_each(found: Vec<Snag>) -> Vec<Snag> {
    let mut kept: Vec<Snag> = Vec::new();
    for snag in found {
        let is_known = kept.iter().any(|k| {
            k.sort == snag.sort
                && k.regions.iter().all(|r| snag.regions.contains(r))
                && k.low_mm < snag.high_mm + 1e-6
                && snag.low_mm < k.high_mm + 1e-6
        });
        if !is_known {
            kept.push(snag);
        }
    }
    kept
}

/// Layers in words, counted from 1.
fn layers_in_words(layers: &Range<usize>) -> String {
    if layers.len() == 1 {
        format!("layer {}", layers.end)
    } else {
        format!("layers {} to {}", layers.start + 1, layers.end)
    }
}

/// Runs of neighbouring layers of which something is so.
fn runs(layers: usize, is: impl Fn(usize) -> bool) -> Vec<Range<usize>> {
    let mut found: Vec<Range<usize>> = Vec::new();
    for layer in (0..layers).filter(|l| is(*l)) {
        match found.last_mut().filter(|r| r.end == layer) {
            Some(run) => run.end = layer + 1,
            None => found.push(layer..layer + 1),
        }
    }
    found
}

/// Gives what a region has in some layers to another. Level faces lie just on the border of a layer: a hair more is taken.
fn give_layers(trial: &Trial<'_>, from: u16, to: u16, layers: &Range<usize>) -> Edit {
    let (first, last) = (
        &trial.shares()[layers.start],
        &trial.shares()[layers.end - 1],
    );
    let hair_mm = 0.25 * (first.z1_mm - first.z0_mm);
    let heights = [first.z0_mm - hair_mm, last.z1_mm + hair_mm];
    Edit::band(trial.key(to), heights, None, Some(trial.key(from)))
}
