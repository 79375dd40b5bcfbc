//! The coloured model as 3MF, OBJ, PLY and VRML97.

use super::check_not_empty;
use crate::Problem;
use crate::carve::refined;
use crate::formats::{
    ColouredObject, Package, RegionColour, SlotMaterial, write_obj, write_ply, write_threemf,
    write_vrml,
};
use crate::job::Job;
use crate::machine::Spool;

impl Job {
    /// A 3MF package: one object per part in mm, highest rank first, every facet in its region's colour, a material for each
    /// slot.
    ///
    /// # Errors
    /// `export-empty` for a job without models; `export-failed` if the writer refuses.
    pub fn threemf(&self, spools: &[Spool]) -> Result<Vec<u8>, Problem> {
        self.packed(spools, write_threemf)?
    }

    /// A ZIP with an OBJ and its material file: an object for each part, a material for each region.
    ///
    /// # Errors
    /// `export-empty`, `export-failed`.
    pub fn obj(&self, spools: &[Spool]) -> Result<Vec<u8>, Problem> {
        self.packed(spools, write_obj)?
    }

    /// A binary PLY with a colour for each facet.
    ///
    /// # Errors
    /// `export-empty`.
    pub fn ply(&self, spools: &[Spool]) -> Result<Vec<u8>, Problem> {
        self.packed(spools, write_ply)
    }

    /// A VRML97 file with a shape for each part and a colour for each facet.
    ///
    /// # Errors
    /// `export-empty`.
    pub fn vrml(&self, spools: &[Spool]) -> Result<Vec<u8>, Problem> {
        self.packed(spools, write_vrml)
    }

    /// The parts with their colours, for a writer.
    fn packed<R>(
        &self,
        spools: &[Spool],
        write: impl FnOnce(&Package<'_>) -> R,
    ) -> Result<R, Problem> {
        check_not_empty(self)?;
        let slots: Vec<u8> = {
            let mut used: Vec<u8> = self.live_regions().map(|(n, _)| self.slot_of(n)).collect();
            used.sort_unstable();
            used.dedup();
            used
        };
        let materials = slots.iter().map(|slot| self.material(*slot, spools));
        // Deleted regions have no colour in the file.
        let mut colour_of = vec![0; self.regions.len()];
        let mut regions = Vec::new();
        for (number, region) in self.live_regions() {
            colour_of[number as usize] = regions.len();
            regions.push(RegionColour {
                name: region.name.clone(),
                colour: region.colour,
                opacity: region.opacity,
            });
        }
        let mut meshes = Vec::new();
        let mut facets_of = Vec::new();
        for (index, model) in self.models.iter().enumerate() {
            meshes.push(refined(&model.open, &model.labels));
            let fine = &meshes[index];
            let mut facets: Vec<Vec<(u32, usize)>> = vec![Vec::new(); model.parts.len()];
            for (number, facet) in fine.facet.iter().enumerate() {
                let region = self.region_of_label(index, *facet, fine.labels[number]);
                let part = model.open.part_of[*facet as usize] as usize;
                facets[part].push((number as u32, colour_of[region as usize]));
            }
            facets_of.push(facets);
        }
        let ranked = self.ranked_parts();
        let shift = self.bed_shift();
        let objects: Vec<ColouredObject<'_>> = ranked
            .iter()
            .map(|(m, p)| {
                let part = &self.models[*m].parts[*p];
                let slot = self.slot_of(part.own);
                ColouredObject {
                    name: &part.name,
                    mesh: &meshes[*m].mesh,
                    facets: std::mem::take(&mut facets_of[*m][*p]),
                    material: slots.binary_search(&slot).unwrap_or(0),
                    shift,
                }
            })
            .collect();
        let description = if objects.len() > 1 {
            "Where parts share space, the one that comes first owns it."
        } else {
            ""
        };
        Ok(write(&Package {
            title: &self.name,
            description: description.into(),
            materials: materials.collect(),
            regions,
            objects,
            copies: self.copies.shifts(self.bounds().size()),
        }))
    }

    /// What a slot prints with: its spool, or what is known of the first region that asks for it.
    fn material(&self, slot: u8, spools: &[Spool]) -> SlotMaterial {
        let id = self.slots.get(slot as usize - 1).and_then(Option::as_ref);
        let spool = id.filter(|_| self.printer.profile().mixes.is_none());
        if let Some(spool) = spool.and_then(|id| spools.iter().find(|s| s.id == *id)) {
            return SlotMaterial {
                name: spool.name.clone(),
                colour: spool.colour,
                opacity: if spool.is_translucent {
                    spool.opacity
                } else {
                    1.0
                },
            };
        }
        let region = self.live_regions().find(|(n, _)| self.slot_of(*n) == slot);
        SlotMaterial {
            name: format!("{} {slot}", self.printer.profile().slot_word),
            colour: region.map_or(self.regions[0].colour, |(_, r)| r.colour),
            opacity: region.map_or(1.0, |(_, r)| r.opacity),
        }
    }
}
