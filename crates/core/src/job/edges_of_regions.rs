//! Growing, shrinking and smoothing regions, and giving strays away.

use super::apply::refuse;
use super::colouring::Taken;
use super::drawn::Ask;
use super::parts::stopped;
use super::state::Job;
use crate::Problem;
use crate::carve::{Cutting, Held, Label, Labels, NO_PIECE, Pieces, TOLERANCE_MM, cut};
use crate::limits::{EDGE_STEP, STRAY_AREA, STRAY_WIDTH};
use crate::mesh::{length, sub};
use crate::model::Place;
use crate::regions::{PathField, Stray, border_of, facets_beside, find_strays};
use std::collections::BTreeMap;

impl Job {
    fn check_step(&self, by_mm: f64) -> Result<(), Problem> {
        EDGE_STEP.check(by_mm.abs(), "by_mm", |step| {
            format!("A region's edge cannot be moved by {step}")
        })
    }

    pub(super) fn grow(
        &self,
        region: &str,
        by_mm: f64,
        go_on: Ask<'_>,
    ) -> Result<Vec<Taken>, Problem> {
        self.check_step(by_mm)?;
        let number = self.number(region)?;
        let mut taken = Vec::new();
        for model in 0..self.models.len() {
            let labels = &self.models[model].labels;
            if let Some(changes) = self.edge_moved(model, labels, number, by_mm, go_on) {
                let changes = changes?;
                taken.push(Taken { model, changes });
            }
        }
        self.check_has_edge(region, taken)
    }

    fn check_has_edge(&self, region: &str, taken: Vec<Taken>) -> Result<Vec<Taken>, Problem> {
        if !taken.is_empty() {
            return Ok(taken);
        }
        let name = self.name_of(region);
        let message = format!("{name} has no edge on the surface");
        let mend = "Give it some surface first.";
        Err(refuse("region-without-edge", message, "region", mend))
    }

    /// Notches and teeth narrower than twice the step go: out, twice in, and out again.
    pub(super) fn smooth(
        &self,
        region: &str,
        by_mm: f64,
        go_on: Ask<'_>,
    ) -> Result<Vec<Taken>, Problem> {
        self.check_step(by_mm)?;
        let number = self.number(region)?;
        let mut taken = Vec::new();
        for model in 0..self.models.len() {
            let before = &self.models[model].labels;
            let mut labels = before.clone();
            let mut touched: BTreeMap<u32, ()> = BTreeMap::new();
            let mut has_edge = false;
            for step in [by_mm, -2.0 * by_mm, by_mm] {
                let Some(changes) = self.edge_moved(model, &labels, number, step, go_on) else {
                    break;
                };
                has_edge = true;
                for (facet, held) in changes? {
                    touched.insert(facet, ());
                    labels.put(facet, held);
                }
            }
            let changes = touched
                .into_keys()
                .map(|f| (f, labels.held(f)))
                .filter(|(f, held)| *held != before.held(*f))
                .collect();
            if has_edge {
                taken.push(Taken { model, changes });
            }
        }
        self.check_has_edge(region, taken)
    }

    /// What a region's edge on one model changes when it moves outward, or inward by a negative step; none if there is
    /// no edge. What it leaves goes to the region across the nearest edge.
    fn edge_moved(
        &self,
        model: usize,
        labels: &Labels,
        number: u16,
        by_mm: f64,
        go_on: Ask<'_>,
    ) -> Option<Result<Vec<(u32, Held)>, Problem>> {
        let open = &self.models[model].open;
        let pieces = Pieces::of(open, labels);
        let region_of = |p: u32| self.region_of_label(model, pieces.facet(p), pieces.label(p));
        let lines = border_of(&pieces, &|p| region_of(p) == number);
        if lines.is_empty() {
            return None;
        }
        let ends: Vec<[[f64; 3]; 2]> = lines.iter().map(|l| l.ends).collect();
        let field = PathField::beside(&ends, by_mm.abs());
        let facets = facets_beside(open, &pieces, &lines, &field);
        let beyond: Vec<u16> = lines.iter().map(|l| region_of(l.beyond)).collect();
        let paint = |facet: u32, middle: [f64; 3], label: Label| {
            if by_mm > 0.0 {
                return self.given(model, facet, label, Some(number));
            }
            if self.region_of_label(model, facet, label) != number {
                return label;
            }
            let to = beyond[field.nearest_line(middle) as usize];
            self.given(model, facet, label, Some(to))
        };
        let cutting = Cutting {
            open,
            labels,
            field: &field,
            tolerance_mm: TOLERANCE_MM,
            go_on,
        };
        Some(cut(&cutting, &facets, &paint).ok_or_else(stopped))
    }

