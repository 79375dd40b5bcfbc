//! Spools that do not go together.

use super::check::{Level, LoadCheck, LoadMend};
use super::checks::{Checking, listed};
use crate::colour::difference;
use crate::job::{Contact, Edit, LoadEdit, PartEdit};
use crate::machine::bonds;
use crate::model::Place;
use crate::{counted, figure};
use std::collections::BTreeMap;

/// Spools that differ by less look alike at arm's length (CIEDE2000; common practice, no source).
const ALIKE: f64 = 3.0;

/// Temperatures, plastics, diameters and colours of every two spools that are used.
pub(super) fn pair_checks(checking: &Checking<'_>, found: &mut Vec<LoadCheck>) {
    let used: Vec<usize> = (0..checking.job.loaded().len())
        .filter(|n| checking.is_used(*n) && checking.spool(*n).is_some())
        .collect();
    for a in &used {
        checking.heats(*a, &used, found);
    }
    for (i, a) in used.iter().enumerate() {
        for b in &used[i + 1..] {
            checking.melts(*a, *b, found);
            checking.plastics(*a, *b, found);
            checking.looks(*a, *b, found);
        }
    }
}

impl Checking<'_> {
    /// Spools that print so much cooler than one that no temperature suits both.
    fn heats(&self, hot: usize, used: &[usize], found: &mut Vec<LoadCheck>) {
        let Some(hot) = self.spool(hot) else { return };
        if !self.job.printer.profile().rinses {
            return;
        }
        let others = used.iter().filter_map(|n| self.spool(*n));
        let cooler: Vec<_> = others.filter(|s| s.nozzle_c[1] < hot.nozzle_c[0]).collect();
        let gaps = cooler.iter().map(|s| hot.nozzle_c[0] - s.nozzle_c[1]);
        let widest = gaps.fold(0.0, f64::max);
        if cooler.is_empty() {
            return;
        }
        let message = format!(
            "{} prints at {:.0} to {:.0} °C, {widest:.0} °C above what suits {}, in one nozzle.",
            hot.name,
            hot.nozzle_c[0],
            hot.nozzle_c[1],
            listed(cooler.iter().map(|s| s.name.as_str()))
        );
        // In a mixture, or within one strand, there is no temperature for both.
        let profile = self.job.printer.profile();
        let level = if profile.mixes.is_some() || profile.splices {
            Level::Wrong
        } else {
            Level::Look
        };
        found.push(LoadCheck::new("temperature-gap", level, message));
    }

    /// Whether two spools can be of one strand, or in one printer.
    fn melts(&self, a: usize, b: usize, found: &mut Vec<LoadCheck>) {
        let (Some(p), Some(q)) = (self.spool(a), self.spool(b)) else {
            return;
        };
        if (p.diameter_mm - q.diameter_mm).abs() > 0.05 {
            let message = format!(
                "{} is {} mm thick and {} {} mm: one printer takes one of them.",
                p.name, p.diameter_mm, q.name, q.diameter_mm
            );
            found.push(LoadCheck::new("diameters-differ", Level::Wrong, message));
        }
        let is_spliced = self.job.printer.profile().splices;
        if is_spliced && !p.material.eq_ignore_ascii_case(&q.material) {
            let message = format!(
                "{} is {} and {} is {}: a splice holds only between the same plastics.",
                p.name, p.material, q.name, q.material
            );
            found.push(LoadCheck::new(
                "splice-does-not-hold",
                Level::Wrong,
                message,
            ));
        }
    }

    /// Whether two plastics hold on to one another where they touch.
    fn plastics(&self, a: usize, b: usize, found: &mut Vec<LoadCheck>) {
        let (Some(p), Some(q)) = (self.spool(a), self.spool(b)) else {
            return;
        };
        let bonded = bonds(&p.material, &q.material);
        if bonded == Some(true) {
            return;
        }
        if self.job.printer.profile().mixes.is_some() {
            let message = format!("{} and {} do not mix well.", p.material, q.material);
            found.push(LoadCheck::new("plastics-do-not-mix", Level::Wrong, message));
            return;
        }
        let Some(contacts) = self.contacts else {
            return;
        };
        let slot_of = |n: u16| self.job.slot_of(n) as usize - 1;
        let mut area = 0.0;
        let mut largest: Option<&Contact> = None;
        for contact in contacts {
            let slots = contact.regions.map(slot_of);
            if slots == [a, b] || slots == [b, a] {
                area += contact.area_mm2;
                if largest.is_none_or(|l| contact.area_mm2 > l.area_mm2) {
                    largest = Some(contact);
                }
            }
        }
        let Some(largest) = largest else {
            return;
        };
        let region = |n: u16| &self.job.regions[n as usize];
        let (first, second) = (region(largest.regions[0]), region(largest.regions[1]));
        let (level, what) = match bonded {
            Some(false) => (Level::Wrong, "do not bond"),
            _ => (Level::Look, "are not known to bond"),
        };
        let held = largest.parts.is_some_and(|[(m, p), (n, q)]| {
            let part = |m: usize, p: usize| &self.job.models[m].parts[p];
            part(m, p).is_held_to(part(n, q))
        });
        let (level, and) = match held {
            true => (Level::Look, ", held by teeth"),
            false => (level, ""),
        };
        let message = format!(
            "{} and {} {what}; {} meets {} over {area:.0} mm²{and}.",
            p.material, q.material, first.name, second.name
        );
        let check = LoadCheck::new("plastics-do-not-bond", level, message);
        let teeth = largest.parts.filter(|_| !held);
        let check = match teeth.and_then(|parts| self.teeth(parts, area)) {
            Some((label, edit)) => check.by(label, edit),
            None => check.with(LoadMend::Show {
                label: "Show contact".into(),
                at: Some(largest.at),
            }),
        };
        found.push(check.of(vec![first.key.clone(), second.key.clone()]));
    }

    /// Teeth that would hold two parts over a contact, in words, and the edit that makes them.
    fn teeth(&self, parts: [(usize, usize); 2], area_mm2: f64) -> Option<(String, Edit)> {
        // The larger part can spare the room.
        let volume = |(m, p): (usize, usize)| self.job.models[m].open.parts[p].measures.volume_mm3;
        let [a, b] = parts;
        let (from, into) = match volume(a) > volume(b) {
            true => (b, a),
            false => (a, b),
        };
        let is_free = |(m, p): (usize, usize)| !self.job.models[m].parts[p].is_locked;
        let teeth = self
            .job
            .proposed_teeth([from, into])
            .filter(|_| is_free(from) && is_free(into))?;
        let place = |(m, p): (usize, usize)| {
            let model = &self.job.models[m];
            let namer = model.open.namers()[p];
            Place {
                model: model.name.clone(),
                point: namer.point,
                normal: namer.normal,
            }
        };
        let label = format!(
            "Interlock with {} of {} mm: {area_mm2:.0} to {:.0} mm²",
            counted(teeth.count, "dovetail"),
            figure(teeth.size_mm),
            area_mm2 + teeth.added_mm2
        );
        let edit = Edit::Part(PartEdit::Interlock {
            at: place(from),
            into: place(into),
            size_mm: teeth.size_mm,
            dovetail: true,
        });
        Some((label, edit))
    }

    /// Whether two spools can be told apart.
    fn looks(&self, a: usize, b: usize, found: &mut Vec<LoadCheck>) {
        let (Some(p), Some(q)) = (self.spool(a), self.spool(b)) else {
            return;
        };
        if self.job.printer.profile().mixes.is_some() {
            return;
        }
        let off = difference(p.colour.linear(), q.colour.linear());
        if off >= ALIKE || !p.material.eq_ignore_ascii_case(&q.material) {
            return;
        }
        let message = format!(
            "{} and {} can hardly be told apart: they differ by {off:.1}.",
            p.name, q.name
        );
        let regions: BTreeMap<String, Option<u8>> = self
            .keys(b)
            .into_iter()
            .map(|key| (key, Some(a as u8 + 1)))
            .collect();
        let edit = Edit::Load(LoadEdit::Bay {
            spools: BTreeMap::new(),
            regions,
        });
        let label = format!("Print both from slot {}", a + 1);
        found.push(
            LoadCheck::new("spools-alike", Level::Look, message)
                .by(label, edit)
                .of(self.keys(a).into_iter().chain(self.keys(b)).collect()),
        );
    }
}
