//! Bringing models in, their colours, mending them, and how many pieces are printed.

use super::apply::{check_name, refuse};
use super::before::Before;
use super::depth::SoakDepth;
use super::file_colours::colours_of;
use super::history::Models;
use super::pictured;
use super::state::{BASE_REGION, Job, JobModel, JobPart, Region};
use super::unit::LengthUnit;
use crate::Problem;
use crate::carve::{Held, Labels};
use crate::formats::writable;
use crate::geometry::{Affine, Bounds};
use crate::limits::{FILE_COLOURS, PIECES, SPACING};
use crate::mesh::NO_FACET;
use crate::model::{Mended, Mending, OpenMesh};
use crate::rules::Copies;
use std::sync::Arc;

/// Names of parts: what the file calls them, else the model's name; numbered where several would be called alike.
fn part_names(model: &str, open: &OpenMesh) -> Vec<String> {
    // Files hold names that cannot be written down again.
    let names: Vec<Option<String>> = open
        .part_names
        .iter()
        .map(|n| n.as_ref().map(|n| writable(n)))
        .collect();
    let wanted = |i: usize| names[i].as_deref().unwrap_or(model);
    let mut count = std::collections::HashMap::new();
    for i in 0..open.parts.len() {
        *count.entry(wanted(i)).or_insert(0u32) += 1;
    }
    let mut seen = std::collections::HashMap::new();
    (0..open.parts.len())
        .map(|i| {
            let name = wanted(i);
            let n = seen.entry(name).or_insert(0u32);
            *n += 1;
            if count[name] == 1 {
                name.to_string()
            } else {
                format!("{name} {n}")
            }
        })
        .collect()
}

impl Job {
    pub(super) fn model_number(&self, name: &str) -> Result<usize, Problem> {
        self.model(name).ok_or_else(|| {
            refuse(
                "model-unknown",
                format!("There is no model called {name}"),
                "model",
                "Use the name of one of the job's models.",
            )
        })
    }

    /// The model of a name, or all.
    pub(super) fn models_named(&self, name: Option<&str>) -> Result<Vec<usize>, Problem> {
        Ok(match name {
            Some(name) => vec![self.model_number(name)?],
            None => (0..self.models.len()).collect(),
        })
    }

    fn check_model_name(&self, name: &str) -> Result<String, Problem> {
        let name = check_name(name)?;
        if self.model(&name).is_some() {
            let message = format!("There is already a model called {name}");
            let mend = "Give it another name.";
            return Err(refuse("model-exists", message, "model", mend));
        }
        Ok(name)
    }

    pub(super) fn open_model(
        &mut self,
        name: &str,
        file: &str,
        content: &str,
        models: &dyn Models,
    ) -> Result<(), Problem> {
        let name = self.check_model_name(name)?;
        let open = models.open(content)?;
        let parts = part_names(&name, &open)
            .into_iter()
            .map(JobPart::new)
            .collect();
        self.models.push(JobModel {
            name,
            file: file.to_string(),
            content: content.to_string(),
            unit: LengthUnit::of_mm(open.origin.units.mm),
            colours_kept: None,
            labels: Labels::plain(open.mesh.facets.len()),
            base: open.clone(),
            open,
            parts,
        });
        Ok(())
    }

    pub(super) fn remove_model(&mut self, name: &str) -> Result<(), Problem> {
        let model = self.model_number(name)?;
        if self.models.len() == 1 {
            return Err(refuse(
                "model-last",
                "The only model of a job cannot be taken out",
                "model",
                "Add another model first, or delete the job from the shelf.",
            ));
        }
        self.models.remove(model);
        Ok(())
    }

    pub(super) fn rename_model(&mut self, model: &str, name: &str) -> Result<(), Problem> {
        let number = self.model_number(model)?;
        if name.trim() != model {
            self.models[number].name = self.check_model_name(name)?;
        }
        Ok(())
    }

