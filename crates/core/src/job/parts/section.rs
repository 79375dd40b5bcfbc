//! A region of a part as a part of its own, and parts cut in two.

use super::divide::not_closed;
use super::names::Names;
use super::progress::{Progress, stopped};
use super::replace::NewPart;
use crate::Problem;
use crate::geometry::{cross, dot, facet_normal, normalised, sub};
use crate::job::apply::refuse;
use crate::job::edits::{CutPlane, Depth};
use crate::job::state::Job;
use crate::limits::BODY_DEPTH;
use crate::model::Place;
use crate::solids::{
    CutError, Plane, SheetDepth, SheetError, ThroughError, cut_by_plane, sheet, straight_through,
};

fn place_words([x, y, z]: [f64; 3]) -> String {
    format!("{x:.2}, {y:.2}, {z:.2} mm")
}

impl Job {
    pub(super) fn part_from_region(
        &mut self,
        region: &str,
        at: Option<&Place>,
        depth: Depth,
        progress: Progress<'_>,
    ) -> Result<(), Problem> {
        let number = self.number(region)?;
        // None goes straight through.
        let depth = match depth {
            Depth::Soak if self.soak_mm(number).is_infinite() => None,
            Depth::Soak => Some(SheetDepth::Everywhere(self.soak_mm(number))),
            Depth::Mm { mm } => Some(SheetDepth::Everywhere(mm)),
            Depth::UpTo { mm } => Some(SheetDepth::UpTo(mm)),
            Depth::Through => None,
        };
        if let Some(depth) = depth {
            BODY_DEPTH.check(depth.mm(), "depth.mm", |depth| {
                format!("A depth of {depth} cannot be used")
            })?;
        }
        let only = at.map(|at| self.free_part_at(at)).transpose()?;
        let name = self.regions[number as usize].name.clone();
        let mut names = Names::of(self);
        let mut found = false;
        let all: usize = self.models.iter().map(|m| m.parts.len()).sum();
        let mut seen = 0;
        for model in 0..self.models.len() {
            let mut new: Vec<(usize, Vec<NewPart>)> = Vec::new();
            for part in 0..self.models[model].parts.len() {
                let piece = if only.is_some() {
                    progress
                } else {
                    progress.piece(seen, all)
                };
                seen += 1;
                if only.is_some_and(|o| o != (model, part)) {
                    continue;
                }
                piece.begin()?;
                let old = self.models[model].parts[part].clone();
                if old.own == number || (old.is_locked && only.is_none()) {
                    continue;
                }
                let solid = self.solid(model, part);
                let chosen: Vec<bool> = solid
                    .faces
                    .iter()
                    .map(|f| f.label == Some(number))
                    .collect();
                if !chosen.contains(&true) {
                    continue;
                }
                found = true;
                let go_on = |done: f64| piece.goes_on(done);
                let made = match depth {
                    Some(depth) => sheet(&solid, &chosen, depth, &go_on)
                        .map_err(|e| sheet_problem(&old.name, depth.mm(), &e))?,
                    None => straight_through(&solid, &chosen, &go_on)
                        .map_err(|e| through_problem(&old.name, &e))?,
                };
                new.push((
                    part,
                    vec![
                        NewPart::beside(&old, made.part, names.fresh(&name), number),
                        NewPart::instead(&old, made.rest),
                    ],
                ));
            }
            if !new.is_empty() {
                self.replace_parts(model, new);
            }
        }
        if found {
            return Ok(());
        }
        let message = match only {
            Some((m, p)) => format!("{} shows nothing of {name}", self.models[m].parts[p].name),
            None => format!("No part shows {name} on its surface"),
        };
        let mend = "Colour some surface with it first, without giving it the whole part.";
        Err(refuse("region-not-on-part", message, "region", mend))
    }

    pub(super) fn cut_part(
        &mut self,
        at: &Place,
        plane: &CutPlane,
        alike: bool,
        progress: Progress<'_>,
    ) -> Result<(), Problem> {
        let (model, part) = self.free_part_at(at)?;
        let plane = self.plane_of(plane)?;
        let mut names = Names::of(self);
        let all = self.part_and_twins(model, part, alike)?;
        let count = all.len();
        for (n, (model, part, twin)) in all.into_iter().enumerate() {
            progress.piece(n, count).begin()?;
            let plane = twin.map_or(plane, |t| t.plane(&plane));
            let old = self.models[model].parts[part].clone();
            let solid = self.solid(model, part);
            solid.check().map_err(|f| not_closed(&old.name, &f))?;
            let halves = cut_by_plane(&solid, &plane).map_err(|e| match e {
                CutError::Misses => {
                    let message = format!("The plane misses {}", old.name);
                    refuse(
                        "cut-misses",
                        message,
                        "plane",
                        "Choose a plane that passes through the part.",
                    )
                }
                CutError::Crossed => {
                    let message =
                        format!("The outline of {} at the plane crosses itself", old.name);
                    refuse(
                        "cut-crossed",
                        message,
                        "plane",
                        "Move the plane a little, or mend the model in Intake.",
                    )
                }
            })?;
            let name = names.numbered(&old.name);
            let new = vec![
                NewPart::beside(&old, halves.above, name, old.own),
                NewPart::instead(&old, halves.below),
            ];
            self.replace_parts(model, vec![(part, new)]);
        }
        Ok(())
    }

