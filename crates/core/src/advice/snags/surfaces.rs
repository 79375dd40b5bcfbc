//! The regions' surfaces as snags look at them: how high they reach on each part, and what stands beside their tops.

use crate::carve::{NO_PIECE, Pieces};
use crate::geometry::middle;
use crate::job::Job;
use crate::mesh::{facet_area, facet_normal, length, sub};
use crate::model::Place;
use std::collections::BTreeMap;

/// How upright a face that looks up is, as the height of its normal.
const UPWARD: f64 = 0.99;

/// The same of a wall, at most.
const STEEP: f64 = 0.3;

/// Steps in which heights of tops count as the same, mm.
const SAME_MM: f64 = 0.01;

/// Model, part and region.
pub(super) type On = (usize, u32, u16);

/// How far a region reaches on a part.
#[derive(Debug, Clone, Copy)]
pub(super) struct Span {
    /// Lowest and highest point above the bed, mm.
    pub(super) low_mm: f64,
    pub(super) high_mm: f64,
    pub(super) area_mm2: f64,
    /// Area that looks straight up at the highest point.
    pub(super) top_mm2: f64,
}

/// Level faces of a region on a part, at one height, that look up.
#[derive(Debug, Clone)]
pub(super) struct Top {
    pub(super) z_mm: f64,
    pub(super) area_mm2: f64,
    /// A place on one of them.
    pub(super) at: Place,
    /// Length of the borders at which a wall of another region goes down, mm, and the region.
    pub(super) bare_mm: f64,
    pub(super) wall: u16,
}

/// All of it.
pub(super) struct Surfaces {
    pub(super) spans: BTreeMap<On, Span>,
    pub(super) tops: BTreeMap<(On, i64), Top>,
}

impl Surfaces {
    /// Looks once at every piece of every model.
    pub(super) fn of(job: &Job) -> Surfaces {
        let foot = job.bounds().min[2];
        let mut found = Surfaces {
            spans: BTreeMap::new(),
            tops: BTreeMap::new(),
        };
        for (model, m) in job.models.iter().enumerate() {
            let pieces = Pieces::of(&m.open, &m.labels);
            for piece in (0..pieces.end()).filter(|p| pieces.is_piece(*p)) {
                let corners = pieces.corners(piece);
                let facet = pieces.facet(piece);
                let part = m.open.part_of[facet as usize];
                if !m.parts[part as usize].is_printed {
                    continue;
                }
                let region = job.region_of_label(model, facet, pieces.label(piece));
                let on = (model, part, region);
                let area = facet_area(&corners);
                let normal = facet_normal(&corners).unwrap_or([0.0; 3]);
                let z = corners.map(|c| c[2] - foot);
                let (low, high) = (z[0].min(z[1]).min(z[2]), z[0].max(z[1]).max(z[2]));
                let span = found.spans.entry(on).or_insert(Span {
                    low_mm: low,
                    high_mm: high,
                    area_mm2: 0.0,
                    top_mm2: 0.0,
                });
                span.low_mm = span.low_mm.min(low);
                span.area_mm2 += area;
                if high > span.high_mm + 1e-6 {
                    span.high_mm = high;
                    span.top_mm2 = 0.0;
                }
                if normal[2] < UPWARD {
                    continue;
                }
                if high >= span.high_mm - 1e-6 {
                    span.top_mm2 += area;
                }
                let key = (on, (high / SAME_MM).round() as i64);
                let top = found.tops.entry(key).or_insert_with(|| Top {
                    z_mm: high,
                    area_mm2: 0.0,
                    at: Place {
                        model: m.name.clone(),
                        point: middle(&corners),
                        normal,
                    },
                    bare_mm: 0.0,
                    wall: 0,
                });
                top.area_mm2 += area;
                for (side, other) in pieces.across(piece).into_iter().enumerate() {
                    if other == NO_PIECE {
                        continue;
                    }
                    let beside = pieces.corners(other);
                    let is_wall = facet_normal(&beside).is_some_and(|n| n[2].abs() < STEEP)
                        && middle(&beside)[2] - foot < high - 1e-6;
                    let theirs =
                        job.region_of_label(model, pieces.facet(other), pieces.label(other));
                    if is_wall && theirs != region {
                        top.bare_mm += length(sub(corners[(side + 1) % 3], corners[side]));
                        top.wall = theirs;
                    }
                }
            }
        }
        found
    }
}
