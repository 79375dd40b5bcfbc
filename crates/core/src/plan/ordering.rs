//! The order of the slots in every layer, by the job's rules.

use super::order_rules::{asked, refused};
use super::passes::passes;
use super::prices::Prices;
use super::print::Print;
use super::types::Proof;
use crate::Problem;
use crate::order::{
    CostTable, MOST_STEPS, Order, Reload, ReloadWeight, Reloads, Turn, cost_of, fewest_reloads,
    greedy_order, least_cost_order, least_with_reloads, number_order,
};
use crate::rules::Aim;
use std::collections::HashMap;

/// In which order everything prints.
pub(super) struct Ordering {
    /// Slots of each layer in printing order.
    pub(super) layers: Vec<Vec<u8>>,
    /// Layer and slot of everything that prints, in order of time.
    pub(super) visits: Vec<(usize, u8)>,
    pub(super) proof: Proof,
    /// Reloads, if colours outnumber places.
    pub(super) reloads: Option<Reloads>,
    /// Whether each slot prints through all of its layers before the next one begins.
    pub(super) is_by_passes: bool,
    /// Two slots that cannot be printed in passes one after the other, if passes were asked for.
    pub(super) colliding: Option<(u8, u8)>,
}

/// Orders a print.
///
/// # Errors
/// `too-many-slots`, `rules-contradict`.
pub(super) fn ordering(print: &Print<'_>, prices: &mut Prices<'_>) -> Result<Ordering, Problem> {
    let task = print.task;
    let aim = task.rules.aim;
    let (turns, tables) = turns(print, prices, aim);
    let passes = (task.printer)
        .profile()
        .prints_in_passes
        .then(|| passes(print, &tables[0]));
    if let Some(Ok(order)) = passes {
        return Ok(by_passes(print, &order));
    }
    // That the rules can be met is told before reloads ask for more.
    let best = least_cost_order(&turns, &tables).map_err(|e| refused(print, &turns, e))?;
    let places = task.printer.profile().places as usize;
    let Shared {
        layers,
        followed,
        reloads,
        least,
    } = if print.slots_used().len() > places {
        let weight = match aim {
            Aim::Weighed { minute, .. } => {
                ReloadWeight::Each(minute * task.printer.reload_s / 60.0)
            }
            _ => ReloadWeight::First,
        };
        with_reloads(print, aim, &turns, &tables, &best, weight)
    } else {
        let least = best.cost;
        Shared {
            layers: match aim {
                Aim::SlotOrder => number_order(&turns),
                _ => best.layers,
            },
            followed: turns,
            reloads: None,
            least: (least, true),
        }
    };
    let count = |order: &[Vec<u8>]| match aim {
        // Without the hair by which equal numbers are told apart.
        Aim::Swaps => cost_of(order, &followed, &tables).floor(),
        _ => cost_of(order, &followed, &tables),
    };
    let chosen = count(&layers);
    let bound = if aim == Aim::Swaps {
        least.0.floor()
    } else {
        least.0
    };
    let proof = Proof {
        unit: match aim {
            Aim::Purge if task.rules.is_quick => "swaps",
            Aim::Purge | Aim::SlotOrder => "mm³",
            Aim::Time => "s",
            Aim::Swaps => "swaps",
            Aim::Weighed { .. } => "points",
        },
        chosen,
        least: bound,
        is_least: least.1 && chosen <= bound + 1e-6 * bound.max(1.0),
        greedy: count(&greedy_order(&followed, &tables)),
        number_order: count(&number_order(&followed)),
    };
    let in_layer = |(l, slots): (usize, &Vec<u8>)| -> Vec<(usize, u8)> {
        slots.iter().map(|s| (l, *s)).collect()
    };
    Ok(Ordering {
        visits: layers.iter().enumerate().flat_map(in_layer).collect(),
        layers,
        proof,
        reloads,
        is_by_passes: false,
        colliding: passes.and_then(Result::err),
    })
}

/// One slot after the other, each through all of its layers.
fn by_passes(print: &Print<'_>, order: &[u8]) -> Ordering {
    let turn = |slot: &u8| order.iter().position(|s| s == slot);
    let mut layers = print.used.clone();
    layers.iter_mut().for_each(|used| used.sort_by_key(turn));
    let visits = order.iter().flat_map(|slot| {
        let prints = |l: &usize| print.used[*l].contains(slot);
        (0..print.used.len()).filter(prints).map(|l| (l, *slot))
    });
    // Every order of passes swaps as often.
    let swaps = order.len().saturating_sub(1) as f64;
    Ordering {
        visits: visits.collect(),
        layers,
        proof: Proof {
            unit: "swaps",
            chosen: swaps,
            least: swaps,
            is_least: true,
            greedy: swaps,
            number_order: swaps,
        },
        reloads: None,
        is_by_passes: true,
        colliding: None,
    }
}

