//! What should be known before a plan is printed.

mod missing;

use super::UnprintedPart;
use super::between_layers::between_layers;
use crate::job::{Edit, Job, PlaceEdit, PlanEdit, SlotEdit};
use crate::machine::Printer;
use crate::plan::{Plan, Prices, Print};
use crate::rules::{Aim, Copies, PurgePlaces};
use missing::{between, parts, too_thin, unprinted};
use serde::Serialize;

/// Something to know before a plan is printed.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Caution {
    /// Short lasting name, such as `tower-no-room`.
    pub code: &'static str,
    /// Whether it will not print as planned; else it is only to be looked at.
    pub is_wrong: bool,
    /// What is so, and where.
    pub message: String,
    /// What of the print it is about, in words: a part, a region, a slot or a layer; empty for all of it.
    pub place: String,
    /// What to do.
    pub mend: String,
    /// An edit that does it, if one does.
    pub edit: Option<Edit>,
    /// Whether it is of the shapes and colours themselves, so that it is told where these are made and not only beside the plan.
    pub is_of_model: bool,
}

/// Height of a layer that a nozzle can still press flat, as a share of its bore (common practice, no source).
const HIGHEST_LAYER: f64 = 0.8;

/// Everything to know of a plan, the worst first.
pub(super) fn cautions(
    job: &Job,
    print: &Print<'_>,
    plan: &Plan,
    lost: &[UnprintedPart],
) -> Vec<Caution> {
    let mut found = Vec::new();
    nothing(job, print, &mut found);
    bed(job, &mut found);
    spools(job, print, &mut found);
    layers(&job.printer, &mut found);
    tower(job, plan, &mut found);
    passes(print, plan.colliding, &mut found);
    stains(print, plan, &mut found);
    let between_layers = between_layers(job);
    unprinted(job, plan, lost, &between_layers, &mut found);
    parts(job, lost, &mut found);
    between(job, plan, &between_layers, &mut found);
    too_thin(job, print, plan, &mut found);
    if !plan.is_fewest_reloads {
        found.push(Caution {
            code: "reloads-unproven",
            is_wrong: false,
            message: format!(
                "{} found; no plan does with fewer than {}. The rules of the order, or too many choices, \
                 stand in the way of a proof",
                match plan.reloads.len() {
                    1 => "One reload is the fewest".to_string(),
                    n => format!("{n} reloads are the fewest"),
                },
                plan.least_reloads
            ),
            place: String::new(),
            mend: "Take a rule away, under Order, to see whether fewer do.".into(),
            edit: None,
            is_of_model: false,
        });
    }
    if !plan.proof.is_least && job.rules.aim != Aim::SlotOrder {
        found.push(Caution {
            code: "order-unproven",
            is_wrong: false,
            message: format!(
                "The order is the best that was found: {:.0} {}, and none comes to less than {:.0}. There are too many ways to \
                 put spools in to try them all",
                plan.proof.chosen, plan.proof.unit, plan.proof.least
            ),
            place: String::new(),
            mend: "Give regions that hardly differ one slot, and it can be proven.".into(),
            edit: None,
            is_of_model: false,
        });
    }
    found.sort_by_key(|c| !c.is_wrong);
    found
}

fn nothing(job: &Job, print: &Print<'_>, found: &mut Vec<Caution>) {
    if print.used.iter().any(|slots| !slots.is_empty()) {
        return;
    }
    let (message, mend) = if job.models.is_empty() {
        (
            "The job has no model: there is nothing to print",
            "Open a model in Intake.",
        )
    } else if print.shares.iter().any(|s| !s.too_thin.is_empty()) {
        (
            "Nothing is printed: all of it is narrower than 0.6 lines, or less than one bead",
            "Make it larger, or print narrower lines.",
        )
    } else {
        (
            "Nothing is printed: the model is lower than half the first layer, or every part is left out of the print",
            "Look at its size and unit in Intake, and at the parts that are left out in Colour.",
        )
    };
    found.push(Caution {
        code: "nothing-prints",
        is_wrong: true,
        message: message.into(),
        place: String::new(),
        mend: mend.into(),
        edit: None,
        is_of_model: true,
    });
}

