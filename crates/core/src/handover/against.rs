//! What is to be said of a print file from elsewhere: whether the printer can do it, what its spools stand, and how it differs from the
//! job's plan.

use super::opened::{FileFinding, FileReport, OpenedFile};
use super::slot_words::slot_names;
use crate::advice::CheckedPlan;
use crate::advice::load::Level;
use crate::gcode::{Allowed, Standing, check_written};
use crate::job::Job;
use crate::machine::{Printer, Spool};
use crate::paths::Step;
use crate::plan::{Plan, PlanLayer};
use crate::{Problem, counted};
use std::collections::BTreeMap;

/// Heights this near are the same, mm.
const SAME_MM: f64 = 0.02;

/// Purge of less than this share of what is due is too little: what is counted of a tower is known to about this.
const ENOUGH: f64 = 0.9;

/// Spools' temperatures are kept to about this, °C (common practice, no source).
const ABOUT_C: f64 = 5.0;

struct Found(Vec<FileFinding>);

impl Found {
    fn say(&mut self, code: &'static str, level: Level, message: String, detail: String) {
        self.at(code, level, message, detail, None);
    }

    fn at(
        &mut self,
        code: &'static str,
        level: Level,
        message: String,
        detail: String,
        layer: Option<usize>,
    ) {
        self.0.push(FileFinding {
            code,
            level,
            message,
            detail,
            layer,
        });
    }
}

/// What of a file would do harm on a printer, if anything; what spools stand is looked at by itself.
pub(super) fn harm(text: &str, printer: &Printer) -> Option<Problem> {
    let allowed = Allowed {
        printer,
        hottest_c: f64::INFINITY,
    };
    check_written(text, &allowed, &mut Standing::default()).err()
}

/// All there is to say, the worst first.
pub(super) fn findings(
    (job, spools): (&Job, &[Spool]),
    plan: Option<&CheckedPlan>,
    (harm, file): (Option<Problem>, &OpenedFile),
    unknown_words: &BTreeMap<String, usize>,
) -> Vec<FileFinding> {
    let mut found = Found(Vec::new());
    let names = slot_names(job, spools);
    let report = &file.report;
    machine(&mut found, job, harm, report);
    filaments(&mut found, (job, spools), &names, file);
    purge(&mut found, &names, report);
    if let Some(plan) = plan {
        layers(&mut found, &names, report, plan);
    }
    if !unknown_words.is_empty() {
        let words = unknown_words.iter().take(8);
        let words: Vec<String> = words.map(|(w, n)| format!("{w} ({n})")).collect();
        found.say(
            "words-unknown",
            Level::Look,
            format!(
                "{} that say nothing to this reader",
                counted(unknown_words.len(), "word")
            ),
            format!("{}; they are left as they are", words.join(", ")),
        );
    }
    found.0.sort_by_key(|f| f.level);
    found.0
}

/// Whether the machine can do it.
fn machine(found: &mut Found, job: &Job, harm: Option<Problem>, report: &FileReport) {
    let printer = &job.printer;
    let profile = printer.profile();
    match harm {
        Some(p) => found.say(
            "file-harms",
            Level::Wrong,
            p.message,
            p.place.unwrap_or_default(),
        ),
        None => found.say(
            "file-safe",
            Level::Fine,
            "On the bed, warm where it feeds, nothing in the nozzle's way".into(),
            String::new(),
        ),
    }
    let beyond: Vec<String> = report
        .slots
        .iter()
        .filter(|s| s.slot == 0 || s.slot > printer.slots)
        .map(|s| s.slot.to_string())
        .collect();
    if !beyond.is_empty() {
        found.say(
            "slots-beyond",
            Level::Wrong,
            format!(
                "It prints from slot {}, and the printer has {}",
                beyond.join(", "),
                printer.slots
            ),
            "Say which slot stands for each of its tools.".into(),
        );
    }
    let changes_itself = !report.tools.is_empty() && report.tools != [0];
    if changes_itself && (profile.is_by_hand || profile.splices) {
        let (message, detail) = match profile.splices {
            true => (
                "It calls tools, and this printer gets one strand",
                "Have it rewritten: tools become lengths of the strand.",
            ),
            false => (
                "It calls tools, and here colours are changed by hand",
                "Have it rewritten: each call becomes a pause that says what is put in.",
            ),
        };
        found.say("tools-called", Level::Wrong, message.into(), detail.into());
    }
    let untold = report.pauses.iter().filter(|p| p.slot.is_none()).count();
    if untold > 0 {
        found.say(
            "pauses-untold",
            Level::Look,
            format!(
                "Nothing says what is put in at {}",
                counted(untold, "pause")
            ),
            "Say below which slot each is for.".into(),
        );
    }
}

