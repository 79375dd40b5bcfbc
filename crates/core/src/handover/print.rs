//! Print files: what the printer is told, and what an independent check needs to know of it.

use super::bodies::ClosedBodies;
use super::check_not_empty;
use super::manifest::{manifest, of_bodies, strand};
use super::moves::{MovesFigure, figures};
use super::slot_words::slot_words;
use super::tables::plan_value;
use crate::advice::{CheckedPlan, task};
use crate::formats::{write_stl, zip_files};
use crate::gcode::{Allowed, Dialect, Standing, check_written, plain, words};
use crate::job::Job;
use crate::machine::{Spool, bin};
use crate::paths::{
    Asked, LayerBeads, Pace, PrintScript, SlotWords, Step, beads, beads_of_layer, check_scripts,
    pace,
};
use crate::plan::{Filament, Planner, Task};
use crate::{Problem, counted};
use rayon::prelude::*;
use serde_json::{Value, json};

/// A file for the printer.
#[derive(Debug, Clone)]
pub struct PrintFile {
    /// Its name.
    pub name: String,
    /// The slot it prints, where each has a file of its own.
    pub slot: Option<u8>,
    /// What is in it.
    pub text: String,
    /// How long it takes, s.
    pub pace: Pace,
    /// What it tells, step by step, and how long each takes, s.
    pub steps: Vec<Step>,
    /// Seconds of each step.
    pub seconds: Vec<f64>,
}

/// All files that print a job.
#[derive(Debug, Clone, Default)]
pub struct PrintFiles {
    /// In the order in which they are printed.
    pub files: Vec<PrintFile>,
    /// The plan as JSON, with its time from the moves.
    pub plan_json: String,
    /// From the print's frame to the bed's, mm.
    pub shift: [f64; 2],
    /// Layers with something that hangs over nothing, and how much, mm².
    pub hanging: Vec<(usize, f64)>,
    /// Areas of what stands alone in the first layer, mm².
    pub first_islands_mm2: Vec<f64>,
    /// What the moves come to, beside what was planned.
    pub figures: Vec<MovesFigure>,
    /// Low and high corner of where purge is pressed out, on the bed, mm.
    pub bin: [f64; 4],
    /// The strand from the nozzle on, slot and mm, for a machine that joins one.
    pub strand: Vec<(u8, f64)>,
    /// How long all of it takes, with what a person does between files, s.
    pub time_s: f64,
    /// What a check needs to know: machine, plan, parts, files, splices. Names lie beside it.
    pub manifest: Value,
}

/// What a check compares a print with.
pub struct Compared<'a> {
    /// The model as 3MF, with the colours of its facets.
    pub model: Vec<u8>,
    /// The bodies it is made of, where they are just what its layers print: see [`super::exact_bodies`].
    pub bodies: Option<&'a ClosedBodies>,
}

impl PrintFiles {
    /// By name everything there is: the files for the printer, and beside them the plan, and what a check needs. `released`: who let it
    /// go, in words.
    pub fn all(
        &self,
        job: &Job,
        compared: Compared<'_>,
        released: Option<&str>,
    ) -> Vec<(String, Vec<u8>)> {
        let file = |f: &PrintFile| (f.name.clone(), f.taken(released).into_bytes());
        let mut all: Vec<(String, Vec<u8>)> = self.files.iter().map(file).collect();
        all.push(("plan.json".into(), self.plan_json.clone().into_bytes()));
        all.push(("model.3mf".into(), compared.model));
        let mut bodies: Vec<(String, u8)> = Vec::new();
        for body in compared.bodies.iter().flat_map(|b| &b.bodies) {
            let name = format!("body-{:02}.stl", bodies.len() + 1);
            let facets = 0..body.solid.mesh.facets.len() as u32;
            all.push((name.clone(), write_stl(&body.solid.mesh, facets, &name)));
            bodies.push((name, job.slot_of(body.number)));
        }
        let told = match bodies.is_empty() {
            true => self.manifest.clone(),
            false => of_bodies(&self.manifest, bodies.iter().map(|(n, s)| (n.as_str(), *s))),
        };
        all.push(("manifest.json".into(), format!("{told:#}\n").into_bytes()));
        all
    }

