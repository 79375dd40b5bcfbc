//! What is on the model and not in the print: parts, regions, and what is too thin.

use super::super::between_layers::BetweenLayers;
use super::super::{UnprintedPart, WhyUnprinted};
use super::Caution;
use crate::job::{Edit, GiveEdit, Job, PartEdit, SoakDepth};
use crate::limits::EDGE_STEP;
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
            is_of_model: true,
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

/// The depth from which on a colour prints on level surface and on walls: two layers, or as deep as a line is wide. None where it
/// goes as deep already.
fn deeper(job: &Job, region: u16) -> Option<Edit> {
    const LAYERS: u32 = 2;
    let (line_mm, layers_mm) = (
        job.printer.line_width_mm,
        f64::from(LAYERS) * job.printer.layer_mm,
    );
    let depth = if layers_mm < line_mm {
        SoakDepth::Mm { mm: line_mm }
    } else {
        SoakDepth::Layers { layers: LAYERS }
    };
    let is_less = job.soak_mm(region) < line_mm.max(layers_mm);
    is_less.then(|| Edit::soak(&job.regions[region as usize].key, depth))
}

/// Volume that counts when it is not printed, mm³, and as a share of what its region prints: the tips that every shape ends
/// in are less.
const MISSED_MM3: f64 = 0.5;
const MISSED_SHARE: f64 = 0.02;

/// The same where nobody prints it instead.
const LOST_SHARE: f64 = 0.0005;

/// What is so thin that nobody prints it, or much of a region that another prints.
pub(super) fn too_thin(job: &Job, print: &Print<'_>, plan: &Plan, found: &mut Vec<Caution>) {
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
        // A colour that goes less deep than a line is wide is a smear on every wall.
        let mut live = job.live_regions();
        let deeper = live
            .find(|(_, r)| r.key == thin.region)
            .and_then(|(number, _)| deeper(job, number));
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
            mend: match deeper {
                Some(_) => "Let it soak in deeper: two layers, or as deep as a line is wide.".into(),
                None => "Make it thicker, or print narrower lines.".into(),
            },
            edit: deeper,
            is_of_model: true,
        });
    }
}

/// Regions with a surface that no layer prints.
pub(super) fn unprinted(
    job: &Job,
    plan: &Plan,
    lost: &[UnprintedPart],
    between: &[BetweenLayers],
    found: &mut Vec<Caution>,
) {
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
                edit: deeper(job, number).or_else(|| {
                    let mut between = between.iter();
                    grown(job, between.find(|b| b.region == number)?).1
                }),
                is_of_model: true,
            });
        }
    }
}

/// Growing a region so that a layer prints all of it: in words, and done unless the region is protected.
fn grown(job: &Job, lost: &BetweenLayers) -> (String, Option<Edit>) {
    let region = &job.regions[lost.region as usize];
    // As high as a layer, every spot holds the middle of one.
    let by_mm = (0.5 * (job.printer.layer_mm - lost.least_mm) + 0.01).max(EDGE_STEP.low);
    let by_mm = (100.0 * by_mm).ceil() / 100.0;
    let edit = (!region.is_protected).then(|| {
        Edit::Give(GiveEdit::GrowRegion {
            region: region.key.clone(),
            by_mm,
        })
    });
    let words = format!(
        "Grow {} by {by_mm:.2} mm, so that a layer prints all of it.",
        region.name
    );
    (words, edit)
}

/// Regions of which spots lie between the middles of two layers, and others do not.
pub(super) fn between(job: &Job, plan: &Plan, lost: &[BetweenLayers], found: &mut Vec<Caution>) {
    let prints = |key: &str| (plan.regions.iter()).any(|r| r.region == key && r.layers > 0);
    for lost in lost {
        let region = &job.regions[lost.region as usize];
        if lost.area_mm2 <= MISSED_MM2 || !prints(&region.key) {
            continue;
        }
        let (spots, lie) = match lost.spots {
            1 => ("A spot".to_string(), "lies"),
            n => (format!("{n} spots"), "lie"),
        };
        let (mend, edit) = grown(job, lost);
        found.push(Caution {
            code: "region-between-layers",
            is_wrong: false,
            message: format!(
                "{spots} of {} {lie} between the middles of two layers: {:.1} mm² that no layer prints",
                region.name, lost.area_mm2
            ),
            place: region.name.clone(),
            mend,
            edit,
            is_of_model: true,
        });
    }
}
