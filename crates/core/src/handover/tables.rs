//! The plan as JSON and CSV.

use crate::advice::CheckedPlan;
use crate::job::Job;
use crate::machine::Spool;
use crate::plan::{Plan, SlotNeed};
use std::fmt::Write;

/// The public part of a plan as JSON: layers, swaps, bill, and all that the screen warns of (docs/plan-format.md).
pub fn plan_json(job: &Job, spools: &[Spool], plan: &CheckedPlan) -> String {
    format!("{:#}\n", plan_value(job, spools, plan))
}

pub(super) fn plan_value(job: &Job, spools: &[Spool], plan: &CheckedPlan) -> serde_json::Value {
    let spool_in = |slot: u8| {
        let id = job.slots.get(slot as usize - 1)?.as_ref()?;
        spools.iter().find(|s| s.id == *id)
    };
    let slot = |need: &SlotNeed| {
        let spool = spool_in(need.slot).filter(|_| job.printer.profile().mixes.is_none());
        serde_json::json!({
            "slot": need.slot,
            "spool": spool.map(|s| &s.id),
            "name": spool.map(|s| &s.name),
            "colour": spool.map(|s| s.colour),
            "model_g": need.model_g,
            "purge_g": need.purge_g,
            "tower_g": need.tower_g,
            "grams": need.grams(),
            "cost": need.cost,
        })
    };
    let mut grams: Vec<(&Spool, f64)> = Vec::new();
    for need in &plan.needs {
        let all = need.grams();
        let Some(spool) = spool_in(need.slot).filter(|_| job.printer.profile().mixes.is_none())
        else {
            continue;
        };
        match grams.iter_mut().find(|(s, _)| s.id == spool.id) {
            Some(known) => known.1 += all,
            None => grams.push((spool, all)),
        }
    }
    let by_spool: Vec<_> = grams
        .iter()
        .map(|(s, g)| serde_json::json!({"spool": s.id, "name": s.name, "grams": g, "left_g": s.left_g}))
        .collect();
    let cautions: Vec<_> = plan
        .cautions
        .iter()
        .map(|c| {
            serde_json::json!({
                "code": c.code, "is_wrong": c.is_wrong, "message": c.message, "where": c.place, "mend": c.mend,
            })
        })
        .collect();
    let unprinted: Vec<&str> = plan
        .regions
        .iter()
        .filter(|r| r.layers == 0)
        .map(|r| r.region.as_str())
        .collect();
    serde_json::json!({
        "layers": plan.layers,
        "swaps": plan.swaps,
        "bill": plan.bill,
        "slots": plan.needs.iter().map(slot).collect::<Vec<_>>(),
        "spools": by_spool,
        "tower": plan.tower,
        "start": plan.start,
        "reloads": plan.reloads,
        "is_fewest_reloads": plan.is_fewest_reloads,
        "least_reloads": plan.least_reloads,
        "swaps_at_layers": plan.swaps_at_layers,
        "proof": plan.proof,
        "cautions": cautions,
        "not_printed": {
            "regions": unprinted,
            "parts": plan.unprinted_parts,
            "too_thin": plan.too_thin,
        },
    })
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