    /// The same in a ZIP.
    ///
    /// # Errors
    /// `export-failed` if the writer refuses.
    pub fn zipped(
        &self,
        job: &Job,
        compared: Compared<'_>,
        released: Option<&str>,
    ) -> Result<Vec<u8>, Problem> {
        zip_files(&self.all(job, compared, released))
    }

    /// The one file there is.
    ///
    /// # Errors
    /// `several-files` where each pass has its own.
    pub fn single(&self) -> Result<&PrintFile, Problem> {
        match self.files.as_slice() {
            [one] => Ok(one),
            several => Err(Problem::new(
                "several-files",
                format!("This print has {} files, one for each pass", several.len()),
                "print.gcode",
                "Take all of them as a ZIP.",
            )),
        }
    }
}

impl PrintFile {
    /// What is in it, with who let it go in its head.
    pub fn taken(&self, released: Option<&str>) -> String {
        let mut text = self.text.clone();
        if let Some(words) = released {
            let end = text.find('\n').map_or(0, |at| at + 1);
            text.insert_str(end, &format!("; {}\n", plain(words)));
        }
        text
    }
}

/// The beads of a job's layers, for one piece.
///
/// # Errors
/// `stopped`.
pub fn job_beads(
    job: &Job,
    planner: &Planner,
    progress: &(dyn Fn(f64) -> bool + Sync),
) -> Result<Vec<LayerBeads>, Problem> {
    let Some(faces) = planner.faces(&job.print_claims()) else {
        return Ok(Vec::new());
    };
    Ok(beads(&faces, &job.printer, progress)?)
}

/// The beads of one layer of a job, for one piece; none if there is no such layer, or if it is not surveyed.
pub fn job_layer_beads(job: &Job, planner: &Planner, layer: usize) -> Option<LayerBeads> {
    let printer = &job.printer;
    let first = layer.saturating_sub(printer.bottom_skins.max(1) as usize);
    let end = layer + printer.top_skins as usize + 1;
    let faces = planner.faces_of(&job.print_claims(), first..end)?;
    beads_of_layer(&faces, first, layer, printer)
}

/// A job as the paths see it.
struct Prepared<'a> {
    task: Task,
    slots: Vec<SlotWords>,
    plan: &'a CheckedPlan,
    layers: &'a [LayerBeads],
}

impl<'a> Prepared<'a> {
    fn of(
        job: &Job,
        spools: &[Spool],
        plan: &'a CheckedPlan,
        layers: &'a [LayerBeads],
    ) -> Result<Prepared<'a>, Problem> {
        let task = task(job, spools);
        Ok(Prepared {
            slots: slot_words(job, spools, &task.filaments)?,
            task,
            plan,
            layers,
        })
    }

    fn asked(&self) -> Asked<'_> {
        Asked {
            task: &self.task,
            plan: self.plan,
            layers: self.layers,
            slots: &self.slots,
        }
    }
}

/// What the printer is told for a job, from its beads. What is written of it is looked over by [`print_files`].
///
/// # Errors
/// `print-refused` for what cannot be told to the printer ([`crate::paths::check_scripts`]).
pub fn job_scripts(
    job: &Job,
    spools: &[Spool],
    plan: &CheckedPlan,
    layers: &[LayerBeads],
) -> Result<Vec<PrintScript>, Problem> {
    let prepared = Prepared::of(job, spools, plan, layers)?;
    let asked = prepared.asked();
    check_scripts(&asked)?;
    Ok(asked.scripts())
}

