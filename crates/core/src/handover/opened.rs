//! A print file from anywhere as it runs on a job's printer: what it lays, in which order, how long it takes, and what is to be said of
//! it. No comment of it is believed.

use super::against::{findings, harm};
use super::moves::steps_bytes;
use super::sliced::RewriteAsked;
use crate::Problem;
use crate::advice::load::Level;
use crate::advice::{CheckedPlan, task};
use crate::gcode::{Sliced, Summary, sliced};
use crate::job::Job;
use crate::machine::Spool;
use crate::paths::{Step, pace};
use crate::plan::{Task, purges_of_pairs};
use serde::Serialize;
use std::collections::BTreeMap;

/// A print file from anywhere on a job's printer.
#[derive(Debug, Clone)]
pub struct OpenedFile {
    /// What it does, with the slot that each stretch comes from.
    pub steps: Vec<Step>,
    /// Seconds of each step.
    pub seconds: Vec<f64>,
    /// What it comes to.
    pub report: FileReport,
}

/// What a print file comes to.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct FileReport {
    /// By height, ascending.
    pub layers: Vec<FileLayer>,
    /// Changes of filament, in order.
    pub changes: Vec<FileChange>,
    /// Waits for a person, in order.
    pub pauses: Vec<FilePause>,
    /// Numbers of the tools that it calls.
    pub tools: Vec<u8>,
    /// What each slot gives, those that give nothing left out.
    pub slots: Vec<FileSlot>,
    /// How long it takes, s.
    pub time_s: f64,
    /// What the job's plan comes to, where there is one.
    pub planned: Option<PlannedFigures>,
    /// What is to be said of it, the worst first.
    pub findings: Vec<FileFinding>,
}

/// What is laid at one height.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct FileLayer {
    /// Top of the layer below, mm.
    pub z0_mm: f64,
    /// Height of the nozzle, mm.
    pub z1_mm: f64,
    /// Slots in the order in which they begin to lay.
    pub order: Vec<u8>,
    /// What each slot lays, as the area that it would fill, mm².
    #[cfg_attr(feature = "wire", ts(type = "Record<string, number>"))]
    pub areas_mm2: BTreeMap<u8, f64>,
}

/// A change of filament.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct FileChange {
    /// Layer, from 0.
    pub layer: usize,
    /// Where its layer begins, mm.
    pub z_mm: f64,
    /// From which slot, from 1.
    pub from: u8,
    /// To which.
    pub to: u8,
    /// What the file presses out, mm³.
    pub purge_mm3: f64,
    /// What the printer's melt zone needs, mm³; none where slots are not the printer's.
    pub due_mm3: Option<f64>,
    /// Whether a person does it.
    pub is_by_hand: bool,
}

/// A wait for a person.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct FilePause {
    /// Layer that goes on after it, from 0; none if nothing does.
    pub layer: Option<usize>,
    /// What the person is told.
    pub text: String,
    /// Slot that is put in, if that was said.
    pub slot: Option<u8>,
}

/// What a slot gives.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct FileSlot {
    /// From 1.
    pub slot: u8,
    /// All of it, g.
    pub grams: f64,
    /// Of that after changes, before the print goes on, g.
    pub purge_g: f64,
}

/// What a plan comes to.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct PlannedFigures {
    /// s.
    pub time_s: f64,
    /// Swaps.
    pub swaps: usize,
    /// All plastic, g.
    pub grams: f64,
    /// Of that purged, g.
    pub purge_g: f64,
}

/// One thing to be said of a print file.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct FileFinding {
    /// Its kind, lasting, such as `purge-short`.
    pub code: &'static str,
    /// How bad it is.
    pub level: Level,
    /// What is the matter, or that nothing is.
    pub message: String,
    /// More of it, or what to do.
    pub detail: String,
    /// Layer that it is about, from 0.
    pub layer: Option<usize>,
}

impl OpenedFile {
    /// Its moves as the browser draws them, from the front left corner of the bed: format `VCV1`.
    pub fn moves_bytes(&self) -> Vec<u8> {
        steps_bytes(&[(&self.steps, &self.seconds)], [0.0; 2])
    }
}

