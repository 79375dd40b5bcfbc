//! The coloured model as 3MF, OBJ, PLY and VRML97.

use super::check_not_empty;
use crate::Problem;
use crate::carve::refined;
use crate::formats::{
    ColouredObject, Package, RegionColour, SlotMaterial, write_obj, write_ply, write_threemf,
    write_vrml,
};
use crate::job::{Job, JobPart};
use crate::machine::Spool;
use std::collections::HashMap;

/// Colours of the file: of each region one, and one more for each part of other opacity that it is seen on.
struct Colours<'a> {
    job: &'a Job,
    known: HashMap<(u16, u64), usize>,
    list: Vec<RegionColour>,
}

impl Colours<'_> {
    fn number(&mut self, region: u16, opacity: f64) -> usize {
        *self
            .known
            .entry((region, opacity.to_bits()))
            .or_insert_with(|| {
                let of = &self.job.regions[usize::from(region)];
                self.list.push(RegionColour {
                    name: of.name.clone(),
                    colour: of.colour,
                    opacity: of.opacity * opacity,
                });
                self.list.len() - 1
            })
    }
}

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
        let jets = self.printer.profile().jets;
        let ranked = self.ranked_parts();
        let mut materials: Vec<SlotMaterial> = match jets {
            true => Vec::new(),
            false => slots
                .iter()
                .map(|slot| self.material(*slot, spools))
                .collect(),
        };
        let mut material_of = Vec::new();
        // Deleted regions have no colour in the file; what is seen through a part is a colour of its own.
        let mut colours = Colours {
            job: self,
            known: HashMap::new(),
            list: Vec::new(),
        };
        for (number, _) in self.live_regions() {
            colours.number(number, 1.0);
        }
        for (m, p) in &ranked {
            let part = &self.models[*m].parts[*p];
            material_of.push(match jets {
                true => {
                    let own = self.base_of(part);
                    let known = materials.iter().position(|m| *m == own);
                    known.unwrap_or_else(|| {
                        materials.push(own);
                        materials.len() - 1
                    })
                }
                false => slots.binary_search(&self.slot_of(part.own)).unwrap_or(0),
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
                let opacity = if jets { model.parts[part].opacity } else { 1.0 };
                facets[part].push((number as u32, colours.number(region, opacity)));
            }
            facets_of.push(facets);
        }
        let shift = self.bed_shift();
        let objects: Vec<ColouredObject<'_>> = ranked
            .iter()
            .zip(material_of)
            .map(|((m, p), material)| ColouredObject {
                name: &self.models[*m].parts[*p].name,
                mesh: &meshes[*m].mesh,
                facets: std::mem::take(&mut facets_of[*m][*p]),
                material,
                shift,
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
            materials,
            regions: colours.list,
            names_colours: false,
            objects,
            copies: self.copies.shifts(self.bounds().size()),
        }))
    }

    /// What a part is made of on a jetting machine, in the colour of its own region.
    fn base_of(&self, part: &JobPart) -> SlotMaterial {
        let name = match self.made_of(part) {
            Some(material) => material.words(),
            None => part.made_of.clone().unwrap_or_else(|| "Rigid".into()),
        };
        SlotMaterial {
            name,
            colour: self.regions[usize::from(part.own)].colour,
            opacity: part.opacity,
        }
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
