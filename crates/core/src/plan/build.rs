//! From labelled layers to a plan.

use super::bill::{LayerWork, SwapWork, bill, needs};
use super::causes::causes;
use super::ordering::{Ordering, ordering};
use super::pairs::pairs;
use super::places::Places;
use super::prices::Prices;
use super::print::Print;
use super::task::{Task, TaskRegion};
use super::thin::too_thin;
use super::tower::{Rows, tower};
use super::types::{Plan, PlanLayer, PlanReload, RegionTotal, Swap, Tower};
use crate::Problem;
use crate::layers::LayerShare;
use crate::machine::{Printer, bin, park, there_and_back_s};
use crate::order::fewest_reloads;
use std::collections::BTreeMap;

/// Most that oozes out of a tool while it stands, mm³: what its nozzle holds (common practice, no source).
const MOST_OOZE_MM3: f64 = 20.0;

/// The plan of a task from its labelled layers.
///
/// # Errors
/// `rules-contradict` if what is asked of the order cannot be met; `too-many-slots` if a layer uses more than 16.
///
/// # Cost
/// Linear in layers, regions and swaps, besides the order ([`crate::order::least_cost_order`]) and one rinse for each pair of
/// slots.
pub fn plan(task: &Task, shares: &[LayerShare]) -> Result<Plan, Problem> {
    plan_of(&Print::of(task, shares))
}

/// As [`plan`], of what is there already.
pub(crate) fn plan_of(print: &Print<'_>) -> Result<Plan, Problem> {
    let task = print.task;
    let mut prices = Prices::new(task);
    let order = ordering(print, &mut prices)?;
    let (mut swaps, mut work) = walk(print, &mut prices, &order);
    if !task.printer.profile().rinses && !task.rules.is_quick {
        let added = ooze(&work, &order, &task.printer);
        for (swap, mm3) in swaps.iter_mut().zip(added) {
            swap.purge_mm3 += mm3;
            swap.extra_mm3 += mm3;
        }
    }
    share_out(print, &order, &mut swaps);
    let mut into_tower: Vec<(f64, f64)> = work.iter().map(|w| (w.height_mm, 0.0)).collect();
    for swap in &swaps {
        into_tower[swap.layer].1 += swap.split.tower_mm3;
    }
    let (tower, added) = tower(&into_tower, task);
    let line_mm = task.printer.line_width_mm;
    for (layer, (mm3, (height_mm, purge_mm3))) in
        work.iter_mut().zip(added.into_iter().zip(into_tower))
    {
        layer.tower_mm3 = mm3;
        let all_mm = (mm3 + purge_mm3) / (height_mm * line_mm);
        layer.rows = tower.as_ref().map(|t| Rows::of(t.side_mm, line_mm, all_mm));
    }
    take_time(task, tower.as_ref(), &mut swaps, &mut work);
    let layers = layers(print, &order, &work);
    let needs = needs(&work, print.filaments);
    Ok(Plan {
        swaps_at_layers: swaps_at_layers(&layers),
        bill: bill(&work, &task.printer, print.filaments, &needs),
        needs,
        pairs: pairs(print, &mut prices, &swaps),
        causes: causes(&swaps),
        layers,
        regions: regions(print),
        too_thin: too_thin(print),
        tower,
        proof: order.proof,
        start: start(&order),
        reloads: reloads(&order),
        is_by_passes: order.is_by_passes,
        is_fewest_reloads: order.reloads.as_ref().is_none_or(|r| r.is_proven),
        least_reloads: least_reloads(print, &order),
        colliding: order.colliding,
        swaps,
    })
}

