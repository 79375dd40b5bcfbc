//! What a rehearsal of a job's print files begins with.

use super::opened::OpenedFile;
use super::print::PrintFiles;
use super::sliced::RewriteAsked;
use super::slot_words::slot_names;
use crate::advice::task;
use crate::gcode::purge_place;
use crate::job::Job;
use crate::machine::Spool;
use crate::paths::Step;
use crate::plan::{Filament, Plan, purges_of_pairs};
use crate::rehearsal::{Held, Setup, Trouble, Turn};
use std::fmt::Write;

/// Files of a job as one text, as the printer gets them one after the other: between passes it waits for the next spool.
pub fn text_to_rehearse(print: &PrintFiles, names: &[String]) -> String {
    let mut text = String::new();
    for (number, file) in print.files.iter().enumerate() {
        if number > 0 {
            let name = file.slot.and_then(|s| names.get(usize::from(s) - 1));
            let name = name.map_or("the next spool", String::as_str);
            let _ = writeln!(text, "M117 Load {name}, start the next file\nM0");
        }
        text += &file.text;
    }
    text
}

/// Room beside a tower that its lines may take, mm.
const BESIDE_MM: f64 = 1.0;

/// The machine that a job is for, with what is in its slots and what is planned; `troubles`: what is to go wrong.
pub fn rehearsal_setup(
    (job, spools): (&Job, &[Spool]),
    plan: &Plan,
    print: &PrintFiles,
    troubles: Vec<Trouble>,
) -> Setup {
    let profile = job.printer.profile();
    let first = plan
        .layers
        .iter()
        .find_map(|l| l.order.first().copied())
        .unwrap_or(1);
    let first = match plan.is_by_passes {
        true => print.files.first().and_then(|f| f.slot).unwrap_or(first),
        false => first,
    };
    let places = match (profile.is_by_hand, plan.start.is_empty()) {
        (true, _) => vec![first],
        (false, false) => plan.start.clone(),
        (false, true) => (1..=job.printer.slots).collect(),
    };
    let turns = match profile.is_by_hand {
        true => plan
            .swaps
            .iter()
            .map(|s| Turn {
                place: 0,
                slot: s.to,
                press_mm3: s.split.hand_mm3,
            })
            .collect(),
        false => plan
            .reloads
            .iter()
            .map(|r| Turn {
                place: usize::from(r.place) - 1,
                slot: r.slot,
                press_mm3: 0.0,
            })
            .collect(),
    };
    let tower = plan.tower.and_then(|t| {
        let half = 0.5 * t.side_mm + BESIDE_MM;
        let at = t.at?;
        Some([-half, half].map(|by| [0, 1].map(|i| at[i] + print.shift[i] + by)))
    });
    let [x0, y0, x1, y1] = print.bin;
    Setup {
        places,
        turns,
        strand: print.strand.clone(),
        swaps: plan.swaps.iter().map(|s| s.to).collect(),
        aside: tower.into_iter().chain([[[x0, y0], [x1, y1]]]).collect(),
        planned_s: print.time_s,
        troubles,
        ..loaded(job, spools)
    }
}

/// The same for a print file from elsewhere: what ought to come out is what stands for its tools and pauses (`asked`), and where a person
/// changes spools they press out what the pair needs. Where every change begins to lay is taken for its tower, so what is laid there
/// is no stain. `strand`: slot and mm from the nozzle on, of a file for one strand; else empty.
pub fn rehearsal_setup_of_file(
    (job, spools): (&Job, &[Spool]),
    file: &OpenedFile,
    (asked, strand): (&RewriteAsked, &[(u8, f64)]),
    troubles: Vec<Trouble>,
) -> Setup {
    let is_by_hand = job.printer.profile().is_by_hand;
    let of_tool = |tool: u8| {
        let said = asked.tools.get(&u32::from(tool)).copied();
        said.unwrap_or(tool + 1)
    };
    let tools = file.report.tools.iter().copied().max().unwrap_or(0);
    let tools = tools.max(job.printer.slots.saturating_sub(1)).min(63);
    let due = purges_of_pairs(&task(job, spools));
    let (mut slot, mut turns) = (of_tool(0), Vec::new());
    let mut before = slot;
    for step in &file.steps {
        match step {
            Step::Slot { slot: next } => (before, slot) = (slot, *next),
            Step::Prompt { .. } => {
                let pair = due.get(&(before, slot)).filter(|_| is_by_hand);
                turns.push(Turn {
                    place: 0,
                    slot,
                    press_mm3: pair.copied().unwrap_or(0.0),
                });
                before = slot;
            }
            _ => {}
        }
    }
    // Where a person changes spools nothing is purged on the bed.
    let tower = purge_place(&file.steps).filter(|_| !is_by_hand);
    let tower = tower.map(|[low, high]| [low.map(|c| c - BESIDE_MM), high.map(|c| c + BESIDE_MM)]);
    let report = &file.report;
    Setup {
        places: (0..=tools).map(of_tool).collect(),
        turns,
        strand: strand.to_vec(),
        swaps: report.changes.iter().map(|c| c.to).collect(),
        aside: tower.into_iter().collect(),
        planned_s: report.planned.map_or(report.time_s, |p| p.time_s),
        troubles,
        ..loaded(job, spools)
    }
}

/// The printer of a job with what is in its slots; nothing else is planned.
fn loaded(job: &Job, spools: &[Spool]) -> Setup {
    let task = task(job, spools);
    let names = slot_names(job, spools);
    let spool = |id: &Option<String>| spools.iter().find(|s| Some(&s.id) == id.as_ref());
    let held = |name: String, filament: &Filament, left_g: Option<f64>| {
        let g_per_mm3 = filament.grams(1.0);
        Held {
            name,
            pigment: filament.pigment,
            left_mm3: left_g.filter(|_| g_per_mm3 > 0.0).map(|g| g / g_per_mm3),
            section_mm2: filament.section_mm2(),
            g_per_mm3,
        }
    };
    let mixes = job.printer.profile().mixes.is_some();
    let slots = task
        .filaments
        .iter()
        .zip(names)
        .enumerate()
        .map(|(slot, (filament, name))| {
            let own = job.slots.get(slot).filter(|_| !mixes).and_then(spool);
            held(name, filament, own.map(|s| s.left_g))
        });
    // A feed without a spool is taken for one in the colour of the base, as the manifest has it.
    let feeds = job.feeds.iter().map(|id| match spool(id) {
        Some(s) => held(s.name.clone(), &Filament::of(s), Some(s.left_g)),
        None => {
            let unknown = Filament::unknown(job.regions[0].colour);
            held("any filament".into(), &unknown, None)
        }
    });
    Setup {
        shares: match mixes {
            true => (0..job.printer.slots)
                .map(|slot| job.mixture(slot))
                .collect(),
            false => Vec::new(),
        },
        feeds: feeds.collect(),
        ..Setup::of(job.printer.clone(), slots.collect())
    }
}
