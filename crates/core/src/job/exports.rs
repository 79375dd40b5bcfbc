//! What a job hands over: 3MF, STL per part, the plan as JSON and CSV.

use super::state::Job;
use crate::Problem;
use crate::carve::refined;
use crate::colour::Colour;
use crate::formats::{ColouredObject, write_stl, write_threemf, zip_files};
use crate::plan::Plan;
use std::fmt::Write;

impl Job {
    /// A 3MF package: one object per part in mm, every facet in its region's colour.
    ///
    /// # Errors
    /// `export-empty` for a job without models; `export-failed` if the writer refuses.
    pub fn threemf(&self) -> Result<Vec<u8>, Problem> {
        self.check_not_empty()?;
        let palette: Vec<Colour> = self.regions.iter().map(|r| r.colour).collect();
        let shift = self.bed_shift();
        let mut meshes = Vec::new();
        let mut facets_of = Vec::new();
        let mut objects = Vec::new();
        for (index, model) in self.models.iter().enumerate() {
            meshes.push(refined(&model.open, &model.labels));
            let fine = &meshes[index];
            let mut facets: Vec<Vec<(u32, usize)>> = vec![Vec::new(); model.parts.len()];
            for (number, facet) in fine.facet.iter().enumerate() {
                let colour = self.region_of_label(index, *facet, fine.labels[number]) as usize;
                facets[model.open.part_of[*facet as usize] as usize].push((number as u32, colour));
            }
            facets_of.push(facets);
        }
        for ((model, fine), facets) in self.models.iter().zip(&meshes).zip(facets_of) {
            let parts = model.parts.iter().zip(facets);
            for (part, facets) in parts.filter(|(p, _)| p.is_printed) {
                objects.push(ColouredObject {
                    name: &part.name,
                    mesh: &fine.mesh,
                    facets,
                    shift,
                });
            }
        }
        let copies = self.copies.shifts(self.bounds().size());
        write_threemf(&self.name, &palette, &objects, &copies)
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

/// The public part of a plan as JSON: layers, swaps and bill (docs/plan-format.md).
pub fn plan_json(plan: &Plan) -> String {
    let public = serde_json::json!({
        "layers": plan.layers,
        "swaps": plan.swaps,
        "bill": plan.bill,
        "tower": plan.tower,
        "start": plan.start,
        "reloads": plan.reloads,
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
