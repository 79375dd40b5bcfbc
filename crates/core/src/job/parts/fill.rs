//! Inlays, sinking parts into others, and cutting overlaps.

use super::divide::not_closed;
use super::names::Names;
use super::progress::Progress;
use super::replace::NewPart;
use crate::Problem;
use crate::geometry::{dot, facet_normal};
use crate::job::apply::refuse;
use crate::job::edits::PartEdit;
use crate::job::state::Job;
use crate::limits::{CLEARANCE, SINK, check_crease};
use crate::model::Place;
use crate::solids::{
    BooleanError, Inlay, InlayError, InlayOptions, Solid, Wanted, boolean, inlay, walls_moved,
};

/// What an inlay is asked for, but for its place.
pub(super) struct InlayWish<'a> {
    pub(super) region: &'a str,
    pub(super) crease_deg: f64,
    pub(super) all: bool,
    pub(super) layers: Option<u32>,
    pub(super) clearance_mm: f64,
}

/// A relief on a part: the facets of the part's body that belong to it, and which way its face looks.
struct Relief {
    solid: Solid,
    chosen: Vec<bool>,
}

/// A part moved down into what it stands on.
pub(super) struct Sunk {
    /// Numbers of its model and of the part.
    pub(super) part: (usize, usize),
    /// The part as it would stand.
    pub(super) solid: Solid,
    /// The direction of the face that stays in sight.
    pub(super) outward: [f64; 3],
    /// By how much it is moved, mm.
    pub(super) depth_mm: f64,
}

impl<'a> InlayWish<'a> {
    /// The wish of an edit, and where it is to be made; none for an edit of another kind.
    pub(super) fn of(edit: &'a PartEdit) -> Option<(&'a Place, InlayWish<'a>)> {
        let PartEdit::Inlay {
            region,
            at,
            crease_deg,
            all,
            layers,
            clearance_mm,
            ..
        } = edit
        else {
            return None;
        };
        let wish = InlayWish {
            region,
            crease_deg: *crease_deg,
            all: *all,
            layers: *layers,
            clearance_mm: *clearance_mm,
        };
        Some((at, wish))
    }
}

impl Job {
    fn check_clearance(clearance_mm: f64) -> Result<(), Problem> {
        CLEARANCE.check(clearance_mm, "clearance_mm", |gap| {
            format!("A gap of {gap} cannot be left")
        })
    }

    fn relief_at(
        &self,
        at: &Place,
        crease_deg: f64,
        all: bool,
    ) -> Result<(usize, usize, Relief), Problem> {
        let (model, seed) = self.find(at)?;
        let m = &self.models[model];
        let part = m.open.part_of[seed as usize] as usize;
        self.check_free(model, part)?;
        let mut taken = vec![false; m.open.part_of.len()];
        for f in m.open.creases().relief(&m.open, seed, crease_deg, all) {
            taken[f as usize] = true;
        }
        let (solid, of) = Solid::of_part(&m.open, &m.labels, part as u32);
        let chosen = of.iter().map(|f| taken[*f as usize]).collect();
        Ok((model, part, Relief { solid, chosen }))
    }

    /// The inlay that is wished for at a place, with the part it goes into.
    pub(super) fn inlay_at(
        &self,
        at: &Place,
        wish: &InlayWish<'_>,
    ) -> Result<(usize, usize, Inlay), Problem> {
        check_crease(wish.crease_deg, "crease_deg")?;
        Self::check_clearance(wish.clearance_mm)?;
        if wish.layers == Some(0) {
            let message = "An inlay of no layers cannot be made";
            let mend = "Type one layer or more, or fill the whole depth.";
            return Err(refuse("layers-none", message, "layers", mend));
        }
        let (model, part, relief) = self.relief_at(at, wish.crease_deg, wish.all)?;
        let options = InlayOptions {
            thickness_mm: wish.layers.map(|n| self.top_layers_mm(&relief, n)),
            clearance_mm: wish.clearance_mm,
        };
        let name = &self.models[model].parts[part].name;
        let made =
            inlay(&relief.solid, &relief.chosen, &options).map_err(|e| inlay_problem(name, &e))?;
        Ok((model, part, made))
    }

    pub(super) fn inlay_relief(&mut self, at: &Place, wish: &InlayWish<'_>) -> Result<(), Problem> {
        let number = self.number(wish.region)?;
        let (model, part, made) = self.inlay_at(at, wish)?;
        let old = self.models[model].parts[part].clone();
        let base = format!("{} inlay", self.regions[number as usize].name);
        let name = Names::of(self).fresh(&base);
        let new = vec![
            NewPart::beside(&old, made.fill, name, number),
            NewPart::instead(&old, made.body),
        ];
        self.replace_parts(model, vec![(part, new)]);
        Ok(())
    }

