//! Applying one edit, or refusing it and leaving the job as it was.

use super::edit::Edit;
use super::history::Models;
use super::state::{BASE_REGION, DEFAULT_SOAK_MM, Job, JobModel, Region};
use crate::Problem;
use crate::regions::{Place, PlaceError};
use std::sync::Arc;

/// What an edit overwrote, enough to take it back.
pub(super) struct Before {
    /// The job without its labels; meshes of models that were moved are made anew from their bases.
    job: Job,
    labels: Labels,
}

enum Labels {
    /// For each model: facets whose label changed, with what they had.
    Changed(Vec<Vec<(u32, Option<u16>)>>),
    /// All labels of all models: the facets themselves were changed.
    Whole(Vec<Vec<Option<u16>>>),
}

impl Before {
    /// Whether it keeps meshes that the job no longer has.
    pub(super) fn is_heavy(&self) -> bool {
        matches!(self.labels, Labels::Whole(_))
    }

    fn changed(job: &Job) -> Before {
        Before {
            job: job.without_labels(),
            labels: Labels::Changed(vec![Vec::new(); job.models.len()]),
        }
    }

    /// Everything of a job.
    pub(super) fn whole(job: &Job) -> Before {
        Before {
            job: job.without_labels(),
            labels: Labels::Whole(job.models.iter().map(|m| m.facet_region.clone()).collect()),
        }
    }

    fn note(&mut self, model: usize, facet: u32, region: Option<u16>) {
        if let Labels::Changed(changed) = &mut self.labels {
            changed[model].push((facet, region));
        }
    }
}

pub(super) fn refuse(code: &str, message: impl Into<String>, place: &str, mend: &str) -> Problem {
    Problem::new(code, message, place, mend)
}

pub(super) fn check_name(name: &str) -> Result<String, Problem> {
    let name = name.trim();
    const LONGEST: usize = 200;
    if name.is_empty() {
        return Err(refuse(
            "name-empty",
            "The name is empty",
            "name",
            "Type a name.",
        ));
    }
    if name.chars().count() > LONGEST {
        let message = format!("The name is longer than {LONGEST} characters");
        return Err(refuse(
            "name-too-long",
            message,
            "name",
            "Type a shorter name.",
        ));
    }
    Ok(name.to_string())
}

