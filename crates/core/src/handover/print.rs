//! Print files: what the printer is told, and what an independent check needs to know of it.

use super::check_not_empty;
use super::moves::{MovesFigure, figures};
use super::tables::plan_value;
use crate::advice::{CheckedPlan, task};
use crate::formats::zip_files;
use crate::gcode::{Allowed, Dialect, Standing, check_written, words};
use crate::job::Job;
use crate::layers::TIE_MM;
use crate::machine::Spool;
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
    /// What the moves come to, beside what was planned.
    pub figures: Vec<MovesFigure>,
    /// What a check needs to know: machine, plan, parts, files, splices. Names lie beside it.
    pub manifest: String,
}

impl PrintFiles {
    /// All of it in a ZIP, with the model that a check compares it with.
    ///
    /// # Errors
    /// `export-failed` if the writer refuses.
    pub fn zipped(&self, model: Vec<u8>) -> Result<Vec<u8>, Problem> {
        let file = |f: &PrintFile| (f.name.clone(), f.text.clone().into_bytes());
        let mut all: Vec<(String, Vec<u8>)> = self.files.iter().map(file).collect();
        all.push(("plan.json".into(), self.plan_json.clone().into_bytes()));
        all.push(("manifest.json".into(), self.manifest.clone().into_bytes()));
        all.push(("model.3mf".into(), model));
        zip_files(&all)
    }

