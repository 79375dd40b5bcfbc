//! Parts by their shells: split, joined, dropped.

use super::names::Names;
use super::progress::Progress;
use super::replace::NewPart;
use crate::geometry::{Bounds, dot};
use crate::job::apply::refuse;
use crate::job::edits::Fragments;
use crate::job::state::Job;
use crate::model::Place;
use crate::solids::{Flaw, Solid, split_shells};
use crate::{Problem, figure};

/// A refusal for a part that is not a solid body.
pub(super) fn not_closed(name: &str, flaw: &Flaw) -> Problem {
    let message = match flaw {
        Flaw::Open([x, y, z]) => {
            format!("{name} is not closed: its surface has a gap at {x:.2}, {y:.2}, {z:.2} mm")
        }
        Flaw::Empty => format!("{name} encloses no volume"),
    };
    refuse(
        "part-not-closed",
        message,
        "at",
        "Mend the model in Intake, then try again.",
    )
}

impl Job {
    pub(super) fn split_part(
        &mut self,
        at: &Place,
        smaller_mm3: f64,
        fragments: Fragments,
        alike: bool,
        progress: Progress<'_>,
    ) -> Result<(), Problem> {
        let (model, part) = self.free_part_at(at)?;
        let all = self.part_and_twins(model, part, alike)?;
        for (n, (m, p, _)) in all.iter().enumerate() {
            progress.piece(n, all.len()).begin()?;
            self.split_one(*m, *p, smaller_mm3, fragments)?;
        }
        Ok(())
    }

    fn split_one(
        &mut self,
        model: usize,
        part: usize,
        smaller_mm3: f64,
        fragments: Fragments,
    ) -> Result<(), Problem> {
        let old = self.models[model].parts[part].clone();
        let bodies = split_shells(&self.solid(model, part));
        if bodies.len() < 2 {
            let message = format!("{} is one single shell", old.name);
            let mend = "Cut it by a plane, or make a region of it a part.";
            return Err(refuse("split-one-shell", message, "at", mend));
        }
        let (mut large, small): (Vec<Solid>, Vec<Solid>) = bodies
            .into_iter()
            .partition(|b| fragments == Fragments::Keep || b.volume_mm3().abs() >= smaller_mm3);
        if large.is_empty() {
            let message = format!(
                "All shells of {} are smaller than {} mm³",
                old.name,
                figure(smaller_mm3)
            );
            return Err(refuse(
                "split-all-small",
                message,
                "smaller_mm3",
                "Type a smaller volume.",
            ));
        }
        if fragments == Fragments::Join {
            let boxes: Vec<_> = large.iter().map(Solid::bounds).collect();
            for fragment in small {
                let middle = fragment.bounds().centre();
                let nearest = nearest_box(&boxes, middle);
                large[nearest].append(&fragment);
            }
        }
        let mut names = Names::of(self);
        let mut new = Vec::new();
        for (n, body) in large.into_iter().enumerate() {
            new.push(if n == 0 {
                NewPart::instead(&old, body)
            } else {
                NewPart::beside(&old, body, names.numbered(&old.name), old.own)
            });
        }
        self.replace_parts(model, vec![(part, new)]);
        Ok(())
    }

