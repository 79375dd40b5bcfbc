//! Applying one edit, or refusing it and leaving the job as it was.

use super::before::Before;
use super::edit::Edit;
use super::history::Models;
use super::state::{BASE_REGION, DEFAULT_SOAK_MM, Job, OWN_REGION, Region};
use crate::carve::{Held, Label, Labels, painted, settled};
use crate::formats::writable;
use crate::geometry::Bounds;
use crate::model::{Place, PlaceError};
use crate::{Problem, figure};
use std::sync::Arc;

pub(super) fn refuse(code: &str, message: impl Into<String>, place: &str, mend: &str) -> Problem {
    Problem::new(code, message, place, mend)
}

pub(super) fn check_name(name: &str) -> Result<String, Problem> {
    let name = &writable(name);
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

/// Refuses a soak depth that cannot be used.
pub(super) fn check_soak(soak_mm: f64) -> Result<(), Problem> {
    const DEEPEST_MM: f64 = 20.0;
    if (0.05..=DEEPEST_MM).contains(&soak_mm) {
        return Ok(());
    }
    Err(refuse(
        "soak-out-of-range",
        format!("A soak depth of {} mm cannot be used", figure(soak_mm)),
        "soak_mm",
        "Type a depth from 0.05 to 20 mm.",
    ))
}

impl Job {
    /// Applies an edit; returns what [`Job::take_back`] needs. An edit that is refused changes nothing.
    pub(super) fn apply(&mut self, edit: &Edit, models: &dyn Models) -> Result<Before, Problem> {
        check_near(edit, &self.bounds())?;
        if let Edit::Several { edits, .. } = edit {
            return self.apply_several(edits, models);
        }
        let mut before = match edit {
            Edit::Mend { .. } | Edit::RemoveModel { .. } | Edit::ClearColours {} => {
                Before::whole(self)
            }
            Edit::Part(part) if part.makes_bodies() => Before::whole(self),
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
            Edit::ReviseModel { .. } | Edit::ChangeEdit { .. } | Edit::Several { .. } => {
                // The history does these: they take all the edits before them.
                let mend = "Send it to a job, not into the middle of a replay.";
                return Err(refuse(
                    "revise-alone",
                    "What went before cannot be changed here",
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
                if key == OWN_REGION || self.regions.iter().any(|r| r.key == key) {
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
                let is_proposed = slot.is_none();
                let slot = slot.or_else(|| self.first_free_slot());
                self.regions.push(Region {
                    key,
                    name,
                    colour: *colour,
                    slot,
                    is_proposed: is_proposed && slot.is_some(),
                    soak_mm: DEFAULT_SOAK_MM,
                    is_protected: false,
                    opacity: 1.0,
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
                check_soak(*soak_mm)?;
                self.region_mut(region)?.soak_mm = *soak_mm;
            }
            Edit::AssignSlot { region, slot } => {
                if let Some(slot) = slot {
                    self.check_slot(*slot)?;
                }
                self.region_mut(region)?.join(*slot);
            }
            Edit::LoadSlot { slot, spool } => {
                self.check_spool_place(*slot)?;
                self.fill(*slot, spool);
            }
            Edit::Load(load) => self.load(load)?,
            Edit::Plan(plan) => self.change_plan(plan)?,
            Edit::Part(part) => {
                if let Err(refused) = self.edit_parts(part, &mut before, models) {
                    // Some parts may have been cut before another could not be.
                    if part.makes_bodies() {
                        self.take_back(before);
                    }
                    return Err(refused);
                }
            }
            Edit::GivePart { region, at } => self.give_part(region, at, &mut before)?,
            Edit::ClearColours {} => {
                for model in &mut self.models {
                    model.labels = Labels::plain(model.labels.len());
                    for part in &mut model.parts {
                        part.own = 0;
                    }
                }
            }
            Edit::ProtectRegion {
                region,
                is_protected,
            } => self.region_mut(region)?.is_protected = *is_protected,
            Edit::SetPrinter { printer } => self.set_printer(printer)?,
            // Every other edit is one of the tools of Colour.
            _ => {
                for taken in self.taken(edit, &|| models.go_on(0.5))?.unwrap_or_default() {
                    self.put(taken.model, taken.changes, &mut before);
                }
            }
        }
        if matches!(
            edit,
            Edit::OpenModel { .. } | Edit::RemoveModel { .. } | Edit::Mend { .. } | Edit::Part(_)
        ) {
            self.tidy_list();
        }
        self.turn_divisions(&mut before);
        Ok(before)
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

    /// Gives a part whole: the region becomes its own. Surface of protected regions stays.
    fn give_part(&mut self, region: &str, at: &Place, before: &mut Before) -> Result<(), Problem> {
        let region = self.taker(region)?.unwrap_or(0);
        let (model, part) = self.free_part_at(at)?;
        let open = self.models[model].open.clone();
        let part = part as u32;
        let old = self.models[model].parts[part as usize].own;
        let is_protected: Vec<bool> = self.regions.iter().map(|r| r.is_protected).collect();
        let paint = |_: u32, _: [f64; 3], label: Label| {
            let now = label.unwrap_or(old);
            (is_protected[now as usize] && now != region).then_some(now)
        };
        let labels = &self.models[model].labels;
        let facets = (0..open.part_of.len() as u32).filter(|f| open.part_of[*f as usize] == part);
        let changes = facets
            .filter_map(|f| painted(&open, labels, f, &paint).map(|held| (f, held)))
            .collect();
        self.put(model, changes, before);
        self.models[model].parts[part as usize].own = region;
        Ok(())
    }

    pub(super) fn number(&self, region: &str) -> Result<u16, Problem> {
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

    pub(super) fn check_slot(&self, slot: u8) -> Result<(), Problem> {
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
            let m = &self.models[model];
            let paint = |_: u32, _: [f64; 3], l: Label| l.filter(|l| *l != number);
            let changes = (0..m.labels.len() as u32)
                .filter_map(|f| painted(&m.open, &m.labels, f, &paint).map(|held| (f, held)))
                .collect();
            self.put(model, changes, before);
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

/// Furthest from the origin that an edit may name a place, mm; larger where the models are, such as in a wrong unit.
const FURTHEST_MM: f64 = 10_000.0;
/// An eye may stand this many times as far off as the furthest corner of the models.
const FURTHEST_EYE: f64 = 20.0;

/// Refuses edits that name places where nothing can be: to follow them would take for ever.
fn check_near(edit: &Edit, bounds: &Bounds) -> Result<(), Problem> {
    /// The furthest coordinate under a name that means a place.
    fn furthest(value: &serde_json::Value, is_place: bool) -> f64 {
        const PLACES: [&str; 6] = ["point", "points", "path", "eye", "outline", "low_mm"];
        match value {
            serde_json::Value::Number(n) if is_place => n.as_f64().map_or(0.0, f64::abs),
            serde_json::Value::Array(all) => all
                .iter()
                .map(|v| furthest(v, is_place))
                .fold(0.0, f64::max),
            serde_json::Value::Object(fields) => fields
                .iter()
                // What an edit of several holds is looked at when its turn comes.
                .filter(|(name, _)| *name != "edits")
                .map(|(name, v)| furthest(v, PLACES.contains(&name.as_str())))
                .fold(0.0, f64::max),
            _ => 0.0,
        }
    }
    let value = serde_json::to_value(edit).unwrap_or_default();
    let far = furthest(&value, false);
    let corner = bounds.min.iter().chain(&bounds.max).fold(0.0, |m: f64, v| {
        if v.is_finite() { m.max(v.abs()) } else { m }
    });
    let furthest_mm = FURTHEST_MM.max(FURTHEST_EYE * corner);
    if far <= furthest_mm {
        return Ok(());
    }
    Err(refuse(
        "too-far",
        format!("A place {} m away is named", figure(far / 1000.0)),
        "at",
        &format!(
            "Name places within {:.0} m of the middle; if the model is larger, its unit may be wrong.",
            furthest_mm / 1000.0
        ),
    ))
}