    /// The height of the top n layers under a face. Off the vertical, a layer's height stands for it.
    fn top_layers_mm(&self, relief: &Relief, layers: u32) -> f64 {
        let p = &self.printer;
        let foot = self.bounds().min[2];
        let mut top = f64::NEG_INFINITY;
        let mut bottom = f64::INFINITY;
        for (f, _) in relief.chosen.iter().enumerate().filter(|(_, c)| **c) {
            for [_, _, z] in relief.solid.corners(f) {
                top = top.max(z - foot);
                bottom = bottom.min(z - foot);
            }
        }
        let looks_down = (0..relief.chosen.len())
            .filter(|f| relief.chosen[*f])
            .filter_map(|f| facet_normal(&relief.solid.corners(f)).map(|n| n[2]))
            .fold(0.0f64, |m, z| if z.abs() > m.abs() { z } else { m })
            < 0.0;
        let n = f64::from(layers - 1);
        // On the bed, the first layer is the first of them.
        if looks_down && bottom.abs() < 1e-3 {
            p.first_layer_mm + n * p.layer_mm
        } else {
            p.layer_mm * (n + 1.0)
        }
    }

    /// A part as it would stand after sinking.
    pub(super) fn sunk(
        &self,
        at: &Place,
        depth_mm: Option<f64>,
        clearance_mm: f64,
    ) -> Result<Sunk, Problem> {
        Self::check_clearance(clearance_mm)?;
        let (model, facet) = self.find(at)?;
        let open = &self.models[model].open;
        let part = open.part_of[facet as usize] as usize;
        self.check_free(model, part)?;
        let name = &self.models[model].parts[part].name;
        let outward = facet_normal(&open.mesh.corners(facet)).ok_or_else(|| {
            refuse(
                "sink-no-direction",
                "This facet has no area",
                "at",
                "Click a larger face.",
            )
        })?;
        let depth_mm = match depth_mm {
            Some(mm) => {
                SINK.check(mm, "depth_mm", |depth| {
                    format!("A part cannot be sunk by {depth}")
                })?;
                mm
            }
            None => self
                .flush_depth((model, part), at, outward)
                .ok_or_else(|| {
                    let message = format!("There is no surface of another part below {name} here");
                    let mend = "Type a depth, or stand the part on another first.";
                    refuse("sink-nothing-below", message, "at", mend)
                })?,
        };
        let solid = self.solid(model, part);
        solid.check().map_err(|f| not_closed(name, &f))?;
        Ok(Sunk {
            part: (model, part),
            solid: solid.shifted(outward.map(|c| -depth_mm * c)),
            outward,
            depth_mm,
        })
    }

    pub(super) fn sink_part(
        &mut self,
        at: &Place,
        depth_mm: Option<f64>,
        clearance_mm: f64,
        progress: Progress<'_>,
    ) -> Result<(), Problem> {
        let Sunk {
            part: (model, part),
            solid: sunk,
            outward: normal,
            ..
        } = self.sunk(at, depth_mm, clearance_mm)?;
        let old = self.models[model].parts[part].clone();
        let cutter = if clearance_mm > 0.0 {
            walls_moved(&sunk, normal, -clearance_mm)
        } else {
            sunk.clone()
        };
        // What stands in the way gives way.
        let reach = cutter.bounds();
        let mut new: Vec<Vec<(usize, Vec<NewPart>)>> =
            self.models.iter().map(|_| Vec::new()).collect();
        let mut met = false;
        let all: usize = self.models.iter().map(|m| m.parts.len()).sum();
        let mut seen = 0;
        for (m, other) in self.models.iter().enumerate() {
            for (p, of) in other.parts.iter().enumerate() {
                progress.piece(seen, all).begin()?;
                seen += 1;
                let is_near = other.open.parts[p].measures.bounds.meets(&reach, 0.0);
                if (m, p) == (model, part) || !is_near {
                    continue;
                }
                let body = self.solid(m, p);
                if body.check().is_err() {
                    continue;
                }
                let left = boolean(&body, &cutter, Wanted::Without)
                    .map_err(|e| boolean_problem([&of.name, &old.name], &e))?;
                if (left.volume_mm3() - body.volume_mm3()).abs() < 1e-6 {
                    continue;
                }
                self.check_free(m, p)?;
                if left.mesh.facets.is_empty() {
                    let message = format!("Nothing of {} would be left", of.name);
                    return Err(refuse(
                        "sink-swallows",
                        message,
                        "depth_mm",
                        "Type a smaller depth.",
                    ));
                }
                met = true;
                new[m].push((p, vec![NewPart::instead(of, left)]));
            }
        }
        if !met {
            let message = format!("{} would not reach into another part", old.name);
            return Err(refuse(
                "sink-nothing-below",
                message,
                "depth_mm",
                "Type a greater depth.",
            ));
        }
        new[model].push((part, vec![NewPart::instead(&old, sunk)]));
        for (m, bodies) in new.into_iter().enumerate().filter(|(_, b)| !b.is_empty()) {
            self.replace_parts(m, bodies);
        }
        Ok(())
    }

