//! The list of parts: order, groups, locks, and what is printed.

use crate::Problem;
use crate::job::apply::{check_name, refuse};
use crate::job::state::{Job, JobPart, PartGroup};
use crate::limits::OPACITY;
use crate::model::Place;
use std::collections::{HashMap, HashSet};

impl Job {
    /// The part at a place: numbers of its model and in it.
    pub(in crate::job) fn part_at(&self, at: &Place) -> Result<(usize, usize), Problem> {
        let (model, facet) = self.find(at)?;
        let part = self.models[model].open.part_of[facet as usize];
        Ok((model, part as usize))
    }

    /// As [`Job::part_at`], if the part may be changed.
    pub(in crate::job) fn free_part_at(&self, at: &Place) -> Result<(usize, usize), Problem> {
        let (model, part) = self.part_at(at)?;
        self.check_free(model, part)?;
        Ok((model, part))
    }

    pub(in crate::job) fn check_free(&self, model: usize, part: usize) -> Result<(), Problem> {
        let part = &self.models[model].parts[part];
        if !part.is_locked {
            return Ok(());
        }
        let message = format!("{} is locked", part.name);
        Err(refuse(
            "part-locked",
            message,
            "at",
            "Unlock it in the list of parts first.",
        ))
    }

    fn part_mut(&mut self, at: &Place) -> Result<&mut JobPart, Problem> {
        let (model, part) = self.part_at(at)?;
        Ok(&mut self.models[model].parts[part])
    }

    /// All parts in the order of the list, the highest first, as numbers of model and part.
    pub fn listed_parts(&self) -> Vec<(usize, usize)> {
        let rank: HashMap<u32, usize> = self
            .order
            .iter()
            .enumerate()
            .map(|(n, k)| (*k, n))
            .collect();
        let mut all: Vec<(usize, (usize, usize))> = Vec::with_capacity(rank.len());
        for (m, model) in self.models.iter().enumerate() {
            for (p, part) in model.parts.iter().enumerate() {
                let at = rank.get(&part.key).copied();
                all.push((at.unwrap_or(usize::MAX), (m, p)));
            }
        }
        all.sort_unstable();
        all.into_iter().map(|(_, part)| part).collect()
    }

    /// Gives new parts their keys and places in the list, and takes those that are gone off it. A new part comes right
    /// below the one before it in its model; the first of a model at the end.
    pub(in crate::job) fn tidy_list(&mut self) {
        let listed: HashSet<u32> = self.order.iter().copied().collect();
        let mut seen = HashSet::new();
        let mut firsts = Vec::new();
        let mut followers: HashMap<u32, u32> = HashMap::new();
        for model in &mut self.models {
            let mut before: Option<u32> = None;
            for part in &mut model.parts {
                if part.key == 0 || !seen.insert(part.key) {
                    self.last_part += 1;
                    part.key = self.last_part;
                    seen.insert(part.key);
                }
                match before {
                    _ if listed.contains(&part.key) => {}
                    Some(before) => {
                        followers.insert(before, part.key);
                    }
                    None => firsts.push(part.key),
                }
                before = Some(part.key);
            }
        }
        let known = std::mem::take(&mut self.order).into_iter();
        for key in known.filter(|k| seen.contains(k)).chain(firsts) {
            let mut next = Some(key);
            while let Some(key) = next {
                self.order.push(key);
                next = followers.remove(&key);
            }
        }
        let used = |g: &PartGroup, all: &[PartGroup], models: &[crate::job::JobModel]| {
            models
                .iter()
                .flat_map(|m| &m.parts)
                .any(|p| p.group.as_deref() == Some(&g.key))
                || all.iter().any(|o| o.inside.as_deref() == Some(&g.key))
        };
        while let Some(empty) =
            (0..self.groups.len()).find(|g| !used(&self.groups[*g], &self.groups, &self.models))
        {
            self.groups.remove(empty);
        }
    }

    /// Puts a part beside another in the list.
    pub(super) fn order_part(
        &mut self,
        at: &Place,
        beside: &Place,
        above: bool,
    ) -> Result<(), Problem> {
        let (m, p) = self.part_at(at)?;
        let (n, q) = self.part_at(beside)?;
        if (m, p) == (n, q) {
            let message = "A part cannot be put beside itself";
            let mend = "Choose another part to put it beside.";
            return Err(refuse("order-itself", message, "beside", mend));
        }
        let beside = self.models[n].parts[q].clone();
        let part = &mut self.models[m].parts[p];
        part.group = beside.group;
        let key = part.key;
        self.order.retain(|k| *k != key);
        let at = self.order.iter().position(|k| *k == beside.key);
        let to = at.unwrap_or(0);
        self.order.insert(if above { to } else { to + 1 }, key);
        Ok(())
    }

    pub(super) fn rename_group(&mut self, group: &str, name: &str) -> Result<(), Problem> {
        let name = check_name(name)?;
        let number = self.group_number(group)?;
        self.groups[number].name = name;
        Ok(())
    }

    pub(super) fn ungroup(&mut self, group: &str) -> Result<(), Problem> {
        let number = self.group_number(group)?;
        let gone = self.groups.remove(number);
        for part in self.models.iter_mut().flat_map(|m| &mut m.parts) {
            if part.group.as_deref() == Some(&gone.key) {
                part.group.clone_from(&gone.inside);
            }
        }
        for other in &mut self.groups {
            if other.inside.as_deref() == Some(&gone.key) {
                other.inside.clone_from(&gone.inside);
            }
        }
        Ok(())
    }

