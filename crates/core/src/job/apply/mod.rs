//! Applying one edit, or refusing it and leaving the job as it was.

mod checks;
mod near;
mod plan;
mod regions;

pub(super) use checks::{check_name, check_soak, refuse};

use super::before::Before;
use super::edits::{Edit, JobEdit, ModelEdit, PartEdit, PlaceEdit, SlotEdit};
use super::history::Models;
use super::state::Job;
use crate::Problem;
use crate::carve::{Held, Label, settled};
use crate::drawing::DrawingSource;
use near::check_near;
use std::sync::Arc;

impl Job {
    /// Applies an edit; returns what [`Job::take_back`] needs. An edit that is refused changes nothing.
    pub(super) fn apply(&mut self, edit: &Edit, models: &dyn Models) -> Result<Before, Problem> {
        check_near(edit, &self.bounds())?;
        let mut before = if edit.makes_anew() {
            Before::whole(self)
        } else {
            Before::changed(self)
        };
        match edit {
            Edit::Job(JobEdit::Several { edits, .. }) => return self.apply_several(edits, models),
            Edit::Job(JobEdit::RenameJob { name }) => self.name = check_name(name)?,
            Edit::Job(JobEdit::ChangeEdit { .. } | JobEdit::LeaveOut { .. }) => {
                return Err(takes_what_went_before());
            }
            Edit::Model(edit) => self.apply_model(edit, &mut before, models)?,
            Edit::Region(edit) => self.apply_region(edit, &mut before)?,
            Edit::Give(edit) => {
                let drawings = |d: &DrawingSource| models.drawing(d);
                let taken = self.taken(edit, &drawings, &|| models.go_on(0.5))?;
                self.give_through(edit)?;
                self.go_through_relief(edit)?;
                for taken in taken {
                    self.put(taken.model, taken.changes, &mut before);
                }
            }
            Edit::Place(edit) => self.apply_place(edit)?,
            Edit::Slot(edit) => self.apply_slot(edit)?,
            Edit::Load(edit) => self.load(edit)?,
            Edit::Plan(edit) => self.change_plan(edit)?,
            Edit::Part(edit) => before = self.apply_part(edit, before, models)?,
        }
        if matches!(edit, Edit::Model(_) | Edit::Part(_)) {
            self.tidy_list();
        }
        self.turn_divisions(&mut before);
        Ok(before)
    }

    fn apply_model(
        &mut self,
        edit: &ModelEdit,
        before: &mut Before,
        models: &dyn Models,
    ) -> Result<(), Problem> {
        match edit {
            ModelEdit::OpenModel {
                model,
                file,
                content,
            } => self.open_model(model, file, content, models),
            ModelEdit::KeepColours { model, most } => self.keep_colours(model, *most, before),
            ModelEdit::CopyModel {
                model,
                count,
                spacing_mm,
            } => self.copy_model(model, *count, *spacing_mm),
            ModelEdit::RemoveModel { model } => self.remove_model(model),
            ModelEdit::RenameModel { model, name } => self.rename_model(model, name),
            ModelEdit::ReviseModel { .. } => Err(takes_what_went_before()),
            ModelEdit::SetUnits { model, unit } => self.set_units(model.as_deref(), *unit),
            ModelEdit::Mend { model, mending } => self.mend(model, mending),
            ModelEdit::RenamePart { at, name } => {
                let name = check_name(name)?;
                let (model, part) = self.part_at(at)?;
                self.models[model].parts[part].name = name;
                Ok(())
            }
        }
    }

    fn apply_place(&mut self, edit: &PlaceEdit) -> Result<(), Problem> {
        match edit {
            PlaceEdit::Place { target, placing } => self.place(target, placing),
            PlaceEdit::SetApart { spacing_mm } => self.set_apart(*spacing_mm),
            PlaceEdit::SetCopies {
                across,
                along,
                spacing_mm,
            } => self.set_copies(*across, *along, *spacing_mm),
            PlaceEdit::FillBed { spacing_mm } => self.fill_bed(*spacing_mm),
        }
    }

    fn apply_slot(&mut self, edit: &SlotEdit) -> Result<(), Problem> {
        match edit {
            SlotEdit::AssignSlot { region, slot } => {
                if let Some(slot) = slot {
                    self.check_slot(*slot)?;
                }
                self.region_mut(region)?.join(*slot);
                Ok(())
            }
            SlotEdit::LoadSlot { slot, spool } => {
                self.check_spool_place(*slot)?;
                self.fill(*slot, spool);
                Ok(())
            }
            SlotEdit::SetPrinter { printer } => self.set_printer(printer),
        }
    }

    fn apply_part(
        &mut self,
        edit: &PartEdit,
        mut before: Before,
        models: &dyn Models,
    ) -> Result<Before, Problem> {
        match self.edit_parts(edit, &mut before, models) {
            Ok(()) => Ok(before),
            Err(refused) => {
                // Some parts may have been cut before another could not be.
                if edit.makes_bodies() {
                    self.take_back(before);
                }
                Err(refused)
            }
        }
    }

    /// Gives facets what they have from now on, and undoes divisions that no longer separate anything.
    pub(super) fn put(&mut self, model: usize, changes: Vec<(u32, Held)>, before: &mut Before) {
        let touched: Vec<u32> = changes.iter().map(|c| c.0).collect();
        let m = &mut self.models[model];
        for (facet, held) in changes {
            before.note(model, facet, m.labels.put(facet, held));
        }
        for (facet, held) in settled(&m.open, &m.labels, &touched) {
            before.note(model, facet, m.labels.put(facet, held));
        }
    }

    /// Divisions of parts that were mirrored: their facets have turned.
    fn turn_divisions(&mut self, before: &mut Before) {
        for (index, model) in self.models.iter_mut().enumerate() {
            let Some(old) = before.job.models.get(index) else {
                continue;
            };
            if old.name != model.name || old.parts.len() != model.parts.len() {
                continue;
            }
            let turned: Vec<bool> = old
                .parts
                .iter()
                .zip(&model.parts)
                .map(|(a, b)| a.map.turns_over() != b.map.turns_over())
                .collect();
            if !turned.contains(&true) {
                continue;
            }
            let part_of = model.open.part_of.clone();
            let facets: Vec<u32> = model
                .labels
                .divisions()
                .map(|(f, _)| f)
                .filter(|f| turned[part_of[*f as usize] as usize])
                .collect();
            for facet in facets {
                if let Some(divided) = model.labels.division(facet) {
                    let new = Held::Divided(Arc::new(divided.renumbered([0, 2, 1])));
                    before.note(index, facet, model.labels.put(facet, new));
                }
            }
        }
    }

    /// Gives whole facets a label, whatever they had.
    pub(super) fn relabel(
        &mut self,
        model: usize,
        facets: impl Iterator<Item = u32>,
        region: Label,
        before: &mut Before,
    ) {
        let labels = &mut self.models[model].labels;
        for facet in facets {
            if labels.whole(facet) != Some(region) {
                before.note(model, facet, labels.put(facet, Held::Whole(region)));
            }
        }
    }
}

/// The history does these: they take all the edits before them.
fn takes_what_went_before() -> Problem {
    refuse(
        "revise-alone",
        "What went before cannot be changed here",
        "",
        "Send it to a job, not into the middle of a replay.",
    )
}
