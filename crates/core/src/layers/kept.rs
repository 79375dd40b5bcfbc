//! What a survey can keep of an earlier one: layers near which nothing has changed.

use super::body::Body;
use super::claimed::{Claimed, LayerClaims};
use super::index::HAIR_MM;
use super::survey::{BodyLayer, Survey};
use crate::mesh::NO_FACET;
use rayon::prelude::*;
use std::hash::{DefaultHasher, Hash, Hasher};

/// A body and a facet of its mesh.
type Place = (u32, u32);

/// Layers that an earlier survey has already, and how its bodies and facets are numbered now.
pub(super) struct Kept<'a> {
    before: &'a Survey,
    /// By body of the earlier survey and place among its facets: where it is now.
    now_at: Vec<Vec<Option<Place>>>,
    /// By layer: its bodies as they were numbered, and as they are.
    bodies: Vec<Vec<(u32, u32)>>,
    /// By layer: whether outlines are the same.
    is_outline_kept: Vec<bool>,
    /// By layer: whether all of it is the same.
    is_kept: Vec<bool>,
}

impl<'a> Kept<'a> {
    /// What `new`, whose layers are still open, can keep of an earlier survey; nothing if settings, reach or the grid differ.
    ///
    /// A facet is the same if its corners, its body's place, its open edges and what decides roundings of its cut are. A layer
    /// is kept if every facet within reach of it, and every outline within the skins, is the same, and if its bodies and
    /// facets come in the same order: so what is kept equals, bit by bit, what would be found anew.
    ///
    /// # Cost
    /// n log n in the facets of bodies that are not the very same.
    pub(super) fn find(before: &'a Survey, new: &Survey) -> Option<Kept<'a>> {
        let is_alike = before.settings == new.settings
            && before.reach_mm == new.reach_mm
            && before.grid == new.grid;
        if !is_alike {
            return None;
        }
        let (now_at, new_facets) = matched(before, new);
        let old_count = before.heights.spans.len();
        let count = new.heights.spans.len();
        let shared = old_count.min(count);
        let mut outline = Marks::new(shared);
        let mut near = Marks::new(shared);
        let mut pairs = vec![Vec::<(u32, u32)>::new(); shared];
        let reach = new.reach_mm + new.grid.step_mm;
        // Layers are cut where the earlier survey was cut: settings and the bed are the same.
        let range = |survey: &Survey, (body, facet): Place, more: f64| {
            let [low, high] = survey.bodies[body as usize].heights_of(facet);
            let layers = survey.heights.cut_by(low - more, high + more);
            layers.start.min(shared)..layers.end.min(shared)
        };
        let mut change = |survey: &Survey, place: Place| {
            outline.add(range(survey, place, HAIR_MM));
            near.add(range(survey, place, reach));
        };
        for place in new_facets {
            change(new, place);
        }
        for (body, facets) in now_at.iter().enumerate() {
            for (facet, now) in before.facets[body].iter().zip(facets) {
                let place = (body as u32, *facet);
                let Some(now) = now else {
                    change(before, place);
                    continue;
                };
                for pairs in &mut pairs[range(before, place, reach)] {
                    let pair = (body as u32, now.0);
                    if pairs.last() != Some(&pair) && !pairs.contains(&pair) {
                        pairs.push(pair);
                    }
                }
            }
        }
        let mut is_outline_kept = outline.unmarked();
        let mut is_kept = near.unmarked();
        for (layer, pairs) in pairs.iter_mut().enumerate() {
            pairs.sort_unstable();
            // One body is one body still, and none has changed places with another.
            if pairs
                .windows(2)
                .any(|w| w[0].0 == w[1].0 || w[0].1 >= w[1].1)
            {
                is_outline_kept[layer] = false;
            }
        }
        for layer in 0..shared {
            let low = layer.saturating_sub(new.settings.bottom_skins as usize);
            let high = layer + new.settings.top_skins as usize;
            // Where the print ends, all is skin.
            let is_end_moved = high >= shared && old_count != count;
            let skins = low..(high + 1).min(shared);
            is_kept[layer] &= !is_end_moved && is_outline_kept[skins].iter().all(|k| *k);
        }
        is_outline_kept.resize(count, false);
        is_kept.resize(count, false);
        Some(Kept {
            before,
            now_at,
            bodies: pairs,
            is_outline_kept,
            is_kept,
        })
    }

    /// The inside bits of a layer, if they are the same.
    pub(super) fn inside(&self, layer: usize) -> Option<Vec<u64>> {
        self.is_outline_kept[layer].then(|| self.before.inside.layers[layer].clone())
    }

    /// The outlines that are left of a layer's bodies, if they are the same.
    pub(super) fn claimed(&self, layer: usize) -> Option<LayerClaims> {
        if !self.is_outline_kept[layer] {
            return None;
        }
        let bodies = &self.bodies[layer];
        let renumbered = |old: &Claimed| {
            let body = bodies.iter().find(|pair| pair.0 == old.body)?.1;
            Some(Claimed {
                body,
                ..old.clone()
            })
        };
        let before = &self.before.claimed[layer];
        let of_bodies: Option<Vec<Claimed>> = before.of_bodies.iter().map(renumbered).collect();
        of_bodies.map(|of_bodies| LayerClaims {
            of_bodies,
            together: before.together.clone(),
        })
    }

    /// A layer as it is numbered now, if it is the same.
    pub(super) fn layer(&self, layer: usize) -> Option<Vec<BodyLayer>> {
        if !self.is_kept[layer] {
            return None;
        }
        let renumbered = |old: &BodyLayer| {
            let (facets, now_at) = (
                &self.before.facets[old.body as usize],
                &self.now_at[old.body as usize],
            );
            let mut body = old.clone();
            let bodies = &self.bodies[layer];
            body.body = bodies.iter().find(|pair| pair.0 == old.body)?.1;
            for cell in body.cells.iter_mut().filter(|c| c.facet != NO_FACET) {
                cell.facet = now_at[facets.binary_search(&cell.facet).ok()?]?.1;
            }
            Some(body)
        };
        self.before.layers[layer].iter().map(renumbered).collect()
    }
}

/// Spans of layers, counted.
struct Marks(Vec<i32>);

impl Marks {
    fn new(layers: usize) -> Marks {
        Marks(vec![0; layers + 1])
    }

