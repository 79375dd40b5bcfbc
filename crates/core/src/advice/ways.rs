//! Ways to run a job, each an edit that would bring it about.

use super::trial::Trial;
use super::way_figures::CutDepth;
use crate::job::{
    Axis, Edit, Job, LoadEdit, PlaceEdit, Placing, PlanEdit, Region, SlotEdit, Target,
};
use crate::machine::Printer;
use crate::rules::{Aim, Copies, PurgePlaces};
use serde::Serialize;

/// Length that is commonly pressed out by hand at a swap, mm (common practice, no source: 150 to 200).
const BY_HAND_MM: f64 = 180.0;

/// Depths of colour that are compared, mm (common practice, no source: 0.2 to 1 mm). None is deeper than the layers are
/// looked at anyway, so none asks for a new survey.
const DEPTHS_MM: [f64; 3] = [0.2, 0.4, 0.8];

/// What is different about a way.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum WayGroup {
    /// Nothing: as the job stands.
    Now,
    /// The order of the slots.
    Order,
    /// Where purge goes.
    Purge,
    /// How deep colours go.
    Depth,
    /// Which side is up.
    Side,
    /// How many pieces.
    Pieces,
    /// Which machine.
    Machine,
    /// One colour, as the yardstick.
    OneColour,
}

impl WayGroup {
    /// Whether what is printed looks the same as it is planned now.
    pub fn keeps_look(self) -> bool {
        match self {
            WayGroup::Now
            | WayGroup::Order
            | WayGroup::Purge
            | WayGroup::Side
            | WayGroup::Pieces
            | WayGroup::Machine => true,
            // What lies below may shine through, and of one colour nothing is left to see.
            WayGroup::Depth | WayGroup::OneColour => false,
        }
    }
}

/// One way to run a job.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Way {
    /// Lasting key.
    pub key: String,
    /// What is different.
    pub group: WayGroup,
    /// Whether what is printed looks the same as it is planned now.
    pub keeps_look: bool,
    /// What the maker reads.
    pub name: String,
    /// The edit that brings it about; none for the job as it stands.
    pub edit: Option<Edit>,
    /// Why it cannot be run; none if it can be tried.
    pub cannot: Option<String>,
    /// How deep a cut through the print would show colour, where ways differ in that; none for the others.
    pub depth: Option<CutDepth>,
}

impl Trial<'_> {
    /// The ways to run the job: those that need no new survey first. `owned`: the maker's printers.
    pub fn ways(&self, owned: &[Printer]) -> Vec<Way> {
        let mut all = ways(self.job, owned);
        if let Some(bands) = self.bands_way() {
            // With the other depths.
            let after = all.iter().rposition(|w| w.group == WayGroup::Depth);
            all.insert(after.map_or(1, |at| at + 1), bands);
        }
        let after = all.iter().rposition(|w| w.group == WayGroup::Purge);
        let at = after.map_or(all.len(), |at| at + 1);
        all.splice(at..at, self.taker_ways());
        all
    }
}

