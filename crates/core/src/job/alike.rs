//! Alike: a choice repeated on copies of a part, or on patches of the same make.

use super::apply::refuse;
use super::colouring::Taken;
use super::edits::AlikeTo;
use super::state::{Job, JobModel};
use crate::Problem;
use crate::carve::{Held, Label, painted, shares_at};
use crate::geometry::middle;
use crate::limits::check_crease;
use crate::model::Place;
use crate::regions::{Twin, alike_patches, congruent_parts};
use std::sync::Arc;

/// A part, by the facets of its model, ascending.
struct Original<'a> {
    model: usize,
    of: &'a JobModel,
    facets: Vec<u32>,
}

impl Job {
    /// What is alike, and how many parts (the one clicked left out) or patches (that one included) that is.
    pub(super) fn alike(
        &self,
        region: &str,
        at: &Place,
        to: AlikeTo,
        crease_deg: f64,
    ) -> Result<(Vec<Taken>, usize), Problem> {
        check_crease(crease_deg, "crease_deg")?;
        let (model, facet) = self.find(at)?;
        match to {
            AlikeTo::Patches => self.patches_alike(region, model, facet, crease_deg),
            AlikeTo::Parts => self.parts_alike(region, model, facet),
        }
    }

    fn patches_alike(
        &self,
        region: &str,
        model: usize,
        facet: u32,
        crease_deg: f64,
    ) -> Result<(Vec<Taken>, usize), Problem> {
        let to = self.taker(region)?;
        let open = &self.models[model].open;
        let partition = open.creases().partition(&open.topology, crease_deg);
        let alike = alike_patches(open, &partition, partition.patch_of[facet as usize]);
        let is_alike = |f: &u32| {
            alike
                .binary_search(&partition.patch_of[*f as usize])
                .is_ok()
        };
        let facets: Vec<u32> = (0..partition.patch_of.len() as u32)
            .filter(is_alike)
            .collect();
        let changes = self.give_facets(model, &facets, to);
        Ok((vec![Taken { model, changes }], alike.len()))
    }

    fn parts_alike(
        &self,
        region: &str,
        model: usize,
        facet: u32,
    ) -> Result<(Vec<Taken>, usize), Problem> {
        let number = self.number(region)?;
        let of = &self.models[model];
        let part = of.open.part_of[facet as usize];
        let original = Original {
            model,
            of,
            facets: (0..of.open.part_of.len() as u32)
                .filter(|f| of.open.part_of[*f as usize] == part)
                .collect(),
        };
        let mut count = 0;
        let mut taken = Vec::new();
        for (index, on) in self.models.iter().enumerate() {
            let twins = congruent_parts((&of.open, part), &on.open, index == model);
            count += twins.len();
            let mut changes: Vec<(u32, Held)> = twins
                .iter()
                .flat_map(|twin| self.repeated(&original, index, twin, number))
                .collect();
            changes.sort_by_key(|(f, _)| *f);
            taken.push(Taken {
                model: index,
                changes,
            });
        }
        if count == 0 {
            let name = &of.parts[part as usize].name;
            let message = format!("No other part has the shape of {name}");
            let mend = "Choose a part that has copies, or use Alike on patches.";
            return Err(refuse("alike-none", message, "at", mend));
        }
        Ok((taken, count))
    }

    /// What a copy has once the original's share of a region is repeated on it. Borders that the copy has by itself give
    /// way where the original has any, so that its facets meet as the original's do.
    fn repeated(
        &self,
        original: &Original<'_>,
        model: usize,
        twin: &Twin,
        number: u16,
    ) -> Vec<(u32, Held)> {
        let m = &self.models[model];
        let is_divided = |f: u32| m.labels.division(f).is_some();
        let original_is_divided = |f: &u32| original.of.labels.division(*f).is_some();
        let gives_way = original.facets.iter().any(original_is_divided)
            && twin.facets.iter().any(|(f, _)| is_divided(*f));
        let mut changes = Vec::new();
        for (from, (facet, order)) in original.facets.iter().zip(&twin.facets) {
            let corners = m.open.mesh.corners(*facet);
            let is_given =
                |label: Label| self.region_of_label(original.model, *from, label) == number;
            let paint = |of: Label, at: [f64; 3]| {
                let label = m.labels.at(*facet, shares_at(at, &corners));
                if is_given(of) {
                    self.given(model, *facet, label, Some(number))
                } else {
                    label
                }
            };
            let held = match original.of.labels.held(*from) {
                Held::Divided(divided) => {
                    let turned = divided.renumbered(*order);
                    let new =
                        turned.relabelled(|t, of| paint(of, middle(&turned.corners(t, &corners))));
                    Some(Held::Divided(Arc::new(new)))
                }
                Held::Whole(label) if gives_way || !is_divided(*facet) => {
                    Some(Held::Whole(paint(label, middle(&corners))))
                }
                Held::Whole(label) if is_given(label) => {
                    let give =
                        |f: u32, _: [f64; 3], l: Label| self.given(model, f, l, Some(number));
                    painted(&m.open, &m.labels, *facet, &give)
                }
                Held::Whole(_) => None,
            };
            changes.extend(
                held.filter(|h| *h != m.labels.held(*facet))
                    .map(|h| (*facet, h)),
            );
        }
        changes
    }
}