    pub(super) fn set_units(
        &mut self,
        model: Option<&str>,
        unit: LengthUnit,
    ) -> Result<(), Problem> {
        let models = self.models_named(model)?;
        let placed = models
            .iter()
            .map(|m| {
                let factor = unit.mm() / self.models[*m].unit.mm();
                let grow = Affine::scale([factor; 3]);
                let maps = self.models[*m].maps();
                (*m, maps.iter().map(|map| map.then(&grow)).collect())
            })
            .collect();
        self.set_maps(placed)?;
        for m in models {
            self.models[m].unit = unit;
        }
        Ok(())
    }

    pub(super) fn set_apart(&mut self, spacing_mm: f64) -> Result<(), Problem> {
        check_spacing(spacing_mm)?;
        let boxes: Vec<Bounds> = self.models.iter().map(|m| m.open.bounds()).collect();
        let [width, ..] = self.printer.bed_mm;
        // Rows from the front, each as wide as the bed allows; a model that is wider stands alone.
        let mut rows: Vec<(Vec<usize>, [f64; 2])> = Vec::new();
        for (m, bounds) in boxes.iter().enumerate() {
            let [w, d, _] = bounds.size();
            match rows.last_mut() {
                Some((row, size)) if size[0] + spacing_mm + w <= width => {
                    row.push(m);
                    *size = [size[0] + spacing_mm + w, size[1].max(d)];
                }
                _ => rows.push((vec![m], [w, d])),
            }
        }
        let gaps = spacing_mm * rows.len().saturating_sub(1) as f64;
        let mut y = -0.5 * (rows.iter().map(|(_, size)| size[1]).sum::<f64>() + gaps);
        let mut placed = Vec::new();
        for (row, size) in rows {
            let mut x = -0.5 * size[0];
            for m in row {
                let b = &boxes[m];
                let middle = y + 0.5 * size[1] - b.centre()[1];
                let to = Affine::shift([x - b.min[0], middle, -b.min[2]]);
                x += b.size()[0] + spacing_mm;
                let maps = self.models[m].maps();
                placed.push((m, maps.iter().map(|map| map.then(&to)).collect()));
            }
            y += size[1] + spacing_mm;
        }
        self.set_maps(placed)
    }

    pub(super) fn set_copies(
        &mut self,
        across: u32,
        along: u32,
        spacing_mm: f64,
    ) -> Result<(), Problem> {
        check_spacing(spacing_mm)?;
        if ![across, along].iter().all(|n| PIECES.holds(f64::from(*n))) {
            let message = format!("{across} by {along} pieces cannot be printed");
            return Err(PIECES.refused(message, "across"));
        }
        self.copies = Copies {
            across,
            along,
            spacing_mm,
        };
        Ok(())
    }

    pub(super) fn fill_bed(&mut self, spacing_mm: f64) -> Result<(), Problem> {
        let [across, along] = Copies::most(self.bounds().size(), self.printer.bed_mm, spacing_mm);
        self.set_copies(across, along, spacing_mm)
    }

    pub(super) fn mend(&mut self, name: &str, mending: &Mending) -> Result<(), Problem> {
        let number = self.model_number(name)?;
        let model = &self.models[number];
        let mended = model.base.mended(&self.in_file_lengths(number, mending))?;
        if mended.report.is_nothing() {
            return Err(refuse(
                "mend-nothing",
                "There is nothing to mend in that way",
                "mending",
                "Choose other kinds, or a larger size.",
            ));
        }
        let labels = carried_over(model, &mended);
        let names = part_names(&model.name, &mended.open);
        // A part is the one that its first facet belonged to.
        let mut parts: Vec<JobPart> = Vec::new();
        for (i, part) in mended.open.parts.iter().enumerate() {
            let before = mended.from[part.first_facet as usize];
            let old = model.base.part_of[before as usize] as usize;
            let is_split = parts.iter().any(|p| p.name == model.parts[old].name);
            parts.push(JobPart {
                name: if is_split {
                    names[i].clone()
                } else {
                    model.parts[old].name.clone()
                },
                ..model.parts[old].clone()
            });
        }
        let model = &mut self.models[number];
        model.base = Arc::new(mended.open);
        model.parts = parts;
        model.open = model.mesh_placed(&model.maps());
        model.labels = labels;
        Ok(())
    }