impl Job {
    /// Applies an edit; returns what [`Job::take_back`] needs. An edit that is refused changes nothing.
    pub(super) fn apply(&mut self, edit: &Edit, models: &dyn Models) -> Result<Before, Problem> {
        let mut before = match edit {
            Edit::Mend { .. } | Edit::RemoveModel { .. } => Before::whole(self),
            _ => Before::changed(self),
        };
        match edit {
            Edit::OpenModel {
                model,
                file,
                content,
            } => self.open_model(model, file, content, models)?,
            Edit::KeepColours { model, most } => self.keep_colours(model, *most, &mut before)?,
            Edit::RemoveModel { model } => self.remove_model(model)?,
            Edit::RenameModel { model, name } => self.rename_model(model, name)?,
            Edit::SetUnits { model, unit } => self.set_units(model.as_deref(), *unit)?,
            Edit::Place { target, placing } => self.place(target, placing)?,
            Edit::SetApart { spacing_mm } => self.set_apart(*spacing_mm)?,
            Edit::Mend { model, mending } => self.mend(model, mending)?,
            Edit::SetCopies {
                across,
                along,
                spacing_mm,
            } => self.set_copies(*across, *along, *spacing_mm)?,
            Edit::FillBed { spacing_mm } => self.fill_bed(*spacing_mm)?,
            Edit::ReviseModel { .. } => {
                // The history does this one: it takes all the edits before it.
                let mend = "Send it to a job, not into the middle of a replay.";
                return Err(refuse(
                    "revise-alone",
                    "A model cannot be replaced here",
                    "",
                    mend,
                ));
            }
            Edit::RenameJob { name } => self.name = check_name(name)?,
            Edit::RenamePart { at, name } => {
                let name = check_name(name)?;
                let (model, facet) = self.find(at)?;
                let model = &mut self.models[model];
                model.parts[model.open.part_of[facet as usize] as usize].name = name;
            }
            Edit::AddRegion {
                region,
                name,
                colour,
                slot,
            } => {
                let (key, name) = (check_name(region)?, check_name(name)?);
                if self.regions.iter().any(|r| r.key == key) {
                    let message = format!("There is already a region with the key {key}");
                    return Err(refuse(
                        "region-exists",
                        message,
                        "region",
                        "Use another key.",
                    ));
                }
                if let Some(slot) = slot {
                    self.check_slot(*slot)?;
                }
                let slot = slot.or_else(|| self.first_free_slot());
                self.regions.push(Region {
                    key,
                    name,
                    colour: *colour,
                    slot,
                    soak_mm: DEFAULT_SOAK_MM,
                    is_deleted: false,
                });
            }
            Edit::RenameRegion { region, name } => {
                let name = check_name(name)?;
                self.region_mut(region)?.name = name;
            }
            Edit::RecolourRegion { region, colour } => self.region_mut(region)?.colour = *colour,
            Edit::DeleteRegion { region } => self.delete_region(region, &mut before)?,
            Edit::SetSoak { region, soak_mm } => {
                const DEEPEST_MM: f64 = 20.0;
                if !(0.05..=DEEPEST_MM).contains(soak_mm) {
                    return Err(refuse(
                        "soak-out-of-range",
                        format!("A soak depth of {soak_mm} mm cannot be used"),
                        "soak_mm",
                        "Type a depth from 0.05 to 20 mm.",
                    ));
                }
                self.region_mut(region)?.soak_mm = *soak_mm;
            }
            Edit::AssignSlot { region, slot } => {
                if let Some(slot) = slot {
                    self.check_slot(*slot)?;
                }
                self.region_mut(region)?.slot = *slot;
            }
            Edit::LoadSlot { slot, spool } => {
                self.check_slot(*slot)?;
                self.slots[*slot as usize - 1] = spool.clone();
            }
            Edit::GivePatch {
                region,
                at,
                crease_deg,
            } => {
                if !(1.0..=90.0).contains(crease_deg) {
                    return Err(refuse(
                        "crease-out-of-range",
                        format!("A crease angle of {crease_deg}° cannot be used"),
                        "crease_deg",
                        "Choose an angle from 1 to 90 degrees.",
                    ));
                }
                let region = self.number(region)?;
                let (model, seed) = self.find(at)?;
                let open = self.models[model].open.clone();
                let facets = open.creases().flood(&open.topology, seed, *crease_deg);
                let part = open.part_of[seed as usize];
                let own = self.models[model].parts[part as usize].own;
                let new = (region != own).then_some(region);
                self.relabel(model, facets.into_iter(), new, &mut before);
            }
            Edit::GivePart { region, at } => {
                let region = self.number(region)?;
                let (model, seed) = self.find(at)?;
                let open = self.models[model].open.clone();
                let part = open.part_of[seed as usize];
                self.models[model].parts[part as usize].own = region;
                let facets =
                    (0..open.part_of.len() as u32).filter(|f| open.part_of[*f as usize] == part);
                self.relabel(model, facets, None, &mut before);
            }
            Edit::SetPrinter { printer } => {
                printer.check()?;
                self.slots.resize(printer.slots as usize, None);
                for region in &mut self.regions {
                    region.slot = region.slot.filter(|s| *s <= printer.slots);
                }
                self.printer = printer.clone();
            }
        }
        Ok(before)
    }

