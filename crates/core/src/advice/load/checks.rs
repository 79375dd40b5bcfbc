//! What would go wrong with what is loaded, each with its mend.

use super::check::{Level, LoadCheck, LoadMend};
use super::needs::spool_needs;
use super::pairs::pair_checks;
use super::report::PrinterReport;
use crate::advice::filament_in_slot;
use crate::colour::difference;
use crate::job::{Contact, Edit, Job, JobEdit, LoadEdit, Region, SlotEdit};
use crate::machine::{Printer, Spool};
use crate::plan::Plan;
use std::collections::BTreeMap;

/// A job with what is known about it, while it is checked.
pub(super) struct Checking<'a> {
    pub(super) job: &'a Job,
    pub(super) rack: &'a [Spool],
    pub(super) plan: Option<&'a Plan>,
    pub(super) contacts: Option<&'a [Contact]>,
    /// What a slot or a feed is called.
    pub(super) word: &'static str,
    /// Keys and names of the regions that print from each slot, from slot 1.
    pub(super) users: Vec<Vec<(String, String)>>,
}

impl<'a> Checking<'a> {
    /// The spool in a place, from 0.
    pub(super) fn spool(&self, place: usize) -> Option<&'a Spool> {
        let id = self.job.loaded().get(place)?.as_ref()?;
        self.rack.iter().find(|s| s.id == *id)
    }

    /// Whether anything prints from a place, from 0: every feed of a mixing nozzle is in every mixture.
    pub(super) fn is_used(&self, place: usize) -> bool {
        self.job.printer.profile().mixes.is_some() || !self.users[place].is_empty()
    }

    pub(super) fn names(&self, slot: usize) -> String {
        listed(self.users[slot].iter().map(|u| u.1.as_str()))
    }

    pub(super) fn keys(&self, slot: usize) -> Vec<String> {
        self.users[slot].iter().map(|u| u.0.clone()).collect()
    }

    /// The spool of the rack that comes nearest to a colour, with that much on it.
    fn nearest_spool(
        &self,
        wanted: [f64; 3],
        material: Option<&str>,
        grams: f64,
    ) -> Option<&'a Spool> {
        let loaded = self.job.loaded();
        let off = |s: &Spool| difference(s.colour.linear(), wanted);
        self.rack
            .iter()
            .filter(|s| !s.is_archived && s.left_g >= grams)
            .filter(|s| material.is_none_or(|m| s.material.eq_ignore_ascii_case(m)))
            .filter(|s| !loaded.contains(&Some(s.id.clone())))
            .min_by(|a, b| off(a).total_cmp(&off(b)))
    }

    fn load(&self, place: usize, spool: &Spool) -> (String, Edit) {
        let edit = Edit::Slot(SlotEdit::LoadSlot {
            slot: place as u8 + 1,
            spool: Some(spool.id.clone()),
        });
        (format!("Load {}", spool.name), edit)
    }
}

/// Names in a sentence.
pub(super) fn listed<'n>(names: impl Iterator<Item = &'n str>) -> String {
    let names: Vec<&str> = names.collect();
    match names.split_last() {
        None => String::new(),
        Some((last, [])) => (*last).to_string(),
        Some((last, rest)) => format!("{} and {last}", rest.join(", ")),
    }
}

/// Everything that can be told of what is loaded: the worst first. Without a plan nothing is said about grams, without
/// contacts nothing about bonds, without a report nothing about the printer.
pub fn checks(
    job: &Job,
    rack: &[Spool],
    plan: Option<&Plan>,
    contacts: Option<&[Contact]>,
    report: Option<&PrinterReport>,
) -> Vec<LoadCheck> {
    if job.printer.profile().jets {
        return super::jetting::jetting_checks(job);
    }
    let mut users: Vec<Vec<(String, String)>> = vec![Vec::new(); job.printer.slots as usize];
    for (_, region) in job.live_regions() {
        if let Some(slot) = region.slot {
            users[slot as usize - 1].push((region.key.clone(), region.name.clone()));
        }
    }
    let checking = Checking {
        job,
        rack,
        plan,
        contacts,
        word: job.printer.profile().place_word,
        users,
    };
    let mut found = Vec::new();
    checking.regions(&mut found);
    checking.places(&mut found);
    checking.grams(&mut found);
    pair_checks(&checking, &mut found);
    if let Some(report) = report {
        checking.reported(report, &mut found);
    }
    found.sort_by_key(|c| c.level);
    found
}

