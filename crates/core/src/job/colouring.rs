//! What the tools of Colour take: from an edit to the facets that change.

use super::apply::refuse;
use super::drawn::Ask;
use super::edits::{Edit, GiveEdit};
use super::laying::{Drawings, Laid};
use super::state::{Job, OWN_REGION};
use crate::Problem;
use crate::carve::{Held, Label, Pieces, painted};
use crate::drawing::DrawingSource;
use crate::limits::{TURN, check_crease};
use crate::mesh::facet_area;
use crate::regions::{Limits, Within};
use std::sync::Arc;

/// What an edit changes on one model: facets in ascending order, with what they have afterwards.
pub(super) struct Taken {
    pub(super) model: usize,
    pub(super) changes: Vec<(u32, Held)>,
}

impl Taken {
    /// What was taken, if it was anything.
    ///
    /// # Errors
    /// A refusal of this code: what is wrong, where, and what to do.
    pub(super) fn some(
        taken: Vec<Taken>,
        code: &str,
        nothing: &str,
        place: &str,
        mend: &str,
    ) -> Result<Vec<Taken>, Problem> {
        match taken.iter().any(|t| !t.changes.is_empty()) {
            true => Ok(taken),
            false => Err(refuse(code, nothing, place, mend)),
        }
    }
}

/// What an edit would take, for showing it before it is done.
#[derive(Debug, Clone, PartialEq)]
pub struct Preview {
    /// Its area, mm².
    pub area_mm2: f64,
    /// For each model, the pieces it takes: whole facets by number, then triangles of divided ones counted on from
    /// there, as [`Pieces`] numbers them.
    pub pieces: Vec<Vec<u32>>,
    /// How many separate parts or patches it takes.
    pub count: usize,
}

impl Job {
    /// The region an edit gives surface to; none for the part's own.
    pub(super) fn taker(&self, region: &str) -> Result<Option<u16>, Problem> {
        if region == OWN_REGION {
            return Ok(None);
        }
        self.number(region).map(Some)
    }

    /// Region number of a label on a facet of a model.
    pub fn region_of_label(&self, model: usize, facet: u32, label: Label) -> u16 {
        let m = &self.models[model];
        label.unwrap_or_else(|| m.parts[m.open.part_of[facet as usize] as usize].own)
    }

    /// What becomes of a label when its surface is given to a region: protected regions keep theirs.
    pub(super) fn given(&self, model: usize, facet: u32, label: Label, to: Option<u16>) -> Label {
        let now = self.region_of_label(model, facet, label);
        let m = &self.models[model];
        if m.parts[m.open.part_of[facet as usize] as usize].is_locked {
            return label;
        }
        if self.regions[now as usize].is_protected {
            return label;
        }
        let own = self.region_of_label(model, facet, None);
        to.filter(|region| *region != own)
    }

    /// Facets whose pieces are given to a region.
    pub(super) fn give_facets(
        &self,
        model: usize,
        facets: &[u32],
        to: Option<u16>,
    ) -> Vec<(u32, Held)> {
        let m = &self.models[model];
        let paint = |f: u32, _: [f64; 3], l: Label| self.given(model, f, l, to);
        let new = |f: &u32| painted(&m.open, &m.labels, *f, &paint).map(|held| (*f, held));
        facets.iter().filter_map(new).collect()
    }

    /// Single pieces, ascending, passed through `paint`.
    fn paint_pieces(
        &self,
        model: usize,
        pieces: &Pieces<'_>,
        chosen: &[u32],
        paint: &dyn Fn(u32, Label) -> Label,
    ) -> Vec<(u32, Held)> {
        let m = &self.models[model];
        let mut changes = Vec::new();
        for group in chosen.chunk_by(|a, b| pieces.facet(*a) == pieces.facet(*b)) {
            let facet = pieces.facet(group[0]);
            let held = match m.labels.held(facet) {
                Held::Whole(label) => Held::Whole(paint(facet, label)),
                Held::Divided(divided) => {
                    let is_chosen = |t: usize| {
                        let same = |p: &u32| pieces.triangle(*p) == Some(t as u32);
                        group.iter().any(same)
                    };
                    let new =
                        divided.relabelled(|t, l| if is_chosen(t) { paint(facet, l) } else { l });
                    Held::Divided(Arc::new(new))
                }
            };
            if held != m.labels.held(facet) {
                changes.push((facet, held));
            }
        }
        changes.sort_by_key(|(f, _)| *f);
        changes
    }

