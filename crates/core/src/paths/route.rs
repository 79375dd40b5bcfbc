//! In which order beads are laid, and where each begins.
//!
//! # Source
//! Always to the nearest: Rosenkrantz, Stearns and Lewis, "An analysis of several heuristics for the traveling salesman problem",
//! 1977 (from memory).

use super::bead::{Bead, way};
use crate::machine::Seam;

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

    /// How far a nozzle has to go to a bead.
    fn far(&self, bead: &Bead, from: [f64; 2]) -> f64 {
        let places = bead.line.iter().map(|j| way(from, j.at));
        match bead.is_closed {
            true => places.fold(f64::INFINITY, f64::min),
            false => {
                let ends = [bead.line.first(), bead.line.last()];
                let ends = ends.into_iter().flatten().map(|j| way(from, j.at));
                ends.fold(f64::INFINITY, f64::min)
            }
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
        while !alike.is_empty() {
            let nearest = (0..alike.len())
                .min_by(|a, b| {
                    seams
                        .far(&alike[*a], *at)
                        .total_cmp(&seams.far(&alike[*b], *at))
                })
                .unwrap_or(0);
            let bead = seams.begun(alike.swap_remove(nearest), *at);
            *at = end_of(&bead).unwrap_or(*at);
            laid.push(bead);
        }
    }
    laid
}

/// Islands one after the other, always the nearest next; the beads of each stay together.
pub(super) fn islands_in_order(
    mut islands: Vec<Vec<Bead>>,
    seams: Seams,
    at: &mut [f64; 2],
) -> Vec<Bead> {
    let mut laid = Vec::new();
    let far = |island: &Vec<Bead>, from: [f64; 2]| {
        island.first().map_or(f64::INFINITY, |b| seams.far(b, from))
    };
    while !islands.is_empty() {
        let nearest = (0..islands.len())
            .min_by(|a, b| far(&islands[*a], *at).total_cmp(&far(&islands[*b], *at)))
            .unwrap_or(0);
        let island = islands.swap_remove(nearest);
        laid.extend(in_order(island, seams, at));
    }
    laid
}