/// Whether what is loaded is there, enough, and laid as warm as it stands.
fn filaments(
    found: &mut Found,
    (job, spools): (&Job, &[Spool]),
    names: &[String],
    file: &OpenedFile,
) {
    let mixes = job.printer.profile().mixes.is_some();
    let spool = |slot: u8| {
        let id = job.slots.get(usize::from(slot).wrapping_sub(1))?.as_ref()?;
        spools.iter().find(|s| s.id == *id)
    };
    let name = |slot: u8| named(names, slot);
    let heat = laid_at(file, job.printer.profile().rinses);
    let mut is_fine = true;
    for used in file.report.slots.iter().filter(|_| !mixes) {
        if used.slot == 0 || used.slot > job.printer.slots {
            continue;
        }
        let Some(spool) = spool(used.slot) else {
            is_fine = false;
            found.say(
                "slot-empty",
                Level::Look,
                format!("No spool is in slot {}", used.slot),
                format!("It gives {:.1} g.", used.grams),
            );
            continue;
        };
        if used.grams > spool.left_g {
            is_fine = false;
            found.say(
                "spool-short",
                Level::Wrong,
                format!(
                    "{} has {:.1} g, and the file takes {:.1} g",
                    name(used.slot),
                    spool.left_g,
                    used.grams
                ),
                "Load a fuller one.".into(),
            );
        }
        let [low, high] = spool.nozzle_c;
        let Some([coldest, hottest]) = heat.get(&used.slot) else {
            continue;
        };
        let off = match (*hottest > high + ABOUT_C, *coldest < low - ABOUT_C) {
            (true, _) => Some((Level::Wrong, hottest)),
            (_, true) => Some((Level::Look, coldest)),
            _ => None,
        };
        if let Some((level, c)) = off {
            is_fine = false;
            found.say(
                "heat-off",
                level,
                format!("{} is laid at {c:.0} °C", name(used.slot)),
                format!("Its spool says {low:.0} to {high:.0} °C."),
            );
        }
    }
    if is_fine && !file.report.slots.is_empty() {
        let takes = file.report.slots.iter();
        let takes: Vec<String> = takes
            .map(|s| format!("{:.1} g of {}", s.grams, name(s.slot)))
            .collect();
        found.say(
            "spools-enough",
            Level::Fine,
            "The spools are there, enough, and as warm as they want".into(),
            takes.join(" · "),
        );
    }
}

/// Coldest and hottest that each slot's plastic is laid at, °C.
fn laid_at(file: &OpenedFile, is_one_nozzle: bool) -> BTreeMap<u8, [f64; 2]> {
    let mut warm: BTreeMap<u8, f64> = BTreeMap::new();
    let mut found: BTreeMap<u8, [f64; 2]> = BTreeMap::new();
    let (mut tool, mut slot) = (0, 1);
    let heater = |t: u8| if is_one_nozzle { 0 } else { t };
    for step in &file.steps {
        match step {
            Step::Select { tool: t } => tool = *t,
            Step::Slot { slot: s } => slot = *s,
            Step::Heat { tool: of, c, .. } if *c > 0.0 => {
                warm.insert(heater(of.unwrap_or(tool)), *c);
            }
            Step::Lay { .. } => {
                if let Some(c) = warm.get(&heater(tool)) {
                    let [low, high] = found.entry(slot).or_insert([*c; 2]);
                    (*low, *high) = (low.min(*c), high.max(*c));
                }
            }
            _ => {}
        }
    }
    found
}

fn named(names: &[String], slot: u8) -> String {
    let name = names.get(usize::from(slot).wrapping_sub(1));
    name.cloned().unwrap_or_else(|| format!("slot {slot}"))
}

/// Whether each change presses out enough.
fn purge(found: &mut Found, names: &[String], report: &FileReport) {
    let by_file = report.changes.iter().filter(|c| !c.is_by_hand);
    let asked = by_file.filter_map(|c| Some((c, c.due_mm3?)));
    let (mut count, mut worst) = (0, None::<(f64, &super::opened::FileChange, f64)>);
    let mut all = 0;
    for (change, due) in asked {
        all += 1;
        if change.purge_mm3 >= ENOUGH * due {
            continue;
        }
        count += 1;
        let missing = due - change.purge_mm3;
        if worst.is_none_or(|(most, ..)| missing > most) {
            worst = Some((missing, change, due));
        }
    }
    match worst {
        Some((_, change, due)) => found.at(
            "purge-short",
            // What goes into the print itself is not told from the print.
            Level::Look,
            format!(
                "At {count} of {} too little is pressed out for a clean colour",
                counted(all, "change")
            ),
            format!(
                "Worst: {:.0} of {:.0} mm³ from {} to {}, layer {}; what is purged into the print is not counted",
                change.purge_mm3,
                due,
                named(names, change.from),
                named(names, change.to),
                change.layer + 1
            ),
            Some(change.layer),
        ),
        None if all > 0 => found.say(
            "purge-enough",
            Level::Fine,
            "Every change presses out enough for a clean colour".into(),
            counted(all, "change"),
        ),
        None => {}
    }
}