    /// What a tool of Colour takes.
    pub(super) fn taken(
        &self,
        edit: &GiveEdit,
        drawings: Drawings<'_>,
        go_on: Ask<'_>,
    ) -> Result<Vec<Taken>, Problem> {
        let one = |model: usize, changes: Vec<(u32, Held)>| vec![Taken { model, changes }];
        Ok(match edit {
            GiveEdit::GivePatch {
                region,
                at,
                crease_deg,
                within,
                turn_deg,
            } => {
                check_crease(*crease_deg, "crease_deg")?;
                if let Some(turn) = turn_deg {
                    let words = |turn: &str| format!("A turn of {turn} cannot be the limit");
                    TURN.check(*turn, "turn_deg", words)?;
                }
                let to = self.taker(region)?;
                let (model, seed) = self.find(at)?;
                let m = &self.models[model];
                let creases = m.open.creases();
                if *within == Within::Part && turn_deg.is_none() {
                    let facets = creases.flood(&m.open.topology, seed, *crease_deg);
                    return Ok(one(model, self.give_facets(model, &facets, to)));
                }
                let pieces = Pieces::of(&m.open, &m.labels);
                let region_of =
                    |p: u32| self.region_of_label(model, pieces.facet(p), pieces.label(p));
                let limits = Limits {
                    pieces: &pieces,
                    region_of: (*within == Within::Region).then_some(&region_of),
                    turn_deg: *turn_deg,
                    crosses_parts: *within == Within::Everywhere,
                };
                let start = pieces.at(seed, at.point);
                let chosen = creases.flood_within(&m.open, start, *crease_deg, &limits);
                let paint = |f: u32, l: Label| self.given(model, f, l, to);
                one(model, self.paint_pieces(model, &pieces, &chosen, &paint))
            }
            GiveEdit::GiveRelief {
                region,
                at,
                crease_deg,
                all,
                ..
            } => {
                check_crease(*crease_deg, "crease_deg")?;
                let to = self.taker(region)?;
                let (model, seed) = self.find(at)?;
                let open = &self.models[model].open;
                let facets = open.creases().relief(open, seed, *crease_deg, *all);
                one(model, self.give_facets(model, &facets, to))
            }
            GiveEdit::GiveStroke {
                region,
                reach,
                stroke,
            } => {
                let to = self.taker(region)?;
                let model = self.model_number(&stroke.model)?;
                one(model, self.stroke(model, stroke, *reach, to, go_on)?)
            }
            GiveEdit::GiveFacets { region, at, flat } => {
                let to = self.taker(region)?;
                self.single_facets(at, *flat, to)?
            }
            GiveEdit::GiveBand { region, .. } => {
                let to = self.taker(region)?;
                self.bands(edit, to, go_on)?
            }
            GiveEdit::GiveChange { .. } => self.change_taken(edit, go_on)?,
            GiveEdit::GiveLasso {
                region,
                outline,
                sight,
                through,
            } => {
                let to = self.taker(region)?;
                self.lasso(outline, sight, *through, to, go_on)?
            }
            GiveEdit::GiveDrawing {
                drawing,
                laying,
                regions,
                model,
            } => {
                let model = model.as_deref();
                let laid = Laid {
                    drawing,
                    laying,
                    regions,
                    model,
                };
                self.lay(&laid, drawings, go_on)?
            }
            GiveEdit::GiveTone { .. } => self.tone(edit, go_on)?,
            GiveEdit::GiveSpeckles { .. } => self.speckles(edit, go_on)?,
            GiveEdit::GiveAlike {
                region,
                at,
                to,
                crease_deg,
            } => self.alike(region, at, *to, *crease_deg)?.0,
            GiveEdit::GrowRegion { region, by_mm } => self.grow(region, *by_mm, go_on)?,
            GiveEdit::SmoothRegion { region, by_mm } => self.smooth(region, *by_mm, go_on)?,
            GiveEdit::InvertRegion { region } => {
                let number = self.number(region)?;
                self.exchanged("nothing-to-invert", &|now| match now {
                    0 => Some(number),
                    now if now == number => Some(0),
                    _ => None,
                })?
            }
            GiveEdit::GiveRest { region } => {
                let number = self.number(region)?;
                self.exchanged("nothing-left", &|now| (now == 0).then_some(number))?
            }
            GiveEdit::GiveStray { at } => self.stray(at)?,
            GiveEdit::GiveStrays {
                smaller_mm2,
                narrower_mm,
            } => self.strays_away(*smaller_mm2, *narrower_mm)?,
        })
    }

