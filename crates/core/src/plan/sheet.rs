//! The bill opened: every figure down to the swaps that make it up.

use super::task::Task;
use super::types::{Plan, Swap};
use serde::Serialize;

/// One figure of the bill with what makes it up.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct SheetLine {
    /// Which figure: `time`, `swaps`, `model`, `purge`, `tower`, `cost` or `hand`.
    pub figure: &'static str,
    /// Unit of the amounts: `s`, `g`, `price` or nothing.
    pub unit: &'static str,
    /// Digits after the point that are shown.
    pub digits: u32,
    /// The figure, rounded to these digits.
    pub total: f64,
    /// What it is made of. The amounts are rounded so that they sum to the total.
    pub items: Vec<SheetItem>,
}

/// One amount of a figure.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct SheetItem {
    /// What it is for.
    pub what: String,
    /// Slot from 1, where it is of one.
    pub slot: Option<u8>,
    /// Layer from 0, where it is of one.
    pub layer: Option<usize>,
    /// How much.
    pub amount: f64,
    /// What it is made of in turn; sums to the amount. Empty where it is not made of anything else.
    #[cfg_attr(feature = "wire", schema(no_recursion))]
    pub items: Vec<SheetItem>,
}

impl SheetItem {
    fn new(what: impl Into<String>, amount: f64, items: Vec<SheetItem>) -> SheetItem {
        SheetItem {
            what: what.into(),
            slot: None,
            layer: None,
            amount,
            items,
        }
    }

    fn of_slot(mut self, slot: u8) -> SheetItem {
        self.slot = Some(slot);
        self
    }
}

/// Every figure of a plan's bill, down to single swaps.
///
/// Amounts are rounded so that those of every level sum exactly to the one above, in units of the last digit shown: each is
/// rounded down, and those that lost most get a unit more (the largest remainder, Hamilton 1792).
pub fn bill_sheet(task: &Task, plan: &Plan) -> Vec<SheetLine> {
    let (bill, printer) = (&plan.bill, &task.printer);
    let filaments = &task.filaments;
    let price = |slot: u8, grams: f64| filaments[slot as usize - 1].price(grams);
    let times = &bill.times;
    let reload = |s: &Swap| if s.is_reload { printer.reload_s } else { 0.0 };
    let purging = |s: &Swap| s.split.waste_mm3() / printer.purge_mm3_s;
    let named = |what: &str, amount: f64| SheetItem::new(what, amount, Vec::new());
    let time = vec![
        named(
            "Before it starts: levelling, heating, priming",
            times.start_s,
        ),
        named("Walls and skins", times.walls_s),
        named("Infill", times.infill_s),
        named("From layer to layer", times.layers_s),
        named("Keeping the tower up", times.tower_s),
        by_pair(plan, "Cutting, pulling, loading", |_| printer.swap_s),
        by_pair(plan, "Pressing the old colour out", purging),
        by_pair(plan, "Heating and cooling", |s| s.heat_s),
        by_pair(plan, "Spools put in by hand", reload),
    ];
    let swaps = by_pair(plan, "", |_| 1.0).items;
    let by_region = |slot: u8| {
        let prints = |key: &str| task.region(key).map(|n| task.regions[n as usize].slot);
        let of_slot = plan
            .regions
            .iter()
            .filter(|r| prints(&r.region) == Some(slot));
        of_slot
            .map(|r| named(&task.name_of(&r.region), r.grams))
            .collect::<Vec<_>>()
    };
    let infill = |slot: u8| {
        let mm3 = |s: &Swap| {
            if s.to == slot {
                s.split.infill_mm3
            } else {
                0.0
            }
        };
        let grams = |s: &Swap| filaments[slot as usize - 1].grams(mm3(s));
        by_pair(plan, "Purge printed as infill", grams)
    };
    let model = plan
        .needs
        .iter()
        .map(|need| {
            let mut items = by_region(need.slot);
            let extra = infill(need.slot);
            let regions: f64 = items.iter().map(|i| i.amount).sum();
            let rest = need.model_g - regions - extra.amount;
            if extra.amount > 0.0 {
                items.push(extra);
            }
            // What other slots printed of its infill.
            if rest.abs() > 1e-9 {
                items.push(named("Infill that purge of others stands for", rest));
            }
            SheetItem::new("", need.model_g, items).of_slot(need.slot)
        })
        .collect();
    let waste_of = |slot: u8, value: &dyn Fn(&Swap) -> f64, what: &str| {
        let of = |s: &Swap| if s.to == slot { value(s) } else { 0.0 };
        by_pair(plan, what, of)
    };
    let purge = by_pair(plan, "", |s| s.waste_g).items;
    let tower = plan
        .needs
        .iter()
        .map(|n| SheetItem::new("", n.tower_g, Vec::new()).of_slot(n.slot))
        .collect();
    let cost = plan
        .needs
        .iter()
        .map(|need| {
            let money = |grams: f64| price(need.slot, grams);
            let items = vec![
                named("In the model", money(need.model_g)),
                waste_of(need.slot, &|s| money(s.waste_g), "Purged"),
                named("Keeping the tower up", money(need.tower_g)),
            ];
            SheetItem::new("", need.cost, items).of_slot(need.slot)
        })
        .collect();
    let is_by_hand = printer.profile().is_by_hand;
    let hand = by_pair(plan, "", |s| {
        if is_by_hand {
            printer.swap_s
        } else {
            reload(s)
        }
    })
    .items;
    vec![
        line("time", "s", 0, bill.time_s, time),
        line("swaps", "", 0, bill.swaps as f64, swaps),
        line("model", "g", 2, bill.model_g, model),
        line("purge", "g", 2, bill.purge_g, purge),
        line("tower", "g", 2, bill.tower_g, tower),
        line("cost", "price", 2, bill.cost, cost),
        line("hand", "s", 0, bill.hand_s, hand),
    ]
}

