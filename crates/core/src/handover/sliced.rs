//! Files that another program sliced, put right for a job's printer and spools.

use crate::advice::task;
use crate::gcode::{Rewritten, Wanted, joined, rewritten, sliced};
use crate::job::Job;
use crate::machine::Spool;
use crate::paths::Step;
use crate::plan::{Plan, Task, purges_of_pairs};
use crate::{Problem, counted};
use std::collections::BTreeMap;

/// What is asked for beside what follows from printer and spools.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct RewriteAsked {
    /// Slot of each tool of the file, where it is not the one after its number.
    pub tools: BTreeMap<u32, u8>,
    /// Slot that each pause of the file is for, in order; or, of several files, the slot of each.
    pub turns: Vec<u8>,
    /// Changes to put in: from which layer on, from 0, which slot.
    pub changes: Vec<(usize, u8)>,
    /// Whether purge is made what the printer's melt zone needs.
    pub purge: bool,
}

/// Files of one print as one file for the job's printer: tools are slots, pauses name spools; a printer that joins a strand gets none of
/// both. Several files are passes that are joined. A file of one colour without pauses gets the changes of the plan, if there is one.
///
/// # Errors
/// Those of [`rewritten`] and [`joined`]; `rewrite-refused` where the plan's changes are not between layers of the file.
pub fn rewritten_for(
    (job, spools): (&Job, &[Spool]),
    plan: Option<&Plan>,
    texts: &[String],
    asked: &RewriteAsked,
) -> Result<Rewritten, Problem> {
    let task = task(job, spools);
    let names = super::slot_words::slot_names(job, spools);
    let section_mm2 = task
        .filaments
        .first()
        .map_or(crate::rinse::FILAMENT_MM2, |f| f.section_mm2());
    let mut wanted = Wanted {
        printer: &job.printer,
        names: &names,
        section_mm2,
        tools: asked.tools.clone(),
        turns: asked.turns.clone(),
        changes: asked.changes.clone(),
        purge_mm3: asked.purge.then(|| purges_of_pairs(&task)),
    };
    match texts {
        [] => Err(refused(
            "There is no file to put right",
            "files",
            "Name one.",
        )),
        [text] => {
            let asks_nothing = asked.turns.is_empty() && asked.changes.is_empty();
            if let Some(plan) = plan.filter(|p| asks_nothing && !p.swaps.is_empty()) {
                wanted.changes = planned_changes(text, plan, &task, section_mm2)?;
            }
            rewritten(text, &wanted)
        }
        several => {
            let slots: Vec<u8> = match asked.turns.is_empty() {
                true => (1..=several.len().min(255) as u8).collect(),
                false => asked.turns.clone(),
            };
            if slots.len() != several.len()
                || slots.iter().any(|s| *s == 0 || *s > job.printer.slots)
            {
                return Err(refused(
                    &format!(
                        "{} need a slot each, and the printer has {}",
                        counted(several.len(), "file"),
                        job.printer.slots
                    ),
                    "slots",
                    "Name a slot of the printer for each file, in order.",
                ));
            }
            let parts: Vec<(&str, u8)> = several.iter().map(String::as_str).zip(slots).collect();
            joined(&parts, &wanted)
        }
    }
}

fn refused(message: &str, place: &str, mend: &str) -> Problem {
    Problem::new("rewrite-refused", message.to_string(), place, mend)
}

/// Where the plan changes colour, in layers of a file that has neither tools nor pauses.
fn planned_changes(
    text: &str,
    plan: &Plan,
    task: &Task,
    section_mm2: f64,
) -> Result<Vec<(usize, u8)>, Problem> {
    let file = sliced(text, section_mm2, &task.printer)?;
    let says_itself = |s: &Step| match s {
        Step::Prompt { .. } => true,
        Step::Select { tool } => *tool > 0,
        _ => false,
    };
    if file.steps.iter().any(says_itself) {
        return Ok(Vec::new());
    }
    let mut changes = Vec::new();
    for swap in &plan.swaps {
        let layer = &plan.layers[swap.layer];
        if layer.order.len() > 1 {
            return Err(refused(
                &format!(
                    "Layer {} has several colours: a file of one colour cannot be changed within it",
                    swap.layer + 1
                ),
                &format!("layer {}", swap.layer + 1),
                "Give each layer one colour, or take the print file of Varichrom's own.",
            ));
        }
        const SAME_MM: f64 = 0.02;
        let same = |z: &f64| (z - layer.z1_mm).abs() < SAME_MM;
        match file.heights_mm.iter().position(same) {
            Some(at) => changes.push((at, swap.to)),
            None => {
                return Err(refused(
                    &format!(
                        "The file has no layer that ends at {:.2} mm, where {} begins",
                        layer.z1_mm, swap.to
                    ),
                    &format!("layer {}", swap.layer + 1),
                    "Slice it with the layers of the plan.",
                ));
            }
        }
    }
    Ok(changes)
}