/// Everything that prints, in order of time: the swaps, with where their purge goes still open, and what each layer takes.
fn walk(
    print: &Print<'_>,
    prices: &mut Prices<'_>,
    order: &Ordering,
) -> (Vec<Swap>, Vec<LayerWork>) {
    let slots = print.filaments.len();
    let mut work: Vec<LayerWork> = (0..print.shares.len())
        .map(|layer| LayerWork {
            height_mm: print.height_mm(layer),
            is_first: layer == 0,
            model_mm3: vec![0.0; slots],
            infill_mm3: vec![0.0; slots],
            marked_mm3: print.takes_mm3(layer),
            ..LayerWork::default()
        })
        .collect();
    let mut swaps: Vec<Swap> = Vec::new();
    let mut loaded: Option<u8> = None;
    let mut last_layer = None;
    for (layer, slot) in order.visits.iter().copied() {
        if let Some(from) = loaded.filter(|l| *l != slot) {
            let price = prices.of(from, slot, print.tolerances(layer)[slot as usize]);
            swaps.push(Swap {
                layer,
                z_mm: print.shares[layer].z0_mm,
                from: from + 1,
                to: slot + 1,
                purge_mm3: price.purge_mm3,
                extra_mm3: price.extra_mm3,
                heat_s: price.heat_s,
                regions: print.regions_of(layer, slot),
                ..Swap::default()
            });
        }
        let here = &mut work[layer];
        if last_layer != Some(layer) {
            here.visits += 1;
            last_layer = Some(layer);
        }
        let (solid, sparse) = print.extruded(layer, &print.slots[layer][slot as usize]);
        here.solid_mm3 += solid;
        here.sparse_mm3 += sparse;
        here.model_mm3[slot as usize] = solid + sparse;
        here.infill_mm3[slot as usize] = sparse;
        loaded = Some(slot);
    }
    // What is loaded when a layer begins builds the tower there.
    let mut loaded = order.visits.first().map_or(0, |v| v.1);
    for (here, slots) in work.iter_mut().zip(&order.layers) {
        // An empty layer still has to be passed.
        here.visits = here.visits.max(1);
        here.tower_slot = loaded;
        loaded = slots.last().copied().unwrap_or(loaded);
    }
    (swaps, work)
}

/// Says for every swap where its purge goes.
fn share_out(print: &Print<'_>, order: &Ordering, swaps: &mut [Swap]) {
    let mut places = Places::new(print, order.is_by_passes);
    for swap in swaps {
        let to = swap.to - 1;
        let filament = &print.filaments[to as usize];
        swap.split = places.split(swap.layer, swap.from - 1, swap.purge_mm3);
        swap.purge_mm = filament.length_mm(swap.purge_mm3);
        swap.waste_g = filament.grams(swap.split.waste_mm3());
        // Who is not in the machine cannot be in the nozzle: every reload comes with a swap to it.
        swap.is_reload = order
            .reloads
            .as_ref()
            .is_some_and(|r| r.layers[swap.layer].iter().any(|r| r.slot == to));
    }
}

/// Says for every swap how long it takes, and adds it to the work of its layer.
fn take_time(task: &Task, tower: Option<&Tower>, swaps: &mut [Swap], work: &mut [LayerWork]) {
    let printer = &task.printer;
    let profile = printer.profile();
    let middle = task.footprint.centre();
    let far = |from: [f64; 2], to: [f64; 2]| (to[0] - from[0]).hypot(to[1] - from[1]);
    let on_bed = [0, 1].map(|i| 0.5 * printer.bed_mm[i]);
    let to_tower_mm = tower
        .and_then(|t| t.at)
        .map(|at| far([middle[0], middle[1]], at));
    let [x0, y0, x1, y1] = bin(printer);
    let to_bin_mm = far(on_bed, [0.5 * (x0 + x1), 0.5 * (y0 + y1)]);
    let to_park_mm = far(on_bed, park(printer));
    for swap in swaps {
        let to_place_mm = match &swap.split {
            split if split.tower_mm3 > 0.0 => to_tower_mm,
            split if split.bin_mm3 > 0.0 => Some(to_bin_mm),
            _ => None,
        };
        // A pass of its own goes to nobody.
        let is_at_pause = profile.is_by_hand && !profile.prints_in_passes;
        let ways_mm = to_place_mm
            .into_iter()
            .chain(is_at_pause.then_some(to_park_mm));
        let layer = &mut work[swap.layer];
        let done = SwapWork {
            to: swap.to - 1,
            height_mm: layer.height_mm,
            split: swap.split,
            rows: layer.rows,
            heat_s: swap.heat_s,
            way_s: ways_mm.map(|mm| there_and_back_s(printer, mm)).sum(),
            is_reload: swap.is_reload,
        };
        swap.seconds = done.seconds(printer);
        layer.swaps.push(done);
    }
}

/// What oozes out of each tool before its next change, mm³, by swap.
fn ooze(work: &[LayerWork], order: &Ordering, printer: &Printer) -> Vec<f64> {
    let mut clock = 0.0;
    let begins: Vec<f64> = work
        .iter()
        .map(|w| {
            let begin = clock;
            clock += w.times(printer).sum();
            begin
        })
        .collect();
    let mut left_at = vec![None; printer.slots as usize];
    let mut loaded: Option<u8> = None;
    let mut lost = Vec::new();
    for (layer, slot) in order.visits.iter().copied() {
        if let Some(from) = loaded.filter(|l| *l != slot) {
            let stood = left_at[slot as usize].map_or(0.0, |t: f64| begins[layer] - t);
            lost.push((printer.ooze_mm3_min * stood / 60.0).min(MOST_OOZE_MM3));
            left_at[from as usize] = Some(begins[layer]);
        }
        loaded = Some(slot);
    }
    lost
}

