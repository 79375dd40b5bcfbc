//! Parts of which no layer prints anything, with the true reason.

use crate::job::Job;
use crate::layers::{LayerHeights, LayerShare};
use serde::Serialize;

/// A part of which no layer prints anything.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct UnprintedPart {
    /// Its key.
    pub key: u32,
    /// Its name.
    pub part: String,
    /// Why.
    pub why: WhyUnprinted,
    /// Key and name of the part that takes its place, if one does.
    pub by: Option<(u32, String)>,
}

/// Why nothing of a part prints.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum WhyUnprinted {
    /// It lies between the middles of two layers.
    BetweenLayers,
    /// Parts above it in the list take all of its place.
    Covered,
    /// It is narrower than a line everywhere.
    TooThin,
    /// Its surface encloses nothing where layers cut it.
    Open,
}

/// All of them, highest rank first. Made layers, which name no bodies, tell nothing of parts.
pub(super) fn unprinted_parts(job: &Job, shares: &[LayerShare]) -> Vec<UnprintedPart> {
    let ranked = job.ranked_parts();
    let named_by = |bodies: &dyn Fn(&LayerShare) -> &Vec<u32>| {
        let mut is_named = vec![false; ranked.len()];
        for body in shares.iter().flat_map(bodies) {
            if let Some(named) = is_named.get_mut(*body as usize) {
                *named = true;
            }
        }
        is_named
    };
    let is_printed = named_by(&|share| &share.bodies);
    let is_thin = named_by(&|share| &share.thin_bodies);
    let foot = job.bounds().min[2];
    let heights = LayerHeights::new(
        job.bounds().size()[2],
        job.printer.first_layer_mm,
        job.printer.layer_mm,
    );
    let mut found = Vec::new();
    for (at, (model, part)) in ranked.iter().enumerate() {
        if is_printed[at] {
            continue;
        }
        let own = &job.models[*model].open.parts[*part];
        let bounds = own.measures.bounds;
        let is_between = heights
            .cut_by(bounds.min[2] - foot, bounds.max[2] - foot)
            .is_empty();
        // Of those above it the lowest whose box holds it, or else meets it.
        let box_of = |at: &usize| {
            let (m, p) = ranked[*at];
            job.models[m].open.parts[p].measures.bounds
        };
        let above: Vec<usize> = (0..at).rev().filter(|a| is_printed[*a]).collect();
        let holds = |a: &&usize| box_of(a).grown(1e-4).holds(&bounds);
        let by = above
            .iter()
            .find(holds)
            .or_else(|| above.iter().find(|a| box_of(a).meets(&bounds, 0.0)));
        let why = match by {
            _ if is_between => WhyUnprinted::BetweenLayers,
            _ if is_thin[at] => WhyUnprinted::TooThin,
            Some(_) => WhyUnprinted::Covered,
            None => WhyUnprinted::Open,
        };
        let named = |at: usize| {
            let (m, p) = ranked[at];
            let part = &job.models[m].parts[p];
            (part.key, part.name.clone())
        };
        let (key, part) = named(at);
        found.push(UnprintedPart {
            key,
            part,
            why,
            by: by
                .filter(|_| why == WhyUnprinted::Covered)
                .map(|a| named(*a)),
        });
    }
    found
}