fn ways(job: &Job, owned: &[Printer]) -> Vec<Way> {
    let mut all = vec![Way {
        key: "now".into(),
        group: WayGroup::Now,
        keeps_look: true,
        name: "As it is now".into(),
        edit: None,
        cannot: None,
        depth: CutDepth::of(job),
    }];
    let mut add = |key: String, group: WayGroup, name: String, edit: Edit| {
        all.push(Way {
            key,
            group,
            keeps_look: match &edit {
                Edit::Plan(PlanEdit::Quick { is_quick }) => !is_quick,
                Edit::Plan(PlanEdit::Depth { through, .. }) => *through,
                _ => group.keeps_look(),
            },
            depth: match &edit {
                Edit::Plan(PlanEdit::Depth { soak_mm, .. }) => {
                    Some(soak_mm.map_or(CutDepth::THROUGH, CutDepth::all))
                }
                _ => None,
            },
            name,
            edit: Some(edit),
            cannot: None,
        });
    };
    let plan = Edit::Plan;
    let rules = &job.rules;
    for (key, name, aim) in [
        ("purge", "Least purge", Aim::Purge),
        ("time", "Least time", Aim::Time),
        ("swaps", "Fewest swaps", Aim::Swaps),
        ("slot-order", "Slots in number order", Aim::SlotOrder),
    ] {
        if rules.aim != aim {
            let edit = plan(PlanEdit::Aim { aim });
            add(format!("aim-{key}"), WayGroup::Order, name.into(), edit);
        }
    }
    if job.printer.profile().rinses {
        for (key, name, into_infill, tower_share, by_hand_mm) in [
            ("tower", "All into a tower", false, 1.0, None),
            ("infill-tower", "Infill, then the tower", true, 1.0, None),
            ("bin", "All into a bin", false, 0.0, None),
            ("infill-bin", "Infill, then the bin", true, 0.0, None),
            ("hand", "By hand, 180 mm each", false, 0.0, Some(BY_HAND_MM)),
        ] {
            let places = PurgePlaces {
                into_infill,
                tower_share,
                by_hand_mm,
            };
            // Between passes all of it is pressed out by hand anyway.
            let says_much = !job.printer.profile().prints_in_passes || by_hand_mm.is_some();
            if says_much && places != rules.places {
                let edit = plan(PlanEdit::Places { places });
                add(format!("purge-{key}"), WayGroup::Purge, name.into(), edit);
            }
        }
    }
    for is_quick in [true, false].into_iter().filter(|q| *q != rules.is_quick) {
        let name = if is_quick {
            "Quick: no purge"
        } else {
            "Final: with purge"
        };
        let edit = plan(PlanEdit::Quick { is_quick });
        add(
            format!("quick-{is_quick}"),
            WayGroup::Purge,
            name.into(),
            edit,
        );
    }
    let first = job.slot_of(0);
    let used: Vec<u8> = used_slots(job);
    if used.len() > 1 {
        let edit = Edit::Load(LoadEdit::All { slot: first });
        let name = format!("One colour, slot {first}");
        add("one-colour".into(), WayGroup::OneColour, name, edit);
        let is_through = |(_, r): (u16, &Region)| r.depth.is_through();
        if !job.live_regions().all(is_through) {
            let edit = plan(PlanEdit::Depth {
                soak_mm: None,
                layers: None,
                through: true,
            });
            add(
                "depth-through".into(),
                WayGroup::Depth,
                "As parts: right through".into(),
                edit,
            );
        }
        for soak_mm in DEPTHS_MM {
            let is_now = job
                .live_regions()
                .all(|(n, _)| (job.soak_mm(n) - soak_mm).abs() < 1e-9);
            if !is_now {
                let name = format!("Painted {soak_mm:.1} mm deep");
                let edit = plan(PlanEdit::Depth {
                    soak_mm: Some(soak_mm),
                    layers: None,
                    through: false,
                });
                add(format!("depth-{soak_mm}"), WayGroup::Depth, name, edit);
            }
        }
    }
    let spacing_mm = job.copies.spacing_mm;
    if job.copies.count() > 1 {
        let edit = Edit::Place(PlaceEdit::SetCopies {
            across: 1,
            along: 1,
            spacing_mm,
        });
        add("alone".into(), WayGroup::Pieces, "One alone".into(), edit);
    }
    let fits = Copies::most(job.bounds().size(), job.printer.bed_mm, spacing_mm);
    let several = [[2, 1], [2, 2], fits];
    for (at, [across, along]) in several.into_iter().enumerate() {
        let is_now = across * along == job.copies.count() || across * along <= 1;
        let is_said = several[..at].contains(&[across, along]);
        if is_now || is_said || across > fits[0] || along > fits[1] {
            continue;
        }
        let n = across * along;
        let name = if [across, along] == fits {
            format!("Bed full: {n} pieces")
        } else {
            format!("{n} together")
        };
        let edit = Edit::Place(PlaceEdit::SetCopies {
            across,
            along,
            spacing_mm,
        });
        add(format!("pieces-{n}"), WayGroup::Pieces, name, edit);
    }
    let turned = Edit::Place(PlaceEdit::Place {
        target: Target::Everything,
        placing: Placing::Turn {
            axis: Axis::X,
            degrees: 180.0,
        },
    });
    add(
        "turned".into(),
        WayGroup::Side,
        "The other side up".into(),
        turned,
    );
    for printer in owned.iter().filter(|p| **p != job.printer) {
        all.push(on_machine(job, printer, &used));
    }
    all
}

fn used_slots(job: &Job) -> Vec<u8> {
    let mut used: Vec<u8> = job.live_regions().map(|(n, _)| job.slot_of(n)).collect();
    used.sort_unstable();
    used.dedup();
    used
}

/// The job on another machine: with reloads where it holds fewer spools than the job has colours.
fn on_machine(job: &Job, printer: &Printer, used: &[u8]) -> Way {
    let needed = used.last().copied().unwrap_or(1);
    let mut printer = printer.clone();
    let mut cannot = None;
    if needed > printer.slots {
        match printer.with_slots(needed) {
            Some(with_slots) => printer = with_slots,
            None => {
                cannot = Some(format!(
                    "It has {} tools; the job prints from slot {needed}.",
                    printer.slots
                ));
            }
        }
    }
    if printer.profile().mixes.is_some() != job.printer.profile().mixes.is_some() {
        let why = "Its colours are mixtures, the job's are spools: choose it in Load to set them.";
        cannot = Some(why.into());
    }
    Way {
        key: format!("machine-{}", printer.name),
        group: WayGroup::Machine,
        keeps_look: true,
        name: printer.name.clone(),
        edit: cannot.is_none().then(|| {
            Edit::Slot(SlotEdit::SetPrinter {
                printer: printer.clone(),
            })
        }),
        cannot,
        depth: None,
    }
}
