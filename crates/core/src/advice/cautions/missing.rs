//! What is on the model and not in the print: parts, regions, and what is too thin.

use super::super::{UnprintedPart, WhyUnprinted};
use super::Caution;
use crate::job::{Edit, Job, PartEdit, SoakDepth};
use crate::model::Place;
use crate::plan::{Plan, Print};

/// Surface of a region below which nobody misses it, mm².
const MISSED_MM2: f64 = 1.0;

/// Parts of which nothing prints.
pub(super) fn parts(job: &Job, lost: &[UnprintedPart], found: &mut Vec<Caution>) {
    for part in lost {
        let (message, mend, edit) = match (part.why, &part.by) {
            (WhyUnprinted::BetweenLayers, _) => (
                format!(
                    "No layer prints {}: it is thinner than a layer and lies between the middles of two",
                    part.part
                ),
                "Make it thicker, or move it up or down by half a layer.".to_string(),
                None,
            ),
            (WhyUnprinted::TooThin, _) => (
                format!(
                    "No layer prints {}: it is narrower than 0.6 lines of {:.2} mm everywhere",
                    part.part, job.printer.line_width_mm
                ),
                "Make it thicker, or print narrower lines.".to_string(),
                None,
            ),
            (_, Some((by_key, by))) => match raised(job, part.key, *by_key) {
                Some(edit) => (
                    format!(
                        "No layer prints {}: {by}, which is higher in the list of parts, takes all of its place",
                        part.part
                    ),
                    format!("Move {} above {by} in the list of parts.", part.part),
                    Some(edit),
                ),
                None => (
                    format!("No layer prints {}: {by} fills the same place", part.part),
                    "Take one of the two out.".to_string(),
                    None,
                ),
            },
            (_, None) => (
                format!(
                    "No layer prints {}: its surface is open, so that it encloses nothing where layers cut it",
                    part.part
                ),
                "Mend the model in Intake: close its holes.".to_string(),
                None,
            ),
        };
        found.push(Caution {
            code: "part-unprinted",
            is_wrong: true,
            message,
            place: part.part.clone(),
            mend,
            edit,
        });
    }
}

/// Puts a part above another in the list; none if both fill the same place, so that it would not help.
fn raised(job: &Job, key: u32, over: u32) -> Option<Edit> {
    let find = |key: u32| {
        let mut all = job.listed_parts().into_iter();
        all.find(|(m, p)| job.models[*m].parts[*p].key == key)
    };
    let (part, other) = (find(key)?, find(over)?);
    let bounds = |(m, p): (usize, usize)| job.models[m].open.parts[p].measures.bounds;
    if bounds(part) == bounds(other) {
        return None;
    }
    let place = |(m, p): (usize, usize)| {
        let namer = job.models[m].open.namers()[p];
        Place {
            model: job.models[m].name.clone(),
            point: namer.point,
            normal: namer.normal,
        }
    };
    Some(Edit::Part(PartEdit::Order {
        at: place(part),
        beside: place(other),
        above: true,
    }))
}

/// Volume that counts when it is not printed, mm³, and as a share of what its region prints: the tips that every shape ends
/// in are less.
const MISSED_MM3: f64 = 0.5;
const MISSED_SHARE: f64 = 0.02;

/// The same where nobody prints it instead.
const LOST_SHARE: f64 = 0.0005;

/// What is so thin that nobody prints it, or much of a region that another prints.
pub(super) fn too_thin(print: &Print<'_>, plan: &Plan, found: &mut Vec<Caution>) {
    let line_mm = print.task.printer.line_width_mm;
    for thin in &plan.too_thin {
        let printed = plan.regions.iter().find(|r| r.region == thin.region);
        let printed_mm3 = printed.map_or(0.0, |r| r.volume_mm3);
        // A region of which nothing prints is told of already.
        let is_told = printed.is_none_or(|r| r.layers == 0) && thin.to.is_some();
        // What nobody prints is missing, however large the rest of its region is.
        let counts_mm3 = match thin.to {
            Some(_) => MISSED_MM3.max(MISSED_SHARE * printed_mm3),
            None => MISSED_MM3.max(LOST_SHARE * printed_mm3),
        };
        if thin.volume_mm3 < counts_mm3 || is_told {
            continue;
        }
        let name = print.task.name_of(&thin.region);
        let (first, last) = (thin.first_layer + 1, thin.last_layer + 1);
        let where_ = if first == last {
            format!("in layer {first}")
        } else {
            format!("in layers {first} to {last}")
        };
        let fate = thin.to.as_ref().map_or("it is not printed".into(), |to| {
            format!("{} prints it instead", print.task.name_of(to))
        });
        found.push(Caution {
            code: "too-thin",
            is_wrong: thin.to.is_none(),
            message: format!(
                "{:.1} mm³ of {name} {where_} are narrower than 0.6 lines of {line_mm:.2} mm, or less than one bead: {fate}",
                thin.volume_mm3
            ),
            place: String::new(),
            mend: "Make it thicker, let the colour soak in deeper, or print narrower lines.".into(),
            edit: None,
        });
    }
}

/// Regions with a surface that no layer prints.
pub(super) fn unprinted(job: &Job, plan: &Plan, lost: &[UnprintedPart], found: &mut Vec<Caution>) {
    let none: Vec<&str> = plan
        .regions
        .iter()
        .filter(|r| r.layers == 0)
        .map(|r| r.region.as_str())
        .collect();
    if none.is_empty() {
        return;
    }
    // Why a part as a whole does not print is said of the part.
    let tallies = job.region_tallies_where(|model, facet| {
        let model = &job.models[model];
        let part = &model.parts[model.open.part_of[facet as usize] as usize];
        part.is_printed && lost.iter().all(|u| u.key != part.key)
    });
    for (number, region) in job.live_regions() {
        if none.contains(&region.key.as_str()) && tallies[number as usize].area_mm2 > MISSED_MM2 {
            found.push(Caution {
                code: "region-unprinted",
                is_wrong: true,
                message: format!(
                    "{} covers {:.0} mm² but no layer prints it: it is thinner than a layer, or narrower than a line",
                    region.name, tallies[number as usize].area_mm2
                ),
                place: String::new(),
                mend: "Let it soak in deeper, grow it, or print thinner layers.".into(),
                edit: (job.soak_mm(number) < 2.0 * job.printer.layer_mm)
                    .then(|| Edit::soak(&region.key, SoakDepth::Layers { layers: 2 })),
            });
        }
    }
}
