//! Strays: surface that was probably missed.

use crate::carve::{NO_PIECE, Pieces};
use crate::geometry::middle;
use crate::mesh::{facet_area, facet_normal, length, sub};
use crate::model::OpenMesh;
use serde::Serialize;

/// What kind of stray it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum StrayKind {
    /// A small spot that no region covers.
    Uncoloured,
    /// A small spot with one other region all around that was given there.
    Hole,
    /// A small spot of a region that was given, on a part's own or between several regions.
    Island,
    /// A strip narrower than a printed line.
    Sliver,
}

impl StrayKind {
    /// As a sentence begins with it.
    pub fn in_words(self) -> &'static str {
        match self {
            StrayKind::Uncoloured => "Missed spot",
            StrayKind::Hole => "Hole",
            StrayKind::Island => "Island",
            StrayKind::Sliver => "Sliver",
        }
    }
}

/// Surface that was probably missed.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Stray {
    /// What it is.
    pub kind: StrayKind,
    /// Number of its region.
    pub region: u16,
    /// Number of the region it has the longest border with.
    pub neighbour: u16,
    /// Its area, mm².
    pub area_mm2: f64,
    /// A point on it.
    pub point: [f64; 3],
    /// The outward direction there.
    pub normal: [f64; 3],
    /// What is so, and where, by which it can be left on purpose; empty until it is named.
    pub what: String,
    /// Why it is left on purpose, if it is.
    pub accepted: Option<String>,
    /// Its outline as ends of lines, mm.
    pub outline: Vec<[[f64; 3]; 2]>,
    /// Its pieces, for whoever gives them away.
    #[serde(skip)]
    pub pieces: Vec<u32>,
}

/// Lines of an outline that are sent at most; the rest is only drawn.
const MOST_LINES: usize = 4000;

/// Connected spots of one region that are smaller than `smaller_mm2`, or narrower on average than `narrower_mm`, and
/// lie beside another region; the smallest first. `region_of`: region number of a piece. Linear in the pieces.
pub fn find_strays(
    open: &OpenMesh,
    pieces: &Pieces<'_>,
    region_of: &dyn Fn(u32) -> u16,
    smaller_mm2: f64,
    narrower_mm: f64,
) -> Vec<Stray> {
    let end = pieces.end() as usize;
    let mut seen = vec![false; end];
    let mut strays = Vec::new();
    // A spot that is all of its part, or the largest of its region there, was meant.
    for seed in 0..end as u32 {
        if seen[seed as usize] || !pieces.is_piece(seed) {
            continue;
        }
        let region = region_of(seed);
        seen[seed as usize] = true;
        let mut spot = vec![seed];
        let mut next = 0;
        let (mut area, mut border) = (0.0, 0.0);
        let mut beside: Vec<(u16, f64)> = Vec::new();
        let mut touches_own = false;
        let mut outline = Vec::new();
        while let Some(&piece) = spot.get(next) {
            next += 1;
            let corners = pieces.corners(piece);
            area += facet_area(&corners);
            for (k, other) in pieces.across(piece).into_iter().enumerate() {
                if other == NO_PIECE {
                    continue;
                }
                let theirs = region_of(other);
                if theirs == region {
                    if !seen[other as usize] {
                        seen[other as usize] = true;
                        spot.push(other);
                    }
                    continue;
                }
                let ends = [corners[k], corners[(k + 1) % 3]];
                let span = length(sub(ends[1], ends[0]));
                touches_own |= pieces.label(other).is_none();
                border += span;
                if outline.len() < MOST_LINES {
                    outline.push(ends);
                }
                match beside.iter_mut().find(|(r, _)| *r == theirs) {
                    Some(entry) => entry.1 += span,
                    None => beside.push((theirs, span)),
                }
            }
        }
        let is_small = area < smaller_mm2;
        // A long strip of width w has an outline of about twice its length.
        let is_narrow = border > 0.0 && 2.0 * area / border < narrower_mm;
        if beside.is_empty() || !(is_small || is_narrow) {
            continue;
        }
        let Some(neighbour) = beside
            .iter()
            .max_by(|a, b| a.1.total_cmp(&b.1).then(b.0.cmp(&a.0)))
        else {
            continue;
        };
        let kind = if !is_small {
            StrayKind::Sliver
        } else if pieces.label(seed).is_none() {
            StrayKind::Uncoloured
        } else if beside.len() == 1 && !touches_own {
            StrayKind::Hole
        } else {
            StrayKind::Island
        };
        // The middle of its largest piece is surely on it.
        let largest = spot
            .iter()
            .copied()
            .max_by(|a, b| {
                let area = |p: u32| facet_area(&pieces.corners(p));
                area(*a).total_cmp(&area(*b)).then(b.cmp(a))
            })
            .unwrap_or(seed);
        let c = pieces.corners(largest);
        strays.push(Stray {
            kind,
            region,
            neighbour: neighbour.0,
            area_mm2: area,
            point: middle(&c),
            normal: facet_normal(&open.mesh.corners(pieces.facet(largest)))
                .unwrap_or([0.0, 0.0, 1.0]),
            what: String::new(),
            accepted: None,
            outline,
            pieces: spot,
        });
    }
    strays.sort_by(|a, b| {
        a.area_mm2
            .total_cmp(&b.area_mm2)
            .then(a.pieces.cmp(&b.pieces))
    });
    strays
}