/// Planned layers with something in them: where nothing prints no file has a layer.
fn laid(plan: &Plan) -> Vec<&PlanLayer> {
    let has_any = |l: &&PlanLayer| !l.order.is_empty();
    plan.layers.iter().filter(has_any).collect()
}

/// How it differs from the plan: layers, colours and their order, changes.
fn layers(found: &mut Found, names: &[String], report: &FileReport, plan: &Plan) {
    let planned = laid(plan);
    let same = |a: f64, b: f64| (a - b).abs() < SAME_MM;
    let first_off = report
        .layers
        .iter()
        .zip(&planned)
        .position(|(a, b)| !same(a.z1_mm, b.z1_mm));
    if first_off.is_some() || report.layers.len() != planned.len() {
        let at = first_off.unwrap_or(report.layers.len().min(planned.len()));
        let top = |z: Option<f64>| z.map_or("nothing".into(), |z| format!("{z:.2} mm"));
        let (has, wants) = (
            top(report.layers.get(at).map(|l| l.z1_mm)),
            top(planned.get(at).map(|l| l.z1_mm)),
        );
        found.at(
            "layers-differ",
            Level::Look,
            format!(
                "It has {}, the plan {}",
                counted(report.layers.len(), "layer"),
                planned.len()
            ),
            format!(
                "Layer {} ends at {has} here, at {wants} in the plan.",
                at + 1
            ),
            Some(at.min(report.layers.len().saturating_sub(1))),
        );
    } else {
        orders(found, names, report, plan);
    }
    let (has, wants) = (report.changes.len(), plan.swaps.len());
    if has != wants {
        let more = has.abs_diff(wants);
        found.say(
            "changes-differ",
            Level::Look,
            format!(
                "It changes filament {}, the plan {wants}",
                counted(has, "time")
            ),
            match has > wants {
                true => format!("{} that the plan does without.", counted(more, "change")),
                false => format!(
                    "{} that the plan has are not there.",
                    counted(more, "change")
                ),
            },
        );
    }
}

/// Layers that are the plan's: which colours, and in which order.
fn orders(found: &mut Found, names: &[String], report: &FileReport, plan: &Plan) {
    let (mut missing, mut extra, mut order) = (Vec::new(), Vec::new(), Vec::new());
    for (number, (here, planned)) in report.layers.iter().zip(laid(plan)).enumerate() {
        let lacks = planned.order.iter().find(|s| !here.order.contains(s));
        let adds = here.order.iter().find(|s| !planned.order.contains(s));
        match (lacks, adds) {
            (Some(slot), _) => missing.push((number, *slot)),
            (None, Some(slot)) => extra.push((number, *slot)),
            (None, None) if here.order != planned.order => order.push(number),
            (None, None) => {}
        }
    }
    let of = |slots: &[(usize, u8)]| {
        slots
            .first()
            .map(|(layer, slot)| format!("First {} on layer {}.", named(names, *slot), layer + 1))
            .unwrap_or_default()
    };
    if let Some((layer, _)) = missing.first() {
        found.at(
            "colour-missing",
            Level::Wrong,
            format!(
                "On {} a colour of the plan is missing",
                counted(missing.len(), "layer")
            ),
            of(&missing),
            Some(*layer),
        );
    }
    if let Some((layer, _)) = extra.first() {
        found.at(
            "colour-added",
            Level::Look,
            format!(
                "On {} a colour is laid that the plan has not",
                counted(extra.len(), "layer")
            ),
            of(&extra),
            Some(*layer),
        );
    }
    if let Some(layer) = order.first() {
        found.at(
            "order-differs",
            Level::Look,
            format!(
                "On {} colours come in another order than planned",
                counted(order.len(), "layer")
            ),
            format!("First on layer {}.", layer + 1),
            Some(*layer),
        );
    }
    if missing.is_empty() && extra.is_empty() && order.is_empty() {
        found.say(
            "as-planned",
            Level::Fine,
            "Layers, colours and their order are the plan's".into(),
            String::new(),
        );
    }
}