    /// A mending whose lengths are those of the file, for lengths as the model stands now.
    pub fn in_file_lengths(&self, model: usize, mending: &Mending) -> Mending {
        let growth = self.models[model]
            .parts
            .first()
            .map_or(1.0, |p| p.map.growth().abs());
        let factor = growth.cbrt().max(1e-9);
        let length = |mm: Option<f64>| mm.map(|mm| mm / factor);
        Mending {
            weld_mm: length(mending.weld_mm),
            holes_mm: length(mending.holes_mm),
            specks_mm: length(mending.specks_mm),
            ..*mending
        }
    }

    pub(super) fn keep_colours(
        &mut self,
        name: &str,
        most: u8,
        before: &mut Before,
    ) -> Result<(), Problem> {
        let number = self.model_number(name)?;
        FILE_COLOURS.check(f64::from(most), "most", |most| {
            format!("{most} colours cannot be chosen")
        })?;
        let base = self.models[number].base.clone();
        let Some(colours) = base.origin.colours.as_ref() else {
            return Err(refuse(
                "file-without-colours",
                format!("The file of {name} brings no colours"),
                "model",
                "Give it colours in Colour.",
            ));
        };
        let prefix = format!("{name} colour ");
        let of_before: Vec<String> = self
            .live_regions()
            .filter(|(_, r)| r.key.starts_with(&prefix))
            .map(|(_, r)| r.key.clone())
            .collect();
        for key in of_before {
            self.delete_region(&key, before)?;
        }
        let seen = pictured::seen(colours);
        let (list, of_facet, blended) = colours_of(&base, colours, &seen, usize::from(most));
        drop(seen);

        // The area of every colour in every part decides what is the part's own.
        let plain = list.len();
        let mut areas = vec![vec![0.0; plain + 1]; base.parts.len()];
        for (facet, colour) in of_facet.iter().enumerate() {
            let column = colour.map_or(plain, |c| c as usize);
            areas[base.part_of[facet] as usize][column] += base.facet_areas()[facet];
        }
        let whole = |c: usize| areas.iter().map(|a| a[c]).sum::<f64>();
        let widest = (0..plain).max_by(|a, b| whole(*a).total_cmp(&whole(*b)).then(b.cmp(a)));
        let frees_base = whole(plain) <= 0.0 && self.is_base_free_but_for(number);
        let regions: Vec<u16> = list
            .iter()
            .enumerate()
            .map(|(n, found)| {
                let label = if found.name.is_empty() {
                    format!("Colour {}", n + 1)
                } else {
                    found.name.chars().take(200).collect()
                };
                if frees_base && Some(n) == widest {
                    // All is coloured: the first region would be left over, so it becomes the widest colour.
                    self.regions[0].name = label;
                    self.regions[0].colour = found.colour;
                    self.regions[0].opacity = found.opacity;
                    return 0;
                }
                let same = self.live_regions().find(|(_, r)| {
                    r.key != BASE_REGION && r.name == label && r.colour == found.colour
                });
                if let Some((number, _)) = same {
                    return number;
                }
                let key = (1..)
                    .map(|k| format!("{prefix}{k}"))
                    .find(|k| self.regions.iter().all(|r| r.key != *k));
                self.regions.push(Region {
                    key: key.unwrap_or_default(),
                    name: label,
                    colour: found.colour,
                    slot: self.first_free_slot(),
                    is_proposed: self.first_free_slot().is_some(),
                    depth: SoakDepth::default(),
                    is_protected: false,
                    opacity: found.opacity,
                    is_deleted: false,
                });
                self.regions.len() as u16 - 1
            })
            .collect();
        self.models[number].colours_kept = Some(most);
        let region_of = |colour: usize| regions.get(colour).copied().unwrap_or(0);
        let own: Vec<u16> = areas
            .iter()
            .map(|area| {
                let most = (0..=plain).max_by(|a, b| area[*a].total_cmp(&area[*b]).then(b.cmp(a)));
                region_of(most.unwrap_or(plain))
            })
            .collect();
        for (part, own) in self.models[number].parts.iter_mut().zip(&own) {
            part.own = *own;
        }
        for (facet, colour) in of_facet.iter().enumerate() {
            let region = region_of(colour.map_or(plain, |c| c as usize));
            let own = own[base.part_of[facet] as usize];
            let label = (region != own).then_some(region);
            self.relabel(number, std::iter::once(facet as u32), label, before);
        }
        let centre = |n: usize| (list[n].colour.lab(), region_of(n));
        self.keep_blends(number, colours, blended.map(centre).collect(), before);
        Ok(())
    }