    /// Undoes the edit that returned `before`; edits are taken back in reverse order.
    pub(super) fn take_back(&mut self, before: Before) {
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
                    model.facet_region = old.facet_region;
                }
                None => model.open = model.mesh_placed(&maps),
            }
        }
        match before.labels {
            Labels::Changed(changed) => {
                for (model, old) in self.models.iter_mut().zip(changed) {
                    // Backwards, so that a facet that changed twice gets what it had at first.
                    for (facet, region) in old.into_iter().rev() {
                        model.facet_region[facet as usize] = region;
                    }
                }
            }
            Labels::Whole(labels) => {
                for (model, labels) in self.models.iter_mut().zip(labels) {
                    model.facet_region = labels;
                }
            }
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
            facet_region: Vec::new(),
        });
        Job {
            name: self.name.clone(),
            models: models.collect(),
            regions: self.regions.clone(),
            slots: self.slots.clone(),
            printer: self.printer.clone(),
            copies: self.copies,
            lost: self.lost.clone(),
        }
    }

    fn number(&self, region: &str) -> Result<u16, Problem> {
        self.region(region).ok_or_else(|| {
            refuse(
                "region-unknown",
                format!("There is no region with the key {region}"),
                "region",
                "Add the region first, or choose one of the list.",
            )
        })
    }

    fn region_mut(&mut self, region: &str) -> Result<&mut Region, Problem> {
        let number = self.number(region)?;
        Ok(&mut self.regions[number as usize])
    }

    fn check_slot(&self, slot: u8) -> Result<(), Problem> {
        if (1..=self.printer.slots).contains(&slot) {
            return Ok(());
        }
        Err(refuse(
            "slot-unknown",
            format!("The printer has no slot {slot}"),
            "slot",
            &format!("Choose a slot from 1 to {}.", self.printer.slots),
        ))
    }

    pub(super) fn first_free_slot(&self) -> Option<u8> {
        (1..=self.printer.slots).find(|s| self.live_regions().all(|(_, r)| r.slot != Some(*s)))
    }

    pub(super) fn find(&self, at: &Place) -> Result<(usize, u32), Problem> {
        let model = self.model_number(&at.model)?;
        let facet = at.facet(&self.models[model].open).map_err(|e| {
            let code = match e {
                PlaceError::NotANumber => "place-not-a-number",
                PlaceError::OffTheMesh(_) => "place-off-the-mesh",
            };
            let message = match e {
                PlaceError::NotANumber => "The point or its normal is not usable numbers".into(),
                PlaceError::OffTheMesh([x, y, z]) => {
                    format!(
                        "There is no surface of {} at {x:.2}, {y:.2}, {z:.2} mm",
                        at.model
                    )
                }
            };
            refuse(
                code,
                message,
                "at.point",
                "Pick a point on the surface of the model.",
            )
        })?;
        Ok((model, facet))
    }

    pub(super) fn relabel(
        &mut self,
        model: usize,
        facets: impl Iterator<Item = u32>,
        region: Option<u16>,
        before: &mut Before,
    ) {
        let labels = &mut self.models[model].facet_region;
        for facet in facets {
            let label = &mut labels[facet as usize];
            if *label != region {
                before.note(model, facet, *label);
                *label = region;
            }
        }
    }

    pub(super) fn delete_region(
        &mut self,
        region: &str,
        before: &mut Before,
    ) -> Result<(), Problem> {
        if region == BASE_REGION {
            return Err(refuse(
                "region-base",
                "The first region cannot be deleted: uncoloured surface belongs to it",
                "region",
                "Rename or recolour it instead.",
            ));
        }
        let number = self.number(region)?;
        self.regions[number as usize].is_deleted = true;
        for model in 0..self.models.len() {
            let facets: Vec<u32> = (0..self.models[model].facet_region.len() as u32)
                .filter(|f| self.models[model].facet_region[*f as usize] == Some(number))
                .collect();
            self.relabel(model, facets.into_iter(), None, before);
            for part in self.models[model]
                .parts
                .iter_mut()
                .filter(|p| p.own == number)
            {
                part.own = 0;
            }
        }
        Ok(())
    }
}
