//! What a jetting machine can print of a job: base materials, greys, and what needs a body of its own.

use super::check::{Level, LoadCheck, LoadMend};
use crate::colour::{Colour, greys};
use crate::job::{Edit, Job, PartEdit};
use crate::machine::Nature;
use crate::model::Place;
use std::collections::BTreeMap;

/// Greys that differ by less (CIEDE2000) are one.
const SAME_GREY: f64 = 2.0;

/// Everything that can be told, the worst first.
pub(super) fn jetting_checks(job: &Job) -> Vec<LoadCheck> {
    let mut found = Vec::new();
    materials(job, &mut found);
    bodies_of_their_own(job, &mut found);
    if job.printer.profile().is_grey {
        same_greys(job, &mut found);
    }
    if found.is_empty() {
        let message =
            "Every colour is printed as it is, and the printer has what every part is made of";
        found.push(LoadCheck::new("jetting-fine", Level::Fine, message.into()));
    }
    found.sort_by_key(|c| c.level);
    found
}

/// Parts of materials that the printer does not have.
fn materials(job: &Job, found: &mut Vec<LoadCheck>) {
    for (m, model) in job.models.iter().enumerate() {
        for (p, part) in model.parts.iter().enumerate() {
            let Some(wanted) = &part.made_of else {
                continue;
            };
            if job.made_of(part).is_some() {
                continue;
            }
            let message = format!(
                "{} is to be of {wanted}, which {} does not have",
                part.name, job.printer.name
            );
            let mut check = LoadCheck::new("material-missing", Level::Wrong, message);
            if let Some(usual) = job.printer.materials.first() {
                let namer = model.open.namers()[p];
                let edit = Edit::Part(PartEdit::MadeOf {
                    at: Place {
                        model: job.models[m].name.clone(),
                        point: namer.point,
                        normal: namer.normal,
                    },
                    material: None,
                    opacity: part.opacity,
                });
                check = check.by(format!("Make it of {}", usual.name), edit);
            }
            found.push(check);
        }
    }
}

/// Colours on the surface of a part that is clear or soft, and clear colours on parts that are solid: neither goes by surface.
fn bodies_of_their_own(job: &Job, found: &mut Vec<LoadCheck>) {
    const LEAST_MM2: f64 = 0.5;
    for model in &job.models {
        // By part and region, mm².
        let mut skins: BTreeMap<(u32, u16), f64> = BTreeMap::new();
        let areas = model.open.facet_areas();
        model.labels.each(|facet, share, label| {
            if let Some(region) = label {
                let part = model.open.part_of[facet as usize];
                *skins.entry((part, region)).or_default() += share * areas[facet as usize];
            }
        });
        for (p, part) in model.parts.iter().enumerate() {
            let is_special =
                part.opacity < 1.0 || job.made_of(part).is_some_and(|b| b.nature != Nature::Rigid);
            for (number, region) in job.live_regions() {
                let here = skins.get(&(p as u32, number)).copied().unwrap_or(0.0);
                if number == part.own || here < LEAST_MM2 {
                    continue;
                }
                let message = if region.opacity < 1.0 && !is_special {
                    format!(
                        "{} hides {:.0} % and lies on {}: a surface cannot be clear, only a body can",
                        region.name,
                        100.0 * region.opacity,
                        part.name
                    )
                } else if is_special {
                    format!(
                        "{} on {} is a skin of colour on another material: to be of one of its own it needs a body",
                        region.name, part.name
                    )
                } else {
                    continue;
                };
                let mut check = LoadCheck::new("body-of-its-own", Level::Look, message);
                check.regions = vec![region.key.clone()];
                check.mend = Some(LoadMend::Show {
                    label: "Show it on the bench".into(),
                    at: None,
                });
                found.push(check);
            }
        }
    }
}

/// Regions whose greys fall together.
fn same_greys(job: &Job, found: &mut Vec<LoadCheck>) {
    let regions: Vec<(&str, &str, Colour)> = job
        .live_regions()
        .map(|(_, r)| (r.key.as_str(), r.name.as_str(), r.colour))
        .collect();
    let colours: Vec<Colour> = regions.iter().map(|r| r.2).collect();
    for (n, (_, same)) in greys(&colours, SAME_GREY).into_iter().enumerate() {
        for other in same.into_iter().filter(|o| *o > n) {
            if colours[n] == colours[other] {
                continue;
            }
            let message = format!(
                "{} and {} become the same grey",
                regions[n].1, regions[other].1
            );
            let mut check = LoadCheck::new("same-grey", Level::Look, message);
            check.regions = [n, other].map(|r| regions[r].0.to_string()).to_vec();
            found.push(check);
        }
    }
}
