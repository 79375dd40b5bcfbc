//! Obeying the edits of regions.

use super::super::before::Before;
use super::super::depth::SoakDepth;
use super::super::edits::RegionEdit;
use super::super::state::{BASE_REGION, Job, OWN_REGION, Region};
use super::{check_name, refuse};
use crate::Problem;
use crate::carve::{Label, Labels, painted};
use crate::colour::Colour;
use crate::model::Place;

impl Job {
    pub(super) fn apply_region(
        &mut self,
        edit: &RegionEdit,
        before: &mut Before,
    ) -> Result<(), Problem> {
        match edit {
            RegionEdit::AddRegion {
                region,
                name,
                colour,
                slot,
            } => self.add_region(region, name, *colour, *slot)?,
            RegionEdit::RenameRegion { region, name } => {
                let name = check_name(name)?;
                self.region_mut(region)?.name = name;
            }
            RegionEdit::RecolourRegion { region, colour } => {
                self.region_mut(region)?.colour = *colour;
            }
            RegionEdit::DeleteRegion { region } => self.delete_region(region, before)?,
            RegionEdit::SetSoak {
                region,
                soak_mm,
                layers,
                through,
            } => {
                let depth = SoakDepth::asked(*soak_mm, *layers, *through)?;
                if depth.is_through() {
                    self.check_closed_under(region)?;
                }
                self.region_mut(region)?.depth = depth;
            }
            RegionEdit::ProtectRegion {
                region,
                is_protected,
            } => self.region_mut(region)?.is_protected = *is_protected,
            RegionEdit::GivePart { region, at } => self.give_part(region, at, before)?,
            RegionEdit::ClearColours {} => {
                for model in &mut self.models {
                    model.labels = Labels::plain(model.labels.len());
                    for part in &mut model.parts {
                        part.own = 0;
                        part.spans.clear();
                    }
                }
            }
        }
        Ok(())
    }

    fn add_region(
        &mut self,
        region: &str,
        name: &str,
        colour: Colour,
        slot: Option<u8>,
    ) -> Result<(), Problem> {
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
            self.check_slot(slot)?;
        }
        let is_proposed = slot.is_none();
        let slot = slot.or_else(|| self.first_free_slot());
        self.regions.push(Region {
            key,
            name,
            colour,
            slot,
            is_proposed: is_proposed && slot.is_some(),
            depth: SoakDepth::default(),
            is_protected: false,
            opacity: 1.0,
            is_deleted: false,
        });
        Ok(())
    }

    pub(super) fn region_mut(&mut self, region: &str) -> Result<&mut Region, Problem> {
        let number = self.number(region)?;
        Ok(&mut self.regions[number as usize])
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
        let part = &mut self.models[model].parts[part as usize];
        part.own = region;
        part.spans.clear();
        Ok(())
    }

    pub(in crate::job) fn delete_region(
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
            for part in &mut self.models[model].parts {
                part.spans.retain(|s| s.own != number);
                if part.own == number {
                    part.own = 0;
                }
            }
        }
        Ok(())
    }
}
