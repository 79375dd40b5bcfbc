//! What a job hands over: 3MF, STL per part, the plan as JSON and CSV.

use super::state::Job;
use crate::Problem;
use crate::carve::refined;
use crate::formats::{
    ColouredObject, Package, RegionColour, SlotMaterial, write_stl, write_threemf, zip_files,
};
use crate::machine::Spool;
use crate::plan::{Plan, SlotNeed};
use std::fmt::Write;

impl Job {
    /// A 3MF package: one object per part in mm, highest rank first, every facet in its region's colour, a material for each
    /// slot.
    ///
    /// # Errors
    /// `export-empty` for a job without models; `export-failed` if the writer refuses.
    pub fn threemf(&self, spools: &[Spool]) -> Result<Vec<u8>, Problem> {
        self.check_not_empty()?;
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
        write_threemf(&Package {
            title: &self.name,
            description: description.into(),
            materials: materials.collect(),
            regions,
            objects,
            copies: self.copies.shifts(self.bounds().size()),
        })
    }

    /// What a slot prints with: its spool, or what is known of the first region that asks for it.
    fn material(&self, slot: u8, spools: &[Spool]) -> SlotMaterial {
        let id = self.slots.get(slot as usize - 1).and_then(Option::as_ref);
        let spool = id.filter(|_| !self.printer.kind.mixes());
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
            name: format!("{} {slot}", self.printer.kind.slot_word()),
            colour: region.map_or(self.regions[0].colour, |(_, r)| r.colour),
            opacity: region.map_or(1.0, |(_, r)| r.opacity),
        }
    }

    /// A ZIP with a binary STL for each part, named after the part and its region's colour, and a note of what STL
    /// cannot carry.
    ///
    /// # Errors
    /// As for [`Job::threemf`].
    pub fn parts_zip(&self) -> Result<Vec<u8>, Problem> {
        self.check_not_empty()?;
        let mut files = Vec::new();
        let mut note = String::from(
            "STL carries shape only. It has lost: colours on the surface of a part, part names, \
             units (all files are in millimetres), slots and the plan.\n\
             All files share one origin: load them together as one object.\n\n",
        );
        for model in &self.models {
            let parts = model.parts.iter().enumerate();
            for (number, part) in parts.filter(|(_, p)| p.is_printed) {
                let own = &self.regions[part.own as usize];
                let facets: Vec<u32> = (0..model.open.part_of.len() as u32)
                    .filter(|f| model.open.part_of[*f as usize] == number as u32)
                    .collect();
                let name = format!(
                    "{:02}-{}-{}.stl",
                    files.len() + 1,
                    file_name(&part.name),
                    file_name(&own.name)
                );
                // Writing to a string cannot fail.
                let _ = writeln!(note, "{name}: {}, {} {}", part.name, own.name, own.colour);
                let bytes = write_stl(&model.open.mesh, facets.into_iter(), &part.name);
                files.push((name, bytes));
            }
        }
        if self.copies.count() > 1 {
            let _ = writeln!(
                note,
                "\nThe job prints {} pieces, {} mm apart; the files hold one of them.",
                self.copies.count(),
                self.copies.spacing_mm
            );
        }
        files.push(("READ-ME.txt".into(), note.into_bytes()));
        zip_files(&files)
    }

    fn check_not_empty(&self) -> Result<(), Problem> {
        if !self.models.is_empty() {
            return Ok(());
        }
        let message = "The job has no model, so there is nothing to write";
        Err(Problem::new(
            "export-empty",
            message,
            "",
            "Open a model first.",
        ))
    }

    /// From the models' files to a print that stands on the bed, mm.
    pub(super) fn bed_shift(&self) -> [f64; 3] {
        let all = self.bounds();
        [
            0.0,
            0.0,
            if all.min[2].is_finite() {
                -all.min[2]
            } else {
                0.0
            },
        ]
    }
}

/// Letters, digits and hyphens of a name, for use in a file name; never empty.
fn file_name(name: &str) -> String {
    let mut out = String::new();
    for c in name.chars().flat_map(char::to_lowercase).take(60) {
        if c.is_alphanumeric() {
            out.push(c);
        } else if !out.ends_with('-') && !out.is_empty() {
            out.push('-');
        }
    }
    let out = out.trim_end_matches('-').to_string();
    if out.is_empty() {
        "unnamed".into()
    } else {
        out
    }
}

/// The public part of a plan as JSON: layers, swaps, bill, and all that the screen warns of (docs/plan-format.md).
pub fn plan_json(job: &Job, spools: &[Spool], plan: &Plan) -> String {
    let spool_in = |slot: u8| {
        let id = job.slots.get(slot as usize - 1)?.as_ref()?;
        spools.iter().find(|s| s.id == *id)
    };
    let slot = |need: &SlotNeed| {
        let spool = spool_in(need.slot).filter(|_| !job.printer.kind.mixes());
        serde_json::json!({
            "slot": need.slot,
            "spool": spool.map(|s| &s.id),
            "name": spool.map(|s| &s.name),
            "colour": spool.map(|s| s.colour),
            "model_g": need.model_g,
            "purge_g": need.purge_g,
            "tower_g": need.tower_g,
            "grams": need.model_g + need.purge_g + need.tower_g,
            "cost": need.cost,
        })
    };
    let mut grams: Vec<(&Spool, f64)> = Vec::new();
    for need in &plan.needs {
        let all = need.model_g + need.purge_g + need.tower_g;
        let Some(spool) = spool_in(need.slot).filter(|_| !job.printer.kind.mixes()) else {
            continue;
        };
        match grams.iter_mut().find(|(s, _)| s.id == spool.id) {
            Some(known) => known.1 += all,
            None => grams.push((spool, all)),
        }
    }
    let by_spool: Vec<_> = grams
        .iter()
        .map(|(s, g)| serde_json::json!({"spool": s.id, "name": s.name, "grams": g, "left_g": s.left_g}))
        .collect();
    let cautions: Vec<_> = plan
        .cautions
        .iter()
        .map(|c| {
            serde_json::json!({
                "code": c.code, "is_wrong": c.is_wrong, "message": c.message, "where": c.place, "mend": c.mend,
            })
        })
        .collect();
    let unprinted: Vec<&str> = plan
        .regions
        .iter()
        .filter(|r| r.layers == 0)
        .map(|r| r.region.as_str())
        .collect();
    let public = serde_json::json!({
        "layers": plan.layers,
        "swaps": plan.swaps,
        "bill": plan.bill,
        "slots": plan.needs.iter().map(slot).collect::<Vec<_>>(),
        "spools": by_spool,
        "tower": plan.tower,
        "start": plan.start,
        "reloads": plan.reloads,
        "is_fewest_reloads": plan.is_fewest_reloads,
        "least_reloads": plan.least_reloads,
        "proof": plan.proof,
        "cautions": cautions,
        "not_printed": {
            "regions": unprinted,
            "parts": plan.unprinted_parts,
            "too_thin": plan.too_thin,
        },
    });
    format!("{public:#}\n")
}

/// One row per swap: layer (from 1), height, from, to, purge in mm³ and in mm of filament.
pub fn plan_csv(plan: &Plan) -> String {
    let mut text = String::from("layer,height_mm,from_slot,to_slot,purge_mm3,purge_mm\n");
    for s in &plan.swaps {
        let _ = writeln!(
            text,
            "{},{:.3},{},{},{:.2},{:.2}",
            s.layer + 1,
            s.z_mm,
            s.from,
            s.to,
            s.purge_mm3,
            s.purge_mm
        );
    }
    text
}