/// What every layer asks, and the tables of costs that it names.
fn turns(print: &Print<'_>, prices: &mut Prices<'_>, aim: Aim) -> (Vec<Turn>, Vec<CostTable>) {
    let task = print.task;
    let mut tables: Vec<CostTable> = Vec::new();
    let mut known: HashMap<Vec<u64>, usize> = HashMap::new();
    let turns = print
        .used
        .iter()
        .enumerate()
        .map(|(layer, used)| {
            let tolerances = print.tolerances(layer);
            let key = tolerances.iter().map(|t| t.to_bits()).collect();
            let table = *known.entry(key).or_insert_with(|| {
                tables.push(prices.table(aim, &tolerances));
                tables.len() - 1
            });
            let mut before: Vec<(u8, u8)> = task
                .rules
                .order
                .iter()
                .flat_map(|rule| asked(print, rule, layer, used))
                .collect();
            before.sort_unstable();
            before.dedup();
            Turn {
                slots: used.clone(),
                table,
                before,
            }
        })
        .collect();
    if tables.is_empty() {
        let usual = vec![task.printer.tolerance; print.filaments.len()];
        tables.push(prices.table(aim, &usual));
    }
    (turns, tables)
}

/// An order where colours share places.
struct Shared {
    layers: Vec<Vec<u8>>,
    /// The turns with what the reloads ask besides.
    followed: Vec<Turn>,
    reloads: Option<Reloads>,
    /// What no plan costs less than, and whether there is one that costs just that.
    least: (f64, bool),
}

/// Order and reloads together, as far as that can be searched through; else the fewest reloads there are, and the best order
/// that goes with them.
fn with_reloads(
    print: &Print<'_>,
    aim: Aim,
    turns: &[Turn],
    tables: &[CostTable],
    best: &Order,
    weight: ReloadWeight,
) -> Shared {
    let places = print.task.printer.profile().places as usize;
    let mut followed = turns.to_vec();
    if aim == Aim::SlotOrder {
        let layers = number_order(turns);
        return Shared {
            reloads: Some(reloads_along(&layers, places)),
            layers,
            followed,
            least: (best.cost, false),
        };
    }
    let follow = |followed: &mut [Turn], reloads: &Reloads| {
        for (turn, here) in followed.iter_mut().zip(&reloads.layers) {
            let pairs = here.iter().map(|r| (r.out, r.slot));
            turn.before
                .extend(pairs.filter(|(out, _)| turn.slots.contains(out)));
            turn.before.sort_unstable();
            turn.before.dedup();
        }
    };
    let fewest = fewest_reloads(&print.used, places);
    if let Some(mut joint) = least_with_reloads(turns, tables, places, weight, MOST_STEPS) {
        joint.reloads.is_proven = weight == ReloadWeight::First
            || (fewest.is_proven && joint.reloads.count() == fewest.count());
        follow(&mut followed, &joint.reloads);
        return Shared {
            layers: joint.layers,
            followed,
            reloads: Some(joint.reloads),
            least: (joint.cost, true),
        };
    }
    follow(&mut followed, &fewest);
    // Without regard to reloads no order is cheaper.
    let least = (best.cost, false);
    if let Ok(order) = least_cost_order(&followed, tables) {
        return Shared {
            layers: order.layers,
            followed,
            reloads: Some(fewest),
            least,
        };
    }
    // The rules go first: the fewest reloads of the order that they allow. Another order might do with fewer.
    let mut along = reloads_along(&best.layers, places);
    along.is_proven = along.is_proven && fewest.is_proven && along.count() == fewest.count();
    Shared {
        layers: best.layers.clone(),
        followed: turns.to_vec(),
        reloads: Some(along),
        least,
    }
}

/// Reloads along an order that is fixed.
fn reloads_along(layers: &[Vec<u8>], places: usize) -> Reloads {
    let sequence: Vec<Vec<u8>> = layers.iter().flatten().map(|s| vec![*s]).collect();
    let along = fewest_reloads(&sequence, places);
    let mut steps = along.layers.into_iter();
    let layers = layers
        .iter()
        .map(|slots| -> Vec<Reload> { steps.by_ref().take(slots.len()).flatten().collect() })
        .collect();
    Reloads {
        start: along.start,
        layers,
        is_proven: along.is_proven,
    }
}
