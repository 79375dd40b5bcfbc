//! What should be known before a plan is printed.

use super::prices::Prices;
use super::print::Print;
use super::types::{Caution, Plan};
use crate::job::{Edit, PlanEdit, PurgePlaces};
use crate::machine::{HandSwap, MachineKind, Printer};

/// Height of a layer that a nozzle can still press flat, as a share of its bore (common practice, no source).
const HIGHEST_LAYER: f64 = 0.8;

/// Surface of a region below which nobody misses it, mm².
const MISSED_MM2: f64 = 1.0;

/// Everything to know of a plan, the worst first.
pub(super) fn cautions(
    print: &Print<'_>,
    prices: &Prices<'_>,
    plan: &Plan,
    colliding: Option<(u8, u8)>,
) -> Vec<Caution> {
    let mut found = Vec::new();
    spools(print, &mut found);
    layers(&print.job.printer, &mut found);
    tower(print, plan, &mut found);
    passes(print, colliding, &mut found);
    stains(print, prices, plan, &mut found);
    unprinted(print, plan, &mut found);
    if !plan.is_fewest_reloads {
        found.push(Caution {
            code: "reloads-unproven",
            is_wrong: false,
            message: format!(
                "It is not proven that {} reloads are the fewest: the rules of the order, or too many equally good choices, \
                 stand in the way",
                plan.reloads.len()
            ),
            mend: "Take a rule away, under Order, to see whether fewer do.".into(),
            edit: None,
        });
    }
    found.sort_by_key(|c| !c.is_wrong);
    found
}

fn spools(print: &Print<'_>, found: &mut Vec<Caution>) {
    let job = print.job;
    let has_spool = |slot: u8| {
        if job.printer.kind.mixes() {
            job.feeds.iter().all(Option::is_some)
        } else {
            job.slots.get(slot as usize).is_some_and(Option::is_some)
        }
    };
    let mut empty = print.slots_used();
    empty.retain(|slot| !has_spool(*slot));
    if empty.is_empty() {
        return;
    }
    let names: Vec<String> = empty.iter().map(|slot| (slot + 1).to_string()).collect();
    let word = job.printer.kind.slot_word();
    let (what, has) = if names.len() == 1 {
        (format!("{word} {}", names[0]), "has")
    } else {
        (format!("{word}s {}", names.join(", ")), "have")
    };
    found.push(Caution {
        code: "slot-empty",
        is_wrong: false,
        message: format!("{what} {has} no spool: colour, grams and price are assumed"),
        mend: "Put a spool in, in Load.".into(),
        edit: None,
    });
}

fn layers(printer: &Printer, found: &mut Vec<Caution>) {
    let most = HIGHEST_LAYER * printer.nozzle_mm;
    let highest = printer.layer_mm.max(printer.first_layer_mm);
    if highest <= most + 1e-9 {
        return;
    }
    // Rounded down to hundredths, as makers write layers.
    let fits = ((100.0 * most + 1e-6).floor() / 100.0).max(0.02);
    found.push(Caution {
        code: "layer-too-high",
        is_wrong: true,
        message: format!(
            "Layers of {highest:.2} mm are out of reach of a nozzle of {:.2} mm: it presses up to {fits:.2} mm flat",
            printer.nozzle_mm
        ),
        mend: format!("Print layers of {fits:.2} mm, or set a wider nozzle."),
        edit: Some(Edit::SetPrinter {
            printer: Printer {
                layer_mm: printer.layer_mm.min(fits),
                first_layer_mm: printer.first_layer_mm.min(fits),
                ..printer.clone()
            },
        }),
    });
}

fn tower(print: &Print<'_>, plan: &Plan, found: &mut Vec<Caution>) {
    let Some(tower) = &plan.tower else { return };
    if tower.at.is_none() {
        let [x, y, _] = print.job.printer.bed_mm;
        found.push(Caution {
            code: "tower-no-room",
            is_wrong: true,
            message: format!(
                "The purge tower, {:.0} mm square, finds no room on the bed of {x:.0} by {y:.0} mm beside the models",
                tower.side_mm
            ),
            mend: "Purge into a bin, or print fewer pieces.".into(),
            edit: Some(Edit::Plan(PlanEdit::Places {
                places: PurgePlaces {
                    tower_share: 0.0,
                    ..print.job.rules.places
                },
            })),
        });
    }
    if tower.is_widened {
        found.push(Caution {
            code: "tower-widened",
            is_wrong: false,
            message: format!(
                "The tower is {:.0} mm high: it is made {:.0} mm wide so that it stands, and takes {:.1} g to keep growing",
                tower.height_mm, tower.side_mm, plan.bill.tower_g
            ),
            mend: "Swap lower down, or purge into a bin.".into(),
            edit: None,
        });
    }
}

