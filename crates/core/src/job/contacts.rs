//! Where the plastics of two regions touch inside the print, and over what area.

use super::parts::{PartMeeting, PartPair};
use super::state::Job;
use crate::carve::{NO_PIECE, Pieces};
use crate::geometry::{facet_area, length, sub};
use serde::Serialize;
use std::collections::BTreeMap;

/// Two regions that touch.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Contact {
    /// Numbers of the two, ascending.
    pub regions: [u16; 2],
    /// Area over which they touch, mm².
    pub area_mm2: f64,
    /// A place where they do, mm.
    pub at: [f64; 3],
    /// Model and part of the two parts that touch most as these regions, in the regions' order; none where it is colour on one part.
    pub parts: Option<[(usize, usize); 2]>,
}

/// Model and part of each of two parts.
type TwoParts = [(usize, usize); 2];

impl Job {
    /// All pairs of regions that touch, in order.
    ///
    /// Parts meet over the area that `pairs` has for them, as their own regions. Colour on the surface of a part lies on
    /// the part's own region over its whole area, and along its border stands beside its neighbour down to the lesser of
    /// the two soak depths, and beside the part's own region from there down to the greater. That is exact for a flat
    /// surface with a smooth border and deep enough a part; on a curved one it is off by the soak depth over the radius.
    ///
    /// Linear in the pieces of all models.
    pub fn contacts(&self, pairs: &[PartPair]) -> Vec<Contact> {
        let mut found: BTreeMap<[u16; 2], (f64, [f64; 3])> = BTreeMap::new();
        let mut of_parts: BTreeMap<[u16; 2], (f64, TwoParts)> = BTreeMap::new();
        let mut add = |a: u16, b: u16, area: f64, at: [f64; 3]| {
            if a != b && area > 0.0 {
                found.entry([a.min(b), a.max(b)]).or_insert((0.0, at)).0 += area;
            }
        };
        for pair in pairs {
            let own = pair.parts.map(|(m, p)| self.models[m].parts[p].own);
            let is_there = pair
                .parts
                .iter()
                .all(|(m, p)| self.models[*m].parts[*p].is_printed);
            let area = match pair.meeting {
                PartMeeting::Overlap { contact_mm2, .. }
                | PartMeeting::Enclosed { contact_mm2, .. } => contact_mm2,
                PartMeeting::Touch { area_mm2 } => area_mm2,
                PartMeeting::Unclear => 0.0,
            };
            if is_there {
                add(own[0], own[1], area, pair.at);
                let is_turned = own[0] > own[1];
                let (key, parts) = match is_turned {
                    true => ([own[1], own[0]], [pair.parts[1], pair.parts[0]]),
                    false => (own, pair.parts),
                };
                let most = of_parts.entry(key).or_insert((0.0, parts));
                if area > most.0 {
                    *most = (area, parts);
                }
            }
        }
        for (index, model) in self.models.iter().enumerate() {
            if model.labels.is_plain() {
                continue;
            }
            let pieces = Pieces::of(&model.open, &model.labels);
            let part = |p: u32| &model.parts[model.open.part_of[pieces.facet(p) as usize] as usize];
            let region = |p: u32| self.region_of_label(index, pieces.facet(p), pieces.label(p));
            let soak = |r: u16, own: u16| {
                if r == own {
                    f64::INFINITY
                } else {
                    self.soak_mm(r)
                }
            };
            for piece in (0..pieces.end()).filter(|p| pieces.is_piece(*p)) {
                let (own, is_printed) = (part(piece).own, part(piece).is_printed);
                let here = region(piece);
                if !is_printed || here == own {
                    continue;
                }
                let corners = pieces.corners(piece);
                add(here, own, facet_area(&corners), corners[0]);
                for (side, other) in pieces.across(piece).into_iter().enumerate() {
                    if other == NO_PIECE {
                        continue;
                    }
                    let there = region(other);
                    // A border between two colours is seen from both of them: it counts once.
                    if there == here || (there != own && there < here) {
                        continue;
                    }
                    let ends = [corners[side], corners[(side + 1) % 3]];
                    let border = length(sub(ends[1], ends[0]));
                    let (mine, theirs) = (soak(here, own), soak(there, own));
                    add(here, there, border * mine.min(theirs), ends[0]);
                    if there != own {
                        let deeper = if mine > theirs { here } else { there };
                        add(deeper, own, border * (mine - theirs).abs(), ends[0]);
                    }
                }
            }
        }
        found
            .into_iter()
            .map(|(regions, (area_mm2, at))| Contact {
                regions,
                area_mm2,
                at,
                parts: of_parts.get(&regions).map(|(_, parts)| *parts),
            })
            .collect()
    }
}