    fn plane_of(&self, plane: &CutPlane) -> Result<Plane, Problem> {
        let through = |normal: [f64; 3], p: [f64; 3]| Plane {
            normal,
            offset: dot(normal, p),
        };
        match plane {
            CutPlane::Height { mm } => {
                let foot = self.bounds().min[2];
                if !mm.is_finite() {
                    let mend = "Type a height in mm.";
                    return Err(refuse(
                        "cut-height",
                        "The height is not a number",
                        "plane.mm",
                        mend,
                    ));
                }
                Ok(through([0.0, 0.0, 1.0], [0.0, 0.0, foot + mm]))
            }
            CutPlane::Points { points: [a, b, c] } => {
                let normal = normalised(cross(sub(*b, *a), sub(*c, *a)));
                let finite = [a, b, c].into_iter().flatten().all(|x| x.is_finite());
                let normal = normal.filter(|_| finite).ok_or_else(|| {
                    let mend = "Click three points that are not in one line.";
                    refuse(
                        "cut-points",
                        "Three points in one line give no plane",
                        "plane.points",
                        mend,
                    )
                })?;
                Ok(through(normal, *a))
            }
            CutPlane::Face { face } => {
                let (model, facet) = self.find(face)?;
                let corners = self.models[model].open.mesh.corners(facet);
                let normal = facet_normal(&corners).ok_or_else(|| {
                    let mend = "Choose a larger facet beside it.";
                    refuse(
                        "cut-no-direction",
                        "This facet has no area",
                        "plane.face",
                        mend,
                    )
                })?;
                Ok(through(normal, corners[0]))
            }
        }
    }
}

fn sheet_problem(name: &str, depth_mm: f64, error: &SheetError) -> Problem {
    match error {
        SheetError::NotClosed(flaw) => not_closed(name, flaw),
        SheetError::Stopped => stopped(),
        SheetError::Nothing => refuse(
            "region-not-on-part",
            format!("{name} shows nothing of the region"),
            "region",
            "Colour some surface with it first.",
        ),
        SheetError::TouchesAtPoint(at) => refuse(
            "region-touches-at-point",
            format!(
                "The region touches itself at a single point, {}",
                place_words(*at)
            ),
            "region",
            "Grow or smooth its edge there, so that it joins or parts.",
        ),
        SheetError::CrossesItself(at) => refuse(
            "part-crosses-itself",
            format!("{name} passes through itself at {}", place_words(*at)),
            "at",
            "Mend the model in Intake, then try again.",
        ),
        SheetError::Folds { at, deepest_mm } => {
            let message = format!(
                "{depth_mm:.2} mm deep, the part would fold over itself at {}",
                place_words(*at)
            );
            let mend = match deepest_mm {
                Some(deepest) => format!(
                    "The deepest that works here is {deepest:.2} mm; or let it go as deep as it can in each place."
                ),
                None => "Smooth the region's edge, or go straight through.".into(),
            };
            refuse("depth-folds", message, "depth.mm", &mend)
        }
    }
}

fn through_problem(name: &str, error: &ThroughError) -> Problem {
    match error {
        ThroughError::NotClosed(flaw) => not_closed(name, flaw),
        ThroughError::Stopped => stopped(),
        ThroughError::TurnsAway(at) => refuse(
            "through-turns-away",
            format!("The region turns away from the cut at {}", place_words(*at)),
            "region",
            "Choose a region that faces one way, or a depth in mm.",
        ),
        ThroughError::NothingLeft => refuse(
            "through-nothing-left",
            format!("Nothing of {name} would be left"),
            "region",
            "Give the whole part to the region instead.",
        ),
        ThroughError::Unclean(_) => refuse(
            "cut-unclean",
            format!("{name} cannot be cut cleanly along this outline"),
            "region",
            "Smooth the region's edge, or mend the model in Intake.",
        ),
    }
}