/// What stands off the bed, or is too tall. The pieces stand around the middle of the bed.
fn bed(job: &Job, found: &mut Vec<Caution>) {
    const HAIR_MM: f64 = 1e-6;
    let (size, bed) = (job.bounds().size(), job.printer.bed_mm);
    if !size.iter().all(|s| s.is_finite()) || job.models.is_empty() {
        return;
    }
    let figures = |[x, y, z]: [f64; 3]| format!("{x:.0} by {y:.0} by {z:.0} mm");
    if size[2] > bed[2] + HAIR_MM {
        found.push(Caution {
            code: "too-tall",
            is_wrong: true,
            message: format!(
                "The print is {:.1} mm tall; the printer reaches {:.1} mm",
                size[2], bed[2]
            ),
            place: String::new(),
            mend: "Lay it on another face, make it smaller, or cut it in two.".into(),
            edit: None,
            is_of_model: true,
        });
    }
    if (0..2).any(|i| size[i] > bed[i] + HAIR_MM) {
        found.push(Caution {
            code: "off-bed",
            is_wrong: true,
            message: format!(
                "The print is {}, larger than the bed of {}",
                figures(size),
                figures(bed)
            ),
            place: String::new(),
            mend: "Turn it, make it smaller, or cut it in two. If it is far too large, its unit may be wrong.".into(),
            edit: None,
            is_of_model: true,
        });
        return;
    }
    let is_off =
        |at: &[f64; 2]| (0..2).any(|i| at[i].abs() + 0.5 * size[i] > 0.5 * bed[i] + HAIR_MM);
    let off = job
        .copies
        .shifts(size)
        .iter()
        .filter(|at| is_off(at))
        .count();
    if off > 0 {
        let [across, along] = Copies::most(size, bed, job.copies.spacing_mm);
        let (across, along) = (across.min(job.copies.across), along.min(job.copies.along));
        found.push(Caution {
            code: "copies-off-bed",
            is_wrong: true,
            message: format!(
                "{off} of {} pieces stand off the bed of {:.0} by {:.0} mm",
                job.copies.count(),
                bed[0],
                bed[1]
            ),
            place: String::new(),
            mend: format!("Print {across} by {along} pieces."),
            edit: Some(Edit::Place(PlaceEdit::SetCopies {
                across,
                along,
                spacing_mm: job.copies.spacing_mm,
            })),
            is_of_model: true,
        });
    }
}

fn spools(job: &Job, print: &Print<'_>, found: &mut Vec<Caution>) {
    let has_spool = |slot: u8| {
        if job.printer.profile().mixes.is_some() {
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
    let word = job.printer.profile().slot_word;
    let (what, has) = if names.len() == 1 {
        (format!("{word} {}", names[0]), "has")
    } else {
        (format!("{word}s {}", names.join(", ")), "have")
    };
    found.push(Caution {
        code: "slot-empty",
        is_wrong: false,
        message: format!("{what} {has} no spool: colour, grams and price are assumed"),
        place: String::new(),
        mend: "Put a spool in, in Load.".into(),
        edit: None,
        is_of_model: false,
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
        place: String::new(),
        mend: format!("Print layers of {fits:.2} mm, or set a wider nozzle."),
        edit: Some(Edit::Slot(SlotEdit::SetPrinter {
            printer: Printer {
                layer_mm: printer.layer_mm.min(fits),
                first_layer_mm: printer.first_layer_mm.min(fits),
                ..printer.clone()
            },
        })),
        is_of_model: false,
    });
}

fn tower(job: &Job, plan: &Plan, found: &mut Vec<Caution>) {
    let Some(tower) = &plan.tower else { return };
    if tower.at.is_none() {
        let [x, y, _] = job.printer.bed_mm;
        found.push(Caution {
            code: "tower-no-room",
            is_wrong: true,
            message: format!(
                "The purge tower, {:.0} mm square, finds no room on the bed of {x:.0} by {y:.0} mm beside the models",
                tower.side_mm
            ),
            place: String::new(),
            mend: "Purge into a bin, or print fewer pieces.".into(),
            edit: Some(Edit::Plan(PlanEdit::Places {
                places: PurgePlaces {
                    tower_share: 0.0,
                    ..job.rules.places
                },
            })),
            is_of_model: false,
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
            place: String::new(),
            mend: "Swap lower down, or purge into a bin.".into(),
            edit: None,
            is_of_model: false,
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
        place: String::new(),
        mend: "Swap at a pause.".into(),
        edit: Some(Edit::Slot(SlotEdit::SetPrinter {
            printer: print.task.printer.swapped_at_pause(),
        })),
        is_of_model: false,
    });
}

/// Swaps that purge less than the rinse asks for.
fn stains(print: &Print<'_>, plan: &Plan, found: &mut Vec<Caution>) {
    let task = print.task;
    if !task.printer.profile().rinses || plan.swaps.is_empty() {
        return;
    }
    let is_short = task.rules.is_quick || task.rules.places.by_hand_mm.is_some();
    if !is_short {
        return;
    }
    let mut rinsed = task.rules.clone();
    rinsed.is_quick = false;
    rinsed.places.by_hand_mm = None;
    let mut asked = Prices::new(task).under(rinsed);
    let (mut count, mut most_mm) = (0, 0.0f64);
    for swap in &plan.swaps {
        let wanted = asked
            .of(swap.from - 1, swap.to - 1, task.printer.tolerance)
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
        code: if task.rules.is_quick { "quick" } else { "hand-too-short" },
        is_wrong: false,
        message: format!(
            "{count} {swaps} out stained: up to {most_mm:.0} mm of filament that still carries the old colour are printed into \
             walls{}",
            if task.rules.is_quick {
                ", and blobs are left where a swap begins"
            } else {
                ""
            }
        ),
        place: String::new(),
        mend: if task.rules.is_quick {
            "Good for a try-out. Make the plan final before it is to be looked at.".into()
        } else {
            "Press out more, or leave it to the rinse.".into()
        },
        edit: Some(Edit::Plan(if task.rules.is_quick {
            PlanEdit::Quick { is_quick: false }
        } else {
            PlanEdit::Places {
                places: PurgePlaces {
                    by_hand_mm: None,
                    ..task.rules.places
                },
            }
        })),
        is_of_model: false,
    });
}
