//! What is looked at before a job is printed: one list, what is wrong first.

use super::print::PrintFiles;
use crate::Problem;
use crate::advice::CheckedPlan;
use crate::advice::load::{Level, LoadCheck, PrinterReport, SpoolNeed};
use crate::job::Job;
use crate::rehearsal::Verdict;
use crate::{counted, figure};
use serde::Serialize;

/// Islands of less are easily torn off the bed, mm² (common practice, no source).
const SMALL_ISLAND_MM2: f64 = 4.0;

/// One thing that was looked at.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct ReleaseCheck {
    /// Its kind, lasting, such as `spools-enough`.
    pub code: &'static str,
    /// How bad it is.
    pub level: Level,
    /// What is the matter, or that nothing is, in one sentence.
    pub message: String,
    /// More of it, or what to do.
    pub detail: String,
    /// Where it is mended.
    pub stage: ReleaseStage,
    /// Layer that it is about, from 0.
    pub layer: Option<usize>,
}

/// Where something is mended.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum ReleaseStage {
    /// Colour.
    Colour,
    /// Load.
    Load,
    /// Plan.
    Plan,
    /// Here.
    Handover,
    /// A rehearsal.
    Rehearsal,
}

/// What is known of a job at the moment.
pub struct Known<'a> {
    /// The job.
    pub job: &'a Job,
    /// Its plan, if it is there.
    pub plan: Option<&'a CheckedPlan>,
    /// What Load found.
    pub load: &'a [LoadCheck],
    /// What each spool gives.
    pub needs: &'a [SpoolNeed],
    /// What a person calls what is in each slot.
    pub names: &'a [String],
    /// The print files, or why there are none; none while they are made.
    pub print: Option<Result<&'a PrintFiles, &'a Problem>>,
    /// What the printer said of itself, if it was asked.
    pub report: Option<&'a PrinterReport>,
    /// What a rehearsal of this very revision came to.
    pub rehearsed: Option<&'a Verdict>,
}

/// Everything that is looked at, the worst first.
pub fn release_checks(known: &Known<'_>) -> Vec<ReleaseCheck> {
    let mut found = Vec::new();
    let Some(plan) = known.plan else {
        found.push(check(
            "plan-missing",
            Level::Wrong,
            "There is no plan yet",
            "It is worked out, or something keeps it from being made.",
            ReleaseStage::Plan,
        ));
        return found;
    };
    for caution in &plan.cautions {
        let level = if caution.is_wrong {
            Level::Wrong
        } else {
            Level::Look
        };
        found.push(check(
            "caution",
            level,
            &caution.message,
            &caution.mend,
            ReleaseStage::Plan,
        ));
    }
    let takes: Vec<String> = known
        .needs
        .iter()
        .filter(|n| n.grams() >= 0.05)
        .filter_map(|n| {
            let name = known.names.get(usize::from(n.place) - 1)?;
            Some(format!("{:.1} g of {name}", n.grams()))
        })
        .collect();
    for load in known.load {
        let detail = match load.level {
            Level::Fine if known.job.printer.profile().jets => String::new(),
            Level::Fine => takes.join(" · "),
            Level::Wrong | Level::Look => load.brief.clone(),
        };
        let message = load.message.trim_end_matches('.');
        // In a few words the same is not said twice.
        let detail = if message.contains(&detail) {
            String::new()
        } else {
            detail
        };
        found.push(check(
            load.code,
            load.level,
            message,
            &detail,
            ReleaseStage::Load,
        ));
    }
    // A jetting machine is handed a model: it makes its moves itself.
    if !known.job.printer.profile().jets {
        printer_check(known, &mut found);
        match known.print {
            Some(Err(problem)) => found.push(check(
                "print-refused",
                Level::Wrong,
                &problem.message,
                &problem.mend,
                ReleaseStage::Plan,
            )),
            Some(Ok(print)) => print_checks(print, &mut found),
            None => {}
        }
        found.extend(bin_check(known.job.printer.bin_cm3, plan));
        rehearsal_check(known.rehearsed, &mut found);
    }
    found.sort_by_key(|c| c.level);
    found
}

fn check(
    code: &'static str,
    level: Level,
    message: &str,
    detail: &str,
    stage: ReleaseStage,
) -> ReleaseCheck {
    ReleaseCheck {
        code,
        level,
        message: message.to_string(),
        detail: detail.to_string(),
        stage,
        layer: None,
    }
}