/// All files that print a job as it is planned. `stem`: what their names begin with; `revision`: of the job, where it is counted; `header`: what stands above each.
///
/// # Errors
/// `export-empty` for a job without models; what [`refused`] and [`check_written`] say; `stopped`.
///
/// # Cost
/// That of [`beads`], and linear in moves.
pub fn print_files(
    job: &Job,
    spools: &[Spool],
    (plan, planner): (&CheckedPlan, &Planner),
    (stem, revision): (&str, Option<u32>),
    progress: &(dyn Fn(f64) -> bool + Sync),
) -> Result<PrintFiles, Problem> {
    check_not_empty(job)?;
    if job.printer.profile().jets {
        return Err(Problem::new(
            "print-jetting",
            "A jetting machine makes its moves itself",
            "printer",
            "Hand over the coloured model, or one STL for each body with its table.",
        ));
    }
    refused(plan)?;
    let layers = job_beads(job, planner, progress)?;
    let prepared = Prepared::of(job, spools, plan, &layers)?;
    let (task, slots, asked) = (&prepared.task, &prepared.slots, prepared.asked());
    check_scripts(&asked)?;
    let scripts = asked.scripts();
    let section_mm2: Vec<f64> = task.filaments.iter().map(Filament::section_mm2).collect();
    let several = scripts.len() > 1;
    let files: Vec<PrintFile> = scripts
        .par_iter()
        .enumerate()
        .map(|(number, script)| {
            let (seconds, pace) = pace(&script.steps, &job.printer);
            let mut header = vec![
                match revision {
                    Some(revision) => format!("Varichrom: {}, revision {revision}", job.name),
                    None => format!("Varichrom: {}", job.name),
                },
                format!("for {}", job.printer.name),
            ];
            let used = plan.needs.iter().filter(|n| n.model_g > 0.0);
            header.extend(used.map(|n| {
                let grams = n.grams();
                format!(
                    "slot {}: {}, {grams:.2} g",
                    n.slot,
                    slots[n.slot as usize - 1].name
                )
            }));
            header.push(format!(
                "{}, {}",
                counted(plan.layers.len(), "layer"),
                counted(plan.swaps.len(), "swap")
            ));
            if let Some(slot) = script.slot {
                header.push(format!(
                    "pass {} of {}: slot {slot}, {}",
                    number + 1,
                    scripts.len(),
                    slots[slot as usize - 1].name
                ));
            }
            let dialect = Dialect::of(&job.printer, section_mm2.clone(), header);
            PrintFile {
                name: match (several, script.slot) {
                    (true, Some(slot)) => format!("{stem}-{}-slot-{slot}.gcode", number + 1),
                    _ => format!("{stem}.gcode"),
                },
                slot: script.slot,
                text: words(&script.steps, &dialect),
                pace,
                steps: script.steps.clone(),
                seconds,
            }
        })
        .collect();
    let used = plan.needs.iter().filter(|n| n.model_g > 0.0);
    let allowed = Allowed {
        printer: &job.printer,
        hottest_c: used.map(|n| asked.hottest_c(n.slot)).fold(0.0, f64::max),
    };
    // What each file lays stands when the next begins.
    let mut standing = Standing::default();
    for file in &files {
        check_written(&file.text, &allowed, &mut standing)?;
    }
    let mut told = plan_value(job, spools, plan);
    // Between files a person changes the spool.
    let hands = (files.len() - 1) as f64 * job.printer.swap_s;
    let time_s = files.iter().map(|f| f.pace.sum()).sum::<f64>() + hands
        - (files.len() - 1) as f64 * job.printer.start_s;
    told["bill"]["time_s"] = json!(time_s);
    let strand = match job.printer.profile().splices {
        true => strand(&scripts, &task.filaments),
        false => Vec::new(),
    };
    let manifest = manifest((job, spools), (&asked, &task.filaments), &strand, &files);
    Ok(PrintFiles {
        plan_json: format!("{told:#}\n"),
        manifest,
        shift: asked.shift(),
        bin: bin(&job.printer),
        strand,
        time_s,
        hanging: hanging(&layers),
        first_islands_mm2: layers.first().map_or_else(Vec::new, |l| {
            l.section
                .clone()
                .islands()
                .iter()
                .map(crate::shapes::Area::mm2)
                .collect()
        }),
        figures: figures(&files, &task.filaments, &plan.bill, hands),
        files,
    })
}

/// Layers of which a good deal hangs, with how much, mm².
fn hanging(layers: &[LayerBeads]) -> Vec<(usize, f64)> {
    let of = layers.iter().enumerate().map(|(i, l)| (i, l.hanging_mm2));
    of.filter(|(_, mm2)| *mm2 > 0.0).collect()
}

/// A plan that warns of something that would not print as planned gets no files.
fn refused(plan: &CheckedPlan) -> Result<(), Problem> {
    match plan.cautions.iter().find(|c| c.is_wrong) {
        Some(wrong) => Err(Problem::new(
            "print-refused",
            format!("This would not print as planned: {}", wrong.message),
            &wrong.place,
            &wrong.mend,
        )),
        None => Ok(()),
    }
}