    pub(super) fn join_parts(&mut self, at: &[Place]) -> Result<(), Problem> {
        let mut chosen: Vec<(usize, usize)> = Vec::new();
        for place in at {
            let part = self.free_part_at(place)?;
            if !chosen.contains(&part) {
                chosen.push(part);
            }
        }
        if chosen.len() < 2 {
            let mend = "Choose two or more parts of the list.";
            return Err(refuse(
                "join-one",
                "One part alone cannot be joined",
                "at",
                mend,
            ));
        }
        let model = chosen[0].0;
        if let Some((other, _)) = chosen.iter().find(|(m, _)| *m != model) {
            let message = format!(
                "{} and {} are different models",
                self.models[model].name, self.models[*other].name
            );
            let mend = "Join parts of one model; a group holds parts of several.";
            return Err(refuse("join-models", message, "at", mend));
        }
        let first = self.models[model].parts[chosen[0].1].clone();
        let mut whole = Solid::default();
        let mut solids = self.solids(model);
        for (_, part) in &chosen {
            let mut solid = std::mem::take(&mut solids[*part]);
            solid.relabelled(self.models[model].parts[*part].own, first.own);
            whole.append(&solid);
        }
        let mut new: Vec<(usize, Vec<NewPart>)> =
            chosen[1..].iter().map(|(_, p)| (*p, Vec::new())).collect();
        new.push((chosen[0].1, vec![NewPart::instead(&first, whole)]));
        self.replace_parts(model, new);
        Ok(())
    }

    pub(super) fn drop_part(&mut self, at: &Place) -> Result<(), Problem> {
        let (model, part) = self.free_part_at(at)?;
        if self.models[model].parts.len() == 1 {
            let message = format!(
                "{} is all there is of its model",
                self.models[model].parts[part].name
            );
            let mend = "Take the model out in Intake instead.";
            return Err(refuse("drop-last", message, "at", mend));
        }
        self.replace_parts(model, vec![(part, Vec::new())]);
        Ok(())
    }

    /// Joins or drops parts under a volume.
    pub(super) fn tidy_parts(
        &mut self,
        smaller_mm3: f64,
        fragments: Fragments,
    ) -> Result<(), Problem> {
        let mut found = false;
        for model in 0..self.models.len() {
            let m = &self.models[model];
            let volume = |p: &usize| m.open.parts[*p].measures.volume_mm3.abs();
            let (small, large): (Vec<usize>, Vec<usize>) = (0..m.parts.len())
                .filter(|p| !m.parts[*p].is_locked)
                .partition(|p| volume(p) < smaller_mm3);
            if small.is_empty() || large.is_empty() || fragments == Fragments::Keep {
                continue;
            }
            found = true;
            let mut new: Vec<(usize, Vec<NewPart>)> =
                small.iter().map(|p| (*p, Vec::new())).collect();
            if fragments == Fragments::Join {
                let boxes: Vec<_> = large
                    .iter()
                    .map(|p| m.open.parts[*p].measures.bounds)
                    .collect();
                let mut grown: Vec<Option<Solid>> = vec![None; large.len()];
                let mut solids = self.solids(model);
                for p in &small {
                    let to = nearest_box(&boxes, m.open.parts[*p].measures.bounds.centre());
                    let mut fragment = std::mem::take(&mut solids[*p]);
                    fragment.relabelled(m.parts[*p].own, m.parts[large[to]].own);
                    grown[to]
                        .get_or_insert_with(|| std::mem::take(&mut solids[large[to]]))
                        .append(&fragment);
                }
                for (p, solid) in large.iter().zip(grown) {
                    if let Some(solid) = solid {
                        new.push((*p, vec![NewPart::instead(&m.parts[*p], solid)]));
                    }
                }
            }
            self.replace_parts(model, new);
        }
        if found {
            return Ok(());
        }
        let message = format!(
            "No part is smaller than {} mm³ beside a larger one of its model",
            figure(smaller_mm3)
        );
        let mend = "Type another volume.";
        Err(refuse("tidy-nothing", message, "smaller_mm3", mend))
    }
}

fn nearest_box(boxes: &[Bounds], p: [f64; 3]) -> usize {
    let away = |b: &Bounds| {
        let d = [0, 1, 2].map(|i| (b.min[i] - p[i]).max(p[i] - b.max[i]).max(0.0));
        dot(d, d)
    };
    let best = boxes
        .iter()
        .enumerate()
        .min_by(|a, b| away(a.1).total_cmp(&away(b.1)));
    best.map_or(0, |(i, _)| i)
}
