//! What is asked about parts before and after they are cut: meetings, the thickness of an inlay.

use super::fill::InlayWish;
use crate::Problem;
use crate::geometry::dot;
use crate::job::Models;
use crate::job::before::Before;
use crate::job::edits::PartEdit;
use crate::job::state::Job;
use crate::layers::LayerHeights;
use crate::solids::{Flaw, Meeting, Solid, meetings, narrowest};
use serde::Serialize;

/// How two parts lie to each other.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[serde(tag = "is", rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum PartMeeting {
    /// They share volume; the first owns it.
    Overlap {
        /// How much, mm³.
        volume_mm3: f64,
        /// Area over which they meet: the first's surface inside the second, mm².
        contact_mm2: f64,
    },
    /// They touch along faces and share no volume.
    Touch {
        /// Area in common, mm².
        area_mm2: f64,
    },
    /// The first lies wholly within the second, and is printed because it ranks above it.
    Enclosed {
        /// Thinnest wall around it, mm.
        wall_mm: f64,
        /// Its volume, mm³.
        volume_mm3: f64,
        /// Its surface, mm².
        contact_mm2: f64,
    },
    /// They cross, but how much they share cannot be worked out.
    Unclear,
}

/// Two parts that meet. The first is the one that owns what they share.
#[derive(Debug, Clone, PartialEq)]
pub struct PartPair {
    /// Numbers of model and part of both.
    pub parts: [(usize, usize); 2],
    /// How they meet.
    pub meeting: PartMeeting,
    /// A place where they do, mm.
    pub at: [f64; 3],
    /// What they share, if it is a body.
    pub shared: Option<Solid>,
}

/// A part of which it cannot be told what it meets: its surface is open.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct OpenPart {
    /// Numbers of model and part.
    pub part: (usize, usize),
    /// A place of the gap, mm; none if the surface encloses nothing.
    pub at: Option<[f64; 3]>,
}

/// How parts lie to each other, as far as it can be told.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct PartMeetings {
    /// Pairs that meet.
    pub pairs: Vec<PartPair>,
    /// Parts that are left out.
    pub unknown: Vec<OpenPart>,
}

/// How thick something is, in mm and in layers.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Thickness {
    /// In mm.
    pub mm: f64,
    /// Whole layers it fills when printed lying; none if it stands on edge.
    pub layers: Option<u32>,
    /// What is left over or missing to the layer grid, mm.
    pub off_grid_mm: f64,
    /// Whether it is thinner than one layer.
    pub is_under_a_layer: bool,
}

/// What an inlay, or a part that is sunk, would be.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct InlayFacts {
    /// Depth of the pocket, or by how much the part is sunk, mm.
    pub pocket_mm: f64,
    /// Thickness of the inlay.
    pub thickness: Thickness,
    /// Separate pieces.
    pub pieces: u32,
    /// Volume, mm³.
    pub volume_mm3: f64,
    /// Its narrowest place, mm.
    pub narrowest_mm: f64,
    /// Whether that is less than the width of a line.
    pub is_under_a_line: bool,
}

impl Job {
    /// All parts that overlap, touch or lie within one another. Parts with cracks and small holes are closed for the question.
    /// `step` is called as pairs are done and returns false to stop, which gives none.
    pub fn part_meetings(
        &self,
        step: &(dyn Fn(usize, usize) -> bool + Sync),
    ) -> Option<PartMeetings> {
        let listed = self.listed_parts();
        let mut of_models: Vec<Vec<Solid>> =
            (0..self.models.len()).map(|m| self.solids(m)).collect();
        let take = |(m, p): &(usize, usize)| std::mem::take(&mut of_models[*m][*p]);
        let mut solids: Vec<Solid> = listed.iter().map(take).collect();
        let mut unknown = Vec::new();
        for (at, solid) in solids.iter_mut().enumerate() {
            let Err(flaw) = solid.check() else { continue };
            match solid.closed_for_question() {
                Some(closed) => *solid = closed,
                None => unknown.push(OpenPart {
                    part: listed[at],
                    at: match flaw {
                        Flaw::Open(at) => Some(at),
                        Flaw::Empty => None,
                    },
                }),
            }
        }
        let rank = self.ranked_parts();
        let ranks = |part: (usize, usize)| rank.iter().position(|r| *r == part);
        let pairs = meetings(&solids, step)?;
        let pairs = pairs
            .into_iter()
            .map(|pair| {
                let mut parts = pair.bodies.map(|b| listed[b]);
                let is_turned = ranks(parts[0]) > ranks(parts[1]);
                if is_turned {
                    parts.swap(0, 1);
                }
                let (meeting, shared) = match pair.meeting {
                    Meeting::Overlap {
                        volume_mm3,
                        shared,
                        surfaces_mm2,
                    } => (
                        PartMeeting::Overlap {
                            volume_mm3,
                            contact_mm2: surfaces_mm2[usize::from(is_turned)],
                        },
                        Some(shared),
                    ),
                    Meeting::Touch { area_mm2 } => (PartMeeting::Touch { area_mm2 }, None),
                    Meeting::Encloses {
                        wall_mm,
                        volume_mm3,
                        area_mm2,
                    } => {
                        // The container was named first.
                        parts = [listed[pair.bodies[1]], listed[pair.bodies[0]]];
                        (
                            PartMeeting::Enclosed {
                                wall_mm,
                                volume_mm3,
                                contact_mm2: area_mm2,
                            },
                            None,
                        )
                    }
                    Meeting::Unclear(_) => (PartMeeting::Unclear, None),
                };
                PartPair {
                    parts,
                    meeting,
                    at: pair.at,
                    shared,
                }
            })
            .collect();
        Some(PartMeetings { pairs, unknown })
    }