fn printer_check(known: &Known<'_>, found: &mut Vec<ReleaseCheck>) {
    let printer = &known.job.printer;
    let size = |nozzle_mm: f64, bed_mm: [f64; 3]| {
        format!(
            "nozzle {} mm, bed {:.0} × {:.0} mm",
            figure(nozzle_mm),
            bed_mm[0],
            bed_mm[1]
        )
    };
    let is = size(printer.nozzle_mm, printer.bed_mm);
    let sheet = printer.sheet.trim();
    let Some(report) = known.report else {
        let lies = match sheet.is_empty() {
            true => String::new(),
            false => format!(", sheet: {sheet}"),
        };
        found.push(check(
            "printer-unasked",
            Level::Look,
            "The printer was not asked what it is",
            &format!("Look yourself: {is}{lies}"),
            ReleaseStage::Load,
        ));
        return;
    };
    let nozzle_differs = (report.nozzle_mm - printer.nozzle_mm).abs() > 0.01;
    let bed_differs = (0..2).any(|i| report.bed_mm[i] + 0.5 < printer.bed_mm[i]);
    if nozzle_differs || bed_differs {
        let says = size(report.nozzle_mm, report.bed_mm);
        found.push(check(
            "printer-differs",
            Level::Wrong,
            "The printer is another one than the job is for",
            &format!("it says {says}; the job is for {is}"),
            ReleaseStage::Load,
        ));
    } else {
        let nozzle = figure(printer.nozzle_mm);
        found.push(check(
            "printer-right",
            Level::Fine,
            &format!("It is the right printer: nozzle {nozzle} mm and bed are the printer's"),
            &report.name,
            ReleaseStage::Load,
        ));
    }
    let lies = report.sheet.as_deref().map(str::trim);
    match lies.filter(|s| !s.is_empty()) {
        _ if sheet.is_empty() => {}
        None => found.push(check(
            "sheet-unknown",
            Level::Look,
            "The printer does not say which sheet lies on its bed",
            &format!("Look yourself: {sheet}"),
            ReleaseStage::Load,
        )),
        Some(lies) if lies.to_lowercase() == sheet.to_lowercase() => found.push(check(
            "sheet-right",
            Level::Fine,
            &format!("The right sheet lies on the bed: {sheet}"),
            "",
            ReleaseStage::Load,
        )),
        Some(lies) => found.push(check(
            "sheet-differs",
            Level::Wrong,
            &format!("Another sheet lies on the bed: {lies}"),
            &format!("the job is for {sheet}; change it, or say so in Load"),
            ReleaseStage::Load,
        )),
    }
}

/// What goes into the bin, and where it is full.
fn bin_check(bin_cm3: f64, plan: &CheckedPlan) -> Option<ReleaseCheck> {
    /// Room that loose strands take, over their volume (common practice, no source).
    const LOOSE: f64 = 10.0;
    let pressed = |s: &crate::plan::Swap| 1e-3 * s.split.bin_mm3;
    let all_cm3: f64 = plan.swaps.iter().map(pressed).sum();
    if all_cm3 <= 0.0 {
        return None;
    }
    let said = format!("{all_cm3:.1} cm³ of purge go into the bin");
    let room_cm3 = LOOSE * all_cm3;
    let looked = |level, message: &str, detail: &str| {
        check("bin", level, message, detail, ReleaseStage::Handover)
    };
    if bin_cm3 <= 0.0 {
        let detail = "empty it before; loose strands take about ten times the room";
        return Some(looked(Level::Look, &said, detail));
    }
    let holds = format!(
        "loose strands take about {room_cm3:.0} cm³, it holds {}",
        figure(bin_cm3)
    );
    let mut so_far = 0.0;
    let full = plan.swaps.iter().find(|s| {
        so_far += pressed(s);
        LOOSE * so_far > bin_cm3
    });
    Some(match full {
        None => looked(Level::Fine, &said, &format!("{holds}; empty it before")),
        Some(swap) => ReleaseCheck {
            layer: Some(swap.layer),
            ..looked(
                Level::Look,
                &format!("{said}: it is full at layer {}", swap.layer + 1),
                &format!("{holds}; empty it on the way, or send purge into the tower"),
            )
        },
    })
}