    /// Regions exchanged all over: `to` says for the number of a region which one gets its surface, if another does.
    fn exchanged(
        &self,
        nothing: &str,
        to: &dyn Fn(u16) -> Option<u16>,
    ) -> Result<Vec<Taken>, Problem> {
        let mut taken = Vec::new();
        for (model, m) in self.models.iter().enumerate() {
            let paint = |f: u32, _: [f64; 3], l: Label| match to(self.region_of_label(model, f, l))
            {
                Some(region) => self.given(model, f, l, Some(region)),
                None => l,
            };
            let changes: Vec<(u32, Held)> = (0..m.labels.len() as u32)
                .filter_map(|f| painted(&m.open, &m.labels, f, &paint).map(|h| (f, h)))
                .collect();
            taken.push(Taken { model, changes });
        }
        let message = "There is no surface left that this would change";
        let mend = "Choose another region, or take the protection off.";
        Taken::some(taken, nothing, message, "region", mend)
    }

    /// What an edit of Colour would take, without doing it. Bands, strokes and outlines are shown as they are drawn and
    /// have no preview.
    ///
    /// # Errors
    /// What the edit itself would be refused for; `preview-none` for an edit that has none.
    pub fn preview(&self, edit: &Edit) -> Result<Preview, Problem> {
        let (taken, count) = match edit {
            Edit::Give(GiveEdit::GiveAlike {
                region,
                at,
                to,
                crease_deg,
            }) => self.alike(region, at, *to, *crease_deg)?,
            // What a drawing takes is seen once it is laid.
            Edit::Give(GiveEdit::GiveDrawing { .. }) => (Vec::new(), 0),
            Edit::Give(edit) => {
                let none = |_: &DrawingSource| Ok(Arc::default());
                (self.taken(edit, &none, &|| true)?, 1)
            }
            _ => (Vec::new(), 1),
        };
        let mut area_mm2 = 0.0;
        let mut pieces: Vec<Vec<u32>> = vec![Vec::new(); self.models.len()];
        for Taken { model, changes } in taken {
            let m = &self.models[model];
            let view = Pieces::of(&m.open, &m.labels);
            for (facet, held) in changes {
                match (m.labels.held(facet), held) {
                    (Held::Divided(old), Held::Divided(new))
                        if old.triangles.len() == new.triangles.len() =>
                    {
                        let first = view.first_of(facet);
                        for t in 0..new.triangles.len() {
                            if old.labels[t] != new.labels[t] {
                                pieces[model].push(first + t as u32);
                                area_mm2 += facet_area(&view.corners(first + t as u32));
                            }
                        }
                    }
                    _ => {
                        pieces[model].push(facet);
                        area_mm2 += m.open.facet_areas()[facet as usize];
                    }
                }
            }
            pieces[model].sort_unstable();
        }
        Ok(Preview {
            area_mm2,
            pieces,
            count,
        })
    }
}
