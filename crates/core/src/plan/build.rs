//! From labelled layers to a plan.

use super::bill::{LayerWork, bill, needs};
use super::causes::causes;
use super::filament::Filament;
use super::tower::tower;
use super::types::{PairRinse, Plan, PlanLayer, RegionTotal, Swap, Yardsticks};
use crate::Problem;
use crate::job::Job;
use crate::layers::{LayerShare, RegionShare};
use crate::machine::Spool;
use crate::order::{CostTable, cost_of, greedy_order, least_cost_order, number_order};
use crate::rinse::{purge_mm3, rinse};
use std::collections::BTreeMap;

/// Points in the wash-out curve of a pair.
const CURVE_POINTS: u32 = 33;

/// The plan of a job from its labelled layers.
///
/// A region without a slot prints from the first region's. Where a slot's area in a layer is less than one line wide
/// and long, it cannot be printed: it goes to the slot with the largest area there. Swaps cost what they purge; the
/// order is the one with the least purge in all.
///
/// # Errors
/// `too-many-slots` if a layer uses more slots than can be ordered exactly.
pub fn plan(job: &Job, spools: &[Spool], shares: &[LayerShare]) -> Result<Plan, Problem> {
    let printer = &job.printer;
    let filaments: Vec<Filament> = (0..printer.slots)
        .map(|slot| Filament::in_slot(job, spools, slot))
        .collect();
    let slot_of: Vec<u8> = job
        .regions
        .iter()
        .map(|r| r.slot.or(job.regions[0].slot).unwrap_or(1) - 1)
        .collect();
    let dot_mm2 = printer.line_width_mm * printer.line_width_mm;
    let copies = f64::from(job.copies.count());
    let divided: Vec<Vec<RegionShare>> = shares
        .iter()
        .map(|l| {
            // What one copy is too small to print, many are as well.
            let mut slots = per_slot(l, &slot_of, filaments.len(), dot_mm2);
            for share in &mut slots {
                share.area_mm2 *= copies;
                share.solid_mm2 *= copies;
            }
            slots
        })
        .collect();
    let used: Vec<Vec<u8>> = divided
        .iter()
        .map(|slots| {
            (0..slots.len() as u8)
                .filter(|s| slots[*s as usize].area_mm2 > 0.0)
                .collect()
        })
        .collect();
    let table: CostTable = purge_table(job, &filaments);
    let best = least_cost_order(&used, &table).map_err(|e| {
        Problem::new(
            "too-many-slots",
            format!("The order cannot be worked out: {e}"),
            "slots",
            "Give some regions the same slot.",
        )
    })?;

    let extruded = |share: &RegionShare, height: f64| {
        let sparse = (share.area_mm2 - share.solid_mm2).max(0.0);
        (height * share.solid_mm2, height * sparse * printer.infill)
    };
    let mut layers = Vec::with_capacity(shares.len());
    let mut swaps: Vec<Swap> = Vec::new();
    let mut work = Vec::with_capacity(shares.len());
    let mut loaded: Option<u8> = None;
    for (index, (share, slots)) in shares.iter().zip(&divided).enumerate() {
        let height_mm = share.z1_mm - share.z0_mm;
        let mut here = LayerWork {
            height_mm,
            solid_mm3: 0.0,
            sparse_mm3: 0.0,
            model_mm3: vec![0.0; slots.len()],
            purges: Vec::new(),
            tower_mm3: 0.0,
            tower_slot: loaded.or(best.layers[index].first().copied()).unwrap_or(0),
        };
        let mut areas_mm2 = BTreeMap::new();
        let mut extruded_mm3 = BTreeMap::new();
        for &slot in &best.layers[index] {
            if let Some(from) = loaded.filter(|l| *l != slot) {
                let purge = table[from as usize][slot as usize];
                here.purges.push((slot, purge));
                swaps.push(Swap {
                    layer: index,
                    z_mm: share.z0_mm,
                    from: from + 1,
                    to: slot + 1,
                    purge_mm3: purge,
                    purge_mm: filaments[slot as usize].length_mm(purge),
                    regions: to_blame(job, share, &slot_of, slot),
                });
            }
            loaded = Some(slot);
            let (solid, sparse) = extruded(&slots[slot as usize], height_mm);
            here.solid_mm3 += solid;
            here.sparse_mm3 += sparse;
            here.model_mm3[slot as usize] = solid + sparse;
            areas_mm2.insert(slot + 1, slots[slot as usize].area_mm2);
            extruded_mm3.insert(slot + 1, solid + sparse);
        }
        let order = best.layers[index].iter().map(|s| s + 1).collect();
        layers.push(PlanLayer {
            index,
            z0_mm: share.z0_mm,
            z1_mm: share.z1_mm,
            order,
            areas_mm2,
            extruded_mm3,
        });
        work.push(here);
    }
    let purged: Vec<(f64, f64)> = work
        .iter()
        .map(|w| (w.height_mm, w.purges.iter().map(|(_, mm3)| mm3).sum()))
        .collect();
    let (tower, added) = tower(&purged, printer.line_width_mm);
    for (layer, mm3) in work.iter_mut().zip(added) {
        layer.tower_mm3 = mm3;
    }

    let regions = job
        .live_regions()
        .map(|(number, region)| {
            let of = |l: &LayerShare| (l.regions[number as usize], l.z1_mm - l.z0_mm);
            let extruded_mm3: f64 = shares
                .iter()
                .map(|l| {
                    let (share, height) = of(l);
                    let (solid, sparse) = extruded(&share, height);
                    copies * (solid + sparse)
                })
                .sum();
            RegionTotal {
                region: region.key.clone(),
                volume_mm3: shares
                    .iter()
                    .map(|l| copies * of(l).0.area_mm2 * of(l).1)
                    .sum(),
                extruded_mm3,
                grams: filaments[slot_of[number as usize] as usize].grams(extruded_mm3),
                layers: shares
                    .iter()
                    .filter(|l| of(l).0.area_mm2 >= dot_mm2)
                    .count(),
            }
        })
        .collect();
    let needs = needs(&work, &filaments);
    Ok(Plan {
        bill: bill(&work, printer, &needs),
        needs,
        pairs: pairs(job, &filaments, &swaps),
        causes: causes(&swaps),
        layers,
        swaps,
        regions,
        tower,
        yardsticks: Yardsticks {
            best_purge_mm3: best.cost,
            greedy_purge_mm3: cost_of(&greedy_order(&used, &table), &table),
            number_order_purge_mm3: cost_of(&number_order(&used), &table),
        },
    })
}