fn print_checks(print: &PrintFiles, found: &mut Vec<ReleaseCheck>) {
    found.push(check(
        "files-sound",
        Level::Fine,
        "The print file was read back and harms nothing",
        "heights, bed, heat and what stands, line by line",
        ReleaseStage::Handover,
    ));
    if let Some((layer, mm2)) = print.hanging.iter().max_by(|a, b| a.1.total_cmp(&b.1)) {
        let mut hangs = check(
            "hangs",
            Level::Look,
            &format!(
                "{} hang over nothing",
                counted(print.hanging.len(), "layer")
            ),
            &format!("the worst is layer {}, {mm2:.0} mm²", layer + 1),
            ReleaseStage::Colour,
        );
        hangs.layer = Some(*layer);
        found.push(hangs);
    }
    let small = print
        .first_islands_mm2
        .iter()
        .filter(|mm2| **mm2 < SMALL_ISLAND_MM2)
        .count();
    if small > 0 {
        let mut islands = check(
            "small-islands",
            Level::Look,
            &format!(
                "Layer 1 has {} under {SMALL_ISLAND_MM2:.0} mm²",
                counted(small, "island")
            ),
            "they are laid slowly; a brim holds them, strings are brushed off",
            ReleaseStage::Handover,
        );
        islands.layer = Some(0);
        found.push(islands);
    }
}

fn rehearsal_check(verdict: Option<&Verdict>, found: &mut Vec<ReleaseCheck>) {
    let Some(v) = verdict else {
        found.push(check(
            "unrehearsed",
            Level::Look,
            "It has not been rehearsed",
            "the whole print passes in seconds",
            ReleaseStage::Rehearsal,
        ));
        return;
    };
    let worst = match &v.worst {
        Some(stain) => format!("worst {:.1} at layer {}", stain.delta_e, stain.layer + 1),
        None => "no other colour anywhere".into(),
    };
    let (level, message) = match v.is_good {
        true => (
            Level::Fine,
            match v.worst.as_ref().is_some_and(|s| s.delta_e > v.tolerance) {
                // A trace of earlier colours on top of the last one: too little to be called a stain.
                true => format!(
                    "Rehearsed: no stain, a trace over {} at most, nothing touched",
                    figure(v.tolerance)
                ),
                false => format!(
                    "Rehearsed: no stain over {}, nothing touched",
                    figure(v.tolerance)
                ),
            },
        ),
        false if v.touched > 0 => (
            Level::Wrong,
            format!(
                "Rehearsed: the nozzle touched what stands, {}",
                counted(v.touched, "time")
            ),
        ),
        false if v.stained_layers > 0 => (
            Level::Look,
            format!(
                "Rehearsed: stains over {} in sight on {}",
                figure(v.tolerance),
                counted(v.stained_layers, "layer")
            ),
        ),
        false if !v.ran_out.is_empty() => (Level::Look, "Rehearsed: a spool ran out".into()),
        false => (Level::Wrong, "Rehearsed: it did not end as planned".into()),
    };
    let mut told = check(
        "rehearsed",
        level,
        &message,
        &worst,
        ReleaseStage::Rehearsal,
    );
    told.layer = v.worst.as_ref().map(|s| s.layer);
    found.push(told);
}

/// Things that a person does before, while and after a job prints: code, words.
pub fn care(job: &Job, plan: Option<&CheckedPlan>) -> Vec<(&'static str, String)> {
    let profile = job.printer.profile();
    let mut list = vec![
        ("bed-clean", "Bed clean and dry".to_string()),
        (
            "bed-level",
            match job.printer.sheet.trim() {
                "" => "Bed level, sheet sits flat".into(),
                sheet => format!("Bed level, its sheet ({sheet}) sits flat"),
            },
        ),
    ];
    if profile.jets {
        return vec![
            ("bed-clean", "Tray clean and empty".into()),
            ("materials", "Enough of every base material and of every colour in the machine".into()),
            ("copy-kept", "The model looked at once more by whoever prints it: colours, clear parts, soft parts".into()),
        ];
    }
    if profile.is_by_hand {
        list.push((
            "spools-by-hand",
            "Spools laid out in the order of the run sheet".into(),
        ));
        list.push((
            "brush",
            "Brush at hand: strings come off at every swap".into(),
        ));
    } else if profile.splices {
        list.push((
            "strand",
            "Strand joined in the order of its list, first length in the nozzle".into(),
        ));
    } else {
        list.push(("slots", "Spools in their slots, ends free".into()));
    }
    if plan.is_some_and(|p| p.swaps.iter().any(|s| s.split.bin_mm3 > 0.0)) {
        list.push(("bin-empty", "Bin empty".into()));
    }
    list.push(("first-layer", "Watch the first layer to its end".into()));
    list.push((
        "cooled",
        "Wait until the bed has cooled before you take it off".into(),
    ));
    list
}
