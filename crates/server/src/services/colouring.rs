//! What the Colour stage asks besides edits: previews, strays, steps, replays, palettes, the desk.

use super::session::Session;
use super::workshop::{Workshop, lock};
use crate::error::ApiError;
use crate::store;
use crate::wire::{Desk, LeftOut, Palette, PreviewView, Replayed, StepsView, StrayView};
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::handover::division_bytes;
use varichrom_core::job::{Edit, Recipe};
use varichrom_core::layers::Touched;

impl Session {
    /// What an edit would take.
    pub(crate) fn preview(&self, edit: &Edit) -> Result<PreviewView, ApiError> {
        let history = lock(&self.history);
        let job = history.job();
        let preview = job.preview(edit)?;
        let bands = match edit {
            Edit::Give(edit) => job.band_heights(edit)?,
            _ => Vec::new(),
        };
        Ok(PreviewView {
            area_mm2: preview.area_mm2,
            count: preview.count,
            pieces: preview.pieces.iter().map(Vec::len).sum(),
            runs: preview.pieces.iter().map(|p| runs(p)).collect(),
            bands: bands.into_iter().map(|(low, high)| [low, high]).collect(),
        })
    }

    /// The divided facets of a model as bytes, and the revision they are for.
    pub(crate) fn divisions(&self, index: usize) -> Result<(u32, Vec<u8>), ApiError> {
        let history = lock(&self.history);
        let job = history.job();
        let model = job.models.get(index).ok_or(ApiError::NotFound("model"))?;
        let bytes = division_bytes(&model.open, &model.labels, &|facet, label| {
            job.region_of_label(index, facet, label)
        });
        Ok((self.revision(), bytes))
    }

    /// Surface that was probably missed.
    pub(crate) fn strays(&self, smaller: f64, narrower: f64) -> Result<Vec<StrayView>, ApiError> {
        let history = lock(&self.history);
        let job = history.job();
        let found = job.strays(smaller, narrower)?;
        let named = job.models.iter().zip(found).flat_map(|(model, strays)| {
            strays.into_iter().map(|stray| StrayView {
                model: model.name.clone(),
                stray,
            })
        });
        Ok(named.collect())
    }

    /// The edits in plain words.
    pub(crate) fn steps(&self) -> StepsView {
        let history = lock(&self.history);
        StepsView {
            revision: self.revision(),
            floor: self.floor,
            steps: history.steps(),
        }
    }

    /// Undoes or redoes until so many steps are applied.
    pub(crate) fn stand(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        at: usize,
    ) -> Result<(), ApiError> {
        let mut history = lock(&self.history);
        if at < self.floor || at > history.edits().len() {
            let message = format!("There is no step {at} to go to");
            let mend = "Choose a step of the list.";
            return Err(Problem::new("step-unknown", message, "at", mend).into());
        }
        let from = history.head();
        history.go_to(at, &self.models(workshop))?;
        if let Err(failed) = self.keep_standing(workshop, &history) {
            history.go_to(from, &self.models(workshop))?;
            return Err(failed);
        }
        self.changed(workshop, Touched::Everything);
        self.keep_states(workshop, &history);
        Ok(())
    }

    /// Applies the edits of a recipe to this job, as far as they find their place here; its models are left aside, and
    /// what they are called there counts for this job's models in the same order.
    pub(crate) fn replay(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        recipe: &Recipe,
    ) -> Result<Replayed, ApiError> {
        let names: Vec<String> =
            self.with_job(|j| j.models.iter().map(|m| m.name.clone()).collect());
        let theirs: Vec<&str> = recipe.models.iter().map(|m| m.model.as_str()).collect();
        let mut replayed = Replayed {
            applied: 0,
            left_out: Vec::new(),
        };
        // A model of the same name is the same one; else the order tells.
        let here = |(at, theirs): (usize, &&str)| {
            let same = names.iter().find(|n| n == theirs).or_else(|| names.get(at));
            same.cloned().unwrap_or_else(|| theirs.to_string())
        };
        let names: Vec<String> = theirs.iter().enumerate().map(here).collect();
        for (index, edit) in recipe.edits.iter().enumerate() {
            let renamed = renamed(edit, &theirs, &names).map_err(ApiError::from);
            match renamed.and_then(|edit| self.apply(workshop, edit)) {
                Ok(()) => replayed.applied += 1,
                Err(ApiError::Refused(why)) => replayed.left_out.push(LeftOut {
                    number: index + 1,
                    what: self.with_job(|job| edit.in_words(&|key| job.name_of(key))),
                    why,
                }),
                Err(other) => return Err(other),
            }
        }
        Ok(replayed)
    }