/// A layer's shares by slot, with what is too small to print given to the largest.
fn per_slot(layer: &LayerShare, slot_of: &[u8], slots: usize, dot_mm2: f64) -> Vec<RegionShare> {
    let mut out = vec![RegionShare::default(); slots];
    for (region, share) in layer.regions.iter().enumerate() {
        let slot = &mut out[slot_of[region] as usize];
        slot.area_mm2 += share.area_mm2;
        slot.solid_mm2 += share.solid_mm2;
    }
    let largest = (0..slots)
        .rev()
        .max_by(|a, b| out[*a].area_mm2.total_cmp(&out[*b].area_mm2))
        .unwrap_or(0);
    for slot in 0..slots {
        if slot != largest && out[slot].area_mm2 < dot_mm2 {
            let dust = std::mem::take(&mut out[slot]);
            out[largest].area_mm2 += dust.area_mm2;
            out[largest].solid_mm2 += dust.solid_mm2;
        }
    }
    out
}

/// What each swap purges, mm³. With a nozzle for each filament nothing is rinsed: what has oozed is pressed out.
fn purge_table(job: &Job, filaments: &[Filament]) -> CostTable {
    if !job.printer.kind.has_one_nozzle() {
        let n = filaments.len();
        let to = |from: usize| (0..n).map(move |to| if to == from { 0.0 } else { 1.0 });
        let primed = |c: f64| c * job.printer.prime_mm3;
        return (0..n).map(|from| to(from).map(primed).collect()).collect();
    }
    let (melt, tolerance) = (job.printer.melt, job.printer.tolerance);
    filaments
        .iter()
        .map(|from| {
            filaments
                .iter()
                .map(|to| purge_mm3(melt, from.pigment, to.pigment, tolerance))
                .collect()
        })
        .collect()
}

/// Keys of the regions that print from a slot in a layer.
fn to_blame(job: &Job, layer: &LayerShare, slot_of: &[u8], slot: u8) -> Vec<String> {
    job.live_regions()
        .filter(|(n, _)| slot_of[*n as usize] == slot)
        .filter(|(n, _)| layer.regions[*n as usize].area_mm2 > 0.0)
        .map(|(_, r)| r.key.clone())
        .collect()
}

fn pairs(job: &Job, filaments: &[Filament], swaps: &[Swap]) -> Vec<PairRinse> {
    if !job.printer.kind.has_one_nozzle() {
        return Vec::new();
    }
    let mut times: BTreeMap<(u8, u8), usize> = BTreeMap::new();
    for swap in swaps {
        *times.entry((swap.from, swap.to)).or_default() += 1;
    }
    let mut pairs: Vec<PairRinse> = times
        .into_iter()
        .map(|((from, to), times)| {
            let pigment = |slot: u8| filaments[slot as usize - 1].pigment;
            let rinse = rinse(
                job.printer.melt,
                pigment(from),
                pigment(to),
                job.printer.tolerance,
                CURVE_POINTS,
            );
            PairRinse {
                from,
                to,
                times,
                rinse,
            }
        })
        .collect();
    pairs.sort_by(|a, b| b.rinse.purge_mm3.total_cmp(&a.rinse.purge_mm3));
    pairs
}