/// What swaps add to a figure: by pair of slots, then swap by swap.
fn by_pair(plan: &Plan, what: &str, value: impl Fn(&Swap) -> f64) -> SheetItem {
    let mut pairs: Vec<((u8, u8), Vec<SheetItem>)> = Vec::new();
    for swap in &plan.swaps {
        let amount = value(swap);
        if amount == 0.0 {
            continue;
        }
        let mut item = SheetItem::new("", amount, Vec::new());
        item.layer = Some(swap.layer);
        match pairs.iter_mut().find(|p| p.0 == (swap.from, swap.to)) {
            Some((_, items)) => items.push(item),
            None => pairs.push(((swap.from, swap.to), vec![item])),
        }
    }
    let items: Vec<SheetItem> = pairs
        .into_iter()
        .map(|((from, to), items)| {
            let amount = items.iter().map(|i| i.amount).sum();
            let mut item = SheetItem::new(format!("{from} → {to}"), amount, items);
            item.slot = Some(to);
            item
        })
        .collect();
    let amount = items.iter().map(|i| i.amount).sum();
    SheetItem::new(what, amount, items)
}

fn line(
    figure: &'static str,
    unit: &'static str,
    digits: u32,
    total: f64,
    mut items: Vec<SheetItem>,
) -> SheetLine {
    let scale = 10f64.powi(digits as i32);
    let units = (total * scale).round() as i64;
    settle(&mut items, units, scale);
    items.retain(|i| i.amount != 0.0 || !i.items.is_empty());
    SheetLine {
        figure,
        unit,
        digits,
        total: units as f64 / scale,
        items,
    }
}

/// Rounds amounts, and what they are made of, so that they sum to so many units.
fn settle(items: &mut [SheetItem], units: i64, scale: f64) {
    let sum: f64 = items.iter().map(|i| i.amount).sum();
    // Sums made in another order differ in the last bits only; scaling takes that out.
    let factor = if sum == 0.0 {
        scale
    } else {
        units as f64 / sum
    };
    let mut rounded: Vec<i64> = items
        .iter()
        .map(|i| (i.amount * factor + 1e-9).floor() as i64)
        .collect();
    let missing = (units - rounded.iter().sum::<i64>()).max(0) as usize;
    let lost = |i: usize| items[i].amount * factor - rounded[i] as f64;
    let mut order: Vec<usize> = (0..items.len()).collect();
    order.sort_by(|a, b| lost(*b).total_cmp(&lost(*a)).then(a.cmp(b)));
    for index in order.into_iter().take(missing) {
        rounded[index] += 1;
    }
    for (item, units) in items.iter_mut().zip(rounded) {
        settle(&mut item.items, units, scale);
        item.amount = units as f64 / scale;
    }
}