fn layers(print: &Print<'_>, order: &Ordering, work: &[LayerWork]) -> Vec<PlanLayer> {
    let printer = &print.task.printer;
    let layers = print.shares.iter().zip(&order.layers).zip(work).enumerate();
    layers
        .map(|(index, ((share, slots), work))| {
            let of = |value: &dyn Fn(usize) -> f64| -> BTreeMap<u8, f64> {
                slots.iter().map(|s| (s + 1, value(*s as usize))).collect()
            };
            PlanLayer {
                index,
                z0_mm: share.z0_mm,
                z1_mm: share.z1_mm,
                order: slots.iter().map(|s| s + 1).collect(),
                areas_mm2: of(&|s| print.slots[index][s].area_mm2),
                extruded_mm3: of(&|s| work.model_mm3[s]),
                tower_mm3: work.tower_mm3,
                tower_slot: work.tower_slot + 1,
                lent: print.lent[index]
                    .iter()
                    .map(|(own, slot)| (own + 1, slot + 1))
                    .collect(),
                seconds: work.times(printer).sum(),
            }
        })
        .collect()
}

fn regions(print: &Print<'_>) -> Vec<RegionTotal> {
    let total = |(number, region): (u16, &TaskRegion)| {
        let (mut volume_mm3, mut extruded_mm3, mut layers) = (0.0, 0.0, 0);
        for (layer, share) in print.shares.iter().enumerate() {
            let of = &share.regions[number as usize];
            let (solid, sparse) = print.extruded(layer, of);
            volume_mm3 += print.copies * of.area_mm2 * print.height_mm(layer);
            extruded_mm3 += print.copies * (solid + sparse);
            layers += usize::from(of.area_mm2 > 0.0);
        }
        RegionTotal {
            region: region.key.clone(),
            volume_mm3,
            extruded_mm3,
            grams: print.filaments[print.slot_of[number as usize] as usize].grams(extruded_mm3),
            layers,
        }
    };
    print.task.live_regions().map(total).collect()
}

/// Swaps between the slots that have most of each layer.
fn swaps_at_layers(layers: &[PlanLayer]) -> usize {
    let most = |layer: &PlanLayer| {
        let areas = layer.areas_mm2.iter();
        let most = areas.max_by(|a, b| a.1.total_cmp(b.1).then(b.0.cmp(a.0)));
        most.map(|(slot, _)| *slot)
    };
    let mut slots: Vec<u8> = layers.iter().filter_map(most).collect();
    slots.dedup();
    slots.len().saturating_sub(1)
}

/// What no plan has fewer reloads than.
fn least_reloads(print: &Print<'_>, order: &Ordering) -> usize {
    let Some(reloads) = &order.reloads else {
        return 0;
    };
    if reloads.is_proven {
        return reloads.count();
    }
    let places = print.task.printer.profile().places as usize;
    let fewest = fewest_reloads(&print.used, places);
    if fewest.is_proven {
        return fewest.count();
    }
    // A layer with more colours than places needs the difference whatever was before it.
    let over = print.used.iter().map(|u| u.len().saturating_sub(places));
    over.sum()
}

/// Slot in each place at the start, from 1.
fn start(order: &Ordering) -> Vec<u8> {
    let start = order.reloads.as_ref().map(|r| &r.start);
    start.map_or_else(Vec::new, |s| s.iter().map(|s| s + 1).collect())
}

fn reloads(order: &Ordering) -> Vec<PlanReload> {
    let Some(found) = &order.reloads else {
        return Vec::new();
    };
    let mut places = found.start.clone();
    let mut all = Vec::new();
    for (layer, here) in found.layers.iter().enumerate() {
        // As they come up while the layer prints: each takes the place of its own predecessor, so any order will do.
        let mut here = here.clone();
        here.sort_by_key(|r| order.layers[layer].iter().position(|s| *s == r.slot));
        for reload in here {
            // Whoever leaves is in the machine: that is what the reloads were found for.
            if let Some(place) = places.iter().position(|s| *s == reload.out) {
                places[place] = reload.slot;
                all.push(PlanReload {
                    layer,
                    place: place as u8 + 1,
                    out: reload.out + 1,
                    slot: reload.slot + 1,
                });
            }
        }
    }
    all
}
