//! What an edit overwrote, and taking it back.

use super::edits::{Edit, Touches};
use super::history::Models;
use super::state::{Job, JobModel};
use crate::Problem;
use crate::carve::{Held, Labels};
use crate::layers::Touched;
use std::sync::Arc;

/// What an edit overwrote, enough to take it back.
pub(super) struct Before {
    /// The job without its labels; meshes of models that were moved are made anew from their bases.
    pub(super) job: Job,
    labels: Kept,
}

enum Kept {
    /// For each model: facets that changed, with what they had.
    Changed(Vec<Vec<(u32, Held)>>),
    /// All labels of all models: the facets themselves were changed.
    Whole(Vec<Labels>),
    /// What each of several edits overwrote, in the order they were done.
    Several(Vec<Before>),
}

impl Before {
    /// Whether it keeps meshes that the job no longer has.
    pub(super) fn is_heavy(&self) -> bool {
        match &self.labels {
            Kept::Whole(_) => true,
            Kept::Changed(_) => false,
            Kept::Several(all) => all.iter().any(Before::is_heavy),
        }
    }

    /// Facets of all meshes it keeps.
    pub(super) fn facets(&self) -> usize {
        let models = self.job.models.iter();
        models.map(|m| m.base.mesh.facets.len()).sum()
    }

    pub(super) fn changed(job: &Job) -> Before {
        Before {
            job: job.without_labels(),
            labels: Kept::Changed(vec![Vec::new(); job.models.len()]),
        }
    }

    /// Everything of a job.
    pub(super) fn whole(job: &Job) -> Before {
        Before {
            job: job.without_labels(),
            labels: Kept::Whole(job.models.iter().map(|m| m.labels.clone()).collect()),
        }
    }

    pub(super) fn note(&mut self, model: usize, facet: u32, held: Held) {
        if let Kept::Changed(changed) = &mut self.labels {
            changed[model].push((facet, held));
        }
    }

    /// Facets of each model whose labels changed, as far as they are the same facets as before.
    pub(super) fn facets_changed(&self) -> Vec<Vec<u32>> {
        match &self.labels {
            Kept::Changed(changed) => {
                let facets = |model: &Vec<(u32, Held)>| {
                    let mut facets: Vec<u32> = model.iter().map(|(f, _)| *f).collect();
                    facets.sort_unstable();
                    facets.dedup();
                    facets
                };
                changed.iter().map(facets).collect()
            }
            Kept::Whole(_) => Vec::new(),
            Kept::Several(all) => {
                let mut facets: Vec<Vec<u32>> = vec![Vec::new(); self.job.models.len()];
                for one in all {
                    for (model, more) in facets.iter_mut().zip(one.facets_changed()) {
                        model.extend(more);
                        model.sort_unstable();
                        model.dedup();
                    }
                }
                facets
            }
        }
    }

    /// What an edit changed of what the layers are divided by, once it is done.
    pub(super) fn touched(&self, edit: &Edit, job: &Job) -> Touched {
        match edit.touches() {
            Touches::Nothing => Touched::NOTHING,
            Touches::Surface => Touched::Heights(self.span(job)),
            Touches::Depths => Touched::Depths,
            Touches::Everything => Touched::Everything,
        }
    }

    /// The heights between which labels changed, above the bed in mm.
    fn span(&self, job: &Job) -> (f64, f64) {
        let foot = job.bounds().min[2];
        let mut span = (f64::INFINITY, f64::NEG_INFINITY);
        for (model, changed) in job.models.iter().zip(self.facets_changed()) {
            for facet in changed {
                for [_, _, z] in model.open.mesh.corners(facet) {
                    span = (span.0.min(z - foot), span.1.max(z - foot));
                }
            }
        }
        span
    }
}

impl Job {
    /// Applies edits one after the other, all or none.
    pub(super) fn apply_several(
        &mut self,
        edits: &[Edit],
        models: &dyn Models,
    ) -> Result<Before, Problem> {
        let job = self.without_labels();
        let mut done = Vec::with_capacity(edits.len());
        for (n, edit) in edits.iter().enumerate() {
            let applied = if !models.go_on(n as f64 / edits.len() as f64) {
                Err(super::parts::stopped())
            } else if edit.goes_with_others() {
                self.apply(edit, models)
            } else {
                let message = "This edit cannot be one of several";
                let mend = "Send it by itself.";
                Err(super::apply::refuse(
                    "not-with-others",
                    message,
                    "edits",
                    mend,
                ))
            };
            match applied {
                Ok(before) => done.push(before),
                Err(problem) => {
                    done.into_iter().rev().for_each(|one| self.take_back(one));
                    return Err(problem);
                }
            }
        }
        Ok(Before {
            job,
            labels: Kept::Several(done),
        })
    }

    /// Undoes the edit that returned `before`; edits are taken back in reverse order.
    pub(super) fn take_back(&mut self, before: Before) {
        let before = match before.labels {
            Kept::Several(all) => {
                return all.into_iter().rev().for_each(|one| self.take_back(one));
            }
            labels => Before {
                job: before.job,
                labels,
            },
        };
        let now = std::mem::replace(self, before.job);
        let mut now = now.models.into_iter();
        for model in &mut self.models {
            let was = now.next();
            let stands = was.filter(|w| Arc::ptr_eq(&model.base, &w.base));
            let maps = model.maps();
            match stands {
                Some(old) => {
                    model.open = if maps == old.maps() {
                        old.open
                    } else {
                        model.mesh_placed(&maps)
                    };
                    model.labels = old.labels;
                }
                None => model.open = model.mesh_placed(&maps),
            }
        }
        match before.labels {
            Kept::Changed(changed) => {
                for (model, old) in self.models.iter_mut().zip(changed) {
                    // Backwards, so that a facet that changed twice gets what it had at first.
                    for (facet, held) in old.into_iter().rev() {
                        model.labels.put(facet, held);
                    }
                }
            }
            Kept::Whole(labels) => {
                for (model, labels) in self.models.iter_mut().zip(labels) {
                    model.labels = labels;
                }
            }
            // Taken back above.
            Kept::Several(_) => {}
        }
    }

    fn without_labels(&self) -> Job {
        let models = self.models.iter().map(|m| JobModel {
            name: m.name.clone(),
            file: m.file.clone(),
            content: m.content.clone(),
            base: m.base.clone(),
            open: m.base.clone(),
            unit: m.unit,
            colours_kept: m.colours_kept,
            parts: m.parts.clone(),
            labels: Labels::default(),
        });
        Job {
            name: self.name.clone(),
            models: models.collect(),
            order: self.order.clone(),
            groups: self.groups.clone(),
            last_part: self.last_part,
            regions: self.regions.clone(),
            slots: self.slots.clone(),
            feeds: self.feeds.clone(),
            mixtures: self.mixtures.clone(),
            places: self.places.clone(),
            printer: self.printer.clone(),
            rules: self.rules.clone(),
            copies: self.copies,
            lost: self.lost.clone(),
        }
    }
}