    pub(super) fn lock_part(&mut self, at: &Place, is_locked: bool) -> Result<(), Problem> {
        self.part_mut(at)?.is_locked = is_locked;
        Ok(())
    }

    pub(super) fn print_part(&mut self, at: &Place, is_printed: bool) -> Result<(), Problem> {
        let (m, p) = self.part_at(at)?;
        let parts = self.models.iter().flat_map(|m| &m.parts);
        let printed = parts.filter(|p| p.is_printed).count();
        if !is_printed && self.models[m].parts[p].is_printed && printed == 1 {
            let message = "Nothing would be left to print";
            let mend = "Take another part in first.";
            return Err(refuse("print-nothing", message, "at", mend));
        }
        self.models[m].parts[p].is_printed = is_printed;
        Ok(())
    }

    pub(super) fn skip_passes(&mut self, at: &Place, slots: &[u8]) -> Result<(), Problem> {
        for slot in slots {
            self.check_slot(*slot)?;
        }
        let mut slots = slots.to_vec();
        slots.sort_unstable();
        slots.dedup();
        self.part_mut(at)?.skipped_passes = slots;
        Ok(())
    }

    pub(super) fn make_of(
        &mut self,
        at: &Place,
        material: Option<&str>,
        opacity: f64,
    ) -> Result<(), Problem> {
        OPACITY.check(opacity, "opacity", |v| {
            format!("A part cannot hide a share of {v}")
        })?;
        let material = material.map(check_name).transpose()?;
        let part = self.part_mut(at)?;
        (part.made_of, part.opacity) = (material, opacity);
        Ok(())
    }

    fn group_number(&self, group: &str) -> Result<usize, Problem> {
        let number = self.groups.iter().position(|g| g.key == group);
        number.ok_or_else(|| {
            let message = format!("There is no group with the key {group}");
            refuse("group-unknown", message, "group", "Choose one of the list.")
        })
    }

    pub(super) fn group(&mut self, at: &[Place], group: &str, name: &str) -> Result<(), Problem> {
        let (key, name) = (check_name(group)?, check_name(name)?);
        if self.groups.iter().any(|g| g.key == key) {
            let message = format!("There is already a group with the key {key}");
            return Err(refuse("group-exists", message, "group", "Use another key."));
        }
        let mut parts: Vec<(usize, usize)> = Vec::new();
        for place in at {
            let part = self.part_at(place)?;
            if !parts.contains(&part) {
                parts.push(part);
            }
        }
        let Some(first) = parts.first() else {
            return Err(refuse(
                "group-empty",
                "No part is chosen",
                "at",
                "Choose parts of the list.",
            ));
        };
        let part_group = |job: &Job, (m, p): (usize, usize)| job.models[m].parts[p].group.clone();
        // It comes to lie in the innermost group that holds all of them.
        let mut inside = part_group(self, *first);
        while let Some(key) = inside.clone() {
            let holds = |p: &(usize, usize)| self.is_within(part_group(self, *p).as_deref(), &key);
            if parts.iter().all(holds) {
                break;
            }
            let group = self.groups.iter().find(|g| g.key == key);
            inside = group.and_then(|g| g.inside.clone());
        }
        // A whole group among the chosen goes into the new one as a group.
        let is_chosen = |m: usize, p: usize| parts.contains(&(m, p));
        let mut moved: Vec<String> = Vec::new();
        for g in &self.groups {
            let mut members = self.models.iter().enumerate().flat_map(|(m, model)| {
                let of = model.parts.iter().enumerate();
                of.filter(|(_, p)| self.is_within(p.group.as_deref(), &g.key))
                    .map(move |(p, _)| (m, p))
            });
            if members.all(|(m, p)| is_chosen(m, p))
                && g.inside == inside
                && Some(&g.key) != inside.as_ref()
            {
                moved.push(g.key.clone());
            }
        }
        let keys: Vec<u32> = {
            let listed = self.listed_parts();
            let chosen = listed.iter().filter(|(m, p)| is_chosen(*m, *p));
            chosen.map(|(m, p)| self.models[*m].parts[*p].key).collect()
        };
        for (m, p) in &parts {
            let part = &mut self.models[*m].parts[*p];
            let stays = part.group.as_ref().is_some_and(|g| moved.contains(g));
            if !stays {
                part.group = Some(key.clone());
            }
        }
        for g in &mut self.groups {
            if moved.contains(&g.key) {
                g.inside = Some(key.clone());
            }
        }
        // They come to stand together, where the highest of them stood.
        let to = self
            .order
            .iter()
            .position(|k| keys.contains(k))
            .unwrap_or(0);
        self.order.retain(|k| !keys.contains(k));
        let to = to.min(self.order.len());
        self.order.splice(to..to, keys);
        self.groups.push(PartGroup { key, name, inside });
        Ok(())
    }

    /// Whether a group is another, or lies in it at any depth.
    fn is_within(&self, group: Option<&str>, key: &str) -> bool {
        let mut at = group.map(str::to_string);
        while let Some(now) = at {
            if now == key {
                return true;
            }
            at = self
                .groups
                .iter()
                .find(|g| g.key == now)
                .and_then(|g| g.inside.clone());
        }
        false
    }
}