    /// How far below a face the surface of another part looks the same way.
    fn flush_depth(&self, own: (usize, usize), at: &Place, normal: [f64; 3]) -> Option<f64> {
        let down = normal.map(|c| -c);
        let mut nearest = f64::INFINITY;
        for (m, model) in self.models.iter().enumerate() {
            for (t, facet) in model.open.tree().hits(at.point, down) {
                let part = model.open.part_of[facet as usize] as usize;
                let looks = facet_normal(&model.open.mesh.corners(facet));
                if (m, part) != own && t > 1e-3 && looks.is_some_and(|n| dot(n, normal) > 0.7) {
                    nearest = nearest.min(t);
                }
            }
        }
        nearest.is_finite().then_some(nearest)
    }

    pub(super) fn cut_overlap(&mut self, keep: &Place, from: &Place) -> Result<(), Problem> {
        let (m, p) = self.part_at(keep)?;
        let (n, q) = self.free_part_at(from)?;
        let (kept, cut) = (
            self.models[m].parts[p].clone(),
            self.models[n].parts[q].clone(),
        );
        if (m, p) == (n, q) {
            let mend = "Choose two parts.";
            return Err(refuse(
                "overlap-itself",
                "A part cannot be cut out of itself",
                "from",
                mend,
            ));
        }
        let (keeper, body) = (self.solid(m, p), self.solid(n, q));
        let left = boolean(&body, &keeper, Wanted::Without)
            .map_err(|e| boolean_problem([&cut.name, &kept.name], &e))?;
        if left.mesh.facets.is_empty() {
            let message = format!("Nothing of {} would be left", cut.name);
            let mend = "Cut the other one instead, or drop the part.";
            return Err(refuse("overlap-swallows", message, "from", mend));
        }
        if (left.volume_mm3() - body.volume_mm3()).abs() < 1e-6 {
            let message = format!("{} and {} share no volume", kept.name, cut.name);
            return Err(refuse(
                "overlap-none",
                message,
                "from",
                "Nothing needs to be cut.",
            ));
        }
        self.replace_parts(n, vec![(q, vec![NewPart::instead(&cut, left)])]);
        Ok(())
    }
}

fn inlay_problem(name: &str, error: &InlayError) -> Problem {
    let (code, message, place, mend) = match error {
        InlayError::NotClosed(flaw) => return not_closed(name, flaw),
        InlayError::NotSunken => (
            "inlay-not-sunken",
            "This face is not sunken, so there is nothing to fill".to_string(),
            "at",
            "Click the floor of an engraving; to lower a raised part, sink it.",
        ),
        InlayError::NoRim => (
            "inlay-no-rim",
            "The face around does not close over this relief".to_string(),
            "at",
            "Choose another crease angle, or mend the model in Intake.",
        ),
        InlayError::RimNotFlat(off) => (
            "inlay-rim-not-flat",
            format!(
                "The rim is not flat: it is {off:.2} mm off, so layers cannot be counted from it"
            ),
            "layers",
            "Fill the whole depth.",
        ),
        InlayError::NoRoom => (
            "inlay-no-room",
            "This gap leaves nothing of the inlay in its narrowest place".to_string(),
            "clearance_mm",
            "Type a smaller gap.",
        ),
    };
    refuse(code, message, place, mend)
}

pub(super) fn boolean_problem(names: [&str; 2], error: &BooleanError) -> Problem {
    match error {
        BooleanError::NotClosed(which, flaw) => not_closed(names[usize::from(*which == 2)], flaw),
        BooleanError::Unclean => {
            let message = format!("{} and {} cannot be cut cleanly", names[0], names[1]);
            let mend = "Mend both models in Intake, or move one a hundredth of a millimetre.";
            refuse("cut-unclean", message, "at", mend)
        }
    }
}