    /// The job as a recipe: its models by file name, its printer, and every edit after those that opened it.
    pub(crate) fn recipe(&self, workshop: &Workshop) -> Result<Recipe, ApiError> {
        let rack = workshop.rack()?;
        let history = lock(&self.history);
        Ok(history.recipe(&rack))
    }
}

/// An edit that names models as another job does.
fn renamed(edit: &Edit, from: &[&str], to: &[String]) -> Result<Edit, Problem> {
    let unreadable = |e: serde_json::Error| {
        let message = format!("The edit cannot be given the names of this job's models: {e}");
        let mend = "Rename the models as the recipe has them, then try again.";
        Problem::new("edit-unreadable", message, "model", mend)
    };
    let mut value = serde_json::to_value(edit).map_err(unreadable)?;
    rename_models(&mut value, from, to);
    serde_json::from_value(value).map_err(unreadable)
}

fn rename_models(value: &mut serde_json::Value, from: &[&str], to: &[String]) {
    match value {
        serde_json::Value::Object(fields) => {
            for (key, field) in fields {
                let known = field
                    .as_str()
                    .and_then(|name| from.iter().position(|f| *f == name));
                match known.and_then(|at| to.get(at)) {
                    Some(name) if key == "model" => *field = name.clone().into(),
                    _ => rename_models(field, from, to),
                }
            }
        }
        serde_json::Value::Array(items) => {
            items
                .iter_mut()
                .for_each(|item| rename_models(item, from, to));
        }
        _ => {}
    }
}

/// Ascending numbers as runs: first and how many.
pub(super) fn runs(numbers: &[u32]) -> Vec<[u32; 2]> {
    let mut runs: Vec<[u32; 2]> = Vec::new();
    for n in numbers {
        match runs.last_mut() {
            Some([first, count]) if *first + *count == *n => *count += 1,
            _ => runs.push([*n, 1]),
        }
    }
    runs
}

/// Largest desk, as JSON.
const LARGEST_DESK: usize = 8 * 1024 * 1024;

impl Workshop {
    /// Colours kept for all jobs.
    pub(crate) fn palettes(&self) -> Result<Vec<Palette>, ApiError> {
        Ok(store::desk::palettes(&mut *self.db.get()?)?)
    }

    /// Replaces all palettes.
    pub(crate) fn set_palettes(&self, palettes: &[Palette]) -> Result<(), ApiError> {
        for (index, palette) in palettes.iter().enumerate() {
            let name = palette.name.trim();
            if name.is_empty() || name.chars().count() > 200 || palette.colours.len() > 200 {
                let message = "A palette needs a name of up to 200 letters, and up to 200 colours";
                return Err(Problem::new("palette", message, "name", "Type a shorter one.").into());
            }
            if palettes[..index].iter().any(|p| p.name == palette.name) {
                let message = format!("There is already a palette called {name}");
                let mend = "Give it another name.";
                return Err(Problem::new("palette-exists", message, "name", mend).into());
            }
        }
        Ok(store::desk::replace_palettes(
            &mut *self.db.get()?,
            palettes,
        )?)
    }

    /// What lies beside a job's bench.
    pub(crate) fn desk(&self, job: i32) -> Result<Desk, ApiError> {
        Ok(store::desk::desk(&mut *self.db.get()?, job)?)
    }

    /// Replaces what lies beside a job's bench.
    pub(crate) fn set_desk(self: &Arc<Self>, job: i32, desk: &Desk) -> Result<(), ApiError> {
        self.session(job)?;
        let size = desk.picture.as_ref().map_or(0, |p| p.data.len());
        let numbers = desk.view.iter().flat_map(|v| v.eye.iter().chain(&v.target));
        const MOST_TICKS: usize = 64;
        if desk.ticked.len() > MOST_TICKS || desk.ticked.iter().any(|t| t.len() > 500) {
            let message = "There are more ticks than places";
            return Err(
                Problem::new("too-many-ticks", message, "ticked", "Take some away.").into(),
            );
        }
        if size > LARGEST_DESK || numbers.into_iter().any(|c| !c.is_finite()) {
            let message = "The picture is too large to be pinned";
            let mend = "Choose one of fewer than 8 megabytes.";
            return Err(Problem::new("picture-too-large", message, "picture", mend).into());
        }
        Ok(store::desk::set_desk(&mut *self.db.get()?, job, desk)?)
    }
}