    fn add(&mut self, layers: std::ops::Range<usize>) {
        if layers.start < layers.end {
            self.0[layers.start] += 1;
            self.0[layers.end] -= 1;
        }
    }

    /// For each layer, whether no span covers it.
    fn unmarked(&self) -> Vec<bool> {
        let open = self.0.iter().scan(0, |sum, step| {
            *sum += step;
            Some(*sum == 0)
        });
        open.take(self.0.len() - 1).collect()
    }
}

/// Where each facet of an earlier survey is now, and the facets that were not there before.
fn matched(before: &Survey, new: &Survey) -> (Vec<Vec<Option<Place>>>, Vec<Place>) {
    let mut now_at: Vec<Vec<Option<Place>>> =
        before.facets.iter().map(|f| vec![None; f.len()]).collect();
    let mut is_new = vec![true; new.bodies.len()];
    let mut is_gone = vec![true; before.bodies.len()];
    for (at, body) in new.bodies.iter().enumerate() {
        // Each of several bodies that are the very same counts once.
        let mut same = (0..before.bodies.len()).filter(|old| is_gone[*old]);
        if let Some(old) = same.find(|old| before.bodies[*old] == *body) {
            (is_new[at], is_gone[old]) = (false, false);
            let here = before.facets[old].iter().map(|f| Some((at as u32, *f)));
            now_at[old] = here.collect();
        }
    }
    let (old, new) = (keys(before, &is_gone), keys(new, &is_new));
    let mut found: Vec<(Place, Place)> = Vec::new();
    let mut unmatched = Vec::new();
    let mut rest = &old[..];
    for group in new.chunk_by(|a, b| a.0 == b.0) {
        let key = group[0].0;
        rest = &rest[rest.partition_point(|o| o.0 < key)..];
        let same = &rest[..rest.partition_point(|o| o.0 == key)];
        // Facets that lie upon one another cannot be told apart.
        match (same, group) {
            ([(_, a)], [(_, b)]) => found.push((*a, *b)),
            _ => unmatched.extend(group.iter().map(|g| g.1)),
        }
    }
    // Of equally near facets the lowest number wins, so the numbers have to be in the same order.
    found.sort_unstable();
    let mut last: Option<(Place, Place)> = None;
    for (a, b) in found {
        let follows = last.is_none_or(|(la, lb)| la.0 != a.0 || lb.0 != b.0 || lb.1 < b.1);
        if follows {
            if let Ok(at) = before.facets[a.0 as usize].binary_search(&a.1) {
                now_at[a.0 as usize][at] = Some(b);
            }
            last = Some((a, b));
        } else {
            unmatched.push(b);
        }
    }
    (now_at, unmatched)
}

/// All facets of the chosen bodies with what makes each what it is, in order of that.
fn keys(survey: &Survey, is_chosen: &[bool]) -> Vec<([u64; 2], Place)> {
    let mut all: Vec<([u64; 2], Place)> = Vec::new();
    for (at, body) in survey.bodies.iter().enumerate() {
        if is_chosen[at] {
            let facets = survey.facets[at].par_iter();
            all.par_extend(facets.map(|f| (key(body, *f), (at as u32, *f))));
        }
    }
    all.par_sort_unstable();
    all
}

/// 128 bits, so that two facets of any print are the same by chance less often than memory fails.
fn key(body: &Body, facet: u32) -> [u64; 2] {
    let open = &body.open;
    let [a, b, c] = open.mesh.facets[facet as usize];
    [1u8, 2].map(|salt| {
        let mut hasher = DefaultHasher::new();
        salt.hash(&mut hasher);
        for c in open.mesh.corners(facet).iter().chain([&body.shift]) {
            c.map(f64::to_bits).hash(&mut hasher);
        }
        [a < b, b < c, c < a].hash(&mut hasher);
        open.topology.across[facet as usize]
            .map(|f| f == NO_FACET)
            .hash(&mut hasher);
        open.is_inner(facet).hash(&mut hasher);
        open.parts[body.part as usize]
            .is_inside_out
            .hash(&mut hasher);
        hasher.finish()
    })
}