/// A print file on a job's printer. `asked`: which slot stands for a tool or a pause, as for rewriting.
/// `strand`: slot and mm from the nozzle on, of a file for one strand; else empty.
///
/// # Errors
/// Those of [`crate::gcode::read`].
///
/// # Cost
/// Linear in the text, n log n in heights.
pub fn opened_file(
    (job, spools): (&Job, &[Spool]),
    plan: Option<&CheckedPlan>,
    text: &str,
    (asked, strand): (&RewriteAsked, &[(u8, f64)]),
) -> Result<OpenedFile, Problem> {
    // A plan of nothing says nothing.
    let plan = plan.filter(|p| !p.layers.is_empty());
    let task = task(job, spools);
    let section_mm2 = task
        .filaments
        .first()
        .map_or(crate::rinse::FILAMENT_MM2, |f| f.section_mm2());
    // What does not need another goes side by side: a file is looked over while it is read.
    let (harm, file) = rayon::join(
        || harm(text, &job.printer),
        || sliced(text, section_mm2, &job.printer),
    );
    let file = file?;
    let (summary, (seconds, pace)) = rayon::join(
        || file.summary(section_mm2, &job.printer),
        || pace(&file.steps, &job.printer),
    );
    let report = FileReport {
        tools: summary.tools_called(),
        time_s: pace.sum(),
        planned: plan.map(|p| PlannedFigures {
            time_s: p.bill.time_s,
            swaps: p.bill.swaps,
            grams: p.bill.model_g + p.bill.purge_g + p.bill.tower_g,
            purge_g: p.bill.purge_g,
        }),
        ..walked(
            &file,
            &summary,
            &task,
            Slots::of(asked, strand, section_mm2),
        )
    };
    let (steps, seconds) = with_slots(file.steps, seconds, Slots::of(asked, strand, section_mm2));
    let mut opened = OpenedFile {
        steps,
        seconds,
        report,
    };
    opened.report.findings = findings((job, spools), plan, (harm, &opened), &summary.unknown_words);
    Ok(opened)
}

/// From which slot the plastic of each step comes.
struct Slots<'a> {
    asked: &'a RewriteAsked,
    turns: std::slice::Iter<'a, u8>,
    strand: &'a [(u8, f64)],
    section_mm2: f64,
    /// Left of the length of the strand that is in the nozzle, mm.
    left_mm: f64,
    slot: u8,
}

impl Slots<'_> {
    fn of<'a>(asked: &'a RewriteAsked, strand: &'a [(u8, f64)], section_mm2: f64) -> Slots<'a> {
        let mut slots = Slots {
            asked,
            turns: asked.turns.iter(),
            strand,
            section_mm2,
            left_mm: strand.first().map_or(0.0, |(_, mm)| *mm),
            slot: 0,
        };
        slots.slot = match strand.first() {
            Some((slot, _)) => *slot,
            None => slots.of_tool(0),
        };
        slots
    }

    fn of_tool(&self, tool: u8) -> u8 {
        let said = self.asked.tools.get(&u32::from(tool)).copied();
        said.unwrap_or(tool.saturating_add(1))
    }

    /// Slot of a step and of what follows; called for every step in order.
    fn at(&mut self, step: &Step) -> u8 {
        let fed_mm = match step {
            Step::Lay { mm3, .. } | Step::Press { mm3, .. } => mm3 / self.section_mm2,
            Step::Push { mm, .. } => *mm,
            Step::Pull { mm, .. } => -mm,
            _ => 0.0,
        };
        match step {
            _ if !self.strand.is_empty() => {
                const HAIR_MM: f64 = 1e-3;
                while fed_mm > 0.0 && self.left_mm < HAIR_MM && self.strand.len() > 1 {
                    self.strand = &self.strand[1..];
                    self.left_mm += self.strand[0].1;
                    self.slot = self.strand[0].0;
                }
                self.left_mm -= fed_mm;
            }
            Step::Select { tool } => self.slot = self.of_tool(*tool),
            Step::Prompt { .. } => self.slot = self.turns.next().copied().unwrap_or(self.slot),
            _ => {}
        }
        self.slot
    }
}

/// Steps with the slot that each stretch comes from.
fn with_slots(steps: Vec<Step>, seconds: Vec<f64>, mut slots: Slots<'_>) -> (Vec<Step>, Vec<f64>) {
    let mut out = Vec::with_capacity(steps.len() + 64);
    let mut times = Vec::with_capacity(steps.len() + 64);
    let mut last = None;
    for (step, s) in steps.into_iter().zip(seconds) {
        let slot = slots.at(&step);
        if last.replace(slot) != Some(slot) {
            out.push(Step::Slot { slot });
            times.push(0.0);
        }
        out.push(step);
        times.push(s);
    }
    (out, times)
}