    /// Whether no other model shows the first region.
    fn is_base_free_but_for(&self, number: usize) -> bool {
        let others = self.models.iter().enumerate().filter(|(m, _)| *m != number);
        others
            .flat_map(|(_, m)| {
                let mut regions: Vec<u16> = m.parts.iter().map(|p| p.own).collect();
                m.labels.each(|_, _, label| regions.extend(label));
                regions
            })
            .all(|region| region != 0)
    }
}

/// Labels of a mended mesh. A facet that the mending left as it was, among others like it, keeps its division; any other
/// takes the label that covered most of the facet it comes from.
fn carried_over(model: &JobModel, mended: &Mended) -> Labels {
    let before = &model.labels;
    let main = |facet: u32| match before.division(facet) {
        Some(divided) => divided.main_label(),
        None => before.whole(facet).flatten(),
    };
    let mut labels = Labels::of(mended.from.iter().map(|f| main(*f)).collect());
    if before.divisions().next().is_none() {
        return labels;
    }
    let new = &mended.open;
    let is_same = |f: u32| new.mesh.corners(f) == model.base.mesh.corners(mended.from[f as usize]);
    let count = mended.from.len() as u32;
    let mirrored: Vec<bool> = model.parts.iter().map(|p| p.map.turns_over()).collect();
    for facet in (0..count).filter(|f| is_same(*f)) {
        let from = mended.from[facet as usize];
        let Some(divided) = before.division(from) else {
            continue;
        };
        // Corner numbers order the shares of edges: where they have changed, the division cannot be carried over.
        let order = |ids: [u32; 3]| [ids[0] < ids[1], ids[1] < ids[2], ids[2] < ids[0]];
        let is_mirrored = mirrored[model.base.part_of[from as usize] as usize];
        let keeps = new.topology.across[facet as usize]
            .into_iter()
            .all(|f| f != NO_FACET && is_same(f));
        if keeps
            && !is_mirrored
            && order(new.mesh.facets[facet as usize])
                == order(model.base.mesh.facets[from as usize])
        {
            labels.put(facet, Held::Divided(divided.clone()));
        }
    }
    // Points on an edge that the facet across no longer has would leave a crack.
    let mut unsure: Vec<u32> = labels.divisions().map(|(f, _)| f).collect();
    while let Some(facet) = unsure.pop() {
        let Some(divided) = labels.division(facet) else {
            continue;
        };
        let across = new.topology.across[facet as usize];
        let is_cracked = divided
            .sides_with_points()
            .into_iter()
            .any(|side| across[side] == NO_FACET || labels.division(across[side]).is_none());
        if is_cracked {
            labels.put(facet, Held::Whole(main(mended.from[facet as usize])));
            unsure.extend(across.into_iter().filter(|f| *f != NO_FACET));
        }
    }
    labels
}

pub(super) fn check_spacing(spacing_mm: f64) -> Result<(), Problem> {
    SPACING.check(spacing_mm, "spacing_mm", |gap| {
        format!("A gap of {gap} cannot be used")
    })
}
