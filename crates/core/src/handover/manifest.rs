//! What an independent check of print files needs to know, and the strand of a splicer.

use super::print::PrintFile;
use crate::job::Job;
use crate::layers::TIE_MM;
use crate::machine::{Spool, bin};
use crate::paths::{Asked, PrintScript, Step};
use crate::plan::Filament;
use serde_json::{Value, json};

/// What a check needs to know: of a print whose colours are those of the facets of `model.3mf`.
pub(super) fn manifest(
    (job, spools): (&Job, &[Spool]),
    (asked, filaments): (&Asked<'_>, &[Filament]),
    strand: &[(u8, f64)],
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
        "head": [
            [printer.duct_radius_mm, printer.duct_above_mm],
            [printer.head_radius_mm, printer.head_above_mm],
        ],
        "retract_mm_s": printer.printing.retract_mm_s,
    });
    if asked.plan.swaps.iter().any(|s| s.split.bin_mm3 > 0.0) {
        machine["bins_mm"] = json!([bin(printer)]);
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
        let length = |(slot, mm): &(u8, f64)| json!({"slot": slot, "mm": mm});
        told["splices"] = strand.iter().map(length).collect();
    }
    told
}

/// The same of a print that is made of bodies, each with its file and its slot: nothing soaks.
pub(super) fn of_bodies<'a>(
    manifest: &Value,
    bodies: impl Iterator<Item = (&'a str, u8)>,
) -> Value {
    let mut told = manifest.clone();
    let part = |(mesh, slot): (&str, u8)| json!({"mesh": mesh, "slot": slot});
    told["parts"] = bodies.map(part).collect();
    if let Some(told) = told.as_object_mut() {
        told.remove("colours");
        told.remove("soak_mm");
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
pub(super) fn strand(scripts: &[PrintScript], filaments: &[Filament]) -> Vec<(u8, f64)> {
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
    lengths
}