impl Checking<'_> {
    /// Regions without a slot, with one that was only proposed, or with a plastic that a skin cannot be of.
    fn regions(&self, found: &mut Vec<LoadCheck>) {
        let base = self.job.regions[0].slot.unwrap_or(1);
        let free = (1..=self.job.printer.slots).find(|s| self.users[*s as usize - 1].is_empty());
        let mut proposed = Vec::new();
        for (_, region) in self.job.live_regions() {
            if region.is_proposed {
                proposed.push((region.key.clone(), region.name.clone()));
            }
            if region.slot.is_some() {
                continue;
            }
            let assign = |slot: u8| {
                Edit::Slot(SlotEdit::AssignSlot {
                    region: region.key.clone(),
                    slot: Some(slot),
                })
            };
            let (code, level, why) = match free {
                Some(_) => ("region-without-slot", Level::Wrong, "has no slot"),
                None => ("more-colours-than-slots", Level::Look, "has none"),
            };
            let taken = if free.is_none() {
                "All slots are taken: "
            } else {
                ""
            };
            let (label, edit) = match free {
                Some(slot) => (format!("Give it slot {slot}"), assign(slot)),
                None if self.job.printer.takes_reloads() => self.another_slot(region),
                None => {
                    let off = |slot: &u8| {
                        let there = filament_in_slot(self.job, self.rack, slot - 1);
                        difference(there.pigment.colour.linear(), region.colour.linear())
                    };
                    let nearest = (1..=self.job.printer.slots)
                        .min_by(|a, b| off(a).total_cmp(&off(b)))
                        .unwrap_or(1);
                    let label = format!("Print it from slot {nearest}, the nearest colour");
                    (label, assign(nearest))
                }
            };
            let message = format!(
                "{taken}{} {why} and would print from slot {base}.",
                region.name
            );
            let check = LoadCheck::new(code, level, message).by(label, edit);
            found.push(check.of(vec![region.key.clone()]));
        }
        if !proposed.is_empty() {
            let names = listed(proposed.iter().map(|p| p.1.as_str()));
            let has = if proposed.len() == 1 {
                "a slot"
            } else {
                "slots"
            };
            let message = format!("{names}: {has} proposed by Varichrom, not yet confirmed.");
            let edit = Edit::Load(LoadEdit::Confirm { region: None });
            found.push(
                LoadCheck::new("slots-proposed", Level::Look, message)
                    .by("Confirm all", edit)
                    .of(proposed.into_iter().map(|p| p.0).collect()),
            );
        }
        if self.job.printer.profile().mixes.is_some() {
            return;
        }
        // Only surface on a part of another region needs it; parts of their own are what it takes.
        let mut on_skin = vec![false; self.job.regions.len()];
        for (index, model) in self.job.models.iter().enumerate() {
            model.labels.each(|facet, _, label| {
                let own = model.parts[model.open.part_of[facet as usize] as usize].own;
                let region = self.job.region_of_label(index, facet, label);
                on_skin[region as usize] |= region != own;
            });
        }
        for (number, region) in self.job.live_regions() {
            let spool = region.slot.and_then(|s| self.spool(s as usize - 1));
            let Some((spool, why)) = spool.and_then(|s| Some((s, s.needs_own_part()?))) else {
                continue;
            };
            if on_skin[number as usize] {
                let message = format!(
                    "{} is a colour on the surface, but {} needs a part of its own: {why}.",
                    region.name, spool.name
                );
                found.push(
                    LoadCheck::new("needs-own-part", Level::Look, message)
                        .with(LoadMend::Show {
                            label: "Make it a part".into(),
                            at: None,
                        })
                        .of(vec![region.key.clone()]),
                );
            }
        }
    }

    /// One slot more than the machine has places, for a region: its spool is put in by hand on the way.
    fn another_slot(&self, region: &Region) -> (String, Edit) {
        let printer = &self.job.printer;
        let slot = printer.slots + 1;
        let edits = vec![
            Edit::Slot(SlotEdit::SetPrinter {
                printer: Printer {
                    holds: printer.profile().places,
                    slots: slot,
                    ..printer.clone()
                },
            }),
            Edit::Slot(SlotEdit::AssignSlot {
                region: region.key.clone(),
                slot: Some(slot),
            }),
        ];
        let what = format!("A slot of its own for {}", region.name);
        (
            format!("Give it slot {slot}, and change spools by hand on the way"),
            Edit::Job(JobEdit::Several { what, edits }),
        )
    }

    /// Places that are empty, unused, or hold what is not on the rack.
    fn places(&self, found: &mut Vec<LoadCheck>) {
        for (n, id) in self.job.loaded().iter().enumerate() {
            let place = n as u8 + 1;
            let (word, is_used) = (self.word, self.is_used(n));
            let empty_it = || {
                Edit::Slot(SlotEdit::LoadSlot {
                    slot: place,
                    spool: None,
                })
            };
            let mixes = self.job.printer.profile().mixes;
            let wanted = match mixes {
                Some(_) => self.job.regions[0].colour,
                None => {
                    filament_in_slot(self.job, self.rack, n as u8)
                        .pigment
                        .colour
                }
            };
            let first = self.job.loaded().iter().position(|other| other == id);
            let twice = first.filter(|f| *f < n && id.is_some());
            let check = match (id, self.spool(n)) {
                (Some(_), Some(spool)) if twice.is_some() => LoadCheck::new(
                    "spool-twice",
                    Level::Look,
                    format!(
                        "{} is in {} {} and in {} {place}: you need two of it.",
                        spool.name,
                        word.to_lowercase(),
                        twice.map_or(0, |f| f + 1),
                        word.to_lowercase()
                    ),
                )
                .in_brief("a second spool of it")
                .by(format!("Empty {} {place}", word.to_lowercase()), empty_it()),
                (None, _) if is_used => {
                    let user = match mixes {
                        Some(_) => "every mixture needs it".to_string(),
                        None => format!("{} prints from it", self.names(n)),
                    };
                    let message = format!("{word} {place} is empty; {user}.");
                    let check = LoadCheck::new("slot-empty", Level::Wrong, message)
                        .in_brief("empty, but printed from");
                    match self.nearest_spool(wanted.linear(), None, 0.0) {
                        Some(spool) => {
                            let (label, edit) = self.load(n, spool);
                            check.by(label, edit)
                        }
                        None => check,
                    }
                }
                (Some(id), None) => LoadCheck::new(
                    "spool-gone",
                    Level::Wrong,
                    format!("{word} {place} holds {id}, which is no longer on the rack."),
                )
                .in_brief("no longer on the rack")
                .by("Empty it", empty_it()),
                (Some(_), Some(spool)) if !is_used => LoadCheck::new(
                    "spool-unused",
                    Level::Look,
                    format!(
                        "{word} {place} holds {}, and nothing prints from it.",
                        spool.name
                    ),
                )
                .in_brief("nothing prints from it")
                .by("Empty it", empty_it()),
                (Some(_), Some(spool)) if spool.is_archived => LoadCheck::new(
                    "spool-archived",
                    Level::Look,
                    format!(
                        "{} in {} {place} is archived.",
                        spool.name,
                        word.to_lowercase()
                    ),
                )
                .in_brief("archived"),
                _ => continue,
            };
            found.push(check.at(place));
        }
    }

    /// Grams needed against grams left.
    fn grams(&self, found: &mut Vec<LoadCheck>) {
        let Some(plan) = self.plan else { return };
        // A spool may be in several places.
        let mut of_spool: BTreeMap<String, (usize, f64, f64)> = BTreeMap::new();
        for (n, need) in spool_needs(self.job, self.rack, plan)
            .into_iter()
            .enumerate()
        {
            if let Some(id) = need.spool.clone() {
                let entry = of_spool.entry(id).or_insert((n, 0.0, 0.0));
                entry.1 += need.model_g;
                entry.2 += need.purge_g + need.tower_g;
            }
        }
        let mut short = 0;
        let count = of_spool.len();
        for (id, (n, model, purge)) in of_spool {
            let Some(spool) = self.rack.iter().find(|s| s.id == id) else {
                continue;
            };
            let needed = model + purge;
            // What is left is known to about a tenth of the need (common practice, no source).
            const SPARE: f64 = 1.1;
            if needed <= 0.0 || needed * SPARE <= spool.left_g {
                continue;
            }
            let takes = format!(
                "{} has {:.0} g left; this job takes {model:.1} g and purges {purge:.1} g",
                spool.name, spool.left_g
            );
            let check = if needed > spool.left_g {
                short += 1;
                let message = format!("{takes}: {:.1} g are missing.", needed - spool.left_g);
                LoadCheck::new("spool-short", Level::Wrong, message)
                    .in_brief(format!("{:.1} g are missing", needed - spool.left_g))
            } else {
                let message = format!("{takes}: just enough.");
                LoadCheck::new("spool-just-enough", Level::Look, message).in_brief(format!(
                    "{needed:.1} g of {:.0} g, just enough",
                    spool.left_g
                ))
            };
            let other = self.nearest_spool(spool.colour.linear(), Some(&spool.material), needed);
            found.push(
                match other {
                    Some(other) => {
                        let (label, edit) = self.load(n, other);
                        check.by(label, edit)
                    }
                    None => check,
                }
                .at(n as u8 + 1),
            );
        }
        if count > 0 && short == 0 {
            let message = "Every spool has enough on it.".to_string();
            found.push(LoadCheck::new("grams-fine", Level::Fine, message));
        }
    }
}