fn passes(print: &Print<'_>, colliding: Option<(u8, u8)>, found: &mut Vec<Caution>) {
    let Some((a, b)) = colliding else { return };
    found.push(Caution {
        code: "passes-collide",
        is_wrong: true,
        message: format!(
            "A pass for each colour does not work here: whichever of {} and {} goes first, the nozzle would run into it. \
             It is planned with swaps at a pause instead",
            print.word(a),
            print.word(b)
        ),
        mend: "Swap at a pause.".into(),
        edit: Some(Edit::SetPrinter {
            printer: Printer {
                kind: MachineKind::ByHand {
                    how: HandSwap::AtPause,
                },
                ..print.job.printer.clone()
            },
        }),
    });
}

/// Swaps that purge less than the rinse asks for.
fn stains(print: &Print<'_>, prices: &Prices<'_>, plan: &Plan, found: &mut Vec<Caution>) {
    let job = print.job;
    if !job.printer.kind.has_one_nozzle() || plan.swaps.is_empty() {
        return;
    }
    let is_short = job.rules.is_quick || job.rules.places.by_hand_mm.is_some();
    if !is_short {
        return;
    }
    let mut rinsed = job.rules.clone();
    rinsed.is_quick = false;
    rinsed.places.by_hand_mm = None;
    let mut asked = prices.under(rinsed);
    let (mut count, mut most_mm) = (0, 0.0f64);
    for swap in &plan.swaps {
        let wanted = asked
            .of(swap.from - 1, swap.to - 1, job.printer.tolerance)
            .purge_mm3;
        if wanted > swap.purge_mm3 + 1e-6 {
            count += 1;
            let missing = wanted - swap.purge_mm3;
            most_mm = most_mm.max(print.filaments[swap.to as usize - 1].length_mm(missing));
        }
    }
    if count == 0 {
        return;
    }
    let swaps = if count == 1 {
        "swap comes"
    } else {
        "swaps come"
    };
    found.push(Caution {
        code: if job.rules.is_quick { "quick" } else { "hand-too-short" },
        is_wrong: false,
        message: format!(
            "{count} {swaps} out stained: up to {most_mm:.0} mm of filament that still carries the old colour are printed into \
             walls{}",
            if job.rules.is_quick {
                ", and blobs are left where a swap begins"
            } else {
                ""
            }
        ),
        mend: if job.rules.is_quick {
            "Good for a try-out. Make the plan final before it is to be looked at.".into()
        } else {
            "Press out more, or leave it to the rinse.".into()
        },
        edit: Some(Edit::Plan(if job.rules.is_quick {
            PlanEdit::Quick { is_quick: false }
        } else {
            PlanEdit::Places {
                places: PurgePlaces {
                    by_hand_mm: None,
                    ..job.rules.places
                },
            }
        })),
    });
}

/// Regions with a surface that no layer prints.
fn unprinted(print: &Print<'_>, plan: &Plan, found: &mut Vec<Caution>) {
    let none: Vec<&str> = plan
        .regions
        .iter()
        .filter(|r| r.layers == 0)
        .map(|r| r.region.as_str())
        .collect();
    if none.is_empty() {
        return;
    }
    let areas = print.job.region_areas();
    for (number, region) in print.job.live_regions() {
        if none.contains(&region.key.as_str()) && areas[number as usize] > MISSED_MM2 {
            found.push(Caution {
                code: "region-unprinted",
                is_wrong: true,
                message: format!(
                    "{} covers {:.0} mm² but no layer prints it: it is thinner than a layer, or narrower than a line",
                    region.name, areas[number as usize]
                ),
                mend: "Let it soak in deeper, grow it, or print thinner layers.".into(),
                edit: Some(Edit::SetSoak {
                    region: region.key.clone(),
                    soak_mm: region.soak_mm.max(2.0 * print.job.printer.layer_mm),
                }),
            });
        }
    }
}