/// Layers, changes, pauses and plastic, by the job's slots.
fn walked(file: &Sliced, summary: &Summary, task: &Task, mut slots: Slots<'_>) -> FileReport {
    let mut report = FileReport {
        layers: layers(&file.heights_mm),
        changes: Vec::new(),
        pauses: Vec::new(),
        tools: Vec::new(),
        slots: Vec::new(),
        time_s: 0.0,
        planned: None,
        findings: Vec::new(),
    };
    let due = purges_of_pairs(task);
    let profile = task.printer.profile();
    let filament = |slot: u8| task.filaments.get(usize::from(slot).wrapping_sub(1));
    let section_mm2 = |slot| filament(slot).map_or(crate::rinse::FILAMENT_MM2, |f| f.section_mm2());
    let (mut slot, mut layer, mut has_tool) = (slots.slot, None, false);
    let mut purges = summary.changes.iter().map(|c| c.purge_mm3);
    let mut mm3: BTreeMap<u8, [f64; 2]> = BTreeMap::new();
    // Changes and pauses up to here have their layer: it is that of what is laid next.
    let mut due_from = (0, 0);
    for step in &file.steps {
        let from = std::mem::replace(&mut slot, slots.at(step));
        let is_call = matches!(step, Step::Select { .. });
        // The first call takes nothing away.
        let purge_mm3 = match is_call && std::mem::replace(&mut has_tool, true) {
            true => purges.next().unwrap_or(0.0),
            false => 0.0,
        };
        // Before anything is laid filament is put in, not changed.
        if let Some(at) = layer.filter(|_| from != slot) {
            let due = due.get(&(from, slot)).copied();
            report.changes.push(FileChange {
                layer: at,
                z_mm: report.layers.get(at).map_or(0.0, |l| l.z1_mm),
                from,
                to: slot,
                purge_mm3,
                due_mm3: due.filter(|_| profile.rinses && is_call),
                is_by_hand: matches!(step, Step::Prompt { .. }),
            });
        }
        let sums = mm3.entry(slot).or_default();
        sums[1] += purge_mm3;
        match step {
            Step::Layer { index, .. } => layer = Some(*index),
            Step::Lay { mm3: laid, .. } => {
                sums[0] += laid;
                let Some(at) = layer else { continue };
                let here = &mut report.layers[at];
                let height = (here.z1_mm - here.z0_mm).max(0.01);
                *here.areas_mm2.entry(slot).or_default() += laid / height;
                if !here.order.contains(&slot) {
                    here.order.push(slot);
                }
                let z_mm = here.z0_mm;
                for change in &mut report.changes[due_from.0..] {
                    (change.layer, change.z_mm) = (at, z_mm);
                }
                for pause in &mut report.pauses[due_from.1..] {
                    pause.layer = Some(at);
                }
                due_from = (report.changes.len(), report.pauses.len());
            }
            Step::Pull { mm, .. } => sums[0] -= mm * section_mm2(slot),
            Step::Push { mm, .. } => sums[0] += mm * section_mm2(slot),
            Step::Prompt { words, .. } => {
                let told = slots.asked.turns.get(report.pauses.len()).copied();
                report.pauses.push(FilePause {
                    layer: None,
                    text: words.clone(),
                    slot: told,
                });
            }
            _ => {}
        }
    }
    let grams = |slot, mm3| filament(slot).map_or(0.0, |f| f.grams(mm3));
    report.slots = mm3
        .into_iter()
        .filter(|(_, [all, _])| *all > 1e-6)
        .map(|(slot, [all, purge])| FileSlot {
            slot,
            grams: grams(slot, all),
            purge_g: grams(slot, purge),
        })
        .collect();
    report
}

/// Layers with nothing on them yet.
fn layers(tops: &[f64]) -> Vec<FileLayer> {
    let layers = tops.iter().scan(0.0, |below, top| {
        let z0_mm = std::mem::replace(below, *top);
        Some(FileLayer {
            z0_mm,
            z1_mm: *top,
            order: Vec::new(),
            areas_mm2: BTreeMap::new(),
        })
    });
    layers.collect()
}