    /// The one file there is.
    ///
    /// # Errors
    /// `several-files` where each pass has its own.
    pub fn single(&self) -> Result<Vec<u8>, Problem> {
        match self.files.as_slice() {
            [one] => Ok(one.text.clone().into_bytes()),
            several => Err(Problem::new(
                "several-files",
                format!("This print has {} files, one for each pass", several.len()),
                "print.gcode",
                "Take all of them as a ZIP.",
            )),
        }
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
    let Some(faces) = planner.faces(&job.claims()) else {
        return Ok(Vec::new());
    };
    Ok(beads(&faces, &job.printer, progress)?)
}

/// The beads of one layer of a job, for one piece; none if there is no such layer, or if it is not surveyed.
pub fn job_layer_beads(job: &Job, planner: &Planner, layer: usize) -> Option<LayerBeads> {
    let printer = &job.printer;
    let first = layer.saturating_sub(printer.bottom_skins.max(1) as usize);
    let end = layer + printer.top_skins as usize + 1;
    let faces = planner.faces_of(&job.claims(), first..end)?;
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

/// What is in the slots, as it stands in files.
///
/// # Errors
/// `print-refused` where filaments are to be mixed that no temperature suits.
fn slot_words(
    job: &Job,
    spools: &[Spool],
    filaments: &[Filament],
) -> Result<Vec<SlotWords>, Problem> {
    let is_mixed = job.printer.profile().mixes.is_some();
    let spool = |id: &Option<String>| spools.iter().find(|s| Some(&s.id) == id.as_ref());
    let names: Vec<Option<&str>> = (0..job.printer.slots as usize)
        .map(|slot| {
            let id = job.slots.get(slot).filter(|_| !is_mixed)?;
            spool(id).map(|s| s.name.as_str())
        })
        .collect();
    // What melts together has to suit all that is in the feeds.
    let feeds: Vec<&Spool> = job.feeds.iter().filter_map(spool).collect();
    let low = feeds.iter().map(|s| s.nozzle_c[0]).fold(0.0, f64::max);
    let high = feeds
        .iter()
        .map(|s| s.nozzle_c[1])
        .fold(f64::INFINITY, f64::min);
    if is_mixed && low > high {
        return Err(Problem::new(
            "print-refused",
            "No temperature suits all filaments in the feeds",
            "load",
            "Put filaments of one plastic into the feeds.",
        ));
    }
    let of_slot = |(slot, filament): (u8, &Filament)| {
        let word = format!("{} {}", job.printer.profile().slot_word, slot + 1);
        let name = names[slot as usize];
        let is_double = names.iter().filter(|n| **n == name).count() > 1;
        SlotWords {
            name: match name {
                // Two spools of one name are told apart by where they are.
                Some(name) if is_double => format!("{name}, {word}"),
                Some(name) => name.to_string(),
                None => word,
            },
            nozzle_c: match is_mixed && !feeds.is_empty() {
                true => 0.5 * (low + high),
                false => filament.nozzle_c(),
            },
            shares: match is_mixed {
                true => job.mixture(slot),
                false => Vec::new(),
            },
        }
    };
    Ok((0..job.printer.slots).zip(filaments).map(of_slot).collect())
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
                let grams = n.model_g + n.purge_g + n.tower_g;
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
    let manifest = manifest((job, spools), (&asked, &task.filaments), &scripts, &files);
    Ok(PrintFiles {
        plan_json: format!("{told:#}\n"),
        manifest: format!("{manifest:#}\n"),
        shift: asked.shift(),
        hanging: hanging(&layers),
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

/// What a check needs to know.
fn manifest(
    (job, spools): (&Job, &[Spool]),
    (asked, filaments): (&Asked<'_>, &[Filament]),
    scripts: &[PrintScript],
    files: &[PrintFile],
) -> Value {
    let printer = &job.printer;
    let profile = printer.profile();
    let kind = match profile.kind {
        "at-pause" => "by-hand",
        "pass-per-colour" => "passes",
        kind => kind,
    };
    let mut slots = serde_json::Map::new();
    for (slot, words) in (1u8..).zip(asked.slots) {
        let filament = &filaments[slot as usize - 1];
        let mut told = json!({
            "tool": slot - 1,
            "name": words.name,
            "colour": filament.pigment.colour,
            "tinting": filament.pigment.tinting,
            "least_c": words.nozzle_c - 25.0,
        });
        if !words.shares.is_empty() {
            told["shares"] = json!(words.shares);
        }
        slots.insert(slot.to_string(), told);
    }
    let shift = asked.shift();
    let mut machine = json!({
        "kind": kind,
        "slots": slots,
        // One for the machine: that of the first slot.
        "filament_mm": filaments.first().map(|f| (4.0 * f.section_mm2() / std::f64::consts::PI).sqrt()),
        "line_mm": printer.line_width_mm,
        "walls": printer.walls,
        "border_walls": printer.border_walls,
        "top_skins": printer.top_skins,
        "bottom_skins": printer.bottom_skins,
        "infill": printer.infill,
        "bed_min_mm": [0, 0, 0],
        "bed_max_mm": printer.bed_mm,
        "melt_mm3": printer.melt.volume_mm3,
        "tanks": printer.melt.tanks,
        "tolerance": printer.tolerance,
        "heat_c_s": printer.heat_c_s,
        "acceleration_mm_s2": printer.printing.acceleration_mm_s2,
        "e_acceleration_mm_s2": printer.printing.acceleration_mm_s2,
        "junction_mm": printer.printing.junction_mm,
        "swap_s": printer.swap_s,
        "hand_s": printer.swap_s,
        "start_s": printer.start_s,
        "retract_mm_s": printer.printing.retract_mm_s,
    });
    if asked.plan.swaps.iter().any(|s| s.split.bin_mm3 > 0.0) {
        machine["bins_mm"] = json!([asked.bin()]);
    }
    if profile.mixes.is_some() {
        machine["feed_colours"] = feeds(job, spools);
    }
    // A colour may stand for one slot only: that of the first region that has it.
    let mut colours = serde_json::Map::new();
    let mut soak = serde_json::Map::new();
    for (number, region) in job.live_regions() {
        let slot = job.slot_of(number);
        let colour = json!(region.colour);
        if let Some(colour) = colour.as_str() {
            colours.entry(colour).or_insert(json!(slot));
        }
        // Right through is deeper than anything.
        let mm = job.soak_mm(number).min(1e4);
        soak.entry(slot.to_string()).or_insert(json!(mm));
    }
    for (slot, filament) in (1u8..).zip(filaments) {
        if let Some(colour) = json!(filament.pigment.colour).as_str() {
            colours.entry(colour).or_insert(json!(slot));
        }
    }
    let by_slot = files.iter().map(|f| match f.slot {
        Some(slot) => json!({"path": f.name, "slot": slot}),
        None => json!({"path": f.name}),
    });
    let mut told = json!({
        "machine": machine,
        "plan": "plan.json",
        "parts": [{"mesh": "model.3mf"}],
        "colours": colours,
        "soak_mm": soak,
        // Layers are cut a hair below their middle.
        "shift_mm": [shift[0], shift[1], TIE_MM],
        "files": by_slot.collect::<Vec<_>>(),
    });
    if profile.splices {
        told["splices"] = splices(scripts, filaments);
    }
    told
}

/// Colour and strength of what each feed of a mixing nozzle is given.
fn feeds(job: &Job, spools: &[Spool]) -> Value {
    let spool = |id: &Option<String>| spools.iter().find(|s| Some(&s.id) == id.as_ref());
    let told = job.feeds.iter().map(|id| match spool(id) {
        Some(spool) => json!({"colour": spool.colour, "tinting": spool.tinting}),
        None => json!({"colour": job.regions[0].colour, "tinting": 1.0}),
    });
    told.collect()
}

/// Lengths of the strand, from the nozzle on: what each slot gives until the next begins, from the moves as they are written.
fn splices(scripts: &[PrintScript], filaments: &[Filament]) -> Value {
    use crate::paths::Step;
    let mut lengths: Vec<(u8, f64)> = Vec::new();
    let mut slot = 0;
    for step in scripts.iter().flat_map(|s| &s.steps) {
        let mm3 = match step {
            Step::Slot { slot: next } => {
                slot = *next;
                continue;
            }
            Step::Lay { mm3, .. } | Step::Press { mm3, .. } => *mm3,
            _ => continue,
        };
        let mm = filaments[slot as usize - 1].length_mm(mm3);
        match lengths.last_mut().filter(|l| l.0 == slot) {
            Some(last) => last.1 += mm,
            None => lengths.push((slot, mm)),
        }
    }
    let told = lengths
        .iter()
        .map(|(slot, mm)| json!({"slot": slot, "mm": mm}));
    told.collect()
}
