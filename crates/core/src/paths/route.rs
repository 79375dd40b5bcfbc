//! In which order beads are laid, and where each begins.
//!
//! # Source
//! Always to the nearest: Rosenkrantz, Stearns and Lewis, "An analysis of several heuristics for the traveling salesman problem",
//! 1977 (from memory).

use super::bead::{Bead, way};
use crate::machine::Seam;
use rstar::RTree;
use rstar::primitives::GeomWithData;

/// Where closed beads begin.
#[derive(Debug, Clone, Copy)]
pub(super) struct Seams {
    pub(super) how: Seam,
    /// From 0.
    pub(super) layer: usize,
}

impl Seams {
    /// A bead as it is laid by a nozzle that is at a place: turned, if it is open, or opened where its seam is to be.
    fn begun(&self, mut bead: Bead, from: [f64; 2]) -> Bead {
        if bead.line.is_empty() {
            return bead;
        }
        if !bead.is_closed {
            let last = bead.line.len() - 1;
            if way(from, bead.line[last].at) < way(from, bead.line[0].at) {
                // Widths hold for the middle of a stretch, so they may turn with their places.
                bead.line.reverse();
            }
            return bead;
        }
        let away = |at: [f64; 2]| match self.how {
            Seam::Nearest => way(from, at),
            Seam::Behind => -at[1],
            Seam::At { at: place } => way(place, at),
            Seam::Scattered => {
                // The same on every run: a turn by the golden angle from layer to layer.
                let angle = 2.399_963 * (self.layer as f64 + 1.0);
                -(at[0] * angle.cos() + at[1] * angle.sin())
            }
        };
        let first = (0..bead.line.len())
            .min_by(|a, b| away(bead.line[*a].at).total_cmp(&away(bead.line[*b].at)))
            .unwrap_or(0);
        bead.line.rotate_left(first);
        bead
    }
}

/// Places at which a bead may be begun.
fn entries(bead: &Bead) -> Vec<[f64; 2]> {
    match bead.is_closed {
        true => bead.line.iter().map(|j| j.at).collect(),
        false => {
            let ends = [bead.line.first(), bead.line.last()];
            ends.into_iter().flatten().map(|j| j.at).collect()
        }
    }
}

/// Where a nozzle is after a bead.
pub(super) fn end_of(bead: &Bead) -> Option<[f64; 2]> {
    let last = match bead.is_closed {
        true => bead.line.first(),
        false => bead.line.last(),
    };
    last.map(|j| j.at)
}

/// Beads one after the other, always the nearest next; those of one kind that follow on one another stay together in that order.
pub(super) fn in_order(beads: Vec<Bead>, seams: Seams, at: &mut [f64; 2]) -> Vec<Bead> {
    let mut laid = Vec::with_capacity(beads.len());
    let mut left = beads.into_iter().peekable();
    while let Some(first) = left.next() {
        let kind = first.kind;
        let mut alike = vec![first];
        while let Some(next) = left.next_if(|b| b.kind == kind) {
            alike.push(next);
        }
        nearest_first(alike, entries, at, |bead, at| {
            let bead = seams.begun(bead, *at);
            *at = end_of(&bead).unwrap_or(*at);
            laid.push(bead);
        });
    }
    laid
}

/// Takes things one after the other, always the one with the entry nearest to where the nozzle is, which `take` moves on.
///
/// # Cost
/// n log n in the entries.
fn nearest_first<T>(
    things: Vec<T>,
    entries: impl Fn(&T) -> Vec<[f64; 2]>,
    at: &mut [f64; 2],
    mut take: impl FnMut(T, &mut [f64; 2]),
) {
    let places: Vec<Vec<[f64; 2]>> = things.iter().map(entries).collect();
    let entry = |(number, p): (usize, [f64; 2])| GeomWithData::new(p, number);
    let all = places.iter().enumerate();
    let all = all.flat_map(|(n, places)| places.iter().map(move |p| (n, *p)));
    let mut tree = RTree::bulk_load(all.map(entry).collect());
    let mut things: Vec<Option<T>> = things.into_iter().map(Some).collect();
    while let Some(number) = tree.nearest_neighbor(*at).map(|e| e.data) {
        for p in &places[number] {
            tree.remove(&entry((number, *p)));
        }
        if let Some(thing) = things[number].take() {
            take(thing, at);
        }
    }
}

/// Islands one after the other, always the nearest next; the beads of each stay together.
pub(super) fn islands_in_order(
    islands: Vec<Vec<Bead>>,
    seams: Seams,
    at: &mut [f64; 2],
) -> Vec<Vec<Bead>> {
    let mut laid = Vec::new();
    let of_first = |island: &Vec<Bead>| island.first().map_or_else(Vec::new, entries);
    nearest_first(islands, of_first, at, |island, at| {
        laid.push(in_order(island, seams, at));
    });
    laid
}
