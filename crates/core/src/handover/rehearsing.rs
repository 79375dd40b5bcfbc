//! What a rehearsal of a job's print files begins with.

use super::print::PrintFiles;
use super::slot_words::slot_names;
use crate::advice::task;
use crate::job::Job;
use crate::machine::Spool;
use crate::plan::{Filament, Plan};
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

/// The machine that a job is for, with what is in its slots and what is planned; `troubles`: what is to go wrong.
pub fn rehearsal_setup(
    (job, spools): (&Job, &[Spool]),
    plan: &Plan,
    print: &PrintFiles,
    troubles: Vec<Trouble>,
) -> Setup {
    let task = task(job, spools);
    let names = slot_names(job, spools);
    let profile = job.printer.profile();
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
    let mixes = profile.mixes.is_some();
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
    const BESIDE_MM: f64 = 1.0;
    let tower = plan.tower.and_then(|t| {
        let half = 0.5 * t.side_mm + BESIDE_MM;
        let at = t.at?;
        Some([-half, half].map(|by| [0, 1].map(|i| at[i] + print.shift[i] + by)))
    });
    let [x0, y0, x1, y1] = print.bin;
    Setup {
        printer: job.printer.clone(),
        slots: slots.collect(),
        places,
        turns,
        shares: match mixes {
            true => (0..job.printer.slots)
                .map(|slot| job.mixture(slot))
                .collect(),
            false => Vec::new(),
        },
        feeds: feeds.collect(),
        strand: print.strand.clone(),
        swaps: plan.swaps.iter().map(|s| s.to).collect(),
        aside: tower.into_iter().chain([[[x0, y0], [x1, y1]]]).collect(),
        planned_s: print.time_s,
        troubles,
    }
}
