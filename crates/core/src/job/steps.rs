//! A history told: its steps in plain words, its changes at a layer, and all of it as a recipe.

use super::edits::{Edit, GiveEdit, JobEdit, ModelEdit, RegionEdit};
use super::history::History;
use super::recipe::{Recipe, RecipeModel};
use super::revised::changed_edits;
use crate::machine::{Printer, Spool};
use serde::Serialize;

/// One line of a history.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Step {
    /// Number from 1.
    pub number: u32,
    /// What it does, in plain words.
    pub what: String,
    /// The edit as it is in force: with the numbers it was given since.
    pub edit: Edit,
    /// Whether it was given other numbers since.
    pub is_changed: bool,
    /// Whether it was taken out since.
    pub is_left_out: bool,
    /// Whether it is applied now; the others can be redone.
    pub is_applied: bool,
}

/// A change at a layer: from there on another region's.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Change {
    /// Which step made it, from 1.
    pub number: u32,
    /// Bottom of the first layer that it changes, mm above the bed.
    pub from_mm: f64,
    /// Key of the region.
    pub region: String,
    /// Whether it is of everything, rather than of one model or part.
    pub is_of_all: bool,
    /// The edit, to be given another height.
    pub edit: Edit,
}

impl History {
    /// The job as a recipe: its models by the names of their files, and every edit since, in the words of the command
    /// line. Spools are those of the rack.
    pub fn recipe(&self, rack: &[Spool]) -> Recipe {
        let steps = self.steps();
        let mut models: Vec<RecipeModel> = Vec::new();
        let mut edits = Vec::new();
        for step in steps.into_iter().filter(|s| s.is_applied && !s.is_left_out) {
            match step.edit {
                Edit::Model(ModelEdit::OpenModel { model, file, .. }) if edits.is_empty() => {
                    models.push(RecipeModel { model, file });
                }
                Edit::Job(
                    JobEdit::RenameJob { .. }
                    | JobEdit::ChangeEdit { .. }
                    | JobEdit::LeaveOut { .. },
                ) => {}
                // A recipe finds files beside it, by their names.
                Edit::Model(ModelEdit::OpenModel { model, file, .. }) => {
                    edits.push(Edit::Model(ModelEdit::OpenModel {
                        model,
                        content: file.clone(),
                        file,
                    }))
                }
                Edit::Model(ModelEdit::ReviseModel { model, file, .. }) => {
                    edits.push(Edit::Model(ModelEdit::ReviseModel {
                        model,
                        content: file.clone(),
                        file,
                    }))
                }
                other => edits.push(other),
            }
        }
        Recipe {
            name: self.job().name.clone(),
            models,
            printer: Printer::default(),
            spools: rack.to_vec(),
            edits,
        }
    }

    /// All edits in plain words, those that can be redone included.
    pub fn steps(&self) -> Vec<Step> {
        // Later changes put other numbers into earlier steps; those that were taken back do not.
        let changed = changed_edits(&self.edits()[..self.head()], []).unwrap_or_default();
        let in_force = self.edits().iter().enumerate().map(|(index, edit)| {
            let change = changed.get(&index);
            (change.copied().flatten().unwrap_or(edit), change)
        });
        // A region is called what it is called now, or what it was when it was added.
        let name_of = |key: &str| {
            let added = self.edits().iter().find_map(|e| match e {
                Edit::Region(RegionEdit::AddRegion { region, name, .. }) if region == key => {
                    Some(name.clone())
                }
                _ => None,
            });
            match (self.job().region(key), added) {
                (None, Some(name)) => name,
                _ => self.job().name_of(key),
            }
        };
        in_force
            .enumerate()
            .map(|(index, (edit, change))| Step {
                number: index as u32 + 1,
                what: edit.in_words(&name_of),
                edit: edit.clone(),
                is_changed: change.is_some_and(Option::is_some),
                is_left_out: change == Some(&None),
                is_applied: index < self.head(),
            })
            .collect()
    }

    /// The changes at a layer that are in force, with the numbers of their steps.
    pub fn changes(&self) -> Vec<Change> {
        let applied = &self.edits()[..self.head()];
        let is_change = |e: &Edit| matches!(e, Edit::Give(GiveEdit::GiveChange { .. }));
        if !applied.iter().any(is_change) {
            return Vec::new();
        }
        let changed = changed_edits(applied, []).unwrap_or_default();
        let in_force = |(index, edit): (usize, &Edit)| {
            let edit = match changed.get(&index) {
                Some(changed) => (*changed)?.clone(),
                None => edit.clone(),
            };
            let Edit::Give(GiveEdit::GiveChange {
                region,
                from_mm,
                model,
                at,
            }) = &edit
            else {
                return None;
            };
            self.job().region(region)?;
            Some(Change {
                number: index as u32 + 1,
                from_mm: self.job().change_height(*from_mm).unwrap_or(*from_mm),
                region: region.clone(),
                is_of_all: model.is_none() && at.is_none(),
                edit,
            })
        };
        let changes = applied.iter().enumerate().filter(|(_, e)| is_change(e));
        changes.filter_map(in_force).collect()
    }
}