    /// The strays of each model, the smallest first, those left on purpose last; see [`find_strays`].
    ///
    /// # Errors
    /// `stray-size` for sizes out of range.
    pub fn strays(&self, smaller_mm2: f64, narrower_mm: f64) -> Result<Vec<Vec<Stray>>, Problem> {
        STRAY_AREA.check(smaller_mm2, "smaller_mm2", |area| {
            format!("Strays of {area} cannot be looked for")
        })?;
        STRAY_WIDTH.check(narrower_mm, "narrower_mm", |width| {
            format!("Strays {width} wide cannot be looked for")
        })?;
        let of = |model: usize| {
            let m = &self.models[model];
            let pieces = Pieces::of(&m.open, &m.labels);
            let region_of = |p: u32| self.region_of_label(model, pieces.facet(p), pieces.label(p));
            let mut found = find_strays(&m.open, &pieces, &region_of, smaller_mm2, narrower_mm);
            for stray in &mut found {
                let first = stray.pieces.iter().map(|p| pieces.facet(*p)).min();
                let name = |region: u16| &self.regions[region as usize].name;
                stray.what = format!(
                    "{} of {} beside {} on {}: {:.2} mm² from facet {} on",
                    stray.kind.in_words(),
                    name(stray.region),
                    name(stray.neighbour),
                    m.name,
                    stray.area_mm2,
                    first.map_or(0, |f| f + 1)
                );
                stray.accepted = self.rules.accepted.get(&stray.what).cloned();
            }
            // What is left on purpose comes last, in the order there was.
            found.sort_by_key(|s| s.accepted.is_some());
            found
        };
        Ok((0..self.models.len()).map(of).collect())
    }

    pub(super) fn strays_away(
        &self,
        smaller_mm2: f64,
        narrower_mm: f64,
    ) -> Result<Vec<Taken>, Problem> {
        let all = self.strays(smaller_mm2, narrower_mm)?;
        let is_meant = |s: &&Stray| s.accepted.is_none();
        if all.iter().flatten().find(is_meant).is_none() {
            let message = "There are no strays of that size";
            return Err(refuse("strays-none", message, "smaller_mm2", "Carry on."));
        }
        let taken = all.iter().enumerate().map(|(model, strays)| {
            let mut given: Vec<(u32, u16)> = strays
                .iter()
                .filter(is_meant)
                .flat_map(|s| s.pieces.iter().map(|p| (*p, s.neighbour)))
                .collect();
            given.sort_unstable();
            Taken {
                model,
                changes: self.pieces_given(model, &given),
            }
        });
        Ok(taken.collect())
    }

    /// The spot around a place, all of one region, goes to the region it has the longest border with.
    pub(super) fn stray(&self, at: &Place) -> Result<Vec<Taken>, Problem> {
        let (model, facet) = self.find(at)?;
        let m = &self.models[model];
        let pieces = Pieces::of(&m.open, &m.labels);
        let region_of = |p: u32| self.region_of_label(model, pieces.facet(p), pieces.label(p));
        let seed = pieces.at(facet, at.point);
        let region = region_of(seed);
        let mut seen = vec![false; pieces.end() as usize];
        seen[seed as usize] = true;
        let mut spot = vec![seed];
        let mut next = 0;
        let mut beside: BTreeMap<u16, f64> = BTreeMap::new();
        while let Some(&piece) = spot.get(next) {
            next += 1;
            for (k, other) in pieces.across(piece).into_iter().enumerate() {
                if other == NO_PIECE {
                    continue;
                }
                let theirs = region_of(other);
                if theirs != region {
                    let c = pieces.corners(piece);
                    *beside.entry(theirs).or_default() += length(sub(c[(k + 1) % 3], c[k]));
                } else if !seen[other as usize] {
                    seen[other as usize] = true;
                    spot.push(other);
                }
            }
        }
        let longest = beside.into_iter().max_by(|a, b| a.1.total_cmp(&b.1));
        let Some((neighbour, _)) = longest else {
            let message = "This surface has no neighbour: it is all of its part";
            let mend = "Give it to a region with Whole part.";
            return Err(refuse("stray-alone", message, "at", mend));
        };
        spot.sort_unstable();
        let given: Vec<(u32, u16)> = spot.into_iter().map(|p| (p, neighbour)).collect();
        let changes = self.pieces_given(model, &given);
        Ok(vec![Taken { model, changes }])
    }

    /// Pieces, ascending, each given to a region.
    fn pieces_given(&self, model: usize, given: &[(u32, u16)]) -> Vec<(u32, Held)> {
        let m = &self.models[model];
        let pieces = Pieces::of(&m.open, &m.labels);
        let mut changes: BTreeMap<u32, Held> = BTreeMap::new();
        for (piece, region) in given {
            let facet = pieces.facet(*piece);
            let held = changes.entry(facet).or_insert_with(|| m.labels.held(facet));
            let new = |l: Label| self.given(model, facet, l, Some(*region));
            *held = match (&*held, pieces.triangle(*piece)) {
                (Held::Divided(divided), Some(t)) => Held::Divided(std::sync::Arc::new(
                    divided.relabelled(|n, l| if n as u32 == t { new(l) } else { l }),
                )),
                (Held::Whole(label), _) => Held::Whole(new(*label)),
                (other, None) => other.clone(),
            };
        }
        changes
            .into_iter()
            .filter(|(f, held)| *held != m.labels.held(*f))
            .collect()
    }
}