    /// What an inlay or a sunken part would be, before it is made; none for an edit of another kind.
    ///
    /// # Errors
    /// As for making it.
    pub fn inlay_facts(&self, edit: &PartEdit) -> Result<Option<InlayFacts>, Problem> {
        if let PartEdit::Sink {
            at,
            depth_mm,
            clearance_mm,
            ..
        } = edit
        {
            let sunk = self.sunk(at, *depth_mm, *clearance_mm)?;
            let along = sunk
                .solid
                .mesh
                .vertices
                .iter()
                .map(|p| dot(*p, sunk.outward));
            let (low, high) = along.fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), x| {
                (l.min(x), h.max(x))
            });
            return Ok(Some(self.facts_of(
                &sunk.solid,
                sunk.outward,
                sunk.depth_mm,
                high - low,
            )));
        }
        let Some((at, wish)) = InlayWish::of(edit) else {
            return Ok(None);
        };
        let (_, _, made) = self.inlay_at(at, &wish)?;
        Ok(Some(self.facts_of(
            &made.fill,
            made.outward,
            made.pocket_mm,
            made.thickness_mm,
        )))
    }

    fn facts_of(
        &self,
        fill: &Solid,
        outward: [f64; 3],
        pocket_mm: f64,
        thickness_mm: f64,
    ) -> InlayFacts {
        let narrowest_mm = narrowest(fill, outward);
        let foot = self.bounds().min[2];
        let b = fill.bounds();
        let is_lying = outward[2].abs() > 0.99;
        InlayFacts {
            pocket_mm,
            thickness: self.thickness(
                thickness_mm,
                is_lying.then_some((b.min[2] - foot, b.max[2] - foot)),
            ),
            pieces: fill.pieces() as u32,
            volume_mm3: fill.volume_mm3(),
            narrowest_mm,
            is_under_a_line: narrowest_mm < self.printer.line_width_mm,
        }
    }

    /// A thickness in layers: those whose middle lies between two heights above the bed.
    fn thickness(&self, mm: f64, heights: Option<(f64, f64)>) -> Thickness {
        let p = &self.printer;
        let grid = LayerHeights::new(
            self.bounds().size()[2] + p.layer_mm,
            p.first_layer_mm,
            p.layer_mm,
        );
        let layers = heights.map(|(low, high)| grid.cut_by(low, high).len() as u32);
        let off = |z: f64| {
            let edges = grid.spans.iter().flat_map(|(a, b)| [*a, *b]);
            edges.map(|e| (e - z).abs()).fold(f64::INFINITY, f64::min)
        };
        Thickness {
            mm,
            layers,
            off_grid_mm: heights.map_or(0.0, |(low, high)| off(low).max(off(high))),
            is_under_a_layer: mm < p.layer_mm - 1e-9,
        }
    }
}

/// A part as an edit would make it.
#[derive(Debug, Clone, PartialEq)]
pub struct MadePart {
    /// Its name.
    pub name: String,
    /// Number of its own region.
    pub own: u16,
    /// Whether there was no such part before.
    pub is_new: bool,
    /// The body, as it would stand.
    pub solid: Solid,
}

impl Job {
    /// The parts an edit would make or change, without making them: those that are new first.
    ///
    /// # Errors
    /// As for the edit.
    pub fn parts_made(
        &self,
        edit: &PartEdit,
        models: &dyn Models,
    ) -> Result<Vec<MadePart>, Problem> {
        let mut then = self.clone();
        then.edit_parts(edit, &mut Before::whole(self), models)?;
        let parts = |job: &Job| -> Vec<(u32, (usize, usize))> {
            let all = job.models.iter().enumerate();
            all.flat_map(|(m, model)| {
                model
                    .parts
                    .iter()
                    .enumerate()
                    .map(move |(p, part)| (part.key, (m, p)))
            })
            .collect()
        };
        let before = parts(self);
        let volume =
            |job: &Job, (m, p): (usize, usize)| job.models[m].open.parts[p].measures.volume_mm3;
        let mut made = Vec::new();
        for (key, at) in parts(&then) {
            let old = before.iter().find(|(k, _)| *k == key);
            let is_same =
                old.is_some_and(|(_, was)| (volume(self, *was) - volume(&then, at)).abs() < 1e-9);
            if !is_same {
                let part = &then.models[at.0].parts[at.1];
                made.push(MadePart {
                    name: part.name.clone(),
                    own: part.own,
                    is_new: old.is_none(),
                    solid: then.solid(at.0, at.1),
                });
            }
        }
        made.sort_by_key(|m| !m.is_new);
        Ok(made)
    }
}
